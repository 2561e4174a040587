package table_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

// try does steps as one for a seat.
func try(tab *table.Table, seat table.Seat, steps ...table.Action) (table.Edits, []table.Deed, *table.Refusal) {
	return tab.Apply(seat, table.All{Actions: steps}, tabletest.Seeded(chance.Seed{8}, 1000))
}

func named(from table.PlaceID, name string, to table.PlaceID) table.Move {
	return table.Move{Pick: table.Pick{From: from, Names: []string{name}}, To: table.Target{Place: to}}
}

// Once this told whether another's hand held a card, and left no trace.
func TestAHandIsNotReadByWhatIsRefused(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 2, table.Draw{From: "weather", Count: 3})
	before := state(t, tab)
	for _, name := range []string{"Weather 09", "Weather 00"} {
		_, _, refusal := try(tab, 1,
			table.Gather{Deck: "weather", Where: &table.Filter{In: []table.PlaceID{"satchel/2"}}},
			table.Draw{From: "weather", Count: 4},
			named("satchel/1", name, "sky"),
			table.Move{Pick: table.Pick{From: "nowhere"}, To: table.Target{Place: "sky"}})
		require.NotNil(t, refusal)
		assert.Equal(t, []any{table.NoSuchCard, 3, false}, []any{refusal.Code, refusal.Step, refusal.Stands}, "%s", name)
		assert.Equal(t, before, state(t, tab))
	}
}

// Once a draw could be tried again and again until it was the right one.
func TestChanceIsNotTriedUntilItFits(t *testing.T) {
	tab := tabletest.Sample(2)
	for range 20 {
		before := state(t, tab)
		_, _, refusal := try(tab, 1, table.Shuffle{Place: "weather"}, table.Draw{From: "weather"}, named("satchel/1", "Weather 03", "satchel/1"))
		require.NotNil(t, refusal)
		assert.False(t, refusal.Stands, "a name means a card that was in view before")
		assert.Equal(t, before, state(t, tab))
	}
	edits, deeds, refusal := try(tab, 1, table.Shuffle{Place: "weather"},
		table.Move{Pick: table.Pick{From: "weather", Which: table.Top, Where: &table.Filter{Field: "name", Than: []string{"Weather 03"}}}, To: table.Target{Place: "sky"}},
		table.Move{Pick: table.Pick{From: "letters", Where: &table.Filter{Field: "name", Than: []string{"Weather 03"}}}, To: table.Target{Place: "sky"}})
	require.NotNil(t, refusal)
	assert.True(t, refusal.Stands)
	assert.NotEmpty(t, edits)
	assert.Equal(t, []string{"shuffle", "move", "search"}, []string{deeds[0].Do, deeds[1].Do, deeds[2].Do})
	assert.Equal(t, 20, deeds[2].Of.(table.Searched).Among)
	assert.EqualValues(t, 1, tab.Draws[0], "what was drawn is spent")
}

// A cue that cannot go on for want of cards changes nothing, whatever it rolled.
func TestARefusalThatAlwaysComesTakesEverythingBack(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.Move{Pick: table.Pick{From: "weather", Count: 6}, To: table.Target{Place: "sky"}})
	before := state(t, tab)
	for _, last := range []table.Action{
		table.Move{Pick: table.Pick{From: "weather", Count: 1}, To: table.Target{Place: "sky"}, Side: table.Front}, // sky is full
		table.Draw{From: "weather", Count: 9}, table.SetCounter{Piece: "day", By: 50}, table.Close{Place: "letters"},
	} {
		_, _, refusal := try(tab, 1, table.SetCounter{Piece: "day", By: 1}, table.Roll{Pieces: []table.PieceID{"wind"}}, table.Shuffle{Place: "letters"}, last)
		require.NotNil(t, refusal)
		assert.False(t, refusal.Stands, "%#v", last)
		assert.Equal(t, before, state(t, tab))
	}
}

func TestWhatStandsIsUndoneAsOne(t *testing.T) {
	tab := tabletest.Sample(2)
	before := state(t, tab)
	_, _, refusal := try(tab, 1, table.Draw{From: "letters", Count: 2},
		table.Move{Pick: table.Pick{From: "weather", Where: &table.Filter{Field: "group", Than: []string{"1"}}}, To: table.Target{Place: "satchel/1"}},
		table.Move{Pick: table.Pick{From: "weather", Count: 5, Where: &table.Filter{Field: "group", Than: []string{"1"}}}, To: table.Target{Place: "satchel/1"}})
	require.NotNil(t, refusal)
	require.True(t, refusal.Stands)
	assert.Len(t, tab.Places["satchel/1"].Cards, 3)
	as(t, tab, 1, table.Undo{})
	assert.Equal(t, before, state(t, tab))
}

