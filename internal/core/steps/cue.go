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

// maxInside is how deep cues may run each other.
const maxInside = 3

// Expand puts the steps of cues and of the setup after each Run of an action. The
// error is a mistake in those steps and says of what they are.
func Expand(a table.Action, t *table.Table, actor table.Seat) (table.Action, error) {
	return expand(a, t, actor, 0)
}

func expand(a table.Action, t *table.Table, actor table.Seat, inside int) (table.Action, error) {
	switch a := a.(type) {
	case table.All:
		all := make(table.Actions, len(a.Actions))
		for i, one := range a.Actions {
			var err error
			if all[i], err = expand(one, t, actor, inside); err != nil {
				return nil, err
			}
		}
		return table.All{Actions: all}, nil
	case table.Run:
		name, text := "setup", t.Settings.Setup
		if a.Cue != "" {
			cue := t.Pieces[a.Cue]
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
		then, err := Read(text, t, actor)
		if err == nil {
			then, err = expand(then, t, actor, inside+1)
		}
		if err != nil {
			return nil, inCue(name, err)
		}
		return table.All{Actions: table.Actions{a, then}}, nil
	}
	return a, nil
}

// inCue says in whose steps a mistake is.
func inCue(name string, err error) error {
	var mistake *Error
	if errors.As(err, &mistake) {
		return fmt.Errorf("%s, line %d, column %d: %s", name, mistake.Line, mistake.Column, mistake.Text)
	}
	return err
}
