package room

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"runtime/debug"
	"slices"
	"sync/atomic"
	"time"

	"damselfly/internal/core/chance"
	"damselfly/internal/core/sight"
	"damselfly/internal/core/steps"
	"damselfly/internal/core/table"
	"damselfly/internal/service/store"
	"damselfly/internal/wire"
)

// Bounds of one room.
const (
	mailboxLength = 256
	maxListeners  = 64
	historyLength = 256  // messages kept for who comes back
	logLength     = 200  // lines kept for who comes
	doneLength    = 1024 // request ids remembered
	snapshotEvery = 256  // entries
)

// Room is one table in use. One goroutine owns its state; everything else
// reaches it through the mailbox.
type Room struct {
	ID      string
	record  store.Room
	rooms   *Rooms
	log     *slog.Logger
	mailbox chan func(*state)
	closed  chan struct{} // the goroutine has ended
	resting atomic.Bool
	offset  int64 // of its snapshots, so that rooms in step do not make them all at once
}

// state is what the room's goroutine owns.
type state struct {
	room      *Room
	table     *table.Table
	gate      *sight.Gate
	life      string // names the gate's life; handles and numbers are of this life
	last      int64  // number of the last entry
	told      int64  // log lines so far
	seq       uint64 // entries that showed everyone something, in this life
	own       map[sight.Viewer]uint64
	history   []sent
	lines     []kept // the newest lines of the log
	done      map[string]store.Entry
	doneOrder []string
	listeners []*Listener
	grips     map[sight.Viewer]grip
	empty     time.Time // since when nobody is here
	refused   map[[32]byte]bool
	failures  []time.Time
	doing     *act // what is being done, for when it panics
}

// kept is a deed of the log with its number and time.
type kept struct {
	deed       table.Deed
	number, at int64
}

// sent is what one entry showed.
type sent struct {
	seq    uint64
	public *Message // nil if it showed nothing to everyone
	own    map[sight.Viewer]*Message
	owns   map[sight.Viewer]uint64
}

// act is a request of a seat.
type act struct {
	seat    table.Seat
	request wire.Request
	action  table.Action // instead of a request: the service's own
	answer  func(wire.Answer, error)
}

// load rebuilds the state from the records.
func (r *Room) load(ctx context.Context) (*state, error) {
	t, last, told, err := r.rooms.store.Table(ctx, r.ID)
	if err != nil {
		return nil, err
	}
	entries, err := r.rooms.store.LastEntries(ctx, r.ID, doneLength)
	if err != nil {
		return nil, err
	}
	key := r.rooms.gateKey()
	life := sha256.Sum256(key[:])
	s := &state{
		room: r, table: t, last: last, told: told, life: hex.EncodeToString(life[:6]), own: map[sight.Viewer]uint64{},
		gate: sight.NewGate(t, key, steps.Say),
		done: map[string]store.Entry{}, empty: r.rooms.now(), refused: map[[32]byte]bool{},
		grips: map[sight.Viewer]grip{},
	}
	for _, e := range entries {
		var deeds []table.Deed
		if err := json.Unmarshal(e.Deeds, &deeds); err != nil {
			return nil, fmt.Errorf("room %s, entry %d: %w", r.ID, e.Number, err)
		}
		var edits table.Edits
		if err := json.Unmarshal(e.Edits, &edits); err != nil {
			return nil, fmt.Errorf("room %s, entry %d: %w", r.ID, e.Number, err)
		}
		t.Recall(table.Seat(e.Actor), edits, deeds)
		s.remember(e, deeds)
	}
	return s, nil
}

// remember notes a kept entry's lines and request.
func (s *state) remember(e store.Entry, deeds []table.Deed) {
	for i, deed := range deeds {
		s.lines = append(s.lines, kept{deed, e.Told + int64(i) + 1, e.At})
	}
	s.lines = trimmed(s.lines, logLength)
	if e.Request != "" {
		e.Edits, e.Deeds = nil, nil
		s.done[doneKey(e.Actor, e.Request)] = e
		s.doneOrder = append(s.doneOrder, doneKey(e.Actor, e.Request))
		if len(s.doneOrder) > doneLength {
			delete(s.done, s.doneOrder[0])
			s.doneOrder = s.doneOrder[1:]
		}
	}
}

func doneKey(actor int, request string) string { return fmt.Sprint(actor, " ", request) }

