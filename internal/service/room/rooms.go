// Package room keeps live rooms: each owned by one goroutine, their journals
// committed together, their people told in the order that things were kept.
//
//	rooms := room.New(store, log, room.Options{})
//	defer rooms.Close()
//	answer, err := rooms.Act(ctx, id, 2, wire.Request{Steps: "draw 2 from weather"})
package room

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"hash/fnv"
	"log/slog"
	"sync"
	"sync/atomic"
	"time"

	"damselfly/internal/core/chance"
	"damselfly/internal/core/kit"
	"damselfly/internal/core/sight"
	"damselfly/internal/core/steps"
	"damselfly/internal/core/table"
	"damselfly/internal/service/store"
	"damselfly/internal/wire"
)

// Options of the rooms; the zero value is right for a service.
type Options struct {
	IdleAfter time.Duration // a room nobody is at is put away after this; 5 minutes
	Rest      time.Duration // how long a room that keeps failing rests; a minute
	Patience  time.Duration // how long Close waits for a database that is gone; 10 seconds

	// For tests that need the same bytes twice, or a fault.
	Now         func() time.Time
	GateKey     func() [32]byte
	BeforeApply func(room string, a table.Action)
}

// Rooms are all rooms of a service. Safe for concurrent use.
type Rooms struct {
	store   *store.Store
	log     *slog.Logger
	options Options
	journal *journal

	Failures atomic.Int64 // panics inside rooms since the start

	mu     sync.Mutex
	live   map[string]*Room
	closed bool
	work   sync.WaitGroup // snapshots under way

	snapshots sync.Mutex // one is made at a time
}

// New starts with no room loaded.
func New(s *store.Store, log *slog.Logger, o Options) *Rooms {
	if o.IdleAfter == 0 {
		o.IdleAfter = 5 * time.Minute
	}
	if o.Rest == 0 {
		o.Rest = time.Minute
	}
	if o.Patience == 0 {
		o.Patience = 10 * time.Second
	}
	r := &Rooms{store: s, log: log, options: o, live: map[string]*Room{}}
	r.journal = newJournal(s, log, r.tellSaving)
	go r.journal.run()
	return r
}

func (r *Rooms) now() time.Time {
	if r.options.Now != nil {
		return r.options.Now()
	}
	return time.Now()
}

// gateKey is a fresh secret from which a gate draws its handles.
func (r *Rooms) gateKey() (key [32]byte) {
	if r.options.GateKey != nil {
		return r.options.GateKey()
	}
	_, _ = rand.Read(key[:]) // never fails
	return key
}

// Open makes a new room with a table laid from an edition.
func (r *Rooms) Open(ctx context.Context, record store.Room, made kit.Made) (store.Room, error) {
	record.ID = store.NewID()
	record.At = r.now().UnixMilli()
	record.Seed = make([]byte, len(chance.Seed{}))
	_, _ = rand.Read(record.Seed)
	if record.Passcode == nil {
		record.Passcode = []byte{}
	}
	made.Name = record.Name // what stands over the table
	edits, err := json.Marshal(made.Lay(record.Seats))
	if err != nil {
		return record, err
	}
	return record, r.store.AddRoom(ctx, record, store.Entry{Room: record.ID, Number: 1, At: record.At, Edits: edits, Deeds: []byte("[]")})
}

func (r *Rooms) isClosed() bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	return r.closed
}

// Live counts the loaded rooms.
func (r *Rooms) Live() int {
	r.mu.Lock()
	defer r.mu.Unlock()
	return len(r.live)
}

// Saving reports whether the journal is being kept.
func (r *Rooms) Saving() bool { return !r.journal.broken.Load() }

// room finds a live room, loading it if nobody has.
func (r *Rooms) room(ctx context.Context, id string) (*Room, error) {
	for {
		r.mu.Lock()
		if r.closed {
			r.mu.Unlock()
			return nil, busy()
		}
		live := r.live[id]
		r.mu.Unlock()
		if live != nil {
			return live, nil
		}
		record, err := r.store.Room(ctx, id)
		if err != nil {
			return nil, err
		}
		fresh := &Room{
			ID: id, record: record, rooms: r, log: r.log.With("room", id),
			mailbox: make(chan func(*state), mailboxLength), closed: make(chan struct{}), offset: offsetOf(id),
		}
		state, err := fresh.load(ctx)
		if err != nil {
			return nil, err
		}
		r.mu.Lock()
		if r.live[id] == nil && !r.closed {
			r.live[id] = fresh
			go fresh.run(state)
		}
		r.mu.Unlock()
	}
}

// post puts mail into a room's mailbox, loading the room if need be. A full
// mailbox is a refusal.
func (r *Rooms) post(ctx context.Context, id string, mail func(*state)) error {
	for {
		room, err := r.room(ctx, id)
		if err != nil {
			return err
		}
		if room.resting.Load() {
			return resting()
		}
		posted, full := room.tryPost(mail)
		if full {
			return busy()
		}
		if posted {
			return nil
		}
	}
}

