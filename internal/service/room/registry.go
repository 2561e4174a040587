// Package room keeps live rooms: each owned by one goroutine, their journals
// committed together, their people told in the order that things were kept.
//
//	rooms := room.New(store, log, room.Options{})
//	defer rooms.Close()
//	answer, err := rooms.Act(ctx, id, room.Who{Seat: 2, Tenure: 3}, wire.Request{Steps: "draw 2 from weather"})
package room

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"hash/fnv"
	"log/slog"
	"slices"
	"sync"
	"sync/atomic"
	"time"
	"weak"

	"golang.org/x/sync/singleflight"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/play"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// Options of the rooms; the zero value is right for a service.
type Options struct {
	IdleAfter time.Duration // a room nobody is at is put away after this; 5 minutes
	Rest      time.Duration // how long a room that keeps failing rests; a minute
	Patience  time.Duration // how long Close waits for a database that is gone; 2 seconds

	// For tests that need the same bytes twice, or a fault.
	Now         func() time.Time
	GateKey     func() [32]byte
	Pause       func(time.Duration) // in place of letting the time pass
	BeforeApply func(room string, a table.Action)
	BeforeKeep  func(*store.Entry)
}

// Rooms are all rooms of a service. Safe for concurrent use.
type Rooms struct {
	store   *store.Store
	log     *slog.Logger
	options Options
	journal *journal
	counts  *counts

	Failures atomic.Int64 // panics inside rooms since the start

	mu       sync.Mutex
	live     map[string]*Room
	editions map[table.EditionOf]weak.Pointer[kit.Edition] // of the decks of live rooms
	closed   bool
	loads    singleflight.Group
	running  sync.WaitGroup // rooms, also those that were put away and come to their end
	work     sync.WaitGroup // snapshots under way
	ending   chan struct{}  // closed when the rooms end
	heavy    chan struct{}  // turns of what takes long

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
		o.Patience = 2 * time.Second
	}
	r := &Rooms{store: s, log: log, options: o, live: map[string]*Room{}, editions: map[table.EditionOf]weak.Pointer[kit.Edition]{}, ending: make(chan struct{}), heavy: turnsOfHeavy(), counts: newCounts()}
	r.journal = newJournal(s, log, r.tellSaving)
	r.journal.counts = r.counts
	go r.journal.run()
	r.work.Go(func() { r.journal.watch(r.ending) })
	if s.Shares() {
		r.work.Go(r.hold)
	}
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
func (r *Rooms) Open(ctx context.Context, record store.Room, made kit.Edition, b Beginning) (store.Room, Who, error) {
	record = r.begun(record)
	made.Name = record.Name // what stands over the table
	laid := made.Lay(record.Seats)
	ofEdition(laid, table.EditionOf{Kit: record.Kit, Number: record.Edition})
	return r.add(ctx, record, laid, b)
}

// OpenFrom makes a new room that begins as a bookmark has its table, with a seed of its own.
func (r *Rooms) OpenFrom(ctx context.Context, record store.Room, with *table.Table, b Beginning) (store.Room, Who, error) {
	record = r.begun(record)
	with.Settings.Name = record.Name
	return r.add(ctx, record, table.Edits{table.Begin{With: with}}, b)
}

// Beginning is what is done in a room in the very commit that makes it.
type Beginning struct {
	Sits    *Seating      // who takes the first free seat
	Shuffle table.PlaceID // is shuffled then, with what they add to chance; empty: nothing is
}

