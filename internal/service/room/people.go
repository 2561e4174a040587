package room

import (
	"fmt"
	"slices"

	"damselfly/internal/core/sight"
	"damselfly/internal/core/table"
	"damselfly/internal/wire"
)

// viewLog is how many lines of the log come with a view.
const viewLog = 60

// show sends a listener everything: the whole view and who is here.
func (s *state) show(l *Listener) {
	viewer := sight.Viewer(l.Seat)
	view := s.gate.View(s.table, viewer)
	m := encode(wire.Message{
		Type: "view", Gate: s.gateOf(viewer), Seq: s.seq, Own: s.own[viewer], View: &view, Log: s.newest(viewer, viewLog),
	})
	here := encode(s.here())
	s.after(func() { l.send(m); l.send(here) })
}

// gateOf names the life of the room as one viewer sees it: who changes seats begins
// anew.
func (s *state) gateOf(viewer sight.Viewer) string { return fmt.Sprintf("%s-%d", s.life, viewer) }

// enter takes a listener in, bringing it up to date from what it last got.
func (s *state) enter(l *Listener, hello wire.Hello) error {
	if len(s.listeners) >= maxListeners {
		return &wire.Problem{Status: 503, Code: "room-is-full", Title: "The room is full",
			Detail: "64 people are connected to this room, which is the most it takes.", Numbers: map[string]int{"most": maxListeners}}
	}
	s.listeners = append(s.listeners, l)
	if missed, known := s.since(hello, sight.Viewer(l.Seat)); known {
		resumed := encode(wire.Message{Type: "changes", Gate: hello.Gate, Seq: hello.Seq, Own: hello.Own})
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

// since lists what a viewer was not sent after a hello, if that is still known.
func (s *state) since(hello wire.Hello, viewer sight.Viewer) ([]*Message, bool) {
	if hello.Gate != s.gateOf(viewer) || hello.Seq > s.seq || hello.Own > s.own[viewer] {
		return nil, false
	}
	var missed []*Message
	shown, own := hello.Seq, hello.Own
	for _, out := range s.history {
		m := out.own[viewer]
		switch {
		case m != nil && out.owns[viewer] == own+1:
			own++
			shown = max(shown, out.seq)
			missed = append(missed, m)
		case m == nil && out.public != nil && out.seq == shown+1:
			shown++
			missed = append(missed, out.public)
		}
	}
	return missed, shown == s.seq && own == s.own[viewer]
}

// leave lets a listener go.
func (s *state) leave(l *Listener) {
	s.listeners = slices.DeleteFunc(slices.Clone(s.listeners), func(other *Listener) bool { return other == l })
	l.end()
	s.empty = s.room.rooms.now()
	s.tellHere()
	delete(s.grips, sight.Viewer(l.Seat))
	still := slices.ContainsFunc(s.listeners, func(other *Listener) bool { return other.Seat == l.Seat })
	if l.Seat > 0 && !still && s.busy(table.Seat(l.Seat)) {
		s.serve(table.Lapse{Seat: table.Seat(l.Seat)})
	}
}

// busy reports whether a seat looks into a place, or has asks to or from it.
func (s *state) busy(seat table.Seat) bool {
	for _, look := range s.table.Looks {
		if look.Seat == seat {
			return true
		}
	}
	for _, ask := range s.table.Asks {
		if ask.From == seat || ask.To == seat {
			return true
		}
	}
	return false
}

// here says which seats are connected.
func (s *state) here() wire.Message {
	m := wire.Message{Type: "here"}
	for _, l := range s.listeners {
		switch {
		case l.Seat == 0:
			m.Watching++
		case !slices.Contains(m.Here, l.Seat):
			m.Here = append(m.Here, l.Seat)
		}
	}
	slices.Sort(m.Here)
	return m
}

func (s *state) tellHere() {
	m := encode(s.here())
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
