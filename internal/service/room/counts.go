package room

import (
	"cmp"
	"context"
	"sync"
	"time"
	"weak"

	"github.com/prometheus/client_golang/prometheus"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
)

// counts are what a keeper wants to see of rooms. They tell of no single room.
type counts struct {
	acts    *prometheus.CounterVec // by word and outcome
	commits prometheus.Histogram   // seconds
	entries prometheus.Histogram   // of a commit
	loads   prometheus.Counter

	conflicts prometheus.Counter // of commits, that were tried again

	so Done // of all of them, for who asks the service itself
	mu sync.Mutex
}

// Done is what was done since the service began.
type Done struct {
	Actions, Commits int64
	Committing       time.Duration // all commits together
}

// Done is what was done since the service began.
func (r *Rooms) Done() Done {
	r.counts.mu.Lock()
	defer r.counts.mu.Unlock()
	return r.counts.so
}

func newCounts() *counts {
	return &counts{
		acts: prometheus.NewCounterVec(prometheus.CounterOpts{Name: "damselfly_actions_total", Help: "Actions, by their word and what became of them."}, []string{"word", "outcome"}),
		commits: prometheus.NewHistogram(prometheus.HistogramOpts{Name: "damselfly_commit_seconds", Help: "How long the journal's commits took.",
			Buckets: prometheus.ExponentialBuckets(0.0005, 2, 14)}),
		entries: prometheus.NewHistogram(prometheus.HistogramOpts{Name: "damselfly_commit_entries", Help: "How many entries were committed together.",
			Buckets: prometheus.ExponentialBuckets(1, 2, 9)}),
		loads: prometheus.NewCounter(prometheus.CounterOpts{Name: "damselfly_room_loads_total", Help: "Rooms that were loaded from the records."}),

		conflicts: prometheus.NewCounter(prometheus.CounterOpts{Name: "damselfly_commit_conflicts_total", Help: "Commits that the database gave up in favour of others, and that were tried again."}),
	}
}

// Collectors are the metrics of the rooms.
func (r *Rooms) Collectors() []prometheus.Collector {
	return []prometheus.Collector{
		r.counts.acts, r.counts.commits, r.counts.entries, r.counts.loads, r.counts.conflicts,
		prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: "damselfly_journal_queue", Help: "Entries that wait to be committed."},
			func() float64 { return float64(len(r.journal.queue)) }),
	}
}

// What becomes of an action.
const (
	wasDone    = "done"
	wasRefused = "refused"
	wasPartly  = "partly done"
)

func (c *counts) act(a table.Action, outcome string) {
	if a != nil {
		c.acts.WithLabelValues(wordOf(a), outcome).Inc()
		c.mu.Lock()
		c.so.Actions++
		c.mu.Unlock()
	}
}

// wordOf is what an action is called, of several the first.
func wordOf(a table.Action) string {
	if all, several := a.(table.All); several && len(all.Actions) > 0 {
		a = all.Actions[0]
	}
	return cmp.Or(table.KindOf(a).Word, "service") // what the service does itself has no word
}

// committed notes a commit.
func (c *counts) committed(entries int, began time.Time) {
	took := time.Since(began)
	c.mu.Lock()
	c.so.Commits, c.so.Committing = c.so.Commits+1, c.so.Committing+took
	c.mu.Unlock()
	c.commits.Observe(took.Seconds())
	c.entries.Observe(float64(entries))
}

// Aside puts all rooms away while something is done to the records beneath them. People are let go, and come back
// by themselves afterwards; until then rooms answer that the service is busy.
func (r *Rooms) Aside(ctx context.Context, do func() error) error {
	r.mu.Lock()
	if r.closed {
		r.mu.Unlock()
		return busy()
	}
	r.closed = true
	for id, live := range r.live {
		delete(r.live, id)
		close(live.mailbox)
	}
	r.editions = map[table.EditionOf]weak.Pointer[kit.Edition]{}
	r.mu.Unlock()
	defer func() {
		r.mu.Lock()
		defer r.mu.Unlock()
		select {
		case <-r.ending: // the service ends
		default:
			r.closed = false
		}
	}()
	r.running.Wait()
	kept := make(chan struct{})
	r.journal.queue <- pending{tell: func(*wakes) { close(kept) }, lost: func(error) { close(kept) }}
	select {
	case <-kept:
		return do()
	case <-ctx.Done():
		return ctx.Err()
	}
}
