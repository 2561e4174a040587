package table

import (
	"math"
	"slices"
)

// BringDeck brings a deck onto a table in use, as a pile of its own. It is the service's own:
// the room's maker asks the service for a deck of another kit of theirs.
type BringDeck struct {
	Deck  *Deck
	Cards []Minted // in their order; their ids are given here
}

func (a BringDeck) plan(d *draft) *Refusal {
	if d.table.Decks[a.Deck.Key] != nil {
		return refuse(OutOfBounds, "This table has a deck %s already.", a.Deck.Key)
	}
	if refusal := d.zonesLeft(); refusal != nil {
		return refusal
	}
	id := PlaceID(a.Deck.Key)
	if d.table.Places[id] != nil || d.table.Pieces[PieceID(id)] != nil {
		id = PlaceID(d.freeID(a.Deck.Key + "-"))
	}
	name := a.Deck.Key
	if slices.ContainsFunc(d.table.PlaceIDs(), func(other PlaceID) bool { return d.table.Places[other].Name == name }) {
		name = d.freeZoneName(name)
	}
	home := Place{ID: id, Name: name, Kind: Pile, Sight: Open, Wide: a.Deck.Wide, High: a.Deck.High}
	home.X, home.Y = d.freeSpot(home.Wide, home.High)
	deck := *a.Deck
	deck.Home = id
	d.do(PutPlace{After: &home})
	d.do(PutDeck{After: &deck})
	cards := slices.Clone(a.Cards)
	d.number(cards)
	d.do(Mint{Place: id, Cards: cards})
	d.tell("bring-deck", Worded{Text: deck.Key})
	return nil
}

// freeSpot is where a zone of a size lies on no other, or else the middle of the table.
func (d *draft) freeSpot(wide, high float64) (x, y float64) {
	const step, between = 10, 14 // millimetres
	settings := d.table.Settings
	for y := high/2 + 2*between; y <= settings.High-high/2; y += step {
		for x := wide/2 + between; x <= settings.Wide-wide/2; x += step {
			taken := false
			for _, p := range d.table.Places {
				taken = taken || math.Abs(x-p.X) < (wide+p.Wide)/2+between && math.Abs(y-p.Y) < (high+p.High)/2+2*between
			}
			if !taken {
				return x, y
			}
		}
	}
	return settings.Wide / 2, settings.High / 2
}
