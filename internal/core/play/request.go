package play

import (
	"errors"

	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
)

// Request is what a seat wants done: an action or Steps, and the text of cues that it
// confirms.
type Request struct {
	Action  table.Action
	Steps   string
	Confirm string
}

// NeedsConfirming is that steps which somebody else may have written would do what only
// the presser can see. They confirm this very text.
type NeedsConfirming struct{ Text string }

func (n NeedsConfirming) Error() string {
	return "these steps show, give or move cards that only you see"
}

// ErrEither is that a request holds neither an action nor Steps, or both.
var ErrEither = errors.New(`give either an "action" or "steps"`)

// ErrWatching is that somebody who watches asks for something.
var ErrWatching = errors.New("you are watching; take a seat to act")

// Plan reads a request of a seat, and the steps of the cues that it runs. Names are
// looked up on the table as it is. The error is one of those above, or a mistake in the
// text.
func (g *Game) Plan(seat table.Seat, request Request) (steps.Plan, error) {
	var plan steps.Plan
	var err error
	switch {
	case seat == 0:
		return plan, ErrWatching
	case (request.Steps != "") == (request.Action != nil):
		return plan, ErrEither
	case request.Steps != "":
		plan, err = steps.ReadPlan(request.Steps, g.table, seat)
	default:
		plan, err = steps.Expand(request.Action, g.table, seat)
	}
	if err == nil && plan.Confirm != "" && request.Confirm != plan.Confirm {
		err = NeedsConfirming{plan.Confirm}
	}
	return plan, err
}
