package table

// Swap has two cards change places: each comes to lie where the other lay, as that
// place wants its cards.
type Swap struct {
	Cards []Handle `json:"cards" minItems:"2" maxItems:"2" doc:"Handles of the two cards."`
}

func (a Swap) plan(d *draft) *Refusal {
	if len(a.Cards) != 2 {
		return refuse(NotUnderstood, "Two cards change places, not %d.", len(a.Cards)).with("cards", len(a.Cards))
	}
	picked, refusal := Pick{Cards: a.Cards}.cards(d)
	if refusal != nil {
		return refusal
	}
	one, other := picked[0], picked[1]
	from, _ := d.table.At(one)
	to, _ := d.table.At(other)
	told := Moved{Chosen: Chosen{From: d.spot(from)}, To: d.spot(to)}
	seen := d.witness(nil, picked)
	if from == to {
		d.swapWithin(from, one, other)
	} else {
		_, i := d.table.At(one)
		_, j := d.table.At(other)
		d.lookShrinks(from, []CardID{one})
		d.lookShrinks(to, []CardID{other})
		d.do(Splice{From: from.ID, At: i, To: to.ID, In: j + 1, Cards: []CardID{one}})
		d.do(Splice{From: to.ID, At: j, To: from.ID, In: i, Cards: []CardID{other}})
		d.arrive([]CardID{one}, to)
		d.arrive([]CardID{other}, from)
	}
	if from == to && from.silent() {
		return nil
	}
	told.Cards = d.witness(seen, picked)
	d.tell("swap", told)
	return nil
}

// swapWithin has two cards of one place change places.
func (d *draft) swapWithin(p *Place, one, other CardID) {
	_, i := d.table.At(one)
	_, j := d.table.At(other)
	if i > j {
		one, other, i, j = other, one, j, i
	}
	d.do(Splice{From: p.ID, At: j, To: p.ID, In: i, Cards: []CardID{other}})
	d.do(Splice{From: p.ID, At: i + 1, To: p.ID, In: j, Cards: []CardID{one}})
}

func (a Swap) handles() []Handle { return a.Cards }
