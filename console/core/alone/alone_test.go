package alone_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/console/core/alone"
	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/wire"
)

func begin(t *testing.T) *alone.Table {
	k, err := kit.Read(demo.Weather())
	require.NoError(t, err)
	made, err := k.Make(kit.Making{})
	require.NoError(t, err)
	return alone.Begin(made.Edition, 3, chance.Seed{1}, [32]byte{2}, 1000)
}

// act does Steps and folds what is told into a view.
func act(t *testing.T, tab *alone.Table, view *sight.View, steps string) *wire.Problem {
	text, err := json.Marshal(wire.Request{ID: "r", Steps: steps})
	require.NoError(t, err)
	told := tab.Act(text, 1000)
	for _, m := range told[:len(told)-1] {
		changes, is := m.(wire.Changes)
		require.True(t, is)
		view.Fold(changes.Changes)
	}
	settled, is := told[len(told)-1].(wire.Settled)
	require.True(t, is)
	assert.Equal(t, "r", settled.ID)
	assert.Equal(t, settled.Problem == nil, settled.Answer != nil)
	return settled.Problem
}

func sit(t *testing.T, tab *alone.Table, seat int) sight.View {
	whole, is := tab.Sit(1, 1000).(wire.Whole)
	require.True(t, is)
	if seat != 1 {
		whole, is = tab.Sit(2, 1000).(wire.Whole)
		require.True(t, is)
	}
	return whole.View
}

func cardsIn(view sight.View, place string) (names []string) {
	for _, p := range view.Places {
		for _, c := range p.Cards {
			if string(p.ID) == place {
				names = append(names, view.Faces[c.Face].Name)
			}
		}
	}
	return names
}

// Each seat sees what it would see in a room, and is the host while one sits there; what is
// told folds to what a fresh look shows.
func TestEverySeatIsOnesOwn(t *testing.T) {
	tab := begin(t)
	view := sit(t, tab, 1)
	require.Nil(t, act(t, tab, &view, "shuffle weather\ndraw 3 from weather"))
	mine := cardsIn(view, "satchel/1")
	assert.Len(t, mine, 3)
	assert.Equal(t, mine, cardsIn(sit(t, tab, 1), "satchel/1"))

	other := sit(t, tab, 2)
	assert.EqualValues(t, 2, other.Settings.Host)
	assert.Empty(t, cardsIn(other, "satchel/1"), "a hand of another seat is hidden, also from oneself")
	require.Nil(t, act(t, tab, &other, "draw 1 from weather"))
	assert.Len(t, cardsIn(other, "satchel/2"), 1)
	problem := act(t, tab, &other, "draw 99 from weather")
	require.NotNil(t, problem)
	assert.Equal(t, []any{409, "too-few-cards"}, []any{problem.Status, problem.Code})
	assert.Equal(t, "not-understood", act(t, tab, &other, "juggle").Code)
	assert.Empty(t, tab.CheckSteps("shuffle weather").Mistake)
	assert.Equal(t, 2, tab.CheckSteps("shuffle weather\njuggle").Line)
	assert.Zero(t, tab.Laid().Settings.Host)
	assert.Empty(t, tab.Tick(1000))
}
