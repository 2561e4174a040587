package table_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/grid"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

// as does an action of a seat and returns its deeds.
func as(t *testing.T, tab *table.Table, seat table.Seat, a table.Action) []table.Deed {
	t.Helper()
	_, deeds, refusal := tab.Apply(seat, a, tabletest.With(chance.Derive(chance.Seed{4}, uint64(seat), ""), 1000))
	require.Nil(t, refusal, "%#v", a)
	return deeds
}

// refusedAs does an action of a seat that is refused, and returns why.
func refusedAs(t *testing.T, tab *table.Table, seat table.Seat, a table.Action) table.Refusal {
	t.Helper()
	before := state(t, tab)
	_, _, refusal := tab.Apply(seat, a, tabletest.With(chance.Derive(chance.Seed{4}, uint64(seat), ""), 1000))
	require.NotNil(t, refusal, "%#v", a)
	assert.Equal(t, before, state(t, tab))
	return *refusal
}

func hands(tab *table.Table) (counts []int) {
	for seat := range tab.Chairs {
		counts = append(counts, len(tab.HandOf(table.Seat(seat+1)).Cards))
	}
	return counts
}

func TestDealGoesRoundOneByOneFromTheFirstSeat(t *testing.T) {
	tab := tabletest.Sample(3)
	as(t, tab, 1, table.First{Seat: 2})
	as(t, tab, 1, table.Deal{From: "letters", Shares: []table.Share{{Who: "first", Count: 3}, {Who: "other", Count: 2}}})
	assert.Equal(t, []int{2, 3, 2}, hands(tab))
	assert.Equal(t, []table.CardID{20, 17, 14}, tab.Places["satchel/2"].Cards, "the first seat gets the first card")
	assert.Equal(t, []table.CardID{19, 16}, tab.Places["satchel/3"].Cards)

	r := refusedAs(t, tab, 1, table.Deal{From: "letters", Shares: []table.Share{{Who: "every", Count: 6}}})
	assert.Equal(t, "letters has 13 cards, this deal takes 18.", r.Text)
	as(t, tab, 1, table.Deal{From: "letters", UpTo: true, Shares: []table.Share{{Who: "every", Count: 6}}})
	assert.Equal(t, []int{6, 8, 6}, hands(tab), "as many as there are, still round the table")

	as(t, tab, 1, table.Deal{From: "weather", To: "dock", Shares: []table.Share{{Who: "seat", Seat: 3, Count: 2}}})
	assert.Len(t, tab.Places["dock/3"].Cards, 2)
}

func TestDealSkipsFreeSeatsAndFollowsTheDirection(t *testing.T) {
	tab := tabletest.Sample(3)
	as(t, tab, 0, table.Free{Seat: 2})
	as(t, tab, 1, table.TurnRound{})
	as(t, tab, 1, table.First{Seat: 3})
	as(t, tab, 1, table.Deal{From: "letters", Shares: []table.Share{{Count: 1}}})
	assert.Equal(t, []int{1, 0, 1}, hands(tab))
	assert.Equal(t, []table.CardID{20}, tab.Places["satchel/3"].Cards)
	assert.Equal(t, "Nobody sits at seat 2.", refusedAs(t, tab, 1, table.Pass{To: 2}).Text)
	as(t, tab, 1, table.Pass{})
	assert.Equal(t, table.Seat(1), tab.Marker.Seat)
}

func TestHandsAreToppedUpAndCardsExchanged(t *testing.T) {
	tab := tabletest.Sample(3)
	as(t, tab, 1, table.Draw{From: "letters", Count: 3})
	as(t, tab, 1, table.TopUp{From: "letters", To: 2, Every: true})
	assert.Equal(t, []int{3, 2, 2}, hands(tab), "a full hand gets nothing")
	as(t, tab, 2, table.Exchange{Pick: table.Pick{From: "satchel/2", Which: table.Every}, Away: "outbox", Draw: "letters"})
	assert.Equal(t, []int{3, 2, 2}, hands(tab))
	assert.Len(t, tab.Places["outbox"].Cards, 2)
	r := refusedAs(t, tab, 2, table.TopUp{From: "weather", To: 9, Every: true})
	assert.Equal(t, map[string]int{"has": 10, "asked": 20}, r.Numbers)
}

