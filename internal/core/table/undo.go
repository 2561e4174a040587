package table

import (
	"cmp"
	"maps"
	"slices"
)

// past is an action that was done, for undo.
type past struct {
	actor  Seat
	entry  uint64
	edits  Edits
	told   string             // the word of its line in the log, if it has one
	traces map[any]bool       // what everybody knows that it touched
	looked map[PlaceID][]Seat // who looked into which place, as everybody knows
	silent bool               // inside a hand: nobody else knows of it
	undone bool               // or an undo itself, which is not undone
}

// maxPast is how many actions can be undone.
const maxPast = 100

// Recall notes an action that was done in an entry, so that it can be undone. Apply
// does; who rebuilds a table from its journal does for the last entries.
func (t *Table) Recall(actor Seat, entry uint64, edits Edits, deeds []Deed) {
	p := past{actor: actor, entry: entry, edits: edits, silent: len(deeds) == 0}
	if len(deeds) > 0 {
		p.told = deeds[0].Do
	}
	if len(t.past) == 0 && !t.undoable(&p) {
		return // nothing before it could be blocked by it, so how a table was laid is not held on to
	}
	p.traces, p.looked = t.traces(edits, deeds), looksOf(deeds)
	if len(edits) > 0 {
		if undid, is := edits[0].(Undid); is {
			p.undone = true
			t.undid(undid)
		}
	}
	t.past = append(t.past, p)
	if len(t.past) > 2*maxPast {
		t.past = append([]past(nil), t.past[len(t.past)-maxPast:]...)
	}
}

// undid marks the action that an entry took back.
func (t *Table) undid(u Undid) {
	for i := len(t.past) - 1; i >= 0; i-- {
		former := &t.past[i]
		if !former.undone && former.entry == u.Entry {
			former.undone = true
			return
		}
	}
}

// looksOf are the places that deeds tell somebody looked into, or searched.
func looksOf(deeds []Deed) map[PlaceID][]Seat {
	var looked map[PlaceID][]Seat
	for _, deed := range deeds {
		if deed.Do != "peek" && deed.Do != "search" {
			continue
		}
		for _, spot := range deed.Spots() {
			if looked == nil {
				looked = map[PlaceID][]Seat{}
			}
			looked[spot.Place] = append(looked[spot.Place], deed.Actor)
		}
	}
	return looked
}

// Undo takes back the actor's last action, while nothing later touched the
// same things. What was seen stays seen, and chance that was drawn stays spent. If cards would
// go back to where only another seat sees them, and somebody looked into where they lie by now, that
// seat is asked first.
type Undo struct {
	Anyone bool `json:"anyone,omitempty" doc:"The last action of anyone; for the host."`
}

// plan goes by what everybody knows: what another seat did inside its own hand
// neither counts as an action here nor stands in the way.
func (a Undo) plan(d *draft) *Refusal {
	if a.Anyone && d.actor != 0 && d.actor != d.table.Settings.Host {
		return refuse(NotYours, "Only the host can undo what others did.")
	}
	since := uint64(0)
	if chair := d.table.Chair(d.actor); chair != nil {
		since = chair.Tenure
	}
	later := map[any]bool{}
	for i := len(d.table.past) - 1; i >= 0 && i >= len(d.table.past)-maxPast; i-- {
		p := &d.table.past[i]
		mine := p.actor == d.actor && p.entry >= since
		if p.undone || p.silent && !mine {
			continue // it and its undo cancel out; or nobody else knows of it
		}
		if !d.table.undoable(p) || !a.Anyone && !mine {
			for trace := range p.traces {
				later[trace] = true
			}
			continue
		}
		for trace := range p.traces {
			if later[trace] {
				return touchedSince()
			}
		}
		if asks := d.asksBefore(p); len(asks) > 0 {
			return d.askAll(asks)
		}
		return d.takeBack(p, a.Anyone)
	}
	return refuse(NothingToUndo, "There is nothing to undo.")
}

