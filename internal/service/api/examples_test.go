package api_test

import (
	"encoding/json"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/gorilla/websocket"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"go.yaml.in/yaml/v4"

	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// The examples of docs/asyncapi.yaml are messages as a room sends them: taken at a table where a card is turned up, an act is refused,
// a card is dragged and somebody points. What is another each time, such as handles, may differ; what is there may not.
func TestTheExamplesOfTheSocketAreAsARoomSendsThem(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, bo := w.room()
	sockets := map[string]*websocket.Conn{}
	heard := map[string][]any{}
	for name, key := range map[string]string{"Ada": ada.Key, "Bo": bo.Key} {
		socket, _, err := websocket.DefaultDialer.Dial("ws"+strings.TrimPrefix(w.url, "http")+"/api/rooms/"+id+"/live", nil)
		require.NoError(t, err)
		defer socket.Close()
		require.NoError(t, socket.WriteJSON(wire.Hello{Type: "hello", Key: key}))
		sockets[name] = socket
	}
	until := func(name, kind string) (last map[string]any) {
		for {
			_ = sockets[name].SetReadDeadline(time.Now().Add(20 * time.Second))
			_, text, err := sockets[name].ReadMessage()
			require.NoError(t, err)
			last = map[string]any{}
			require.NoError(t, json.Unmarshal(text, &last))
			heard[last["type"].(string)] = append(heard[last["type"].(string)], last)
			if last["type"] == kind {
				return last
			}
		}
	}
	until("Bo", "view")
	until("Ada", "view")
	say := func(message any) { require.NoError(t, sockets["Ada"].WriteJSON(message)) }
	say(wire.Act{Type: "act", Request: wire.Request{ID: "1", Steps: "turn 1 of weather face up onto sky"}})
	until("Bo", "changes")
	until("Ada", "answer")
	say(wire.Act{Type: "act", Request: wire.Request{ID: "2", Steps: "draw 30 from weather"}})
	until("Ada", "answer")
	_, look := w.call("GET", "/api/rooms/"+id+"/view", ada.Key, nil)
	var handle string
	for _, p := range look["view"].(map[string]any)["places"].([]any) {
		if p := p.(map[string]any); p["id"] == "sky" {
			handle = p["cards"].([]any)[0].(map[string]any)["handle"].(string)
		}
	}
	say(map[string]any{"type": "grip", "cards": []string{handle}})
	until("Bo", "grip")
	say(map[string]any{"type": "point", "x": 120, "y": 80.5})
	until("Bo", "point")

	text, err := os.ReadFile("../../../docs/asyncapi.yaml")
	require.NoError(t, err)
	var described struct {
		Components struct {
			Messages map[string]struct {
				Examples []struct {
					Payload map[string]any `yaml:"payload"`
				} `yaml:"examples"`
			} `yaml:"messages"`
		} `yaml:"components"`
	}
	require.NoError(t, yaml.Unmarshal(text, &described))
	compared := 0
	for name, message := range described.Components.Messages {
		if slices.Contains([]string{"hello", "act", "grip", "point", "resumed"}, name) {
			continue // what clients send, and what comes after a break
		}
		for _, example := range message.Examples {
			compared++
			shape := shapeOf(example.Payload)
			var real []string
			for _, one := range heard[fmt.Sprint(example.Payload["type"])] {
				real = append(real, shapeOf(one))
			}
			assert.Contains(t, real, shape, "%s: no message is like this example", name)
		}
	}
	assert.GreaterOrEqual(t, compared, 6)
}

// varies are the fields whose values, or names, are others each time.
var varies = []string{"faces", "handle", "face", "picture", "at", "number", "told", "gate", "key", "name", "fields", "text", "cards", "count", "step", "y", "x", "numbers", "detail", "who"}

// shapeOf is a message without what is another each time.
func shapeOf(v any) string {
	var plain func(v any, under string) any
	plain = func(v any, under string) any {
		switch v := v.(type) {
		case map[string]any:
			if under == "faces" {
				kinds := map[string]any{}
				for _, face := range v {
					f, _ := face.(map[string]any)
					kinds[fmt.Sprint(f["side"])] = plain(f, "face of")
				}
				return kinds
			}
			out := map[string]any{}
			for name, one := range v {
				if _, nested := one.(map[string]any); slices.Contains(varies, name) && !(nested && name == "faces") {
					if list, is := one.([]any); is && name == "cards" && len(list) > 0 {
						if _, objects := list[0].(map[string]any); objects {
							out[name] = plain(one, name)
							continue
						}
					}
					out[name] = "…"
					continue
				}
				out[name] = plain(one, name)
			}
			return out
		case []any:
			var out []any
			for _, one := range v {
				out = append(out, plain(one, ""))
			}
			return out
		}
		return fmt.Sprint(v)
	}
	text, err := json.Marshal(plain(v, ""))
	if err != nil {
		panic(err)
	}
	return string(text)
}
