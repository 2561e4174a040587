package api_test

import (
	"net/http"
	"strings"
	"testing"

	"github.com/gorilla/websocket"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/service/api"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// A room's maker lets pages of other addresses ask about that room, and no other.
func TestARoomsMakerAllowsPagesOfOthers(t *testing.T) {
	const friend = "https://game.example"
	w := newWorld(t, room.Options{})
	id, ada, _ := w.room()
	status, opened := w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post", Seats: 2})
	require.Equal(t, 201, status)
	other, _ := opened["id"].(string)
	ask := func(path, origin string) http.Header {
		r, err := http.NewRequest("GET", w.url+path, nil)
		require.NoError(t, err)
		r.Header.Set("Origin", origin)
		r.Header.Set("Authorization", "Bearer "+ada.Key)
		response, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		_ = response.Body.Close()
		return response.Header
	}
	allowed := func(room, origin string) (all []bool) {
		all = append(all, ask("/api/rooms/"+room+"/view", origin).Get("Access-Control-Allow-Origin") == origin)
		socket, _, err := websocket.DefaultDialer.Dial("ws"+strings.TrimPrefix(w.url, "http")+"/api/rooms/"+room+"/live", http.Header{"Origin": {origin}})
		if all = append(all, err == nil); err == nil {
			_ = socket.Close()
		}
		return append(all, strings.Contains(ask("/room/"+room, "").Get("Content-Security-Policy"), "frame-ancestors "+origin))
	}
	no, yes := []bool{false, false, false}, []bool{true, true, true}
	assert.Equal(t, no, allowed(id, friend))

	status, answer := w.call("PUT", "/api/rooms/"+id+"/origins", makerKey, wire.SetOrigins{Origins: []string{"https://Game.example/", friend}})
	require.Equal(t, 204, status, answer)
	assert.Equal(t, yes, allowed(id, friend))
	assert.Equal(t, no, allowed(other, friend), "another room")
	assert.Equal(t, no, allowed(id, "https://stranger.example"))
	assert.Empty(t, ask("/api/kits", friend).Get("Access-Control-Allow-Origin"), "what is not about the room")
	assert.Contains(t, ask("/", friend).Get("Content-Security-Policy"), "frame-ancestors 'none'")
	assert.Equal(t, "*", ask("/client/index.js", friend).Get("Access-Control-Allow-Origin"), "the client is everybody's")

	_, shown := w.call("GET", "/api/rooms/"+id, makerKey, nil)
	assert.Equal(t, []any{friend}, shown["origins"])
	_, shown = w.call("GET", "/api/rooms/"+id, "", nil)
	assert.NotContains(t, shown, "origins")
	assert.NotContains(t, shown, "host")
	status, _ = w.call("PUT", "/api/rooms/"+id+"/origins", ada.Key, wire.SetOrigins{Origins: []string{"*"}})
	assert.Equal(t, 401, status, "a seat is no maker")
	status, answer = w.call("PUT", "/api/rooms/"+id+"/origins", makerKey, wire.SetOrigins{Origins: []string{"https://game.example/page"}})
	assert.Equal(t, []any{422, "no-origin"}, []any{status, answer["code"]})
	assert.Equal(t, yes, allowed(id, friend), "a mistake changes nothing")

	status, answer = w.call("PUT", "/api/rooms/"+id+"/origins", makerKey, wire.SetOrigins{Origins: []string{}})
	require.Equal(t, 204, status, answer)
	assert.Equal(t, no, allowed(id, friend))

	status, opened = w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post", Origins: []string{friend}})
	require.Equal(t, 201, status, opened)
	assert.Equal(t, yes, allowed(opened["id"].(string), friend), "from the beginning")
}

// A room with a passcode shows who sits there to its maker, and to nobody else who has not joined.
func TestAMakerSeesWhoSitsInTheirRoom(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, _, _ := w.room()
	status, _ := w.call("PUT", "/api/rooms/"+id+"/passcode", makerKey, wire.SetPasscode{Passcode: "heron"})
	require.Equal(t, 204, status)
	first := func(key string) any {
		_, shown := w.call("GET", "/api/rooms/"+id, key, nil)
		return shown["seats"].([]any)[0].(map[string]any)["name"]
	}
	assert.Equal(t, "Ada", first(makerKey))
	assert.Equal(t, "taken", first(""))
	assert.Equal(t, "taken", first("WRONG"))
}

// What a maker names as an address stands in a header for browsers, and can say nothing else there.
func TestAnAddressOfPagesSaysNothingElse(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.OneOf(rapid.String(), rapid.StringMatching(`https?://[a-z.:;, '*/\[\]]{1,20}(:[0-9]+)?`)).Draw(t, "text")
		origin, is := api.OriginOf(text)
		if is && origin != "*" {
			assert.NotRegexp(t, `[\s;,'"]|//.*/`, origin)
		}
	})
	for text, want := range map[string]bool{
		"https://game.example": true, "http://127.0.0.1:8080": true, "https://Game.Example/": true, "http://[::1]:80": true, "*": true,
		"game.example": false, "https://": false, "https://a.example/page": false, "https://a.example;script-src": false, "ftp://a.example": false,
		"https://*.example": false, "null": false, "": false,
	} {
		_, is := api.OriginOf(text)
		assert.Equal(t, want, is, text)
	}
}
