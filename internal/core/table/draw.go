package table

// Draw takes cards from the top of a place one by one, into the actor's hand
// or another place.
type Draw struct {
	From  PlaceID `json:"from" doc:"The place to draw from."`
	Count int     `json:"count,omitempty" minimum:"0" doc:"How many; 1 if left out."`
	UpTo  bool    `json:"up_to,omitempty" doc:"Take as many as there are, if they are fewer."`
	To    PlaceID `json:"to,omitempty" doc:"Where they go; your hand if left out."`
}

func (a Draw) plan(d *draft) *Refusal {
	to, refusal := d.handOr(a.To)
	if refusal != nil {
		return refusal
	}
	picked, refusal := Pick{From: a.From, Count: a.Count, UpTo: a.UpTo}.cards(d)
	if refusal != nil {
		return refusal
	}
	if refusal := d.room(to, picked); refusal != nil {
		return refusal
	}
	from := d.spot(d.table.Places[a.From])
	seen := d.oneByOne(picked, to)
	d.tell("draw", Moved{Chosen: Chosen{Count: len(picked), From: from, Cards: seen}, To: d.spot(to)})
	return nil
}

// oneByOne carries cards from the last to the first, as hands take them from a
// pile, and notes who saw them.
func (d *draft) oneByOne(cards []CardID, to *Place) []Witness {
	var seen []Witness
	for i := len(cards) - 1; i >= 0; i-- {
		one := cards[i : i+1]
		before := d.witness(nil, one)
		d.carry(one, to, nil, false)
		seen = append(seen, d.witness(before, one)...)
	}
	return seen
}

// handOr finds a place, or the actor's hand if none is named.
func (d *draft) handOr(id PlaceID) (*Place, *Refusal) {
	if id != "" {
		return d.target(Target{Place: id}, nil)
	}
	if hand := d.table.HandOf(d.actor); hand != nil {
		return hand, nil
	}
	return nil, refuse(NoSuchPlace, "You have no hand on this table; say where the cards go.")
}
