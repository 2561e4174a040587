// Package table is the heart of Damselfly: the things on a table, the actions
// that change them, and the small invertible edits an action becomes.
//
// It is pure computation. Time, chance and ids are arguments; the same table,
// actor, action and chance give the same edits on every machine.
//
//	edits, deeds, refusal := t.Apply(table.Seat(1), table.Draw{From: "weather", Count: 2}, stream)
//	// t has changed; edits is what to keep, deeds is what to tell
//	t.Fold(edits)          // on another copy of the table gives the same table
//	t.Fold(Inverse(edits)) // gives the former table back
package table

import (
	"maps"
	"slices"
	"strconv"
)

// CardID names one card inside the core. Viewers never learn it: they name
// cards by handles, see core/sight. As JSON it is a string, because handles
// travel in the same fields and a browser's numbers are too short for them.
type CardID uint64

// MarshalText writes the id in base 32.
func (c CardID) MarshalText() ([]byte, error) {
	return strconv.AppendUint(nil, uint64(c), 32), nil
}

// UnmarshalText reads what MarshalText wrote.
func (c *CardID) UnmarshalText(text []byte) error {
	n, err := strconv.ParseUint(string(text), 32, 64)
	*c = CardID(n)
	return err
}

// PlaceID names a place: a zone's key ("sky"), a zone of a seat ("satchel/2"),
// or a loose pile on the felt ("felt/17").
type PlaceID string

// Seat is a player's position, numbered from 1. Zero is nobody: a spectator
// as a viewer, the service itself as an actor.
type Seat int

// MaxSeats is the largest number of seats a table can have.
const MaxSeats = 12

// Side is the side of a card that lies up.
type Side string

// The two sides of a card.
const (
	Front Side = "front"
	Back  Side = "back"
)

// Other returns the opposite side.
func (s Side) Other() Side {
	if s == Front {
		return Back
	}
	return Front
}

// Kind is what sort of place a place is.
type Kind string

// The kinds of places. A Loose place is a card or pile on the felt: it comes
// with its first card and goes with its last.
const (
	Pile  Kind = "pile"
	Row   Kind = "row"
	Hand  Kind = "hand"
	Loose Kind = "loose"
)

// Stacked reports whether only the top card of such a place is in view.
func (k Kind) Stacked() bool { return k == Pile || k == Loose }

// Sight is a place's rule on who sees fronts there.
type Sight string

// The sights. Open: each card's own side decides. OwnerOnly: the owning seat
// sees every front, others see veils. None: everybody sees veils.
const (
	Open      Sight = "open"
	OwnerOnly Sight = "owner"
	None      Sight = "none"
)

// Arrival is what a place does to a card that comes in.
type Arrival struct {
	Side   Side `json:"side,omitempty"`   // empty: as it is
	Bottom bool `json:"bottom,omitempty"` // goes under, or to the start of a row
}

// Place holds cards in an order: index 0 is the bottom of a pile and the left
// of a row. Lengths are millimetres of table, X and Y the centre.
type Place struct {
	ID       PlaceID  `json:"id"`
	Name     string   `json:"name"`
	Kind     Kind     `json:"kind"`
	Owner    Seat     `json:"owner,omitempty"`
	Sight    Sight    `json:"sight"`
	Arrival  Arrival  `json:"arrival,omitzero"`
	Capacity int      `json:"capacity,omitempty"` // 0: no limit
	Locked   bool     `json:"locked,omitempty"`
	X        float64  `json:"x"`
	Y        float64  `json:"y"`
	Wide     float64  `json:"wide"`
	High     float64  `json:"high"`
	Cards    []CardID `json:"cards,omitempty"`
}

// Card is one physical card.
type Card struct {
	Deck   string  `json:"deck"`
	Design string  `json:"design"`
	Side   Side    `json:"side"`
	Turn   int     `json:"turn,omitempty"` // degrees clockwise
	Place  PlaceID `json:"place"`
}

// Picture is a card picture in two sizes, each named by the SHA-256 of its
// bytes in hexadecimal.
type Picture struct {
	Small string `json:"small"`
	Full  string `json:"full"`
}

// Design is what a card shows.
type Design struct {
	Key   string  `json:"key"`
	Name  string  `json:"name"`
	Front Picture `json:"front"`
	Back  Picture `json:"back"`
}

