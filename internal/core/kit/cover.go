package kit

import "damselfly.example/damselfly/internal/core/table"

// Cover is what a shelf shows of an edition, and no more than that.
type Cover struct {
	About   string          `json:"about,omitempty"`
	Seats   int             `json:"seats"`
	Cards   int             `json:"cards"`
	Picture table.Picture   `json:"picture,omitzero"`
	Fan     []table.Picture `json:"fan,omitempty"` // some of its cards, if it has no picture
}

// fanOf is how many cards are in a fan.
const fanOf = 5

// Cover is what a shelf shows of the edition. A fan takes a card of each deck in turn.
func (m Edition) Cover() Cover {
	c := Cover{About: m.About, Seats: m.Seats, Picture: m.Picture}
	for _, d := range m.Decks {
		c.Cards += d.Cards()
	}
	if c.Picture != (table.Picture{}) {
		return c
	}
	for i, more := 0, true; more && len(c.Fan) < fanOf; i++ {
		more = false
		for _, d := range m.Decks {
			if i < len(d.Copies) && len(c.Fan) < fanOf {
				c.Fan, more = append(c.Fan, d.Designs[d.Copies[i].Design].Front), true
			}
		}
	}
	return c
}
