package sight

import (
	"cmp"
	"maps"
	"math"
	"slices"

	"damselfly.example/damselfly/internal/core/grid"
	"damselfly.example/damselfly/internal/core/table"
)

// View is all that one viewer may see of a table.
type View struct {
	You      Viewer         `json:"you" doc:"Your seat; 0 if you only watch."`
	Settings table.Settings `json:"settings"`
	Seats    []Seat         `json:"seats"`
	Decks    []Deck         `json:"decks"`
	Places   []Place        `json:"places" doc:"In the order of their ids."`
	Faces    Faces          `json:"faces" doc:"What the cards show, by the words that they name it by. You are told each face once."`
	Pieces   []table.Piece  `json:"pieces" doc:"In the order of their ids."`
	Marker   table.Marker   `json:"marker" doc:"The turn marker."`
	Asks     []table.Ask    `json:"asks" doc:"Asks that wait for an answer."`
}

// Seat is a player's position as everyone sees it.
type Seat struct {
	Number Viewer `json:"number"`
	Name   string `json:"name,omitempty" doc:"Empty while the seat is free."`
	Colour string `json:"colour"`
}

// Deck is what everyone knows of a deck: how its cards look from outside.
type Deck struct {
	Key     string  `json:"key"`
	Name    string  `json:"name"`
	Outline string  `json:"outline" enum:"rounded,square,hexagon,oval"`
	Wide    float64 `json:"wide" doc:"Millimetres, as the card lies."`
	High    float64 `json:"high"`
}

// Laid is how a place is laid.
type Laid struct {
	Name     string        `json:"name"`
	Kind     table.Kind    `json:"kind" enum:"pile,row,hand,grid,cell,loose"`
	Owner    Viewer        `json:"owner,omitempty" doc:"The seat it belongs to."`
	Sight    table.Sight   `json:"sight" enum:"open,owner,none"`
	Locked   bool          `json:"locked,omitempty"`
	X        float64       `json:"x" doc:"Centre, millimetres from the table's left edge."`
	Y        float64       `json:"y"`
	Wide     float64       `json:"wide"`
	High     float64       `json:"high"`
	Turn     int           `json:"turn,omitempty" doc:"Degrees clockwise that the place is turned."`
	Grid     *grid.Grid    `json:"grid,omitempty" doc:"Of a grid: its cells. Cards on a cell lie in a place of their own, such as marsh/B3."`
	Of       table.PlaceID `json:"of,omitempty" doc:"Of a cell: its grid."`
	Capacity int           `json:"capacity,omitempty" doc:"How many cards it takes at most; any number if left out."`
	Arrival  table.Arrival `json:"arrival,omitzero" doc:"What it does to a card that comes in."`
}

// Holds is what lies at a place, but for the cards that can be told apart.
type Holds struct {
	Count  int     `json:"count" doc:"How many cards lie there."`
	Step   float64 `json:"step,omitempty" doc:"Millimetres between the centres of neighbouring cards of a row; the spread is centred."`
	Looker Viewer  `json:"looker,omitempty" doc:"The seat that looks into it now."`
	Looks  int     `json:"looks,omitempty" doc:"How many cards from the top it looks at."`
	Veils  []Veil  `json:"veils,omitempty" doc:"What shows of cards you may not tell apart; in no order."`
}

// Place is a place as one viewer sees it.
type Place struct {
	ID table.PlaceID `json:"id"`
	Laid
	Holds
	Cards []Card `json:"cards,omitempty" doc:"The cards you have before your eyes, left to right; of a pile the top card, or those you look at, the top one last."`
}

// Card is a card as one viewer sees it.
type Card struct {
	Handle Handle     `json:"handle" doc:"Your name for the card while it is before your eyes."`
	Face   Word       `json:"face" doc:"The face that you see of it, by its word."`
	Side   table.Side `json:"side" enum:"front,back" doc:"The side that is up; in your own hand you see the front, whichever is up."`
	Turn   int        `json:"turn,omitempty" doc:"Degrees clockwise."`
}

// Veil is how many cards of a place show the same veil.
type Veil struct {
	Face  Word `json:"face"`
	Count int  `json:"count"`
}

// View returns all that a viewer may see, with the faces that are in it.
func (g *Gate) View(t *table.Table, viewer Viewer) View {
	v := View{You: viewer, Settings: g.pictures.settings(t.Settings), Seats: seats(t), Decks: decks(t), Places: []Place{}, Pieces: []table.Piece{}, Marker: t.Marker, Asks: asks(t)}
	to := &untold{faces: Faces{}}
	for _, id := range t.PlaceIDs() {
		v.Places = append(v.Places, g.place(t, t.Places[id], viewer, to))
	}
	v.Faces = to.faces
	for _, id := range slices.Sorted(maps.Keys(t.Pieces)) {
		v.Pieces = append(v.Pieces, g.pictures.piece(*t.Pieces[id]))
	}
	return v
}

func asks(t *table.Table) []table.Ask {
	all := make([]table.Ask, 0, len(t.Asks))
	for _, id := range slices.Sorted(maps.Keys(t.Asks)) {
		ask := t.Asks[id]
		ask.Undo = 0 // numbers of entries tell how many there were
		all = append(all, ask)
	}
	return all
}

