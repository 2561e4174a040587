package api

import (
	"fmt"
	"slices"
	"sync"
	"time"

	"golang.org/x/time/rate"

	"damselfly.example/damselfly/internal/wire"
)

// Limits of what one person may do.
const (
	joinsAtOnce     = 40 // of one address at one room
	failedPasscodes = 10 // of one address at one room in ten minutes
	passcodesAtOnce = 2  // are compared; that is slow on purpose
	longestPasscode = 72 // bytes, as many as the slow hash takes
)

// paces are the paces of many, each by a key.
type paces struct {
	each   rate.Limit // a second
	atOnce int

	mu    sync.Mutex
	known map[string]*rate.Limiter
	swept time.Time
}

// sweepAfter is when paces are forgotten; by then all that wait are full again.
const sweepAfter = 20 * time.Minute

func (p *paces) of(key string) *rate.Limiter {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.known == nil || time.Since(p.swept) > sweepAfter {
		p.known, p.swept = map[string]*rate.Limiter{}, time.Now()
	}
	if p.known[key] == nil {
		p.known[key] = rate.NewLimiter(p.each, p.atOnce)
	}
	return p.known[key]
}

// attempts counts wrong passcodes, by whoever tries at which room.
type attempts struct {
	now func() time.Time

	mu    sync.Mutex
	wrong map[string][]time.Time // of each the last wrong ones, and those that are being tried
	swept time.Time
}

// attempt is one that is being tried.
type attempt struct {
	of  *attempts
	key string
	at  time.Time
}

const (
	attemptsSpan  = 10 * time.Minute // for how long a wrong passcode counts
	attemptsPause = 30 * time.Second // after too many of them, from one attempt to the next
)

// begin counts an attempt as wrong until it ends, and reports whether it may be tried.
// After too many wrong ones there is still one each half minute: an address is often
// shared, and who shares it with a guesser must get in with the right one.
func (a *attempts) begin(key string) (attempt, bool) {
	a.mu.Lock()
	defer a.mu.Unlock()
	now := a.now()
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
	if len(counted) >= failedPasscodes && now.Sub(counted[len(counted)-1]) < attemptsPause {
		a.wrong[key] = counted
		return attempt{}, false
	}
	a.wrong[key] = append(counted, now)
	return attempt{a, key, now}, true
}

// end gives the attempt back if it was right.
func (t attempt) end(right bool) {
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

func joinsTooFast() *wire.Problem {
	return typed(&wire.Problem{Status: 429, Code: "too-many-joins", Title: "Too many at once", After: 60,
		Detail:  "Too many people joined this room from your address. Wait a minute.",
		Numbers: map[string]int{"at-once": joinsAtOnce}})
}

func (a *API) tooFast() *wire.Problem {
	return typed(&wire.Problem{Status: 429, Code: "too-fast", Title: "Too fast", After: 1,
		Detail:  fmt.Sprintf("You sent more than %d actions a second. Wait a moment.", a.Limits.Acts),
		Numbers: map[string]int{"actions-a-second": a.Limits.Acts}})
}
