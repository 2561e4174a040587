package table

import (
	"cmp"
	"maps"
	"slices"
)

// MakeAsk asks another seat for cards of its own place, or to see them.
type MakeAsk struct {
	Place PlaceID `json:"place" doc:"The other seat's place."`
	For   string  `json:"for,omitempty" enum:"take,peek" doc:"To take cards, or to see them; take if left out."`
	Count int     `json:"count,omitempty" minimum:"0" doc:"How many; 1 if left out."`
}

func (a MakeAsk) plan(d *draft) *Refusal {
	p, refusal := d.place(a.Place)
	if refusal != nil {
		return refusal
	}
	if d.actor == 0 {
		return refuse(NeedsSeat, "Asking needs a seat.")
	}
	if p.Owner == 0 || p.Owner == d.actor || p.Sight != OwnerOnly {
		return refuse(NotYours, "%s is nobody else's own; there is no need to ask.", p.Name)
	}
	count := max(a.Count, 1)
	if count > d.count(p) {
		return Pick{}.tooFew(p, len(p.Cards), count)
	}
	if chair := d.table.Chair(p.Owner); chair == nil || chair.Name == "" {
		return refuse(NobodySits, "Nobody sits at seat %d to ask.", p.Owner).with("seat", int(p.Owner))
	}
	d.putAsk(Ask{From: d.actor, To: p.Owner, Place: p.ID, For: cmp.Or(a.For, "take"), Count: count})
	return nil
}

// putAsk gives an ask a number, and tells it.
func (d *draft) putAsk(ask Ask) {
	ask.ID = int(d.table.Made) + 1
	d.do(Count{Before: d.table.Made, After: d.table.Made + 1})
	d.do(PutAsk{After: &ask})
	d.tell("ask", Asked{For: ask.For, Count: ask.Count, From: d.spot(d.table.Places[ask.Place])})
}

// together are an ask and those that wait for an answer with it: an undo that several agree to.
func (t *Table) together(ask Ask) (all []Ask) {
	for _, id := range slices.Sorted(maps.Keys(t.Asks)) {
		if other := t.Asks[id]; id == ask.ID || ask.For == "undo" && other.For == "undo" && other.From == ask.From && other.Undo == ask.Undo {
			all = append(all, other)
		}
	}
	return all
}

// dropAsk ends an ask unanswered or declined, and those together with it.
func (d *draft) dropAsk(ask Ask) {
	for _, one := range d.table.together(ask) {
		d.do(PutAsk{Before: &one})
	}
}

// ask finds an ask, or refuses.
func (d *draft) ask(id int) (Ask, *Refusal) {
	ask, known := d.table.Asks[id]
	if !known {
		return ask, refuse(NoSuchAsk, "There is no such ask any more.")
	}
	return ask, nil
}

// Agree grants an ask. The owner may choose which cards; otherwise chance does.
type Agree struct {
	Ask   int      `json:"ask"`
	Cards []Handle `json:"cards,omitempty" doc:"Handles of the cards to give or show; by chance if left out."`
	Names []string `json:"names,omitempty" doc:"Names of the cards to give or show, in place of cards."`
}

func (a Agree) plan(d *draft) *Refusal {
	ask, refusal := d.ask(a.Ask)
	if refusal == nil && ask.To != d.actor {
		refusal = refuse(NotYours, "This ask is for %s to answer.", d.table.seatName(ask.To))
	}
	if refusal != nil {
		return refusal
	}
	if ask.For == "undo" {
		return a.agreeUndo(d, ask)
	}
	pick := Pick{From: ask.Place, Which: ByChance, Count: ask.Count}
	hand := d.table.HandOf(ask.From)
	if ask.For != "peek" {
		if hand == nil {
			return refuse(NoSuchPlace, "%s has no hand on this table.", d.table.seatName(ask.From))
		}
		if refusal := d.roomFor(hand, ask.Count); refusal != nil { // before chance is drawn
			return refusal
		}
	}
	if chosen := len(a.Cards) + len(a.Names); chosen > 0 {
		pick = Pick{From: ask.Place, Cards: a.Cards, Names: a.Names}
		if chosen != ask.Count {
			return refuse(TooFew, "%s asked for %s, you chose %d.", d.table.seatName(ask.From), counted(ask.Count, "card"), chosen).
				with("asked", ask.Count).with("has", chosen)
		}
	}
	picked, refusal := pick.cards(d)
	if refusal != nil {
		return refusal
	}
	for _, card := range picked {
		if d.table.Cards[card].Place != ask.Place {
			return refuse(NoSuchCard, "A card you chose does not lie where you were asked for it.")
		}
	}
	d.do(PutAsk{Before: &ask})
	from := d.spot(d.table.Places[ask.Place])
	if ask.For == "peek" {
		for _, card := range picked {
			d.showTo(card, Only(ask.From), 0)
		}
		d.tell("show", ShownTo{Chosen: Chosen{Count: len(picked), From: from, Cards: d.witness(nil, picked)}, To: &Spot{Owner: ask.From, Whose: d.table.seatName(ask.From)}})
		return nil
	}
	seen := d.witness(nil, picked)
	d.carry(picked, hand, nil, false)
	d.tell("move", Moved{Chosen: Chosen{Count: len(picked), From: from, Cards: d.witness(seen, picked)}, To: d.spot(hand)})
	return nil
}

