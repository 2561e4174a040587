package table

import (
	"maps"
	"slices"
)

// Cut puts the upper part of a pile underneath the lower one.
type Cut struct {
	Place PlaceID `json:"place"`
	At    int     `json:"at,omitempty" minimum:"0" doc:"How many cards the upper part has; chance decides if left out."`
}

func (a Cut) plan(d *draft) *Refusal {
	p, refusal := d.mine(a.Place)
	if refusal != nil {
		return refusal
	}
	n := d.count(p)
	if n < 2 {
		return refuse(TooFew, "%s has %s; cutting takes 2.", p.Name, counted(n, "card")).with("has", n).with("asked", 2)
	}
	at := max(a.At, 0)
	if at >= n {
		return refuse(TooFew, "%s has %s, so it cannot be cut at %d.", p.Name, counted(n, "card"), at).with("has", n).with("asked", at)
	}
	if at == 0 {
		d.grips(Order{Place: p.ID})
		at = 1 + int(d.chance(p).Below(uint64(n-1)))
		d.mixedUp(p)
	}
	former := make([]uint32, n)
	for i := range former {
		former[i] = uint32((i + n - at) % n)
	}
	d.reorder(p, former, "cut", Ordered{From: d.spot(p), At: a.At})
	return nil
}

// mine finds a place that the actor may rearrange.
func (d *draft) mine(id PlaceID) (*Place, *Refusal) {
	p, refusal := d.place(id)
	if refusal == nil {
		refusal = d.own(p)
	}
	if refusal == nil && p.Kind == Grid {
		refusal = refuse(NoSuchCell, "%s is a grid; name one of its cells.", p.Name)
	}
	return p, refusal
}

// reorder gives a place another order and tells it, unless it is a seat's own.
func (d *draft) reorder(p *Place, former []uint32, do string, of Of) {
	d.do(Order{Place: p.ID, Former: former})
	if !p.silent() {
		d.tell(do, of)
	}
}

// Sort orders the cards of a place by a field of their designs, the smallest
// on top or at the left.
type Sort struct {
	Place PlaceID `json:"place"`
	By    string  `json:"by" doc:"A field, or \"name\" or \"deck\"."`
	Down  bool    `json:"down,omitempty" doc:"The largest first."`
}

func (a Sort) plan(d *draft) *Refusal {
	p, refusal := d.mine(a.Place)
	if refusal != nil {
		return refusal
	}
	d.looksThrough(p)
	former := make([]uint32, len(p.Cards))
	for i := range former {
		former[i] = uint32(i)
	}
	if !d.knowsAll(p) {
		d.mixedUp(p)
	}
	slices.SortStableFunc(former, func(x, y uint32) int {
		order := compareValues(d.table.Field(p.Cards[x], a.By), d.table.Field(p.Cards[y], a.By))
		if a.Down != p.Kind.Stacked() { // the top of a pile is its last card
			order = -order
		}
		return order
	})
	d.reorder(p, former, "sort", Ordered{From: d.spot(p), By: a.By})
	return nil
}

// Separate takes a mixed pile apart into one pile on the felt for each value
// of a field.
type Separate struct {
	Place PlaceID `json:"place"`
	By    string  `json:"by" doc:"A field, or \"name\" or \"deck\"."`
}

// maxSeparate is how many piles one may be taken apart into.
const maxSeparate = 40

func (a Separate) plan(d *draft) *Refusal {
	p, refusal := d.mine(a.Place)
	if refusal != nil {
		return refusal
	}
	d.count(p)
	if !d.knowsAll(p) {
		if d.values(p, a.By) > maxSeparate {
			d.wise(p)
		}
		d.unsure(p)
	}
	d.looksThrough(p)
	groups := map[string][]CardID{}
	for _, card := range p.Cards {
		value := d.table.Field(card, a.By)
		groups[value] = append(groups[value], card)
	}
	if len(groups) > maxSeparate {
		return refuse(OutOfBounds, "%s would be taken apart into %d piles; at most %d are made.", p.Name, len(groups), maxSeparate).
			with("asked", len(groups)).with("most", maxSeparate)
	}
	spot := d.spot(p)
	x := p.X + p.Wide/2 + Gap
	for _, value := range slices.Sorted(maps.Keys(groups)) {
		cards := groups[value]
		wide := d.table.Decks[d.table.Cards[cards[0]].Deck].Wide
		to := d.felt(min(x+wide/2, d.table.Settings.Wide), p.Y, d.table.Decks[d.table.Cards[cards[0]].Deck])
		x += wide + Gap
		seen := d.witness(nil, cards)
		target := d.spot(to)
		d.carry(cards, to, nil, false)
		d.tell("move", Moved{Chosen: Chosen{Count: len(cards), From: spot, Cards: d.witness(seen, cards)}, To: target})
	}
	return nil
}

// ShuffleIn turns the cards of one place face down and shuffles them into
// another: the discards into the pile.
type ShuffleIn struct {
	From PlaceID `json:"from" doc:"The discards."`
	Into PlaceID `json:"into" doc:"The pile."`
}

func (a ShuffleIn) plan(d *draft) *Refusal {
	into, refusal := d.mine(a.Into)
	if refusal != nil {
		return refusal
	}
	from := d.table.Places[a.From]
	if from != nil && d.doubts.counts[from.ID] {
		d.wise(from)
	}
	if from != nil && len(from.Cards) > 0 {
		picked, refusal := Pick{From: a.From, Which: Every}.cards(d)
		if refusal == nil {
			refusal = d.room(into, picked)
		}
		if refusal == nil {
			refusal = d.held(Order{Place: into.ID})
		}
		if refusal != nil {
			return refusal
		}
		if from != into {
			d.carry(picked, into, nil, false)
		}
		d.turnDown(picked)
	} else if _, refusal := d.mine(a.From); refusal != nil {
		return refusal
	}
	d.shuffle(into)
	if from == into && into.silent() {
		return nil
	}
	d.tell("shuffle-in", Ordered{From: d.spotNamed(a.From), To: d.spot(into)})
	return nil
}

func (d *draft) spotNamed(id PlaceID) *Spot {
	if p := d.table.Places[id]; p != nil {
		return d.spot(p)
	}
	return &Spot{Place: id, Name: "felt", Kind: Loose}
}

func (d *draft) turnDown(cards []CardID) {
	for _, id := range cards {
		if c := d.table.Cards[id]; c.Side == Front {
			d.do(SetLie{Card: id, Before: Lie{c.Side, c.Turn}, After: Lie{Back, c.Turn}})
		}
	}
}
