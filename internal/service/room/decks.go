package room

import (
	"context"
	"fmt"
	"weak"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/store"
)

// asKept are the edits that lay a table as the journal keeps them: a deck of an edition
// names it, and its designs stand there alone.
func asKept(edits table.Edits, record store.Room) table.Edits {
	kept := make(table.Edits, len(edits))
	for i, e := range edits {
		if put, is := e.(table.PutDeck); is && put.After != nil && record.Kit != "" {
			light := *put.After
			light.Designs, light.Edition = nil, &table.EditionOf{Kit: record.Kit, Number: record.Edition}
			e = table.PutDeck{Before: put.Before, After: &light}
		}
		kept[i] = e
	}
	return kept
}

// designs gives the decks of a table that name their edition their designs. All rooms of
// an edition share them.
func (m *Room) designs(ctx context.Context, t *table.Table) error {
	m.editions = nil
	for _, deck := range t.Decks {
		if deck.Edition == nil || deck.Designs != nil {
			continue
		}
		edition, err := m.rooms.edition(ctx, *deck.Edition)
		if err != nil {
			return fmt.Errorf("the deck %s of edition %d of its kit: %w", deck.Key, deck.Edition.Number, err)
		}
		for _, made := range edition.Decks {
			if made.Key == deck.Key {
				deck.Designs = made.Designs
			}
		}
		m.editions = append(m.editions, edition)
	}
	return nil
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
