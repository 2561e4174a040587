package sight

import (
	"cmp"
	"maps"
	"slices"

	"damselfly.example/damselfly/internal/core/table"
)

// Fold takes changes into a view: what a client does with each message it is told. The view
// is then the one that it would be shown anew.
func (v *View) Fold(c Changes) {
	if v.Faces == nil {
		v.Faces = Faces{}
	}
	maps.Copy(v.Faces, c.Faces)
	v.Places = slices.DeleteFunc(v.Places, func(p Place) bool { return slices.Contains(c.Gone, p.ID) })
	for _, change := range c.Places {
		at, known := slices.BinarySearchFunc(v.Places, change.ID, func(p Place, id table.PlaceID) int { return cmp.Compare(p.ID, id) })
		if !known {
			v.Places = slices.Insert(v.Places, at, Place{ID: change.ID})
		}
		v.Places[at].fold(change)
	}
	v.Pieces = slices.DeleteFunc(v.Pieces, func(p table.Piece) bool { return slices.Contains(c.Off, p.ID) })
	for _, piece := range c.Pieces {
		at, known := slices.BinarySearchFunc(v.Pieces, piece.ID, func(p table.Piece, id table.PieceID) int { return cmp.Compare(p.ID, id) })
		if !known {
			v.Pieces = slices.Insert(v.Pieces, at, table.Piece{})
		}
		v.Pieces[at] = piece
	}
	if c.Marker != nil {
		v.Marker = *c.Marker
	}
	if c.Asks != nil {
		v.Asks = *c.Asks
	}
	if c.Seats != nil {
		v.Seats = c.Seats
	}
	if c.Decks != nil {
		v.Decks = c.Decks
	}
	if c.Settings != nil {
		v.Settings = *c.Settings
	}
}

func (p *Place) fold(c PlaceChange) {
	if c.Laid != nil {
		p.Laid = *c.Laid
	}
	p.Holds = c.Holds
	if c.Anew {
		p.Cards = nil
	}
	p.Cards = slices.DeleteFunc(slices.Clone(p.Cards), func(card Card) bool {
		return slices.Contains(c.Went, card.Handle) || slices.ContainsFunc(c.Cards, func(now CardLies) bool { return now.Handle == card.Handle })
	})
	for _, now := range c.Cards {
		p.Cards = slices.Insert(p.Cards, min(now.At, len(p.Cards)), now.Card)
	}
	if len(p.Cards) == 0 {
		p.Cards = nil
	}
}