// tryPost does not wait. It does not post to a room that is being put away.
func (m *Room) tryPost(mail func(*state)) (posted, full bool) {
	m.rooms.mu.Lock()
	defer m.rooms.mu.Unlock()
	if m.rooms.live[m.ID] != m {
		return false, false
	}
	select {
	case m.mailbox <- mail:
		return true, false
	default:
		return false, true
	}
}

// putAway unloads a room nobody is at, unless mail came meanwhile.
func (r *Rooms) putAway(m *Room) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.live[m.ID] == m && len(m.mailbox) == 0 {
		delete(r.live, m.ID)
		close(m.mailbox)
	}
}

// drop unloads a room at once; its people come back and load it anew.
func (r *Rooms) drop(m *Room) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.live[m.ID] == m {
		delete(r.live, m.ID)
		close(m.mailbox)
	}
}

// Act does what a seat asks and answers when it is kept and told.
func (r *Rooms) Act(ctx context.Context, room string, seat int, request wire.Request) (wire.Answer, error) {
	return r.wait(ctx, room, act{seat: table.Seat(seat), request: request}, nil)
}

// Sit gives a seat, or the first free one for 0, to a player. It returns the
// seat taken.
func (r *Rooms) Sit(ctx context.Context, room string, seat int, name, salt string) (int, error) {
	answer, err := r.wait(ctx, room, act{}, func(s *state, a *act) {
		if seat == 0 {
			seat = s.free()
		}
		a.seat, a.action = table.Seat(seat), table.Sit{Seat: table.Seat(seat), Name: name, Salt: salt}
	})
	if err != nil {
		return 0, err
	}
	return answer.Log[0].Seat, nil
}

// HandOn gives a seat, its own or for the host any, to somebody else: the old
// keys end, and add keeps the new one.
func (r *Rooms) HandOn(ctx context.Context, room string, actor, seat int, name, salt string, add func() error) error {
	refused := make(chan error, 1)
	_, err := r.wait(ctx, room, act{}, func(s *state, a *act) {
		a.seat, a.action = table.Seat(seat), table.HandOn{Seat: table.Seat(seat), Name: name, Salt: salt}
		if actor != seat && table.Seat(actor) != s.table.Settings.Host {
			a.action = table.HandOn{} // refused, as no seat is 0
			refused <- notTheHost()
		}
	})
	select {
	case err := <-refused:
		return err
	default:
	}
	if err != nil {
		return err
	}
	if err := r.store.DropSeatKeys(ctx, room, seat); err != nil {
		return err
	}
	if err := add(); err != nil {
		return err
	}
	return r.post(ctx, room, func(s *state) {
		for _, l := range s.listeners {
			if l.Seat == seat {
				l.end() // their key opens nothing any more
			}
		}
	})
}

// free is the first free seat; if there is none, one past the last.
func (s *state) free() int {
	for _, c := range s.table.Chairs {
		if c.Name == "" {
			return int(c.Seat)
		}
	}
	return len(s.table.Chairs) + 1
}

// wait posts an act and waits for its answer. If the database is gone, the
// answer may be that it is not known yet; then the same request id finds out.
// prepare, if any, completes the act in the room's own goroutine.
func (r *Rooms) wait(ctx context.Context, room string, a act, prepare func(*state, *act)) (wire.Answer, error) {
	type result struct {
		answer wire.Answer
		err    error
	}
	results := make(chan result, 1)
	a.answer = func(answer wire.Answer, err error) {
		select {
		case results <- result{answer, err}:
		default: // answered already
		}
	}
	mail := func(s *state) {
		if prepare != nil {
			prepare(s, &a)
		}
		s.do(&a)
	}
	if err := r.post(ctx, room, mail); err != nil {
		return wire.Answer{}, err
	}
	select {
	case got := <-results:
		return got.answer, got.err
	case <-ctx.Done():
		return wire.Answer{}, notSaving()
	}
}

// ActLive does what a seat asks over a socket; answer is called once, when it
// is kept and told, and must not wait.
func (r *Rooms) ActLive(ctx context.Context, room string, seat int, request wire.Request, answer func(wire.Answer, error)) {
	a := act{seat: table.Seat(seat), request: request, answer: answer}
	if err := r.post(ctx, room, func(s *state) { s.do(&a) }); err != nil {
		answer(wire.Answer{}, err)
	}
}

// ask runs a question in the room's goroutine and hands its answer out when
// everything it rests on is kept.
func ask[T any](ctx context.Context, r *Rooms, room string, question func(*state) T) (T, error) {
	answers := make(chan T, 1)
	var none T
	err := r.post(ctx, room, func(s *state) {
		answer := question(s)
		s.after(func() { answers <- answer })
	})
	if err != nil {
		return none, err
	}
	select {
	case answer := <-answers:
		return answer, nil
	case <-ctx.Done():
		return none, notSaving()
	}
}

