package play_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/play"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

func do(t require.TestingT, g *play.Game, seat table.Seat, text string, now int64) play.Done {
	plan, err := g.Plan(seat, play.Request{Steps: text})
	require.NoError(t, err, text)
	done, refusal := g.Do(play.Actor{Seat: seat}, plan.Action, play.Moment{Now: now, Entry: 2, Chance: streams})
	require.Nil(t, refusal, text)
	return done
}

func TestARequestHoldsAnActionOrSteps(t *testing.T) {
	g := play.New(tabletest.Sample(2), [32]byte{1}, play.Options{})
	_, err := g.Plan(0, play.Request{Steps: "shuffle weather"})
	assert.ErrorIs(t, err, play.ErrWatching)
	for _, request := range []play.Request{{}, {Action: table.Shuffle{Place: "weather"}, Steps: "shuffle weather"}} {
		_, err = g.Plan(1, request)
		assert.ErrorIs(t, err, play.ErrEither)
	}
	_, err = g.Plan(1, play.Request{Steps: "shuffle attic"})
	assert.ErrorContains(t, err, `line 1, column 9: there is no place "attic"`)
}

func TestWhatACueGivesAwayIsConfirmedByItsVeryText(t *testing.T) {
	tab := tabletest.Sample(2)
	text := "draw 1 from weather\nshow my hand to all"
	after := *tab.Pieces["new-day"]
	after.Text = text
	tab.Fold(table.Edits{table.PutPiece{Before: tab.Pieces["new-day"], After: &after}})
	g := play.New(tab, [32]byte{1}, play.Options{})
	_, err := g.Plan(1, play.Request{Steps: `run "New day"`})
	assert.Equal(t, play.NeedsConfirming{Text: text}, err)
	_, err = g.Plan(1, play.Request{Steps: `run "New day"`, Confirm: text + " "})
	assert.Error(t, err)
	plan, err := g.Plan(1, play.Request{Steps: `run "New day"`, Confirm: text})
	require.NoError(t, err)
	assert.Len(t, plan.Action.(table.All).Actions, 3)
}

func TestWhoLeftASeatIsNotThereAnyMore(t *testing.T) {
	g := play.New(tabletest.Sample(2), [32]byte{1}, play.Options{})
	assert.ErrorIs(t, g.Present(play.Who{}), play.ErrNoSpectators)
	require.NoError(t, g.Present(play.Who{Seat: 1}))
	before := g.Gate(1)
	done, refusal := g.Do(play.Actor{Seat: 1}, table.Free{Seat: 1}, play.Moment{Entry: 5, Chance: streams})
	require.Nil(t, refusal)
	assert.Equal(t, map[play.Viewer]bool{1: true}, play.Ended(done.Edits))
	assert.ErrorIs(t, g.Present(play.Who{Seat: 1}), play.ErrSeatLeft)
	assert.EqualValues(t, 1, g.Free())
	_, refusal = g.Do(play.Actor{Seat: 1, Service: true}, table.Sit{Seat: 1, Name: "Dov"}, play.Moment{Entry: 6, Chance: streams})
	require.Nil(t, refusal)
	assert.NoError(t, g.Present(play.Who{Seat: 1, Tenure: 6}))
	assert.NotEqual(t, before, g.Gate(1), "who takes a seat begins anew")
}

func TestAGripIsToldToWhoSeesTheCardsAndEnds(t *testing.T) {
	g := play.New(tabletest.Sample(3), [32]byte{1}, play.Options{})
	do(t, g, 1, "draw 1 from weather", 0)
	mine := handOf(g, 1)
	assert.Empty(t, g.Grip(1, mine, 0), "nobody else sees a hand")
	do(t, g, 1, "move 1 of my hand to sky", 0)
	var sky []table.Handle
	for _, p := range g.View(2).Places {
		if p.ID == "sky" {
			sky = []table.Handle{p.Cards[0].Handle}
		}
	}
	told := g.Grip(2, sky, 1000)
	assert.Equal(t, map[play.Viewer][]table.Handle{0: sky, 1: sky, 3: sky}, told)
	plan, err := g.Plan(1, play.Request{Steps: "flip sky"})
	require.NoError(t, err)
	_, refusal := g.Do(play.Actor{Seat: 1}, plan.Action, play.Moment{Now: 2000, Entry: 3, Chance: streams})
	require.NotNil(t, refusal)
	assert.Equal(t, table.HeldByAnother, refusal.Code)
	assert.Len(t, g.Grip(2, nil, 2000), 3, "those who were told are told that it ends")
	g.Grip(2, sky, 2000)
	g.Forget(3) // somebody else sits there now, and was told of no grip
	assert.NotContains(t, g.Grip(2, nil, 2000), play.Viewer(3))
	do(t, g, 1, "flip sky", 2000)
	g.Grip(2, sky, 3000)
	do(t, g, 1, "flip sky", 3000+6000) // without a sign of life it ends
}

func handOf(g *play.Game, seat table.Seat) (handles []table.Handle) {
	for _, p := range g.View(seat).Places {
		if p.Kind == table.Hand && p.Owner == seat {
			for _, c := range p.Cards {
				handles = append(handles, c.Handle)
			}
		}
	}
	return handles
}

// Whoever comes back is told exactly what they missed, or all of it anew.
func TestWhoComesBackIsToldWhatTheyMissed(t *testing.T) {
	rapid.Check(t, func(r *rapid.T) {
		tab, dice := tabletest.Sample(3), tabletest.NewDice(r)
		g := play.New(tab, [32]byte{1}, play.Options{Spectators: true})
		var told play.Told[sight.Changes]
		sent := map[play.Viewer][]*sight.Changes{}
		for n := range dice.Int(1, 60) {
			move := tabletest.Any(dice, tab)
			done, refusal := g.Do(play.Actor{Seat: move.Actor}, move.Action, play.Moment{Now: 1000, Entry: uint64(n + 2), Chance: streams})
			if refusal != nil && !refusal.Stands {
				continue
			}
			shown := g.Show(done)
			told.Add(g.Viewers(), shown)
			for viewer := range play.Viewer(g.Viewers()) {
				if changes := shown.To(viewer); changes != nil {
					sent[viewer] = append(sent[viewer], changes)
				}
			}
		}
		for viewer := range play.Viewer(g.Viewers()) {
			require.EqualValues(r, len(sent[viewer]), told.Count(viewer))
			had := dice.Int(0, len(sent[viewer]))
			missed, known := told.Since(viewer, uint64(had))
			require.True(r, known)
			require.Len(r, missed, len(sent[viewer])-had)
			for i, changes := range missed {
				require.Same(r, sent[viewer][had+i], changes)
			}
			_, known = told.Since(viewer, told.Count(viewer)+1)
			require.False(r, known, "more than there was is another life")
			told.Begin(viewer)
			require.Zero(r, told.Count(viewer))
		}
	})
}

func TestWhatIsLongAgoIsNotKnownAnyMore(t *testing.T) {
	var told play.Told[int]
	for n := range 2000 {
		told.Add(2, play.Shown[int]{Public: &n})
	}
	_, known := told.Since(1, 3)
	assert.False(t, known)
	missed, known := told.Since(1, 1998)
	assert.True(t, known)
	assert.Len(t, missed, 2)
}
