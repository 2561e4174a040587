package table

import (
	"math"
	"slices"

	"damselfly.example/damselfly/internal/core/grid"
)

// Move puts cards somewhere else, keeping their order. Discarding is a move.
type Move struct {
	Pick
	To   Target `json:"to" doc:"Where the cards go."`
	Side Side   `json:"side,omitempty" enum:"front,back" doc:"Turn them to this side first."`
}

// Target is where cards go: a place, or with X and Y a new spot on the felt.
type Target struct {
	Place PlaceID  `json:"place,omitempty" doc:"The place; leave out with x and y."`
	Index *int     `json:"index,omitempty" minimum:"0" doc:"The index the first card will have, 0 at the bottom or left; the place's own rule if left out."`
	Under bool     `json:"under,omitempty" doc:"Put them underneath, or at the left end of a row."`
	Felt  bool     `json:"felt,omitempty" doc:"Put them on the felt, nearest your seat; with x and y this is not needed."`
	X     *float64 `json:"x,omitempty" doc:"Millimetres from the table's left edge to the card's centre."`
	Y     *float64 `json:"y,omitempty" doc:"Millimetres from the table's upper edge to the card's centre."`
}

func (a Move) plan(d *draft) *Refusal {
	if a.Side != "" && a.Side != Front && a.Side != Back {
		return refuse(NotUnderstood, "A card has a front and a back, no %q.", a.Side)
	}
	if to := a.To; !to.Felt && (to.X == nil || to.Y == nil) { // what can be checked is, before anything is searched
		if _, refusal := d.target(to, nil); refusal != nil {
			return refusal
		}
	}
	picked, refusal := a.cards(d)
	if refusal != nil {
		return refusal
	}
	to, refusal := d.target(a.To, picked)
	if refusal != nil {
		return refusal
	}
	if refusal := d.room(to, picked); refusal != nil {
		return refusal
	}
	from := d.spotOf(picked)
	inside := from != nil && from.Place == to.ID
	if inside {
		if refusal := d.own(to); refusal != nil {
			return refusal
		}
	}
	seen := d.witness(nil, picked)
	target := d.spot(to)
	if a.Side != "" {
		d.turn(picked, a.Side)
	}
	d.carry(picked, to, a.To.Index, a.To.Under)
	if inside && to.silent() {
		return nil
	}
	d.tell("move", Moved{Chosen: Chosen{Count: len(picked), Which: a.which(), From: from, Cards: d.witness(seen, picked)}, To: target, Under: a.To.Under, Side: a.Side})
	return nil
}

// which is the end the pick was made from, as far as the log may say it.
func (k Pick) which() Which {
	if len(k.Cards) > 0 || len(k.Names) > 0 || k.Where != nil {
		return ""
	}
	return k.Which
}

// target finds the place cards go to, making one on the felt if asked.
func (d *draft) target(to Target, cards []CardID) (*Place, *Refusal) {
	if to.Felt && (to.X == nil || to.Y == nil) {
		x, y := d.table.nearest(d.actor)
		to.X, to.Y = &x, &y
	}
	if to.X == nil || to.Y == nil {
		p, refusal := d.place(to.Place)
		if refusal == nil && p.Kind == Grid {
			refusal = refuse(NoSuchCell, "%s is a grid; name one of its cells, such as \"%s B3\".", p.Name, p.Name)
		}
		if refusal == nil {
			refusal = d.unlooked(p)
		}
		return p, refusal
	}
	x := min(max(*to.X, 0), d.table.Settings.Wide)
	y := min(max(*to.Y, 0), d.table.Settings.High)
	return d.felt(x, y, d.table.Decks[d.table.Cards[cards[0]].Deck]), nil
}

// felt makes a place on the felt for a card.
func (d *draft) felt(x, y float64, deck *Deck) *Place {
	made := d.table.Made + 1
	d.do(Count{Before: d.table.Made, After: made})
	p := Place{
		ID: PlaceID("felt/" + itoa(int(made))), Name: "felt", Kind: Loose, Sight: Open,
		X: x, Y: y, Wide: deck.Wide, High: deck.High,
	}
	d.do(PutPlace{After: &p})
	return d.table.Places[p.ID]
}

// cell finds the place of a grid's cell, "marsh/B3", making it if no card lies
// there yet. It is nil if the id names no cell.
func (d *draft) cell(id PlaceID) (*Place, *Refusal) {
	of, name := id.Parts()
	grid := d.table.Places[of]
	if name == "" || grid == nil || grid.Kind != Grid {
		return nil, nil
	}
	at, ok := grid.Grid.Parse(name)
	if !ok {
		return nil, refuse(NoSuchCell, "%s has no cell %q; it goes from A1 to %s.", grid.Name, name,
			lastCell(grid.Grid)).with("columns", grid.Grid.Columns).with("rows", grid.Grid.Rows)
	}
	if p := d.table.Places[CellID(grid.ID, at)]; p != nil {
		return p, nil
	}
	p := grid.CellAt(at)
	d.do(PutPlace{After: &p})
	return d.table.Places[p.ID], nil
}

