package web

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// Whoever shares an address with a guesser gets in with the right passcode, half a minute
// after the guesser's last one, and as often as they like.
func TestAGuesserDoesNotLockOutWhoSharesTheAddress(t *testing.T) {
	now := time.Date(2026, 11, 25, 20, 0, 0, 0, time.UTC)
	a := &Attempts{Now: func() time.Time { return now }}
	try := func(right bool) bool {
		one, allowed := a.Begin("room address")
		if allowed {
			one.End(right)
		}
		return allowed
	}
	for range 50 {
		assert.True(t, try(true), "the right one does not count")
	}
	for i := range 50 {
		assert.Equal(t, i < FailedPasscodes, try(false), i)
	}
	assert.False(t, try(true), "at once it would be one of the guesser's")
	for range 20 {
		now = now.Add(AttemptsPause)
		assert.True(t, try(true))
	}
	guesses := 0
	for end := now.Add(time.Hour); now.Before(end); now = now.Add(time.Second) {
		if try(false) {
			guesses++
		}
	}
	assert.LessOrEqual(t, guesses, 130)
}
