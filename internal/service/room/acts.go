package room

import (
	"context"
	"errors"
	"fmt"
	"unicode/utf8"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/play"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// Who is somebody at a room: the seat that their key opens, and the tenure it is for.
type Who = play.Who

// act is a request of a person, or an action of the service's own.
type act struct {
	who     Who
	request wire.Request
	read    table.Action // of the request, if it has one
	mistake error        // in it
	action  table.Action // instead of a request
	keys    []store.KeyChange
	called  bool   // by a request of its own, not over a socket
	once    string // the id of an action of the service's own
	edition int    // of its kit that the room has then; 0: the same

	bookmark *store.Bookmark // that is kept with it
	answer   func(wire.Answer, error)
}

// asking is the act of a request. Its action is read here, and its pictures are found, outside
// of the room's goroutine: reading is work, and other people wait.
func (r *Rooms) asking(ctx context.Context, who Who, request wire.Request) (act, error) {
	a := act{who: who, request: request}
	if len(request.Action) == 0 {
		return a, nil
	}
	a.read, a.mistake = table.ReadAction(request.Action)
	switch {
	case a.mistake != nil:
	case table.ServiceOnly(a.read):
		a.mistake = errors.New("this action is the service's own; a seat is taken by joining the room")
	default:
		inside, err := r.store.Inside(ctx, a.read)
		switch {
		case errors.Is(err, store.ErrNotFound):
			a.mistake = errors.New("a picture that it names is not here; bring it to the room first, and name it as the answer does")
		case err != nil:
			return a, notSaving() // the records cannot be asked
		default:
			a.read = inside
		}
	}
	return a, nil
}

// maxRequestID is how long the id of a request may be, in bytes: as long as the
// journal keeps it.
const maxRequestID = 64

// Act does what a person asks and answers when it is kept and told.
func (r *Rooms) Act(ctx context.Context, room string, who Who, request wire.Request) (wire.Answer, error) {
	a, err := r.asking(ctx, who, request)
	if err != nil {
		return wire.Answer{}, err
	}
	a.called = true
	return r.wait(ctx, room, a, nil)
}

// ActLive does what a person asks over a socket; answer is called once, when it
// is kept and told, and must not wait.
func (r *Rooms) ActLive(ctx context.Context, room string, who Who, request wire.Request, answer func(wire.Answer, error)) {
	a, err := r.asking(ctx, who, request)
	if err != nil {
		answer(wire.Answer{}, err)
		return
	}
	a.answer = answer
	if err := r.post(ctx, room, func(s *state) { s.do(&a) }); err != nil {
		answer(wire.Answer{}, err)
	}
}

// wait posts an act and waits for its answer. If the database is gone, the
// answer may be that it is not known yet; then the same request id finds out.
// prepare, if any, completes the act in the room's own goroutine, or refuses it.
func (r *Rooms) wait(ctx context.Context, room string, a act, prepare func(*state, *act) error) (wire.Answer, error) {
	type result struct {
		answer wire.Answer
		err    error
	}
	results := make(chan result, 1)
	a.answer = func(answer wire.Answer, err error) {
		select {
		case results <- result{answer, err}:
		default: // answered already
		}
	}
	mail := func(s *state) {
		if prepare != nil {
			if err := prepare(s, &a); err != nil {
				s.answer(&a, err)
				return
			}
		}
		s.do(&a)
	}
	if err := r.post(ctx, room, mail); err != nil {
		return wire.Answer{}, err
	}
	select {
	case got := <-results:
		return got.answer, got.err
	case <-ctx.Done():
		return wire.Answer{}, notSaving()
	}
}

// serve does an action of the service itself.
func (s *state) serve(a table.Action) { s.do(&act{action: a, answer: func(wire.Answer, error) {}}) }

// do does an act: apply → journal → tell everyone → answer the actor.
func (s *state) do(a *act) {
	s.doing = a // stays if it panics, for rebuild
	s.perform(a)
	s.doing = nil
}

func (s *state) perform(a *act) {
	if s.room.rooms.journal.broken.Load() {
		a.answer(wire.Answer{}, notSaving())
		return
	}
	if err := s.allowed(a); err != nil {
		s.answer(a, err)
		return
	}
	if a.called {
		s.calls(a.who)
	}
	if s.answeredBefore(a) {
		return
	}
	if len(s.refused) > 0 && a.action == nil && s.refused[a.fingerprint()] {
		a.answer(wire.Answer{}, failed())
		return
	}
	plan, err := s.understand(a)
	if err != nil {
		s.answer(a, err)
		return
	}
	if s.room.rooms.options.BeforeApply != nil {
		s.room.rooms.options.BeforeApply(s.room.ID, plan.Action)
	}
	number := s.last + 1
	moment := play.Moment{Now: s.room.rooms.now().UnixMilli(), Entry: uint64(number), Chance: s.draw}
	s.room.rooms.inTurn(takesLong(plan.Action, len(s.game.Table().Cards)), func() { s.apply(a, plan, number, moment) })
}

// apply does what was understood, and keeps it or answers the refusal.
func (s *state) apply(a *act, plan steps.Plan, number int64, moment play.Moment) {
	done, refusal := s.game.Do(play.Actor{Seat: a.who.Seat, Service: a.action != nil}, plan.Action, moment)
	if refusal != nil && !refusal.Stands {
		s.room.rooms.counts.act(plan.Action, wasRefused)
		s.answer(a, wire.Refused(refusal, plan.Origins, nil))
		return
	}
	outcome := wasDone
	if refusal != nil {
		outcome = wasPartly
	}
	s.room.rooms.counts.act(plan.Action, outcome)
	s.keep(a, plan.Origins, number, done, refusal)
}

// draw is the stream of a draw of this room.
func (s *state) draw(d chance.Draw) *chance.Stream {
	return chance.OfDraw(chance.Seed(s.room.record.Seed), d, s.game.Table().Salt())
}

// understand reads the action, and the steps of the cues that it runs.
func (s *state) understand(a *act) (steps.Plan, error) {
	if a.action != nil {
		return steps.Plan{Action: a.action}, nil
	}
	if a.mistake != nil && a.who.Seat != 0 {
		return steps.Plan{}, wire.NotUnderstood(a.mistake)
	}
	request := play.Request{Action: a.read, Steps: a.request.Steps, Confirm: a.request.Confirm}
	plan, err := s.game.Plan(a.who.Seat, request)
	return plan, problemOf(err)
}

// allowed refuses who does not sit where their key says any more, and what cannot be
// kept.
func (s *state) allowed(a *act) error {
	if a.action != nil {
		return nil
	}
	if err := problemOf(s.game.Present(a.who)); err != nil {
		return err
	}
	if id := a.request.ID; len(id) > maxRequestID || !utf8.ValidString(id) {
		return wire.BadId.With(wire.Problem{Numbers: map[string]int{"most": maxRequestID, "has": len(id)},
			Detail: fmt.Sprintf("The id of a request has up to %d bytes of UTF-8, not %d.", maxRequestID, len(id))})
	}
	return nil
}