func TestAPileIsCutSortedAndTakenApart(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.Cut{Place: "weather", At: 3})
	assert.Equal(t, []table.CardID{108, 109, 110, 101}, tab.Places["weather"].Cards[:4])
	assert.Equal(t, "weather has 10 cards, so it cannot be cut at 10.", refusedAs(t, tab, 1, table.Cut{Place: "weather", At: 10}).Text)

	as(t, tab, 1, table.Sort{Place: "weather", By: "name"})
	assert.Equal(t, table.CardID(101), tab.Places["weather"].Cards[9], "the smallest on top")
	as(t, tab, 1, table.Draw{From: "letters", Count: 3, To: "dock/1"})
	as(t, tab, 1, table.Sort{Place: "dock/1", By: "name", Down: true})
	assert.Equal(t, []table.CardID{20, 19, 18}, tab.Places["dock/1"].Cards, "the largest at the left")

	deeds := as(t, tab, 1, table.Separate{Place: "weather", By: "group"})
	assert.Len(t, deeds, 2)
	assert.Empty(t, tab.Places["weather"].Cards)
	assert.Len(t, tab.Places["felt/1"].Cards, 5)
	assert.Less(t, tab.Places["felt/1"].X, tab.Places["felt/2"].X)
}

func TestDiscardsAreShuffledInFaceDown(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.Draw{From: "weather", Count: 4, To: "outbox"})
	as(t, tab, 1, table.ShuffleIn{From: "outbox", Into: "weather"})
	assert.Len(t, tab.Places["weather"].Cards, 10)
	for _, card := range tab.Places["weather"].Cards {
		assert.Equal(t, table.Back, tab.Cards[card].Side)
	}
}

func TestADeckIsGatheredFromEverywhere(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.Draw{From: "weather", Count: 2})
	as(t, tab, 1, table.Draw{From: "weather", Count: 2, To: "sky"})
	as(t, tab, 1, table.Move{Pick: table.Pick{From: "weather"}, To: table.Target{Place: "marsh/B2"}})
	as(t, tab, 1, table.Rotate{Pick: table.Pick{From: "marsh/B2"}})
	as(t, tab, 1, table.Gather{Deck: "weather", Where: &table.Filter{Not: &table.Filter{In: []table.PlaceID{"sky"}}}})
	assert.Len(t, tab.Places["weather"].Cards, 8)
	assert.Len(t, tab.Places["sky"].Cards, 2)
	assert.NotContains(t, tab.Places, table.PlaceID("marsh/B2"))
	for _, card := range tab.Places["weather"].Cards {
		assert.Equal(t, table.Lie{Side: table.Back}, table.Lie{Side: tab.Cards[card].Side, Turn: tab.Cards[card].Turn})
	}
	as(t, tab, 1, table.Draw{From: "letters", Count: 2})
	as(t, tab, 1, table.Draw{From: "letters", Count: 2, To: "sky"})
	as(t, tab, 2, table.Gather{Deck: "letters", Where: &table.Filter{In: []table.PlaceID{"satchel/1"}}})
	assert.Len(t, tab.Places["letters"].Cards, 16, "another's hand is not singled out")
	as(t, tab, 1, table.Gather{Deck: "letters", Where: &table.Filter{In: []table.PlaceID{"satchel/1"}}})
	assert.Len(t, tab.Places["letters"].Cards, 18)
	assert.Equal(t, table.NotUnderstood, refusedAs(t, tab, 2, table.Gather{Deck: "letters", Where: &table.Filter{Field: "name", Than: []string{"Letter 01"}}}).Code,
		"that would search hands")
	assert.Equal(t, `There is no deck "stamps" on this table.`, refusedAs(t, tab, 1, table.Gather{Deck: "stamps"}).Text)
}

func TestCardsArePickedFromAllCellsOfAGrid(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.Spread{Pick: table.Pick{From: "letters", Count: 4}, Over: "marsh"})
	as(t, tab, 1, table.Flip{Pick: table.Pick{From: "marsh", Count: 2}})
	assert.Equal(t, []table.Side{table.Front, table.Front, table.Back},
		[]table.Side{tab.Cards[20].Side, tab.Cards[19].Side, tab.Cards[18].Side}, "the first cells are its top")
	deeds := as(t, tab, 1, table.Move{Pick: table.Pick{From: "marsh", Names: []string{"Letter 18"}}, To: table.Target{Place: "outbox"}})
	assert.Equal(t, table.PlaceID("marsh/B1"), deeds[0].Of.(table.Moved).From.Place)
	deeds = as(t, tab, 1, table.Move{
		Pick: table.Pick{From: "marsh", Which: table.Every, Where: &table.Filter{Not: &table.Filter{In: []table.PlaceID{"marsh/A1"}}}},
		To:   table.Target{Place: "outbox"},
	})
	assert.Equal(t, table.PlaceID("marsh"), deeds[0].Of.(table.Moved).From.Place)
	assert.Len(t, tab.Places["outbox"].Cards, 3)
	assert.Contains(t, tab.Places, table.PlaceID("marsh/A1"))
}

