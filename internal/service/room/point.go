package room

import "damselfly/internal/wire"

// Point passes on where a seat's pointer is. Nothing of it is kept, and it is the
// first thing to be dropped where there is much to do.
func (r *Rooms) Point(room string, seat int, p wire.Point) {
	r.mu.Lock()
	live := r.live[room]
	r.mu.Unlock()
	if live == nil || seat == 0 {
		return
	}
	live.tryPost(func(s *state) {
		settings := s.table.Settings
		inside := p.X >= 0 && p.Y >= 0 && p.X <= settings.Wide && p.Y <= settings.High
		m := encode(wire.Message{Type: "point", Seat: seat, X: p.X, Y: p.Y, Away: p.Away || !inside})
		for _, l := range s.listeners {
			if l.Seat != seat {
				l.sendIfIdle(m)
			}
		}
	})
}
