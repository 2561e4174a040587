package room

import (
	"errors"

	"damselfly.example/damselfly/internal/core/play"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/wire"
)

// refused is a refusal of the core as an answer. Most are conflicts with the
// state of the table; the sentence says with what.
func refused(r *table.Refusal, origins []steps.Origin, log []wire.LogLine) error {
	status := 409
	switch r.Code {
	case table.NoSuchPlace, table.NoSuchSeat, table.NoSuchCard:
		status = 404
	case table.NotYours, table.NeedsSeat:
		status = 403
	}
	p := &wire.Problem{Status: status, Code: r.Code, Title: "Not done", Detail: r.Text, Numbers: r.Numbers, Step: r.Step, Log: log}
	if r.Step > 0 && r.Step <= len(origins) {
		p.Line, p.Cue = origins[r.Step-1].Line, origins[r.Step-1].Cue
	}
	if r.Stands {
		p.Status, p.Stands, p.Title = 409, true, "Not done to the end"
	}
	return p
}

// needsConfirming asks whether steps that somebody may have changed shall do what
// nobody but the presser can see.
func needsConfirming(text string) error {
	return &wire.Problem{Status: 409, Code: "needs-confirming", Title: "Needs confirming", Details: []string{text},
		Detail: "These steps would show, give or move cards that only you see. Send the request again with their very text, which stands in details, in \"confirm\"."}
}

// problemOf is an error of a game as an answer.
func problemOf(err error) error {
	var confirm play.NeedsConfirming
	switch {
	case err == nil:
		return nil
	case errors.Is(err, play.ErrSeatLeft):
		return seatLeft()
	case errors.Is(err, play.ErrNoSpectators):
		return noSpectators()
	case errors.Is(err, play.ErrWatching):
		return refused(&table.Refusal{Code: table.NeedsSeat, Text: "You are watching. Take a seat to act."}, nil, nil)
	case errors.As(err, &confirm):
		return needsConfirming(confirm.Text)
	}
	return notUnderstood(err)
}

func seatLeft() error {
	return &wire.Problem{Status: 401, Code: "seat-left", Title: "The seat was left",
		Detail: "This key was for a seat that was left, freed or handed on since. Join the room again."}
}

func locked() error {
	return &wire.Problem{Status: 403, Code: "room-locked", Title: "The room is locked",
		Detail: "The host has locked this room, so nobody new comes in. Ask them to unlock it."}
}

func noSpectators() error {
	return &wire.Problem{Status: 403, Code: "no-spectators", Title: "No spectators", Detail: "This room takes no spectators. Choose a seat."}
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
