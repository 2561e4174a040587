package api_test

import (
	"encoding/json"
	"fmt"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/service/api"
	"damselfly.example/damselfly/internal/service/room"
)

// route is a described one.
type route struct {
	method, path string
	Parameters   []struct{ Name, In string }
	RequestBody  *struct{ Content map[string]any }
	Security     []map[string]any
}

// described are all routes of the API, but for the stream of events, which never ends.
func described(t *testing.T) (all []route) {
	text, err := api.Description()
	require.NoError(t, err)
	var read struct{ Paths map[string]map[string]route }
	require.NoError(t, json.Unmarshal(text, &read))
	for path, methods := range read.Paths {
		for method, r := range methods {
			if !strings.HasSuffix(path, "/events") {
				r.method, r.path = strings.ToUpper(method), path
				all = append(all, r)
			}
		}
	}
	require.Greater(t, len(all), 50)
	return all
}

// needs is whose key the route needs: "maker", "keeper" or "seat", or "" for none.
func (r route) needs() string {
	for _, kind := range []string{"maker", "keeper", "seat"} {
		if len(r.Security) > 0 && r.Security[0][kind] != nil {
			return kind
		}
	}
	return ""
}

func (r route) takesJSON() bool {
	return r.RequestBody != nil && r.RequestBody.Content["application/json"] != nil
}

// with is the path with values for what stands in it.
func (r route) with(values map[string]string) string {
	return regexp.MustCompile(`\{(\w+)\}`).ReplaceAllStringFunc(r.path, func(name string) string {
		return strings.ReplaceAll(values[strings.Trim(name, "{}")], " ", "%20")
	})
}

// One mistake has one status and one code, whichever route it is made on. Who may call is looked at first, then
// what was sent, then what it is about.
func TestOneMistakeHasOneAnswer(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, _ := w.room()
	keys := map[string]string{"maker": makerKey, "keeper": keeperKey, "seat": ada.Key}
	there := map[string]string{"room": id, "kit": "Marsh Post", "seat": "1", "edition": "1", "maker": "Test", "bookmark": "none", "name": "none", "size": "small"}
	tried := map[string]int{}
	for _, r := range described(t) {
		key := keys[r.needs()]
		answers := func(status int, code, path, key string, body any) {
			tried[code]++
			got, answer := w.call(r.method, path, key, body)
			assert.Equal(t, fmt.Sprintf("%d %s", status, code), fmt.Sprintf("%d %v", got, answer["code"]), "%s %s: %v", r.method, path, answer["detail"])
		}
		body := any(nil)
		if r.takesJSON() {
			body = "{}"
			answers(400, "not-understood", r.with(there), key, "{")
			answers(422, "not-valid", r.with(there), key, `{"flavour":1}`)
		}
		answers(422, "not-valid", r.with(there)+"?flavour=1", key, body)
		if needs := r.needs(); needs != "" {
			answers(401, "needs-"+needs+"-key", r.with(there), "", body)
			answers(401, "needs-"+needs+"-key", r.with(there), "WRONG", body)
		}
		status, answer := w.call(r.method, r.with(map[string]string{"room": "nowhere", "kit": "nothing", "seat": "1", "edition": "1", "maker": "none", "bookmark": "none", "name": "none", "size": "small"}), key, body)
		switch {
		case status == 422: // what was sent is looked at before
		case r.needs() == "seat": // the key opens nothing there, whether there is a room or not
			assert.Equal(t, "needs-seat-key", answer["code"], r.path)
		case strings.Contains(r.path, "{room}"):
			assert.Equal(t, "no-such-room", answer["code"], r.path)
		case strings.Contains(r.path, "{kit}"):
			assert.Equal(t, "no-such-kit", answer["code"], r.path)
		case strings.Contains(r.path, "{bookmark}"):
			assert.Equal(t, "no-such-bookmark", answer["code"], r.path)
		case strings.Contains(r.path, "{maker}"):
			assert.Equal(t, "no-such-maker", answer["code"], r.path)
		}
	}
	for code, least := range map[string]int{"not-understood": 15, "not-valid": 60, "needs-maker-key": 50, "needs-keeper-key": 10, "needs-seat-key": 15} {
		assert.Greater(t, tried[code], least, code)
	}
}
