package room

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"log/slog"
	"runtime/debug"
	"slices"
	"sync/atomic"
	"time"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/play"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// Bounds of one room.
const (
	mailboxLength = 256
	maxWatching   = 40   // spectators' connections; those of seats are never crowded out
	maxOfOneKey   = 6    // connections
	undoLength    = 1024 // entries read anew for undo and the log
	snapshotEvery = 256  // entries
)

// Room is one table in use. One goroutine owns its state; everything else
// reaches it through the mailbox.
type Room struct {
	ID       string
	record   store.Room
	rooms    *Rooms
	log      *slog.Logger
	mailbox  chan func(*state)
	closed   chan struct{} // the goroutine has ended
	resting  atomic.Bool
	people   atomic.Int32                     // who are there
	editions map[table.EditionOf]*kit.Edition // of its decks
	worker   int                              // that tells of it
	offset   int64                            // of its snapshots, so that rooms in step do not make them all at once
}

// state is what the room's goroutine owns.
type state struct {
	room      *Room
	game      *play.Game
	told      play.Told[Message] // of this life and tenure
	fate      *fate              // of all that is kept or told of this state
	last      int64              // number of the last entry
	lines     int64              // of the log so far
	asked     asked
	noted     map[any]bool // what entries of this state named: editions, and addresses of pictures
	listeners []*Listener
	called    map[Who]time.Time // who acts or looks by requests, and when they did last
	empty     time.Time         // since when nobody is here
	refused   map[[32]byte]bool
	changed   bool // since the clock was looked at
	gone      bool // it went on without the journal, and is to be read anew
	heard     bool // somebody has listened, so that there is somebody to tell
	failures  []time.Time
	doing     *act // what is being done, for when it panics
}

// load rebuilds the state from the records.
func (m *Room) load(ctx context.Context) (*state, error) {
	if record, err := m.rooms.store.Room(ctx, m.ID); err == nil {
		m.record = record // the edition may be another one
	}
	t, last, told, err := m.rooms.store.Table(ctx, m.ID)
	if err != nil {
		return nil, err
	}
	if err := m.designs(ctx, t); err != nil {
		return nil, err
	}
	entries, err := m.rooms.store.LastEntries(ctx, m.ID, undoLength)
	if err != nil {
		return nil, err
	}
	asked, err := m.rooms.allAsked(ctx, m.ID)
	if err != nil {
		return nil, err
	}
	s := &state{
		room: m, last: last, lines: told, game: play.New(t, m.rooms.gateKey(), play.Options{Spectators: m.record.Spectators, Pictures: m.rooms.store.Names()}),
		fate: &fate{}, asked: asked, empty: m.rooms.now(), refused: map[[32]byte]bool{}, noted: map[any]bool{},
	}
	for _, e := range entries {
		var deeds []table.Deed
		if err := json.Unmarshal(e.Deeds, &deeds); err != nil {
			return nil, fmt.Errorf("room %s, entry %d: %w", m.ID, e.Number, err)
		}
		var edits table.Edits
		if err := json.Unmarshal(e.Edits, &edits); err != nil {
			return nil, fmt.Errorf("room %s, entry %d: %w", m.ID, e.Number, err)
		}
		t.Recall(e.Actor, uint64(e.Number), edits, deeds)
		s.remember(e, deeds)
	}
	return s, nil
}

// run takes the mail until the room is closed or nobody has been here long.
func (m *Room) run(s *state) {
	defer close(m.closed)
	idle := time.NewTicker(m.rooms.options.IdleAfter/4 + time.Millisecond)
	defer idle.Stop()
	clock, ticking := time.NewTimer(clockTick), true
	defer clock.Stop()
	for {
		select {
		case mail, open := <-m.mailbox:
			if !open {
				s.farewell()
				return
			}
			if s = m.take(s, mail); s == nil {
				return
			}
			if s.changed && !ticking {
				ticking = true
				clock.Reset(clockTick)
			}
		case <-clock.C:
			s.changed = false
			if ticking = s.game.Table().Waits(); ticking {
				clock.Reset(clockTick)
			}
			if due := s.game.Table().Due(m.rooms.now().UnixMilli()); len(due) > 0 {
				if s = m.take(s, func(s *state) { s.serve(table.All{Actions: due}) }); s == nil {
					return
				}
			}
		case <-idle.C:
			if s = m.take(s, (*state).forgetCalls); s == nil {
				return
			}
			if len(s.listeners) == 0 && m.rooms.now().Sub(s.empty) > m.rooms.options.IdleAfter {
				m.rooms.putAway(m)
			}
		}
	}
}

