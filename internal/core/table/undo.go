package table

import (
	"reflect"
	"slices"
)

// past is an action that was done, for undo.
type past struct {
	actor  Seat
	edits  Edits
	told   string // the word of its line in the log, if it has one
	undone bool   // or an undo itself, which is not undone
	undid  *int   // of an undo: the index of what it undid
}

// maxPast is how many actions can be undone.
const maxPast = 100

// Recall notes an action that was done, so that it can be undone. Apply does;
// who rebuilds a table from its journal does for the last entries.
func (t *Table) Recall(actor Seat, edits Edits, deeds []Deed) {
	if len(t.past) == 0 && !undoable(edits) {
		return // nothing before it could be blocked by it, so how a table was laid is not held on to
	}
	p := past{actor: actor, edits: edits}
	if len(deeds) > 0 {
		p.told = deeds[0].Do
	}
	if len(edits) > 0 && edits[0] == (Undid{}) {
		p.undone = true
		for i := len(t.past) - 1; i >= 0; i-- {
			if former := &t.past[i]; !former.undone && reflect.DeepEqual(takeBack(former.edits), edits[1:]) {
				former.undone = true
				p.undid = &i
				break
			}
		}
	}
	t.past = append(t.past, p)
	if len(t.past) > 2*maxPast {
		t.past = append([]past(nil), t.past[len(t.past)-maxPast:]...)
	}
}

// Unapply takes back the action that Apply has just done, as if it had been
// refused.
func (t *Table) Unapply(edits Edits) {
	t.Fold(Inverse(edits))
	last := t.past[len(t.past)-1]
	t.past = t.past[:len(t.past)-1]
	if last.undid != nil && *last.undid < len(t.past) {
		t.past[*last.undid].undone = false
	}
}

// Undo takes back the actor's last action, while nothing later touched the
// same things. What was seen stays seen.
type Undo struct {
	Anyone bool `json:"anyone,omitempty" doc:"The last action of anyone; for the host."`
}

func (a Undo) plan(d *draft) *Refusal {
	if len(d.edits) > 0 {
		return refuse(NothingToUndo, "Undo stands alone; it is no part of a longer action.")
	}
	if a.Anyone && d.actor != 0 && d.actor != d.table.Settings.Host {
		return refuse(NotYours, "Only the host can undo what others did.")
	}
	later := map[any]bool{}
	for i := len(d.table.past) - 1; i >= 0 && i >= len(d.table.past)-maxPast; i-- {
		p := &d.table.past[i]
		if p.undone {
			continue // it and its undo cancel out
		}
		if !undoable(p.edits) || !a.Anyone && p.actor != d.actor {
			for thing := range things(p.edits) {
				later[thing] = true
			}
			continue
		}
		for thing := range things(p.edits) {
			if later[thing] {
				return refuse(NothingToUndo, "Your last action cannot be undone any more: others have touched the same things since.")
			}
		}
		d.do(Undid{})
		for _, e := range takeBack(p.edits) {
			d.do(e)
		}
		if p.told != "" {
			d.tell(Deed{Do: "undo", Text: p.told})
		}
		return nil
	}
	return refuse(NothingToUndo, "There is nothing to undo.")
}

// takeBack gives the edits that undo others. Names of felt places and asks stay
// used: what was made since may have later ones.
func takeBack(edits Edits) Edits {
	return slices.DeleteFunc(Inverse(edits), func(e Edit) bool {
		_, count := e.(Count)
		return count
	})
}

// undoable reports whether taking edits back means something: not for who
// sits where, and looks and asks are closed and withdrawn instead.
func undoable(edits Edits) bool {
	for _, e := range edits {
		switch e := e.(type) {
		case PutChair, PutDeck, PutLook, PutAsk, Mint:
			return false
		case PutSettings: // how the table is laid, yes; who has the keys, no
			if e.Before.Host != e.After.Host || e.Before.Locked != e.After.Locked || e.Before.Spectators != e.After.Spectators || e.Before.Ended != e.After.Ended {
				return false
			}
		}
	}
	return len(edits) > 0
}

// things are what edits touched: places, pieces, cards, the marker.
func things(edits Edits) map[any]bool {
	touched := map[any]bool{}
	for _, e := range edits {
		switch e := e.(type) {
		case PutPlace:
			if e.Before != nil {
				touched[e.Before.ID] = true
			} else {
				touched[e.After.ID] = true
			}
		case Splice:
			touched[e.From], touched[e.To] = true, true
			for _, card := range e.Cards {
				touched[card] = true
			}
		case Order:
			touched[e.Place] = true
		case SetLie:
			touched[e.Card] = true
		case Show:
			touched[e.Card] = true
		case PutPiece:
			for _, p := range []*Piece{e.Before, e.After} {
				if p != nil {
					touched[p.ID] = true
				}
			}
		case PutLook:
			if e.Before != nil {
				touched[e.Before.Place] = true
			} else {
				touched[e.After.Place] = true
			}
		case PutMarker:
			touched["marker"] = true
		case PutSettings:
			touched["settings"] = true
		}
	}
	return touched
}
