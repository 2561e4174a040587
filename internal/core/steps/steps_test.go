package steps_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"damselfly/internal/core/chance"
	"damselfly/internal/core/steps"
	"damselfly/internal/core/table"
	"damselfly/internal/core/table/tabletest"
)

func TestReadUnderstands(t *testing.T) {
	tab := tabletest.Sample(3)
	x, y := 120.0, 80.5
	for text, want := range map[string]table.Action{
		`shuffle weather`:                       table.Shuffle{Place: "weather"},
		`draw 2 from weather`:                   table.Draw{From: "weather", Count: 2},
		`draw 2 cards from weather to my hand`:  table.Draw{From: "weather", Count: 2, To: "satchel/1"},
		`draw from Weather to dock of Bo`:       table.Draw{From: "weather", To: "dock/2"},
		`draw 1 from letters to hand of seat 3`: table.Draw{From: "letters", Count: 1, To: "satchel/3"},
		`flip sky`:                              table.Flip{Pick: table.Pick{From: "sky"}},
		`flip all of sky face down`:             table.Flip{Pick: table.Pick{From: "sky", Which: table.Every}, Side: table.Back},
		`flip top 3 of weather face up`:         table.Flip{Pick: table.Pick{From: "weather", Which: table.Top, Count: 3}, Side: table.Front},
		`move bottom 2 of letters under weather`: table.Move{
			Pick: table.Pick{From: "letters", Which: table.Bottom, Count: 2}, To: table.Target{Place: "weather", Under: true}},
		`move "Letter 03", Fog from my hand to sky`: table.Move{
			Pick: table.Pick{From: "satchel/1", Names: []string{"Letter 03", "Fog"}}, To: table.Target{Place: "sky"}},
		`discard 1 from my satchel onto outbox`: table.Move{
			Pick: table.Pick{From: "satchel/1", Count: 1}, To: table.Target{Place: "outbox"}},
		`move my dock to felt at 120 80.5`: table.Move{Pick: table.Pick{From: "dock/1"}, To: table.Target{X: &x, Y: &y}},
		"# setup\n\nshuffle letters\nshuffle weather # both": table.All{Actions: table.Actions{
			table.Shuffle{Place: "letters"}, table.Shuffle{Place: "weather"}}},
	} {
		got, err := steps.Read(text, tab, 1)
		require.NoError(t, err, text)
		assert.Equal(t, want, got, text)
	}
}

func TestAMistakeIsAnsweredWithItsPlaceAndTheNearestName(t *testing.T) {
	tab := tabletest.Sample(2)
	for text, want := range map[string]string{
		`shufle weather`:          `line 1, column 1: expected "shuffle", "draw", "flip", "move" or "discard", found "shufle"; did you mean "shuffle"?`,
		`draw 2 from wether`:      `line 1, column 13: there is no place "wether"; did you mean "weather"?`,
		`draw 2 weather`:          `line 1, column 8: expected "from", found "weather"`,
		`draw 0 from weather`:     `line 1, column 6: expected a number from 1 to 1000000, found "0"`,
		`draw 2 from`:             `line 1, column 12: expected the name of a place, found the end of the line`,
		`shuffle dock`:            `line 1, column 9: every seat has a dock; write "my dock" or "dock of seat 2"`,
		`shuffle dock of Zed`:     `line 1, column 17: nobody here is called "Zed"; there is "Ada" or "Bo"`,
		`shuffle dock of seat 7`:  `line 1, column 22: expected a seat from 1 to 2, found "7"`,
		"shuffle sky\nmove \"Fog": `line 2, column 6: the quote opened here is not closed; end the name with "`,
		`shuffle sky now`:         `line 1, column 13: expected the end of the step, found "now"`,
		`flip sky face`:           `line 1, column 14: expected "up" or "down", found the end of the line`,
		``:                        `line 1, column 1: expected a step, such as "draw 2 from weather"`,
	} {
		_, err := steps.Read(text, tab, 1)
		assert.EqualError(t, err, want, text)
	}
	_, err := steps.Read("shuffle my hand", tab, 0)
	assert.EqualError(t, err, `line 1, column 9: "my" needs a seat, and you only watch; take a seat first`)
}

// What the log says to the one who acted can be read again, and means an
// action of the same kind.
func TestLinesOfTheLogCanBeReadAgain(t *testing.T) {
	rapid.Check(t, func(r *rapid.T) {
		tab, dice := tabletest.Sample(3), tabletest.NewDice(r)
		for n := range rapid.IntRange(1, 12).Draw(r, "actions") {
			move := tabletest.Any(dice, tab)
			if table.ActionKind(move.Action) == "all" {
				continue
			}
			_, deeds, refusal := tab.Apply(move.Actor, move.Action, chance.Derive(chance.Seed{}, uint64(n), ""), 1000)
			if refusal != nil || len(deeds) == 0 || deeds[0].From == nil || deeds[0].From.Kind == table.Loose {
				continue // a felt place has no name of its own
			}
			for viewer := table.Seat(0); viewer <= 3; viewer++ {
				told := table.Told{Deed: deeds[0], Viewer: viewer}
				for _, w := range deeds[0].Cards {
					if w.SeenBy(viewer) {
						told.Names = append(told.Names, w.Name)
					}
				}
				text := steps.Say(told)
				again, err := steps.Read(text, tab, viewer)
				require.NoError(r, err, text)
				require.Equal(r, deeds[0].Do, table.ActionKind(again), text)
			}
		}
	})
}

func FuzzRead(f *testing.F) {
	for _, text := range []string{"draw 2 from weather to my hand", "move \"a\", b of sky under felt at 1 2", "flip all of dock of Bo face up"} {
		f.Add(text)
	}
	tab := tabletest.Sample(2)
	f.Fuzz(func(t *testing.T, text string) {
		a, err := steps.Read(text, tab, 1)
		require.True(t, (a == nil) == (err != nil))
		var mistake *steps.Error
		if err != nil {
			require.ErrorAs(t, err, &mistake)
			require.Positive(t, mistake.Line)
			require.Positive(t, mistake.Column)
		}
	})
}
