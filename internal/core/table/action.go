package table

import (
	"encoding/json"
	"errors"
	"reflect"

	"damselfly/internal/core/chance"
)

// Action is what a seat wants done. Each kind of action is one Go type; as
// JSON it is an object with its kind in "do". Cards are named by CardID inside
// the core and by handles outside, see core/sight.
type Action interface {
	// plan makes the edits of the action, one after the other, or refuses.
	plan(*draft) *Refusal
}

// actions knows each kind of action by its word.
var actions = newKinds[Action](map[string]Action{
	"shuffle": Shuffle{}, "cut": Cut{}, "sort": Sort{}, "separate": Separate{}, "draw": Draw{}, "deal": Deal{}, "top-up": TopUp{},
	"exchange": Exchange{}, "flip": Flip{}, "rotate": Rotate{}, "move": Move{}, "swap": Swap{}, "spread": Spread{}, "collect": Collect{},
	"gather": Gather{}, "shuffle-in": ShuffleIn{}, "peek": Peek{}, "arrange": Arrange{}, "close": Close{},
	"show": ShowCards{}, "ask": MakeAsk{}, "agree": Agree{}, "decline": Decline{}, "withdraw": Withdraw{},
	"pass": Pass{}, "first": First{}, "turn-round": TurnRound{},
	"set": SetCounter{}, "roll": Roll{}, "move-piece": MovePiece{}, "stack": Stack{}, "hand": HandMarker{}, "timer": RunTimer{}, "write": Write{},
	"lay-zone": LayZone{}, "lay-piece": LayPiece{}, "take-off": TakeOff{}, "lay-table": LayTable{}, "run": Run{},
	"door": Door{}, "keys": Keys{}, "end": End{}, "change-seat": ChangeSeat{},
	"say": Say{}, "undo": Undo{}, "sit": Sit{}, "rename": Rename{}, "free": Free{}, "hand-on": HandOn{}, "lapse": Lapse{}, "all": All{},
})

// ActionKinds lists the words of all actions.
func ActionKinds() []string { return actions.list() }

// ActionKind returns the word of an action.
func ActionKind(a Action) string { return actions.name(a) }

// ActionType returns the Go type behind a word, for descriptions of the API.
func ActionType(kind string) reflect.Type { return actions.types[kind] }

// ReadAction reads an action from JSON.
func ReadAction(text []byte) (Action, error) { return actions.read("do", text) }

// WriteAction writes an action as JSON.
func WriteAction(a Action) ([]byte, error) {
	if actions.name(a) == "" {
		return nil, errors.New("table: this action is the service's own")
	}
	return actions.appendJSON(nil, "do", a)
}

// All does several actions as one: all of them, or none.
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

// UnmarshalJSON reads what MarshalJSON wrote.
func (as *Actions) UnmarshalJSON(text []byte) error {
	var raw []json.RawMessage
	if err := json.Unmarshal(text, &raw); err != nil {
		return err
	}
	for _, r := range raw {
		a, err := ReadAction(r)
		if err != nil {
			return err
		}
		*as = append(*as, a)
	}
	return nil
}

// maxAll is how many actions can be done as one.
const maxAll = 200

func (a All) plan(d *draft) *Refusal {
	if d.parts += len(a.Actions); d.parts > maxAll {
		return refuse(OutOfBounds, "At most %d steps are done as one.", maxAll).with("most", maxAll)
	}
	for _, one := range a.Actions {
		if refusal := one.plan(d); refusal != nil {
			return refusal
		}
	}
	return nil
}

// RenameCards gives the action with other names for the cards in it. It is how a
// viewer's handles become cards.
func RenameCards(a Action, name func(CardID) CardID) Action {
	if r, ok := a.(interface {
		rename(func(CardID) CardID) Action
	}); ok {
		return r.rename(name)
	}
	return a
}

func (a All) rename(name func(CardID) CardID) Action {
	renamed := make(Actions, len(a.Actions))
	for i, one := range a.Actions {
		renamed[i] = RenameCards(one, name)
	}
	return All{Actions: renamed}
}

// Apply does an action for a seat at a time (milliseconds since 1970); seat 0
// is the service itself. The table has then changed by the returned edits.
// After a refusal it is as it was.
func (t *Table) Apply(actor Seat, a Action, s *chance.Stream, now int64) (Edits, []Deed, *Refusal) {
	t.ready()
	d := &draft{table: t, actor: actor, chance: s, now: now}
	if _, leaves := a.(Free); t.Settings.Ended && actor != 0 && !leaves {
		return nil, nil, refuse(GameEnded, "The game has ended; nothing is done at this table any more.")
	}
	if refusal := a.plan(d); refusal != nil {
		t.Fold(Inverse(d.edits))
		refusal.Searched = d.searched // whichever step was refused
		return nil, nil, refusal
	}
	d.sweep()
	t.Recall(actor, d.edits, d.deeds)
	return d.edits, d.deeds, nil
}

// draft is an action being planned. Each edit takes hold at once, so that what
// comes later in the same action sees it.
type draft struct {
	table  *Table
	actor  Seat
	chance *chance.Stream
	now    int64
	edits  Edits
	deeds  []Deed
	parts  int // how many actions of an All

	searched PlaceID // the last place that was searched by a filter
}

// sweep takes away felt places and cells that were made and got no card.
func (d *draft) sweep() {
	for _, e := range d.edits {
		if made, ok := e.(PutPlace); ok && made.Before == nil {
			if p := d.table.Places[made.After.ID]; p != nil {
				d.clear(p)
			}
		}
	}
}

func (d *draft) do(e Edit) {
	e.fold(d.table)
	d.edits = append(d.edits, e)
}

// place finds a place, or refuses. A cell of a grid is there even while no card
// lies on it.
func (d *draft) place(id PlaceID) (*Place, *Refusal) {
	if p := d.table.Places[id]; p != nil {
		return p, nil
	}
	if cell, refusal := d.cell(id); cell != nil || refusal != nil {
		return cell, refusal
	}
	return nil, refuse(NoSuchPlace, "There is no place %q on this table.", id)
}

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
