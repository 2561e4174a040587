package sight_test

import (
	"fmt"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

func ExampleGate() {
	t := tabletest.Sample(2)
	g := sight.NewGate(t, [32]byte{1}, steps.Say, sight.Names{})
	edits, deeds, _ := t.Apply(1, table.Draw{From: "weather", Count: 1}, table.Circumstances{
		Entry: 2, Handles: g.Names(1), Chance: func(d chance.Draw) *chance.Stream { return chance.OfDraw(chance.Seed{}, d, "") },
	})
	touched := g.Settle(t, edits) // once per entry
	for viewer := range sight.Viewer(3) {
		changes := g.Changes(t, touched, deeds, viewer)
		for _, p := range changes.Places {
			if p.ID == "satchel/1" {
				fmt.Println("seat", viewer, "sees", p.Count, "card there, and of its front:", len(p.Cards) == 1 && changes.Faces[p.Cards[0].Face].Name != "")
			}
		}
	}
	// Output:
	// seat 0 sees 1 card there, and of its front: false
	// seat 1 sees 1 card there, and of its front: true
	// seat 2 sees 1 card there, and of its front: false
}
