package table

import "cmp"

import "slices"

// Share says how many cards some seats get of a deal.
type Share struct {
	Who   string `json:"who,omitempty" enum:"seat,first,other,every" doc:"One seat, the first seat, every other taken seat, or every taken seat; every if left out."`
	Seat  Seat   `json:"seat,omitempty" doc:"With who: seat."`
	Count int    `json:"count" minimum:"1" maximum:"1000"`
}

// Deal deals cards round the table one by one, beginning with the first seat.
type Deal struct {
	From   PlaceID `json:"from" doc:"The place to deal from."`
	Shares []Share `json:"shares" doc:"How many cards whom; a later share overrides an earlier one."`
	To     string  `json:"to,omitempty" doc:"The name of the zone that each seat has and that the cards go to; the hands if left out."`
	UpTo   bool    `json:"up_to,omitempty" doc:"Deal as many as there are, if they are fewer."`
}

func (a Deal) plan(d *draft) *Refusal {
	p, refusal := d.place(a.From)
	if refusal == nil {
		refusal = d.own(p)
	}
	if refusal != nil {
		return refusal
	}
	counts, refusal := d.shares(a.Shares)
	if refusal != nil {
		return refusal
	}
	order := d.table.round(d.table.first())
	total, most := 0, 0
	for _, seat := range order {
		total, most = total+counts[seat], max(most, counts[seat])
		if counts[seat] > 0 && d.seatPlace(seat, a.To) == nil {
			return refuse(NoSuchPlace, "Seat %d has no %s to deal to.", seat, cmp.Or(a.To, "hand"))
		}
	}
	if total == 0 {
		return refuse(NobodySits, "Nobody gets a card in this deal; is anybody seated?")
	}
	d.dealByChance(a, p, total)
	if total > d.count(p) && !a.UpTo {
		return refuse(TooFew, "%s has %s, this deal takes %d.", p.Name, counted(len(p.Cards), "card"), total).
			with("has", len(p.Cards)).with("asked", total)
	}
	from := d.spot(p)
	dealt := map[Seat]int{}
	seen := map[Seat][]Witness{}
	for round := range most {
		for _, seat := range order {
			if round >= counts[seat] || len(p.Cards) == 0 {
				continue
			}
			to := d.seatPlace(seat, a.To)
			top := p.Cards[len(p.Cards)-1:]
			if refusal := d.room(to, top); refusal != nil {
				return refusal
			}
			seen[seat] = append(seen[seat], d.oneByOne(slices.Clone(top), to)...)
			dealt[seat]++
		}
	}
	for _, seat := range order {
		if dealt[seat] > 0 {
			d.tell("deal", Moved{Chosen: Chosen{Count: dealt[seat], From: from, Cards: seen[seat]}, To: d.spot(d.seatPlace(seat, a.To))})
		}
	}
	return nil
}

// dealByChance notes what depends on which seat is the first, where chance chose it.
func (d *draft) dealByChance(a Deal, p *Place, total int) {
	if !d.doubts.first {
		return
	}
	for _, seat := range d.table.round(1) {
		counts, _ := d.sharesFrom(seat, a.Shares)
		other := 0
		for _, one := range d.table.round(1) {
			other += counts[one]
			if to := d.seatPlace(one, a.To); to != nil {
				note(&d.doubts.counts, to.ID)
			} else {
				d.wise(p) // whether that seat gets any
			}
		}
		if other != total {
			d.wise(p)
			note(&d.doubts.counts, p.ID)
		}
	}
}

// shares works out how many cards each seat gets.
func (d *draft) shares(shares []Share) (map[Seat]int, *Refusal) {
	return d.sharesFrom(d.table.first(), shares)
}

func (d *draft) sharesFrom(first Seat, shares []Share) (map[Seat]int, *Refusal) {
	counts := map[Seat]int{}
	for _, s := range shares {
		if s.Count < 1 || s.Count > 1000 {
			return nil, refuse(OutOfBounds, "A share has 1 to 1000 cards, not %d.", s.Count).with("asked", s.Count)
		}
		switch s.Who {
		case "first":
			counts[first] = s.Count
		case "seat":
			chair, refusal := d.chair(s.Seat)
			if refusal != nil {
				return nil, refusal
			}
			if chair.Name == "" {
				return nil, refuse(NobodySits, "Nobody sits at seat %d.", s.Seat).with("seat", int(s.Seat))
			}
			counts[s.Seat] = s.Count
		case "", "every", "other":
			for _, seat := range d.table.round(first) {
				if _, has := counts[seat]; s.Who != "other" || !has {
					counts[seat] = s.Count
				}
			}
		default:
			return nil, refuse(NotUnderstood, "A share goes to a seat, the first, every other or every seat, not %q.", s.Who)
		}
	}
	delete(counts, 0)
	return counts, nil
}

