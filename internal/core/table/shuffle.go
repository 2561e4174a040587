package table

// Shuffle puts the cards of a place into an order chosen by chance.
type Shuffle struct {
	Place PlaceID `json:"place" doc:"The place to shuffle."`
}

// shuffle gives a place an order of chance.
func (d *draft) shuffle(p *Place) {
	d.grips(Order{Place: p.ID})
	d.do(Order{Place: p.ID, Former: d.chance(p).Shuffle(len(p.Cards))})
	d.mixedUp(p)
}

func (a Shuffle) plan(d *draft) *Refusal {
	p, refusal := d.place(a.Place)
	if refusal == nil {
		refusal = d.own(p)
	}
	if refusal != nil {
		return refusal
	}
	d.shuffle(p)
	if !p.silent() {
		d.tell("shuffle", Ordered{From: d.spot(p)})
	}
	return nil
}
