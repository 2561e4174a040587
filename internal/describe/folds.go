package main

import (
	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/play"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table/tabletest"
	"damselfly.example/damselfly/internal/wire"
)

// foldVector is what one viewer is told of a game, and the view that it must come to.
type foldVector struct {
	Viewer  sight.Viewer   `json:"viewer"`
	First   sight.View     `json:"first"`
	Changes []wire.Changes `json:"changes"`
	View    sight.View     `json:"view"`
}

// played is that game: cards come, go, turn and lie otherwise, pieces and places change, somebody looks, an act is taken back.
var played = []string{
	"shuffle letters", "draw 3 from letters to my hand", "turn 2 of weather face up onto sky", "move 1 by chance from my hand to felt at 420 250",
	"peek 3 of weather", "flip sky", "move 1 of weather to marsh B2", "rotate sky by 90", "roll wind", "add 2 to day", "move all of sky to outbox",
	"close weather", "move 1 of outbox to my dock", "shuffle weather", "move all of my hand to vault", "say \"The tide is in.\"", "undo",
}

// folds are that game as its first seat and somebody who watches are told it.
func folds() []foldVector {
	laid := tabletest.Sample(2)
	game := play.New(laid, [32]byte{7}, play.Options{Spectators: true})
	all := []foldVector{{Viewer: 1}, {Viewer: 0}}
	for i := range all {
		all[i].First = game.Begin(all[i].Viewer)
	}
	for i, line := range played {
		plan, err := game.Plan(1, play.Request{Steps: line})
		if err != nil {
			panic(line + ": " + err.Error()) // the game stands above
		}
		done, refusal := game.Do(play.Actor{Seat: 1}, plan.Action, play.Moment{Now: 1, Entry: uint64(i + 1), Chance: func(d chance.Draw) *chance.Stream {
			return chance.OfDraw(chance.Seed{}, d, laid.Salt())
		}})
		if refusal != nil {
			panic(line + ": " + refusal.Text)
		}
		shown := game.Show(done)
		for i := range all {
			if told := shown.To(all[i].Viewer); told != nil {
				all[i].Changes = append(all[i].Changes, wire.Changes{Changes: *told})
			}
		}
	}
	for i := range all {
		all[i].View = game.Begin(all[i].Viewer)
	}
	return all
}
