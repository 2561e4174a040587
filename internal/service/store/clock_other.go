//go:build !linux

package store

import "time"

// sinceBoot is a clock of one's own that nobody sets.
func sinceBoot() time.Duration { return time.Since(started) }
