package api_test

import (
	"bufio"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/service/api"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// What happens is told as events to what cannot hold a socket: the same messages, to the same eyes.
func TestEventsTellWhatSocketsTell(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, bo := w.room()
	listen := func(path, key string) (func() map[string]any, *http.Response) {
		r, err := http.NewRequest("GET", w.url+path, nil)
		require.NoError(t, err)
		if key != "" {
			r.Header.Set("Authorization", "Bearer "+key)
		}
		response, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		t.Cleanup(func() { _ = response.Body.Close() })
		lines := bufio.NewScanner(response.Body)
		lines.Buffer(nil, 1<<20)
		return func() map[string]any {
			for lines.Scan() {
				if text, is := strings.CutPrefix(lines.Text(), "data: "); is {
					var m map[string]any
					require.NoError(t, json.Unmarshal([]byte(text), &m))
					return m
				}
			}
			t.Fatal("the events ended")
			return nil
		}, response
	}
	next, response := listen("/api/rooms/"+id+"/events", ada.Key)
	assert.Equal(t, "text/event-stream", response.Header.Get("Content-Type"))
	assert.Equal(t, "view", next()["type"])
	assert.Equal(t, "here", next()["type"])
	other, _ := listen("/api/rooms/"+id+"/events?key="+bo.Key, "")
	other()

	status, answer := w.call("POST", "/api/rooms/"+id+"/actions", ada.Key, wire.Request{Steps: "draw 1 from weather"})
	require.Equal(t, 200, status, answer)
	changes := func(next func() map[string]any) string {
		for {
			if m := next(); m["type"] == "changes" {
				text, err := json.Marshal(m)
				require.NoError(t, err)
				return string(text)
			}
		}
	}
	assert.Contains(t, changes(next), `"side":"front"`, "her own card")
	assert.NotContains(t, changes(other), `"side":"front"`, "which he does not see")

	_, refused := listen("/api/rooms/"+id+"/events", "WRONG")
	assert.Equal(t, 401, refused.StatusCode)
}

func TestPagesOfAllowedOriginsMayAsk(t *testing.T) {
	const friend = "https://game.example"
	w := newWorld(t, room.Options{}, func(o *api.Options) { o.Origins = []string{friend} })
	id, ada, _ := w.room()
	ask := func(method, origin string) *http.Response {
		r, err := http.NewRequest(method, w.url+"/api/rooms/"+id+"/view", nil)
		require.NoError(t, err)
		r.Header.Set("Origin", origin)
		r.Header.Set("Authorization", "Bearer "+ada.Key)
		if method == "OPTIONS" {
			r.Header.Set("Access-Control-Request-Method", "GET")
			r.Header.Set("Access-Control-Request-Headers", "authorization")
		}
		response, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		_ = response.Body.Close()
		return response
	}
	assert.Equal(t, friend, ask("OPTIONS", friend).Header.Get("Access-Control-Allow-Origin"))
	got := ask("GET", friend)
	assert.Equal(t, []any{200, friend}, []any{got.StatusCode, got.Header.Get("Access-Control-Allow-Origin")})
	assert.Contains(t, got.Header.Get("Content-Security-Policy"), "frame-ancestors "+friend)
	for _, method := range []string{"GET", "OPTIONS"} {
		assert.Empty(t, ask(method, "https://stranger.example").Header.Get("Access-Control-Allow-Origin"))
	}
	closed := newWorld(t, room.Options{})
	response, _ := closed.get("/", "")
	assert.Contains(t, response.Header.Get("Content-Security-Policy"), "frame-ancestors 'none'")
}

func TestAViewThatIsTheSameIsNotSentAgain(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, _ := w.room()
	look := func(tag string) (int, string, int) {
		r, err := http.NewRequest("GET", w.url+"/api/rooms/"+id+"/view", nil)
		require.NoError(t, err)
		r.Header.Set("Authorization", "Bearer "+ada.Key)
		r.Header.Set("If-None-Match", tag)
		response, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		defer response.Body.Close()
		n, _ := bufio.NewReader(response.Body).Discard(1 << 20)
		return response.StatusCode, response.Header.Get("ETag"), n
	}
	status, tag, size := look("")
	assert.Equal(t, 200, status)
	require.NotEmpty(t, tag)
	assert.Positive(t, size)
	status, _, size = look(tag)
	assert.Equal(t, []int{304, 0}, []int{status, size})
	w.call("POST", "/api/rooms/"+id+"/actions", ada.Key, wire.Request{Steps: "draw 1 from weather"})
	status, other, _ := look(tag)
	assert.Equal(t, 200, status)
	assert.NotEqual(t, tag, other)
}

// The whole log is read page by page, as its reader may read it, also when the game has ended.
func TestTheWholeLogIsReadInPages(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, bo := w.room()
	for i := range 7 {
		status, answer := w.call("POST", "/api/rooms/"+id+"/actions", ada.Key, wire.Request{Steps: fmt.Sprintf("draw 1 from weather\nsay \"line %d\"", i)})
		require.Equal(t, 200, status, answer)
	}
	status, answer := w.call("POST", "/api/rooms/"+id+"/end", makerKey, `{}`)
	require.Less(t, status, 300, answer)
	read := func(key string, limit int) (all []map[string]any) {
		for after := 0.0; ; {
			status, page := w.call("GET", fmt.Sprintf("/api/rooms/%s/log?after=%.0f&limit=%d", id, after, limit), key, nil)
			require.Equal(t, 200, status, page)
			lines, _ := page["lines"].([]any)
			for _, line := range lines {
				l := line.(map[string]any)
				require.Equal(t, after+1, l["number"], "one after the other")
				after++
				all = append(all, l)
			}
			if page["more"] != true {
				return all
			}
		}
	}
	whole := read(ada.Key, 500)
	assert.Greater(t, len(whole), 16)
	assert.Equal(t, whole, read(ada.Key, 3))
	text := func(lines []map[string]any) string {
		out, err := json.Marshal(lines)
		require.NoError(t, err)
		return string(out)
	}
	assert.Contains(t, text(whole), "to my hand  # ", "her own cards")
	others := text(read(bo.Key, 4))
	assert.NotContains(t, others, "  # Fog")
	_, end := w.call("GET", "/api/rooms/"+id+"/log?last=200", bo.Key, nil)
	short, err := json.Marshal(end["lines"])
	require.NoError(t, err)
	assert.JSONEq(t, string(short), others, "the same as the end of it says")
}

// Who comes back with the id of the last event that they heard is told what they missed, and not all of it anew.
func TestEventsGoOnFromTheLastOneHeard(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, bo := w.room()
	listen := func(last string) (next func() (id, data string), hangUp func()) {
		r, err := http.NewRequest("GET", w.url+"/api/rooms/"+id+"/events", nil)
		require.NoError(t, err)
		r.Header.Set("Authorization", "Bearer "+ada.Key)
		if last != "" {
			r.Header.Set("Last-Event-ID", last)
		}
		response, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		lines := bufio.NewScanner(response.Body)
		lines.Buffer(nil, 1<<20)
		return func() (id, data string) {
			for lines.Scan() {
				if text, is := strings.CutPrefix(lines.Text(), "id: "); is {
					id = text
				}
				if text, is := strings.CutPrefix(lines.Text(), "data: "); is {
					return id, text
				}
			}
			t.Fatal("the events ended")
			return "", ""
		}, func() { _ = response.Body.Close() }
	}
	next, hangUp := listen("")
	first, view := next()
	require.NotEmpty(t, first)
	assert.Contains(t, view, `"type":"view"`)
	hangUp()
	for range 2 {
		status, answer := w.call("POST", "/api/rooms/"+id+"/actions", bo.Key, wire.Request{Steps: "shuffle weather"})
		require.Equal(t, 200, status, answer)
	}
	next, hangUp = listen(first)
	defer hangUp()
	_, resumed := next()
	assert.Contains(t, resumed, `"type":"resumed"`)
	for range 2 {
		id, changes := next()
		assert.Contains(t, changes, `"type":"changes"`)
		assert.NotEqual(t, first, id)
		first = id
	}
}
