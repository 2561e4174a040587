package table

import "slices"

// doubts are what the actor could not foretell while a sequence is done: what may be
// otherwise if hidden cards were others, or chance had given something else. Only what
// can decide a refusal is noted. They may claim too much, never too little: a refusal
// that is called blind tells nothing.
type doubts struct {
	// wiser: that we came here at all depends on what the actor did not know.
	wiser bool

	counts map[PlaceID]bool // how many cards lie there
	cards  map[CardID]bool  // where a card lies that the actor had in view
	mixed  map[PlaceID]bool // which card lies where in it
	looks  map[PlaceID]bool // which cards a look is still at
	first  bool             // which seat is the first
	number *Place           // how many cards the last pick from there gave
}

// searched is a place whose hidden cards, or chance among whose cards, decided
// something in the line that is being planned.
type searched struct {
	spot  *Spot
	among int
}

func note[K comparable](set *map[K]bool, key K) {
	if *set == nil {
		*set = map[K]bool{}
	}
	(*set)[key] = true
}

// wise notes that what is refused from here on is not blind, because of what lies
// in a place.
func (d *draft) wise(p *Place) {
	d.doubts.wiser = true
	if p == nil || slices.ContainsFunc(d.searched, func(s searched) bool { return s.spot.Place == p.ID }) {
		return
	}
	d.searched = append(d.searched, searched{d.spot(p), len(p.Cards)})
}

// count reads how many cards lie in a place, where that decides something.
func (d *draft) count(p *Place) int {
	if d.doubts.counts[p.ID] {
		d.wise(p)
	}
	return len(p.Cards)
}

// slot is what the actor can tell of a hidden card, before a filter: where it lies, as
// far as the filter tells places apart, and of what deck it is, if its back shows.
type slot struct {
	whereabouts string
	deck        string
}

// maxSlots bounds how many kinds of hidden cards one search tells apart. Beyond it any
// of them may decide.
const maxSlots = 16

// searches notes whether it depends on hidden cards that a filter finds enough. Each
// hidden card might be any other of this table, of the same deck where its back shows; and
// is asked for where it lies. It does not depend on them where no such card fits, or all do,
// or so many that there must be enough among those that were searched.
func (d *draft) searches(k Pick, judge *judge, within []*Place, found int) {
	hidden, examples, known := map[slot]int{}, map[slot]*Place{}, found
	for _, p := range within {
		whereabouts := k.Where.whereabouts(p)
		for i, card := range p.Cards {
			if d.knows(p, i) {
				continue
			}
			s := slot{whereabouts: whereabouts}
			if d.knowsDeck(p, i) {
				s.deck = d.table.Cards[card].Deck
			}
			hidden[s]++
			examples[s] = p
			if judge.fits(card, p, whereabouts) {
				known--
			}
		}
	}
	if len(hidden) == 0 {
		return
	}
	enough := max(k.Count, 1)
	if k.Which == Every || k.UpTo {
		enough = 1
	}
	least, most := known, known
	if len(hidden) > maxSlots {
		least, most = 0, enough
	} else {
		unknown := d.unknown()
		for s, n := range hidden {
			all, fitting := 0, 0
			for design, some := range unknown {
				if s.deck != "" && s.deck != design.deck {
					continue
				}
				all += some.count
				if judge.fits(some.example, examples[s], s.whereabouts) {
					fitting += some.count
				}
			}
			least += max(0, n-(all-fitting))
			most += min(n, fitting)
		}
	}
	if least < enough && least != most { // refused in one case and not in another, or with another number
		for _, p := range within {
			if !d.knowsAll(p) {
				d.wise(p)
			}
		}
	}
}

// designKey names a design of a deck.
type designKey struct{ deck, design string }

// copiesOf are the cards of one design: how many, and one of them.
type copiesOf struct {
	count   int
	example CardID
}

// unknown are the cards of the table whose fronts the actor does not know, by their designs.
func (d *draft) unknown() map[designKey]copiesOf {
	all := map[designKey]copiesOf{}
	for _, p := range d.table.Places {
		for i, card := range p.Cards {
			if !d.knows(p, i) {
				key := designKey{d.table.Cards[card].Deck, d.table.Cards[card].Design}
				all[key] = copiesOf{all[key].count + 1, card}
			}
		}
	}
	return all
}

// values are the different values of a field among cards that may lie in a place,
// as far as the actor can tell.
func (d *draft) values(in *Place, field string) int {
	values := map[string]bool{}
	for _, p := range d.table.Places {
		for i, card := range p.Cards {
			if p == in || !d.knows(p, i) {
				values[d.table.Field(card, field)] = true
			}
		}
	}
	return len(values)
}

// knowsAll reports whether the actor knows the front of every card of a place.
func (d *draft) knowsAll(p *Place) bool {
	for i := range p.Cards {
		if !d.knows(p, i) {
			return false
		}
	}
	return true
}

// unsure notes that it depends on chance, or on hidden cards, which of the cards of
// a place an edit is about.
func (d *draft) unsure(p *Place) {
	for _, card := range p.Cards {
		if seat := d.circumstances.Held[card]; seat != 0 && seat != d.actor {
			d.wise(p) // whether the held card is among them decides
		}
	}
	d.anyOf(p)
}

// anyOf notes that any of the cards of a place may be elsewhere by now, or otherwise.
func (d *draft) anyOf(p *Place) {
	d.looksThrough(p)
	for _, card := range p.Cards {
		note(&d.doubts.cards, card)
	}
	note(&d.doubts.mixed, p.ID)
	if look, looking := d.table.Looks[p.ID]; looking && look.Seat == d.actor {
		note(&d.doubts.looks, p.ID)
	}
}

// mixedUp notes that chance, or what is hidden, orders a place.
func (d *draft) mixedUp(p *Place) { note(&d.doubts.mixed, p.ID) }

// carried notes what becomes of doubts when cards go to a place.
func (d *draft) carried(cards []CardID, to *Place) {
	if len(d.doubts.mixed) == 0 && len(d.doubts.counts) == 0 {
		return
	}
	coming := map[PlaceID]int{}
	for _, card := range cards {
		coming[d.table.Cards[card].Place]++
	}
	for id, n := range coming {
		if d.doubts.counts[id] {
			d.unsureCount(to)
		}
		if !d.doubts.mixed[id] {
			continue
		}
		if from := d.table.Places[id]; n < len(from.Cards) {
			d.unsure(from)
		}
		d.mixedUp(to)
	}
}

// numbered reads how many cards were picked, where that decides something.
func (d *draft) numbered() {
	if d.doubts.number != nil {
		d.wise(d.doubts.number)
	}
}

// unsureCount notes that how many cards lie in a place depends on what is hidden;
// what is on top of it does then, too.
func (d *draft) unsureCount(p *Place) {
	note(&d.doubts.counts, p.ID)
	d.anyOf(p)
}