func TestSomeActsStandAlone(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 0, table.Free{Seat: 2})
	for _, alone := range []table.Action{table.ChangeSeat{To: 2}, table.Free{Seat: 1}, table.Keys{Seat: 1}, table.End{}, table.Undo{}} {
		before := state(t, tab)
		_, _, refusal := try(tab, 1, alone, table.Peek{Place: "letters", Count: 1})
		require.NotNil(t, refusal)
		assert.Equal(t, table.NotUnderstood, refusal.Code)
		assert.Equal(t, before, state(t, tab))
	}
	_, _, refusal := tab.Apply(1, table.All{Actions: table.Actions{table.All{}}}, tabletest.Seeded(chance.Seed{8}, 0))
	assert.Equal(t, table.NotUnderstood, refusal.Code, "nor is one sequence part of another")
}

// Once a handle fetched a face-down card of another's dock through a shuffle.
func TestAHandleDoesNotOutliveAShuffleInOneAction(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 2, table.Draw{From: "letters", Count: 1, To: "dock/2"})
	held := tab.Places["dock/2"].Cards[0]
	_, _, refusal := try(tab, 1, table.Gather{Deck: "letters", Shuffle: true}, table.Move{Pick: table.Pick{Cards: table.Handles(held)}, To: table.Target{Place: "satchel/1"}})
	require.NotNil(t, refusal)
	assert.Equal(t, table.NoSuchCard, refusal.Code)
	assert.Empty(t, tab.Places["satchel/1"].Cards)
}

func TestALookIsAtCardsAndNotAtWhateverLiesOnTop(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.Peek{Place: "letters", Count: 2})
	looked := tab.Looks["letters"].Cards
	as(t, tab, 1, table.Draw{From: "weather", Count: 3, To: "letters"})
	pile := tab.Places["letters"]
	for i, card := range pile.Cards {
		assert.Equal(t, card == looked[0] || card == looked[1], tab.FrontSeen(1, pile, i) && tab.Cards[card].Side == table.Back, "%d", card)
	}
	as(t, tab, 1, table.Move{Pick: table.Pick{Cards: table.Handles(looked[0])}, To: table.Target{Place: "outbox"}})
	assert.Equal(t, looked[1:], tab.Looks["letters"].Cards)
}

// Undo goes by what everybody knows: what the other did inside their hand neither
// stands in its way nor hides the card from it.
func TestAGiftIsTakenBackWhereverItLiesInTheHand(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 2, table.Draw{From: "weather", Count: 3})
	as(t, tab, 1, table.Draw{From: "letters", To: "dock/1"})
	gift := tab.Places["dock/1"].Cards[0]
	as(t, tab, 1, table.Move{Pick: table.Pick{From: "dock/1"}, To: table.Target{Place: "satchel/2"}})
	as(t, tab, 2, table.Flip{Pick: table.Pick{From: "satchel/2", Which: table.Every}})
	as(t, tab, 2, table.Sort{Place: "satchel/2", By: "name"})
	as(t, tab, 1, table.Peek{Place: "letters", Count: 1})
	as(t, tab, 1, table.Close{Place: "letters"})
	as(t, tab, 1, table.Undo{})
	assert.Equal(t, []table.CardID{gift}, tab.Places["dock/1"].Cards)
	assert.Equal(t, table.Back, tab.Cards[gift].Side, "it lies as it lay")
	assert.Len(t, tab.Places["satchel/2"].Cards, 3)

	as(t, tab, 1, table.Move{Pick: table.Pick{From: "dock/1"}, To: table.Target{Place: "satchel/2"}})
	as(t, tab, 2, table.Move{Pick: table.Pick{From: "satchel/2"}, To: table.Target{Place: "sky"}})
	assert.Equal(t, table.NothingToUndo, refusedAs(t, tab, 1, table.Undo{}).Code, "a card has left that hand since")
}

func TestADeckComesHomeToItsHomeAndIsDealtToSeats(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.Draw{From: "letters", Count: 20, To: "outbox"})
	assert.Equal(t, table.OutOfBounds, refusedAs(t, tab, 1, table.LayZone{Zone: "letters", Kind: table.Grid}).Code, "a grid's cards lie on its cells")
	felt := "felt"
	assert.Equal(t, table.OutOfBounds, refusedAs(t, tab, 1, table.LayZone{Name: &felt}).Code)
	as(t, tab, 1, table.Move{Pick: table.Pick{From: "weather"}, To: table.Target{Felt: true}})
	assert.Equal(t, table.NoSuchPlace, refusedAs(t, tab, 1, table.Deal{From: "weather", To: "felt", Shares: []table.Share{{Count: 1}}}).Code)
}

// Who leaves a seat leaves all that was theirs by sitting there.
func TestATenureEndsWithAllThatBelongsToIt(t *testing.T) {
	tab := tabletest.Sample(3)
	as(t, tab, 2, table.Draw{From: "letters", Count: 2})
	as(t, tab, 2, table.ShowCards{Pick: table.Pick{From: "satchel/2", Count: 1}, To: 3})
	as(t, tab, 3, table.Draw{From: "weather", To: "sky"})
	as(t, tab, 3, table.Peek{Place: "weather", Count: 1})
	as(t, tab, 3, table.MakeAsk{Place: "satchel/2"})
	tenure := tab.Chairs[2].Tenure
	as(t, tab, 0, table.HandOn{Seat: 3, Name: "Zed"})
	assert.NotEqual(t, tenure, tab.Chairs[2].Tenure)
	assert.Empty(t, tab.Looks)
	assert.Empty(t, tab.Asks)
	assert.Empty(t, tab.Shown)
	assert.Equal(t, table.NothingToUndo, refusedAs(t, tab, 3, table.Undo{}).Code, "it was somebody else's")
}