// run takes the mail until the room is closed or nobody has been here long.
func (r *Room) run(s *state) {
	defer close(r.closed)
	idle := time.NewTicker(r.rooms.options.IdleAfter/4 + time.Millisecond)
	defer idle.Stop()
	clock := time.NewTicker(clockTick)
	defer clock.Stop()
	for {
		select {
		case mail, open := <-r.mailbox:
			if !open {
				s.farewell()
				return
			}
			if s = r.take(s, mail); s == nil {
				return
			}
		case <-clock.C:
			if due := s.table.Due(r.rooms.now().UnixMilli()); len(due) > 0 {
				if s = r.take(s, func(s *state) { s.serve(table.All{Actions: due}) }); s == nil {
					return
				}
			}
		case <-idle.C:
			if len(s.listeners) == 0 && r.rooms.now().Sub(s.empty) > r.rooms.options.IdleAfter {
				r.rooms.putAway(r)
			}
		}
	}
}

// clockTick is how often a room looks whether a timer has ended.
const clockTick = 200 * time.Millisecond

// serve does an action of the service itself.
func (s *state) serve(a table.Action) { s.do(&act{action: a, answer: func(wire.Answer, error) {}}) }

// take does one thing. If it panics the state is rebuilt from the records and
// returned; other rooms do not notice.
func (r *Room) take(s *state, mail func(*state)) (next *state) {
	defer func() {
		if cause := recover(); cause != nil {
			r.rooms.Failures.Add(1)
			r.log.Error("a room failed", "cause", cause, "stack", string(debug.Stack()))
			next = r.rebuild(s)
		}
	}()
	mail(s)
	return s
}

// A room that failed this often within the span rests that long.
const (
	failuresToRest = 5
	failureSpan    = time.Minute
)

// rebuild makes a new state after a failure, with growing pauses, and brings
// everyone to it. It returns nil if the room was closed meanwhile.
func (r *Room) rebuild(old *state) *state {
	doing := old.doing
	failures := append(old.failures, r.rooms.now())
	failures = slices.DeleteFunc(failures, func(t time.Time) bool { return r.rooms.now().Sub(t) > failureSpan })
	r.barrier()
	if len(failures) >= failuresToRest {
		r.resting.Store(true)
		for _, l := range old.listeners {
			l.send(encode(wire.Message{Type: "notice", Code: "room-rests", Text: "This room keeps failing and rests for a minute. Nothing is lost."}))
		}
		if doing != nil {
			doing.answer(wire.Answer{}, failed())
			doing = nil
		}
		time.Sleep(r.rooms.options.Rest)
		failures = nil
		r.resting.Store(false)
	}
	for pause := 20 * time.Millisecond; ; pause = min(2*pause, 5*time.Second) {
		time.Sleep(pause << min(len(failures), 6))
		ctx, cancel := context.WithTimeout(context.Background(), 30*time.Second)
		s, err := r.load(ctx)
		cancel()
		if r.rooms.isClosed() {
			old.farewell()
			return nil
		}
		if err != nil {
			r.log.Error("rebuilding a room", "error", err)
			continue
		}
		s.listeners, s.refused, s.failures = old.listeners, old.refused, failures
		if doing != nil {
			s.refused[doing.fingerprint()] = true
			doing.answer(wire.Answer{}, failed())
		}
		for _, l := range s.listeners {
			s.show(l)
		}
		return s
	}
}

func failed() error {
	return &wire.Problem{Status: 500, Code: "action-failed", Title: "The service failed on this action",
		Detail: "This action made the service fail, so it was not done and will be refused. The table is as it was; please report it."}
}

// fingerprint tells whether two acts are the same one.
func (a *act) fingerprint() [32]byte {
	return sha256.Sum256(fmt.Appendf(nil, "%d\n%s\n%s", a.seat, a.request.Action, a.request.Steps))
}

// barrier waits until everything sent to the journal before is kept and told.
func (r *Room) barrier() {
	reached := make(chan struct{})
	done := func() { close(reached) }
	r.rooms.journal.queue <- pending{tell: done, lost: func(error) { done() }}
	<-reached
}

// after runs tell once everything before it is kept, so that nobody is shown
// what is not.
func (s *state) after(tell func()) {
	s.room.rooms.journal.queue <- pending{tell: tell, lost: func(error) {}}
}

// do does an act: apply → journal → tell everyone → answer the actor.
func (s *state) do(a *act) {
	s.doing = a // stays if it panics, for rebuild
	s.perform(a)
	s.doing = nil
}

