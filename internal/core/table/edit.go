package table

import (
	"encoding/json"
	"fmt"
	"slices"
)

// Edit is one small invertible change of a table. The journal keeps edits, so
// their JSON form is read for as long as there are journals: fields are added,
// never changed.
type Edit interface {
	// fold changes the table. It panics where the edit does not fit, which can
	// only come from a damaged journal.
	fold(*Table)
	inverse() Edit
	// touches says what of the table it is on, as that is before it.
	touches(*Table) Touch
}

// PutPlace lays, changes or takes away a place; nil is "not there". The cards
// of a place are not part of it here: they move by Splice.
type PutPlace struct {
	Before *Place `json:"before,omitempty"`
	After  *Place `json:"after,omitempty"`
}

func (e PutPlace) fold(t *Table) {
	if e.After == nil {
		if p := t.Places[e.Before.ID]; p == nil || len(p.Cards) > 0 {
			panic(fmt.Sprintf("table: place %s cannot go", e.Before.ID))
		}
		delete(t.Places, e.Before.ID)
		return
	}
	p := *e.After
	p.Cards = nil
	if old := t.Places[p.ID]; old != nil {
		p.Cards = old.Cards
	}
	t.Places[p.ID] = &p
}

func (e PutPlace) inverse() Edit { return PutPlace{Before: e.After, After: e.Before} }

// PutDeck brings, changes or takes away a deck.
type PutDeck struct {
	Before *Deck `json:"before,omitempty"`
	After  *Deck `json:"after,omitempty"`
}

func (e PutDeck) fold(t *Table) {
	if e.After == nil {
		delete(t.Decks, e.Before.Key)
		return
	}
	t.Decks[e.After.Key] = e.After
}

func (e PutDeck) inverse() Edit { return PutDeck{Before: e.After, After: e.Before} }

// PutChair adds a seat, or changes one.
type PutChair struct {
	Before *Chair `json:"before,omitempty"`
	After  *Chair `json:"after,omitempty"`
}

func (e PutChair) fold(t *Table) {
	switch {
	case e.Before == nil:
		t.Chairs = append(t.Chairs, *e.After)
	case e.After == nil:
		t.Chairs = t.Chairs[:len(t.Chairs)-1]
	default:
		*t.Chair(e.After.Seat) = *e.After
	}
}

func (e PutChair) inverse() Edit { return PutChair{Before: e.After, After: e.Before} }

// PutSettings changes the table's settings.
type PutSettings struct {
	Before Settings `json:"before"`
	After  Settings `json:"after"`
}

func (e PutSettings) fold(t *Table) { t.Settings = e.After }
func (e PutSettings) inverse() Edit { return PutSettings{Before: e.After, After: e.Before} }

// Minted is a card that comes into being.
type Minted struct {
	ID     CardID `json:"id"`
	Deck   string `json:"deck"`
	Design string `json:"design"`
	Side   Side   `json:"side"`
}

// Mint puts new cards on top of a place; with Gone it takes them out of the
// world again.
type Mint struct {
	Place PlaceID  `json:"place"`
	Cards []Minted `json:"cards"`
	Gone  bool     `json:"gone,omitempty"`
}

func (e Mint) fold(t *Table) {
	p := t.Places[e.Place]
	if e.Gone {
		p.Cards = slices.Clone(p.Cards[:len(p.Cards)-len(e.Cards)])
		for _, m := range e.Cards {
			delete(t.Cards, m.ID)
		}
		return
	}
	cards := make([]CardID, 0, len(p.Cards)+len(e.Cards))
	cards = append(cards, p.Cards...)
	for _, m := range e.Cards {
		t.Cards[m.ID] = &Card{Deck: m.Deck, Design: m.Design, Side: m.Side, Place: e.Place}
		cards = append(cards, m.ID)
	}
	p.Cards = cards
}

func (e Mint) inverse() Edit { return Mint{Place: e.Place, Cards: e.Cards, Gone: !e.Gone} }

// Splice takes a run of cards out of one place and puts it into another. At
// counts in the place as it is when the run is out (From) and before it is in
// (To); they may be the same place.
type Splice struct {
	From  PlaceID  `json:"from"`
	At    int      `json:"at"`
	To    PlaceID  `json:"to"`
	In    int      `json:"in"`
	Cards []CardID `json:"cards"`
}

func (e Splice) fold(t *Table) {
	from := t.Places[e.From]
	if !slices.Equal(from.Cards[e.At:e.At+len(e.Cards)], e.Cards) {
		panic(fmt.Sprintf("table: splice does not fit %s at %d", e.From, e.At))
	}
	from.Cards = slices.Delete(from.Cards, e.At, e.At+len(e.Cards))
	to := t.Places[e.To]
	to.Cards = slices.Insert(to.Cards, e.In, e.Cards...)
	for _, id := range e.Cards {
		t.Cards[id].Place = e.To
	}
}

