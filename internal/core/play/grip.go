package play

import "damselfly.example/damselfly/internal/core/table"

// gripSpan is how long a grip lasts without a sign of life, in milliseconds.
const gripSpan = 6000

// grip is a seat's short claim on the cards it is dragging. It is kept nowhere.
type grip struct {
	cards map[table.CardID]bool
	until int64 // milliseconds since 1970
	told  map[Viewer]bool
}

// Grip claims cards for a seat, by their handles, or lets go with none. It returns the
// handles that each viewer is to be told who has such cards before their eyes, or had
// those that are let go.
func (g *Game) Grip(seat Viewer, handles []table.Handle, now int64) map[Viewer][]table.Handle {
	named, others := g.gate.Names(seat), g.held(seat, now)
	var cards []table.CardID
	fresh := grip{cards: map[table.CardID]bool{}, until: now + gripSpan, told: map[Viewer]bool{}}
	for _, handle := range handles {
		if card := named(handle); card != 0 && others[card] == 0 {
			fresh.cards[card] = true
			cards = append(cards, card)
		}
	}
	tell := map[Viewer][]table.Handle{}
	for viewer := range Viewer(g.Viewers()) {
		if viewer == seat {
			continue
		}
		seen := g.gate.InSight(cards, viewer)
		if fresh.told[viewer] = len(seen) > 0; fresh.told[viewer] || g.grips[seat].told[viewer] {
			tell[viewer] = seen
		}
	}
	if g.grips[seat] = fresh; len(fresh.cards) == 0 {
		delete(g.grips, seat)
	}
	return tell
}

// LetGo ends a seat's grip without a word.
func (g *Game) LetGo(seat Viewer) { delete(g.grips, seat) }

// Forget ends a seat's grip, and what its player was told of others' grips: who sits there
// next was told of none.
func (g *Game) Forget(seat Viewer) {
	g.LetGo(seat)
	for _, other := range g.grips {
		delete(other.told, seat)
	}
}

// held are the cards that seats other than one are dragging, as far as that one sees
// them: what one does not see is in nobody's way, or one would learn that it moves.
func (g *Game) held(besides Viewer, now int64) map[table.CardID]table.Seat {
	var held map[table.CardID]table.Seat
	for seat, grip := range g.grips {
		if seat == besides || now >= grip.until {
			continue
		}
		for card := range grip.cards {
			if p, i := g.table.At(card); i >= 0 && g.table.Audience(p, i).Includes(besides) {
				if held == nil {
					held = map[table.CardID]table.Seat{}
				}
				held[card] = seat
			}
		}
	}
	return held
}