func (s *state) perform(a *act) {
	if s.room.rooms.journal.broken.Load() {
		a.answer(wire.Answer{}, notSaving())
		return
	}
	if e, before := s.done[doneKey(int(a.seat), a.request.ID)]; before && a.request.ID != "" {
		answer := wire.Answer{Seq: s.seq, Done: "before", Log: s.logOf(e, a.seat)}
		s.after(func() { a.answer(answer, nil) })
		return
	}
	if s.refused[a.fingerprint()] && a.action == nil {
		a.answer(wire.Answer{}, failed())
		return
	}
	action, err := s.understand(a)
	if err != nil {
		s.after(func() { a.answer(wire.Answer{}, err) })
		return
	}
	if s.room.rooms.options.BeforeApply != nil {
		s.room.rooms.options.BeforeApply(s.room.ID, action)
	}
	number := s.last + 1
	edits, deeds, refusal := s.table.Apply(a.actor(), action, chance.Derive(chance.Seed(s.room.record.Seed), uint64(number), s.table.Salt()), s.room.rooms.now().UnixMilli())
	if refusal == nil {
		if refusal = s.gripped(edits, a.actor()); refusal != nil {
			s.table.Unapply(edits)
		}
	}
	if refusal != nil {
		if refusal.Searched != "" && a.seat > 0 {
			s.perform(&act{action: table.Searched{Seat: a.seat, Place: refusal.Searched}, answer: func(wire.Answer, error) {}})
		}
		s.after(func() { a.answer(wire.Answer{}, refused(refusal)) })
		return
	}
	delete(s.grips, a.seat) // what was dragged has arrived
	s.keep(a, number, edits, deeds)
}

// actor is who acts in the core: nobody for the service's own actions.
func (a *act) actor() table.Seat {
	if a.action != nil {
		return 0
	}
	return a.seat
}

// understand reads the action, with its handles turned into cards.
func (s *state) understand(a *act) (table.Action, error) {
	switch {
	case a.action != nil:
		return a.action, nil
	case a.seat == 0:
		return nil, refused(&table.Refusal{Code: table.NeedsSeat, Text: "You are watching. Take a seat to act."})
	case a.request.Steps != "" && len(a.request.Action) > 0, a.request.Steps == "" && len(a.request.Action) == 0:
		return nil, notUnderstood(errors.New(`give either an "action" or "steps"`))
	case a.request.Steps != "":
		action, err := steps.Read(a.request.Steps, s.table, a.seat)
		if err != nil {
			return nil, notUnderstood(err)
		}
		return s.expand(action, a.seat)
	}
	action, err := table.ReadAction(a.request.Action)
	if err != nil {
		return nil, notUnderstood(err)
	}
	if table.ServiceOnly(action) {
		return nil, notUnderstood(errors.New("this action is the service's own; a seat is taken by joining the room"))
	}
	return s.expand(s.gate.Bind(action, a.seat), a.seat)
}

// expand puts the steps of cues behind what runs them.
func (s *state) expand(a table.Action, seat table.Seat) (table.Action, error) {
	expanded, err := steps.Expand(a, s.table, seat)
	if err != nil {
		return nil, notUnderstood(err)
	}
	return expanded, nil
}

// keep journals what was done and then tells it.
func (s *state) keep(a *act, number int64, edits table.Edits, deeds []table.Deed) {
	touched := s.gate.Settle(s.table, edits)
	editsText, err := json.Marshal(edits)
	if err != nil {
		panic(err)
	}
	deedsText, err := json.Marshal(deeds)
	if err != nil {
		panic(err)
	}
	entry := store.Entry{
		Room: s.room.ID, Number: number, At: s.room.rooms.now().UnixMilli(), Actor: int(a.seat),
		Request: a.request.ID, Edits: editsText, Deeds: deedsText, Told: s.told,
	}
	s.last = number
	s.told += int64(len(deeds))
	s.remember(entry, deeds)
	sent := s.compose(touched, deeds, entry)
	answer := wire.Answer{Seq: s.seq, Done: "now", Log: s.stamp(s.gate.Log(deeds, a.seat), entry)}
	listeners := slices.Clone(s.listeners)
	left := leftSeats(edits)
	s.room.rooms.journal.queue <- pending{
		entry: &entry,
		tell: func() {
			for _, l := range listeners {
				if m := sent.to(sight.Viewer(l.Seat)); m != nil {
					l.send(m)
				}
			}
			a.answer(answer, nil)
			for _, seat := range left {
				s.room.rooms.dismiss(s.room.ID, seat, listeners)
			}
		},
		lost: func(err error) {
			s.room.log.Error("a journal is written by somebody else", "error", err)
			a.answer(wire.Answer{}, notSaving())
			s.room.rooms.drop(s.room)
		},
	}
	if (number+s.room.offset)%snapshotEvery == 0 {
		s.room.rooms.snapshot(s.room.ID)
	}
}

