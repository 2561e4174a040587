package table

import (
	"errors"
	"reflect"
	"slices"
)

// Doer is who may do a kind of action.
type Doer string

// Those who may: anybody with a seat, who may arrange the table (see Settings.Arrange),
// the host, or the service itself.
const (
	Anyone   Doer = "seat"
	Arranger Doer = "arranger"
	Host     Doer = "host"
	Service  Doer = "service"
)

// ActionKind is what there is to know of a kind of action beside what it does. Its
// bounds stand in the tags of its fields; see ReadAction.
type ActionKind struct {
	Word  string // in "do"; empty for what is never written
	By    Doer
	Alone bool // it is no part of a longer action

	example Action
}

// registry has a row for each kind of action.
var registry = []ActionKind{
	// The order of cards.
	{"shuffle", Anyone, false, Shuffle{}},
	{"shuffle-in", Anyone, false, ShuffleIn{}},
	{"cut", Anyone, false, Cut{}},
	{"sort", Anyone, false, Sort{}},
	{"separate", Anyone, false, Separate{}},

	// Cards from place to place.
	{"draw", Anyone, false, Draw{}},
	{"deal", Anyone, false, Deal{}},
	{"top-up", Anyone, false, TopUp{}},
	{"exchange", Anyone, false, Exchange{}},
	{"move", Anyone, false, Move{}},
	{"swap", Anyone, false, Swap{}},
	{"spread", Anyone, false, Spread{}},
	{"collect", Anyone, false, Collect{}},
	{"gather", Anyone, false, Gather{}},
	{"everything-home", Anyone, false, EverythingHome{}},

	// How cards lie, and who sees them.
	{"flip", Anyone, false, Flip{}},
	{"rotate", Anyone, false, Rotate{}},
	{"peek", Anyone, false, Peek{}},
	{"reorder", Anyone, false, Reorder{}},
	{"close", Anyone, false, Close{}},
	{"show", Anyone, false, ShowCards{}},
	{"ask", Anyone, false, MakeAsk{}},
	{"agree", Anyone, false, Agree{}},
	{"decline", Anyone, false, Decline{}},
	{"withdraw", Anyone, false, Withdraw{}},

	// Turns and pieces.
	{"pass", Anyone, false, Pass{}},
	{"first", Anyone, false, First{}},
	{"turn-round", Anyone, false, TurnRound{}},
	{"set", Anyone, false, SetCounter{}},
	{"roll", Anyone, false, Roll{}},
	{"move-piece", Anyone, false, MovePiece{}},
	{"stack", Anyone, false, Stack{}},
	{"hand", Anyone, false, HandMarker{}},
	{"timer", Anyone, false, RunTimer{}},
	{"write", Anyone, false, Write{}},

	// How the table is laid, and the game as a whole.
	{"lay-zone", Arranger, false, LayZone{}},
	{"lay-piece", Arranger, false, LayPiece{}},
	{"take-off", Arranger, false, TakeOff{}},
	{"lay-table", Arranger, false, LayTable{}},
	{"run", Anyone, false, Run{}},
	{"door", Host, false, Door{}},
	{"keys", Host, true, Keys{}},
	{"end", Host, true, End{}},

	// People.
	{"say", Anyone, false, Say{}},
	{"undo", Anyone, true, Undo{}},
	{"rename", Anyone, false, Rename{}},
	{"change-seat", Anyone, true, ChangeSeat{}},
	{"free", Anyone, true, Free{}},
	{"sit", Service, true, Sit{}},
	{"hand-on", Service, true, HandOn{}},
	{"lapse", Service, false, Lapse{}},
	{"", Service, false, ring{}},
	{"", Service, false, cover{}},
	{"", Service, true, Revise{}},
	{"", Service, true, Bookmarked{}},
	{"", Service, true, BringDeck{}},

	{"all", Anyone, false, All{}},
}

