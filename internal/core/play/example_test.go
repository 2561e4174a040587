package play_test

import (
	"fmt"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/play"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

func Example() {
	g := play.New(tabletest.Sample(2), [32]byte{1}, play.Options{Spectators: true})
	plan, err := g.Plan(2, play.Request{Steps: "draw 2 from weather"})
	if err != nil {
		fmt.Println(err)
		return
	}
	done, refusal := g.Do(play.Actor{Seat: 2}, plan.Action, play.Moment{Entry: 2, Chance: streams})
	if refusal != nil {
		fmt.Println(refusal.Text)
		return
	}
	shown := g.Show(done)
	fmt.Println("seat 1 reads:", shown.To(1).Log[0].Who, shown.To(1).Log[0].Text)
	fmt.Println("seat 2 reads:", shown.To(2).Log[0].Who, shown.To(2).Log[0].Text)
	// Output:
	// seat 1 reads: Bo draw 2 from weather to hand of Bo
	// seat 2 reads: Bo draw 2 from weather to my hand  # Weather 09, Weather 08
}

// streams derives chance from a seed that is fixed here and a room's secret otherwise.
func streams(d chance.Draw) *chance.Stream { return chance.OfDraw(chance.Seed{}, d, "") }