func (e Splice) inverse() Edit {
	return Splice{From: e.To, At: e.In, To: e.From, In: e.At, Cards: e.Cards}
}

// SetLeaving marks a card that the kit has no more, or takes the mark off.
type SetLeaving struct {
	Card   CardID `json:"card"`
	Before bool   `json:"before,omitempty"`
	After  bool   `json:"after,omitempty"`
}

func (e SetLeaving) fold(t *Table) {
	if t.Leaving[e.Card] = e.After; !e.After {
		delete(t.Leaving, e.Card)
	}
}

func (e SetLeaving) inverse() Edit {
	return SetLeaving{Card: e.Card, Before: e.After, After: e.Before}
}

// Order rearranges a place: what is at i afterwards was at Former[i] before.
type Order struct {
	Place  PlaceID  `json:"place"`
	Former []uint32 `json:"former"`
}

func (e Order) fold(t *Table) {
	p := t.Places[e.Place]
	cards := make([]CardID, len(p.Cards))
	for i, former := range e.Former {
		cards[i] = p.Cards[former]
	}
	p.Cards = cards
}

func (e Order) inverse() Edit {
	back := make([]uint32, len(e.Former))
	for i, former := range e.Former {
		back[former] = uint32(i)
	}
	return Order{Place: e.Place, Former: back}
}

// Lie is how a card lies: the side that is up and its turn in degrees.
type Lie struct {
	Side Side `json:"side"`
	Turn int  `json:"turn,omitempty"`
}

// SetLie changes how one card lies.
type SetLie struct {
	Card   CardID `json:"card"`
	Before Lie    `json:"before"`
	After  Lie    `json:"after"`
}

func (e SetLie) fold(t *Table) {
	c := t.Cards[e.Card]
	c.Side, c.Turn = e.After.Side, e.After.Turn
}

func (e SetLie) inverse() Edit { return SetLie{Card: e.Card, Before: e.After, After: e.Before} }

// Count records how many felt places, asks and cards of later editions were ever made, so that no two
// get the same name.
type Count struct {
	Before uint64 `json:"before"`
	After  uint64 `json:"after"`
}

func (e Count) fold(t *Table) { t.Made = e.After }
func (e Count) inverse() Edit { return Count{Before: e.After, After: e.Before} }

// PutPiece lays, changes or takes away a piece.
type PutPiece struct {
	Before *Piece `json:"before,omitempty"`
	After  *Piece `json:"after,omitempty"`
}

func (e PutPiece) fold(t *Table) { putPiece(t.Pieces, e.Before, e.After) }

func putPiece(pieces map[PieceID]*Piece, before, after *Piece) {
	if after == nil {
		delete(pieces, before.ID)
		return
	}
	p := *after
	pieces[p.ID] = &p
}

func (e PutPiece) inverse() Edit { return PutPiece{Before: e.After, After: e.Before} }

// PutLaid notes how a piece was laid, or that it was taken off, so that it can be brought
// back to that.
type PutLaid struct {
	Before *Piece `json:"before,omitempty"`
	After  *Piece `json:"after,omitempty"`
}

func (e PutLaid) fold(t *Table) { putPiece(t.Laid, e.Before, e.After) }

func (e PutLaid) inverse() Edit { return PutLaid{Before: e.After, After: e.Before} }

// PutMarker moves the turn marker.
type PutMarker struct {
	Before Marker `json:"before"`
	After  Marker `json:"after"`
}

func (e PutMarker) fold(t *Table) { t.Marker = e.After }
func (e PutMarker) inverse() Edit { return PutMarker{Before: e.After, After: e.Before} }

// PutLook begins, changes or ends a seat's look into a place.
type PutLook struct {
	Before *Look `json:"before,omitempty"`
	After  *Look `json:"after,omitempty"`
}

func (e PutLook) fold(t *Table) {
	if e.Before != nil {
		for _, card := range t.Looks[e.Before.Place].Cards {
			delete(t.looked, card)
		}
	}
	if e.After == nil {
		delete(t.Looks, e.Before.Place)
		return
	}
	t.Looks[e.After.Place] = t.lookAt(*e.After)
}

// lookAt notes who looks at the cards of a look.
func (t *Table) lookAt(look Look) Look {
	for _, card := range look.Cards {
		t.looked[card] = look.Seat
	}
	return look
}

func (e PutLook) inverse() Edit { return PutLook{Before: e.After, After: e.Before} }

// Show changes to whom a card is shown, and to whom of them for a while.
type Show struct {
	Card        CardID   `json:"card"`
	Before      Audience `json:"before,omitempty"`
	After       Audience `json:"after,omitempty"`
	BriefBefore Brief    `json:"brief_before,omitzero"`
	BriefAfter  Brief    `json:"brief_after,omitzero"`
}

func (e Show) fold(t *Table) {
	if t.Shown[e.Card] = e.After; e.After == Nobody {
		delete(t.Shown, e.Card)
	}
	if t.Brief[e.Card] = e.BriefAfter; e.BriefAfter == (Brief{}) {
		delete(t.Brief, e.Card)
	}
}