// add keeps a new room with its first entries, and says who sits there.
func (r *Rooms) add(ctx context.Context, record store.Room, laid table.Edits, b Beginning) (store.Room, Who, error) {
	kept := asKept(laid)
	entries := []store.Entry{{Room: record.ID, Number: 1, At: record.At, Edits: written(kept), Uses: table.UsesOf(kept), Deeds: []byte("[]")}}
	tab := &table.Table{}
	tab.Fold(laid)
	told := int64(0)
	do := func(who Who, action table.Action, keys ...store.KeyChange) error {
		number := int64(len(entries)) + 1
		edits, deeds, refusal := tab.Apply(0, action, table.Circumstances{Now: record.At, Entry: uint64(number), Chance: func(d chance.Draw) *chance.Stream {
			return chance.OfDraw(chance.Seed(record.Seed), d, tab.Salt())
		}})
		if refusal != nil {
			return wire.Refused(refusal, nil, nil)
		}
		entries = append(entries, store.Entry{
			Room: record.ID, Number: number, At: record.At, Actor: who.Seat, Tenure: who.Tenure, Edits: written(asKept(edits)), Deeds: written(deeds), Told: told,
			Keys: append(keys, keyChanges(edits)...),
		})
		told += int64(len(deeds))
		return nil
	}
	var who Who
	if b.Sits != nil {
		free := slices.IndexFunc(tab.Chairs, func(c table.Chair) bool { return c.Name == "" })
		if free < 0 {
			return record, who, full(len(tab.Chairs))
		}
		who = Who{Seat: tab.Chairs[free].Seat, Tenure: uint64(len(entries)) + 1}
		if err := do(who, table.Sit{Seat: who.Seat, Name: b.Sits.Name, Salt: b.Sits.Salt}, store.KeyChange{Seat: who.Seat, Tenure: who.Tenure, Add: b.Sits.Key, Name: b.Sits.Name}); err != nil {
			return record, who, err
		}
	}
	if b.Shuffle != "" {
		if err := do(Who{}, table.Shuffle{Place: b.Shuffle}); err != nil {
			return record, who, err
		}
	}
	return record, who, r.store.AddRoom(ctx, record, entries...)
}

// begun gives a new room what every one has.
func (r *Rooms) begun(record store.Room) store.Room {
	record.ID = store.NewID()
	record.At = r.now().UnixMilli()
	record.Seed = make([]byte, len(chance.Seed{}))
	_, _ = rand.Read(record.Seed)
	if record.Passcode == nil {
		record.Passcode = []byte{}
	}
	return record
}

// Bookmark keeps a room's table as it is under a name, for other rooms to begin with. Everybody there is told, in the
// commit that keeps it.
func (r *Rooms) Bookmark(ctx context.Context, room, name string) (store.Bookmark, error) {
	made := make(chan store.Bookmark, 1)
	_, err := r.wait(ctx, room, act{}, func(s *state, a *act) error {
		record, at := s.room.record, r.now().UnixMilli()
		kept := s.game.Table().Bookmark(at)
		b := store.Bookmark{
			ID: store.NewID(), Maker: record.Maker, Name: name, Kit: record.Kit, Edition: record.Edition, Seats: record.Seats,
			State: written(kept), Uses: table.UsesOf(kept), At: at,
		}
		a.action, a.bookmark = table.Bookmarked{Name: name}, &b
		made <- b
		return nil
	})
	if err != nil {
		return store.Bookmark{}, err
	}
	return <-made, nil
}

// pause waits, but not past the end of the rooms.
func (r *Rooms) pause(d time.Duration) {
	if r.options.Pause != nil {
		r.options.Pause(d)
		return
	}
	select {
	case <-time.After(d):
	case <-r.ending:
	}
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

// People counts who are at a room now, spectators included.
func (r *Rooms) People(room string) int {
	r.mu.Lock()
	live := r.live[room]
	r.mu.Unlock()
	if live == nil {
		return 0
	}
	return int(live.people.Load())
}

// Remove lets everyone of a room go, whose record says that it was removed.
func (r *Rooms) Remove(room string) {
	r.mu.Lock()
	live := r.live[room]
	r.mu.Unlock()
	if live != nil {
		r.drop(live)
	}
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
		// Many come at once after a restart; the room is loaded once for them all.
		loaded := r.loads.DoChan(id, func() (any, error) { return nil, r.load(id) })
		select {
		case result := <-loaded:
			if result.Err != nil {
				return nil, result.Err
			}
		case <-ctx.Done():
			return nil, busy()
		}
	}
}

