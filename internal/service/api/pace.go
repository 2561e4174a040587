package api

import (
	"sync"
	"time"

	"golang.org/x/time/rate"

	"damselfly/internal/wire"
)

// Limits of what one person may do.
const (
	actionsASecond  = 20 // in the long run
	actionsAtOnce   = 60
	failedPasscodes = 10 // of one address at one room in ten minutes
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

// pace bounds the actions of one connected person.
func pace() *rate.Limiter { return rate.NewLimiter(actionsASecond, actionsAtOnce) }

func tooFast() *wire.Problem {
	return typed(&wire.Problem{Status: 429, Code: "too-fast", Title: "Too fast",
		Detail:  "You sent more than 20 actions a second. Wait a moment.",
		Numbers: map[string]int{"actions-a-second": actionsASecond}})
}
