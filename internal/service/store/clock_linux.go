package store

import (
	"time"

	"golang.org/x/sys/unix"
)

// sinceBoot is a clock of one's own that nobody sets, and that goes on while the machine sleeps.
func sinceBoot() time.Duration {
	var now unix.Timespec
	if err := unix.ClockGettime(unix.CLOCK_BOOTTIME, &now); err != nil {
		return time.Since(started)
	}
	return time.Duration(now.Nano())
}
