package table_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

// play does actions of seat 1 and fails on a refusal.
func play(t *testing.T, tab *table.Table, actions ...table.Action) []table.Deed {
	t.Helper()
	var told []table.Deed
	for n, a := range actions {
		_, deeds, refusal := tab.Apply(1, a, tabletest.With(chance.Derive(chance.Seed{1}, uint64(n), ""), 1000))
		require.Nil(t, refusal, "%#v", a)
		told = append(told, deeds...)
	}
	return told
}

func TestDrawTakesFromTheTopOneByOne(t *testing.T) {
	tab := tabletest.Sample(2)
	play(t, tab, table.Draw{From: "letters", Count: 3})
	assert.Equal(t, []table.CardID{20, 19, 18}, tab.Places["satchel/1"].Cards)
	assert.Len(t, tab.Places["letters"].Cards, 17)
}

func TestMovedCardsKeepTheirOrderAndGoWhereTold(t *testing.T) {
	three := table.Pick{From: "letters", Count: 3} // 18, 19, 20
	at := func(i int) *int { return &i }
	for name, c := range map[string]struct {
		to   table.Target
		want []table.CardID
	}{
		"on top":    {table.Target{Place: "weather"}, []table.CardID{109, 110, 18, 19, 20}},
		"under":     {table.Target{Place: "weather", Under: true}, []table.CardID{18, 19, 20, 101, 102}},
		"between":   {table.Target{Place: "weather", Index: at(1)}, []table.CardID{101, 18, 19, 20, 102}},
		"past last": {table.Target{Place: "weather", Index: at(99)}, []table.CardID{109, 110, 18, 19, 20}},
	} {
		t.Run(name, func(t *testing.T) {
			tab := tabletest.Sample(2)
			play(t, tab, table.Move{Pick: three, To: c.to})
			assert.Subset(t, tab.Places["weather"].Cards, c.want)
			got := tab.Places["weather"].Cards
			found := false
			for i := range got {
				found = found || i+5 <= len(got) && assert.ObjectsAreEqual(c.want, got[i:i+5])
			}
			assert.True(t, found, "%v does not stand in %v", c.want, got)
		})
	}
}

func TestScatteredCardsOfARowAreMovedTogether(t *testing.T) {
	tab := tabletest.Sample(2)
	play(t, tab, table.Draw{From: "letters", Count: 5, To: "dock/1"}) // 20 19 18 17 16
	zero := 0
	play(t, tab, table.Move{Pick: table.Pick{Cards: table.Handles(18, 16)}, To: table.Target{Place: "dock/1", Index: &zero}})
	assert.Equal(t, []table.CardID{18, 16, 20, 19, 17}, tab.Places["dock/1"].Cards)
	play(t, tab, table.Move{Pick: table.Pick{Cards: table.Handles(18, 20)}, To: table.Target{Place: "dock/1"}})
	assert.Equal(t, []table.CardID{16, 19, 17, 18, 20}, tab.Places["dock/1"].Cards)
}

func TestArrivalSideIsThePlacesOwnRule(t *testing.T) {
	tab := tabletest.Sample(2)
	play(t, tab, table.Draw{From: "weather", Count: 2})
	assert.Equal(t, table.Back, tab.Cards[110].Side, "a card drawn into a hand stays as it lay")
	play(t, tab,
		table.Move{Pick: table.Pick{Cards: table.Handles(110)}, To: table.Target{Place: "dock/1"}},
		table.Move{Pick: table.Pick{Cards: table.Handles(109)}, To: table.Target{Place: "sky"}})
	assert.Equal(t, table.Back, tab.Cards[110].Side, "a card from the hand turned itself over")
	assert.Equal(t, table.Front, tab.Cards[109].Side)
}

func TestAWholePileTurnsOverAsOne(t *testing.T) {
	tab := tabletest.Sample(2)
	play(t, tab, table.Flip{Pick: table.Pick{From: "weather", Which: table.Every}})
	assert.Equal(t, table.CardID(110), tab.Places["weather"].Cards[0])
	assert.Equal(t, table.Front, tab.Cards[101].Side)
	play(t, tab, table.Flip{Pick: table.Pick{From: "weather"}, Side: table.Front})
	assert.Equal(t, table.Front, tab.Cards[101].Side, "turned to the side it already had")
}

func TestAFeltPlaceComesWithItsFirstCardAndGoesWithItsLast(t *testing.T) {
	tab := tabletest.Sample(2)
	x, y := 5000.0, -3.0
	play(t, tab, table.Move{Pick: table.Pick{From: "letters"}, To: table.Target{X: &x, Y: &y}})
	p := tab.Places["felt/1"]
	require.NotNil(t, p)
	assert.Equal(t, 900.0, p.X, "kept on the table")
	assert.Equal(t, 0.0, p.Y)
	play(t, tab, table.Move{Pick: table.Pick{From: "felt/1"}, To: table.Target{Place: "sky"}})
	assert.NotContains(t, tab.Places, table.PlaceID("felt/1"))
	play(t, tab, table.Move{Pick: table.Pick{From: "letters"}, To: table.Target{X: &x, Y: &y}})
	assert.Contains(t, tab.Places, table.PlaceID("felt/2"), "names of felt places are used once")
}

