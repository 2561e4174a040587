package play

import (
	"maps"
	"slices"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
)

// Actor is who acts: a seat, or the service for one.
type Actor struct {
	Seat    table.Seat
	Service bool // the service itself acts
}

// Moment is what the world outside adds to an act.
type Moment struct {
	Now    int64  // milliseconds since 1970
	Entry  uint64 // the number that the entry will have
	Chance func(chance.Draw) *chance.Stream
}

// Done is what an act changed.
type Done struct {
	Edits   table.Edits
	Deeds   []table.Deed
	touched *sight.Touched
}

// Do does an action. A refusal beside which nothing stands changed nothing; beside any
// other stands what is done.
func (g *Game) Do(actor Actor, action table.Action, m Moment) (Done, *table.Refusal) {
	seat := actor.Seat
	if actor.Service {
		seat = 0
	}
	edits, deeds, refusal := g.table.Apply(seat, action, table.Circumstances{
		Now: m.Now, Entry: m.Entry, Chance: m.Chance, Held: g.held(actor.Seat, m.Now), Handles: g.gate.Names(actor.Seat),
	})
	if refusal != nil && !refusal.Stands {
		return Done{}, refusal
	}
	delete(g.grips, actor.Seat) // what was dragged has arrived
	return Done{edits, deeds, g.gate.Settle(g.table, edits)}, refusal
}

// Show is what an act shows each viewer.
func (g *Game) Show(done Done) Shown[sight.Changes] {
	public, own := g.gate.Show(g.table, done.touched, done.Deeds)
	shown := Shown[sight.Changes]{Public: public}
	for _, viewer := range slices.Sorted(maps.Keys(own)) {
		shown.Own = append(shown.Own, Own[sight.Changes]{viewer, own[viewer]})
	}
	return shown
}