// asksBefore are the asks that must be agreed to before an action is taken back: of each seat that alone
// would see cards again which somebody else looked at since, as far as everybody knows.
func (d *draft) asksBefore(p *past) (asks []Ask) {
	looked := map[PlaceID][]Seat{}
	for i := range slices.Backward(d.table.past) {
		for place, seats := range d.table.past[i].looked {
			looked[place] = append(looked[place], seats...)
		}
		if &d.table.past[i] == p {
			break
		}
	}
	counts := map[Seat]Ask{}
	for _, e := range d.table.takeBack(p.edits) {
		back, is := e.(Splice)
		if !is || back.From == back.To {
			continue
		}
		to := d.table.Places[back.To]
		if to == nil || to.Sight != OwnerOnly || to.Owner == 0 || to.Owner == d.actor {
			continue
		}
		chair := d.table.Chair(to.Owner)
		if chair == nil || chair.Name == "" || !slices.ContainsFunc(looked[back.From], func(seat Seat) bool { return seat != to.Owner }) {
			continue
		}
		ask, known := counts[to.Owner]
		if !known {
			ask = Ask{From: d.actor, To: to.Owner, Place: to.ID, For: "undo", Undo: p.entry}
		}
		ask.Count += len(back.Cards)
		counts[to.Owner] = ask
	}
	for _, seat := range slices.Sorted(maps.Keys(counts)) {
		asks = append(asks, counts[seat])
	}
	return asks
}

// askAll asks for an undo, unless it was asked for already.
func (d *draft) askAll(asks []Ask) *Refusal {
	for _, ask := range d.table.Asks {
		if ask.For == "undo" && ask.From == d.actor && ask.Undo == asks[0].Undo {
			return refuse(NothingToUndo, "You asked for this undo already; %s has not answered yet. Wait, or withdraw it.", d.table.seatName(ask.To)).with("seat", int(ask.To))
		}
	}
	for _, ask := range asks {
		d.putAsk(ask)
	}
	return nil
}

// undoEntry takes back the action of an entry, while nothing later touched the same things.
func (d *draft) undoEntry(entry uint64) *Refusal {
	later := map[any]bool{}
	for i := range slices.Backward(d.table.past) {
		p := &d.table.past[i]
		if p.entry == entry && !p.undone && d.table.undoable(p) {
			for trace := range p.traces {
				if later[trace] {
					return touchedSince()
				}
			}
			return d.takeBack(p, true)
		}
		if !p.undone && !p.silent {
			for trace := range p.traces {
				later[trace] = true
			}
		}
	}
	return touchedSince()
}

func touchedSince() *Refusal {
	return refuse(NothingToUndo, "Your last action cannot be undone any more: others have touched the same things since.")
}

// takeBack does the inverse edits of an action. Inside a hand things may lie
// elsewhere by now than everybody knows, so each is found where it is. The host's undo, and one that was
// agreed to, end looks that are in the way.
func (d *draft) takeBack(p *past, endsLooks bool) *Refusal {
	d.do(Undid{Entry: p.entry})
	for _, e := range d.table.takeBack(p.edits) {
		if splice, is := e.(Splice); is && endsLooks {
			d.endLook(splice.From)
			d.endLook(splice.To)
		}
		if refusal := d.again(e); refusal != nil {
			return refusal
		}
	}
	if p.told != "" {
		d.tell("undo", Worded{Text: p.told})
	}
	return nil
}

// again does an inverse edit on what is there now.
func (d *draft) again(e Edit) *Refusal {
	if fitting, has := e.(interface{ again(*draft) *Refusal }); has {
		return fitting.again(d)
	}
	d.do(e)
	return nil
}

func (e Splice) again(d *draft) *Refusal { return d.putBack(e) }

func (e SetLie) again(d *draft) *Refusal {
	c := d.table.Cards[e.Card]
	if c == nil {
		return touchedSince() // it left the game
	}
	if now := (Lie{c.Side, c.Turn}); now != e.After {
		d.do(SetLie{Card: e.Card, Before: now, After: e.After})
	}
	return nil
}

