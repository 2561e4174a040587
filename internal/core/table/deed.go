package table

import (
	"encoding/json"
	"fmt"
	"reflect"
	"strconv"
)

// Deed is one line of the log before it is told: who did what with which
// cards. It is journaled, and core/sight makes of it what each viewer may read.
type Deed struct {
	Actor Seat
	Who   string // the actor's name at the time
	Do    string // a word of deedKinds
	Of    Of
}

// Spots are the places that a deed names, where it ends last.
func (d Deed) Spots() []*Spot { return d.Of.spots() }

// Witnesses are the cards of a deed and who saw their fronts.
func (d Deed) Witnesses() []Witness { return d.Of.witnesses() }

// deedHead is what deeds of all kinds have.
type deedHead struct {
	Actor Seat   `json:"actor"`
	Who   string `json:"who"`
	Do    string `json:"do"`
}

// MarshalJSON writes one object of what all deeds have and what its kind has.
func (d Deed) MarshalJSON() ([]byte, error) {
	head, err := json.Marshal(deedHead{d.Actor, d.Who, d.Do})
	if err != nil {
		return nil, err
	}
	of, err := json.Marshal(d.Of)
	if err != nil || len(of) <= len("{}") {
		return head, err
	}
	return append(append(head[:len(head)-1], ','), of[1:]...), nil
}

// UnmarshalJSON reads what MarshalJSON wrote.
func (d *Deed) UnmarshalJSON(text []byte) error {
	var head deedHead
	if err := json.Unmarshal(text, &head); err != nil {
		return err
	}
	kind, known := deedKinds[head.Do]
	if !known {
		return fmt.Errorf("the journal tells of a deed %q, which is not known here", head.Do)
	}
	of := reflect.New(reflect.TypeOf(kind))
	if err := json.Unmarshal(text, of.Interface()); err != nil {
		return err
	}
	*d = Deed{head.Actor, head.Who, head.Do, of.Elem().Interface().(Of)}
	return nil
}

// Part is how many cards a deed took from one place; 0 if it was searched in vain.
type Part struct {
	Spot  *Spot `json:"spot"`
	Count int   `json:"count,omitempty"`
}

// Told is a deed as far as one viewer may know it, ready to be put in words.
type Told struct {
	Deed
	Viewer Seat     // for "my"
	Names  []string // of the cards whose fronts the viewer saw
}

// Spot is a place as it was called at the time.
type Spot struct {
	Place PlaceID `json:"place"`
	Name  string  `json:"name"`
	Owner Seat    `json:"owner,omitempty"`
	Whose string  `json:"whose,omitempty"` // the owner's name
	Kind  Kind    `json:"kind"`
}

// Witness is a card in a deed with the viewers who saw its front, before or
// after: bit n for seat n, bit 0 for spectators.
type Witness struct {
	Name string `json:"name"`
	Seen uint32 `json:"seen"`
}

// SeenBy reports whether a viewer saw the card's front.
func (w Witness) SeenBy(viewer Seat) bool { return w.Seen&(1<<viewer) != 0 }

func itoa(n int) string { return strconv.Itoa(n) }

func (d *draft) spot(p *Place) *Spot {
	s := &Spot{Place: p.ID, Name: p.Name, Owner: p.Owner, Kind: p.Kind}
	if p.Owner != 0 {
		s.Whose = d.table.seatName(p.Owner)
	}
	return s
}

// tell adds a deed in the actor's name, unless it is nobody else's business.
func (d *draft) tell(do string, of Of) {
	if m, moved := of.(Moved); moved && m.From != nil && m.To != nil && m.From.Place == m.To.Place {
		if p := d.table.Places[m.To.Place]; p != nil && p.silent() {
			return // what happens inside a hand
		}
	}
	who := d.table.seatName(d.actor)
	if d.actor == 0 {
		who = "table"
	}
	d.say(Deed{d.actor, who, do, of})
}

// say adds a deed.
func (d *draft) say(deed Deed) {
	d.weigh(300 + 120*len(deed.Witnesses()) + 150*len(deed.Spots()))
	d.deeds = append(d.deeds, deed)
}

// witness notes who sees the fronts of cards now. Call it before and after
// the edits on the same list.
func (d *draft) witness(list []Witness, cards []CardID) []Witness {
	if list == nil {
		list = make([]Witness, len(cards))
	}
	var p *Place
	index := -1
	for i, id := range cards {
		if index++; p == nil || index >= len(p.Cards) || p.Cards[index] != id { // mostly the next one
			p, index = d.table.At(id)
		}
		list[i].Name = d.table.Design(id).Name
		for viewer := Seat(0); int(viewer) <= len(d.table.Chairs); viewer++ {
			if d.table.FrontSeen(viewer, p, index) {
				list[i].Seen |= 1 << viewer
			}
		}
	}
	return list
}
