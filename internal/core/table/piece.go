package table

import (
	"fmt"
	"maps"
	"slices"
	"strings"
)

// PieceID names a piece: its key in the kit.
type PieceID string

// PieceKind is what sort of piece a piece is.
type PieceKind string

// The kinds of pieces.
const (
	Counter  PieceKind = "counter"
	Die      PieceKind = "die"
	Spinner  PieceKind = "spinner"
	Token    PieceKind = "token"
	SeatMark PieceKind = "marker" // held by a seat
	Timer    PieceKind = "timer"
	Note     PieceKind = "note"
	Mat      PieceKind = "mat" // a picture under everything
	Cue      PieceKind = "cue" // named Steps on a button
)

// PieceKinds lists the kinds of pieces.
var PieceKinds = []PieceKind{Counter, Die, Spinner, Token, SeatMark, Timer, Note, Mat, Cue}

// Piece is what is not a card. Which of the later fields mean something
// depends on the kind. Nothing of a piece is hidden.
type Piece struct {
	ID   PieceID   `json:"id"`
	Name string    `json:"name"`
	Kind PieceKind `json:"kind" enum:"counter,die,spinner,token,marker,timer,note,mat,cue"`
	X    float64   `json:"x"`
	Y    float64   `json:"y"`

	Turn   int     `json:"turn,omitempty" doc:"Degrees clockwise."`
	Locked bool    `json:"locked,omitempty" doc:"Not moved or removed until it is unlocked."`
	Wide   float64 `json:"wide,omitempty" doc:"Of a mat, a token or a note, in millimetres; its own size if left out."`
	High   float64 `json:"high,omitempty" doc:"Of a mat, in millimetres."`

	Value   int       `json:"value,omitempty" doc:"Of a counter."`
	Step    int       `json:"step,omitempty" doc:"Of a counter: how much one more is; 1 if left out."`
	Least   *int      `json:"least,omitempty" doc:"Of a counter: its lower bound."`
	Most    *int      `json:"most,omitempty" doc:"Of a counter: its upper bound."`
	Sectors []Sector  `json:"sectors,omitempty" doc:"The faces of a die or the sectors of a spinner."`
	Up      int       `json:"up,omitempty" doc:"The face or sector that came up, from 1; 0: none yet."`
	Faces   []Picture `json:"faces,omitempty" doc:"The one or two sides of a token, or the picture of a mat."`
	Side    Side      `json:"side,omitempty" doc:"The side of a token that is up."`
	Count   int       `json:"count,omitempty" doc:"Of a token: how many alike lie on each other here; 1 if left out."`
	Seat    Seat      `json:"seat,omitempty" doc:"Who holds a marker."`
	Length  int64     `json:"length,omitempty" doc:"Of a timer, in milliseconds."`
	Left    int64     `json:"left,omitempty" doc:"Of a timer that stands: milliseconds left."`
	Ends    int64     `json:"ends,omitempty" doc:"Of a timer that runs: when it ends, milliseconds since 1970."`
	Text    string    `json:"text,omitempty" doc:"Of a note, in Markdown; of a cue, its Steps."`
}

// Sector is a face of a die or a sector of a spinner, with its weight (1 if 0).
type Sector struct {
	Name   string `json:"name"`
	Weight int    `json:"weight,omitempty"`
}

// pieceIDs are the ids of all pieces, in their order.
func (t *Table) pieceIDs() (ids []string) {
	for _, id := range slices.Sorted(maps.Keys(t.Pieces)) {
		ids = append(ids, string(id))
	}
	return ids
}

// piece finds a piece of one of some kinds, or refuses.
func (d *draft) piece(id PieceID, kinds ...PieceKind) (*Piece, *Refusal) {
	p := d.table.Pieces[id]
	if p == nil {
		return nil, refuse(NoSuchPiece, "There is no piece %q on this table%s", id, meantBy(string(id), d.table.pieceIDs()))
	}
	if !slices.Contains(kinds, p.Kind) {
		return nil, refuse(WrongPiece, "%s is a %s, which this cannot be done with.", p.Name, p.Kind)
	}
	return p, nil
}

// SetCounter sets a counter to a value, or changes it by steps.
type SetCounter struct {
	Piece PieceID `json:"piece"`
	To    *int    `json:"to,omitempty" doc:"The new value; leave out with by."`
	By    int     `json:"by,omitempty" doc:"How many steps up, or down if negative."`
}

func (a SetCounter) plan(d *draft) *Refusal {
	p, refusal := d.piece(a.Piece, Counter)
	if refusal != nil {
		return refusal
	}
	after := *p
	if a.To != nil {
		after.Value = *a.To
	} else {
		after.Value += a.By * max(p.Step, 1)
	}
	if after.Value > mostNumber || after.Value < -mostNumber {
		return refuse(OutOfBounds, "A counter goes from -%d to %d, not to %d.", mostNumber, mostNumber, after.Value).with("value", p.Value).with("asked", after.Value)
	}
	if p.Least != nil && after.Value < *p.Least || p.Most != nil && after.Value > *p.Most {
		return refuse(OutOfBounds, "%s goes %s, so not to %d.", p.Name, bounds(p.Least, p.Most), after.Value).with("value", p.Value).with("asked", after.Value)
	}
	d.do(PutPiece{Before: p, After: &after})
	d.tell("set", OnPiece{Piece: p.Name, Value: after.Value})
	return nil
}

func bounds(least, most *int) string {
	switch {
	case most == nil:
		return fmt.Sprintf("from %d up", *least)
	case least == nil:
		return fmt.Sprintf("up to %d", *most)
	}
	return fmt.Sprintf("from %d to %d", *least, *most)
}

