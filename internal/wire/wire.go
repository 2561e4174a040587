// Package wire holds the JSON shapes that the service and its clients exchange
// beside those of core/sight and core/table. REST and the socket share them.
package wire

import (
	"encoding/json"
	"net/http"
	"strconv"

	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
)

// Request is one thing that a person at a room wants done: an action, or Steps
// that say it in words.
type Request struct {
	ID     string          `json:"id,omitempty" maxLength:"64" doc:"Your own id for this request. Sent again with the same id it is done once."`
	Action json.RawMessage `json:"action,omitempty"`
	Steps  string          `json:"steps,omitempty" maxLength:"65536" doc:"Steps in words, in place of an action."`

	Confirm string `json:"confirm,omitempty" maxLength:"65536" doc:"The very text of cues that may do what only you can see; see the problem needs-confirming."`
}

// Answer is what became of a request that was done.
type Answer struct {
	Told uint64    `json:"told" doc:"Once you were told so many changes, you were told what was done."`
	Log  []LogLine `json:"log,omitempty" doc:"What the log says of it to you."`
	Done string    `json:"done,omitempty" enum:"now,before" doc:"\"before\" if a request with this id was done already."`
}

// Problem is an error as in RFC 9457, with the service's code and numbers.
type Problem struct {
	Type    string         `json:"type"`
	Title   string         `json:"title"`
	Status  int            `json:"status"`
	Detail  string         `json:"detail"`
	Code    string         `json:"code"`
	Numbers map[string]int `json:"numbers,omitempty"`
	Line    int            `json:"line,omitempty"`   // of a mistake in Steps, from 1
	Column  int            `json:"column,omitempty"` // from 1
	Details []string       `json:"details,omitempty"`
	After   int            `json:"-"` // in how many seconds it may go well; 0: not said

	// of several steps that were refused on the way
	Step   int       `json:"step,omitempty"`   // the one that was refused, from 1
	Cue    string    `json:"cue,omitempty"`    // in whose steps Line is
	Stands bool      `json:"stands,omitempty"` // those before it were done and stand
	Log    []LogLine `json:"log,omitempty"`    // what the log says of them to you
}

func (p *Problem) Error() string { return p.Detail }

// GetHeaders are the headers that the answer has beside the problem.
func (p *Problem) GetHeaders() http.Header {
	if p.After == 0 {
		return nil
	}
	return http.Header{"Retry-After": {strconv.Itoa(p.After)}}
}

// LogLine is a line of the log with its number and time.
type LogLine struct {
	sight.Line
	Number int64 `json:"number" doc:"From 1 in each room."`
	At     int64 `json:"at" doc:"Milliseconds since 1970."`
}

// Hello is the first message of a client over a socket. Gate is that of the last view
// it got, and Told how many changes it was told by then and since, to go on from there.
type Hello struct {
	Type string `json:"type" enum:"hello"`
	Key  string `json:"key"`
	Gate string `json:"gate,omitempty"`
	Told uint64 `json:"told,omitempty"`
}

// Act is a request over a socket.
type Act struct {
	Type string `json:"type" enum:"act"`
	Request
}

// Grip claims cards while they are dragged; with none it lets go. It lapses
// after some seconds without another one.
type Grip struct {
	Type  string         `json:"type" enum:"grip"`
	Cards []table.Handle `json:"cards"`
}

// Point says where one's pointer is, so that others see it move. It is passed on to
// who listens at the moment, and kept nowhere.
type Point struct {
	Type string  `json:"type" enum:"point"`
	X    float64 `json:"x" doc:"Millimetres from the table's left edge."`
	Y    float64 `json:"y" doc:"Millimetres from its upper edge."`
	Away bool    `json:"away,omitempty" doc:"The pointer has left the table."`
}

// Look is a view as REST gives it.
type Look struct {
	Told     uint64       `json:"told" doc:"How many changes you were told by now, if you listen."`
	View     sight.View   `json:"view"`
	Here     []table.Seat `json:"here" doc:"Seats whose players are connected."`
	Watching int          `json:"watching" doc:"Connected spectators."`
}
