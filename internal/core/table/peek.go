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
	if d.count(p) == 0 {
		return Pick{}.tooFew(p, 0, max(a.Count, 1))
	}
	count := a.Count
	if count <= 0 {
		count = len(p.Cards)
	}
	if count > len(p.Cards) {
		return Pick{}.tooFew(p, len(p.Cards), count)
	}
	top := slices.Clone(p.Cards[len(p.Cards)-count:])
	look := Look{Place: p.ID, Seat: d.actor, Count: count, Cards: top}
	var before *Look
	if old, looking := d.table.Looks[p.ID]; looking {
		before = &old
	}
	d.do(PutLook{Before: before, After: &look})
	named := slices.Clone(top)
	slices.Reverse(named) // from the top down
	d.tell("peek", Looked{Chosen: Chosen{Count: count, From: d.spot(p), Cards: d.witness(nil, named)}})
	return nil
}

// Reorder puts the cards one looks at into another order: some on top, in the
// order given, some underneath.
type Reorder struct {
	Place PlaceID  `json:"place"`
	Top   []Handle `json:"top,omitempty" doc:"Handles of the cards that go on top, the topmost last; those not named stay there too, below them."`
	Under []Handle `json:"under,omitempty" doc:"Handles of the cards that go underneath, the lowest first."`
}

func (a Reorder) plan(d *draft) *Refusal {
	look, refusal := d.myLook(a.Place)
	if refusal != nil {
		return refusal
	}
	p := d.table.Places[a.Place]
	left := map[CardID]uint32{}
	for i, card := range p.Cards {
		if slices.Contains(look.Cards, card) {
			left[card] = uint32(i)
		}
	}
	take := func(handles []Handle) (former []uint32, ok bool) {
		for _, h := range handles {
			card := d.card(h)
			i, known := left[card]
			if !known {
				return nil, false
			}
			delete(left, card)
			former = append(former, i)
		}
		return former, true
	}
	under, ok := take(a.Under)
	top, okTop := take(a.Top)
	if !ok || !okTop {
		return refuse(NoSuchCard, "A card you named is not among those you look at, or was named twice.")
	}
	former := slices.Clone(under)
	for i := range p.Cards {
		if at := uint32(i); !slices.Contains(under, at) && !slices.Contains(top, at) {
			former = append(former, at)
		}
	}
	gone := make([]CardID, len(under))
	for i, at := range under {
		gone[i] = p.Cards[at]
	}
	former = append(former, top...)
	d.do(Order{Place: p.ID, Former: former})
	d.lookShrinks(p, gone)
	if p.silent() {
		return nil
	}
	d.tell("reorder", Looked{Chosen: Chosen{Count: len(under), From: d.spot(p)}})
	return nil
}

// myLook is the actor's look into a place, or a refusal.
func (d *draft) myLook(id PlaceID) (Look, *Refusal) {
	if d.doubts.looks[id] {
		d.wise(d.table.Places[id]) // whether it is still at a card
	}
	look, looking := d.table.Looks[id]
	if !looking || look.Seat != d.actor {
		return look, refuse(NoSuchPlace, "You are not looking into %q; peek first.", id)
	}
	return look, nil
}

func (a Reorder) handles() []Handle { return slices.Concat(a.Top, a.Under) }

// Close ends the actor's look into a place.
type Close struct {
	Place PlaceID `json:"place"`
}

func (a Close) plan(d *draft) *Refusal {
	look, refusal := d.myLook(a.Place)
	if refusal != nil {
		return refusal
	}
	d.do(PutLook{Before: &look})
	d.tell("close", Looked{Chosen: Chosen{From: d.spotNamed(a.Place)}})
	return nil
}

// lookShrinks takes cards out of a look that it is at no more: they leave its place,
// or went underneath.
func (d *draft) lookShrinks(p *Place, gone []CardID) {
	look, looking := d.table.Looks[p.ID]
	if !looking {
		return
	}
	after := look
	after.Cards = slices.DeleteFunc(slices.Clone(look.Cards), func(card CardID) bool { return slices.Contains(gone, card) })
	after.Count = len(after.Cards)
	switch after.Count {
	case look.Count:
	case 0:
		d.do(PutLook{Before: &look})
	default:
		d.do(PutLook{Before: &look, After: &after})
	}
}
