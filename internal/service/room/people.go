package room

import (
	"context"
	"fmt"
	"slices"
	"time"

	"damselfly.example/damselfly/internal/core/play"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/wire"
)

// viewLog is how many lines of the log come with a view.
const viewLog = 60

// show sends a listener everything: the whole view and who is here.
func (s *state) show(l *Listener) {
	viewer := play.Viewer(l.Seat)
	m := encode(wire.Whole{
		Gate: s.game.Gate(viewer), Told: s.told.Count(viewer), View: s.game.Begin(viewer), Log: logLines(s.game.Newest(viewer, viewLog)),
	})
	here := encode(s.here())
	s.after(func() { l.sendView(m); l.send(here) })
}

// enter takes a listener in, bringing it up to date from what it last got.
func (s *state) enter(l *Listener, hello wire.Hello) error {
	if err := problemOf(s.game.Present(l.Who)); err != nil {
		return err
	}
	if err := s.crowded(l); err != nil {
		return err
	}
	s.admit(l)
	if missed, known := s.since(hello, play.Viewer(l.Seat)); known {
		resumed := encode(wire.Resumed{Gate: hello.Gate, Told: hello.Told})
		s.after(func() {
			l.send(resumed)
			for _, m := range missed {
				l.send(m)
			}
		})
	} else {
		s.show(l)
	}
	s.tellHere()
	return nil
}

// admit adds a listener. From then on what is done is composed, also while nobody is
// there: whoever comes back is told it.
func (s *state) admit(l *Listener) { s.listeners, s.heard = append(s.listeners, l), true }

// crowded refuses one connection too many: of one key, or of people who watch.
func (s *state) crowded(l *Listener) error {
	same, watching := 0, 0
	for _, other := range s.listeners {
		if other.Key == l.Key {
			same++
		}
		if other.Seat == 0 {
			watching++
		}
	}
	if same >= maxOfOneKey {
		return wire.TooManyWindows.With(wire.Problem{Numbers: map[string]int{"most": maxOfOneKey},
			Detail: fmt.Sprintf("This key is connected %d times already, which is the most it may be. Close some windows of this room.", same)})
	}
	if l.Seat == 0 && watching >= maxWatching {
		return wire.RoomIsFull.With(wire.Problem{Numbers: map[string]int{"most": maxWatching},
			Detail: fmt.Sprintf("%d people watch this room, which is the most it takes. Try again later, or take a seat.", watching)})
	}
	return nil
}

// since lists what a viewer was not sent after a hello, if that is still known.
func (s *state) since(hello wire.Hello, viewer play.Viewer) ([]*Message, bool) {
	if hello.Gate != s.game.Gate(viewer) {
		return nil, false
	}
	return s.told.Since(viewer, hello.Told)
}

// leave lets a listener go.
func (s *state) leave(l *Listener) {
	s.listeners = slices.DeleteFunc(slices.Clone(s.listeners), func(other *Listener) bool { return other == l })
	l.end()
	s.empty = s.room.rooms.now()
	s.tellHere()
	s.game.LetGo(play.Viewer(l.Seat))
	still := slices.ContainsFunc(s.listeners, func(other *Listener) bool { return other.Seat == l.Seat })
	if l.Seat > 0 && !still && s.game.Busy(l.Seat) {
		s.serve(table.Lapse{Seat: l.Seat})
	}
}

// calledFor is how long somebody counts as here who acts or looks by requests, without a socket.
const calledFor = 2 * time.Minute

// calls notes that somebody at a seat acts or looks by a request.
func (s *state) calls(who Who) {
	if who.Seat == 0 {
		return
	}
	if s.called == nil {
		s.called = map[Who]time.Time{}
	}
	was := slices.Contains(s.here().Here, who.Seat)
	s.called[who] = s.room.rooms.now()
	if !was {
		s.tellHere()
	}
}

// forgetCalls lets those go who have not called for long.
func (s *state) forgetCalls() {
	before := len(s.here().Here)
	for who, at := range s.called {
		if s.room.rooms.now().Sub(at) > calledFor || s.game.Present(who) != nil {
			delete(s.called, who)
		}
	}
	if len(s.here().Here) != before {
		s.tellHere()
	}
}

// here says which seats are connected, or act by requests.
func (s *state) here() wire.Present {
	m := wire.Present{}
	for _, l := range s.listeners {
		switch {
		case l.Seat == 0:
			m.Watching++
		case !slices.Contains(m.Here, l.Seat):
			m.Here = append(m.Here, l.Seat)
		}
	}
	for who, at := range s.called {
		if s.room.rooms.now().Sub(at) <= calledFor && s.game.Present(who) == nil && !slices.Contains(m.Here, who.Seat) {
			m.Here = append(m.Here, who.Seat)
		}
	}
	slices.Sort(m.Here)
	return m
}

func (s *state) tellHere() {
	here := s.here()
	s.room.people.Store(int32(len(here.Here) + here.Watching))
	m := encode(here)
	listeners := slices.Clone(s.listeners)
	s.after(func() {
		for _, l := range listeners {
			l.send(m)
		}
	})
}

// farewell lets everyone go.
func (s *state) farewell() {
	for _, l := range s.listeners {
		l.end()
	}
}

// Enter connects a listener to a room.
func (r *Rooms) Enter(ctx context.Context, room string, l *Listener, hello wire.Hello) error {
	entered := make(chan error, 1)
	if err := r.post(ctx, room, func(s *state) { entered <- s.enter(l, hello) }); err != nil {
		return err
	}
	select {
	case err := <-entered:
		return err
	case <-ctx.Done():
		r.Leave(room, l)
		return busy()
	}
}

// Leave disconnects a listener. It waits for a place in the mailbox, because a
// listener that nobody reads must not stay.
func (r *Rooms) Leave(room string, l *Listener) {
	for {
		r.mu.Lock()
		live := r.live[room]
		r.mu.Unlock()
		if live == nil {
			return
		}
		posted, full := live.tryPost(func(s *state) { s.leave(l) })
		if posted || !full {
			return
		}
		r.pause(leaveAgain)
	}
}

// Refresh sends a listener a fresh view in place of what it missed.
func (r *Rooms) Refresh(ctx context.Context, room string, l *Listener) error {
	return r.post(ctx, room, func(s *state) { s.show(l) })
}