// clockTick is how often a room looks whether a timer has ended, while one runs.
const clockTick = 200 * time.Millisecond

// take does one thing, and returns the state to go on with: if it panics, or went on without the journal, one that is read
// anew from the records. Other rooms do not notice.
func (m *Room) take(s *state, mail func(*state)) (next *state) {
	defer func() {
		if cause := recover(); cause != nil {
			m.rooms.Failures.Add(1)
			m.log.Error("a room failed", "cause", cause, "stack", string(debug.Stack()))
			next = m.rebuild(s)
		}
	}()
	mail(s)
	if s.gone { // no failure of the room's
		m.barrier()
		return m.reload(s, 0)
	}
	return s
}

// A room that failed this often within the span rests that long.
const (
	failuresToRest = 5
	failureSpan    = time.Minute
)

// rebuild makes a new state after a failure, with growing pauses, and brings
// everyone to it. It returns nil if the room was closed meanwhile.
func (m *Room) rebuild(old *state) *state {
	doing := old.doing
	failures := append(old.failures, m.rooms.now())
	failures = slices.DeleteFunc(failures, func(t time.Time) bool { return m.rooms.now().Sub(t) > failureSpan })
	m.barrier()
	if len(failures) >= failuresToRest {
		m.resting.Store(true)
		for _, l := range old.listeners {
			l.send(encode(wire.Notice{Code: "room-rests", Text: "This room keeps failing and rests for a minute. Nothing is lost."}))
		}
		if doing != nil {
			doing.answer(wire.Answer{}, failed())
			doing = nil
		}
		m.rooms.pause(m.rooms.options.Rest)
		failures = nil
		m.resting.Store(false)
	}
	s := m.reload(old, len(failures))
	if s == nil {
		return nil
	}
	s.failures = failures
	if doing != nil {
		s.refused[doing.fingerprint()] = true
		doing.answer(wire.Answer{}, failed())
	}
	return s
}

// reload makes a new state from the records and brings everyone to it; after so many
// failures with a pause. It returns nil if the room was closed meanwhile.
func (m *Room) reload(old *state, failures int) *state {
	for pause := 20 * time.Millisecond; ; pause = min(2*pause, 5*time.Second) {
		if failures > 0 {
			m.rooms.pause(pause << min(failures, 6))
		}
		if m.rooms.isClosed() {
			old.farewell()
			return nil
		}
		ctx, cancel := context.WithTimeout(context.Background(), 30*time.Second)
		s, err := m.load(ctx)
		cancel()
		if err != nil {
			m.log.Error("rebuilding a room", "error", err)
			failures++
			continue
		}
		s.refused, s.failures, s.changed = old.refused, old.failures, true
		for _, l := range old.listeners {
			if s.game.Present(l.Who) != nil {
				l.end()
				continue
			}
			s.admit(l)
			s.show(l)
		}
		return s
	}
}

func failed() error {
	return wire.ActionFailed.With(wire.Problem{Detail: "This action made the service fail, so it was not done and will be refused. The table is as it was; please report it."})
}

// fingerprint tells whether two acts are the same one.
func (a *act) fingerprint() [32]byte {
	return sha256.Sum256(fmt.Appendf(nil, "%d\n%s\n%s", a.who.Seat, a.request.Action, a.request.Steps))
}

// barrier waits until everything sent to the journal before is kept and told.
func (m *Room) barrier() {
	reached := make(chan struct{})
	done := func() { close(reached) }
	m.rooms.journal.queue <- pending{room: m.worker, tell: func(*wakes) { done() }, lost: func(error) { done() }}
	<-reached
}