// room refuses what would overfill a place.
func (d *draft) room(p *Place, cards []CardID) *Refusal {
	coming := 0
	for _, id := range cards {
		if d.table.Cards[id].Place != p.ID {
			coming++
		}
	}
	return d.roomFor(p, coming)
}

func (d *draft) roomFor(p *Place, coming int) *Refusal {
	if p.Capacity > 0 {
		d.numbered()
	}
	if p.Capacity == 0 || d.count(p)+coming <= p.Capacity {
		return nil
	}
	return refuse(TooMany, "%s holds %s and has %d, so %d more do not fit.",
		p.Name, counted(p.Capacity, "card"), len(p.Cards), coming).
		with("holds", p.Capacity).with("has", len(p.Cards)).with("coming", coming)
}

// carry splices cards into a place, run by run and each run right after the
// one before, at an index or where the place wants arrivals, and lays them as
// the place wants them. Felt places that are left empty go.
func (d *draft) carry(cards []CardID, to *Place, index *int, under bool) {
	d.carried(cards, to)
	d.transfer(cards, to, index, under)
}

// transfer is carry without what it means for doubts.
func (d *draft) transfer(cards []CardID, to *Place, index *int, under bool) {
	in := len(to.Cards)
	if to.Arrival.Bottom || under {
		in = 0
	}
	if index != nil {
		in = max(*index, 0)
	}
	for len(cards) > 0 {
		from, at := d.table.At(cards[0])
		run := 1
		for run < len(cards) && at+run < len(from.Cards) && from.Cards[at+run] == cards[run] {
			run++
		}
		room := len(to.Cards)
		if from == to {
			room -= run
		}
		in = min(in, room)
		if from != to {
			d.lookShrinks(from, cards[:run])
		}
		d.do(Splice{From: from.ID, At: at, To: to.ID, In: in, Cards: slices.Clone(cards[:run])})
		in += run
		if from != to {
			d.arrive(cards[:run], to)
			d.clear(from)
		} else if len(cards) > run {
			if _, next := d.table.At(cards[run]); next < in {
				in-- // taking the next run out moves everything after it down
			}
		}
		cards = cards[run:]
	}
}

// arrive lays cards as their new place wants them.
func (d *draft) arrive(cards []CardID, p *Place) {
	for _, id := range cards {
		c := d.table.Cards[id]
		lie := Lie{Side: c.Side, Turn: c.Turn}
		after := lie
		if p.Arrival.Side != "" {
			after.Side = p.Arrival.Side
		}
		if p.Arrival.Turn != nil {
			after.Turn = *p.Arrival.Turn
		}
		d.show(id, Nobody, Brief{})     // if it was shown in a hand, it left it
		if after != lie || p.silent() { // into a hand in any case, so that undo knows how it lay
			d.do(SetLie{Card: id, Before: lie, After: after})
		}
	}
}

// clear takes a felt place or a cell away once it is empty.
func (d *draft) clear(p *Place) {
	if p.Kind.Passing() && len(p.Cards) == 0 {
		gone := *p
		gone.Cards = nil
		d.do(PutPlace{Before: &gone})
	}
}

func lastCell(g *grid.Grid) string { return grid.Cell{Column: g.Columns - 1, Row: g.Rows - 1}.Name() }

// CellID is the place of a cell of a grid.
func CellID(of PlaceID, at grid.Cell) PlaceID { return of + "/" + PlaceID(at.Name()) }

// turned is where a point comes to lie when it is turned round the origin, clockwise.
func turned(x, y float64, degrees int) (float64, float64) {
	if degrees == 0 {
		return x, y
	}
	sin, cos := math.Sincos(float64(degrees) * math.Pi / 180)
	return x*cos - y*sin, x*sin + y*cos
}

// CellAt is the place of a grid's cell as it is made when a card comes to lie
// there. Cards lie there as the grid wants them.
func (p *Place) CellAt(at grid.Cell) Place {
	columns, rows := p.Grid.Size()
	x, y := p.Grid.Middle(at)
	wide, high := p.Wide/columns, p.High/rows
	x, y = turned(x*wide-p.Wide/2, y*high-p.High/2, p.Turn)
	return Place{
		ID: CellID(p.ID, at), Name: p.Name + " " + at.Name(), Kind: Cell, Of: p.ID, Owner: p.Owner, Sight: p.Sight,
		Arrival: p.Arrival, Capacity: p.Capacity, X: p.X + x, Y: p.Y + y, Wide: wide, High: high, Turn: p.Turn,
	}
}
