package room

import (
	"encoding/json"
	"errors"
	"slices"

	"damselfly.example/damselfly/internal/core/play"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// keep journals what was done and then tells it. refusal says why the rest of it was
// not done, if it was not.
func (s *state) keep(a *act, origins []steps.Origin, number int64, done play.Done, refusal *table.Refusal) {
	edits := asKept(done.Edits)
	entry := store.Entry{
		Room: s.room.ID, Number: number, At: s.room.rooms.now().UnixMilli(), Actor: a.who.Seat, Tenure: a.who.Tenure, Request: a.request.ID,
		Edits: written(edits), Uses: s.newUses(edits), Deeds: written(done.Deeds), Told: s.lines, Keys: append(a.keys, keyChanges(done.Edits)...), Ended: done.Edits.EndGame(), Edition: a.edition, Bookmark: a.bookmark,
	}
	if a.once != "" {
		entry.Request = a.once
	}
	if entry.Request != "" {
		entry.Asked = a.hash()
	}
	var problem error
	if refusal != nil {
		problem = wire.Refused(refusal, origins, s.linesOf(entry, done.Deeds, a.who))
		entry.Refusal = written(problem)
	}
	if s.room.rooms.options.BeforeKeep != nil {
		s.room.rooms.options.BeforeKeep(&entry)
	}
	s.last, s.changed = number, true
	if a.edition != 0 {
		s.room.record.Edition = a.edition
	}
	s.lines += int64(len(done.Deeds))
	s.remember(entry, done.Deeds)
	left, listeners := s.partWith(done.Edits)
	sent := s.compose(done, entry)
	answer := wire.Answer{Told: s.told.Count(play.Viewer(a.who.Seat)), Done: "now", Log: s.linesOf(entry, done.Deeds, a.who)}
	s.room.rooms.journal.queue <- pending{
		fate: s.fate, room: s.room.worker, entry: &entry,
		tell: func(w *wakes) {
			for _, l := range listeners {
				m := sent.To(play.Viewer(l.Seat))
				if slices.Contains(left, l) {
					m = sent.Public // what the seat is shown from now on is who sits there's: its handles are new
				}
				if m != nil {
					w.send(l, m)
				}
			}
			a.answer(answer, problem)
			for _, l := range left {
				l.end()
			}
		},
		lost: func(err error) {
			s.lose(a, err)
			for _, l := range left { // they sit there still, and come back
				l.end()
			}
		},
	}
	if (number+s.room.offset)%snapshotEvery == 0 {
		s.room.rooms.snapshot(s.room.ID)
	}
}

// newUses is what edits name that no entry of this state named before.
func (s *state) newUses(edits table.Edits) table.Uses {
	uses := table.UsesOf(edits)
	uses.Editions = slices.DeleteFunc(uses.Editions, func(e table.EditionOf) bool { return s.noted[e] })
	uses.Pictures = slices.DeleteFunc(uses.Pictures, func(p string) bool { return s.noted[p] })
	for _, e := range uses.Editions {
		s.noted[e] = true
	}
	for _, p := range uses.Pictures {
		s.noted[p] = true
	}
	return uses
}

// lose gives a state up that the journal did not keep: its people are shown what is kept
// in its place, and only its actor learns that this was not done.
func (s *state) lose(a *act, err error) {
	problem := notSaving()
	itself := !errors.Is(err, store.ErrStale) && !errors.Is(err, errGivenUp) && !errors.Is(err, errRestsOnLost)
	if itself {
		problem = wire.NotKept.With(wire.Problem{Detail: "What this did cannot be kept, so it was not done. The table is as it was; do it in smaller parts, or report it."})
	}
	if errors.Is(err, store.ErrHeld) { // its people come back, and are passed on to who holds it
		s.room.rooms.drop(s.room)
		a.answer(wire.Answer{}, busy())
		return
	}
	s.room.log.Error("an entry cannot be kept", "error", err)
	anew := func(now *state) {
		now.gone = now == s // and not rebuilt since
	}
	if _, full := s.room.tryPost(anew); full {
		s.room.rooms.drop(s.room) // its people come back and load it
	}
	a.answer(wire.Answer{}, problem) // whoever asks next finds what is kept
}

func written(v any) []byte {
	text, err := json.Marshal(v)
	if err != nil {
		panic(err) // all of it can be written
	}
	return text
}

// partWith lets go of the listeners whose tenure an entry ended, at once, so that
// nothing later is sent to them. It returns them, and those who are told of it.
func (s *state) partWith(edits table.Edits) (left, told []*Listener) {
	told = slices.Clone(s.listeners)
	ended := play.Ended(edits)
	if len(ended) == 0 {
		return nil, told
	}
	for _, l := range s.listeners {
		if ended[play.Viewer(l.Seat)] {
			left = append(left, l)
		}
	}
	for seat := range ended {
		s.told.Begin(seat)
		s.game.Forget(seat)
	}
	s.listeners = slices.DeleteFunc(slices.Clone(s.listeners), func(l *Listener) bool { return slices.Contains(left, l) })
	s.tellHere()
	return left, told
}

// compose encodes what an entry shows: once for everyone, and for each seat
// that sees something of its own. Messages carry no number: each viewer counts what
// they were told, and so does the room.
func (s *state) compose(done play.Done, entry store.Entry) play.Shown[Message] {
	if !s.heard { // nobody is there, and nobody can come back to where they were
		return play.Shown[Message]{}
	}
	sent := play.Each(s.game.Show(done), func(c *sight.Changes) *Message {
		return encode(wire.Changes{Changes: *c, Log: logLines(play.Stamp(c.Log, placed(entry)))})
	})
	s.told.Add(s.game.Viewers(), sent)
	return sent
}

// remember notes a kept entry's lines and request.
func (s *state) remember(e store.Entry, deeds []table.Deed) {
	s.game.Remember(placed(e), deeds)
	s.asked.remember(e)
}

// linesOf are the lines of an entry as somebody may read them.
func (s *state) linesOf(e store.Entry, deeds []table.Deed, who Who) []wire.LogLine {
	return logLines(s.game.LinesOf(placed(e), deeds, play.Viewer(who.Seat)))
}

// placed is where an entry stands in the journal.
func placed(e store.Entry) play.Entry { return play.Entry{Number: e.Number, At: e.At, Told: e.Told} }

func logLines(lines []play.Line) []wire.LogLine {
	all := make([]wire.LogLine, len(lines))
	for i, l := range lines {
		all[i] = wire.LogLine(l)
	}
	return all
}

// answer refuses an act, once everything that the refusal rests on is kept.
func (s *state) answer(a *act, err error) {
	s.afterOr(func() { a.answer(wire.Answer{}, err) }, func(error) { a.answer(wire.Answer{}, notSaving()) })
}

// after runs tell once everything before it is kept, so that nobody is shown
// what is not. What rests on an entry that could not be kept is never told.
func (s *state) after(tell func()) { s.afterOr(tell, func(error) {}) }

func (s *state) afterOr(tell func(), lost func(error)) {
	s.room.rooms.journal.queue <- pending{fate: s.fate, room: s.room.worker, tell: func(*wakes) { tell() }, lost: lost}
}
