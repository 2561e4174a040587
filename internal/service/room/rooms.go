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
	"errors"
	"hash/fnv"
	"log/slog"
	"sync"
	"sync/atomic"
	"time"
	"weak"

	"golang.org/x/sync/singleflight"

	"damselfly.example/damselfly/internal/core/kit"
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

// leaveAgain is how long a full mailbox is given before it is tried again.
const leaveAgain = 10 * time.Millisecond

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
