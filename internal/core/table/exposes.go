package table

// Exposes reports whether an action would show, give away or move cards that only
// its actor sees: somebody else may have written it, as the steps of a cue.
func Exposes(a Action, t *Table, actor Seat) bool {
	mine := func(id PlaceID) bool {
		p := t.Places[id]
		return p != nil && p.Sight == OwnerOnly && p.Owner == actor && actor != 0
	}
	own := func(k Pick) bool { return mine(k.From) || len(k.Cards) > 0 }
	switch a := a.(type) {
	case Move:
		return own(a.Pick) && !mine(a.To.Place)
	case Spread:
		return own(a.Pick)
	case ShowCards:
		return own(a.Pick)
	case Exchange:
		return own(a.Pick)
	case Collect:
		return mine(a.From)
	case Draw:
		return mine(a.From)
	case Deal:
		return mine(a.From)
	case TopUp:
		return mine(a.From)
	case ShuffleIn:
		return mine(a.From) && a.Into != a.From
	case Separate:
		return mine(a.Place)
	case Gather:
		return a.Where != nil && gathersOwn(t, a, actor)
	case Agree:
		return true
	case Swap:
		return true
	case LayZone:
		return mine(a.Zone) && (a.Sight != nil || a.Owner != nil || a.Kind != "")
	case TakeOff:
		return mine(a.Zone)
	}
	return false
}

// gathersOwn reports whether gathering with a filter would reach into what only the
// actor sees. Gathering a whole deck takes from everybody, as everybody knows.
func gathersOwn(t *Table, a Gather, actor Seat) bool {
	for _, p := range t.Places {
		if p.Sight == OwnerOnly && p.Owner == actor && a.Where.takes(p) {
			return true
		}
	}
	return false
}
