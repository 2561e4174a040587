package room

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"weak"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/wire"
)

// ofEdition names the edition that the decks of a laid table are of.
func ofEdition(edits table.Edits, of table.EditionOf) {
	for _, e := range edits {
		if put, is := e.(table.PutDeck); is && put.After != nil && of.Kit != "" {
			put.After.Edition = &of
		}
	}
}

// asKept are edits as the journal keeps them: a deck of an edition names it, and its
// designs stand there alone.
func asKept(edits table.Edits) table.Edits {
	if !slices.ContainsFunc(edits, func(e table.Edit) bool { _, is := e.(table.PutDeck); return is }) {
		return edits
	}
	light := func(d *table.Deck) *table.Deck {
		if d == nil || d.Edition == nil {
			return d
		}
		alone := *d
		alone.Designs = d.FormerDesigns()
		return &alone
	}
	kept := slices.Clone(edits)
	for i, e := range kept {
		if put, is := e.(table.PutDeck); is {
			kept[i] = table.PutDeck{Before: light(put.Before), After: light(put.After)}
		}
	}
	return kept
}

// designs gives the decks of a table that name their edition their designs. All rooms of
// an edition share them.
func (m *Room) designs(ctx context.Context, t *table.Table) error {
	m.editions = map[table.EditionOf]*kit.Edition{}
	for _, deck := range t.Decks {
		if deck.Edition == nil {
			continue
		}
		edition, err := m.rooms.edition(ctx, *deck.Edition)
		if err != nil {
			return fmt.Errorf("the deck %s of edition %d of its kit: %w", deck.Key, deck.Edition.Number, err)
		}
		m.editions[*deck.Edition] = edition
		former := deck.Designs // what the edition has no more
		deck.Designs = designsOf(edition, deck.Key)
		if len(former) > 0 {
			deck.Designs = maps.Clone(deck.Designs)
			maps.Copy(deck.Designs, former)
		}
	}
	return nil
}

func designsOf(edition *kit.Edition, deck string) map[string]table.Design {
	for _, made := range edition.Decks {
		if made.Key == deck {
			return made.Designs
		}
	}
	return map[string]table.Design{}
}

// Revise takes another edition of its kit into a room. who is its host, or nobody where
// its maker does it.
func (r *Rooms) Revise(ctx context.Context, room string, who Who, number int, fresh table.NewCards) error {
	record, err := r.store.Room(ctx, room)
	if err != nil {
		return err
	}
	before, err := r.edition(ctx, table.EditionOf{Kit: record.Kit, Number: record.Edition})
	if err != nil {
		return err
	}
	after, err := r.edition(ctx, table.EditionOf{Kit: record.Kit, Number: number})
	if err != nil {
		return err
	}
	_, err = r.wait(ctx, room, act{}, func(s *state, a *act) error {
		if who != (Who{}) {
			if err := problemOf(s.game.Present(who)); err != nil {
				return err
			}
			if who.Seat != s.game.Table().Settings.Host {
				return wire.BelongsToAnotherSeat.With(wire.Problem{Detail: "Only who opened this room and its host take another edition in."})
			}
		}
		if err := s.over(); err != nil {
			return err
		}
		if s.room.record.Edition != record.Edition {
			return busy() // another edition was taken in just now
		}
		seats := len(s.game.Table().Chairs)
		a.who, a.edition = who, number
		a.action = table.Revise{
			Number: number, New: fresh,
			Before: laidBy(before, seats, table.EditionOf{Kit: record.Kit, Number: record.Edition}),
			After:  laidBy(after, seats, table.EditionOf{Kit: record.Kit, Number: number}),
		}
		s.hold(table.EditionOf{Kit: record.Kit, Number: number}, after)
		return nil
	})
	return err
}

// BringDeck brings a deck of an edition onto a room's table, as its maker.
func (r *Rooms) BringDeck(ctx context.Context, room string, of table.EditionOf, key string) error {
	edition, err := r.edition(ctx, of)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(edition.Decks, func(d kit.EditionDeck) bool { return d.Key == key })
	if at < 0 {
		return wire.NoSuchDeck.With(wire.Problem{Detail: fmt.Sprintf("%s has no deck %q.", edition.Name, key)})
	}
	deck := edition.Decks[at].Deck
	deck.Edition = &of
	action := table.BringDeck{Deck: &deck}
	for _, c := range edition.Decks[at].Copies {
		for range c.Copies {
			action.Cards = append(action.Cards, table.Minted{Deck: key, Design: c.Design, Side: table.Back})
		}
	}
	_, err = r.wait(ctx, room, act{}, func(s *state, a *act) error {
		a.action = action
		s.hold(of, edition)
		return s.over()
	})
	return err
}

// hold holds on to an edition of which decks come to the table, and to those of which there are
// some, so that other rooms share them.
func (s *state) hold(of table.EditionOf, edition *kit.Edition) {
	used := map[table.EditionOf]*kit.Edition{of: edition}
	for _, deck := range s.game.Table().Decks {
		if deck.Edition != nil && s.room.editions[*deck.Edition] != nil {
			used[*deck.Edition] = s.room.editions[*deck.Edition]
		}
	}
	s.room.editions = used
}

// over refuses what is done to a table at which the game has ended.
func (s *state) over() error {
	if !s.game.Table().Settings.Ended {
		return nil
	}
	return wire.GameEnded.With(wire.Problem{Detail: "The game has ended; nothing is done at this table any more."})
}

// laidBy is a table as an edition lays it.
func laidBy(edition *kit.Edition, seats int, of table.EditionOf) *table.Table {
	edits := edition.Lay(min(seats, edition.Seats))
	ofEdition(edits, of)
	t := &table.Table{}
	t.Fold(edits)
	return t
}

// edition is one that some room holds on to, or is read.
func (r *Rooms) edition(ctx context.Context, of table.EditionOf) (*kit.Edition, error) {
	r.mu.Lock()
	held := r.editions[of]
	r.mu.Unlock()
	if edition := held.Value(); edition != nil {
		return edition, nil
	}
	edition, err := r.store.Edition(ctx, of.Kit, of.Number)
	if err != nil {
		return nil, err
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	if other := r.editions[of].Value(); other != nil {
		return other, nil
	}
	r.editions[of] = weak.Make(&edition)
	return &edition, nil
}