func TestCardsAreSpreadOverAGridAndCollected(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.Spread{Pick: table.Pick{From: "weather", Count: 2}, Over: "marsh"})
	as(t, tab, 1, table.Spread{Pick: table.Pick{From: "weather", Count: 3}, Over: "marsh", By: "columns"})
	at := map[table.PlaceID]table.CardID{"marsh/A1": 110, "marsh/B1": 109, "marsh/A2": 108, "marsh/A3": 107, "marsh/B2": 106}
	for cell, card := range at {
		require.Contains(t, tab.Places, cell)
		assert.Equal(t, []table.CardID{card}, tab.Places[cell].Cards, "%s", cell)
	}
	assert.Equal(t, []float64{300, 200}, func() []float64 { // in the middle of its cell; the grid lies at 250, 200
		p := tab.Places["marsh"].CellAt(grid.Cell{Column: 2, Row: 1})
		return []float64{p.X, p.Y}
	}())
	assert.Equal(t, "marsh has 7 cells free, and 8 cards come.", refusedAs(t, tab, 1, table.Spread{Pick: table.Pick{From: "letters", Count: 8}, Over: "marsh"}).Text)
	assert.Equal(t, `marsh has no cell "E1"; it goes from A1 to D3.`, refusedAs(t, tab, 1, table.Draw{From: "letters", To: "marsh/E1"}).Text)
	assert.Equal(t, `marsh is a grid; name one of its cells, such as "marsh B3".`, refusedAs(t, tab, 1, table.Draw{From: "letters", To: "marsh"}).Text)
	as(t, tab, 1, table.Collect{From: "marsh", Onto: "weather"})
	assert.Len(t, tab.Places["weather"].Cards, 10)
	assert.NotContains(t, tab.Places, table.PlaceID("marsh/A1"))
}

func TestASearchTakesOnlyWhatFits(t *testing.T) {
	tab := tabletest.Sample(2)
	odd := &table.Filter{And: []table.Filter{{Field: "group", Than: []string{"1"}}, {Not: &table.Filter{Field: "name", Is: "in", Than: []string{"weather 01", "Weather 03"}}}}}
	as(t, tab, 1, table.Move{Pick: table.Pick{From: "weather", Which: table.Every, Where: odd}, To: table.Target{Place: "sky"}})
	assert.Equal(t, []table.CardID{106, 108, 110}, tab.Places["sky"].Cards)
	r := refusedAs(t, tab, 1, table.Move{Pick: table.Pick{From: "weather", Count: 2, Where: &table.Filter{Field: "name", Is: "=", Than: []string{"Weather 01"}}}, To: table.Target{Place: "sky"}})
	assert.Equal(t, "weather has 1 card that fits, you asked for 2.", r.Text)
	assert.True(t, r.Stands, "what it found is told")
}

func TestWhileOneLooksOthersCannotChangeThePlace(t *testing.T) {
	tab := tabletest.Sample(2)
	deeds := as(t, tab, 1, table.Peek{Place: "letters", Count: 3})
	assert.Equal(t, 3, deeds[0].Of.(table.Looked).Count)
	for _, a := range []table.Action{
		table.Draw{From: "letters"}, table.Shuffle{Place: "letters"}, table.Draw{From: "weather", To: "letters"},
		table.Gather{Deck: "letters"}, table.Peek{Place: "letters"},
	} {
		assert.Equal(t, table.BeingLooked, refusedAs(t, tab, 2, a).Code, "%#v", a)
	}
	as(t, tab, 1, table.Reorder{Place: "letters", Top: table.Handles(18), Under: table.Handles(20)})
	assert.Equal(t, []table.CardID{20, 1}, tab.Places["letters"].Cards[:2])
	assert.Equal(t, []table.CardID{17, 19, 18}, tab.Places["letters"].Cards[17:])
	assert.Equal(t, 2, tab.Looks["letters"].Count, "what went underneath is out of sight")
	as(t, tab, 1, table.Move{Pick: table.Pick{Cards: table.Handles(19)}, To: table.Target{Place: "satchel/1"}})
	assert.Equal(t, 1, tab.Looks["letters"].Count, "and what was taken")
	assert.Equal(t, table.NoSuchCard, refusedAs(t, tab, 1, table.Reorder{Place: "letters", Top: table.Handles(5)}).Code)
	as(t, tab, 1, table.Close{Place: "letters"})
	as(t, tab, 2, table.Draw{From: "letters"})
}