// leaving is a seat whose keys open it no more, and the seat they open instead, 0
// if they open none. Spectators leave seat 0.
type leaving struct{ seat, to int }

// leftSeats are the seats that edits freed, or moved somebody from.
func leftSeats(edits table.Edits) (left []leaving) {
	for _, e := range edits {
		switch e := e.(type) {
		case table.PutChair:
			if e.Before == nil || e.After == nil {
				continue
			}
			if e.After.Name == "" {
				left = append(left, leaving{seat: int(e.After.Seat)})
			} else if n := len(left); e.Before.Name == "" && n > 0 { // in one action: somebody changed seats
				left[n-1].to = int(e.After.Seat)
			}
		case table.PutSettings:
			if e.After.Spectators == "no" && e.Before.Spectators != "no" {
				left = append(left, leaving{})
			}
		}
	}
	return left
}

// compose encodes what an entry shows: once for everyone, and for each seat
// that sees something of its own.
func (s *state) compose(touched sight.Touched, deeds []table.Deed, entry store.Entry) sent {
	out := sent{own: map[sight.Viewer]*Message{}, owns: map[sight.Viewer]uint64{}}
	message := func(c sight.Changes, own uint64) *Message {
		return encode(wire.Message{
			Type: "changes", Seq: s.seq, Own: own, Places: c.Places, Gone: c.Gone, Pieces: c.Pieces, Off: c.Off,
			Marker: c.Marker, Asks: c.Asks, Seats: c.Seats, Decks: c.Decks, Settings: c.Settings, Log: s.stamp(c.Log, entry),
		})
	}
	public := s.gate.Changes(s.table, touched, deeds, 0)
	if !public.Empty() {
		s.seq++
		out.public = message(public, 0)
	}
	out.seq = s.seq
	for _, viewer := range s.gate.Private(s.table, touched, deeds) {
		s.own[viewer]++
		out.own[viewer] = message(s.gate.Changes(s.table, touched, deeds, viewer), s.own[viewer])
		out.owns[viewer] = s.own[viewer]
	}
	s.history = append(s.history, out.unframed())
	s.history = trimmed(s.history, historyLength)
	return out
}

// unframed is the same without the frames that a transport prepares, which need not
// stay for who comes back.
func (out sent) unframed() sent {
	bare := func(m *Message) *Message {
		if m == nil {
			return nil
		}
		return &Message{Text: m.Text}
	}
	kept := sent{seq: out.seq, public: bare(out.public), own: map[sight.Viewer]*Message{}, owns: out.owns}
	for viewer, m := range out.own {
		kept.own[viewer] = bare(m)
	}
	return kept
}

// trimmed keeps the last n of a growing list, moving them only now and then.
func trimmed[T any](list []T, n int) []T {
	if len(list) < 2*n {
		return list
	}
	return slices.Clone(list[len(list)-n:])
}

// to is the message that a viewer gets, nil for none.
func (out sent) to(viewer sight.Viewer) *Message {
	if m := out.own[viewer]; m != nil {
		return m
	}
	return out.public
}

// stamp gives lines of an entry their numbers and time.
func (s *state) stamp(lines []sight.Line, e store.Entry) []wire.LogLine {
	stamped := make([]wire.LogLine, 0, len(lines))
	for i, line := range lines {
		stamped = append(stamped, wire.LogLine{Line: line, Number: e.Told + int64(i) + 1, At: e.At})
	}
	return stamped
}

// logOf are the lines of an entry that is still remembered.
func (s *state) logOf(e store.Entry, viewer sight.Viewer) []wire.LogLine {
	lines := []wire.LogLine{}
	for _, line := range s.newest(viewer, logLength) {
		if line.At == e.At && line.Number > e.Told && line.Seat == e.Actor {
			lines = append(lines, line)
		}
	}
	return lines
}

// newest are the last n lines of the log as a viewer may read them.
func (s *state) newest(viewer sight.Viewer, n int) []wire.LogLine {
	lines := []wire.LogLine{}
	for _, k := range s.lines[max(0, len(s.lines)-n):] {
		for _, line := range s.gate.Log([]table.Deed{k.deed}, viewer) {
			lines = append(lines, wire.LogLine{Line: line, Number: k.number, At: k.at})
		}
	}
	return lines
}
