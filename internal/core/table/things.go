// Package table is the heart of Damselfly: the things on a table, the actions
// that change them, and the small invertible edits an action becomes.
//
// It is pure computation. Time, chance and ids are arguments; the same table,
// actor, action and chance give the same edits on every machine.
//
//	edits, deeds, refusal := t.Apply(table.Seat(1), table.Draw{From: "weather", Count: 2}, circumstances)
//	// t has changed; edits is what to keep, deeds is what to tell
//	other.Fold(edits)            // on another copy of the table gives the same table
//	t.Fold(table.Inverse(edits)) // gives the former table back
package table

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"damselfly.example/damselfly/internal/core/grid"
)

// CardID names one card inside the core. Viewers never learn it: they name cards
// by a Handle. As JSON it is a string in base 32.
type CardID uint64

// MarshalText writes the id in base 32.
func (c CardID) MarshalText() ([]byte, error) {
	return strconv.AppendUint(nil, uint64(c), 32), nil
}

// UnmarshalText reads what MarshalText wrote.
func (c *CardID) UnmarshalText(text []byte) error {
	n, err := strconv.ParseUint(string(text), 32, 64)
	if err != nil {
		return fmt.Errorf("%q names no card", clipped(string(text)))
	}
	*c = CardID(n)
	return nil
}

// PlaceID names a place: a zone's key ("sky"), a zone of a seat ("satchel/2"),
// or a loose pile on the felt ("felt/17").
type PlaceID string

// Parts takes an id apart: a grid and the name of its cell, the key of a zone that every
// seat has and the seat's number, or "felt" and a number. Of any other id the second part
// is empty.
func (id PlaceID) Parts() (of PlaceID, rest string) {
	first, rest, _ := strings.Cut(string(id), "/")
	return PlaceID(first), rest
}

// Seat is a player's position, numbered from 1. Zero is nobody: a spectator
// as a viewer, the service itself as an actor.
type Seat int

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

// The kinds of places. A Loose place is a card or pile on the felt, a Cell one
// on a cell of a Grid: they come with their first card and go with their last.
// A Grid itself holds no cards.
const (
	Pile  Kind = "pile"
	Row   Kind = "row"
	Hand  Kind = "hand"
	Grid  Kind = "grid"
	Cell  Kind = "cell"
	Loose Kind = "loose"
)

// ZoneKinds lists the kinds of places that a maker lays.
var ZoneKinds = []Kind{Pile, Row, Grid, Hand}

// Stacked reports whether only the top card of such a place is in view.
func (k Kind) Stacked() bool { return k == Pile || k == Loose || k == Cell }

// silent reports whether others learn nothing of what its owner does inside the
// place: the owner sees every card of it.
func (p *Place) silent() bool { return p.Sight == OwnerOnly && !p.Kind.Stacked() }

// InView is the index from which on a place's cards can be before anybody's eyes:
// all of a row, of a pile the top card and those that somebody looks at.
func (t *Table) InView(p *Place) int {
	if !p.Kind.Stacked() {
		return 0
	}
	lowest := max(len(p.Cards)-1, 0)
	if _, looking := t.Looks[p.ID]; looking {
		t.ready()
		for i, card := range p.Cards {
			if t.looked[card] != 0 {
				return i
			}
		}
	}
	return lowest
}

// Passing reports whether such a place goes with its last card.
func (k Kind) Passing() bool { return k == Loose || k == Cell }

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
	Turn   *int `json:"turn,omitempty"`   // degrees; nil: as it is
	Bottom bool `json:"bottom,omitempty"` // goes under, or to the start of a row
}

