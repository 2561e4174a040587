package table

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
	seen := d.witness(nil, picked)
	from := d.spotOf(picked)
	turned := false
	for _, id := range picked {
		c := d.table.Cards[id]
		before, after := Lie{c.Side, c.Turn}, Lie{c.Side.Other(), c.Turn}
		if a.Side != "" {
			after.Side = a.Side
		}
		if after != before {
			d.do(SetLie{Card: id, Before: before, After: after})
			turned = true
		}
	}
	if p := d.table.Places[a.From]; turned && p != nil && a.Which == Every && p.Kind.Stacked() {
		d.do(Order{Place: p.ID, Former: reversed(len(p.Cards))})
	}
	if p := d.table.Places[d.table.Cards[picked[0]].Place]; p.Sight == OwnerOnly {
		return nil // others learn nothing of what happens inside a seat's own place
	}
	d.tell(Deed{
		Do: "flip", Count: len(picked), Which: a.which(), From: from, Side: a.Side,
		Cards: d.witness(seen, picked),
	})
	return nil
}

// reversed is the order that turns a pile upside down.
func reversed(n int) []uint32 {
	former := make([]uint32, n)
	for i := range former {
		former[i] = uint32(n - 1 - i)
	}
	return former
}

func (a Flip) rename(name func(CardID) CardID) Action {
	a.Pick = a.renamed(name)
	return a
}
