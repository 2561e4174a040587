package table

import "slices"

// Peek lets the actor look at the top cards of a place it may not see into.
// All are told that it looks and at how many. Until it is closed nobody else
// can change the place.
type Peek struct {
	Place PlaceID `json:"place"`
	Count int     `json:"count,omitempty" minimum:"0" doc:"How many from the top; all if left out."`
}

func (a Peek) plan(d *draft) *Refusal {
	if d.actor == 0 {
		return refuse(NeedsSeat, "Looking needs a seat.")
	}
	p, refusal := d.mine(a.Place)
	if refusal != nil {
		return refusal
	}
	count := a.Count
	if count <= 0 {
		count = max(len(p.Cards), 1)
	}
	if count > len(p.Cards) {
		return Pick{}.tooFew(p, len(p.Cards), count)
	}
	look := Look{Place: p.ID, Seat: d.actor, Count: count}
	var before *Look
	if old, looking := d.table.Looks[p.ID]; looking {
		before = &old
	}
	d.do(PutLook{Before: before, After: &look})
	top := slices.Clone(p.Cards[len(p.Cards)-count:])
	slices.Reverse(top) // named from the top down
	d.tell(Deed{Do: "peek", Count: count, From: d.spot(p), Cards: d.witness(nil, top)})
	return nil
}

// Arrange puts the cards one looks at into another order: some on top, in the
// order given, some underneath.
type Arrange struct {
	Place PlaceID  `json:"place"`
	Top   []CardID `json:"top,omitempty" doc:"Handles of the cards that go on top, the topmost last; those not named stay there too, below them."`
	Under []CardID `json:"under,omitempty" doc:"Handles of the cards that go underneath, the lowest first."`
}

func (a Arrange) plan(d *draft) *Refusal {
	p := d.table.Places[a.Place]
	look, looking := d.table.Looks[a.Place]
	if p == nil || !looking || look.Seat != d.actor {
		return refuse(NoSuchPlace, "You are not looking into %q; peek first.", a.Place)
	}
	index := map[CardID]uint32{}
	for i := len(p.Cards) - look.Count; i < len(p.Cards); i++ {
		index[p.Cards[i]] = uint32(i)
	}
	take := func(cards []CardID) (former []uint32, ok bool) {
		for _, card := range cards {
			i, known := index[card]
			if !known {
				return nil, false
			}
			delete(index, card)
			former = append(former, i)
		}
		return former, true
	}
	under, ok := take(a.Under)
	top, okTop := take(a.Top)
	if !ok || !okTop {
		return refuse(NoSuchCard, "A card you named is not among those you look at, or was named twice.")
	}
	former := make([]uint32, 0, len(p.Cards))
	former = append(former, under...)
	for i := range len(p.Cards) - look.Count {
		former = append(former, uint32(i))
	}
	for i := len(p.Cards) - look.Count; i < len(p.Cards); i++ {
		if _, left := index[p.Cards[i]]; left {
			former = append(former, uint32(i))
		}
	}
	former = append(former, top...)
	d.do(Order{Place: p.ID, Former: former})
	after := look
	if after.Count -= len(under); after.Count > 0 {
		d.do(PutLook{Before: &look, After: &after})
	} else {
		d.do(PutLook{Before: &look})
	}
	d.tell(Deed{Do: "arrange", Count: len(under), From: d.spot(p)})
	return nil
}

func (a Arrange) rename(name func(CardID) CardID) Action {
	a.Top, a.Under = Pick{Cards: a.Top}.renamed(name).Cards, Pick{Cards: a.Under}.renamed(name).Cards
	return a
}

// Close ends the actor's look into a place.
type Close struct {
	Place PlaceID `json:"place"`
}

func (a Close) plan(d *draft) *Refusal {
	look, looking := d.table.Looks[a.Place]
	if !looking || look.Seat != d.actor {
		return refuse(NoSuchPlace, "You are not looking into %q.", a.Place)
	}
	d.do(PutLook{Before: &look})
	d.tell(Deed{Do: "close", From: d.spotNamed(a.Place)})
	return nil
}

// lookShrinks keeps a look at the cards it was opened on, when a run of cards
// is taken out of its place.
func (d *draft) lookShrinks(p *Place, at, run int) {
	look, looking := d.table.Looks[p.ID]
	if !looking {
		return
	}
	first := len(p.Cards) - look.Count
	after := look
	after.Count -= max(at+run-max(at, first), 0)
	switch {
	case after.Count == look.Count:
	case after.Count == 0:
		d.do(PutLook{Before: &look})
	default:
		d.do(PutLook{Before: &look, After: &after})
	}
}
