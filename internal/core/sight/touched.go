package sight

import (
	"cmp"
	"slices"

	"damselfly.example/damselfly/internal/core/table"
)

// Touched is what one entry changed, so that only that is projected.
type Touched struct {
	places []*touchedPlace // in the order of their ids
	byID   map[table.PlaceID]*touchedPlace
	moves  []move
	cards  map[table.CardID]before // that lie elsewhere or otherwise
	pieces []table.PieceID         // in order
	chairs bool
	marker bool
	asks   bool
	rest   bool // settings or decks
}

// touchedPlace is a place that an entry changed.
type touchedPlace struct {
	id        table.PlaceID
	shows     bool           // somebody is shown a change there
	through   bool           // also through veils
	laid      bool           // the place itself is laid otherwise, or is new
	relaid    bool           // and its rule of sight changed
	reordered bool           // so that cards cannot be followed
	passed    bool           // cards left it, or it was reordered
	anew      bool           // its cards are told anew, not only those that changed
	sawMore   table.Audience // who saw, or sees, more of it than others
}

// move is a card on its way, and whether nobody could follow it.
type move struct {
	card    table.CardID
	stirred bool
}

// before is where a card lay before the entry, and who had it before their eyes.
type before struct {
	place    table.PlaceID
	handle   Handle
	audience table.Audience
}

// touch reads the edits that led to the table as it is.
func (g *Gate) touch(t *table.Table, edits table.Edits) *Touched {
	touched := &Touched{byID: map[table.PlaceID]*touchedPlace{}, cards: map[table.CardID]before{}}
	touches := make([]table.Touch, len(edits))
	for i, e := range edits {
		touches[i] = table.TouchOf(e, t)
		switch touch := touches[i]; {
		case touch.Ordered:
			at := touched.at(touch.Places[0])
			p := t.Places[at.id]
			at.reordered = at.reordered || p == nil || !followed(p)
			at.passed, at.anew = true, true
		case touch.Moves:
			touched.at(touch.Places[0]).passed = true
			for _, card := range touch.Cards {
				g.note(t, touched, card, touch.Places[0])
			}
		}
	}
	for _, touch := range touches {
		g.take(t, touched, touch)
	}
	slices.Sort(touched.pieces)
	touched.pieces = slices.Compact(touched.pieces)
	slices.SortFunc(touched.places, func(a, b *touchedPlace) int { return cmp.Compare(a.id, b.id) })
	return touched
}

// take adds what one edit touches.
func (g *Gate) take(t *table.Table, touched *Touched, touch table.Touch) {
	switch {
	case touch.Laid:
		at := touched.at(touch.Places[0])
		at.shows, at.through, at.laid = true, true, true
		at.relaid = at.relaid || touch.Relaid
		at.anew = true
	case touch.Moves:
		from, to := touched.at(touch.Places[0]), touched.at(touch.Places[1])
		from.show(from != to)
		to.show(from != to)
		for _, card := range touch.Cards {
			touched.moves = append(touched.moves, move{card, from.reordered || to.reordered})
			if from != to {
				from.sawMore |= t.Shown[card]
			}
		}
	case touch.Ordered:
		touched.at(touch.Places[0]).show(false)
	case touch.Turned:
		for _, card := range touch.Cards {
			if c := t.Cards[card]; c != nil {
				at := touched.at(c.Place)
				at.show(false)
				at.sawMore |= t.Shown[card]
				g.note(t, touched, card, c.Place)
			}
		}
	case touch.Shown != 0:
		if c := t.Cards[touch.Shown]; c != nil {
			at := touched.at(c.Place)
			at.show(touch.ShownTo.Includes(0))
			at.sawMore |= touch.ShownTo
			g.note(t, touched, touch.Shown, c.Place)
		}
	}
	for _, look := range touch.Looks {
		at := touched.at(look.Place)
		at.show(true)
		at.anew = true
		at.sawMore |= table.Only(look.Seat)
	}
	if touch.Deck != "" {
		g.takeDeck(t, touched, touch.Deck)
	}
	if touch.Piece != "" {
		touched.pieces = append(touched.pieces, touch.Piece)
	}
	touched.marker = touched.marker || touch.Marker
	touched.asks = touched.asks || touch.Asks
	touched.chairs = touched.chairs || touch.Chairs
	touched.rest = touched.rest || touch.Decks || touch.Settings
}

// takeDeck has all places told anew that hold cards of a deck, whether those changed or not, as far as
// everybody knows: also those of which nobody can tell what decks lie there.
func (g *Gate) takeDeck(t *table.Table, touched *Touched, deck string) {
	for id, p := range t.Places {
		if covers(p) || slices.ContainsFunc(p.Cards, func(card table.CardID) bool { return t.Cards[card].Deck == deck }) {
			at := touched.at(id)
			at.show(true)
			at.anew = true
		}
	}
}

// covers reports whether cards lie in a place whose decks nobody can tell: under others, and no veil shows
// them.
func covers(p *table.Place) bool {
	return p.Kind.Stacked() && p.Sight == table.Open && len(p.Cards) > 1
}

// note keeps where a card was before the entry: where it first went away from, or where it
// lies if it went nowhere. Of cards that lie
// and lay stacked where nobody has them before their eyes nothing is to be told.
func (g *Gate) note(t *table.Table, touched *Touched, card table.CardID, place table.PlaceID) {
	h, known := g.held[card]
	if !known {
		c := t.Cards[card]
		if c == nil || t.Places[c.Place].Kind.Stacked() {
			return
		}
	}
	if _, noted := touched.cards[card]; !noted {
		touched.cards[card] = before{place, h.handle, h.audience}
	}
}

// at is a place among those that were touched.
func (t *Touched) at(id table.PlaceID) *touchedPlace {
	at := t.byID[id]
	if at == nil {
		at = &touchedPlace{id: id}
		t.byID[id] = at
		t.places = append(t.places, at)
	}
	return at
}

// show notes that what lies at a place changed, and whether that shows through veils.
func (p *touchedPlace) show(throughVeils bool) {
	p.shows = true
	p.through = p.through || throughVeils
}
