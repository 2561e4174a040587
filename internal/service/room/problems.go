package room

import (
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/wire"
)

// problemOf is an error of a game as an answer.
func problemOf(err error) error {
	if err == nil {
		return nil
	}
	return wire.ProblemOf(err)
}

func locked() error {
	return &wire.Problem{Status: 403, Code: "room-locked", Title: "The room is locked",
		Detail: "The host has locked this room, so nobody new comes in. Ask them to unlock it."}
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