// Place holds cards in an order: index 0 is the bottom of a pile and the left
// of a row. Lengths are millimetres of table, X and Y the centre.
type Place struct {
	ID       PlaceID    `json:"id"`
	Name     string     `json:"name"`
	Kind     Kind       `json:"kind"`
	Owner    Seat       `json:"owner,omitempty"`
	Sight    Sight      `json:"sight"`
	Arrival  Arrival    `json:"arrival,omitzero"`
	Capacity int        `json:"capacity,omitempty"` // 0: no limit
	Locked   bool       `json:"locked,omitempty"`
	X        float64    `json:"x"`
	Y        float64    `json:"y"`
	Wide     float64    `json:"wide"`
	High     float64    `json:"high"`
	Turn     int        `json:"turn,omitempty"` // degrees clockwise that the zone is turned
	Grid     *grid.Grid `json:"grid,omitempty"` // of a Grid: its cells
	Of       PlaceID    `json:"of,omitempty"`   // of a Cell: its grid
	Cards    []CardID   `json:"cards,omitempty"`
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
	Key    string            `json:"key"`
	Name   string            `json:"name"`
	Front  Picture           `json:"front"`
	Back   Picture           `json:"back"`
	Fields map[string]string `json:"fields,omitempty"` // to filter and sort by

	Revision int  `json:"revision,omitempty"` // how often it changed while the table was in play
	Former   bool `json:"former,omitempty"`   // the deck's edition has it no more; it stands with the deck, not there
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
	Designs map[string]Design `json:"designs,omitempty"`
	Edition *EditionOf        `json:"edition,omitempty"` // where the designs stand, if not here
}

// EditionOf names an edition of a kit, of which a deck is.
type EditionOf struct {
	Kit    string `json:"kit"`
	Number int    `json:"number"`
}

// Chair is the state of a seat: who has it and its colour. A free seat has no
// name.
type Chair struct {
	Seat   Seat   `json:"seat"`
	Name   string `json:"name,omitempty"`
	Colour string `json:"colour"`
	Salt   string `json:"salt,omitempty"`   // what its player adds to chance
	Tenure uint64 `json:"tenure,omitempty"` // the entry in which its player took it
}

// Settings are the table's own: its name, its size in millimetres, by how many
// degrees one turn of a card turns it (90 if zero), and who may do what.
type Settings struct {
	Name string  `json:"name"`
	Wide float64 `json:"wide"`
	High float64 `json:"high"`
	Turn int     `json:"turn,omitempty"`
	Mat  Picture `json:"mat,omitzero" doc:"The picture that lies under everything."`
	Host Seat    `json:"host,omitempty" doc:"The seat that has the room's keys."`

	Arrange    string `json:"arrange,omitempty" enum:"host,everyone" doc:"Who may arrange the table; the host if left out."`
	Setup      string `json:"setup,omitempty" doc:"The Steps that set the game up."`
	Locked     bool   `json:"locked,omitempty" doc:"Nobody new comes in."`
	Spectators string `json:"spectators,omitempty" enum:"yes,no" doc:"Whether people may watch; as the room was opened if left out."`
	Ended      bool   `json:"ended,omitempty" doc:"The game has ended: nothing is done any more, and the seed of its chance is known."`
}

// Marker is the turn marker: whose turn it is, who was first, and which way it
// goes round. It informs; it forbids nothing.
type Marker struct {
	Seat      Seat `json:"seat,omitempty"`  // 0: nobody's yet
	First     Seat `json:"first,omitempty"` // 0: not chosen
	Backwards bool `json:"backwards,omitempty"`
}

// Look is a seat looking at the top cards of a place it may not see into.
// Nobody else can change the place meanwhile.
type Look struct {
	Place PlaceID  `json:"place"`
	Seat  Seat     `json:"seat"`
	Count int      `json:"count"`           // how many cards it is at
	Cards []CardID `json:"cards,omitempty"` // those cards, the topmost last
}

// Brief is to whom a card is shown for a while, and until when.
type Brief struct {
	To   Audience `json:"to"`
	Ends int64    `json:"ends"` // milliseconds since 1970
}

