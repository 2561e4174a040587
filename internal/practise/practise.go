// Package practise plays at a room as people do who try a game out, through the public API alone: it draws, plays
// cards, turns them, rolls dice, passes the turn and answers asks. It knows no rules, like the table.
//
//	player := practise.Player{Seat: seat, Chance: rand.New(rand.NewPCG(1, 2)), Pace: 2 * time.Second}
//	err := player.Play(ctx)
package practise

import (
	"context"
	"errors"
	"math/rand/v2"
	"slices"
	"time"

	"damselfly.example/damselfly/client"
)

// Names are what practice players are called, in their order.
var Names = []string{"Sedge", "Teasel", "Bulrush", "Myrtle", "Comfrey", "Tansy", "Yarrow", "Betony"}

// Player is a practice player at a seat.
type Player struct {
	Seat   *client.Seat
	Chance *rand.Rand
	Pace   time.Duration // about how long it thinks between two acts
	Acts   int           // after so many it stops; 0: it goes on
	Told   func(string)  // hears what was done, if given
}

// A player's hand is about so large: it draws below, and plays above.
const (
	fewInHand  = 3
	manyInHand = 7
)

// Play plays until the context ends, the game does, or the acts are done.
func (p *Player) Play(ctx context.Context) error {
	for done := 0; p.Acts == 0 || done < p.Acts; {
		think := time.Duration(float64(p.Pace) * (0.5 + p.Chance.Float64()))
		select {
		case <-ctx.Done():
			return nil
		case <-time.After(think):
		}
		look, err := p.Seat.Look(ctx)
		if err == nil {
			var acted bool
			if acted, err = p.act(ctx, look.View); acted {
				done++
			}
		}
		var problem *client.Problem
		switch {
		case err == nil, ctx.Err() != nil:
		case errors.As(err, &problem) && problem.Code == "game-ended":
			return nil
		case errors.As(err, &problem) && problem.Status == 401:
			return err // the seat was taken from it
		case errors.As(err, &problem): // what is refused was no good idea
		default: // the line is gone, and comes back
		}
	}
	return nil
}

// act does one thing, if there is one to do.
func (p *Player) act(ctx context.Context, v client.View) (acted bool, err error) {
	me := client.SeatNumber(v.You)
	for _, ask := range v.Asks {
		if ask.To == me {
			if p.Chance.IntN(3) == 0 {
				return p.did(p.Seat.Decline(ctx, ask.ID))
			}
			return p.did(p.Seat.Agree(ctx, ask.ID))
		}
	}
	if v.Marker.Seat != 0 && v.Marker.Seat != me && taken(v, v.Marker.Seat) && p.Chance.IntN(8) != 0 {
		return false, nil // it is somebody else's turn
	}
	t := tableOf(v)
	type choice struct {
		weight int
		do     func() (client.Answer, error)
	}
	var choices []choice
	can := func(weight int, do func() (client.Answer, error)) { choices = append(choices, choice{weight, do}) }
	inHand := len(t.hand.Cards)
	if len(t.piles) > 0 && inHand < manyInHand && t.hand.ID != "" {
		weight := 4
		if inHand < fewInHand {
			weight = 12
		}
		can(weight, func() (client.Answer, error) { return p.Seat.Draw(ctx, pick(p.Chance, t.piles).ID, 1) })
	}
	if inHand > 0 && len(t.open) > 0 {
		can(2+2*inHand, func() (client.Answer, error) {
			card, to := pick(p.Chance, t.hand.Cards), pick(p.Chance, t.open)
			return p.Seat.Act(ctx, client.Move{Pick: client.Pick{Cards: []client.Handle{card.Handle}}, To: client.Target{Place: to.ID}, Side: "front"})
		})
	}
	if len(t.shown) > 0 {
		can(1, func() (client.Answer, error) {
			return p.Seat.Flip(ctx, client.Pick{Cards: []client.Handle{pick(p.Chance, t.shown).Handle}})
		})
		can(1, func() (client.Answer, error) {
			return p.Seat.Rotate(ctx, client.Pick{Cards: []client.Handle{pick(p.Chance, t.shown).Handle}}, 1)
		})
	}
	if len(t.dice) > 0 {
		can(2, func() (client.Answer, error) { return p.Seat.Roll(ctx, pick(p.Chance, t.dice)) })
	}
	if len(t.counters) > 0 {
		can(1, func() (client.Answer, error) { return p.Seat.Add(ctx, pick(p.Chance, t.counters), 1) })
	}
	if len(t.piles) == 0 && inHand == 0 {
		can(6, func() (client.Answer, error) { return p.Seat.Act(ctx, client.EverythingHome{}) })
	}
	if v.Marker.Seat == 0 { // nobody set the game up, so nobody has the turn yet
		can(4, func() (client.Answer, error) { return p.Seat.Act(ctx, client.First{}) })
	}
	can(1, func() (client.Answer, error) { return p.Seat.Say(ctx, pick(p.Chance, said)) })
	sum := 0
	for _, c := range choices {
		sum += c.weight
	}
	at := p.Chance.IntN(sum)
	for _, c := range choices {
		if at -= c.weight; at < 0 {
			acted, err = p.did(c.do())
			break
		}
	}
	if err == nil && v.Marker.Seat == me && p.Chance.IntN(2) == 0 {
		_, err = p.did(p.Seat.Pass(ctx))
	}
	return acted, err
}

// said is what practice players say now and then.
var said = []string{"Hm.", "The tide is with me.", "I need one more of those.", "Whose turn is it?", "Well played.", "Not again."}

func (p *Player) did(answer client.Answer, err error) (bool, error) {
	if err == nil && p.Told != nil {
		for _, line := range answer.Log {
			p.Told(line.Text)
		}
	}
	return err == nil, err
}

func pick[T any](chance *rand.Rand, all []T) T { return all[chance.IntN(len(all))] }

func taken(v client.View, seat client.SeatNumber) bool {
	return slices.ContainsFunc(v.Seats, func(s client.TableSeat) bool { return client.SeatNumber(s.Number) == seat && s.Name != "" })
}

// seen is what of a table a player goes by.
type seen struct {
	hand     client.TablePlace
	piles    []client.TablePlace // of nobody's own, with cards, that may be drawn from
	open     []client.TablePlace // where cards can be played
	shown    []client.TableCard  // on those
	dice     []client.PieceID
	counters []client.PieceID
}

func tableOf(v client.View) (t seen) {
	for _, place := range v.Places {
		mine := place.Owner == v.You
		full := place.Capacity > 0 && place.Count >= place.Capacity
		switch {
		case place.Kind == "hand" && mine:
			t.hand = place
		case place.Owner != 0 && !mine || place.Kind == "hand":
		case place.Kind == "pile" && place.Sight != "open", place.Kind == "pile" && place.Count > 1:
			if place.Count > 0 {
				t.piles = append(t.piles, place)
			}
		case !full:
			t.open = append(t.open, place)
			t.shown = append(t.shown, place.Cards...)
		}
	}
	for _, piece := range v.Pieces {
		switch piece.Kind {
		case "die", "spinner":
			t.dice = append(t.dice, piece.ID)
		case "counter":
			t.counters = append(t.counters, piece.ID)
		}
	}
	return t
}