// Deck is a list of designs and how their cards look. Wide and High are
// millimetres of the card as it lies.
type Deck struct {
	Key     string            `json:"key"`
	Name    string            `json:"name"`
	Outline string            `json:"outline"` // rounded, square, hexagon or oval
	Wide    float64           `json:"wide"`
	High    float64           `json:"high"`
	Veil    Picture           `json:"veil"`
	Home    PlaceID           `json:"home"`
	Designs map[string]Design `json:"designs"`
}

// Chair is the state of a seat: who has it and its colour. A free seat has no
// name.
type Chair struct {
	Seat   Seat   `json:"seat"`
	Name   string `json:"name,omitempty"`
	Colour string `json:"colour"`
	Salt   string `json:"salt,omitempty"` // what its player adds to chance
}

// Settings are the table's own: its name and its size in millimetres.
type Settings struct {
	Name string  `json:"name"`
	Wide float64 `json:"wide"`
	High float64 `json:"high"`
}

// Table is everything on one table. The zero value is an empty table. It is
// changed only by Apply and Fold, and is not safe for concurrent use.
type Table struct {
	Settings Settings           `json:"settings"`
	Decks    map[string]*Deck   `json:"decks"`
	Chairs   []Chair            `json:"chairs"` // Chairs[0] is seat 1
	Places   map[PlaceID]*Place `json:"places"`
	Cards    map[CardID]*Card   `json:"cards"`
	Made     uint64             `json:"made"` // felt places ever made
}

// Chair returns the chair of a seat, nil if the table has no such seat.
func (t *Table) Chair(seat Seat) *Chair {
	if seat < 1 || int(seat) > len(t.Chairs) {
		return nil
	}
	return &t.Chairs[seat-1]
}

// PlaceIDs lists all places in a stable order.
func (t *Table) PlaceIDs() []PlaceID {
	return slices.Sorted(maps.Keys(t.Places))
}

// HandOf returns the first hand of a seat, nil if it has none.
func (t *Table) HandOf(seat Seat) *Place {
	var hand *Place
	for _, p := range t.Places {
		if p.Kind == Hand && p.Owner == seat && seat != 0 && (hand == nil || p.ID < hand.ID) {
			hand = p
		}
	}
	return hand
}

// Salt is what the seated players add to chance, in the order of their seats.
func (t *Table) Salt() string {
	salt := ""
	for _, c := range t.Chairs {
		salt += c.Salt + "\n"
	}
	return salt
}

// Design returns what a card shows.
func (t *Table) Design(card CardID) Design {
	c := t.Cards[card]
	return t.Decks[c.Deck].Designs[c.Design]
}

// At returns the place of a card and its index there, -1 if there is no such
// card. It looks through that one place, from the top.
func (t *Table) At(card CardID) (*Place, int) {
	c := t.Cards[card]
	if c == nil {
		return nil, -1
	}
	p := t.Places[c.Place]
	for i := len(p.Cards) - 1; i >= 0; i-- {
		if p.Cards[i] == card {
			return p, i
		}
	}
	return p, -1
}

// Audience says which viewers have a card before their eyes, and so may name
// it: Everyone, one seat, or Nobody.
type Audience int

// The audiences that are not a seat's number.
const (
	Everyone Audience = 0
	Nobody   Audience = -1
)

// Includes reports whether a viewer belongs to the audience.
func (a Audience) Includes(viewer Seat) bool {
	return a == Everyone || (a > 0 && Seat(a) == viewer)
}

// Covers reports whether everybody in b is in a too.
func (a Audience) Covers(b Audience) bool {
	return b == Nobody || a == Everyone || a == b
}

// Audience returns who has the card at an index of the place before their
// eyes, whichever side is up.
func (p *Place) Audience(index int) Audience {
	switch {
	case p.Kind.Stacked() && index != len(p.Cards)-1:
		return Nobody
	case p.Sight == Open:
		return Everyone
	case p.Sight == OwnerOnly && p.Owner != 0:
		return Audience(p.Owner)
	}
	return Nobody
}

// FrontSeen reports whether a viewer sees the front of the card at an index
// of the place.
func (t *Table) FrontSeen(viewer Seat, p *Place, index int) bool {
	if !p.Audience(index).Includes(viewer) {
		return false
	}
	return p.Sight == OwnerOnly || t.Cards[p.Cards[index]].Side == Front
}
