// Package alone is a table that one person tries by themselves, in the browser: every seat
// is theirs to sit in, nothing is sent and nothing kept. What it tells is what a room would
// tell, message by message, so that the console sits at it as it sits at a room.
//
//	t := alone.Begin(edition, 4, chance.Seed{…}, key, now)
//	whole := t.Sit(2)                      // the table as seat 2 sees it
//	told := t.Act([]byte(`{"id":"1","steps":"draw 2 from weather"}`), now)
package alone

import (
	"encoding/json"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/play"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/wire"
)

// Table is a table for one. It is not safe for concurrent use.
type Table struct {
	game    *play.Game
	seat    table.Seat // where its person sits
	seed    chance.Seed
	entries int64
	lines   int64
	told    uint64
}

// names are who sits at the seats, all of them the one person.
var names = []string{"Ada", "Bo", "Cleo", "Dov", "Esme", "Finn", "Gale", "Hana", "Ivo", "June", "Kit", "Lou"}

// Begin lays an edition's table for a number of seats, takes them all, and sits down at the
// first. Seed and key must be fresh; now is in milliseconds since 1970.
func Begin(edition kit.Edition, seats int, seed chance.Seed, key [32]byte, now int64) *Table {
	laid := &table.Table{}
	laid.Fold(edition.Lay(seats))
	t := &Table{game: play.New(laid, key, play.Options{Spectators: true}), seat: 1, seed: seed}
	for i := range laid.Chairs {
		_, _ = t.game.Do(play.Actor{Service: true}, table.Sit{Seat: table.Seat(i + 1), Name: names[i], Salt: names[i]}, t.moment(now))
		t.entries++
	}
	return t
}

// Laid is the table as it is laid, without its cards, to be kept in the kit.
func (t *Table) Laid() *table.Table {
	bare := t.game.Table().Bare()
	bare.Settings.Host = 0
	return bare
}

// Sit goes over to another seat, with the host's keys, and gives the table as it sees it.
func (t *Table) Sit(seat table.Seat, now int64) wire.Message {
	if t.game.Table().Chair(seat) != nil {
		t.seat = seat
		if t.game.Table().Settings.Host != seat {
			t.serve(table.Keys{Seat: seat}, now)
		}
	}
	t.told = 0
	viewer := play.Viewer(t.seat)
	return wire.Whole{Gate: t.game.Gate(viewer), View: t.game.Begin(viewer), Log: lines(t.game.Newest(viewer, viewLog))}
}

// viewLog is how many lines of the log come with a view.
const viewLog = 60

// serve does what the service would do in a room.
func (t *Table) serve(a table.Action, now int64) []wire.Message {
	done, refusal := t.game.Do(play.Actor{Service: true}, a, t.moment(now))
	if refusal != nil && !refusal.Stands {
		return nil
	}
	return t.keep(done, now)
}

func (t *Table) moment(now int64) play.Moment {
	return play.Moment{Now: now, Entry: uint64(t.entries + 1), Chance: func(d chance.Draw) *chance.Stream {
		return chance.OfDraw(t.seed, d, t.game.Table().Salt())
	}}
}

// keep counts what was done, and tells it to whoever sits here.
func (t *Table) keep(done play.Done, now int64) []wire.Message {
	t.entries++
	entry := play.Entry{Number: t.entries, At: now, Told: t.lines}
	t.lines += int64(len(done.Deeds))
	t.game.Remember(entry, done.Deeds)
	shown := t.game.Show(done).To(play.Viewer(t.seat))
	if shown == nil {
		return nil
	}
	t.told++
	return []wire.Message{wire.Changes{Changes: *shown, Log: lines(play.Stamp(shown.Log, entry))}}
}

// Act does a request, as it would be sent to a room, and gives what is told of it: what
// changed, and then the answer.
func (t *Table) Act(text []byte, now int64) []wire.Message {
	var request wire.Request
	if err := json.Unmarshal(text, &request); err != nil {
		return []wire.Message{wire.Settled{Problem: wire.NotUnderstood(err)}}
	}
	told, problem := t.act(request, now)
	settled := wire.Settled{ID: request.ID, Problem: problem}
	if problem == nil {
		settled.Answer = &wire.Answer{Told: t.told, Done: "now"}
	}
	return append(told, settled)
}

func (t *Table) act(request wire.Request, now int64) ([]wire.Message, *wire.Problem) {
	asked := play.Request{Steps: request.Steps, Confirm: request.Confirm}
	if len(request.Action) > 0 {
		action, err := table.ReadAction(request.Action)
		if err == nil && table.ServiceOnly(action) {
			err = play.ErrEither
		}
		if err != nil {
			return nil, wire.NotUnderstood(err)
		}
		asked.Action = action
	}
	plan, err := t.game.Plan(t.seat, asked)
	if err != nil {
		return nil, wire.ProblemOf(err)
	}
	done, refusal := t.game.Do(play.Actor{Seat: t.seat}, plan.Action, t.moment(now))
	if refusal == nil {
		return t.keep(done, now), nil
	}
	problem := wire.Refused(refusal, plan.Origins, nil)
	if !refusal.Stands {
		return nil, problem
	}
	return t.keep(done, now), problem
}

// Tick does what is due: a timer that has run out, cards that were shown for a while.
func (t *Table) Tick(now int64) (told []wire.Message) {
	if due := t.game.Table().Due(now); len(due) > 0 {
		told = t.serve(table.All{Actions: due}, now)
	}
	return told
}

// CheckSteps reads Steps as they would be done, and does nothing.
func (t *Table) CheckSteps(text string) wire.StepsChecked {
	_, err := steps.ReadPlan(text, t.game.Table(), t.seat)
	if err == nil {
		return wire.StepsChecked{}
	}
	p := wire.NotUnderstood(err)
	return wire.StepsChecked{Mistake: p.Detail, Line: p.Line, Column: p.Column}
}

func lines(stamped []play.Line) []wire.LogLine {
	all := make([]wire.LogLine, 0, len(stamped))
	for _, line := range stamped {
		all = append(all, wire.LogLine(line))
	}
	return all
}
