package table

import (
	"maps"
	"slices"
)

// Of is what a deed says beyond its word.
type Of interface {
	spots() []*Spot       // the places it names, where it ends last
	witnesses() []Witness // the cards it is about
}

// Chosen are the cards that something was done to.
type Chosen struct {
	Count int       `json:"count,omitempty"`
	Which Which     `json:"which,omitempty"` // from which end, if they were counted off
	From  *Spot     `json:"from,omitempty"`
	Cards []Witness `json:"cards,omitempty"`
}

// The kinds of deeds. The words that are told so stand in deedKinds.
type (
	// Moved is of cards that went somewhere.
	Moved struct {
		Chosen
		To    *Spot  `json:"to,omitempty"`
		Under bool   `json:"under,omitempty"`
		Side  Side   `json:"side,omitempty"`
		By    string `json:"text,omitempty"` // rows or columns, if they were spread
	}
	// Turned is of cards that lie otherwise where they were.
	Turned struct {
		Chosen
		Side Side `json:"side,omitempty"`
	}
	// Looked is of cards that somebody looks or looked at.
	Looked struct{ Chosen }
	// ShownTo is of cards of a hand.
	ShownTo struct {
		Chosen
		To      *Spot `json:"to,omitempty"` // whose seat; nil: all
		Seconds int   `json:"seconds,omitempty"`
	}
	// Ordered is of a place's new order.
	Ordered struct {
		cardless
		From *Spot  `json:"from,omitempty"`
		To   *Spot  `json:"to,omitempty"` // into which it was shuffled
		At   int    `json:"count,omitempty"`
		By   string `json:"text,omitempty"` // a field
	}
	// Gathered is of a deck.
	Gathered struct {
		cardless
		Deck  string `json:"text,omitempty"`
		To    *Spot  `json:"to,omitempty"`
		Parts []Part `json:"parts,omitempty"`
	}
	// Searched is of a place that was searched in vain.
	Searched struct {
		cardless
		From  *Spot `json:"from,omitempty"`
		Among int   `json:"among,omitempty"` // how many cards
	}
	// Asked is of a wish for another's cards.
	Asked struct {
		cardless
		For   string `json:"text,omitempty"` // take or peek
		Count int    `json:"count,omitempty"`
		From  *Spot  `json:"from,omitempty"`
	}
	// Laid is of a zone or a piece that was laid or changed.
	Laid struct {
		cardless
		Zone  *Spot  `json:"to,omitempty"`
		Piece string `json:"piece,omitempty"`
		What  string `json:"text,omitempty"` // "new", or what changed
	}
	// TakenOff is of a zone or a piece.
	TakenOff struct {
		cardless
		Zone  *Spot  `json:"from,omitempty"`
		Piece string `json:"piece,omitempty"`
	}
	// ToSeat is of what goes to a seat: the turn, the keys, a marker, an answer.
	ToSeat struct {
		cardless
		To    *Spot  `json:"to,omitempty"`
		Piece string `json:"piece,omitempty"` // the marker
		By    string `json:"text,omitempty"`  // "chance", if that chose the seat
	}
	// AtSeat is of whoever came to a seat, or left it.
	AtSeat struct {
		nowhere
		Seat Seat `json:"count,omitempty"`
	}
	// OnPiece is of a piece.
	OnPiece struct {
		nowhere
		Piece string `json:"piece,omitempty"` // its name
		Value int    `json:"count,omitempty"` // that it was set to
		Up    string `json:"text,omitempty"`  // the side that came up
	}
	// PieceMoved is of a piece, or of some tokens of a stack.
	PieceMoved struct {
		nowhere
		Piece string    `json:"piece,omitempty"`
		Count int       `json:"count,omitempty"`
		At    []float64 `json:"at,omitempty"`   // where to, in millimetres
		Onto  string    `json:"text,omitempty"` // another stack
	}
	// Worded is of words: what was said, a new name, what was undone.
	Worded struct {
		nowhere
		Text string `json:"text,omitempty"`
	}
	// Wordless is of what its word alone says.
	Wordless struct{ nowhere }
)

// DeedWords lists the words of all deeds, in order.
func DeedWords() []string { return slices.Sorted(maps.Keys(deedKinds)) }

// cardless is what is about no cards, nowhere what names no place either.
type (
	cardless struct{}
	nowhere  struct{ cardless }
)

func (cardless) witnesses() []Witness { return nil }
func (nowhere) spots() []*Spot        { return nil }

func (c Chosen) witnesses() []Witness { return c.Cards }
func (c Chosen) spots() []*Spot       { return those(c.From) }
func (m Moved) spots() []*Spot        { return those(m.From, m.To) }
func (s ShownTo) spots() []*Spot      { return those(s.From, s.To) }
func (o Ordered) spots() []*Spot      { return those(o.From, o.To) }
func (s Searched) spots() []*Spot     { return those(s.From) }
func (a Asked) spots() []*Spot        { return those(a.From) }
func (l Laid) spots() []*Spot         { return those(l.Zone) }
func (t TakenOff) spots() []*Spot     { return those(t.Zone) }
func (s ToSeat) spots() []*Spot       { return those(s.To) }

func (g Gathered) spots() (all []*Spot) {
	for _, part := range g.Parts {
		all = append(all, part.Spot)
	}
	return append(all, those(g.To)...)
}

// those are the places of which something is said.
func those(spots ...*Spot) (all []*Spot) {
	for _, spot := range spots {
		if spot != nil {
			all = append(all, spot)
		}
	}
	return all
}