// deedKinds has the kind of each deed by its word.
var deedKinds = map[string]Of{
	"draw": Moved{}, "deal": Moved{}, "top-up": Moved{}, "move": Moved{}, "spread": Moved{}, "collect": Moved{}, "swap": Moved{},
	"flip": Turned{}, "rotate": Turned{},
	"peek": Looked{}, "reorder": Looked{}, "close": Looked{}, "show": ShownTo{}, "hide": ShownTo{},
	"shuffle": Ordered{}, "shuffle-in": Ordered{}, "cut": Ordered{}, "sort": Ordered{},
	"gather": Gathered{}, "search": Searched{}, "ask": Asked{},
	"lay-zone": Laid{}, "lay-piece": Laid{}, "take-off": TakenOff{},
	"pass": ToSeat{}, "first": ToSeat{}, "keys": ToSeat{}, "hand": ToSeat{}, "agree": ToSeat{}, "decline": ToSeat{}, "withdraw": ToSeat{},
	"sit": AtSeat{}, "free": AtSeat{}, "change-seat": AtSeat{},
	"set": OnPiece{}, "roll": OnPiece{}, "spin": OnPiece{}, "start": OnPiece{}, "stop": OnPiece{}, "reset": OnPiece{},
	"ring": OnPiece{}, "write": OnPiece{}, "run": OnPiece{},
	"move-piece": PieceMoved{}, "stack": PieceMoved{},
	"hand-on": Worded{}, "rename": Worded{}, "say": Worded{}, "undo": Worded{}, "door": Worded{}, "revise": Worded{}, "bookmark": Worded{}, "bring-deck": Worded{}, "leave": Turned{},
	"try": Wordless{}, "turn-round": Wordless{}, "end": Wordless{}, "lay-table": Wordless{}, everythingHome: Wordless{},
}

// actions knows each kind of action by its word.
var actions = func() kinds[Action] {
	examples := map[string]Action{}
	for _, row := range registry {
		if row.Word != "" {
			examples[row.Word] = row.example
		}
	}
	return newKinds(examples)
}()

// rows are the rows of the registry by the types of their actions.
var rows = func() map[reflect.Type]ActionKind {
	all := map[reflect.Type]ActionKind{}
	for _, row := range registry {
		all[reflect.TypeOf(row.example)] = row
	}
	return all
}()

// ActionKinds lists the kinds of actions that can be written, by their words.
func ActionKinds() []ActionKind {
	var written []ActionKind
	for _, word := range actions.list() {
		written = append(written, rows[actions.types[word]])
	}
	return written
}

// ActionWords lists the words of the actions that can be written.
func ActionWords() []string { return actions.list() }

// KindOf is what there is to know of an action's kind.
func KindOf(a Action) ActionKind { return rows[reflect.TypeOf(a)] }

// Type is the Go type of such actions, for descriptions of the API.
func (k ActionKind) Type() reflect.Type { return reflect.TypeOf(k.example) }

// WriteAction writes an action as JSON.
func WriteAction(a Action) ([]byte, error) {
	if KindOf(a).Word == "" {
		return nil, errors.New("table: this action is the service's own")
	}
	return actions.appendJSON(nil, "do", a)
}

// ServiceOnly reports whether an action, or one in it, is the service's own and
// no seat's: joining a room and losing a connection make them.
func ServiceOnly(a Action) bool {
	if all, several := a.(All); several {
		return slices.ContainsFunc(all.Actions, ServiceOnly)
	}
	return KindOf(a).By == Service
}

// may refuses an action that is not the actor's to do. The service may do everything;
// what is its alone is not taken from anybody, see ServiceOnly.
func (d *draft) may(a Action) *Refusal {
	settings := d.table.Settings
	if d.actor == 0 {
		return nil
	}
	switch by := KindOf(a).By; {
	case by == Arranger && !d.table.MayArrange(d.actor):
		return refuse(NotYours, "Only the host arranges this table; %s is the host.", d.table.seatName(settings.Host)).with("seat", int(settings.Host))
	case by == Host && d.actor != settings.Host:
		return refuse(NotYours, "Only the host does this; %s is the host.", d.table.seatName(settings.Host)).with("seat", int(settings.Host))
	}
	return nil
}