func (e Show) inverse() Edit {
	return Show{Card: e.Card, Before: e.After, After: e.Before, BriefBefore: e.BriefAfter, BriefAfter: e.BriefBefore}
}

// PutAsk makes an ask, or ends it.
type PutAsk struct {
	Before *Ask `json:"before,omitempty"`
	After  *Ask `json:"after,omitempty"`
}

func (e PutAsk) fold(t *Table) {
	if e.After == nil {
		delete(t.Asks, e.Before.ID)
		return
	}
	t.Asks[e.After.ID] = *e.After
}

func (e PutAsk) inverse() Edit { return PutAsk{Before: e.After, After: e.Before} }

// Drew counts a draw of chance. It is never taken back: chance that was drawn is
// spent, also where what was drawn for was refused or undone.
type Drew struct {
	Seat   Seat   `json:"seat,omitempty"` // inside whose hand; 0 for all else
	Before uint64 `json:"before"`
	After  uint64 `json:"after"`
}

func (e Drew) fold(t *Table) {
	if t.Draws[e.Seat] = e.After; e.After == 0 {
		delete(t.Draws, e.Seat)
	}
}
func (e Drew) inverse() Edit { return Drew{Seat: e.Seat, Before: e.After, After: e.Before} }

// Undid says that the edits after it, in the same entry, took an earlier entry
// back. It changes nothing.
type Undid struct {
	Entry uint64 `json:"entry,omitempty"`
}

func (Undid) fold(*Table)     {}
func (e Undid) inverse() Edit { return e }

// ready makes the maps of a table that has none yet, such as one read from a
// snapshot of an older version.
func (t *Table) ready() {
	if t.Decks == nil {
		t.Decks = map[string]*Deck{}
	}
	if t.Places == nil {
		t.Places = map[PlaceID]*Place{}
	}
	if t.Cards == nil {
		t.Cards = map[CardID]*Card{}
	}
	if t.Pieces == nil {
		t.Pieces = map[PieceID]*Piece{}
	}
	if t.Laid == nil {
		t.Laid = map[PieceID]*Piece{}
	}
	if t.Looks == nil {
		t.Looks = map[PlaceID]Look{}
	}
	if t.Shown == nil {
		t.Shown = map[CardID]Audience{}
	}
	if t.Brief == nil {
		t.Brief = map[CardID]Brief{}
	}
	if t.Asks == nil {
		t.Asks = map[int]Ask{}
	}
	if t.Leaving == nil {
		t.Leaving = map[CardID]bool{}
	}
	if t.Draws == nil {
		t.Draws = map[Seat]uint64{}
	}
	if t.looked == nil {
		t.looked = map[CardID]Seat{}
		for id, look := range t.Looks {
			t.Looks[id] = t.lookAt(look)
		}
	}
}

// Fold applies edits in order.
func (t *Table) Fold(edits Edits) {
	t.ready()
	for _, e := range edits {
		e.fold(t)
	}
}

// Edits is a list of edits in the order they happened. As JSON each edit is an
// object with its kind in "edit".
type Edits []Edit

// Inverse returns the edits that take these back.
func Inverse(edits Edits) Edits {
	inverse := make(Edits, 0, len(edits))
	for _, e := range slices.Backward(edits) {
		inverse = append(inverse, e.inverse())
	}
	return inverse
}

// edits knows each kind of edit by its name in the journal.
var edits = newKinds[Edit](map[string]Edit{
	"place": PutPlace{}, "deck": PutDeck{}, "chair": PutChair{}, "settings": PutSettings{},
	"mint": Mint{}, "splice": Splice{}, "order": Order{}, "lie": SetLie{}, "count": Count{}, "leaving": SetLeaving{}, "begin": Begin{},
	"piece": PutPiece{}, "laid": PutLaid{}, "marker": PutMarker{}, "look": PutLook{}, "show": Show{}, "ask": PutAsk{}, "undid": Undid{}, "drew": Drew{},
})

// MarshalJSON writes a list of tagged objects.
func (es Edits) MarshalJSON() ([]byte, error) {
	out := []byte{'['}
	for i, e := range es {
		if i > 0 {
			out = append(out, ',')
		}
		var err error
		if out, err = edits.appendJSON(out, "edit", e); err != nil {
			return nil, err
		}
	}
	return append(out, ']'), nil
}

// UnmarshalJSON reads what MarshalJSON wrote.
func (es *Edits) UnmarshalJSON(text []byte) error {
	var raw []json.RawMessage
	if err := json.Unmarshal(text, &raw); err != nil {
		return err
	}
	*es = make(Edits, 0, len(raw))
	for _, r := range raw {
		e, err := edits.read("edit", r)
		if err != nil {
			return err
		}
		*es = append(*es, e)
	}
	return nil
}
