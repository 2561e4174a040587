package web

import (
	"log/slog"
	"sync"
	"time"
)

// Outage says once that the database does not answer, and once that it does again: while it is gone every request
// finds out, and a log that has a line of each fills the disk.
type Outage struct {
	mu    sync.Mutex
	since time.Time
	last  time.Time
	n     int
}

// outageOver is after how long without a request that found it gone the database is said to be back.
const outageOver = 20 * time.Second

// Found notes that a request found the database gone.
func (o *Outage) Found(log *slog.Logger, err error) {
	o.mu.Lock()
	defer o.mu.Unlock()
	o.last = time.Now()
	if o.n++; o.n == 1 {
		o.since = o.last
		log.Warn("the database does not answer", "error", err)
	}
}

// Look notes that it is back, if it is, with how many requests found it gone.
func (o *Outage) Look(log *slog.Logger, answers bool) {
	o.mu.Lock()
	defer o.mu.Unlock()
	if o.n == 0 || !answers || time.Since(o.last) < outageOver {
		return
	}
	log.Info("the database answers again", "requests_refused", o.n, "for", o.last.Sub(o.since).Round(time.Second))
	o.n = 0
}