func TestAnAskIsAgreedToDeclinedWithdrawnOrLapses(t *testing.T) {
	tab := tabletest.Sample(3)
	as(t, tab, 2, table.Draw{From: "letters", Count: 3}) // 20 19 18
	ask := func(from table.Seat, what string, count int) int {
		as(t, tab, from, table.MakeAsk{Place: "satchel/2", For: what, Count: count})
		return int(tab.Made)
	}
	id := ask(1, "take", 1)
	assert.Equal(t, table.NotYours, refusedAs(t, tab, 3, table.Agree{Ask: id}).Code, "only the owner agrees")
	assert.Equal(t, table.NotYours, refusedAs(t, tab, 2, table.Withdraw{Ask: id}).Code)
	assert.Equal(t, "Ada asked for 1 card, you chose 2.", refusedAs(t, tab, 2, table.Agree{Ask: id, Cards: table.Handles(20, 19)}).Text)
	as(t, tab, 2, table.Agree{Ask: id, Cards: table.Handles(19)})
	assert.Equal(t, []table.CardID{19}, tab.Places["satchel/1"].Cards)

	id = ask(3, "peek", 1)
	as(t, tab, 2, table.Agree{Ask: id, Cards: table.Handles(18)})
	assert.True(t, tab.FrontSeen(3, tab.Places["satchel/2"], 1))
	assert.False(t, tab.FrontSeen(1, tab.Places["satchel/2"], 1))
	as(t, tab, 2, table.ShowCards{Pick: table.Pick{Cards: table.Handles(18)}, Hide: true})
	assert.False(t, tab.FrontSeen(3, tab.Places["satchel/2"], 1))

	as(t, tab, 2, table.Decline{Ask: ask(1, "take", 1)})
	as(t, tab, 1, table.Withdraw{Ask: ask(1, "take", 1)})
	ask(1, "take", 1)
	ask(3, "take", 2)
	as(t, tab, 0, table.Lapse{Seat: 1})
	assert.Len(t, tab.Asks, 1, "only the asks of whoever left lapse")
	assert.Equal(t, "sky is nobody else's own; there is no need to ask.", refusedAs(t, tab, 1, table.MakeAsk{Place: "sky"}).Text)
	assert.Equal(t, table.TooFew, refusedAs(t, tab, 1, table.MakeAsk{Place: "satchel/2", Count: 9}).Code)
}

func TestShownCardsAreHiddenAgainWhenTheyLeaveTheHand(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.Draw{From: "letters"})
	as(t, tab, 1, table.ShowCards{Pick: table.Pick{From: "satchel/1"}})
	assert.True(t, tab.FrontSeen(0, tab.Places["satchel/1"], 0), "shown to all is shown to whoever watches, too")
	as(t, tab, 1, table.Move{Pick: table.Pick{From: "satchel/1"}, To: table.Target{Place: "letters"}})
	assert.Empty(t, tab.Shown)
	assert.Equal(t, table.NotYours, refusedAs(t, tab, 1, table.ShowCards{Pick: table.Pick{From: "letters"}}).Code)
}

func TestCardsAreShownForAWhile(t *testing.T) {
	tab := tabletest.Sample(3)
	as(t, tab, 1, table.Draw{From: "letters", Count: 2})
	hand := tab.Places["satchel/1"]
	as(t, tab, 1, table.ShowCards{Pick: table.Pick{From: "satchel/1", Count: 1}, To: 3}) // for good
	as(t, tab, 1, table.ShowCards{Pick: table.Pick{From: "satchel/1", Which: table.Every}, Seconds: 20})
	assert.True(t, tab.FrontSeen(2, hand, 0) && tab.FrontSeen(2, hand, 1))
	assert.Empty(t, tab.Due(20_999), "shown at 1000, for 20 seconds")

	due := tab.Due(21_000)
	require.Len(t, due, 1, "both cards at once")
	_, deeds, refusal := tab.Apply(0, table.All{Actions: due}, tabletest.With(nil, 21_000))
	require.Nil(t, refusal)
	assert.Equal(t, "hide", deeds[0].Do)
	assert.False(t, tab.FrontSeen(2, hand, 0) || tab.FrontSeen(2, hand, 1))
	assert.False(t, tab.FrontSeen(3, hand, 0))
	assert.True(t, tab.FrontSeen(3, hand, 1), "seat 3 was shown it for good")
	assert.Empty(t, tab.Due(1_000_000))

	as(t, tab, 1, table.ShowCards{Pick: table.Pick{From: "satchel/1"}, Seconds: 20})
	as(t, tab, 1, table.Move{Pick: table.Pick{From: "satchel/1"}, To: table.Target{Place: "letters"}})
	assert.Empty(t, tab.Due(1_000_000), "a card that left has nothing to hide")
	assert.Equal(t, table.OutOfBounds, refusedAs(t, tab, 1, table.ShowCards{Pick: table.Pick{From: "satchel/1"}, Seconds: 3601}).Code)
}

