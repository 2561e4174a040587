package table_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

// editions are two editions of the sample table: of letters, 00 is drawn anew, 01 to 03 are
// gone, of 04 there are two, and a new one comes.
func editions() (before, after *table.Table) {
	before, after = tabletest.Sample(2), tabletest.Sample(2)
	deck := *after.Decks["letters"]
	deck.Designs = map[string]table.Design{}
	for key, design := range before.Decks["letters"].Designs {
		deck.Designs[key] = design
	}
	anew := deck.Designs["letters-00"]
	anew.Front = table.Picture{Small: "anew.small", Full: "anew"}
	deck.Designs["letters-00"] = anew
	for _, gone := range []string{"letters-01", "letters-02", "letters-03"} {
		delete(deck.Designs, gone)
	}
	deck.Designs["letters-new"] = table.Design{Key: "letters-new", Name: "New letter"}
	after.Decks["letters"] = &deck
	for id, c := range after.Cards {
		if c.Deck == "letters" && (c.Design == "letters-01" || c.Design == "letters-02" || c.Design == "letters-03") {
			delete(after.Cards, id)
		}
	}
	after.Cards[900] = &table.Card{Deck: "letters", Design: "letters-04"}
	after.Cards[901] = &table.Card{Deck: "letters", Design: "letters-new"}
	return before, after
}

func revised(t *testing.T, tab *table.Table, fresh table.NewCards) []table.Deed {
	before, after := editions()
	_, deeds, refusal := tab.Apply(0, table.Revise{Number: 2, Before: before, After: after, New: fresh}, tabletest.Seeded(chance.Seed{4}, 1000))
	require.Nil(t, refusal)
	return deeds
}

func cardsOf(tab *table.Table, design string) (ids []table.CardID) {
	for id, c := range tab.Cards {
		if c.Design == design {
			ids = append(ids, id)
		}
	}
	return ids
}

// Cards keep where and how they lie; new ones come home; what is gone leaves where all see
// it, and stays marked elsewhere until all do.
func TestAnEditionIsTakenIntoATableInPlay(t *testing.T) {
	for _, fresh := range []table.NewCards{table.OnTop, table.Underneath, table.ShuffledIn} {
		tab := tabletest.Sample(2)
		do := func(actor table.Seat, a table.Action) {
			t.Helper()
			_, _, refusal := tab.Apply(actor, a, tabletest.Seeded(chance.Seed{4}, 1000))
			require.Nil(t, refusal)
		}
		card := func(n int) table.CardID { return table.CardID(n + 1) } // letters-00 has id 1
		move := func(card table.CardID, to table.PlaceID) {
			do(0, table.Move{Pick: table.Pick{From: tab.Cards[card].Place, Cards: []table.Handle{table.Handle(card)}}, To: table.Target{Place: to}})
		}
		move(card(0), "satchel/1")
		move(card(1), "satchel/1")
		move(card(2), "sky") // in view
		move(card(4), "satchel/2")
		pile := append([]table.CardID{}, tab.Places["letters"].Cards...)
		deeds := revised(t, tab, fresh)

		assert.Equal(t, "anew", tab.Design(card(0)).Front.Full)
		assert.Equal(t, table.PlaceID("satchel/1"), tab.Cards[card(0)].Place)
		assert.True(t, tab.Leaving[card(1)], "in a hand it is marked")
		assert.Equal(t, table.PlaceID("satchel/1"), tab.Cards[card(1)].Place)
		assert.Nil(t, tab.Cards[card(2)], "in view it has left")
		assert.True(t, tab.Leaving[card(3)], "in a pile it is marked")
		assert.Len(t, cardsOf(tab, "letters-04"), 2)
		assert.Len(t, cardsOf(tab, "letters-new"), 1)
		assert.Len(t, tab.Places["letters"].Cards, len(pile)+2)
		switch fresh {
		case table.OnTop:
			assert.Equal(t, pile, tab.Places["letters"].Cards[:len(pile)])
		case table.Underneath:
			assert.Equal(t, pile, tab.Places["letters"].Cards[2:])
		case table.ShuffledIn:
			assert.NotEqual(t, pile, tab.Places["letters"].Cards[:len(pile)])
		}
		words := []string{}
		for _, deed := range deeds {
			words = append(words, deed.Do)
		}
		assert.Equal(t, []string{"leave", "revise"}, words)

		move(card(1), "sky") // played, so that all see it
		assert.Nil(t, tab.Cards[card(1)])
		assert.NotContains(t, tab.Places["sky"].Cards, card(1))
		assert.Equal(t, map[table.CardID]bool{card(3): true}, tab.Leaving)
		_, _, refusal := tab.Apply(0, table.Undo{Anyone: true}, tabletest.Seeded(chance.Seed{4}, 1000))
		assert.NotNil(t, refusal, "what has left is not brought back by undo")

		// The former edition again: what is there still stays, what has left comes anew.
		before, after := editions()
		do(0, table.Revise{Number: 1, Before: after, After: before, New: fresh})
		assert.Empty(t, tab.Cards[card(0)].Turn)
		assert.Equal(t, "front-letters-00", tab.Design(card(0)).Front.Full)
		assert.Len(t, cardsOf(tab, "letters-01"), 1)
		assert.False(t, tab.Leaving[card(3)])
		assert.Len(t, cardsOf(tab, "letters-03"), 1)
	}
}

// What players moved stays where it is, and no new rule of sight lays hidden cards open.
func TestARevisionDisturbsNothingThatPlayersDid(t *testing.T) {
	tab := tabletest.Sample(2)
	x := 333.0
	_, _, refusal := tab.Apply(1, table.LayZone{Zone: "sky", X: &x}, tabletest.Seeded(chance.Seed{4}, 1000))
	require.Nil(t, refusal)
	_, _, refusal = tab.Apply(1, table.Move{Pick: table.Pick{From: "letters", Which: table.Top, Count: 1}, To: table.Target{Place: "vault"}}, tabletest.Seeded(chance.Seed{4}, 1000))
	require.Nil(t, refusal)
	before, after := tabletest.Sample(2), tabletest.Sample(2)
	for _, id := range []table.PlaceID{"sky", "vault", "outbox"} {
		p := *after.Places[id]
		p.X, p.Y, p.Sight, p.Name = 100, 200, table.Open, "new "+p.Name
		after.Places[id] = &p
	}
	delete(after.Places, "marsh")
	after.Places["den"] = &table.Place{ID: "den", Name: "den", Kind: table.Pile, Sight: table.Open, Wide: 70, High: 95}
	boat := *after.Laid["boat"]
	boat.Count, boat.X = 9, 77
	after.Laid["boat"] = &boat
	_, _, refusal = tab.Apply(0, table.Revise{Number: 2, Before: before, After: after}, tabletest.Seeded(chance.Seed{4}, 1000))
	require.Nil(t, refusal)
	assert.Equal(t, []any{333.0, 200.0, "new sky"}, []any{tab.Places["sky"].X, tab.Places["sky"].Y, tab.Places["sky"].Name})
	assert.Equal(t, table.None, tab.Places["vault"].Sight, "a hidden card would have been laid open")
	assert.Equal(t, "new vault", tab.Places["vault"].Name)
	assert.Nil(t, tab.Places["marsh"])
	assert.NotNil(t, tab.Places["den"])
	assert.Equal(t, []any{9, 77.0}, []any{tab.Pieces["boat"].Count, tab.Pieces["boat"].X})
}
