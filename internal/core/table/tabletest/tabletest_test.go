package tabletest

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/table"
)

func TestEveryActionThereIsIsGenerated(t *testing.T) {
	assert.Equal(t, table.ActionWords(), Kinds(), "a new action needs a generator, or no property covers it")
}

// A property over actions that are always refused says nothing.
func TestGeneratedRunsDoEveryKindOfAction(t *testing.T) {
	done, tried := map[string]int{}, map[string]int{}
	rapid.Check(t, func(r *rapid.T) {
		tab, dice := Sample(3), NewDice(r)
		for n := range 120 {
			move := Any(dice, tab)
			kind := table.KindOf(move.Action).Word
			tried[kind]++
			if _, _, refusal := tab.Apply(move.Actor, move.Action, With(chance.Derive(chance.Seed{}, uint64(n), ""), 1000)); refusal == nil {
				done[kind]++
			}
		}
	})
	for _, kind := range table.ActionWords() {
		assert.Positive(t, done[kind], "%s was done %d times of %d", kind, done[kind], tried[kind])
		t.Logf("%-11s %4d of %4d", kind, done[kind], tried[kind])
	}
}
