package room

import (
	"context"
	"crypto/sha256"
	"encoding/base32"
	"fmt"
	"strings"

	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// Seating is a seat that somebody takes: its number, or 0 for the first free one,
// their name and what they add to chance, and the hash of the key that is to open it.
type Seating struct {
	Seat table.Seat
	Name string
	Salt string
	Key  []byte
	ID   string // of the request; sent again it is done once
}

// joinPrefix begins the ids under which the journal keeps that somebody joined.
const joinPrefix = "join "

// joinID is that id. It is a hash, because who knows a join's own id can have its key.
func joinID(id string) string {
	if id == "" {
		return ""
	}
	sum := sha256.Sum256([]byte("damselfly join 1\n" + id))
	return joinPrefix + strings.ToLower(base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(sum[:20]))
}

// Sit gives a seat to a player. Whether the room is locked is decided in the room; the
// key is kept in the same commit as the seat, so that no seat is taken that nobody can
// open.
func (r *Rooms) Sit(ctx context.Context, room string, want Seating) (Who, error) {
	taken := make(chan Who, 1)
	_, err := r.wait(ctx, room, act{}, func(s *state, a *act) error {
		e, before, err := s.askedBefore(Who{}, joinID(want.ID))
		if err != nil {
			return err
		}
		if want.ID != "" && before {
			who := Who{Seat: e.Actor, Tenure: uint64(e.Number)}
			if err := problemOf(s.game.Present(who)); err != nil {
				return err
			}
			s.after(func() { taken <- who; a.answer(wire.Answer{}, nil) })
			return nil
		}
		if s.game.Table().Settings.Locked {
			return locked()
		}
		seat := want.Seat
		if seat == 0 {
			if seat = s.game.Free(); s.game.Table().Chair(seat) == nil {
				return full(len(s.game.Table().Chairs))
			}
		}
		who := Who{Seat: seat, Tenure: uint64(s.last + 1)}
		taken <- who
		a.who, a.once = Who{Seat: seat}, joinID(want.ID)
		a.action = table.Sit{Seat: table.Seat(seat), Name: want.Name, Salt: want.Salt}
		a.keys = []store.KeyChange{{Seat: seat, Tenure: who.Tenure, Add: want.Key, Name: want.Name}}
		return nil
	})
	if err != nil {
		return Who{}, err
	}
	return <-taken, nil
}

// full refuses who would sit where every seat is taken.
func full(seats int) *wire.Problem {
	all := fmt.Sprintf("All %d seats of this room are taken.", seats)
	if seats == 1 {
		all = "The one seat of this room is taken."
	}
	return wire.AllSeatsTaken.With(wire.Problem{Detail: all + " You can watch, or ask who sits there to free one.", Numbers: map[string]int{"seats": seats}})
}

// Watch reports whether somebody may watch a room now.
func (r *Rooms) Watch(ctx context.Context, room string) error {
	refused, err := ask(ctx, r, room, nil, func(s *state) error {
		if s.game.Table().Settings.Locked {
			return locked()
		}
		return problemOf(s.game.Present(Who{}))
	})
	if err != nil {
		return err
	}
	return refused
}

// HandOn gives a seat, one's own or for the host any, to somebody else, whose key
// replaces the others.
func (r *Rooms) HandOn(ctx context.Context, room string, who Who, to Seating) error {
	_, err := r.wait(ctx, room, act{}, func(s *state, a *act) error {
		if err := problemOf(s.game.Present(who)); err != nil {
			return err
		}
		if who.Seat != to.Seat && who.Seat != s.game.Table().Settings.Host {
			return notTheHost()
		}
		a.who, a.action = Who{Seat: to.Seat}, table.HandOn{Seat: to.Seat, Name: to.Name, Salt: to.Salt}
		a.keys = []store.KeyChange{{Seat: to.Seat, Tenure: uint64(s.last + 1), Add: to.Key, Name: to.Name}}
		return nil
	})
	return err
}

// ByMaker does what a room's maker may do without a seat.
func (r *Rooms) ByMaker(ctx context.Context, room string, action table.Action) error {
	_, err := r.wait(ctx, room, act{}, func(s *state, a *act) error {
		a.action = action
		return s.over()
	})
	return err
}

// keyChanges are what becomes of keys: those of a seat that was left end, or open the
// seat that its player moved to.
func keyChanges(edits table.Edits) (changes []store.KeyChange) {
	for _, c := range edits.SeatChanges() {
		if c.Left && !c.Taken {
			changes = append(changes, store.KeyChange{Seat: c.Seat})
		} else if n := len(changes); !c.Left && n > 0 { // in one action: somebody changed seats
			changes[n-1].To, changes[n-1].Tenure = c.Seat, c.Tenure
		}
	}
	if edits.CloseToSpectators() {
		changes = append(changes, store.KeyChange{})
	}
	return changes
}