func seats(t *table.Table) []Seat {
	all := make([]Seat, 0, len(t.Chairs))
	for _, c := range t.Chairs {
		all = append(all, Seat{Number: c.Seat, Name: c.Name, Colour: c.Colour})
	}
	return all
}

func decks(t *table.Table) []Deck {
	all := make([]Deck, 0, len(t.Decks))
	for _, key := range slices.Sorted(maps.Keys(t.Decks)) {
		d := t.Decks[key]
		all = append(all, Deck{Key: d.Key, Name: d.Name, Outline: d.Outline, Wide: d.Wide, High: d.High})
	}
	return all
}

// place is a place before a viewer's eyes. What it shows is told.
func (g *Gate) place(t *table.Table, p *table.Place, viewer Viewer, to *untold) Place {
	seen := Place{ID: p.ID, Laid: laid(p), Holds: holds(t, p)}
	for i := t.InView(p); i < len(p.Cards); i++ {
		if t.Audience(p, i).Includes(viewer) {
			seen.Cards = append(seen.Cards, g.card(t, p, i, viewer, to))
		}
	}
	g.veil(t, p, viewer, &seen.Holds, len(seen.Cards), to)
	if !p.Kind.Stacked() && len(seen.Cards) < len(p.Cards) { // where among the hidden ones they lie is not shown
		slices.SortFunc(seen.Cards, func(a, b Card) int { return cmp.Compare(a.Handle, b.Handle) })
	}
	return seen
}

func laid(p *table.Place) Laid {
	return Laid{
		Name: p.Name, Kind: p.Kind, Owner: p.Owner, Sight: p.Sight, Locked: p.Locked,
		X: hundredths(p.X), Y: hundredths(p.Y), Wide: hundredths(p.Wide), High: hundredths(p.High),
		Turn: p.Turn, Grid: p.Grid, Of: p.Of, Capacity: p.Capacity, Arrival: p.Arrival,
	}
}

// hundredths of a millimetre are as fine as places are told.
func hundredths(mm float64) float64 { return math.Round(mm*100) / 100 }

func holds(t *table.Table, p *table.Place) Holds {
	h := Holds{Count: len(p.Cards)}
	if look, looking := t.Looks[p.ID]; looking {
		h.Looker, h.Looks = look.Seat, look.Count
	}
	return h
}

// veil adds what shows of the cards that a viewer may not tell apart, or how far apart
// those of a row lie that they may.
func (g *Gate) veil(t *table.Table, p *table.Place, viewer Viewer, h *Holds, seen int, to *untold) {
	switch {
	case len(p.Cards) == 0:
	case p.Kind.Stacked():
		if seen == 0 {
			h.Veils = g.veils(t, p.Cards, to)
		}
	case seen == len(p.Cards):
		h.Step = hundredths(table.Step(len(p.Cards), widest(t, p), p.Wide))
	default:
		hidden := make([]table.CardID, 0, len(p.Cards)-seen)
		for i, card := range p.Cards {
			if !t.Audience(p, i).Includes(viewer) {
				hidden = append(hidden, card)
			}
		}
		h.Veils = g.veils(t, hidden, to)
	}
}

// card is the card at an index of a place, before the eyes of a viewer who is
// in its audience.
func (g *Gate) card(t *table.Table, p *table.Place, index int, viewer Viewer, to *untold) Card {
	id := p.Cards[index]
	c, design := t.Cards[id], t.Design(id)
	seen := Card{Handle: g.held[id].handle, Side: c.Side, Turn: c.Turn}
	if t.FrontSeen(viewer, p, index) {
		seen.Face = g.front(c.Deck, design, t.Leaving[id], to)
	} else {
		seen.Face = g.outside(c.Deck, design.Back, to)
	}
	return seen
}

// veils counts what shows of cards that may not be told apart. Their order
// says nothing about the order of the cards.
func (g *Gate) veils(t *table.Table, cards []table.CardID, to *untold) []Veil {
	counts := map[outside]int{}
	for _, id := range cards {
		deck := t.Decks[t.Cards[id].Deck]
		veil := outside{deck.Key, deck.Veil}
		if veil.picture.Small == "" {
			veil.picture = t.Design(id).Back
		}
		counts[veil]++
	}
	sorted := slices.SortedFunc(maps.Keys(counts), func(a, b outside) int {
		return cmp.Or(cmp.Compare(a.deck, b.deck), cmp.Compare(a.picture.Small, b.picture.Small))
	})
	all := make([]Veil, len(sorted))
	for i, veil := range sorted {
		all[i] = Veil{Face: g.outside(veil.deck, veil.picture, to), Count: counts[veil]}
	}
	return all
}

// outside is how a card looks that shows no front.
type outside struct {
	deck    string
	picture table.Picture
}

func widest(t *table.Table, p *table.Place) float64 {
	wide := 0.0
	for _, id := range p.Cards {
		wide = max(wide, t.Decks[t.Cards[id].Deck].Wide)
	}
	return wide
}
