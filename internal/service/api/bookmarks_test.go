package api_test

import (
	"archive/zip"
	"bytes"
	"context"
	"io/fs"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// counts are how many cards lie where.
func counts(look wire.Look) map[table.PlaceID]int {
	all := map[table.PlaceID]int{}
	for _, p := range look.View.Places {
		all[p.ID] = p.Count
	}
	return all
}

// A table in use is kept, and everybody there is told; rooms begin from it with free seats,
// the same hands, and chance of their own; taken away and brought to another maker it is the
// same.
func TestRoomsBeginFromABookmark(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, bo := w.room()
	ctx := context.Background()
	maker := client.New(w.url, makerKey)
	_, err := maker.At(ada).Do(ctx, "shuffle weather\ndraw 4 from weather\nshow my hand to Bo")
	require.NoError(t, err)
	_, err = maker.At(bo).Do(ctx, "draw 2 from weather\nask Ada for 1")
	require.NoError(t, err)
	was, err := maker.At(ada).Look(ctx)
	require.NoError(t, err)

	status, answer := w.call("POST", "/api/rooms/"+id+"/bookmarks", w.another(), wire.BookmarkName{Name: "mine"})
	assert.Equal(t, 404, status, "another maker's room: %v", answer)
	status, made := w.call("POST", "/api/rooms/"+id+"/bookmarks", makerKey, wire.BookmarkName{Name: "Before the storm"})
	require.Equal(t, 201, status, made)
	log, err := maker.At(bo).Log(ctx, 1)
	require.NoError(t, err)
	assert.Contains(t, log[0].Text, "keeps this table as the bookmark Before the storm")

	begin := func(key, bookmark string) (client.Look, client.Look) {
		status, opened := w.call("POST", "/api/rooms", key, wire.OpenRoom{Bookmark: bookmark, Name: "Again"})
		require.Equal(t, 201, status, opened)
		fresh := opened["id"].(string)
		for _, seat := range opened["seats"].([]any) {
			assert.Empty(t, seat.(map[string]any)["name"])
		}
		watcher, err := maker.Join(ctx, fresh, client.Join{Watch: true})
		require.NoError(t, err)
		outside, err := maker.At(watcher).Look(ctx)
		require.NoError(t, err)
		first, err := maker.Join(ctx, fresh, client.Join{Name: "Cleo", Seat: 1})
		require.NoError(t, err)
		w.rooms.Remove(fresh) // loaded again from its records
		inside, err := maker.At(first).Look(ctx)
		require.NoError(t, err)
		return outside, inside
	}
	one, cleo := begin(makerKey, made["id"].(string))
	assert.Equal(t, counts(was), counts(one))
	assert.Empty(t, one.View.Asks)
	hidden := func(look client.Look, hand table.PlaceID) int {
		i := slices.IndexFunc(look.View.Places, func(p sight.Place) bool { return p.ID == hand })
		return len(look.View.Places[i].Cards)
	}
	assert.Equal(t, []int{0, 0, 4}, []int{hidden(one, "satchel/1"), hidden(one, "satchel/2"), hidden(cleo, "satchel/1")})
	assert.Equal(t, namesIn(was, "satchel/1"), namesIn(cleo, "satchel/1"))
	_, first := w.call("GET", "/api/rooms/"+id, "", nil)
	_, rooms := w.call("GET", "/api/rooms", makerKey, nil)
	again := rooms["rooms"].([]any)[0].(map[string]any)["id"].(string)
	_, second := w.call("GET", "/api/rooms/"+again, "", nil)
	assert.NotEqual(t, first["commitment"], second["commitment"], "the seed is another one")

	response, file := w.get("/api/bookmarks/"+made["id"].(string)+"/file", makerKey)
	require.Equal(t, 200, response.StatusCode)
	_, in := w.call("POST", "/api/makers", keeperKey, `{"name":"Esme Fenn"}`)
	esme := in["key"].(string)
	status, brought := w.call("POST", "/api/bookmarks", esme, file)
	require.Equal(t, 201, status, brought)
	assert.Equal(t, []any{"Before the storm", float64(3), "Marsh Post"}, []any{brought["name"], brought["seats"], brought["kit_name"]})
	_, cleo = begin(esme, brought["id"].(string))
	assert.Equal(t, namesIn(was, "satchel/1"), namesIn(cleo, "satchel/1"))

	status, _ = w.call("PATCH", "/api/bookmarks/"+made["id"].(string), makerKey, wire.BookmarkName{Name: "Calm"})
	assert.Equal(t, 204, status)
	_, listed := w.call("GET", "/api/bookmarks", makerKey, nil)
	assert.Equal(t, "Calm", listed["bookmarks"].([]any)[0].(map[string]any)["name"])
	status, _ = w.call("DELETE", "/api/bookmarks/"+made["id"].(string), esme, nil)
	assert.Equal(t, 404, status, "another maker's")
	status, _ = w.call("DELETE", "/api/bookmarks/"+made["id"].(string), makerKey, nil)
	assert.Equal(t, 204, status)
	status, answer = w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Bookmark: made["id"].(string)})
	assert.Equal(t, []any{404, "no-such-bookmark"}, []any{status, answer["code"]})

	// What is damaged, or no bookmark, is refused, and nothing is kept of it.
	for _, c := range []struct{ was, is string }{
		{`"bookmark":2`, `"bookmark":3`}, {`"design":"fog"`, `"design":"frog"`}, {`"place":"weather"`, `"place":"sky"`}, {`"side":"back"`, `"side":"edge"`},
		{`"kind":"hand"`, `"kind":"foot"`}, {`"wide":1200`, `"wide":1e300`}, {`"columns":6`, `"columns":600000`}, {`{"seat":2,`, `{"seat":3,`}, {`"made":1}`, `"made":18446744073709551615}`},
	} {
		status, answer := w.call("POST", "/api/bookmarks", esme, rewritten(t, file, c.was, c.is))
		assert.Equal(t, []any{422, "no-bookmark"}, []any{status, answer["code"]}, c.is)
	}
	status, answer = w.call("POST", "/api/bookmarks", esme, demoZip(t))
	assert.Equal(t, []any{422, "no-bookmark"}, []any{status, answer["code"]})
}

// namesIn are the names of the cards that somebody sees in a place, in their order.
func namesIn(look wire.Look, place table.PlaceID) (names []string) {
	for _, p := range look.View.Places {
		for _, c := range p.Cards {
			if p.ID == place {
				names = append(names, look.View.Faces[c.Face].Name)
			}
		}
	}
	return names
}

// rewritten is a bookmark's file with one text of its table replaced.
func rewritten(t *testing.T, file []byte, was, is string) []byte {
	archive, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	require.NoError(t, err)
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	for _, f := range archive.File {
		text, err := fs.ReadFile(archive, f.Name)
		require.NoError(t, err)
		if f.Name == "bookmark.json" {
			require.Contains(t, string(text), was)
			text = []byte(strings.Replace(string(text), was, is, 1))
		}
		to, err := w.Create(f.Name)
		require.NoError(t, err)
		_, err = to.Write(text)
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	return out.Bytes()
}
