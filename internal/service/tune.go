package service

import (
	"context"
	"os"
	"runtime/debug"
	"runtime/metrics"
	"time"
)

// While garbage is collected, actions wait longer: it is what the slowest hundredth of
// them consists of. So it may gather for long, in memory that is there anyway, but not to
// more than this beside what is in use.
const (
	garbage   = 384 << 20 // bytes
	tuneEvery = 5 * time.Second

	leastPercent, mostPercent = 200, 1600 // of what is in use

	// What is in use may grow a lot between two looks, as while a kit is made: then garbage is
	// collected as the memory nears this, or twice what is in use, whichever is more.
	limit = 448 << 20 // bytes
)

// Tune has garbage gather so, until the end, unless GOGC says how long.
func Tune(ctx context.Context) {
	if os.Getenv("GOGC") != "" {
		return
	}
	debug.SetGCPercent(mostPercent)
	debug.SetMemoryLimit(limit)
	go func() {
		live := []metrics.Sample{{Name: "/gc/heap/live:bytes"}}
		for {
			select {
			case <-ctx.Done():
				return
			case <-time.After(tuneEvery):
			}
			metrics.Read(live)
			debug.SetGCPercent(percentFor(live[0].Value.Uint64()))
			debug.SetMemoryLimit(max(limit, 2*int64(live[0].Value.Uint64())))
		}
	}()
}

// percentFor is how much garbage may gather beside so many bytes in use.
func percentFor(live uint64) int {
	return int(min(mostPercent, max(leastPercent, garbage*100/max(live, 1))))
}
