package steps

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"damselfly.example/damselfly/internal/core/table"
)

// How cues may run each other: so deep, and so many in one action.
const (
	maxInside = 3
	maxRuns   = 50
)

// Origin says where a step was written.
type Origin struct {
	Cue  string // the cue, or "setup"; empty: in the text itself
	Line int    // from 1; 0 if the step was no text
}

// Plan is a list of steps that are done as one, with the steps of the cues that
// they run.
type Plan struct {
	Action  table.Action
	Origins []Origin // of each step

	// Confirm is the text of the cues that would show, give or move cards which only
	// who presses them sees; empty if none does. They confirm this very text first.
	Confirm string
}

// Expand puts the steps of cues and of the setup after each Run of an action, all in
// one list. The error is a mistake in those steps and says of what they are.
func Expand(a table.Action, t *table.Table, actor table.Seat) (Plan, error) {
	lines := []line{{action: a}}
	if all, several := a.(table.All); several {
		lines = nil
		for _, one := range all.Actions {
			lines = append(lines, line{action: one})
		}
	}
	return expand(lines, t, actor)
}

// ReadPlan reads a text and puts the steps of the cues that it runs into it.
func ReadPlan(text string, t *table.Table, actor table.Seat) (Plan, error) {
	lines, err := readLines(text, t, actor)
	if err != nil {
		return Plan{}, err
	}
	return expand(lines, t, actor)
}

func expand(lines []line, t *table.Table, actor table.Seat) (Plan, error) {
	x := &expander{table: t, actor: actor}
	if err := x.add("", lines, 0); err != nil {
		return Plan{}, err
	}
	x.plan.Confirm = strings.Join(x.confirm, "\n")
	x.plan.Action = table.All{Actions: x.actions}
	if len(x.actions) == 1 {
		x.plan.Action = x.actions[0]
	}
	return x.plan, nil
}

type expander struct {
	table   *table.Table
	actor   table.Seat
	runs    int // so far
	actions table.Actions
	plan    Plan
	confirm []string
}

// add puts the steps of a text, that of a cue or of the request, at the end.
func (x *expander) add(cue string, lines []line, inside int) error {
	for _, l := range lines {
		x.actions = append(x.actions, l.action)
		x.plan.Origins = append(x.plan.Origins, Origin{cue, l.number})
		if run, runs := l.action.(table.Run); runs {
			if err := x.run(run, inside); err != nil {
				return err
			}
		}
	}
	return nil
}

func (x *expander) run(a table.Run, inside int) error {
	name, text := "setup", x.table.Settings.Setup
	if a.Cue != "" {
		cue := x.table.Pieces[a.Cue]
		if cue == nil || cue.Kind != table.Cue {
			return nil // refused where it is done
		}
		name, text = cue.Name, cue.Text
	}
	if strings.TrimSpace(text) == "" {
		return nil
	}
	if inside == maxInside {
		return fmt.Errorf("%s: cues may run each other %d deep, not deeper", name, maxInside)
	}
	if x.runs++; x.runs > maxRuns {
		return fmt.Errorf("%s: at most %d cues run in one action", name, maxRuns)
	}
	lines, err := readLines(text, x.table, x.actor)
	if err == nil {
		err = x.add(name, lines, inside+1)
	}
	exposes := func(l line) bool { return table.Exposes(l.action, x.table, x.actor) }
	if slices.ContainsFunc(lines, exposes) && !slices.Contains(x.confirm, text) {
		x.confirm = append(x.confirm, text)
	}
	if err != nil {
		return inCue(name, err)
	}
	return nil
}

// inCue says in whose steps a mistake is.
func inCue(name string, err error) error {
	var mistake *Error
	if errors.As(err, &mistake) {
		return fmt.Errorf("%s, line %d, column %d: %s", name, mistake.Line, mistake.Column, mistake.Text)
	}
	return err
}
