package table

import (
	"fmt"
	"maps"
	"slices"
)

// Bookmarked tells that the table was kept under a name. It is the service's own: whoever
// opens a bookmark sees what lay hidden when it was made, so nobody makes one in secret.
type Bookmarked struct{ Name string }

func (a Bookmarked) plan(d *draft) *Refusal {
	d.tell("bookmark", Worded{Text: a.Name})
	return nil
}

// Bookmark is the table as another room can begin with it: everything lies where it lies,
// seats are free, hands are hidden, nobody looks or asks, timers stand, and chance has not
// been drawn. Its decks are named by their editions where they have one. It shares with the
// table what lies on it, and is written down at once. now is in milliseconds since 1970.
func (t *Table) Bookmark(now int64) *Table {
	t.ready()
	b := &Table{
		Settings: t.Settings, Decks: map[string]*Deck{}, Places: maps.Clone(t.Places), Cards: maps.Clone(t.Cards), Pieces: map[PieceID]*Piece{},
		Laid: maps.Clone(t.Laid), Marker: t.Marker, Leaving: maps.Clone(t.Leaving), Made: t.Made,
	}
	b.Settings.Host, b.Settings.Locked, b.Settings.Ended, b.Settings.Spectators = 0, false, false, ""
	for key, d := range t.Decks {
		alone := *d
		if alone.Edition != nil {
			alone.Designs = nil
		}
		b.Decks[key] = &alone
	}
	for _, c := range t.Chairs {
		b.Chairs = append(b.Chairs, Chair{Seat: c.Seat, Colour: c.Colour})
	}
	for id, p := range t.Pieces {
		alone := *p
		if alone.Ends != 0 {
			alone.Left, alone.Ends = max(alone.Ends-now, 0), 0
		}
		b.Pieces[id] = &alone
	}
	return b
}

// Begin is a table that begins as a bookmark has it. It is the first edit of a room.
type Begin struct {
	With *Table `json:"with"`
}

func (e Begin) fold(t *Table) {
	past := t.past
	*t = *e.With
	t.past = past
	for id, p := range t.Places {
		alone := *p
		alone.Cards = slices.Clone(p.Cards)
		t.Places[id] = &alone
	}
	t.ready()
}

func (e Begin) inverse() Edit { return Begin{With: &Table{}} }

func (e Begin) touches(*Table) Touch { return Touch{Undo: IsFinal, Weight: maxWeight / 2} }

// WithoutLeaving takes the cards away that are to leave.
func (t *Table) WithoutLeaving() {
	for _, p := range t.Places {
		p.Cards = slices.DeleteFunc(p.Cards, func(card CardID) bool { return t.Leaving[card] })
	}
	maps.DeleteFunc(t.Cards, func(card CardID, _ *Card) bool { return t.Leaving[card] })
	maps.DeleteFunc(t.Places, func(_ PlaceID, p *Place) bool { return p.Kind.Passing() && len(p.Cards) == 0 })
	t.Leaving = nil
}

// Damage finds what is wrong with a table that came from outside: a card that lies nowhere
// or twice, a design that its deck does not have, a home or a grid that is missing. It is
// empty for a table that can be played.
func (t *Table) Damage(designs map[string]map[string]Design) string {
	lying := map[CardID]bool{}
	for id, p := range t.Places {
		switch {
		case p == nil || p.ID != id || !slices.Contains(append([]Kind{Loose, Cell}, ZoneKinds...), p.Kind):
			return fmt.Sprintf("the place %q is none", id)
		case !slices.Contains([]Sight{Open, OwnerOnly, None}, p.Sight), int(p.Owner) < 0, int(p.Owner) > len(t.Chairs):
			return fmt.Sprintf("the place %q is nobody's", id)
		case p.Kind == Grid && (p.Grid == nil || len(p.Cards) > 0), p.Kind == Cell && (t.Places[p.Of] == nil || t.Places[p.Of].Grid == nil):
			return fmt.Sprintf("the place %q has no grid", id)
		}
		for _, card := range p.Cards {
			if c := t.Cards[card]; c == nil || c.Place != id || lying[card] {
				return fmt.Sprintf("the card %d lies twice", card)
			}
			lying[card] = true
		}
	}
	for id, c := range t.Cards {
		if _, known := designs[c.Deck][c.Design]; !known || !lying[id] || c.Side != Front && c.Side != Back || t.Decks[c.Deck] == nil {
			return fmt.Sprintf("the card %d is of no deck", id)
		}
	}
	for key, d := range t.Decks {
		if d == nil || d.Key != key || designs[key] == nil {
			return fmt.Sprintf("the deck %q is none", key)
		}
	}
	for i, c := range t.Chairs {
		if int(c.Seat) != i+1 || c.Name != "" || len(t.Chairs) > MaxSeats {
			return "the seats are not free"
		}
	}
	for _, pieces := range []map[PieceID]*Piece{t.Pieces, t.Laid} {
		for id, p := range pieces {
			if p == nil || p.ID != id || !slices.Contains(PieceKinds, p.Kind) {
				return fmt.Sprintf("the piece %q is none", id)
			}
		}
	}
	if len(t.Looks)+len(t.Asks)+len(t.Shown)+len(t.Brief)+len(t.Draws)+len(t.Leaving) > 0 {
		return "somebody is still at the table"
	}
	return ""
}