func (e Show) again(d *draft) *Refusal {
	if d.table.Cards[e.Card] == nil {
		return touchedSince()
	}
	e.Before, e.BriefBefore = d.table.Shown[e.Card], d.table.Brief[e.Card]
	d.do(e)
	return nil
}

func (e PutSettings) again(d *draft) *Refusal {
	e.Before = d.table.Settings
	d.do(e)
	return nil
}

func (e Order) again(d *draft) *Refusal {
	if p := d.table.Places[e.Place]; p == nil || len(p.Cards) != len(e.Former) {
		return touchedSince()
	}
	d.do(e)
	return nil
}

func (e PutPlace) again(d *draft) *Refusal {
	if p := d.table.Places[cmp.Or(e.Before, e.After).ID]; (p == nil) != (e.Before == nil) || e.After == nil && len(p.Cards) > 0 {
		return touchedSince()
	}
	d.do(e)
	return nil
}

func (e PutPiece) again(d *draft) *Refusal {
	if p := d.table.Pieces[cmp.Or(e.Before, e.After).ID]; (p == nil) != (e.Before == nil) {
		return touchedSince()
	}
	d.do(e)
	return nil
}

// putBack brings cards back from where an action put them, wherever in that place
// they lie now.
func (d *draft) putBack(e Splice) *Refusal {
	from, to := d.table.Places[e.From], d.table.Places[e.To]
	if from == nil || to == nil {
		return touchedSince()
	}
	for _, p := range []*Place{from, to} {
		if refusal := d.unlooked(p); refusal != nil {
			return refusal
		}
	}
	if e.At+len(e.Cards) <= len(from.Cards) && slices.Equal(from.Cards[e.At:e.At+len(e.Cards)], e.Cards) && e.In <= len(to.Cards) {
		d.lookShrinks(from, e.Cards)
		d.do(e)
		return nil
	}
	in := e.In
	for _, card := range e.Cards {
		p, at := d.table.At(card)
		if p != from {
			return touchedSince()
		}
		room := len(to.Cards)
		if from == to {
			room--
		}
		d.lookShrinks(from, []CardID{card})
		d.do(Splice{From: e.From, At: at, To: e.To, In: min(in, room), Cards: []CardID{card}})
		in++
	}
	return nil
}

// takeBack gives the edits that undo others.
func (t *Table) takeBack(edits Edits) Edits {
	return slices.DeleteFunc(Inverse(edits), func(e Edit) bool { return e.touches(t).Undo != IsTakenBack })
}

// everythingHome is the word of the deed that brings the whole table home.
const everythingHome = "everything-home"

// undoable reports whether taking an action back means something. Where the whole table
// was brought home, looks and asks that it ended stay ended.
func (t *Table) undoable(p *past) bool {
	some := false
	for _, e := range p.edits {
		switch e.touches(t).Undo {
		case IsFinal:
			return false
		case StaysEnded:
			if p.told != everythingHome {
				return false
			}
		case IsTakenBack, Stays:
			some = true
		}
	}
	return some
}

// traces are what everybody knows that an action touched: places, pieces, the
// marker, the settings. A card has none of its own, because which card an action
// touched is not always known; its place has.
func (t *Table) traces(edits Edits, deeds []Deed) map[any]bool {
	touched := map[any]bool{}
	for _, e := range edits {
		touch := e.touches(t)
		for _, place := range touch.Places {
			touched[place] = true
		}
		if touch.Piece != "" {
			touched[touch.Piece] = true
		}
		if touch.Marker {
			touched["marker"] = true
		}
		if touch.Settings {
			touched["settings"] = true
		}
	}
	for _, deed := range deeds {
		switch deed.Do {
		case "peek", "close", "search", "ask": // nothing was moved
		case "gather": // where it only searched, it touched nothing; the rest was moved by edits
		default:
			for _, spot := range deed.Spots() {
				if spot.Place != "" {
					touched[spot.Place] = true
				}
			}
		}
	}
	return touched
}
