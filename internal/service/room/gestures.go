package room

import (
	"damselfly.example/damselfly/internal/core/play"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/wire"
)

// maxGrip is how many cards one seat can grip at once.
const maxGrip = 200

// Grip claims cards for a person, by their handles, or lets go with none.
// Those who have the cards before their eyes are told.
func (r *Rooms) Grip(room string, who Who, handles []table.Handle) {
	if who.Seat > 0 && len(handles) <= maxGrip {
		r.tryPost(room, func(s *state) { s.grip(who, handles) }) // a full mailbox drops it; the next one comes soon
	}
}

func (s *state) grip(who Who, handles []table.Handle) {
	if s.game.Present(who) != nil {
		return
	}
	tell := s.game.Grip(play.Viewer(who.Seat), handles, s.room.rooms.now().UnixMilli())
	for _, l := range s.listeners {
		if seen, told := tell[play.Viewer(l.Seat)]; told {
			l.send(encode(wire.Gripping{Seat: who.Seat, Cards: seen}))
		}
	}
}

// Point passes on where a seat's pointer is. Nothing of it is kept, and it is the
// first thing to be dropped where there is much to do.
func (r *Rooms) Point(room string, who Who, p wire.Point) {
	if who.Seat > 0 {
		r.tryPost(room, func(s *state) { s.point(who, p) })
	}
}

func (s *state) point(who Who, p wire.Point) {
	if s.game.Present(who) != nil {
		return
	}
	settings := s.game.Table().Settings
	inside := p.X >= 0 && p.Y >= 0 && p.X <= settings.Wide && p.Y <= settings.High
	m := encode(wire.Pointing{Seat: who.Seat, X: p.X, Y: p.Y, Away: p.Away || !inside})
	for _, l := range s.listeners {
		if l.Seat != who.Seat {
			l.sendIfIdle(m)
		}
	}
}