// View is the table as a viewer sees it.
func (r *Rooms) View(ctx context.Context, room string, viewer int) (wire.Look, error) {
	return ask(ctx, r, room, func(s *state) wire.Look {
		here := s.here()
		return wire.Look{Seq: s.seq, View: s.gate.View(s.table, sight.Viewer(viewer)), Here: append([]int{}, here.Here...), Watching: here.Watching}
	})
}

// Front is what somebody outside sees of a room: its seats and settings.
func (r *Rooms) Front(ctx context.Context, room string) (sight.View, error) {
	return ask(ctx, r, room, func(s *state) sight.View {
		v := s.gate.View(s.table, 0)
		return sight.View{Settings: v.Settings, Seats: v.Seats}
	})
}

// MayArrange reports whether a seat may arrange the table.
func (r *Rooms) MayArrange(ctx context.Context, room string, seat int) (bool, error) {
	return ask(ctx, r, room, func(s *state) bool { return s.table.MayArrange(table.Seat(seat)) })
}

// CheckSteps reads Steps as a seat would do them, and does nothing. The error is
// the mistake in them.
func (r *Rooms) CheckSteps(ctx context.Context, room string, seat int, text string) error {
	mistake, err := ask(ctx, r, room, func(s *state) error {
		action, err := steps.Read(text, s.table, table.Seat(seat))
		if err == nil {
			_, err = steps.Expand(action, s.table, table.Seat(seat))
		}
		return err
	})
	if err != nil {
		return err
	}
	if mistake != nil {
		return notUnderstood(mistake)
	}
	return nil
}

// Laid is how the zones and pieces of a room lie, without any card.
func (r *Rooms) Laid(ctx context.Context, room string) (*table.Table, error) {
	return ask(ctx, r, room, func(s *state) *table.Table { return s.table.Bare() })
}

// Log is the end of the log as a viewer may read it, at most n lines.
func (r *Rooms) Log(ctx context.Context, room string, viewer, n int) ([]wire.LogLine, error) {
	return ask(ctx, r, room, func(s *state) []wire.LogLine { return s.newest(sight.Viewer(viewer), n) })
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
		time.Sleep(10 * time.Millisecond)
	}
}

// Refresh sends a listener a fresh view in place of what it missed.
func (r *Rooms) Refresh(ctx context.Context, room string, l *Listener) error {
	return r.post(ctx, room, func(s *state) { s.show(l) })
}

// tellSaving tells everyone that keeping stopped, or goes on.
func (r *Rooms) tellSaving(saving bool) {
	m := encode(wire.Message{Type: "notice", Code: "not-saving", Text: "Not saving; retrying. The table shows what is kept."})
	if saving {
		m = encode(wire.Message{Type: "notice", Code: "saving", Text: "Saving again."})
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	for _, room := range r.live {
		select {
		case room.mailbox <- func(s *state) {
			for _, l := range s.listeners {
				l.send(m)
			}
		}:
		default: // its people learn of it with their next action
		}
	}
}

// dismissTime is how long changing the keys of a seat may take.
const dismissTime = 5 * time.Second

// dismiss takes the keys of a seat back, or has them open another one, and ends the
// connections; who still has a key comes back with it. It is done before anything later
// is told, so that a newcomer's key is not taken for the former one's, and nobody is
// shown what a seat sees that is theirs no more.
func (r *Rooms) dismiss(room string, left leaving, listeners []*Listener) {
	ctx, cancel := context.WithTimeout(context.Background(), dismissTime)
	defer cancel()
	change := func() error { return r.store.DropSeatKeys(ctx, room, left.seat) }
	if left.to != 0 {
		change = func() error { return r.store.MoveSeatKeys(ctx, room, left.seat, left.to) }
	}
	if err := change(); err != nil {
		r.log.Error("changing the keys of a seat that was left", "room", room, "seat", left.seat, "error", err)
	}
	for _, l := range listeners {
		if l.Seat == left.seat {
			l.end()
		}
	}
}

// offsetOf spreads the snapshots of rooms.
func offsetOf(id string) int64 {
	h := fnv.New32a()
	_, _ = h.Write([]byte(id))
	return int64(h.Sum32() % snapshotEvery)
}

// snapshot keeps a room's table aside, off the path of its actions and one at a time,
// because actions are what people wait for.
func (r *Rooms) snapshot(id string) {
	r.work.Go(func() {
		r.snapshots.Lock()
		defer r.snapshots.Unlock()
		ctx, cancel := context.WithTimeout(context.Background(), time.Minute)
		defer cancel()
		if err := r.store.Snapshot(ctx, id); err != nil {
			r.log.Warn("keeping a snapshot", "room", id, "error", err)
		}
	})
}

// Close lets everyone go, keeps everything and ends.
func (r *Rooms) Close() {
	r.mu.Lock()
	r.closed = true
	rooms := make([]*Room, 0, len(r.live))
	for id, room := range r.live {
		rooms = append(rooms, room)
		delete(r.live, id)
		close(room.mailbox)
	}
	r.mu.Unlock()
	for _, room := range rooms {
		<-room.closed
	}
	r.journal.close(r.options.Patience)
	r.work.Wait()
}
