package play

import (
	"errors"

	"damselfly.example/damselfly/internal/core/table"
)

// Who is somebody at a table: the seat, and the tenure that they have it for. Seat 0
// watches.
type Who struct {
	Seat   table.Seat
	Tenure uint64
}

// Errors of Present.
var (
	ErrSeatLeft     = errors.New("the seat was left, freed or handed on since")
	ErrNoSpectators = errors.New("nobody may watch")
)

// Present refuses who does not sit where they did any more, or may not watch.
func (g *Game) Present(who Who) error {
	if who.Seat == 0 {
		if !g.watched() {
			return ErrNoSpectators
		}
		return nil
	}
	if chair := g.table.Chair(table.Seat(who.Seat)); chair == nil || chair.Name == "" || chair.Tenure != who.Tenure {
		return ErrSeatLeft
	}
	return nil
}

// watched is whether people may watch: as the host said last, or as the game was opened.
func (g *Game) watched() bool {
	said := g.table.Settings.Spectators
	return said == "yes" || said == "" && g.options.Spectators
}

// tenure is the entry in which a seat was taken by whoever sits there.
func (g *Game) tenure(seat Viewer) uint64 {
	if chair := g.table.Chair(seat); chair != nil {
		return chair.Tenure
	}
	return 0
}

// Free is the first free seat; if there is none, one past the last.
func (g *Game) Free() table.Seat {
	for _, c := range g.table.Chairs {
		if c.Name == "" {
			return c.Seat
		}
	}
	return table.Seat(len(g.table.Chairs)) + 1
}

// Busy reports whether a seat looks into a place, or has asks to or from it.
func (g *Game) Busy(seat table.Seat) bool {
	for _, look := range g.table.Looks {
		if look.Seat == seat {
			return true
		}
	}
	for _, ask := range g.table.Asks {
		if ask.From == seat || ask.To == seat {
			return true
		}
	}
	return false
}

// Ended are the seats that edits freed, moved somebody from or handed on; 0 if nobody may
// watch any more.
func Ended(edits table.Edits) map[Viewer]bool {
	ended := map[Viewer]bool{}
	for _, c := range edits.SeatChanges() {
		if c.Left {
			ended[c.Seat] = true
		}
	}
	if edits.CloseToSpectators() {
		ended[0] = true
	}
	return ended
}