func TestNobodyIsCalledWhatWouldBeTakenForAnother(t *testing.T) {
	tab := tabletest.Sample(3)
	as(t, tab, 0, table.Free{Seat: 3})
	for name, code := range map[string]string{
		"table": table.OutOfBounds, "Seat 2": table.OutOfBounds, "HOST": table.OutOfBounds, "ｓeat 1": table.OutOfBounds,
		"Ａda": table.SeatTaken, "аda": table.SeatTaken, "ädá": table.SeatTaken, "ada": table.SeatTaken,
	} {
		assert.Equal(t, code, refusedAs(t, tab, 0, table.Sit{Seat: 3, Name: name}).Code, name)
	}
	assert.Equal(t, table.SeatTaken, refusedAs(t, tab, 2, table.Rename{Name: "ＡＤＡ"}).Code)
	as(t, tab, 0, table.Sit{Seat: 3, Name: "Søren"})
	deeds := as(t, tab, 3, table.Say{Text: "one\u202eowt\x1b[2J  three"})
	assert.Equal(t, "oneowt[2J three", deeds[0].Of.(table.Worded).Text)
}

// What would be shuffled is asked of the grips before anything is moved: afterwards the
// count in the line that tells of it would depend on what came home, or in.
func TestAGripOnWhatWouldBeShuffledRefusesBeforeAnythingMoves(t *testing.T) {
	for name, act := range map[string]table.Action{
		"gather":     table.Gather{Deck: "weather", Shuffle: true},
		"shuffle in": table.ShuffleIn{From: "letters", Into: "weather"},
	} {
		t.Run(name, func(t *testing.T) {
			tab := tabletest.Sample(3)
			as(t, tab, 1, table.Move{Pick: table.Pick{From: "weather", Count: 2}, To: table.Target{Place: "letters"}})
			as(t, tab, 1, table.Cut{Place: "letters", At: 5}) // two of weather lie covered among the letters
			as(t, tab, 1, table.Move{Pick: table.Pick{From: "letters", Count: 1}, To: table.Target{Place: "weather"}})
			before := state(t, tab)
			pile := tab.Places["weather"].Cards
			c := tabletest.With(chance.Derive(chance.Seed{}, 1, ""), 1000)
			c.Held = map[table.CardID]table.Seat{pile[len(pile)-1]: 2}
			edits, deeds, refusal := tab.Apply(1, act, c)
			require.NotNil(t, refusal)
			assert.Equal(t, table.HeldByAnother, refusal.Code)
			assert.False(t, refusal.Stands)
			assert.Empty(t, edits)
			assert.Empty(t, deeds)
			assert.Equal(t, before, state(t, tab))
		})
	}
}

// A message of a few kilobytes once kept a room at work for most of a minute: each of its
// lines looked through all cards of a large table, some of them once for each deck.
func TestASmallMessageIsSmallWork(t *testing.T) {
	tab := tabletest.Sample(3)
	for n := range 20 {
		deck := table.Deck{Key: fmt.Sprint("deck", n), Name: "deck", Home: "weather", Wide: 63, High: 88, Designs: map[string]table.Design{"one": {Key: "one", Name: "One"}}}
		mint := table.Mint{Place: "dock/1"}
		for i := range 1000 {
			mint.Cards = append(mint.Cards, table.Minted{ID: table.CardID(1000*(n+1) + i), Deck: deck.Key, Design: "one", Side: table.Front})
		}
		tab.Fold(table.Edits{table.PutDeck{After: &deck}, mint})
	}
	before := state(t, tab)
	many := make([]string, 300)
	for i := range many {
		many[i] = "One"
	}
	for name, line := range map[string]table.Action{
		"gather":         table.Gather{Deck: "deck3"},
		"everything":     table.EverythingHome{},
		"names":          table.Rotate{Pick: table.Pick{From: "dock/1", Names: many}},
		"a search":       table.Rotate{Pick: table.Pick{From: "dock/1", Count: 1, Where: &table.Filter{Field: "name", Is: "=", Than: []string{"One"}}}},
		"picks by lot":   table.Rotate{Pick: table.Pick{From: "dock/1", Count: 1, Which: table.ByChance}},
		"shuffles":       table.Shuffle{Place: "dock/1"},
		"sorts by field": table.Sort{Place: "dock/1", By: "name"},
	} {
		lines := table.All{}
		for range 200 {
			lines.Actions = append(lines.Actions, line)
		}
		_, _, refusal := tab.Apply(1, lines, tabletest.Seeded(chance.Seed{}, 1000))
		require.NotNil(t, refusal, name)
		assert.Equal(t, table.OutOfBounds, refusal.Code, name)
		tab = &table.Table{}
		require.NoError(t, json.Unmarshal([]byte(before), tab))
	}
	as(t, tab, 1, table.EverythingHome{})
	assert.Len(t, tab.Places["weather"].Cards, 20_010)
}
