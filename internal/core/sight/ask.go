package sight

import (
	"damselfly.example/damselfly/internal/core/table"
)

// Questions are answered from a view, so that an answer can say no more than
// the asker sees.

// Found is where cards of a deck lie, as far as a viewer may see.
type Found struct {
	Place  table.PlaceID `json:"place"`
	Name   string        `json:"name"`
	Count  int           `json:"count" doc:"How many cards of the deck lie there in view or under veils; of a pile one sees no more than the top."`
	Cards  []string      `json:"cards,omitempty" doc:"The names of those whose fronts you see."`
	Hidden bool          `json:"hidden,omitempty" doc:"Whether more of them may lie there unseen."`
}

// Place finds a place of a view, nil if it is not there.
func (v View) Place(id table.PlaceID) *Place {
	for i := range v.Places {
		if v.Places[i].ID == id {
			return &v.Places[i]
		}
	}
	return nil
}

// Where lists where the cards of a deck are, as far as the view tells.
func (v View) Where(deck string) []Found {
	all := []Found{}
	for _, p := range v.Places {
		f := Found{Place: p.ID, Name: p.Name, Hidden: p.Kind.Stacked() && p.Count > len(p.Cards)}
		for _, c := range p.Cards {
			if face := v.Faces[c.Face]; face.Deck == deck {
				f.Count++
				if face.Name != "" {
					f.Cards = append(f.Cards, face.Name)
				}
			}
		}
		for _, veil := range p.Veils {
			if v.Faces[veil.Face].Deck == deck {
				f.Count += veil.Count
			}
		}
		if f.Count > 0 || f.Hidden {
			all = append(all, f)
		}
	}
	return all
}

// Taken lists the cells of a grid within n steps of a cell, or all for n = 0,
// on which cards lie. ok is false where there is no such cell.
func (v View) Taken(cell table.PlaceID, n int) (taken []Place, ok bool) {
	of, name := cell.Parts()
	p := v.Place(of)
	if p == nil || p.Grid == nil {
		return nil, false
	}
	taken = []Place{}
	at, isCell := p.Grid.Parse(name)
	if !isCell && name != "" {
		return nil, false
	}
	for _, other := range v.Places {
		if other.Of != p.ID {
			continue
		}
		_, address := other.ID.Parts()
		if c, known := p.Grid.Parse(address); known && (!isCell || c != at && (n == 0 || p.Grid.Distance(at, c) <= n)) {
			taken = append(taken, other)
		}
	}
	return taken, true
}
