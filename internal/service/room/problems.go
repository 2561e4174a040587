package room

import (
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
	return wire.RoomLocked.With(wire.Problem{Detail: "The host has locked this room, so nobody new comes in. Ask them to unlock it."})
}

func notSaving() error {
	return wire.NotSaving.With(wire.Problem{Detail: "The service cannot save right now and keeps trying. Nothing was lost; try again in a moment."})
}

func busy() error {
	return wire.RoomIsBusy.With(wire.Problem{Detail: "Too much is happening in this room at once. Try again in a moment."})
}

func resting() error {
	return wire.RoomRests.With(wire.Problem{Detail: "This room kept failing and rests for a minute. Nothing is lost; try again later."})
}

func notTheHost() error {
	return wire.BelongsToAnotherSeat.With(wire.Problem{Detail: "Only who sits there and the host can hand a seat on."})
}
