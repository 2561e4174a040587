package table

import "damselfly.example/damselfly/internal/core/grid"

// Spread lays the cards of a pile out one by one: into a row, or over the free
// cells of a grid by rows or by columns.
type Spread struct {
	Pick
	Over PlaceID `json:"over" doc:"A row, or a grid."`
	By   string  `json:"by,omitempty" enum:"rows,columns" doc:"The order of a grid's cells; rows if left out."`
}

func (a Spread) plan(d *draft) *Refusal {
	over, refusal := d.place(a.Over)
	if refusal != nil {
		return refusal
	}
	if over.Kind != Grid {
		return Move{Pick: a.Pick, To: Target{Place: a.Over}}.plan(d)
	}
	picked, refusal := a.cards(d)
	if refusal != nil {
		return refusal
	}
	d.numbered()
	d.countAll(over, d.within(over))
	free := d.freeCells(over, a.By == "columns")
	if len(free) < len(picked) {
		return refuse(TooMany, "%s has %s free, and %d cards come.", over.Name, counted(len(free), "cell"), len(picked)).
			with("holds", len(free)).with("coming", len(picked))
	}
	from, seen := d.spotOf(picked), d.witness(nil, picked)
	for i := len(picked) - 1; i >= 0; i-- { // the top card first
		cell, refusal := d.cell(CellID(over.ID, free[len(picked)-1-i]))
		if refusal != nil {
			return refusal
		}
		d.carry(picked[i:i+1], cell, nil, false)
	}
	d.tell("spread", Moved{Chosen: Chosen{Count: len(picked), Which: a.which(), From: from, Cards: d.witness(seen, picked)}, To: d.spot(over), By: a.By})
	return nil
}

// freeCells are the cells no card lies on, in reading order or column by column.
func (d *draft) freeCells(p *Place, byColumns bool) []grid.Cell {
	var free []grid.Cell
	g := p.Grid
	for i := range g.Columns * g.Rows {
		at := g.At(i)
		if byColumns {
			at = grid.Cell{Column: i / g.Rows, Row: i % g.Rows}
		}
		if d.table.Places[CellID(p.ID, at)] == nil {
			free = append(free, at)
		}
	}
	return free
}

// Collect takes all cards of a row, a pile or a grid together onto a pile.
type Collect struct {
	From PlaceID `json:"from" doc:"A place, or a grid with all its cells."`
	Onto PlaceID `json:"onto" doc:"The pile."`
}

func (a Collect) plan(d *draft) *Refusal {
	from, refusal := d.place(a.From)
	if refusal != nil {
		return refusal
	}
	if from.Kind != Grid {
		return Move{Pick: Pick{From: a.From, Which: Every}, To: Target{Place: a.Onto}}.plan(d)
	}
	picked, refusal := Pick{From: a.From, Which: Every}.cards(d)
	if refusal != nil {
		return refusal
	}
	onto, refusal := d.target(Target{Place: a.Onto}, picked)
	if refusal == nil {
		refusal = d.room(onto, picked)
	}
	if refusal != nil {
		return refusal
	}
	spot, seen := d.spot(from), d.witness(nil, picked)
	d.carry(picked, onto, nil, false)
	d.tell("collect", Moved{Chosen: Chosen{Count: len(picked), From: spot, Cards: d.witness(seen, picked)}, To: d.spot(onto)})
	return nil
}

// Rotate turns cards by the table's step.
type Rotate struct {
	Pick
	Steps int `json:"steps,omitempty" doc:"How many steps clockwise; 1 if left out, negative the other way."`
}

func (a Rotate) plan(d *draft) *Refusal {
	picked, refusal := a.cards(d)
	if refusal != nil {
		return refusal
	}
	step := d.table.Settings.Turn
	if step == 0 {
		step = 90
	}
	steps := a.Steps
	if steps == 0 {
		steps = 1
	}
	open := d.notSilent(picked)
	seen, from := d.witness(nil, open), d.spotOf(picked)
	for _, id := range picked {
		c := d.table.Cards[id]
		turn := ((c.Turn+steps%360*step)%360 + 360) % 360
		d.do(SetLie{Card: id, Before: Lie{c.Side, c.Turn}, After: Lie{c.Side, turn}})
	}
	if len(open) == 0 {
		return nil
	}
	d.tell("rotate", Turned{Chosen: Chosen{Count: len(open), Which: a.which(), From: from, Cards: d.witness(seen, open)}})
	return nil
}