func TestTokensAreTakenOffAStackAndStackedAgain(t *testing.T) {
	tab := tabletest.Sample(2)
	x, y := 100.0, 50.0
	as(t, tab, 1, table.MovePiece{Piece: "boat", Count: 2, X: &x, Y: &y})
	off := tab.Pieces["token/1"]
	require.NotNil(t, off)
	assert.Equal(t, "boat 2", off.Name)
	assert.Equal(t, []int{3, 2}, []int{tab.Pieces["boat"].Count, off.Count})
	assert.Equal(t, "boat has 3 tokens, you asked for 4.", refusedAs(t, tab, 1, table.MovePiece{Piece: "boat", Count: 4}).Text)

	as(t, tab, 2, table.Stack{Piece: "token/1", Onto: "boat", Count: 1})
	assert.Equal(t, []int{4, 1}, []int{tab.Pieces["boat"].Count, tab.Pieces["token/1"].Count})
	as(t, tab, 2, table.Stack{Piece: "token/1", Onto: "boat"})
	assert.Equal(t, 5, tab.Pieces["boat"].Count)
	assert.NotContains(t, tab.Pieces, table.PieceID("token/1"))
	as(t, tab, 2, table.Undo{})
	assert.Equal(t, 1, tab.Pieces["token/1"].Count)
	assert.Equal(t, table.NothingToUndo, refusedAs(t, tab, 1, table.Undo{}).Code, "seat 2 has touched the stack since")
	assert.Equal(t, table.WrongPiece, refusedAs(t, tab, 1, table.Stack{Piece: "boat", Onto: "boat"}).Code)
	assert.Equal(t, table.WrongPiece, refusedAs(t, tab, 1, table.MovePiece{Piece: "day", Count: 2}).Code)
}

func TestPieces(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.SetCounter{Piece: "day", By: 4})
	assert.Equal(t, 4, tab.Pieces["day"].Value)
	assert.Equal(t, "day goes from 0 to 9, so not to 12.", refusedAs(t, tab, 1, table.SetCounter{Piece: "day", By: 8}).Text)
	assert.Equal(t, "wind is a die, which this cannot be done with.", refusedAs(t, tab, 1, table.SetCounter{Piece: "wind", By: 1}).Text)
	as(t, tab, 1, table.MovePiece{Piece: "boat", Flip: true})
	assert.Equal(t, table.Back, tab.Pieces["boat"].Side)
	as(t, tab, 1, table.HandMarker{Piece: "postmaster", Seat: 2})
	assert.Equal(t, table.Seat(2), tab.Pieces["postmaster"].Seat)

	as(t, tab, 1, table.RunTimer{Piece: "sandglass", Do: "start"}) // at 1000
	assert.EqualValues(t, 181_000, tab.Pieces["sandglass"].Ends)
	assert.Empty(t, tab.Due(180_999))
	require.Len(t, tab.Due(181_000), 1)
	_, deeds, refusal := tab.Apply(0, tab.Due(181_000)[0], tabletest.With(nil, 181_000))
	require.Nil(t, refusal)
	assert.Equal(t, "ring", deeds[0].Do)
	assert.Empty(t, tab.Due(200_000))
}

func TestRollsFollowTheWeightsOfTheFaces(t *testing.T) {
	tab, counts := tabletest.Sample(2), map[int]int{}
	for n := range 8000 {
		_, _, refusal := tab.Apply(1, table.Roll{Pieces: []table.PieceID{"wind"}}, tabletest.With(chance.Derive(chance.Seed{9}, uint64(n), ""), 0))
		require.Nil(t, refusal)
		counts[tab.Pieces["wind"].Up]++
	}
	assert.InDelta(t, 2000, counts[1], 200)
	assert.InDelta(t, 2000, counts[2], 200)
	assert.InDelta(t, 4000, counts[3], 250, "lull weighs twice")
}

