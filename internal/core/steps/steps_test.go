package steps_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

func TestReadUnderstands(t *testing.T) {
	tab := tabletest.Sample(3)
	x, y, one := 120.0, 80.5, 1
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
		`shuffle outbox into letters`:                    table.ShuffleIn{From: "outbox", Into: "letters"},
		`cut letters at 7`:                               table.Cut{Place: "letters", At: 7},
		`sort my hand by group down`:                     table.Sort{Place: "satchel/1", By: "group", Down: true},
		`separate letters by group`:                      table.Separate{Place: "letters", By: "group"},
		`deal 5 letters to first seat, 4 to every other`: table.Deal{From: "letters", Shares: []table.Share{{Who: "first", Count: 5}, {Who: "other", Count: 4}}},
		`deal up to 2 cards from letters to every dock`:  table.Deal{From: "letters", UpTo: true, Shares: []table.Share{{Who: "every", Count: 2}}, To: "dock"},
		`fill every hand to 4 from letters`:              table.TopUp{From: "letters", To: 4, Every: true},
		`exchange 2 of my hand to outbox for letters`: table.Exchange{
			Pick: table.Pick{From: "satchel/1", Count: 2}, Away: "outbox", Draw: "letters"},
		`take 1 by chance from letters where group = 1 and not name in ("Letter 01", "Letter 03") onto sky`: table.Move{
			Pick: table.Pick{From: "letters", Count: 1, Which: table.ByChance, Where: &table.Filter{And: []table.Filter{
				{Field: "group", Is: "=", Than: []string{"1"}},
				{Not: &table.Filter{Field: "name", Is: "in", Than: []string{"Letter 01", "Letter 03"}}}}}},
			To: table.Target{Place: "sky"}},
		`turn 1 of weather face up onto sky`: table.Move{Pick: table.Pick{From: "weather", Count: 1}, To: table.Target{Place: "sky"}, Side: table.Front},
		`split letters at 5 to felt at 120 80.5`: table.Move{
			Pick: table.Pick{From: "letters", Which: table.Top, Count: 5}, To: table.Target{X: &x, Y: &y}},
		`combine weather under letters`: table.Move{
			Pick: table.Pick{From: "weather", Which: table.Every}, To: table.Target{Place: "letters", Under: true}},
		`spread all of weather over marsh by columns`: table.Spread{Pick: table.Pick{From: "weather", Which: table.Every}, Over: "marsh", By: "columns"},
		`collect marsh onto weather`:                  table.Collect{From: "marsh", Onto: "weather"},
		`move 1 of letters to marsh B3`:               table.Move{Pick: table.Pick{From: "letters", Count: 1}, To: table.Target{Place: "marsh/B3"}},
		`everything home`:                             table.EverythingHome{},
		`gather letters and shuffle`:                  table.Gather{Deck: "letters", Shuffle: true},
		`peek 3 of letters`:                           table.Peek{Place: "letters", Count: 3},
		`ask Bo for 2 cards`:                          table.MakeAsk{Place: "satchel/2", For: "take", Count: 2},
		`show 1 of my hand to Bo`:                     table.ShowCards{Pick: table.Pick{From: "satchel/1", Count: 1}, To: 2},
		`choose first seat by chance`:                 table.First{},
		`pass to seat 2`:                              table.Pass{To: 2},
		`set day to 1`:                                table.SetCounter{Piece: "day", To: &one},
		`add -1 to day`:                               table.SetCounter{Piece: "day", By: -1},
		`roll wind`:                                   table.Roll{Pieces: []table.PieceID{"wind"}},
		`hand postmaster to Bo`:                       table.HandMarker{Piece: "postmaster", Seat: 2},
		`start sandglass`:                             table.RunTimer{Piece: "sandglass", Do: "start"},
		`say "The tide is in."`:                       table.Say{Text: "The tide is in."},
		`move my dock to felt at 120 80.5`:            table.Move{Pick: table.Pick{From: "dock/1"}, To: table.Target{X: &x, Y: &y}},
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
		`shufle weather`:          `line 1, column 1: there is no step "shufle"; did you mean "shuffle"?`,
		`xylophone 3`:             `line 1, column 1: there is no step "xylophone"; steps begin with add, agree, ask, choose, close, collect, combine, cut, deal, decline, discard, draw, everything, exchange, fill, flip, gather, give, hand, hide, move, pass, peek, place, reset, reverse, roll, rotate, run, say, separate, set, show, shuffle, sort, spin, split, spread, stack, start, stop, take, turn, undo, withdraw`,
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

// gone are deeds that end what their step speaks of.
var gone = map[string]bool{"decline": true, "withdraw": true}

// called reports whether a piece has a name: a whole stack laid on another is gone.
func called(tab *table.Table, name string) bool {
	for _, p := range tab.Pieces {
		if p.Name == name {
			return true
		}
	}
	return false
}

// sameKind are the actions whose deed may be told by a word.
func sameKind(do string) []string {
	switch do {
	case "move", "draw":
		return []string{"move", "draw"}
	case "top-up":
		return []string{"draw"}
	case "hide":
		return []string{"show"}
	case "spin":
		return []string{"roll"}
	case "start", "stop", "reset":
		return []string{"timer"}
	}
	return []string{do}
}

// What the log says to the one who acted can be read again, and means an
// action of the same kind.
func TestLinesOfTheLogCanBeReadAgain(t *testing.T) {
	rapid.Check(t, func(r *rapid.T) {
		tab, dice := tabletest.Sample(3), tabletest.NewDice(r)
		for n := range rapid.IntRange(1, 12).Draw(r, "actions") {
			move := tabletest.Any(dice, tab)
			if table.KindOf(move.Action).Word == "all" {
				continue
			}
			_, deeds, refusal := tab.Apply(move.Actor, move.Action, tabletest.With(chance.Derive(chance.Seed{}, uint64(n), ""), 1000))
			if refusal != nil || len(deeds) == 0 {
				continue // what stands is a search, which is no step
			}
			if moved, is := deeds[0].Of.(table.Moved); slices.ContainsFunc(deeds[0].Spots(), func(s *table.Spot) bool {
				return s.Kind == table.Loose && !(deeds[0].Do == "move" && s == moved.To) || s.Place == "" && is
			}) {
				continue // a felt place has no name of its own
			}
			for viewer := table.Seat(0); viewer <= 3; viewer++ {
				told := table.Told{Deed: deeds[0], Viewer: viewer}
				for _, w := range deeds[0].Witnesses() {
					if w.SeenBy(viewer) {
						told.Names = append(told.Names, w.Name)
					}
				}
				text := steps.Say(told)
				if strings.HasPrefix(text, "# ") || gone[deeds[0].Do] || deeds[0].Do == "stack" && !called(tab, deeds[0].Of.(table.PieceMoved).Piece) {
					continue // no step, or about an ask that is not there any more
				}
				again, err := steps.Read(text, tab, viewer)
				require.NoError(r, err, text)
				require.Contains(r, sameKind(deeds[0].Do), table.KindOf(again).Word, text)
			}
		}
	})
}

// Whatever can be said at all is read as the action it was.
func TestReadingIsTheInverseOfPrinting(t *testing.T) {
	said, tried := map[string]bool{}, 0
	rapid.Check(t, func(r *rapid.T) {
		tab, dice := tabletest.Sample(3), tabletest.NewDice(r)
		for n := range 25 {
			move := tabletest.Any(dice, tab)
			tried++
			if text, ok := steps.Print(move.Action, tab, move.Actor); ok {
				again, err := steps.Read(text, tab, move.Actor)
				require.NoError(r, err, text)
				require.Equal(r, move.Action, again, text)
				said[table.KindOf(move.Action).Word] = true
			}
			_, _, _ = tab.Apply(move.Actor, move.Action, tabletest.With(chance.Derive(chance.Seed{}, uint64(n), ""), 1000))
		}
	})
	t.Logf("%d actions, of %d kinds that can be said", tried, len(said))
	assert.Greater(t, len(said), 24)
}

func TestFiltersOfAnyDepthAreReadAsPrinted(t *testing.T) {
	tab := tabletest.Sample(2)
	leaf := rapid.Custom(func(r *rapid.T) table.Filter {
		is := rapid.SampledFrom([]string{"=", "≠", "<", "≤", ">", "≥", "in"}).Draw(r, "is")
		than := rapid.SliceOfN(rapid.SampledFrom([]string{"1", "two words", "not", ""}), 1, 1).Draw(r, "than")
		return table.Filter{Field: rapid.SampledFrom([]string{"group", "name", "where"}).Draw(r, "field"), Is: is, Than: than}
	})
	var filter func(depth int) *rapid.Generator[table.Filter]
	filter = func(depth int) *rapid.Generator[table.Filter] {
		return rapid.Custom(func(r *rapid.T) table.Filter {
			if depth == 0 {
				return leaf.Draw(r, "leaf")
			}
			parts := rapid.SliceOfN(filter(depth-1), 2, 3).Draw(r, "parts")
			switch rapid.IntRange(0, 3).Draw(r, "shape") {
			case 0:
				return table.Filter{And: parts}
			case 1:
				return table.Filter{Or: parts}
			case 2:
				return table.Filter{Not: &parts[0]}
			}
			return leaf.Draw(r, "leaf")
		})
	}
	rapid.Check(t, func(r *rapid.T) {
		f := filter(2).Draw(r, "filter")
		action := table.Flip{Pick: table.Pick{From: "letters", Count: 1, Where: &f}}
		text, ok := steps.Print(action, tab, 1)
		require.True(r, ok)
		again, err := steps.Read(text, tab, 1)
		require.NoError(r, err, text)
		require.Equal(r, action, again, text)
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

func TestRunningACuePutsItsStepsBehindIt(t *testing.T) {
	tab := tabletest.Sample(2)
	read := func(text string) (table.Action, error) {
		plan, err := steps.ReadPlan(text, tab, 1)
		return plan.Action, err
	}
	got, err := read(`run "New day"`)
	require.NoError(t, err)
	assert.Equal(t, table.All{Actions: table.Actions{
		table.Run{Cue: "new-day"}, table.SetCounter{Piece: "day", By: 1}, table.Roll{Pieces: []table.PieceID{"wind"}},
	}}, got)
	_, deeds, refusal := tab.Apply(1, got, tabletest.With(chance.Derive(chance.Seed{}, 1, ""), 0))
	require.Nil(t, refusal)
	assert.Len(t, deeds, 3)

	got, err = read("say \"go\"\nrun setup")
	require.NoError(t, err)
	assert.Len(t, got.(table.All).Actions, 4)

	tab.Pieces["new-day"].Text = "add 1 to day\nrol wind"
	_, err = read(`run "New day"`)
	assert.ErrorContains(t, err, `New day, line 2, column 1: there is no step`)
	tab.Pieces["new-day"].Text = `run "New day"`
	_, err = read(`run "New day"`)
	assert.EqualError(t, err, "New day: cues may run each other 3 deep, not deeper")
	_, err = steps.Read("run wind", tab, 1)
	assert.EqualError(t, err, `line 1, column 5: there is no cue "wind"; there is "New day"`)
	// Cues of many lines that run each other would be millions of steps.
	tab.Pieces["dusk"] = &table.Piece{ID: "dusk", Name: "dusk", Kind: table.Cue, Text: strings.Repeat("run dawn\n", 100)}
	tab.Pieces["dawn"] = &table.Piece{ID: "dawn", Name: "dawn", Kind: table.Cue, Text: "shuffle sky"}
	_, err = read("run dusk")
	assert.EqualError(t, err, "dawn: at most 50 cues run in one action")
}

func TestAPlanSaysWhereItsStepsWereWrittenAndWhatItWouldShow(t *testing.T) {
	tab := tabletest.Sample(2)
	tab.Pieces["new-day"].Text = "add 1 to day\n\nroll wind"
	plan, err := steps.ReadPlan("# two\nshuffle letters\nrun \"New day\"", tab, 1)
	require.NoError(t, err)
	assert.Equal(t, []steps.Origin{{Line: 2}, {Line: 3}, {Cue: "New day", Line: 1}, {Cue: "New day", Line: 3}}, plan.Origins)
	assert.Empty(t, plan.Confirm)

	for _, text := range []string{"move all of my hand to sky", "show 1 of my hand to all", "draw 1 from my hand to outbox", "gather letters where in my hand", "turn 1 of my hand face up onto sky"} {
		tab.Pieces["new-day"].Text = text
		plan, err = steps.ReadPlan(`run "New day"`, tab, 1)
		require.NoError(t, err)
		assert.Equal(t, text, plan.Confirm)
		plan, err = steps.ReadPlan(text, tab, 1)
		require.NoError(t, err)
		assert.Empty(t, plan.Confirm, "one's own words need no question")
	}
}

// Places and decks are named in questions as they are in Steps.
func TestNamesOfPlacesAndDecksAreRead(t *testing.T) {
	tab := tabletest.Sample(3)
	tab.Places["post"] = &table.Place{ID: "post", Kind: table.Pile, Name: "Post office"}
	for text, want := range map[string]table.PlaceID{
		"weather": "weather", "Weather": "weather", "my hand": "satchel/1", "hand of Bo": "satchel/2", "dock of seat 3": "dock/3",
		"satchel/2": "satchel/2", "marsh b3": "marsh/B3", "post office": "post", `"Post office"`: "post",
	} {
		got, err := steps.ReadPlace(text, tab, 1)
		require.NoError(t, err, text)
		assert.Equal(t, want, got, text)
	}
	for text, want := range map[string]string{
		"wether":      `there is no place "wether"; did you mean "weather"?`,
		"weather now": `expected the end of the name, found "now"`,
		"satchel":     `every seat has a satchel; write "my satchel" or "satchel of seat 2"`,
		`"weather`:    `the quote opened here is not closed`,
		"":            `expected the name of a place, found the end of the line`,
	} {
		_, err := steps.ReadPlace(text, tab, 1)
		assert.ErrorContains(t, err, want, text)
	}
	deck, err := steps.ReadDeck("Weather", tab)
	require.NoError(t, err)
	assert.Equal(t, "weather", deck)
	_, err = steps.ReadDeck("lettres", tab)
	assert.ErrorContains(t, err, `there is no deck "lettres"; did you mean "letters"?`)
}
