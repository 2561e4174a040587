package table

// Shuffle puts the cards of a place into an order chosen by chance.
type Shuffle struct {
	Place PlaceID `json:"place" doc:"The place to shuffle."`
}

func (a Shuffle) plan(d *draft) *Refusal {
	p, refusal := d.place(a.Place)
	if refusal == nil {
		refusal = d.own(p)
	}
	if refusal != nil {
		return refusal
	}
	d.do(Order{Place: p.ID, Former: d.chance.Shuffle(len(p.Cards))})
	if p.Sight != OwnerOnly { // others learn nothing of what happens inside a seat's own place
		d.tell(Deed{Do: "shuffle", From: d.spot(p)})
	}
	return nil
}
