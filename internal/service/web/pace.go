package web

import (
	"slices"
	"sync"
	"time"

	"golang.org/x/time/rate"
)

// Paces are the paces of many, each by a key.
type Paces struct {
	Each   rate.Limit // a second
	AtOnce int

	mu    sync.Mutex
	known map[string]*rate.Limiter
	swept time.Time
}

// sweepAfter is when paces are forgotten; by then all that wait are full again.
const sweepAfter = 20 * time.Minute

// Of is the pace of one.
func (p *Paces) Of(key string) *rate.Limiter {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.known == nil || time.Since(p.swept) > sweepAfter {
		p.known, p.swept = map[string]*rate.Limiter{}, time.Now()
	}
	if p.known[key] == nil {
		p.known[key] = rate.NewLimiter(p.Each, p.AtOnce)
	}
	return p.known[key]
}

// Attempts counts wrong passcodes, by whoever tries at which room.
type Attempts struct {
	Now func() time.Time

	mu    sync.Mutex
	wrong map[string][]time.Time // of each the last wrong ones, and those that are being tried
	swept time.Time
}

// Attempt is one that is being tried.
type Attempt struct {
	of  *Attempts
	key string
	at  time.Time
}

const (
	FailedPasscodes = 10 // wrong attempts after which one waits

	attemptsSpan  = 10 * time.Minute // for how long a wrong passcode counts
	AttemptsPause = 30 * time.Second // after too many of them, from one attempt to the next
)

// Begin counts an attempt as wrong until it ends, and reports whether it may be tried.
// After too many wrong ones there is still one each half minute: an address is often
// shared, and who shares it with a guesser must get in with the right one.
func (a *Attempts) Begin(key string) (Attempt, bool) {
	a.mu.Lock()
	defer a.mu.Unlock()
	now := a.Now()
	if a.wrong == nil || now.Sub(a.swept) > sweepAfter {
		fresh := map[string][]time.Time{}
		for k, times := range a.wrong {
			if now.Sub(times[len(times)-1]) < attemptsSpan {
				fresh[k] = times
			}
		}
		a.wrong, a.swept = fresh, now
	}
	counted := slices.DeleteFunc(a.wrong[key], func(t time.Time) bool { return now.Sub(t) > attemptsSpan })
	if len(counted) >= FailedPasscodes && now.Sub(counted[len(counted)-1]) < AttemptsPause {
		a.wrong[key] = counted
		return Attempt{}, false
	}
	a.wrong[key] = append(counted, now)
	return Attempt{a, key, now}, true
}

// End gives the attempt back if it was right.
func (t Attempt) End(right bool) {
	if !right {
		return
	}
	t.of.mu.Lock()
	defer t.of.mu.Unlock()
	times := t.of.wrong[t.key]
	if i := slices.Index(times, t.at); i >= 0 {
		times = slices.Delete(times, i, i+1)
	}
	if t.of.wrong[t.key] = times; len(times) == 0 {
		delete(t.of.wrong, t.key)
	}
}
