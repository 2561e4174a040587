package table

import "fmt"

// Refusal is an expected "no": a stable code, a sentence for a person, and
// the numbers in it for a program. It is an ordinary answer, not an error.
type Refusal struct {
	Code    string         `json:"code"`
	Text    string         `json:"text"`
	Numbers map[string]int `json:"numbers,omitempty"`

	Step   int  `json:"step,omitempty" doc:"Of several steps, the one that was refused, from 1."`
	Stands bool `json:"stands,omitempty" doc:"The steps before it were done and stand, and everybody was told what was searched."`
}

// The codes of refusals.
const (
	NoSuchPlace   = "no-such-place"
	NoSuchSeat    = "no-such-seat"
	NoSuchCard    = "no-such-card" // or not in view any more
	TooFew        = "too-few-cards"
	TooMany       = "place-is-full"
	NotYours      = "belongs-to-another-seat"
	SeatTaken     = "seat-taken"
	NotUnderstood = "not-understood"
	NeedsSeat     = "needs-a-seat"
	NoSuchPiece   = "no-such-piece"
	WrongPiece    = "wrong-piece"
	OutOfBounds   = "out-of-bounds"
	BeingLooked   = "being-looked-at" // another seat looks into the place
	NoSuchAsk     = "no-such-ask"
	NothingToUndo = "nothing-to-undo"
	NoSuchCell    = "no-such-cell"
	NoSuchDeck    = "no-such-deck"
	NobodySits    = "nobody-sits"
	IsLocked      = "is-locked"
	GameEnded     = "game-ended"
	HeldByAnother = "held-by-another" // another seat is dragging a card
)

// Codes are all codes of refusals.
var Codes = []string{
	NoSuchPlace, NoSuchSeat, NoSuchCard, TooFew, TooMany, NotYours, SeatTaken, NotUnderstood, NeedsSeat, NoSuchPiece, WrongPiece,
	OutOfBounds, BeingLooked, NoSuchAsk, NothingToUndo, NoSuchCell, NoSuchDeck, NobodySits, IsLocked, GameEnded, HeldByAnother,
}

func refuse(code, format string, args ...any) *Refusal {
	return &Refusal{Code: code, Text: fmt.Sprintf(format, args...)}
}

// with adds a number of the sentence under a name.
func (r *Refusal) with(name string, n int) *Refusal {
	if r.Numbers == nil {
		r.Numbers = map[string]int{}
	}
	r.Numbers[name] = n
	return r
}

// Count writes a number of things: "1 card", "3 cards".
func counted(n int, thing string) string {
	if n == 1 {
		return "1 " + thing
	}
	return fmt.Sprintf("%d %ss", n, thing)
}
