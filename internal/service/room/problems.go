package room

import (
	"errors"

	"damselfly/internal/core/steps"
	"damselfly/internal/core/table"
	"damselfly/internal/wire"
)

// refused is a refusal of the core as an answer. Most are conflicts with the
// state of the table; the sentence says with what.
func refused(r *table.Refusal) error {
	status := 409
	switch r.Code {
	case table.NoSuchPlace, table.NoSuchSeat, table.NoSuchCard:
		status = 404
	case table.NotYours, table.NeedsSeat:
		status = 403
	}
	return &wire.Problem{Status: status, Code: r.Code, Title: "Not done", Detail: r.Text, Numbers: r.Numbers}
}

// notUnderstood answers an action or Steps that cannot be read.
func notUnderstood(err error) error {
	p := &wire.Problem{Status: 400, Code: table.NotUnderstood, Title: "Not understood", Detail: err.Error()}
	var mistake *steps.Error
	if errors.As(err, &mistake) {
		p.Line, p.Column = mistake.Line, mistake.Column
	}
	return p
}

func notSaving() error {
	return &wire.Problem{Status: 503, Code: "not-saving", Title: "Not saving",
		Detail: "The service cannot save right now and keeps trying. Nothing was lost; try again in a moment."}
}

func busy() error {
	return &wire.Problem{Status: 503, Code: "room-is-busy", Title: "The room is busy",
		Detail: "Too much is happening in this room at once. Try again in a moment."}
}

func resting() error {
	return &wire.Problem{Status: 503, Code: "room-rests", Title: "The room rests",
		Detail: "This room kept failing and rests for a minute. Nothing is lost; try again later."}
}

func notTheHost() error {
	return &wire.Problem{Status: 403, Code: table.NotYours, Title: "Not done", Detail: "Only who sits there and the host can hand a seat on."}
}
