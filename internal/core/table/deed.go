package table

import "strconv"

// Deed is one line of the log before it is told: who did what with which
// cards. It is journaled, and core/sight makes of it what each viewer may read.
type Deed struct {
	Actor   Seat      `json:"actor"`
	Who     string    `json:"who"` // the actor's name at the time
	Do      string    `json:"do"`
	Count   int       `json:"count,omitempty"`
	Which   Which     `json:"which,omitempty"`
	From    *Spot     `json:"from,omitempty"`
	To      *Spot     `json:"to,omitempty"`
	Under   bool      `json:"under,omitempty"`
	Side    Side      `json:"side,omitempty"`
	Seconds int       `json:"seconds,omitempty"` // for how long
	Piece   string    `json:"piece,omitempty"`   // a piece's name
	Text    string    `json:"text,omitempty"`    // what was said, or came up
	At      []float64 `json:"at,omitempty"`      // where to, in millimetres
	Among   int       `json:"among,omitempty"`   // how many cards were searched
	Parts   []Part    `json:"parts,omitempty"`   // from where, if from several places
	Cards   []Witness `json:"cards,omitempty"`
}

// Part is how many cards a deed took from one place; 0 if it was searched in vain.
type Part struct {
	Spot  *Spot `json:"spot"`
	Count int   `json:"count,omitempty"`
}

// Told is a deed as far as one viewer may know it, ready to be put in words.
type Told struct {
	Deed            // without its cards
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
func (d *draft) tell(deed Deed) {
	if deed.From != nil && deed.To != nil && deed.From.Place == deed.To.Place {
		if p := d.table.Places[deed.To.Place]; p != nil && p.silent() {
			return // what happens inside a hand
		}
	}
	deed.Actor, deed.Who = d.actor, d.table.seatName(d.actor)
	if d.actor == 0 {
		deed.Who = "table"
	}
	d.say(deed)
}

// say adds a deed.
func (d *draft) say(deed Deed) {
	d.weigh(200 + len(deed.Text) + len(deed.Piece) + 120*len(deed.Cards) + 150*len(deed.Parts))
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