func TestRefusalsCarryTheirNumbers(t *testing.T) {
	drawn := table.Draw{From: "letters", Count: 18, To: "outbox"}
	for name, c := range map[string]struct {
		action  table.Action
		code    string
		text    string
		numbers map[string]int
	}{
		"pile short": {table.Draw{From: "letters", Count: 3}, table.TooFew,
			"letters has 2 cards, you asked for 3.", map[string]int{"has": 2, "asked": 3}},
		"misspelt place": {table.Shuffle{Place: "wether"}, table.NoSuchPlace, `There is no place "wether" on this table; did you mean "weather"?`, nil},
		"misspelt piece": {table.SetCounter{Piece: "dayy", To: new(int)}, table.NoSuchPiece, `There is no piece "dayy" on this table; did you mean "day"?`, nil},
		"misspelt deck":  {table.Gather{Deck: "lettres"}, table.NoSuchDeck, `There is no deck "lettres" on this table; did you mean "letters"?`, nil},
		"unknown place":  {table.Shuffle{Place: "attic"}, table.NoSuchPlace, `There is no place "attic" on this table.`, nil},
		"another's hand": {table.Move{Pick: table.Pick{From: "satchel/2"}, To: table.Target{Place: "sky"}}, table.NotYours,
			"The satchel of Bo is theirs alone; ask Bo to give you a card.", map[string]int{"seat": 2}},
		"full": {table.Move{Pick: table.Pick{From: "weather", Count: 7}, To: table.Target{Place: "sky"}}, table.TooMany,
			"sky holds 6 cards and has 0, so 7 more do not fit.", map[string]int{"holds": 6, "has": 0, "coming": 7}},
		"card twice": {table.Flip{Pick: table.Pick{Cards: table.Handles(20, 20)}}, table.NoSuchCard,
			"A card you named is not there any more, or was named twice.", nil},
		"name not seen": {table.Flip{Pick: table.Pick{From: "letters", Names: []string{"Letter 00"}}}, table.NoSuchCard,
			`You see no card "Letter 00" in letters.`, nil},
		"seat taken": {table.Sit{Seat: 2, Name: "Finn"}, table.SeatTaken, "Seat 2 is Bo's; choose a free one.", map[string]int{"seat": 2}},
		"no seat":    {table.Sit{Seat: 9, Name: "Finn"}, table.NoSuchSeat, "There is no seat 9; this table has 2 seats.", map[string]int{"seats": 2}},
		"half of all": {table.All{Actions: table.Actions{table.Draw{From: "letters", Count: 2}, table.Draw{From: "letters"}}}, table.TooFew,
			"letters has 0 cards, you asked for 1.", map[string]int{"has": 0, "asked": 1}},
	} {
		t.Run(name, func(t *testing.T) {
			tab := tabletest.Sample(2)
			play(t, tab, drawn, table.Draw{From: "weather", To: "satchel/2"})
			before := state(t, tab)
			_, _, refusal := tab.Apply(1, c.action, tabletest.With(chance.Derive(chance.Seed{}, 9, ""), 1000))
			require.NotNil(t, refusal)
			refusal.Step = 0
			assert.Equal(t, table.Refusal{Code: c.code, Text: c.text, Numbers: c.numbers}, *refusal)
			assert.Equal(t, before, state(t, tab))
		})
	}
}

func TestOwnPlacesAreRearrangedUntold(t *testing.T) {
	tab := tabletest.Sample(2)
	play(t, tab, table.Draw{From: "letters", Count: 4})
	one := 1
	assert.Empty(t, play(t, tab,
		table.Shuffle{Place: "satchel/1"},
		table.Flip{Pick: table.Pick{From: "satchel/1"}},
		table.Move{Pick: table.Pick{From: "satchel/1"}, To: table.Target{Place: "satchel/1", Index: &one}}))
}

func TestASpreadIsCentredAndCloses(t *testing.T) {
	assert.Equal(t, 67.0, table.Step(1, 63, 300))
	assert.Equal(t, 67.0, table.Step(4, 63, 300), "side by side while there is room")
	assert.InDelta(t, 59.25, table.Step(5, 63, 300), 1e-9, "overlapping when it is short")
	assert.Equal(t, 0.0, table.Step(3, 63, 40))
}

// The first version skipped what cannot be undone without asking what it had
// touched, and undid what lay under it.
func TestUndoStopsAtWhatCameLater(t *testing.T) {
	tab := tabletest.Sample(2)
	play(t, tab, table.Draw{From: "letters", Count: 2, To: "dock/1"})
	play(t, tab, table.All{Actions: table.Actions{ // a look is closed, not undone, so neither is this
		table.Peek{Place: "letters", Count: 1},
		table.Move{Pick: table.Pick{From: "dock/1"}, To: table.Target{Place: "sky"}},
	}})
	_, _, refusal := tab.Apply(1, table.Undo{}, tabletest.With(chance.Derive(chance.Seed{}, 1, ""), 1000))
	require.NotNil(t, refusal)
	assert.Equal(t, table.NothingToUndo, refusal.Code)
}

