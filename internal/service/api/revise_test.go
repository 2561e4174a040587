package api_test

import (
	"bytes"
	"context"
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// later is the small kit with two weathers exchanged in its art, one gone and one new.
func later(t *testing.T) []byte {
	files := weather(t)
	files["kit.yaml"] = bytes.Replace(files["kit.yaml"], []byte("key: fog"), []byte("key: haze"), 1)
	return zipped(t, files)
}

// A room in play takes the next edition in: its maker or its host does, each browser is told,
// what is kept is found again after the room was put away, and the former edition comes back.
func TestARoomTakesAnotherEditionIn(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, bo := w.room()
	maker := client.New(w.url, makerKey)
	seat := maker.At(ada)
	ctx := context.Background()
	_, err := seat.Do(ctx, "draw 4 from weather\nturn 3 of weather onto sky")
	require.NoError(t, err)
	before, err := seat.Look(ctx)
	require.NoError(t, err)

	status, answer := w.call("POST", "/api/rooms/"+id+"/edition", makerKey, wire.TakeEdition{})
	assert.Equal(t, []any{409, "has-this-edition"}, []any{status, answer["code"]})
	status, put := w.call("POST", "/api/kits", makerKey, later(t))
	require.Equal(t, 201, status, put)
	_, compared := w.call("GET", "/api/kits/"+put["id"].(string)+"/compare?from=1", makerKey, nil)
	deck := compared["decks"].([]any)[0].(map[string]any)
	assert.Equal(t, []int{1, 1}, []int{len(deck["added"].([]any)), len(deck["removed"].([]any))})
	_, row := w.call("GET", "/api/rooms", makerKey, nil)
	listed := row["rooms"].([]any)[0].(map[string]any)
	assert.Equal(t, []any{float64(1), float64(2)}, []any{listed["edition"], listed["newest"]})

	status, answer = w.call("POST", "/api/rooms/"+id+"/edition", makerKey, wire.TakeEdition{Edition: 7})
	assert.Equal(t, []any{404, "no-such-edition"}, []any{status, answer["code"]})
	status, answer = w.call("POST", "/api/rooms/"+id+"/edition", w.another(), wire.TakeEdition{})
	assert.Equal(t, 404, status, "another maker's room: %v", answer)
	status, answer = w.call("POST", "/api/rooms/"+id+"/edition/by-host", bo.Key, wire.TakeEdition{})
	assert.Equal(t, 403, status, "who is not the host: %v", answer)
	status, answer = w.call("POST", "/api/rooms/"+id+"/edition/by-host", ada.Key, wire.TakeEdition{NewCards: "shuffled"})
	require.Equal(t, 204, status, answer)

	total := func(key string) int {
		_, look := w.call("GET", "/api/rooms/"+id+"/view", key, nil)
		n := 0
		for _, p := range look["view"].(map[string]any)["places"].([]any) {
			count, _ := p.(map[string]any)["count"].(float64)
			n += int(count)
		}
		return n
	}
	after, err := seat.Look(ctx)
	require.NoError(t, err)
	assert.Equal(t, handOf(before), handOf(after), "the hand has the same cards in the same order under the same handles")
	mine := asText(t, after)
	w.rooms.Remove(id) // put away, and loaded from its records
	again, err := seat.Look(ctx)
	require.NoError(t, err)
	assert.Equal(t, len(handOf(after)), len(handOf(again)))
	assert.Equal(t, strings.Count(mine, `"leaving":true`), strings.Count(asText(t, again), `"leaving":true`))
	assert.Equal(t, total(ada.Key), total(bo.Key))
	_, row = w.call("GET", "/api/rooms", makerKey, nil)
	assert.Equal(t, float64(2), row["rooms"].([]any)[0].(map[string]any)["edition"])

	status, answer = w.call("POST", "/api/rooms/"+id+"/edition", makerKey, wire.TakeEdition{Edition: 1})
	require.Equal(t, 204, status, answer)
	back, err := seat.Look(ctx)
	require.NoError(t, err)
	assert.NotContains(t, asText(t, back), `"leaving":true`)
	log, err := seat.Log(ctx, 3)
	require.NoError(t, err)
	assert.Contains(t, log[len(log)-1].Text, "takes in edition 1")
}

func asText(t *testing.T, v any) string {
	text, err := json.Marshal(v)
	require.NoError(t, err)
	return string(text)
}

// handOf are the handles of seat 1's hand.
func handOf(look wire.Look) (handles []any) {
	for _, p := range look.View.Places {
		if p.Kind == "hand" && p.Owner == 1 {
			for _, c := range p.Cards {
				handles = append(handles, c.Handle)
			}
		}
	}
	return handles
}

// A deck of another kit comes onto a table in use as a pile of its own, and is there after the
// room was put away.
func TestADeckIsBroughtOntoATableInUse(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, _ := w.room()
	files := weather(t)
	files["kit.yaml"] = bytes.Replace(bytes.ReplaceAll(files["kit.yaml"], []byte("\n  weather:\n    sheet"), []byte("\n  skies:\n    sheet")), []byte("name: Marsh Post"), []byte("name: Skies"), 1)
	status, put := w.call("POST", "/api/kits?despite_warnings=true", makerKey, zipped(t, files))
	require.Equal(t, 201, status, put)
	bring := func(key, deck string) (int, any) {
		status, answer := w.call("POST", "/api/rooms/"+id+"/decks", key, wire.BringDeck{Kit: "Skies", Deck: deck})
		return status, answer["code"]
	}
	status, code := bring(w.another(), "skies")
	assert.Equal(t, []any{404, "no-such-room"}, []any{status, code})
	status, code = bring(makerKey, "clouds")
	assert.Equal(t, []any{404, "no-such-deck"}, []any{status, code})
	status, code = bring(makerKey, "skies")
	require.Equal(t, 204, status, code)
	status, code = bring(makerKey, "skies")
	assert.Equal(t, []any{409, "out-of-bounds"}, []any{status, code}, "twice")

	seat := client.New(w.url, makerKey).At(ada)
	_, err := seat.Do(context.Background(), "draw 2 from skies")
	require.NoError(t, err)
	look, err := seat.Look(context.Background())
	require.NoError(t, err)
	w.rooms.Remove(id)
	again, err := seat.Look(context.Background())
	require.NoError(t, err)
	assert.Equal(t, counts(look), counts(again))
	assert.Equal(t, namesIn(look, "satchel/1"), namesIn(again, "satchel/1"))
	assert.Equal(t, 20, counts(again)["skies"])
	for _, p := range again.View.Places {
		if p.ID == "skies" {
			assert.True(t, p.X > 0 && p.Y > 0)
		}
	}
}
