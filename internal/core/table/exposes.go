package table

import "slices"

// Exposes reports whether an action would show, give away, move, turn or order cards that only
// its actor sees, or read them: somebody else may have written it, as the steps of a cue, and
// what is done next may tell what they were. Gathering a whole deck and bringing everything
// home take from everybody, as everybody knows.
func Exposes(a Action, t *Table, actor Seat) bool {
	if actor == 0 {
		return false
	}
	switch a := a.(type) {
	case Agree, Swap, Reorder:
		return true
	case Gather:
		return a.Where != nil && t.gathersOwn(a, actor)
	case ShuffleIn:
		return t.onlySeen(actor, a.From) || t.onlySeen(actor, a.Into)
	case Exchange:
		return t.picksOwn(a.Pick, actor) || t.onlySeen(actor, a.Draw)
	case interface{ Picks() Pick }:
		return t.picksOwn(a.Picks(), actor)
	}
	return t.onlySeen(actor, rearranged(a))
}

// rearranged is the place that an action takes from, or orders, without picking.
func rearranged(a Action) PlaceID {
	switch a := a.(type) {
	case Shuffle:
		return a.Place
	case Cut:
		return a.Place
	case Sort:
		return a.Place
	case Separate:
		return a.Place
	case Collect:
		return a.From
	case Draw:
		return a.From
	case Deal:
		return a.From
	case TopUp:
		return a.From
	case LayZone:
		return a.Zone
	case TakeOff:
		return a.Zone
	}
	return ""
}

// picksOwn reports whether cards that only a seat sees are picked, or may be.
func (t *Table) picksOwn(k Pick, seat Seat) bool { return len(k.Cards) > 0 || t.onlySeen(seat, k.From) }

// onlySeen reports whether a seat alone sees into a place, or sees the front of a card there that
// not everybody sees.
func (t *Table) onlySeen(seat Seat, id PlaceID) bool {
	of, _ := id.Parts()
	for _, p := range []*Place{t.Places[id], t.Places[of]} {
		if p != nil && p.Sight == OwnerOnly && p.Owner == seat {
			return true
		}
	}
	for _, p := range t.Places {
		if p.ID == id || p.Of != "" && p.Of == id {
			for i := t.InView(p); i < len(p.Cards); i++ {
				if t.FrontSeen(seat, p, i) && !t.FrontSeen(0, p, i) {
					return true
				}
			}
		}
	}
	return false
}

// gathersOwn reports whether gathering with a filter would reach into what only a seat sees.
func (t *Table) gathersOwn(a Gather, seat Seat) bool {
	return slices.ContainsFunc(t.PlaceIDs(), func(id PlaceID) bool { return t.onlySeen(seat, id) && a.Where.takes(t.Places[id]) })
}
