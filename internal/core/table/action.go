package table

import (
	"cmp"
	"encoding/json"
)

// Action is what a seat wants done. Each kind of action is one Go type; as
// JSON it is an object with its kind in "do". Cards are named by CardID inside
// the core and by a Handle in an action.
type Action interface {
	// plan makes the edits of the action, one after the other, or refuses.
	plan(*draft) *Refusal
}

// All does several actions as one, in their order. Where one is refused, see Apply.
type All struct {
	Actions Actions `json:"actions"`
}

// Actions is a list of actions, as JSON a list of tagged objects.
type Actions []Action

// MarshalJSON writes a list of tagged objects.
func (as Actions) MarshalJSON() ([]byte, error) {
	raw := make([]json.RawMessage, 0, len(as))
	for _, a := range as {
		text, err := WriteAction(a)
		if err != nil {
			return nil, err
		}
		raw = append(raw, text)
	}
	return json.Marshal(raw)
}

// plan is never called: Apply plans the lines of an All one by one.
func (a All) plan(*draft) *Refusal {
	return refuse(NotUnderstood, "Several actions are done as one, but not within each other.")
}

func (a All) handles() (all []Handle) {
	for _, one := range a.Actions {
		if names, ok := one.(interface{ handles() []Handle }); ok {
			all = append(all, names.handles()...)
		}
	}
	return all
}

// place finds a place, or refuses. A cell of a grid is there even while no card
// lies on it.
func (d *draft) place(id PlaceID) (*Place, *Refusal) {
	p := d.table.Places[id]
	if of, _ := id.Parts(); d.doubts.counts[id] && of == "felt" {
		d.wise(p) // whether it is still there depends on what lay in it
	}
	if p != nil && (p.Kind != Loose || d.sights.loose == nil || d.sights.loose[id]) {
		return p, nil
	}
	if cell, refusal := d.cell(id); cell != nil || refusal != nil {
		return cell, refusal
	}
	return nil, refuse(NoSuchPlace, "There is no place %q on this table%s", id, meantBy(string(id), d.table.zoneIDs()))
}

// zoneIDs are the places that everybody knows of: those that were laid.
func (t *Table) zoneIDs() (ids []string) {
	for _, id := range t.PlaceIDs() {
		if !t.Places[id].Kind.Passing() {
			ids = append(ids, string(id))
		}
	}
	return ids
}

// meantBy ends a sentence about a word that names nothing, with the nearest one that names something.
func meantBy(word string, known []string) string { return cmp.Or(DidYouMean(word, known), ".") }

// own refuses what would take from, or rearrange, another seat's own place, or
// a place that another seat is looking into.
func (d *draft) own(p *Place) *Refusal {
	if refusal := d.unlooked(p); refusal != nil {
		return refusal
	}
	if p.Sight != OwnerOnly || d.actor == p.Owner || d.actor == 0 {
		return nil
	}
	whose := d.table.seatName(p.Owner)
	return refuse(NotYours, "The %s of %s is theirs alone; ask %s to give you a card.", p.Name, whose, whose).
		with("seat", int(p.Owner))
}

// unlooked refuses to change a place that another seat is looking into.
func (d *draft) unlooked(p *Place) *Refusal {
	look, looking := d.table.Looks[p.ID]
	if !looking || look.Seat == d.actor {
		return nil
	}
	return refuse(BeingLooked, "%s is looking at the top %d of %s; wait until they close it.",
		d.table.seatName(look.Seat), look.Count, p.Name).with("seat", int(look.Seat)).with("cards", look.Count)
}

// chair finds a seat, or refuses.
func (d *draft) chair(seat Seat) (*Chair, *Refusal) {
	if c := d.table.Chair(seat); c != nil {
		return c, nil
	}
	return nil, refuse(NoSuchSeat, "There is no seat %d; this table has %s.", seat, counted(len(d.table.Chairs), "seat")).
		with("seats", len(d.table.Chairs))
}

// seatName is what people call a seat.
func (t *Table) seatName(seat Seat) string {
	if c := t.Chair(seat); c != nil && c.Name != "" {
		return c.Name
	}
	return "seat " + itoa(int(seat))
}
