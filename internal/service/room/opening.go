package room

import (
	"context"
	"crypto/rand"
	"slices"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// Open makes a new room with a table laid from an edition.
func (r *Rooms) Open(ctx context.Context, record store.Room, made kit.Edition, b Beginning) (store.Room, Who, error) {
	record = r.begun(record)
	made.Name = record.Name // what stands over the table
	laid := made.Lay(record.Seats)
	ofEdition(laid, table.EditionOf{Kit: record.Kit, Number: record.Edition})
	return r.add(ctx, record, laid, b)
}

// OpenFrom makes a new room that begins as a bookmark has its table, with a seed of its own.
func (r *Rooms) OpenFrom(ctx context.Context, record store.Room, with *table.Table, b Beginning) (store.Room, Who, error) {
	record = r.begun(record)
	with.Settings.Name = record.Name
	return r.add(ctx, record, table.Edits{table.Begin{With: with}}, b)
}

// Beginning is what is done in a room in the very commit that makes it.
type Beginning struct {
	Sits    *Seating      // who takes the first free seat
	Shuffle table.PlaceID // is shuffled then, with what they add to chance; empty: nothing is
}

// add keeps a new room with its first entries, and says who sits there.
func (r *Rooms) add(ctx context.Context, record store.Room, laid table.Edits, b Beginning) (store.Room, Who, error) {
	kept := asKept(laid)
	entries := []store.Entry{{Room: record.ID, Number: 1, At: record.At, Edits: written(kept), Uses: table.UsesOf(kept), Deeds: []byte("[]")}}
	tab := &table.Table{}
	tab.Fold(laid)
	told := int64(0)
	do := func(who Who, action table.Action, keys ...store.KeyChange) error {
		number := int64(len(entries)) + 1
		edits, deeds, refusal := tab.Apply(0, action, table.Circumstances{Now: record.At, Entry: uint64(number), Chance: func(d chance.Draw) *chance.Stream {
			return chance.OfDraw(chance.Seed(record.Seed), d, tab.Salt())
		}})
		if refusal != nil {
			return wire.Refused(refusal, nil, nil)
		}
		entries = append(entries, store.Entry{
			Room: record.ID, Number: number, At: record.At, Actor: who.Seat, Tenure: who.Tenure, Edits: written(asKept(edits)), Deeds: written(deeds), Told: told,
			Keys: append(keys, keyChanges(edits)...),
		})
		told += int64(len(deeds))
		return nil
	}
	var who Who
	if b.Sits != nil {
		free := slices.IndexFunc(tab.Chairs, func(c table.Chair) bool { return c.Name == "" })
		if free < 0 {
			return record, who, full(len(tab.Chairs))
		}
		who = Who{Seat: tab.Chairs[free].Seat, Tenure: uint64(len(entries)) + 1}
		if err := do(who, table.Sit{Seat: who.Seat, Name: b.Sits.Name, Salt: b.Sits.Salt}, store.KeyChange{Seat: who.Seat, Tenure: who.Tenure, Add: b.Sits.Key, Name: b.Sits.Name}); err != nil {
			return record, who, err
		}
	}
	if b.Shuffle != "" {
		if err := do(Who{}, table.Shuffle{Place: b.Shuffle}); err != nil {
			return record, who, err
		}
	}
	return record, who, r.store.AddRoom(ctx, record, entries...)
}

// begun gives a new room what every one has.
func (r *Rooms) begun(record store.Room) store.Room {
	record.ID = store.NewID()
	record.At = r.now().UnixMilli()
	record.Seed = make([]byte, len(chance.Seed{}))
	_, _ = rand.Read(record.Seed)
	if record.Passcode == nil {
		record.Passcode = []byte{}
	}
	return record
}

// Bookmark keeps a room's table as it is under a name, for other rooms to begin with. Everybody there is told, in the
// commit that keeps it.
func (r *Rooms) Bookmark(ctx context.Context, room, name string) (store.Bookmark, error) {
	made := make(chan store.Bookmark, 1)
	_, err := r.wait(ctx, room, act{}, func(s *state, a *act) error {
		record, at := s.room.record, r.now().UnixMilli()
		kept := s.game.Table().Bookmark(at)
		b := store.Bookmark{
			ID: store.NewID(), Maker: record.Maker, Name: name, Kit: record.Kit, Edition: record.Edition, Seats: record.Seats,
			State: written(kept), Uses: table.UsesOf(kept), At: at,
		}
		a.action, a.bookmark = table.Bookmarked{Name: name}, &b
		made <- b
		return nil
	})
	if err != nil {
		return store.Bookmark{}, err
	}
	return <-made, nil
}
