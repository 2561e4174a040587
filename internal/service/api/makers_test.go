package api_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// A maker is let in by the keeper, has another key, and keeps what is theirs; a key that
// ended opens nothing from then on.
func TestAMakerKeepsTheirShelfWithAnotherKey(t *testing.T) {
	w := newWorld(t, room.Options{})
	status, in := w.call("POST", "/api/makers", keeperKey, `{"name":" Ada Reed "}`)
	require.Equal(t, 201, status, in)
	key := in["key"].(string)
	assert.Equal(t, w.url+"/#maker="+key, in["link"])
	status, answer := w.call("POST", "/api/makers", keeperKey, `{"name":"ADA REED"}`)
	assert.Equal(t, []any{409, "maker-is-there"}, []any{status, answer["code"]})
	for _, name := range []string{"", "  ", "a/b", "a name that is longer than a maker's may be, by far"} {
		status, answer = w.call("POST", "/api/makers", keeperKey, map[string]string{"name": name})
		assert.Equal(t, []any{422, "bad-maker-name"}, []any{status, answer["code"]}, name)
	}

	status, answer = w.call("POST", "/api/kits", key, demoZip(t))
	require.Equal(t, 201, status, answer)
	_, answer = w.call("GET", "/api/kits", makerKey, nil)
	assert.Empty(t, answer["kits"], "another maker's kit was listed")
	status, answer = w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post"})
	assert.Equal(t, 404, status, answer)

	_, renewed := w.call("POST", "/api/makers/Ada%20Reed/keys", keeperKey, nil)
	status, answer = w.call("GET", "/api/maker", key, nil)
	assert.Equal(t, []any{401, "needs-maker-key"}, []any{status, answer["code"]}, "a key that ended")
	key = renewed["key"].(string)
	_, answer = w.call("GET", "/api/kits", key, nil)
	assert.Len(t, answer["kits"], 1)

	_, listed := w.call("GET", "/api/makers", keeperKey, nil)
	makers := listed["makers"].([]any)
	require.Len(t, makers, 2)
	keys := makers[0].(map[string]any)["keys"].([]any)
	require.Len(t, keys, 1)
	label := keys[0].(map[string]any)["name"].(string)
	status, _ = w.call("DELETE", "/api/makers/"+in["id"].(string)+"/keys?key="+label, keeperKey, nil)
	assert.Equal(t, 204, status)
	status, _ = w.call("GET", "/api/kits", key, nil)
	assert.Equal(t, 401, status)
	status, answer = w.call("DELETE", "/api/makers/nobody/keys", keeperKey, nil)
	assert.Equal(t, []any{404, "no-such-maker"}, []any{status, answer["code"]})
}

func TestALinkSaysWhetherOthersCanOpenIt(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, _, _ := w.room()
	_, answer := w.call("GET", "/api/rooms/"+id, "", nil)
	assert.Equal(t, []any{w.url + "/room/" + id, true}, []any{answer["link"], answer["only_here"]})
}