// Numbers come from outside unchecked; each of these once panicked, or could.
func TestAbsurdNumbersAreNoPanic(t *testing.T) {
	for _, text := range []string{
		`{"do":"move","from":"letters","to":{"place":"sky","index":-5}}`, `{"do":"peek","place":"letters","count":-3}`,
		`{"do":"cut","place":"letters","at":-2}`, `{"do":"draw","from":"letters","count":-1}`, `{"do":"top-up","from":"letters","to":-4}`,
		`{"do":"rotate","from":"letters","steps":-9223372036854775808}`, `{"do":"pass","to":-1}`, `{"do":"first","seat":99}`,
		`{"do":"set","piece":"day","by":9223372036854775807}`, `{"do":"show","cards":["0"],"to":-1}`, `{"do":"ask","place":"satchel/2","count":-1}`,
		`{"do":"hand","piece":"postmaster","seat":-3}`, `{"do":"deal","from":"letters","shares":[{"count":-1}]}`, `{"do":"reorder","place":"letters","top":["7"]}`,
	} {
		a, err := table.ReadAction([]byte(text))
		if err != nil {
			continue // most are refused while they are read
		}
		assert.NotPanics(t, func() {
			_, _, _ = tabletest.Sample(2).Apply(1, a, tabletest.With(chance.Derive(chance.Seed{}, 1, ""), 0))
		}, text)
	}
	many := table.All{}
	for range 300 {
		many.Actions = append(many.Actions, table.Shuffle{Place: "letters"})
	}
	_, _, refusal := tabletest.Sample(2).Apply(1, many, tabletest.With(chance.Derive(chance.Seed{}, 1, ""), 0))
	assert.Equal(t, table.OutOfBounds, refusal.Code)
}

// Undoing what was told to nobody is told to nobody; it was once forgotten as
// an undo, and then done twice.
func TestUndoingAnUntoldActionIsDoneOnce(t *testing.T) {
	tab := tabletest.Sample(2)
	play(t, tab, table.Draw{From: "letters", Count: 3})
	drawn := state(t, tab)
	assert.Empty(t, play(t, tab, table.Sort{Place: "satchel/1", By: "name"}, table.Undo{}))
	assert.Equal(t, drawn, state(t, tab))
	play(t, tab, table.Undo{})
	assert.Empty(t, tab.Places["satchel/1"].Cards)
}

func TestACardPlayedOntoTheFeltLiesNearestItsSeat(t *testing.T) {
	tab := tabletest.Sample(2)
	tab.Places["satchel/1"].X, tab.Places["satchel/1"].Y = 150, 600
	play(t, tab, table.Draw{From: "letters", Count: 2},
		table.Move{Pick: table.Pick{From: "satchel/1"}, To: table.Target{Felt: true}},
		table.Move{Pick: table.Pick{From: "satchel/1"}, To: table.Target{Felt: true}})
	assert.Equal(t, []float64{250, 500}, []float64{tab.Places["felt/1"].X, tab.Places["felt/1"].Y})
	assert.Equal(t, 262.0, tab.Places["felt/2"].X, "beside the first")
}

func TestTwoCardsChangePlaces(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.Draw{From: "weather", Count: 3, To: "sky"})
	as(t, tab, 1, table.Draw{From: "letters", Count: 2})
	sky, hand := slices.Clone(tab.Places["sky"].Cards), slices.Clone(tab.Places["satchel/1"].Cards)
	as(t, tab, 1, table.Swap{Cards: table.Handles(sky[2], sky[0])})
	assert.Equal(t, []table.CardID{sky[2], sky[1], sky[0]}, tab.Places["sky"].Cards)
	as(t, tab, 1, table.Swap{Cards: table.Handles(hand[0], sky[1])})
	assert.Equal(t, []table.CardID{sky[2], hand[0], sky[0]}, tab.Places["sky"].Cards)
	assert.Equal(t, []table.CardID{sky[1], hand[1]}, tab.Places["satchel/1"].Cards)
	assert.Equal(t, table.Front, tab.Cards[hand[0]].Side, "each lies as its new place wants it")
	x, y := 10.0, 20.0
	as(t, tab, 1, table.Move{Pick: table.Pick{Cards: table.Handles(hand[1])}, To: table.Target{X: &x, Y: &y}})
	as(t, tab, 1, table.Swap{Cards: table.Handles(hand[1], tab.Places["weather"].Cards[6])})
	assert.Len(t, tab.Places["felt/1"].Cards, 1)
	assert.Equal(t, hand[1], tab.Places["weather"].Cards[6])
	covered := tab.Places["weather"].Cards[2]
	assert.Equal(t, table.NoSuchCard, refusedAs(t, tab, 1, table.Swap{Cards: table.Handles(covered, sky[0])}).Code, "nobody sees it")
	assert.Equal(t, table.NoSuchCard, refusedAs(t, tab, 2, table.Swap{Cards: table.Handles(sky[1], sky[0])}).Code)
	assert.Equal(t, table.NotUnderstood, refusedAs(t, tab, 1, table.Swap{Cards: table.Handles(sky[0])}).Code)
}
