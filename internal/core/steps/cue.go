package steps

import (
	"errors"
	"fmt"
	"strings"

	"damselfly/internal/core/table"
)

// run = "run" ("setup" | cue).
func (r *reader) run() (table.Action, error) {
	if r.accept("setup") {
		return table.Run{}, nil
	}
	cue, err := r.piece(table.Cue)
	return table.Run{Cue: cue}, err
}

// How cues may run each other: so deep, and so many in one action.
const (
	maxInside = 3
	maxRuns   = 50
)

// Expand puts the steps of cues and of the setup after each Run of an action. The
// error is a mistake in those steps and says of what they are.
func Expand(a table.Action, t *table.Table, actor table.Seat) (table.Action, error) {
	x := &expander{table: t, actor: actor}
	return x.expand(a, 0)
}

type expander struct {
	table *table.Table
	actor table.Seat
	runs  int // so far
}

func (x *expander) expand(a table.Action, inside int) (table.Action, error) {
	switch a := a.(type) {
	case table.All:
		all := make(table.Actions, len(a.Actions))
		for i, one := range a.Actions {
			var err error
			if all[i], err = x.expand(one, inside); err != nil {
				return nil, err
			}
		}
		return table.All{Actions: all}, nil
	case table.Run:
		return x.run(a, inside)
	}
	return a, nil
}

func (x *expander) run(a table.Run, inside int) (table.Action, error) {
	name, text := "setup", x.table.Settings.Setup
	if a.Cue != "" {
		cue := x.table.Pieces[a.Cue]
		if cue == nil || cue.Kind != table.Cue {
			return a, nil // refused where it is done
		}
		name, text = cue.Name, cue.Text
	}
	if strings.TrimSpace(text) == "" {
		return a, nil
	}
	if inside == maxInside {
		return nil, fmt.Errorf("%s: cues may run each other %d deep, not deeper", name, maxInside)
	}
	if x.runs++; x.runs > maxRuns {
		return nil, fmt.Errorf("%s: at most %d cues run in one action", name, maxRuns)
	}
	then, err := Read(text, x.table, x.actor)
	if err == nil {
		then, err = x.expand(then, inside+1)
	}
	if err != nil {
		return nil, inCue(name, err)
	}
	return table.All{Actions: table.Actions{a, then}}, nil
}

// inCue says in whose steps a mistake is.
func inCue(name string, err error) error {
	var mistake *Error
	if errors.As(err, &mistake) {
		return fmt.Errorf("%s, line %d, column %d: %s", name, mistake.Line, mistake.Column, mistake.Text)
	}
	return err
}
