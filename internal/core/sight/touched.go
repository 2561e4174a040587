package sight

import (
	"cmp"
	"maps"
	"slices"

	"damselfly.example/damselfly/internal/core/table"
)

// Touched is what one entry changed, so that only that is projected.
type Touched struct {
	places    map[table.PlaceID]bool           // true: in a way that shows through veils
	reordered map[table.PlaceID]bool           // so that cards cannot be followed
	relaid    map[table.PlaceID]bool           // its rule of sight changed
	passed    map[table.PlaceID]bool           // cards left it, or it was reordered
	moved     map[table.CardID]bool            // true: through a place that was reordered
	insight   map[table.PlaceID]table.Audience // who saw, or sees, more of it than others
	pieces    map[table.PieceID]bool
	chairs    bool
	marker    bool
	asks      bool
	rest      bool // settings or decks
}

// touch reads the edits that led to the table as it is.
func touch(t *table.Table, edits table.Edits) Touched {
	touched := Touched{
		places: map[table.PlaceID]bool{}, reordered: map[table.PlaceID]bool{}, relaid: map[table.PlaceID]bool{},
		passed: map[table.PlaceID]bool{}, moved: map[table.CardID]bool{},
		insight: map[table.PlaceID]table.Audience{}, pieces: map[table.PieceID]bool{},
	}
	for _, e := range edits {
		switch e := e.(type) {
		case table.Order:
			p := t.Places[e.Place]
			touched.reordered[e.Place] = touched.reordered[e.Place] || p == nil || !followed(p)
			touched.passed[e.Place] = true
		case table.Splice:
			touched.passed[e.From] = true
		}
	}
	for _, e := range edits {
		switch e := e.(type) {
		case table.PutPlace:
			touched.place(e)
		case table.Mint:
			touched.places[e.Place] = true
		case table.Splice:
			touched.splice(e)
			for _, card := range e.Cards {
				if e.From != e.To {
					touched.insight[e.From] |= t.Shown[card]
				}
			}
		case table.Order:
			touched.mark(e.Place, false)
		case table.SetLie:
			if c := t.Cards[e.Card]; c != nil && e.Before != e.After {
				touched.mark(c.Place, false)
				touched.insight[c.Place] |= t.Shown[e.Card]
			}
		case table.PutLook:
			for _, look := range []*table.Look{e.Before, e.After} {
				if look != nil {
					touched.mark(look.Place, true)
					touched.insight[look.Place] |= table.Only(look.Seat)
				}
			}
		case table.Show:
			if c := t.Cards[e.Card]; c != nil {
				touched.mark(c.Place, (e.Before | e.After).Includes(0))
				touched.insight[c.Place] |= e.Before | e.After
			}
		case table.PutPiece:
			if e.After != nil {
				touched.pieces[e.After.ID] = true
			} else {
				touched.pieces[e.Before.ID] = true
			}
		case table.PutMarker:
			touched.marker = true
		case table.PutAsk:
			touched.asks = true
		case table.PutChair:
			touched.chairs = true
		case table.PutDeck, table.PutSettings:
			touched.rest = true
		}
	}
	return touched
}

func (t Touched) mark(id table.PlaceID, throughVeils bool) {
	t.places[id] = t.places[id] || throughVeils
}

func (t Touched) place(e table.PutPlace) {
	if e.Before == nil || e.After == nil {
		id := cmp.Or(e.After, e.Before).ID
		t.places[id] = true
		return
	}
	t.places[e.After.ID] = true
	if e.Before.Sight != e.After.Sight || e.Before.Owner != e.After.Owner || e.Before.Kind != e.After.Kind {
		t.relaid[e.After.ID] = true
	}
}

func (t Touched) splice(e table.Splice) {
	t.mark(e.From, e.From != e.To)
	t.mark(e.To, e.From != e.To)
	for _, card := range e.Cards {
		t.moved[card] = t.moved[card] || t.reordered[e.From] || t.reordered[e.To]
	}
}

func (t Touched) orderedPlaces() []table.PlaceID {
	return slices.Sorted(maps.Keys(t.places))
}
