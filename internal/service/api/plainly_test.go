package api_test

import (
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// libraryWords are what libraries say, and no answer of ours does.
var libraryWords = regexp.MustCompile(`(?i)unmarshal|strconv|invalid character|end of JSON|expected (string|number|integer|array|object|boolean|required|length|value|one)|validation failed|json:|schema|Go (struct|value)|unexpected property|invalid (integer|float|boolean)|required \w+ parameter`)

// Whatever is wrong with a request, on every route that takes one, the answer is in words that help.
func TestNoLibraryAnswersARequest(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, _ := w.room()
	bodies := []string{`draw two`, `{`, ``, `[]`, `7`, `"x"`, `null`, `{}`, `{"flavour":1}`, `{"name":1e999,"steps":[],"seats":"two","seat":-1,"passcode":{},"origins":7,"action":{"do":7},"kit":[1],"edition":2.5,"copies":-4,"hashes":{}}`,
		`{"name":"` + strings.Repeat("x", 5000) + `","seats":4000,"origins":[1,"x"],"action":"draw","kit":null}`, `{"action":{"do":"draw","from":7,"count":"x","flavour":1},"id":7}`, "{\"name\":\"\xff\"}"}
	tried := 0
	for _, r := range described(t) {
		key := makerKey
		if r.needs() == "seat" {
			key = ada.Key
		}
		address := r.with(map[string]string{"room": id, "kit": "Marsh Post", "seat": "two"})
		for _, p := range r.Parameters {
			if p.In == "query" {
				address += map[bool]string{true: "&", false: "?"}[strings.Contains(address, "?")] + p.Name + "=many"
			}
		}
		sends := []string{""}
		if r.takesJSON() {
			sends = bodies
		} else if r.method == "DELETE" {
			continue
		}
		for _, body := range sends {
			status, answer := w.call(r.method, address, key, body)
			tried++
			if status < 400 {
				continue
			}
			detail, _ := answer["detail"].(string)
			assert.NotEmpty(t, detail, "%s %s %q: %d", r.method, address, body, status)
			assert.NotRegexp(t, libraryWords, detail, "%s %s %q", r.method, address, body)
			assert.Less(t, status, 500, "%s %s %q: %v", r.method, address, body, answer)
		}
	}
	assert.Greater(t, tried, 200)
}

// A mistake is told with its field, what it is to be, and what it is.
func TestAMistakeInARequestIsToldWithItsField(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, _ := w.room()
	for body, want := range map[string]string{
		`{"kit":"Marsh Post","seats":20}`:       `"seats" is to be at most 12, not 20.`,
		`{"kit":"Marsh Post","seats":"two"}`:    `"seats" is to be a whole number, not "two".`,
		`{"kit":"Marsh Post","flavour":"salt"}`: `"flavour" is not known here.`,
		`{"kit":7,"seats":-1}`:                  `"kit" is to be text, not 7; "seats" is to be at least 0, not -1.`,
		`[]`:                                    `What was sent is to be an object.`,
	} {
		_, answer := w.call("POST", "/api/rooms", makerKey, body)
		assert.Equal(t, want, answer["detail"], body)
	}
	status, opened := w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post", Name: "  Evil\n\tdusk\x1b[31m\u202e "})
	assert.Equal(t, 201, status)
	assert.Equal(t, "Evil dusk[31m", opened["name"], "a name is one line")
	_, answer := w.call("POST", "/api/rooms/"+id+"/join", "", "{}")
	assert.Equal(t, "A name has 1 to 24 letters, digits or signs, but no \" and no #.", answer["detail"])
	_, answer = w.call("POST", "/api/kits/Marsh%20Post/copy", makerKey, "{")
	assert.NotEmpty(t, answer["detail"])
	_, answer = w.call("GET", "/api/rooms/"+id+"/place", ada.Key, nil)
	assert.Equal(t, `"place" is missing.`, answer["detail"])
	_, answer = w.call("POST", "/api/rooms/"+id+"/hand-on", ada.Key, wire.HandOn{Seat: 400})
	assert.NotEmpty(t, answer["detail"])
}
