package table

import (
	"maps"
	"slices"
)

// ShowCards shows cards of one's own place to a seat, or to all: until one
// hides them again, until they leave, or for a while.
type ShowCards struct {
	Pick
	To      Seat `json:"to,omitempty" doc:"The seat that may see them; all if left out."`
	Seconds int  `json:"seconds,omitempty" minimum:"0" maximum:"3600" doc:"For how long; until you hide them if left out."`
	Hide    bool `json:"hide,omitempty" doc:"Hide them again."`
}

// maxShown is how long a card can be shown for a while, in seconds.
const maxShown = 3600

func (a ShowCards) plan(d *draft) *Refusal {
	if a.Seconds < 0 || a.Seconds > maxShown {
		return refuse(OutOfBounds, "Cards are shown for 1 to %d seconds, or until you hide them.", maxShown).with("most", maxShown).with("asked", a.Seconds)
	}
	picked, refusal := a.cards(d)
	if refusal != nil {
		return refusal
	}
	to := Everyone
	if a.To != 0 {
		if _, refusal := d.chair(a.To); refusal != nil {
			return refusal
		}
		to = Only(a.To)
	}
	for _, id := range picked {
		if p := d.table.Places[d.table.Cards[id].Place]; p.Sight != OwnerOnly || p.Owner != d.actor {
			return refuse(NotYours, "Only cards of your own hand can be shown; %s is seen as it lies.", p.Name)
		}
	}
	do, told := "show", ShownTo{Chosen: Chosen{Count: len(picked), From: d.spotOf(picked)}, Seconds: a.Seconds}
	switch {
	case a.Hide:
		do, told.Seconds = "hide", 0
	case a.To != 0:
		told.To = &Spot{Owner: a.To, Whose: d.table.seatName(a.To)}
	}
	for _, id := range picked {
		if a.Hide {
			d.show(id, Nobody, Brief{})
		} else {
			d.showTo(id, to, a.Seconds)
		}
	}
	told.Cards = d.witness(nil, picked)
	d.tell(do, told)
	return nil
}

// showTo shows a card to some more viewers, for so many seconds or, at 0, for
// good. Who sees it for good already goes on seeing it.
func (d *draft) showTo(card CardID, to Audience, seconds int) {
	shown, brief := d.table.Shown[card], d.table.Brief[card]
	if seconds == 0 {
		brief.To &^= to
	} else {
		brief.To |= to &^ (shown &^ brief.To)
		brief.Ends = d.now + int64(seconds)*1000
	}
	if brief.To == Nobody {
		brief = Brief{}
	}
	d.show(card, shown|to, brief)
}

// show changes to whom a card is shown, if that is a change.
func (d *draft) show(card CardID, to Audience, brief Brief) {
	e := Show{Card: card, Before: d.table.Shown[card], After: to, BriefBefore: d.table.Brief[card], BriefAfter: brief}
	if e.Before != e.After || e.BriefBefore != e.BriefAfter {
		d.do(e)
	}
}

// cover hides cards again that were shown for a while. It is the service's
// action, when their time is over.
type cover struct{ cards []CardID }

func (a cover) plan(d *draft) *Refusal {
	for _, card := range a.cards {
		brief, shown := d.table.Brief[card]
		if !shown || brief.Ends > d.now {
			return refuse(NoSuchCard, "This card is not to be hidden now.")
		}
	}
	seen := d.witness(nil, a.cards)
	for _, card := range a.cards {
		d.show(card, d.table.Shown[card]&^d.table.Brief[card].To, Brief{})
	}
	d.tell("hide", ShownTo{Chosen: Chosen{Count: len(a.cards), From: d.spotOf(a.cards), Cards: seen}})
	return nil
}

// briefOver lists the cards that were shown for a while that is over, by the
// place they lie in.
func (t *Table) briefOver(now int64) (due Actions) {
	over := map[PlaceID][]CardID{}
	for _, card := range slices.Sorted(maps.Keys(t.Brief)) {
		if t.Brief[card].Ends <= now {
			at := t.Cards[card].Place
			over[at] = append(over[at], card)
		}
	}
	for _, at := range slices.Sorted(maps.Keys(over)) {
		due = append(due, cover{over[at]})
	}
	return due
}
