package room

import (
	"runtime"

	"damselfly.example/damselfly/internal/core/table"
)

// What takes long in one room takes turns with what takes long in others, on half of the processors, so that
// quiet rooms find one that is free.

// Bounds from which something takes long.
const (
	manyCards  = 1000   // that an act moves or shows
	manyLooked = 20_000 // cards that an act may look at, all its lines together
)

// turns are as many as may take long at once.
func turnsOfHeavy() chan struct{} { return make(chan struct{}, max(1, runtime.GOMAXPROCS(0)/2)) }

// inTurn does what may take long when it is its turn.
func (r *Rooms) inTurn(heavy bool, do func()) {
	if heavy {
		r.heavy <- struct{}{}
		defer func() { <-r.heavy }()
	}
	do()
}

// takesLong reports whether an action may take long at a table of so many cards.
func takesLong(a table.Action, cards int) bool {
	lines := []table.Action{a}
	if all, several := a.(table.All); several {
		lines = all.Actions
	}
	if len(lines)*cards >= manyLooked {
		return true
	}
	if cards < manyCards {
		return false
	}
	for _, line := range lines {
		switch line := line.(type) {
		case table.Gather, table.EverythingHome, table.Revise, table.Sort, table.Separate, table.Undo, table.Spread, table.Collect:
			return true
		case interface{ Picks() table.Pick }:
			if k := line.Picks(); k.Which == table.Every || k.Count >= manyCards {
				return true
			}
		}
	}
	return false
}
