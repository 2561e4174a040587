package api

import (
	"cmp"
	"context"
	"fmt"

	"damselfly.example/damselfly/internal/wire"
)

// Limits are how much one maker, one room and one person may have of a service. What is zero is as it is by
// itself; see DefaultLimits.
type Limits struct {
	Kits      int // of one maker
	Rooms     int // of one maker
	Mebibytes int // of one maker's files
	Acts      int // of one person a second, in the long run
	Joins     int // from one address at one room a minute, in the long run
}

// DefaultLimits are those of a service that is told none.
var DefaultLimits = Limits{Kits: 500, Rooms: 1000, Mebibytes: 20 << 10, Acts: 20, Joins: 30}

// orDefault fills in what is not given.
func (l Limits) orDefault() Limits {
	return Limits{
		Kits: cmp.Or(l.Kits, DefaultLimits.Kits), Rooms: cmp.Or(l.Rooms, DefaultLimits.Rooms), Mebibytes: cmp.Or(l.Mebibytes, DefaultLimits.Mebibytes),
		Acts: cmp.Or(l.Acts, DefaultLimits.Acts), Joins: cmp.Or(l.Joins, DefaultLimits.Joins),
	}
}

// Limits of what one person may do.
const (
	joinsAtOnce     = 40 // of one address at one room
	passcodesAtOnce = 2  // are compared; that is slow on purpose
	longestPasscode = 72 // bytes, as many as the slow hash takes
)

// Files that are taken away at once; the largest has 96 MiB.
const (
	givenAtOnce = 12
	givenToKey  = 3
	givenToAddr = 6

	printsOfEach = 1
)

func joinsTooFast() *wire.Problem {
	return wire.TooManyJoins.With(wire.Problem{After: 60,
		Detail:  "Too many people joined this room from your address. Wait a minute.",
		Numbers: map[string]int{"at-once": joinsAtOnce}})
}

// oneKitMore refuses a new kit of a maker who has as many as they may. Another edition of one is none more.
func (a *API) oneKitMore(ctx context.Context, maker, name string) error {
	have, has, err := a.Store.CountKits(ctx, maker, name)
	if err != nil || has || have < a.Limits.Kits {
		return err
	}
	return wire.TooManyKits.With(wire.Problem{Detail: fmt.Sprintf("You have %d kits, which is the most a maker may have here. Remove one that you do not need, or ask who keeps the service.", have),
		Numbers: map[string]int{"most": a.Limits.Kits, "has": have}})
}

// oneRoomMore refuses a room of a maker who has as many as they may.
func (a *API) oneRoomMore(ctx context.Context, maker string) error {
	have, err := a.Store.CountRooms(ctx, maker)
	if err != nil || have < a.Limits.Rooms {
		return err
	}
	return wire.TooManyRooms.With(wire.Problem{Detail: fmt.Sprintf("You have %d rooms, which is the most a maker may have here. Remove one that you do not need, or ask who keeps the service.", have),
		Numbers: map[string]int{"most": a.Limits.Rooms, "has": have}})
}

// someBytesMore refuses files of a maker who has as much as they may.
func (a *API) someBytesMore(ctx context.Context, maker string, bytes int) error {
	have, err := a.Store.BytesOf(ctx, maker)
	if err != nil || have+int64(bytes) <= int64(a.Limits.Mebibytes)<<20 {
		return err
	}
	return wire.TooManyBytes.With(wire.Problem{Detail: fmt.Sprintf("Your kits' files have %d MiB, and a maker may have %d MiB here. Remove kits that you do not need; their files go when they cannot be brought back any more, after 30 days. Or ask who keeps the service.",
		have>>20, a.Limits.Mebibytes),
		Numbers: map[string]int{"most": a.Limits.Mebibytes, "has": int(have >> 20)}})
}
