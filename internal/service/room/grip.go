package room

import (
	"time"

	"damselfly/internal/core/sight"
	"damselfly/internal/core/table"
	"damselfly/internal/wire"
)

// gripSpan is how long a grip lasts without a sign of life.
const gripSpan = 6 * time.Second

// maxGrip is how many cards one seat can grip at once.
const maxGrip = 200

// grip is a seat's short claim on the cards it is dragging. It is kept nowhere.
type grip struct {
	cards map[table.CardID]bool
	until time.Time
}

// Grip claims cards for a seat, by their handles, or lets go with none.
// Everyone who has the cards before their eyes is told.
func (r *Rooms) Grip(room string, seat int, handles []table.CardID) {
	r.mu.Lock()
	live := r.live[room]
	r.mu.Unlock()
	if live != nil && seat > 0 {
		live.tryPost(func(s *state) { s.grip(sight.Viewer(seat), handles) }) // a full mailbox drops it; the next one comes soon
	}
}

func (s *state) grip(seat sight.Viewer, handles []table.CardID) {
	if len(handles) > maxGrip {
		return
	}
	bound, _ := s.gate.Bind(table.Flip{Pick: table.Pick{Cards: handles}}, seat).(table.Flip)
	cards := map[table.CardID]bool{}
	for _, card := range bound.Cards {
		if s.gripper(card, seat) == 0 && card != 0 {
			cards[card] = true
		}
	}
	if len(cards) == 0 {
		delete(s.grips, seat)
	} else {
		s.grips[seat] = grip{cards, s.room.rooms.now().Add(gripSpan)}
	}
	for _, l := range s.listeners {
		if sight.Viewer(l.Seat) != seat {
			seen := s.gate.InSight(bound.Cards, sight.Viewer(l.Seat))
			l.send(encode(wire.Message{Type: "grip", Seat: int(seat), Cards: seen}))
		}
	}
}

// gripper is the seat other than one that holds a card, 0 if there is none.
func (s *state) gripper(card table.CardID, besides sight.Viewer) sight.Viewer {
	for seat, g := range s.grips {
		if seat != besides && g.cards[card] && s.room.rooms.now().Before(g.until) {
			return seat
		}
	}
	return 0
}

// gripped refuses edits on cards that another seat is dragging.
func (s *state) gripped(edits table.Edits, actor table.Seat) *table.Refusal {
	if len(s.grips) == 0 {
		return nil
	}
	held := func(cards ...table.CardID) *table.Refusal {
		for _, card := range cards {
			if seat := s.gripper(card, actor); seat != 0 {
				name := s.table.Chair(seat).Name
				return &table.Refusal{Code: "held-by-another", Text: name + " is holding a card of these just now.", Numbers: map[string]int{"seat": int(seat)}}
			}
		}
		return nil
	}
	for _, e := range edits {
		var refusal *table.Refusal
		switch e := e.(type) {
		case table.Splice:
			refusal = held(e.Cards...)
		case table.SetLie:
			refusal = held(e.Card)
		case table.Order:
			refusal = held(s.table.Places[e.Place].Cards...)
		}
		if refusal != nil {
			return refusal
		}
	}
	return nil
}