// agreeUndo agrees to an undo. It is done when all agree that were asked.
func (a Agree) agreeUndo(d *draft, ask Ask) *Refusal {
	if !d.sights.all {
		return refuse(NotUnderstood, "Agreeing to an undo stands alone; it is no part of a longer action.")
	}
	if len(a.Cards)+len(a.Names) > 0 {
		return refuse(NotUnderstood, "An undo needs no cards: agree to it, or decline.")
	}
	if len(d.table.together(ask)) == 1 {
		if refusal := d.undoEntry(ask.Undo); refusal != nil {
			return refusal
		}
	} else {
		d.tell("agree", ToSeat{To: &Spot{Owner: ask.From, Whose: d.table.seatName(ask.From)}})
	}
	d.do(PutAsk{Before: &ask})
	return nil
}

func (a Agree) handles() []Handle { return a.Cards }

func (a Agree) byChance() bool { return len(a.Cards)+len(a.Names) == 0 }

// Decline refuses an ask.
type Decline struct {
	Ask int `json:"ask"`
}

func (a Decline) plan(d *draft) *Refusal {
	ask, refusal := d.ask(a.Ask)
	if refusal == nil && ask.To != d.actor {
		refusal = refuse(NotYours, "This ask is for %s to answer.", d.table.seatName(ask.To))
	}
	if refusal != nil {
		return refusal
	}
	d.dropAsk(ask)
	d.tell("decline", ToSeat{To: &Spot{Owner: ask.From, Whose: d.table.seatName(ask.From)}})
	return nil
}

// Withdraw takes one's own ask back.
type Withdraw struct {
	Ask int `json:"ask"`
}

func (a Withdraw) plan(d *draft) *Refusal {
	ask, refusal := d.ask(a.Ask)
	if refusal == nil && ask.From != d.actor {
		refusal = refuse(NotYours, "This ask is %s's.", d.table.seatName(ask.From))
	}
	if refusal != nil {
		return refusal
	}
	d.dropAsk(ask)
	d.tell("withdraw", ToSeat{To: &Spot{Owner: ask.To, Whose: d.table.seatName(ask.To)}})
	return nil
}

// Lapse ends a seat's looks and asks. It is the service's action, when the
// seat leaves or loses its connection.
type Lapse struct {
	Seat Seat `json:"seat"`
}

func (a Lapse) plan(d *draft) *Refusal {
	d.lapse(a.Seat)
	return nil
}

// endTenure ends what a person had by sitting at a seat: looks and asks, and that
// cards are shown to them.
func (d *draft) endTenure(seat Seat) {
	d.lapse(seat)
	for _, card := range slices.Sorted(maps.Keys(d.table.Shown)) {
		if shown := d.table.Shown[card]; shown != Everyone && shown.Includes(seat) {
			brief := d.table.Brief[card]
			if brief.To &^= Only(seat); brief.To == Nobody {
				brief = Brief{}
			}
			d.show(card, shown&^Only(seat), brief)
		}
	}
}

func (d *draft) lapse(seat Seat) {
	for _, id := range d.table.PlaceIDs() {
		if look, looking := d.table.Looks[id]; looking && look.Seat == seat {
			d.do(PutLook{Before: &look})
			d.say(Deed{Actor: seat, Who: d.table.seatName(seat), Do: "close", Of: Looked{Chosen: Chosen{From: d.spotNamed(id)}}})
		}
	}
	var ids []int
	for id, ask := range d.table.Asks {
		if ask.From == seat || ask.To == seat {
			ids = append(ids, id)
		}
	}
	slices.Sort(ids)
	for _, id := range ids {
		if ask, there := d.table.Asks[id]; there {
			d.dropAsk(ask)
		}
	}
}