// Ask is a request to another seat that it agrees to or declines.
type Ask struct {
	ID    int     `json:"id"`
	From  Seat    `json:"from"`
	To    Seat    `json:"to"`
	Place PlaceID `json:"place"`
	For   string  `json:"for"` // "take", "peek" or "undo"
	Count int     `json:"count"`
	Undo  uint64  `json:"undo,omitempty"` // the entry that would be taken back; no viewer is told it
}

// Table is everything on one table. The zero value is an empty table. It is
// changed only by Apply and Fold, and is not safe for concurrent use.
type Table struct {
	Settings Settings            `json:"settings"`
	Decks    map[string]*Deck    `json:"decks"`
	Chairs   []Chair             `json:"chairs"` // Chairs[0] is seat 1
	Places   map[PlaceID]*Place  `json:"places"`
	Cards    map[CardID]*Card    `json:"cards"`
	Pieces   map[PieceID]*Piece  `json:"pieces,omitempty"`
	Laid     map[PieceID]*Piece  `json:"laid,omitempty"` // the pieces as they were laid, before anybody played with them
	Marker   Marker              `json:"marker,omitzero"`
	Looks    map[PlaceID]Look    `json:"looks,omitempty"`
	Shown    map[CardID]Audience `json:"shown,omitempty"` // hand cards shown to others
	Brief    map[CardID]Brief    `json:"brief,omitempty"` // those of them that are shown for a while only
	Asks     map[int]Ask         `json:"asks,omitempty"`
	Made     uint64              `json:"made"`              // felt places, asks and cards of later editions ever made
	Leaving  map[CardID]bool     `json:"leaving,omitempty"` // cards that the kit has no more; they go once everybody sees them
	Draws    map[Seat]uint64     `json:"draws,omitempty"`   // how often chance was drawn; apart, by each seat inside its own hand

	past   []past          // for undo; not part of the state
	looked map[CardID]Seat // who looks at a card; follows from Looks
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

// Audience is the set of viewers who have a card before their eyes, and so may
// name it: bit n for seat n, bit 0 for spectators.
type Audience uint32

// The audiences that are not single seats.
const (
	Nobody   Audience = 0
	Everyone Audience = 1<<(MaxSeats+1) - 1
)

// Only is the audience of one viewer.
func Only(viewer Seat) Audience { return 1 << viewer }

// Includes reports whether a viewer belongs to the audience.
func (a Audience) Includes(viewer Seat) bool { return a&Only(viewer) != 0 }

// Covers reports whether everybody in b is in a too.
func (a Audience) Covers(b Audience) bool { return b&^a == 0 }

// Audience returns who has the card at an index of a place before their eyes,
// whichever side is up.
func (t *Table) Audience(p *Place, index int) Audience {
	a := Nobody
	if !p.Kind.Stacked() || index == len(p.Cards)-1 {
		switch {
		case p.Sight == Open:
			a = Everyone
		case p.Sight == OwnerOnly && p.Owner != 0:
			a = Only(p.Owner)
		}
	}
	return a | t.frontShown(p, index)
}

// frontShown is who sees the front of a card by looking at it, or because it
// is shown to them.
func (t *Table) frontShown(p *Place, index int) Audience {
	a := Nobody
	if p.Sight == OwnerOnly {
		a = t.Shown[p.Cards[index]]
	}
	if len(t.Looks) > 0 {
		t.ready()
		if seat := t.looked[p.Cards[index]]; seat != 0 {
			a |= Only(seat)
		}
	}
	return a
}

// FrontSeen reports whether a viewer sees the front of the card at an index
// of the place.
func (t *Table) FrontSeen(viewer Seat, p *Place, index int) bool {
	if t.frontShown(p, index).Includes(viewer) {
		return true
	}
	if !t.Audience(p, index).Includes(viewer) {
		return false
	}
	return p.Sight == OwnerOnly || t.Cards[p.Cards[index]].Side == Front
}
