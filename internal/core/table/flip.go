package table

import "slices"

// Flip turns cards over, or to a given side. A whole pile turns over as one:
// what was at the bottom is on top.
type Flip struct {
	Pick
	Side Side `json:"side,omitempty" enum:"front,back" doc:"The side that shall be up; the other one if left out."`
}

func (a Flip) plan(d *draft) *Refusal {
	picked, refusal := a.cards(d)
	if refusal != nil {
		return refusal
	}
	d.grips(Splice{Cards: picked}) // whether or not each is turned
	open := d.notSilent(picked)
	seen := d.witness(nil, open)
	from := d.spotOf(picked)
	turned := d.turn(picked, a.Side)
	if p := d.table.Places[a.From]; turned && p != nil && a.Which == Every && p.Kind.Stacked() {
		d.do(Order{Place: p.ID, Former: reversed(len(p.Cards))})
	}
	if len(open) == 0 {
		return nil
	}
	d.tell("flip", Turned{Chosen: Chosen{Count: len(open), Which: a.which(), From: from, Cards: d.witness(seen, open)}, Side: a.Side})
	return nil
}

// turn turns cards to a side, or each over if none is given, and reports whether
// that changed one.
func (d *draft) turn(cards []CardID, to Side) (turned bool) {
	for _, id := range cards {
		c := d.table.Cards[id]
		before, after := Lie{c.Side, c.Turn}, Lie{c.Side.Other(), c.Turn}
		if to != "" {
			after.Side = to
		}
		if after != before {
			d.do(SetLie{Card: id, Before: before, After: after})
			turned = true
		}
	}
	return turned
}

// notSilent are those of some cards of which others learn what is done with them.
func (d *draft) notSilent(cards []CardID) []CardID {
	return slices.DeleteFunc(slices.Clone(cards), func(card CardID) bool {
		return d.table.Places[d.table.Cards[card].Place].silent()
	})
}

// reversed is the order that turns a pile upside down.
func reversed(n int) []uint32 {
	former := make([]uint32, n)
	for i := range former {
		former[i] = uint32(n - 1 - i)
	}
	return former
}