func TestSeatsAreFreedRenamedAndHandedOn(t *testing.T) {
	tab := tabletest.Sample(3)
	tab.Settings.Host = 0
	as(t, tab, 0, table.Free{Seat: 1})
	as(t, tab, 0, table.Sit{Seat: 1, Name: "Finn"})
	assert.Equal(t, table.Seat(1), tab.Settings.Host, "who sits down first has the room's keys")
	assert.Equal(t, table.NotYours, refusedAs(t, tab, 2, table.Free{Seat: 3}).Code)
	as(t, tab, 1, table.Free{Seat: 3})
	as(t, tab, 1, table.Free{Seat: 1})
	assert.Equal(t, table.Seat(2), tab.Settings.Host, "the keys go to the next")
	as(t, tab, 2, table.Rename{Name: "Gus", Colour: "#112233"})
	assert.Equal(t, table.SeatTaken, refusedAs(t, tab, 0, table.Sit{Seat: 3, Name: "gus"}).Code)
	assert.Equal(t, table.NotUnderstood, refusedAs(t, tab, 2, table.Rename{Colour: "pink"}).Code)
	as(t, tab, 2, table.Draw{From: "letters", Count: 2})
	as(t, tab, 0, table.HandOn{Seat: 2, Name: "Zed"})
	assert.Equal(t, "Zed", tab.Chair(2).Name)
	assert.Equal(t, "#112233", tab.Chair(2).Colour)
	assert.Len(t, tab.Places["satchel/2"].Cards, 2)
}

func TestUndoOfOnesOwnAndOfAnyones(t *testing.T) {
	tab := tabletest.Sample(2)
	first := state(t, tab)
	as(t, tab, 1, table.Draw{From: "letters", Count: 2})
	as(t, tab, 2, table.Draw{From: "weather"})
	as(t, tab, 1, table.Undo{})
	assert.Equal(t, []int{0, 1}, hands(tab), "what the other did elsewhere stays")
	assert.Equal(t, table.NothingToUndo, refusedAs(t, tab, 1, table.Undo{}).Code)
	assert.Equal(t, "Only the host can undo what others did.", refusedAs(t, tab, 2, table.Undo{Anyone: true}).Text)
	as(t, tab, 0, table.Undo{Anyone: true})
	assert.Equal(t, first, state(t, tab))

	as(t, tab, 1, table.Draw{From: "letters"})
	as(t, tab, 2, table.Draw{From: "letters"})
	r := refusedAs(t, tab, 1, table.Undo{})
	assert.Equal(t, "Your last action cannot be undone any more: others have touched the same things since.", r.Text)
}

// An undo once gave the name of a felt place free again while a later one had
// it, and two places became one.
func TestUndoLeavesTheNamesOfFeltPlacesUsed(t *testing.T) {
	tab := tabletest.Sample(2)
	felt := table.Target{Felt: true}
	as(t, tab, 1, table.Move{Pick: table.Pick{From: "letters"}, To: felt})
	as(t, tab, 2, table.Move{Pick: table.Pick{From: "weather"}, To: felt})
	as(t, tab, 1, table.Undo{})
	as(t, tab, 1, table.Move{Pick: table.Pick{From: "letters"}, To: felt})
	as(t, tab, 1, table.Move{Pick: table.Pick{From: "letters"}, To: felt})
	assert.Equal(t, []table.CardID{110}, tab.Places["felt/2"].Cards)
	assert.Len(t, tab.Places["felt/3"].Cards, 1)
	assert.Len(t, tab.Places["felt/4"].Cards, 1)
}

// An undo once took a card that was shown meanwhile back into a pile, where it
// stayed shown.
func TestUndoDoesNotTakeAShownCardAway(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 2, table.Draw{From: "letters"})
	as(t, tab, 1, table.MakeAsk{Place: "satchel/2", For: "peek"})
	as(t, tab, 2, table.Agree{Ask: int(tab.Made)})
	assert.Equal(t, table.NothingToUndo, refusedAs(t, tab, 2, table.Undo{}).Code)
	assert.True(t, tab.FrontSeen(1, tab.Places["satchel/2"], 0))
}
