package api_test

import (
	"bytes"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// send sends a file, and returns the status and what is answered.
func (w *world) send(path, key string, file []byte) (int, string) {
	r, err := http.NewRequest("POST", w.url+path, bytes.NewReader(file))
	require.NoError(w.t, err)
	r.Header.Set("Authorization", "Bearer "+key)
	response, err := http.DefaultClient.Do(r)
	require.NoError(w.t, err)
	defer response.Body.Close()
	var text bytes.Buffer
	_, err = text.ReadFrom(response.Body)
	require.NoError(w.t, err)
	return response.StatusCode, text.String()
}

// withoutHandles is a view as JSON without the names that it has for cards, which are others in each life of a room.
func withoutHandles(t *testing.T, view any) any {
	switch v := view.(type) {
	case map[string]any:
		out := map[string]any{}
		for key, value := range v {
			if key != "handle" && key != "life" && key != "told" && key != "face" && key != "faces" {
				out[key] = withoutHandles(t, value)
			}
		}
		return out
	case []any:
		out := make([]any, len(v))
		for i := range v {
			out[i] = withoutHandles(t, v[i])
		}
		return out
	}
	return view
}

// A running service is backed up and restored: its tables are as they were, for each viewer, and people play on.
func TestARunningServiceIsBackedUpAndRestored(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, bo := w.room()
	do := func(who wire.Joined, steps string) {
		status, answer := w.call("POST", "/api/rooms/"+id+"/actions", who.Key, wire.Request{Steps: steps})
		require.Equal(t, 200, status, answer)
	}
	view := func(who wire.Joined) any {
		status, answer := w.call("GET", "/api/rooms/"+id+"/view", who.Key, nil)
		require.Equal(t, 200, status, answer)
		return withoutHandles(t, answer["view"])
	}
	do(ada, "draw 3 from weather")
	do(bo, "draw 2 from weather")
	before := [2]any{view(ada), view(bo)}
	response, backup := w.get("/api/keeper/backup", keeperKey)
	require.Equal(t, 200, response.StatusCode)

	socket := w.dial(ada)
	defer socket.Close()
	do(ada, "draw 4 from weather")
	_, other := w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post"})
	require.NotEqual(t, before[0], view(ada))

	for _, key := range []string{"", makerKey, ada.Key} {
		status, _ := w.send("/api/keeper/restore", key, backup)
		assert.Equal(t, 401, status)
		response, _ := w.get("/api/keeper/backup", key)
		assert.Equal(t, 401, response.StatusCode)
		response, _ = w.get("/api/keeper/status", key)
		assert.Equal(t, 401, response.StatusCode)
	}
	status, text := w.send("/api/keeper/restore", keeperKey, backup[:len(backup)/2])
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "Nothing was changed")
	require.NotEqual(t, before[0], view(ada))

	status, text = w.send("/api/keeper/restore", keeperKey, backup)
	require.Equal(t, 204, status, text)
	assert.Equal(t, before, [2]any{view(ada), view(bo)})
	status, _ = w.call("GET", "/api/rooms/"+other["id"].(string), makerKey, nil)
	assert.Equal(t, 404, status, "what came after the backup is gone")
	do(ada, "draw 1 from weather")
	do(bo, "draw 1 from weather")
}

func TestTheKeeperSeesHowTheServiceIs(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, _ := w.room()
	for _, steps := range []string{"draw 2 from weather", "draw 999 from weather"} {
		w.call("POST", "/api/rooms/"+id+"/actions", ada.Key, wire.Request{Steps: steps})
	}
	status, answer := w.call("GET", "/api/keeper/status", keeperKey, nil)
	require.Equal(t, 200, status, answer)
	assert.Equal(t, []any{true, float64(1), float64(1), float64(1)}, []any{answer["saving"], answer["rooms"], answer["kits"], answer["rooms_live"]})
	assert.Contains(t, answer["database"], "MariaDB")
	metrics := w.metric()
	for _, line := range []string{`damselfly_actions_total{outcome="done",word="draw"} 1`, `damselfly_actions_total{outcome="refused",word="draw"} 1`, "damselfly_commit_seconds_count", "go_goroutines", `damselfly_requests_total{method="POST",status="200"}`, "damselfly_journal_queue 0"} {
		assert.Contains(t, metrics, line)
	}
	assert.NotContains(t, metrics, id, "metrics tell of no single room")
	status, answer = w.call("GET", "/api/keeper/unused?days=1", keeperKey, nil)
	require.Equal(t, 200, status)
	assert.Empty(t, answer["rooms"])
}

// metric is what Prometheus reads.
func (w *world) metric() string {
	r, err := http.NewRequest("GET", "/metrics", nil)
	require.NoError(w.t, err)
	var out recorded
	w.metrics.ServeHTTP(&out, r)
	return out.String()
}

// recorded is an answer that is kept as a text.
type recorded struct {
	strings.Builder
	header http.Header
}

func (r *recorded) Header() http.Header {
	if r.header == nil {
		r.header = http.Header{}
	}
	return r.header
}
func (r *recorded) WriteHeader(int) {}