// loadTime is how long loading a room may take.
const loadTime = time.Minute

// load loads a room and sets it going.
func (r *Rooms) load(id string) error {
	ctx, cancel := context.WithTimeout(context.Background(), loadTime)
	defer cancel()
	if err := r.store.Hold(ctx, id); err != nil {
		if errors.Is(err, store.ErrHeld) {
			return busy()
		}
		return err
	}
	record, err := r.store.Room(ctx, id)
	if err != nil {
		return err
	}
	fresh := &Room{
		ID: id, record: record, rooms: r, log: r.log.With("room", id),
		mailbox: make(chan func(*state), mailboxLength), closed: make(chan struct{}), offset: offsetOf(id), worker: r.journal.tells.of(id),
	}
	state, err := fresh.load(ctx)
	if err != nil {
		return err
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.live[id] == nil && !r.closed {
		r.live[id] = fresh
		r.counts.loads.Inc()
		r.running.Go(func() { fresh.run(state) })
	}
	return nil
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

// tryPost posts to a room that is loaded, if its mailbox has room.
func (r *Rooms) tryPost(room string, mail func(*state)) {
	r.mu.Lock()
	live := r.live[room]
	r.mu.Unlock()
	if live != nil {
		live.tryPost(mail)
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

// ask runs a question in the room's goroutine and hands its answer out when
// everything it rests on is kept. Who asks, if that matters, must be at the room still.
func ask[T any](ctx context.Context, r *Rooms, room string, who *Who, question func(*state) T) (T, error) {
	type result struct {
		answer T
		err    error
	}
	answers := make(chan result, 1)
	var none T
	err := r.post(ctx, room, func(s *state) {
		if who != nil {
			if err := problemOf(s.game.Present(*who)); err != nil {
				answers <- result{err: err}
				return
			}
		}
		answer := question(s)
		s.afterOr(func() { answers <- result{answer: answer} }, func(error) { answers <- result{err: busy()} })
	})
	if err != nil {
		return none, err
	}
	select {
	case got := <-answers:
		return got.answer, got.err
	case <-ctx.Done():
		return none, notSaving()
	}
}

// View is the table as a viewer sees it.
func (r *Rooms) View(ctx context.Context, room string, who Who) (wire.Look, error) {
	return ask(ctx, r, room, &who, func(s *state) wire.Look {
		s.calls(who)
		here, viewer := s.here(), play.Viewer(who.Seat)
		return wire.Look{Told: s.told.Count(viewer), View: s.game.View(viewer), Here: append([]table.Seat{}, here.Here...), Watching: here.Watching}
	})
}

// Front is what somebody outside sees of a room: its seats and settings.
func (r *Rooms) Front(ctx context.Context, room string) (sight.View, error) {
	return ask(ctx, r, room, nil, func(s *state) sight.View {
		v := s.game.View(0)
		return sight.View{Settings: v.Settings, Seats: v.Seats}
	})
}

// MayArrange reports whether a seat may arrange the table.
func (r *Rooms) MayArrange(ctx context.Context, room string, who Who) (bool, error) {
	return ask(ctx, r, room, &who, func(s *state) bool { return s.game.Table().MayArrange(who.Seat) })
}

// CheckSteps reads Steps as a seat would do them, and does nothing. The error is
// the mistake in them.
func (r *Rooms) CheckSteps(ctx context.Context, room string, who Who, text string) error {
	mistake, err := ask(ctx, r, room, &who, func(s *state) error {
		_, err := steps.ReadPlan(text, s.game.Table(), who.Seat)
		return err
	})
	if err != nil {
		return err
	}
	if mistake != nil {
		return wire.NotUnderstood(mistake)
	}
	return nil
}

// PlaceNamed is the place that a seat calls so, as in Steps, and DeckNamed the key of a deck. The error is why there is none.
func (r *Rooms) PlaceNamed(ctx context.Context, room string, who Who, text string) (table.PlaceID, error) {
	return named(ctx, r, room, who, func(t *table.Table) (table.PlaceID, error) { return steps.ReadPlace(text, t, who.Seat) }, table.NoSuchPlace, "No such place")
}

func (r *Rooms) DeckNamed(ctx context.Context, room string, who Who, text string) (string, error) {
	return named(ctx, r, room, who, func(t *table.Table) (string, error) { return steps.ReadDeck(text, t) }, table.NoSuchDeck, "No such deck")
}

func named[N ~string](ctx context.Context, r *Rooms, room string, who Who, read func(*table.Table) (N, error), code, title string) (is N, err error) {
	mistake, err := ask(ctx, r, room, &who, func(s *state) (mistake error) {
		is, mistake = read(s.game.Table())
		return mistake
	})
	if err != nil {
		return "", err
	}
	if mistake != nil {
		return "", wire.NotNamed(mistake, code, title)
	}
	return is, nil
}

// Laid is how the zones and pieces of a room lie, without any card.
func (r *Rooms) Laid(ctx context.Context, room string) (*table.Table, error) {
	return ask(ctx, r, room, nil, func(s *state) *table.Table { return s.game.Table().Bare() })
}

// Log is the end of the log as a viewer may read it, at most n lines.
func (r *Rooms) Log(ctx context.Context, room string, who Who, n int) ([]wire.LogLine, error) {
	return ask(ctx, r, room, &who, func(s *state) []wire.LogLine { return logLines(s.game.Newest(play.Viewer(who.Seat), n)) })
}

// LogAfter is the log from a line on, the oldest first, as a viewer may read it, at most limit lines. more reports
// that there are lines after them.
func (r *Rooms) LogAfter(ctx context.Context, room string, who Who, after int64, limit int) (lines []wire.LogLine, more bool, err error) {
	if _, err := ask(ctx, r, room, &who, func(*state) bool { return true }); err != nil { // what is told by now is kept then
		return nil, false, err
	}
	entries, err := r.store.EntriesOfLines(ctx, room, after, limit+2)
	if err != nil {
		return nil, false, err
	}
	lines, err = ask(ctx, r, room, &who, func(s *state) (all []wire.LogLine) {
		for _, e := range entries {
			var deeds []table.Deed
			if json.Unmarshal(e.Deeds, &deeds) == nil {
				all = append(all, logLines(s.game.Older(play.Entry{Number: e.Number, At: e.At, Told: e.Told}, deeds, play.Viewer(who.Seat)))...)
			}
		}
		return all
	})
	lines = slices.DeleteFunc(lines, func(l wire.LogLine) bool { return l.Number <= after })
	if len(lines) > limit {
		return lines[:limit], true, err
	}
	return lines, len(entries) == limit+2, err
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

// leaveAgain is how long a full mailbox is given before it is tried again.
const leaveAgain = 10 * time.Millisecond

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

// tellSaving tells everyone that keeping stopped, or goes on.
func (r *Rooms) tellSaving(saving bool) {
	m := encode(wire.Notice{Code: "not-saving", Text: "Not saving; retrying. The table shows what is kept."})
	if saving {
		m = encode(wire.Notice{Code: "saving", Text: "Saving again."})
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
	select {
	case <-r.ending:
		r.mu.Unlock()
		return
	default:
	}
	r.closed = true
	close(r.ending)
	for id, room := range r.live {
		delete(r.live, id)
		close(room.mailbox)
	}
	r.mu.Unlock()
	r.journal.close(r.options.Patience, r.running.Wait)
	r.work.Wait()
	r.free()
}
