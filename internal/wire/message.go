package wire

import (
	"bytes"
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"sync"

	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
)

// Message is what the service sends over a socket: a type for each kind.
type Message interface{ kind() string }

// Whole is all that one may see, and the newest lines of the log.
type Whole struct {
	Gate string     `json:"gate" doc:"Names the life of the room in which told counts."`
	Told uint64     `json:"told" doc:"How many changes you were told in it; each message of changes is one more."`
	View sight.View `json:"view"`
	Log  []LogLine  `json:"log,omitempty"`
}

// Resumed says that what follows is what was missed.
type Resumed struct {
	Gate string `json:"gate"`
	Told uint64 `json:"told" doc:"How many changes you were told by your last view and since."`
}

// Changes is what an act showed.
type Changes struct {
	sight.Changes
	Log []LogLine `json:"log,omitempty"`
}

// Settled answers a request: with an answer or a problem.
type Settled struct {
	ID      string   `json:"id,omitempty"`
	Answer  *Answer  `json:"answer,omitempty"`
	Problem *Problem `json:"problem,omitempty"`
}

// Present says who is at the room now.
type Present struct {
	Here     []table.Seat `json:"here,omitempty"`
	Watching int          `json:"watching,omitempty" doc:"Spectators."`
}

// Notice is of the service itself.
type Notice struct {
	Code string `json:"code"`
	Text string `json:"text"`
}

// Gripping says that a seat drags these cards, or with none has let go.
type Gripping struct {
	Seat  table.Seat     `json:"seat"`
	Cards []table.Handle `json:"cards,omitempty"`
}

// Pointing says where a seat's pointer is.
type Pointing struct {
	Seat table.Seat `json:"seat"`
	X    float64    `json:"x" doc:"Millimetres from the table's left edge."`
	Y    float64    `json:"y"`
	Away bool       `json:"away,omitempty" doc:"It left the table."`
}

// Pulse says that the connection lives.
type Pulse struct{}

func (Whole) kind() string    { return "view" }
func (Resumed) kind() string  { return "resumed" }
func (Changes) kind() string  { return "changes" }
func (Settled) kind() string  { return "answer" }
func (Present) kind() string  { return "here" }
func (Notice) kind() string   { return "notice" }
func (Gripping) kind() string { return "grip" }
func (Pointing) kind() string { return "point" }
func (Pulse) kind() string    { return "pulse" }

// Messages has one of each kind.
var Messages = []Message{Whole{}, Resumed{}, Changes{}, Settled{}, Present{}, Notice{}, Gripping{}, Pointing{}, Pulse{}}

// KindOf is the word that stands as the type of a message.
func KindOf(m Message) string { return m.kind() }

// Write writes a message, its type first.
func Write(m Message) []byte { return Append(nil, m) }

// written holds what was written last, so that a message is copied once.
var written = sync.Pool{New: func() any { return new(bytes.Buffer) }}

// Append writes a message behind what is there.
func Append(before []byte, m Message) []byte {
	buffer, _ := written.Get().(*bytes.Buffer)
	defer written.Put(buffer)
	buffer.Reset()
	encoder := json.NewEncoder(buffer)
	encoder.SetEscapeHTML(false)
	if err := encoder.Encode(m); err != nil {
		panic(err) // all their parts can be written
	}
	text := buffer.Bytes()[:buffer.Len()-1] // without the line's end
	head := `{"type":"` + m.kind() + `"`
	if len(text) > len("{}") {
		head += ","
	}
	all := slices.Grow(before, len(head)+len(text))
	return append(append(all, head...), text[1:]...)
}

// Read reads a message that Write wrote.
func Read(text []byte) (Message, error) {
	var head struct {
		Type string `json:"type"`
	}
	if err := json.Unmarshal(text, &head); err != nil {
		return nil, err
	}
	for _, m := range Messages {
		if m.kind() != head.Type {
			continue
		}
		read := reflect.New(reflect.TypeOf(m))
		err := json.Unmarshal(text, read.Interface())
		return read.Elem().Interface().(Message), err
	}
	return nil, fmt.Errorf("a message of the type %q is not known here", head.Type)
}