// Roll rolls dice, or spins spinners, all at once. What comes up is chance's.
type Roll struct {
	Pieces []PieceID `json:"pieces" doc:"Dice or spinners."`
}

func (a Roll) plan(d *draft) *Refusal {
	if len(a.Pieces) == 0 || len(a.Pieces) > 100 {
		return refuse(NotUnderstood, "Say which dice to roll: 1 to 100 of them.")
	}
	for _, id := range a.Pieces { // before anything is drawn
		p, refusal := d.piece(id, Die, Spinner)
		if refusal == nil && len(p.Sectors) == 0 {
			refusal = refuse(WrongPiece, "%s has no faces.", p.Name)
		}
		if refusal != nil {
			return refusal
		}
	}
	for _, id := range a.Pieces {
		p := d.table.Pieces[id]
		after := *p
		total := 0
		for _, s := range p.Sectors {
			total += max(s.Weight, 1)
		}
		at := int(d.chance(nil).Below(uint64(total)))
		for i, s := range p.Sectors {
			if at -= max(s.Weight, 1); at < 0 {
				after.Up = i + 1
				break
			}
		}
		do := either(p.Kind == Die, "roll", "spin")
		d.do(PutPiece{Before: p, After: &after})
		d.tell(do, OnPiece{Piece: p.Name, Up: after.Sectors[after.Up-1].Name})
	}
	return nil
}

// HandMarker gives a marker to a seat.
type HandMarker struct {
	Piece PieceID `json:"piece"`
	Seat  Seat    `json:"seat"`
}

func (a HandMarker) plan(d *draft) *Refusal {
	p, refusal := d.piece(a.Piece, SeatMark)
	if refusal == nil {
		_, refusal = d.chair(a.Seat)
	}
	if refusal != nil {
		return refusal
	}
	after := *p
	after.Seat = a.Seat
	d.do(PutPiece{Before: p, After: &after})
	d.tell("hand", ToSeat{Piece: p.Name, To: &Spot{Owner: a.Seat, Whose: d.table.seatName(a.Seat)}})
	return nil
}

// RunTimer starts, stops or resets a timer.
type RunTimer struct {
	Piece PieceID `json:"piece"`
	Do    string  `json:"what" enum:"start,stop,reset"`
}

func (a RunTimer) plan(d *draft) *Refusal {
	p, refusal := d.piece(a.Piece, Timer)
	if refusal != nil {
		return refusal
	}
	after := *p
	left := p.Left
	if p.Ends > 0 {
		left = max(p.Ends-d.now, 0)
	}
	switch a.Do {
	case "start":
		if left == 0 {
			left = p.Length
		}
		after.Left, after.Ends = 0, d.now+left
	case "stop":
		after.Left, after.Ends = left, 0
	case "reset":
		after.Left, after.Ends = p.Length, 0
	default:
		return refuse(NotUnderstood, "A timer can start, stop or reset, not %q.", a.Do)
	}
	d.do(PutPiece{Before: p, After: &after})
	d.tell(a.Do, OnPiece{Piece: p.Name})
	return nil
}

// ring ends a timer. It is the service's action, when the timer's time comes.
type ring struct{ piece PieceID }

func (a ring) plan(d *draft) *Refusal {
	p, refusal := d.piece(a.piece, Timer)
	if refusal != nil || p.Ends == 0 || p.Ends > d.now {
		return refuse(WrongPiece, "This timer does not end now.")
	}
	after := *p
	after.Left, after.Ends = 0, 0
	d.do(PutPiece{Before: p, After: &after})
	d.tell("ring", OnPiece{Piece: p.Name})
	return nil
}

// Due lists what the service must do by now: a timer has ended, or what was
// shown for a while is hidden again.
func (t *Table) Due(now int64) Actions {
	due := t.briefOver(now)
	for _, id := range slices.Sorted(maps.Keys(t.Pieces)) {
		if p := t.Pieces[id]; p.Kind == Timer && p.Ends > 0 && p.Ends <= now {
			due = append(due, ring{id})
		}
	}
	return due
}

// Waits reports whether something will be due: a timer runs, or a card is shown for a while.
func (t *Table) Waits() bool {
	if len(t.Brief) > 0 {
		return true
	}
	for _, p := range t.Pieces {
		if p.Kind == Timer && p.Ends > 0 {
			return true
		}
	}
	return false
}

// Write changes the text of a note.
type Write struct {
	Piece PieceID `json:"piece"`
	Text  string  `json:"text" maxLength:"4000"`
}

func (a Write) plan(d *draft) *Refusal {
	p, refusal := d.piece(a.Piece, Note)
	if refusal != nil {
		return refusal
	}
	if len(a.Text) > MaxNote {
		return refuse(OutOfBounds, "A note has %d bytes at most, not %d.", MaxNote, len(a.Text)).with("most", MaxNote).with("asked", len(a.Text))
	}
	after := *p
	after.Text = printable(a.Text, true)
	d.do(PutPiece{Before: p, After: &after})
	d.tell("write", OnPiece{Piece: p.Name})
	return nil
}

// Say says something to everyone. It changes nothing but the log.
type Say struct {
	Text string `json:"text" minLength:"1" maxLength:"4000"`
}

func (a Say) plan(d *draft) *Refusal {
	text := strings.Join(strings.Fields(printable(a.Text, true)), " ")
	if text == "" || len(text) > MaxNote {
		return refuse(OutOfBounds, "Say something, in %d bytes at most.", MaxNote).with("most", MaxNote).with("asked", len(text))
	}
	d.weigh(len(text))
	d.tell("say", Worded{Text: text})
	return nil
}
