package room

import (
	"context"
	"encoding/json"
	"slices"

	"damselfly.example/damselfly/internal/core/play"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/wire"
)

// ask runs a question in the room's goroutine and hands its answer out when
// everything it rests on is kept. Who asks, if that matters, must be at the room still.
func ask[T any](ctx context.Context, r *Rooms, room string, who *Who, question func(*state) T) (T, error) {
	type result struct {
		answer T
		err    error
	}
	answers := make(chan result, 1)
	var none T
	err := r.post(ctx, room, func(s *state) {
		if who != nil {
			if err := problemOf(s.game.Present(*who)); err != nil {
				answers <- result{err: err}
				return
			}
		}
		answer := question(s)
		s.afterOr(func() { answers <- result{answer: answer} }, func(error) { answers <- result{err: busy()} })
	})
	if err != nil {
		return none, err
	}
	select {
	case got := <-answers:
		return got.answer, got.err
	case <-ctx.Done():
		return none, notSaving()
	}
}

// View is the table as a viewer sees it.
func (r *Rooms) View(ctx context.Context, room string, who Who) (wire.Look, error) {
	return ask(ctx, r, room, &who, func(s *state) wire.Look {
		s.calls(who)
		here, viewer := s.here(), play.Viewer(who.Seat)
		return wire.Look{Told: s.told.Count(viewer), View: s.game.View(viewer), Here: append([]table.Seat{}, here.Here...), Watching: here.Watching}
	})
}

// Front is what somebody outside sees of a room: its seats and settings.
func (r *Rooms) Front(ctx context.Context, room string) (sight.View, error) {
	return ask(ctx, r, room, nil, func(s *state) sight.View {
		v := s.game.View(0)
		return sight.View{Settings: v.Settings, Seats: v.Seats}
	})
}

// MayArrange reports whether a seat may arrange the table.
func (r *Rooms) MayArrange(ctx context.Context, room string, who Who) (bool, error) {
	return ask(ctx, r, room, &who, func(s *state) bool { return s.game.Table().MayArrange(who.Seat) })
}

// CheckSteps reads Steps as a seat would do them, and does nothing. The error is
// the mistake in them.
func (r *Rooms) CheckSteps(ctx context.Context, room string, who Who, text string) error {
	mistake, err := ask(ctx, r, room, &who, func(s *state) error {
		_, err := steps.ReadPlan(text, s.game.Table(), who.Seat)
		return err
	})
	if err != nil {
		return err
	}
	if mistake != nil {
		return wire.NotUnderstood(mistake)
	}
	return nil
}

// PlaceNamed is the place that a seat calls so, as in Steps, and DeckNamed the key of a deck. The error is why there is none.
func (r *Rooms) PlaceNamed(ctx context.Context, room string, who Who, text string) (table.PlaceID, error) {
	return named(ctx, r, room, who, func(t *table.Table) (table.PlaceID, error) { return steps.ReadPlace(text, t, who.Seat) }, table.NoSuchPlace, "No such place")
}

func (r *Rooms) DeckNamed(ctx context.Context, room string, who Who, text string) (string, error) {
	return named(ctx, r, room, who, func(t *table.Table) (string, error) { return steps.ReadDeck(text, t) }, table.NoSuchDeck, "No such deck")
}

func named[N ~string](ctx context.Context, r *Rooms, room string, who Who, read func(*table.Table) (N, error), code, title string) (is N, err error) {
	mistake, err := ask(ctx, r, room, &who, func(s *state) (mistake error) {
		is, mistake = read(s.game.Table())
		return mistake
	})
	if err != nil {
		return "", err
	}
	if mistake != nil {
		return "", wire.NotNamed(mistake, code, title)
	}
	return is, nil
}

// Laid is how the zones and pieces of a room lie, without any card.
func (r *Rooms) Laid(ctx context.Context, room string) (*table.Table, error) {
	return ask(ctx, r, room, nil, func(s *state) *table.Table { return s.game.Table().Bare() })
}

// Log is the end of the log as a viewer may read it, at most n lines.
func (r *Rooms) Log(ctx context.Context, room string, who Who, n int) ([]wire.LogLine, error) {
	return ask(ctx, r, room, &who, func(s *state) []wire.LogLine { return logLines(s.game.Newest(play.Viewer(who.Seat), n)) })
}

// LogAfter is the log from a line on, the oldest first, as a viewer may read it, at most limit lines. more reports
// that there are lines after them.
func (r *Rooms) LogAfter(ctx context.Context, room string, who Who, after int64, limit int) (lines []wire.LogLine, more bool, err error) {
	if _, err := ask(ctx, r, room, &who, func(*state) bool { return true }); err != nil { // what is told by now is kept then
		return nil, false, err
	}
	entries, err := r.store.EntriesOfLines(ctx, room, after, limit+2)
	if err != nil {
		return nil, false, err
	}
	lines, err = ask(ctx, r, room, &who, func(s *state) (all []wire.LogLine) {
		for _, e := range entries {
			var deeds []table.Deed
			if json.Unmarshal(e.Deeds, &deeds) == nil {
				all = append(all, logLines(s.game.Older(play.Entry{Number: e.Number, At: e.At, Told: e.Told}, deeds, play.Viewer(who.Seat)))...)
			}
		}
		return all
	})
	lines = slices.DeleteFunc(lines, func(l wire.LogLine) bool { return l.Number <= after })
	if len(lines) > limit {
		return lines[:limit], true, err
	}
	return lines, len(entries) == limit+2, err
}
