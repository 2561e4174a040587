package table

import (
	"maps"
	"slices"
)

// Gather brings all cards of a deck home from everywhere, hands included, face
// down and upright.
type Gather struct {
	Deck    string  `json:"deck"`
	Where   *Filter `json:"where,omitempty" doc:"Only cards that lie where this says; it may not ask what they show."`
	Shuffle bool    `json:"shuffle,omitempty" doc:"Shuffle them at home."`
}

func (a Gather) plan(d *draft) *Refusal {
	deck := d.table.Decks[a.Deck]
	if deck == nil {
		return refuse(NoSuchDeck, "There is no deck %q on this table%s", a.Deck, meantBy(a.Deck, slices.Sorted(maps.Keys(d.table.Decks))))
	}
	if a.Where != nil && a.Where.deep(maxFilter) {
		return refuse(NotUnderstood, "This search is nested too deep.")
	}
	if a.Where != nil && a.Where.reads() {
		return refuse(NotUnderstood, "A deck is gathered by where its cards lie, not by what they show: that would search everybody's hands.")
	}
	parts, refusal := d.gather(gathering{decks: map[string]*Deck{a.Deck: deck}, where: a.Where, shuffle: a.Shuffle})
	if refusal != nil {
		return refusal
	}
	d.tell("gather", Gathered{Deck: a.Deck, To: d.spotNamed(deck.Home), Parts: parts})
	return nil
}

// gathering is what is gathered: the cards of decks, of all places or some.
type gathering struct {
	decks   map[string]*Deck
	where   *Filter
	shuffle bool
}

// homes are the places that the cards come home to.
func (d *draft) homes(g gathering) (homes map[PlaceID]*Place, refusal *Refusal) {
	homes = map[PlaceID]*Place{}
	for _, key := range slices.Sorted(maps.Keys(g.decks)) {
		home, refusal := d.place(g.decks[key].Home)
		if refusal != nil {
			return nil, refusal
		}
		homes[home.ID] = home
	}
	return homes, nil
}

// gather brings cards home and says where they came from.
func (d *draft) gather(g gathering) (parts []Part, refusal *Refusal) {
	homes, refusal := d.homes(g)
	if refusal != nil {
		return nil, refusal
	}
	found, refusal := d.found(g, homes)
	if refusal != nil {
		return nil, refusal
	}
	covered := false
	for _, f := range found {
		if covered = covered || f.covered; f.covered {
			d.unsureCount(f.place)
		}
		if len(f.cards) > 0 || f.covered && homes[f.place.ID] == nil {
			parts = append(parts, Part{d.spot(f.place), len(f.cards)})
		}
	}
	for _, f := range found {
		for _, one := range d.byDeck(f.cards) {
			home := homes[g.decks[one.deck].Home]
			if d.doubts.mixed[f.place.ID] {
				d.mixedUp(home)
			}
			d.bring(one.cards, f.place, home)
		}
	}
	for _, id := range slices.Sorted(maps.Keys(homes)) {
		if covered { // also of what has come home by now, wherever it came from
			d.unsureCount(homes[id])
		}
		if g.shuffle {
			d.shuffle(homes[id])
		}
	}
	return parts, nil
}

// find is what gathering finds in one place.
type find struct {
	place   *Place
	cards   []CardID
	covered bool // there could be others, for all that the actor knows
}

// found looks where the cards lie and refuses, before any is moved, what stands in the
// way of bringing them home.
func (d *draft) found(g gathering, homes map[PlaceID]*Place) (all []find, refusal *Refusal) {
	coming, bounded := map[PlaceID]int{}, false
	for _, home := range homes {
		bounded = bounded || home.Capacity > 0
	}
	for _, id := range d.table.PlaceIDs() {
		p := d.table.Places[id]
		if !d.gathers(g, p) {
			continue
		}
		d.looksThrough(p)
		f := find{place: p, covered: d.coversDecks(p)}
		for _, card := range p.Cards {
			deck := g.decks[d.table.Cards[card].Deck]
			if deck == nil {
				continue
			}
			f.cards = append(f.cards, card)
			if deck.Home != id {
				coming[deck.Home]++
				coming[id]--
			}
		}
		if look, looking := d.table.Looks[id]; f.covered && looking && look.Seat != d.actor {
			d.wise(p) // whether that look is in the way
		}
		if f.covered && bounded {
			d.wise(p) // how many come
		}
		if len(f.cards) > 0 && refusal == nil {
			if refusal = d.unlooked(p); refusal == nil {
				refusal = d.held(Splice{Cards: f.cards})
			}
		}
		all = append(all, f)
	}
	for _, id := range slices.Sorted(maps.Keys(homes)) {
		if refusal == nil && g.shuffle {
			refusal = d.held(Order{Place: id}) // what comes was asked for already
		}
		if refusal == nil {
			refusal = d.roomFor(homes[id], coming[id])
		}
	}
	return all, refusal
}

// deckCards are cards of one deck.
type deckCards struct {
	deck  string
	cards []CardID
}

// byDeck parts cards by their decks, each in the order they have.
func (d *draft) byDeck(cards []CardID) []deckCards {
	parted := map[string][]CardID{}
	for _, card := range cards {
		deck := d.table.Cards[card].Deck
		parted[deck] = append(parted[deck], card)
	}
	var all []deckCards
	for _, deck := range slices.Sorted(maps.Keys(parted)) {
		all = append(all, deckCards{deck, parted[deck]})
	}
	return all
}

// gathers reports whether gathering looks into a place. With a filter, what lies in
// another seat's own place stays there: that would be asking for it unasked.
func (d *draft) gathers(g gathering, p *Place) bool {
	if len(p.Cards) == 0 {
		return false
	}
	if g.where == nil {
		return true
	}
	others := p.Sight == OwnerOnly && p.Owner != d.actor && d.actor != 0
	return !others && g.where.takes(p)
}

// coversDecks reports whether there can be cards in a place of which the actor
// cannot tell of what decks they are.
func (d *draft) coversDecks(p *Place) bool {
	if d.doubts.counts[p.ID] || d.stirred[p.ID] {
		return true
	}
	if !p.Kind.Stacked() || p.Sight == None {
		return false
	}
	for i := range p.Cards {
		if !d.inViewAtFirst(p, i) {
			return true
		}
	}
	return false
}

// bring lays cards of a place at home, face down and upright.
func (d *draft) bring(cards []CardID, p, home *Place) {
	if len(cards) > 0 && p != home {
		d.transfer(cards, home, nil, false) // which cards these are does not depend on where they lay
	}
	for _, card := range cards {
		c := d.table.Cards[card]
		if before, after := (Lie{c.Side, c.Turn}), (Lie{Back, 0}); before != after {
			d.do(SetLie{Card: card, Before: before, After: after})
		}
	}
}
