package room

import (
	"context"
	"errors"
	"log/slog"
	"sync/atomic"
	"time"

	"damselfly.example/damselfly/internal/service/store"
)

// journal commits the entries of all rooms together, in the order they come,
// and has each told only when it is kept. While the database is gone it holds
// what it has and tries again.
type journal struct {
	store  *store.Store
	counts *counts
	log    *slog.Logger
	queue  chan pending
	tells  *telling
	saving func(bool) // told when keeping stops and goes on again
	broken atomic.Bool
	trying atomic.Bool // keep is trying again
	done   chan struct{}

	ctx    context.Context // ends when what is not kept is given up
	giveUp context.CancelFunc
}

// pending is an entry that waits to be kept, and what to tell then. Without an
// entry it only waits for those before it.
type pending struct {
	fate  *fate // nil: rests on nothing
	room  int   // the worker that tells of its room
	entry *store.Entry
	tell  func(*wakes)
	lost  func(error) // this, or what it rests on, cannot be kept
}

// fate is shared by all that rests on one state of a room. Once an entry of it is
// lost, nothing that came after is kept or told.
type fate struct{ lost atomic.Bool }

func (p pending) isLost() bool { return p.fate != nil && p.fate.lost.Load() }

// lose gives an entry up, and all that rests on it, and returns what tells of that.
func (p pending) lose(err error) func(*wakes) {
	if p.fate != nil {
		p.fate.lost.Store(true)
	}
	return func(*wakes) { p.lost(err) }
}

// Bounds of one commit.
const (
	batchEntries = 256
	batchBytes   = 8 << 20
	queueEntries = 4096
)

func newJournal(s *store.Store, log *slog.Logger, saving func(bool)) *journal {
	ctx, giveUp := context.WithCancel(context.Background())
	return &journal{store: s, log: log, queue: make(chan pending, queueEntries), tells: newTelling(), saving: saving, done: make(chan struct{}), ctx: ctx, giveUp: giveUp}
}

// run commits until the queue is closed and empty.
func (j *journal) run() {
	defer close(j.done)
	defer j.tells.close()
	var batch []pending
	for first := range j.queue {
		batch = append(batch[:0], first)
		batch = j.gather(batch)
		j.commit(batch)
	}
}

// gather adds what is waiting already.
func (j *journal) gather(batch []pending) []pending {
	size := batch[0].size()
	for len(batch) < batchEntries && size < batchBytes {
		select {
		case next, open := <-j.queue:
			if !open {
				return batch
			}
			batch = append(batch, next)
			size += next.size()
		default:
			return batch
		}
	}
	return batch
}

func (p pending) size() int {
	if p.entry == nil {
		return 0
	}
	return len(p.entry.Edits) + len(p.entry.Deeds)
}

func (j *journal) commit(batch []pending) {
	entries := make([]store.Entry, 0, len(batch))
	for _, p := range batch {
		if p.entry != nil && !p.isLost() {
			entries = append(entries, *p.entry)
		}
	}
	if len(entries) > 0 {
		if err := j.keep(entries); err != nil {
			j.apart(batch)
			return
		}
	}
	shares := make([][]func(*wakes), len(j.tells.workers))
	for _, p := range batch {
		tell := p.tell
		if p.isLost() {
			tell = p.lose(errRestsOnLost)
		}
		shares[p.room] = append(shares[p.room], tell)
	}
	j.tells.hand(shares)
}

// apart commits each entry alone, so that one room's stale journal does not
// stop the others.
func (j *journal) apart(batch []pending) {
	for _, p := range batch {
		tell := p.tell
		if p.isLost() {
			tell = p.lose(errRestsOnLost)
		} else if p.entry != nil {
			if err := j.keep([]store.Entry{*p.entry}); err != nil {
				tell = p.lose(err)
			}
		}
		j.tells.workers[p.room] <- []func(*wakes){tell}
	}
}

// errRestsOnLost is returned for what came after a lost entry.
var errRestsOnLost = errors.New("it rests on an entry that could not be kept")

// errGivenUp is returned for entries that could not be kept before the end.
// Nobody was told of them.
var errGivenUp = errors.New("the database was gone when the service ended")

// mostConflicts is how often entries are tried at once after a conflict.
const mostConflicts = 5

// keep appends entries, again and again while the database is gone. It returns an
// error that does not heal, such as ErrStale, or errGivenUp at the end of the service.
func (j *journal) keep(entries []store.Entry) error {
	pause, conflicts := 50*time.Millisecond, 0
	for {
		ctx, cancel := context.WithTimeout(j.ctx, 20*time.Second)
		began := time.Now()
		err := j.store.Append(ctx, entries)
		cancel()
		j.counts.committed(len(entries), began)
		if err == nil || !store.Heals(err) {
			j.trying.Store(false)
			j.works(nil)
			return err
		}
		if j.ctx.Err() != nil {
			return errGivenUp
		}
		if store.Conflict(err) && conflicts < mostConflicts { // the database is there; nobody needs to hear of it
			conflicts++
			j.counts.conflicts.Inc()
			continue
		}
		j.trying.Store(true)
		j.works(err)
		select {
		case <-time.After(pause):
		case <-j.ctx.Done():
			return errGivenUp
		}
		pause = min(2*pause, 2*time.Second)
	}
}

// works notes whether the database keeps what it is given, and says so when that
// changes.
func (j *journal) works(err error) {
	if err != nil && j.broken.CompareAndSwap(false, true) {
		j.log.Error("not saving; retrying", "error", err)
		j.saving(false)
	}
	if err == nil && j.broken.CompareAndSwap(true, false) {
		j.log.Info("saving again")
		j.saving(true)
	}
}

// Every so often the database is asked whether it is there, so that people learn that
// it is not before they act.
const (
	askEvery  = 600 * time.Millisecond
	askWithin = time.Second
)

// watch asks until the end.
func (j *journal) watch(ending <-chan struct{}) {
	for {
		select {
		case <-ending:
			return
		case <-time.After(askEvery):
		}
		ctx, cancel := context.WithTimeout(j.ctx, askWithin)
		err := j.store.Ping(ctx)
		cancel()
		if err != nil || !j.trying.Load() { // while keep tries, keep says when it works again
			j.works(err)
		}
	}
}

// close commits what is queued and waits, for a database that is gone only as
// long as patience. Nobody queues anything once rest has returned.
func (j *journal) close(patience time.Duration, rest func()) {
	giveUp := time.AfterFunc(patience, j.giveUp)
	defer giveUp.Stop()
	rest()
	close(j.queue)
	<-j.done
	j.giveUp()
}