// first is the first seat: the one chosen, or the lowest that is taken.
func (t *Table) first() Seat {
	if c := t.Chair(t.Marker.First); c != nil && c.Name != "" {
		return t.Marker.First
	}
	for _, c := range t.Chairs {
		if c.Name != "" {
			return c.Seat
		}
	}
	return 0
}

// round lists the taken seats in the order that turns go, from a seat on.
func (t *Table) round(from Seat) []Seat {
	var seats []Seat
	n := len(t.Chairs)
	for i := range n {
		at := (int(from) - 1 + i + n) % n
		if t.Marker.Backwards {
			at = (int(from) - 1 - i + 2*n) % n
		}
		if t.Chairs[at].Name != "" {
			seats = append(seats, t.Chairs[at].Seat)
		}
	}
	return seats
}

// seatPlace is a seat's zone of a name, or its hand.
func (d *draft) seatPlace(seat Seat, name string) *Place {
	if name == "" || name == "hand" {
		return d.table.HandOf(seat)
	}
	if p := d.table.Places[PlaceID(name+"/"+itoa(int(seat)))]; p != nil && p.Owner == seat && !p.Kind.Passing() && p.Kind != Grid {
		return p
	}
	return nil // a pile on the felt has a number too, and no owner; a grid's cards lie on its cells
}

// TopUp fills hands to a number of cards.
type TopUp struct {
	From  PlaceID `json:"from" doc:"The place to draw from."`
	To    int     `json:"to" minimum:"1" maximum:"1000" doc:"How many cards each hand shall have."`
	Every bool    `json:"every,omitempty" doc:"Every hand in turn; only yours if left out."`
	UpTo  bool    `json:"up_to,omitempty" doc:"Take as many as there are, if they are fewer."`
}

func (a TopUp) plan(d *draft) *Refusal {
	p, refusal := d.place(a.From)
	if refusal == nil {
		refusal = d.own(p)
	}
	if refusal != nil {
		return refusal
	}
	seats := []Seat{d.actor}
	if a.Every {
		seats = d.table.round(d.table.first())
	}
	missing := 0
	hands := make([]*Place, 0, len(seats))
	for _, seat := range seats {
		hand := d.table.HandOf(seat)
		if hand == nil {
			return refuse(NoSuchPlace, "Seat %d has no hand on this table.", seat)
		}
		hands = append(hands, hand)
		missing += max(a.To-d.count(hand), 0)
	}
	if missing > d.count(p) && !a.UpTo {
		return refuse(TooFew, "%s has %s, topping up takes %d.", p.Name, counted(len(p.Cards), "card"), missing).
			with("has", len(p.Cards)).with("asked", missing)
	}
	from := d.spot(p)
	for _, hand := range hands {
		count := min(a.To-len(hand.Cards), len(p.Cards))
		if count <= 0 {
			continue
		}
		picked := slices.Clone(p.Cards[len(p.Cards)-count:])
		if refusal := d.room(hand, picked); refusal != nil {
			return refusal
		}
		d.tell("top-up", Moved{Chosen: Chosen{Count: count, From: from, Cards: d.oneByOne(picked, hand)}, To: d.spot(hand)})
	}
	return nil
}

// Exchange puts chosen cards of one's hand away and draws as many.
type Exchange struct {
	Pick
	Away PlaceID `json:"away" doc:"Where the chosen cards go."`
	Draw PlaceID `json:"draw" doc:"Where as many are drawn from, before the chosen ones go there."`
}

func (a Exchange) plan(d *draft) *Refusal {
	if _, refusal := d.target(Target{Place: a.Away}, nil); refusal != nil {
		return refusal
	}
	picked, refusal := a.cards(d)
	if refusal != nil {
		return refusal
	}
	from := d.table.Places[d.table.Cards[picked[0]].Place]
	d.numbered()
	fresh, refusal := Pick{From: a.Draw, Count: len(picked)}.cards(d)
	if refusal != nil {
		return refusal
	}
	away, refusal := d.target(Target{Place: a.Away}, picked)
	if refusal == nil {
		refusal = d.room(away, picked)
	}
	if refusal != nil {
		return refusal
	}
	d.tell("draw", Moved{Chosen: Chosen{Count: len(fresh), From: d.spot(d.table.Places[a.Draw]), Cards: d.oneByOne(fresh, from)}, To: d.spot(from)})
	if away, refusal = d.target(Target{Place: a.Away}, picked); refusal != nil {
		return refusal // the last card of a felt place was drawn, and it went
	}
	seen := d.witness(nil, picked)
	spot := d.spot(from)
	d.carry(picked, away, nil, away.ID == a.Draw)
	d.tell("move", Moved{Chosen: Chosen{Count: len(picked), From: spot, Cards: d.witness(seen, picked)}, To: d.spot(away), Under: away.ID == a.Draw})
	return nil
}
