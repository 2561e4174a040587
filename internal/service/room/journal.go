package room

import (
	"context"
	"errors"
	"log/slog"
	"sync/atomic"
	"time"

	"damselfly/internal/service/store"
)

// journal commits the entries of all rooms together, in the order they come,
// and tells of each only when it is kept. While the database is gone it holds
// what it has and tries again.
type journal struct {
	store  *store.Store
	log    *slog.Logger
	queue  chan pending
	saving func(bool) // told when keeping stops and goes on again
	broken atomic.Bool
	ending atomic.Bool
	done   chan struct{}
}

// pending is an entry that waits to be kept, and what to tell then. Without an
// entry it only waits for those before it.
type pending struct {
	entry *store.Entry
	tell  func()
	lost  func(error) // the journal belongs to somebody else now
}

// Bounds of one commit.
const (
	batchEntries = 256
	batchBytes   = 8 << 20
	queueEntries = 4096
)

func newJournal(s *store.Store, log *slog.Logger, saving func(bool)) *journal {
	return &journal{store: s, log: log, queue: make(chan pending, queueEntries), saving: saving, done: make(chan struct{})}
}

// run commits until the queue is closed and empty.
func (j *journal) run() {
	defer close(j.done)
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
		if p.entry != nil {
			entries = append(entries, *p.entry)
		}
	}
	if len(entries) > 0 {
		if err := j.keep(entries); err != nil {
			j.apart(batch)
			return
		}
	}
	for _, p := range batch {
		p.tell()
	}
}

// apart commits each entry alone, so that one room's stale journal does not
// stop the others.
func (j *journal) apart(batch []pending) {
	for _, p := range batch {
		if p.entry != nil {
			if err := j.keep([]store.Entry{*p.entry}); err != nil {
				p.lost(err)
				continue
			}
		}
		p.tell()
	}
}

// errGivenUp is returned for entries that could not be kept before the end.
// Nobody was told of them.
var errGivenUp = errors.New("the database was gone when the service ended")

// keep appends entries, again and again while the database is gone. It returns
// ErrStale, or errGivenUp at the end of the service.
func (j *journal) keep(entries []store.Entry) error {
	pause := 50 * time.Millisecond
	for {
		ctx, cancel := context.WithTimeout(context.Background(), 20*time.Second)
		err := j.store.Append(ctx, entries)
		cancel()
		if err == nil || errors.Is(err, store.ErrStale) {
			if j.broken.CompareAndSwap(true, false) {
				j.log.Info("saving again")
				j.saving(true)
			}
			return err
		}
		if j.ending.Load() {
			return errGivenUp
		}
		if j.broken.CompareAndSwap(false, true) {
			j.log.Error("not saving; retrying", "error", err)
			j.saving(false)
		}
		time.Sleep(pause)
		pause = min(2*pause, 2*time.Second)
	}
}

// close commits what is queued and waits, for a database that is gone only as
// long as patience.
func (j *journal) close(patience time.Duration) {
	close(j.queue)
	select {
	case <-j.done:
	case <-time.After(patience):
		j.ending.Store(true)
		<-j.done
	}
}
