package sight

import (
	"cmp"
	"maps"
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

// Place is a place as one viewer sees it.
type Place struct {
	ID       table.PlaceID `json:"id"`
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
	Count    int           `json:"count" doc:"How many cards lie there."`
	Step     float64       `json:"step,omitempty" doc:"Millimetres between the centres of neighbouring cards of a row; the spread is centred."`
	Grid     *grid.Grid    `json:"grid,omitempty" doc:"Of a grid: its cells. Cards on a cell lie in a place of their own, such as marsh/B3."`
	Of       table.PlaceID `json:"of,omitempty" doc:"Of a cell: its grid."`
	Capacity int           `json:"capacity,omitempty" doc:"How many cards it takes at most; any number if left out."`
	Arrival  table.Arrival `json:"arrival,omitzero" doc:"What it does to a card that comes in."`
	Looker   Viewer        `json:"looker,omitempty" doc:"The seat that looks into it now."`
	Looks    int           `json:"looks,omitempty" doc:"How many cards from the top it looks at."`
	Cards    []Card        `json:"cards,omitempty" doc:"The cards you have before your eyes, left to right; of a pile the top card, or those you look at, the top one last."`
	Veils    []Veil        `json:"veils,omitempty" doc:"What shows of cards you may not tell apart; in no order."`
}

// Card is a card as one viewer sees it. Picture is the side they see; Name
// stands only beside a front.
type Card struct {
	Handle  Handle        `json:"handle" doc:"Your name for the card while it is before your eyes."`
	Deck    string        `json:"deck"`
	Side    table.Side    `json:"side" enum:"front,back" doc:"The side that is up."`
	Shows   table.Side    `json:"shows" enum:"front,back" doc:"The side you see: in your own hand the front, whichever is up."`
	Turn    int           `json:"turn,omitempty" doc:"Degrees clockwise."`
	Name    string        `json:"name,omitempty"`
	Picture table.Picture `json:"picture"`
}

// Veil is how many cards of a place show the same veil.
type Veil struct {
	Deck    string        `json:"deck"`
	Picture table.Picture `json:"picture"`
	Count   int           `json:"count"`
}

// View returns all that a viewer may see.
func (g *Gate) View(t *table.Table, viewer Viewer) View {
	v := View{You: viewer, Settings: t.Settings, Seats: seats(t), Decks: decks(t), Places: []Place{}, Pieces: []table.Piece{}, Marker: t.Marker, Asks: asks(t)}
	for _, id := range t.PlaceIDs() {
		v.Places = append(v.Places, g.place(t, t.Places[id], viewer))
	}
	for _, id := range slices.Sorted(maps.Keys(t.Pieces)) {
		v.Pieces = append(v.Pieces, *t.Pieces[id])
	}
	return v
}

func asks(t *table.Table) []table.Ask {
	all := make([]table.Ask, 0, len(t.Asks))
	for _, id := range slices.Sorted(maps.Keys(t.Asks)) {
		all = append(all, t.Asks[id])
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

// place is a place before a viewer's eyes.
func (g *Gate) place(t *table.Table, p *table.Place, viewer Viewer) Place {
	seen := Place{
		ID: p.ID, Name: p.Name, Kind: p.Kind, Owner: p.Owner, Sight: p.Sight, Locked: p.Locked,
		X: p.X, Y: p.Y, Wide: p.Wide, High: p.High, Grid: p.Grid, Of: p.Of, Count: len(p.Cards),
		Turn: p.Turn, Capacity: p.Capacity, Arrival: p.Arrival,
	}
	if look, looking := t.Looks[p.ID]; looking {
		seen.Looker, seen.Looks = look.Seat, look.Count
	}
	hidden := []table.CardID{}
	for i := t.InView(p); i < len(p.Cards); i++ {
		if t.Audience(p, i).Includes(viewer) {
			seen.Cards = append(seen.Cards, g.card(t, p, i, viewer))
		} else {
			hidden = append(hidden, p.Cards[i])
		}
	}
	switch {
	case p.Kind.Stacked():
		if len(seen.Cards) == 0 {
			seen.Veils = veils(t, p.Cards)
		}
	case len(hidden) == 0:
		if len(p.Cards) > 0 {
			seen.Step = table.Step(len(p.Cards), widest(t, p), p.Wide)
		}
	default: // some cards are shown; where among the hidden ones they lie is not
		slices.SortFunc(seen.Cards, func(a, b Card) int { return cmp.Compare(a.Handle, b.Handle) })
		seen.Veils = veils(t, hidden)
	}
	return seen
}

// card is the card at an index of a place, before the eyes of a viewer who is
// in its audience.
func (g *Gate) card(t *table.Table, p *table.Place, index int, viewer Viewer) Card {
	id := p.Cards[index]
	c, design := t.Cards[id], t.Design(id)
	seen := Card{Handle: g.held[id].handle, Deck: c.Deck, Side: c.Side, Shows: table.Back, Turn: c.Turn, Picture: design.Back}
	if t.FrontSeen(viewer, p, index) {
		seen.Shows, seen.Name, seen.Picture = table.Front, design.Name, design.Front
	}
	return seen
}

// veils counts what shows of cards that may not be told apart. Their order
// says nothing about the order of the cards.
func veils(t *table.Table, cards []table.CardID) []Veil {
	counts := map[Veil]int{}
	for _, id := range cards {
		deck := t.Decks[t.Cards[id].Deck]
		veil := Veil{Deck: deck.Key, Picture: deck.Veil}
		if veil.Picture.Small == "" {
			veil.Picture = t.Design(id).Back
		}
		counts[veil]++
	}
	all := make([]Veil, 0, len(counts))
	for veil, n := range counts {
		veil.Count = n
		all = append(all, veil)
	}
	slices.SortFunc(all, func(a, b Veil) int {
		return cmp.Or(cmp.Compare(a.Deck, b.Deck), cmp.Compare(a.Picture.Small, b.Picture.Small))
	})
	return all
}

func widest(t *table.Table, p *table.Place) float64 {
	wide := 0.0
	for _, id := range p.Cards {
		wide = max(wide, t.Decks[t.Cards[id].Deck].Wide)
	}
	return wide
}
