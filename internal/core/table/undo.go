package table

import (
	"cmp"
	"reflect"
	"slices"
)

// past is an action that was done, for undo.
type past struct {
	actor  Seat
	entry  uint64
	edits  Edits
	told   string       // the word of its line in the log, if it has one
	traces map[any]bool // what everybody knows that it touched
	silent bool         // inside a hand: nobody else knows of it
	undone bool         // or an undo itself, which is not undone
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
	p.traces = t.traces(edits, deeds)
	if len(edits) > 0 {
		if undid, is := edits[0].(Undid); is {
			p.undone = true
			t.undid(undid, edits[1:])
		}
	}
	t.past = append(t.past, p)
	if len(t.past) > 2*maxPast {
		t.past = append([]past(nil), t.past[len(t.past)-maxPast:]...)
	}
}

// undid marks the action that an entry took back. Older journals do not say which it
// was; then it is the one whose edits these take back.
func (t *Table) undid(u Undid, edits Edits) {
	for i := len(t.past) - 1; i >= 0; i-- {
		former := &t.past[i]
		if !former.undone && (u.Entry != 0 && former.entry == u.Entry || u.Entry == 0 && reflect.DeepEqual(t.takeBack(former.edits), edits)) {
			former.undone = true
			return
		}
	}
}

// Undo takes back the actor's last action, while nothing later touched the
// same things. What was seen stays seen, and chance that was drawn stays spent.
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
		return d.takeBack(p)
	}
	return refuse(NothingToUndo, "There is nothing to undo.")
}

func touchedSince() *Refusal {
	return refuse(NothingToUndo, "Your last action cannot be undone any more: others have touched the same things since.")
}

// takeBack does the inverse edits of an action. Inside a hand things may lie
// elsewhere by now than everybody knows, so each is found where it is.
func (d *draft) takeBack(p *past) *Refusal {
	d.do(Undid{Entry: p.entry})
	for _, e := range d.table.takeBack(p.edits) {
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
