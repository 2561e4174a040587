package table_test

import (
	"encoding/json"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

func TestEverythingHomeIsOneEntryAndOneUndo(t *testing.T) {
	tab := tabletest.Sample(3)
	laid := table.PieceID("boat")
	x, y, one, name := 300.0, 200.0, 4, "tide table"
	as(t, tab, 1, table.LayPiece{Piece: "rules", Name: &name}) // that is how it is laid from now on
	as(t, tab, 1, table.Deal{From: "letters", Shares: []table.Share{{Who: "every", Count: 2}}})
	as(t, tab, 2, table.ShowCards{Pick: table.Pick{From: "satchel/2", Which: table.Every}})
	as(t, tab, 3, table.Move{Pick: table.Pick{From: "satchel/3", Count: 1}, To: table.Target{Felt: true}})
	as(t, tab, 1, table.SetCounter{Piece: "day", To: &one})
	as(t, tab, 1, table.Roll{Pieces: []table.PieceID{"wind", "tide"}})
	as(t, tab, 1, table.MovePiece{Piece: laid, Count: 2, X: &x, Y: &y})
	as(t, tab, 1, table.Write{Piece: "rules", Text: "Be kinder."})
	as(t, tab, 1, table.HandMarker{Piece: "postmaster", Seat: 2})
	as(t, tab, 2, table.MakeAsk{Place: "satchel/1", For: "take", Count: 1})
	as(t, tab, 3, table.Peek{Place: "weather", Count: 2})
	before := lying(t, tab)

	deeds := as(t, tab, 1, table.EverythingHome{})
	require.Len(t, deeds, 1)
	assert.Equal(t, "everything-home", deeds[0].Do)
	assert.Len(t, tab.Places["letters"].Cards, 20)
	assert.Len(t, tab.Places["weather"].Cards, 10)
	assert.Equal(t, []int{0, 0, 0}, hands(tab))
	assert.Empty(t, tab.Looks)
	assert.Empty(t, tab.Asks)
	assert.Empty(t, tab.Shown)
	fresh := tabletest.Sample(3)
	fresh.Pieces["rules"].Name = name
	assert.Equal(t, fresh.Pieces, tab.Pieces)

	as(t, tab, 1, table.Undo{})
	assert.Equal(t, before, lying(t, tab), "looks and asks stay ended")
}

// lying is how cards and pieces lie on a table.
func lying(t *testing.T, tab *table.Table) string {
	text, err := json.Marshal([]any{tab.Places, tab.Cards, tab.Pieces, tab.Shown})
	require.NoError(t, err)
	return string(text)
}

// From wherever a run got to: everything is home, and undo takes it back.
func TestEverythingComesHomeFromAnywhere(t *testing.T) {
	rapid.Check(t, func(r *rapid.T) {
		tab, dice := tabletest.Sample(3), tabletest.NewDice(r)
		for n := range dice.Int(1, 40) {
			move := tabletest.Any(dice, tab)
			_, _, _ = tab.Apply(move.Actor, move.Action, tabletest.With(chance.Derive(chance.Seed{}, uint64(n), ""), 1000))
		}
		if tab.Settings.Ended {
			return
		}
		pieces := map[table.PieceID]table.Piece{}
		for id, p := range tab.Pieces {
			pieces[id] = *p
		}
		counts := map[table.PlaceID]int{}
		for id, p := range tab.Places {
			counts[id] = len(p.Cards)
		}
		edits, _, refusal := tab.Apply(1, table.EverythingHome{}, tabletest.With(chance.Derive(chance.Seed{}, 99, ""), 1000))
		if refusal != nil {
			require.Equal(r, table.TooMany, refusal.Code, "only a home that is too small stands in its way: %s", refusal.Text)
			return
		}
		require.Empty(r, tab.Looks)
		require.Empty(r, tab.Asks)
		for id, p := range tab.Places {
			for _, card := range p.Cards {
				require.Equal(r, id, tab.Decks[tab.Cards[card].Deck].Home)
			}
		}
		for id, laid := range tab.Laid {
			require.Equal(r, laid, tab.Pieces[id])
		}
		if !slices.ContainsFunc(edits, func(e table.Edit) bool { return !ends(e) }) {
			return // all of it was at home
		}
		_, _, refusal = tab.Apply(1, table.Undo{}, tabletest.With(chance.Derive(chance.Seed{}, 100, ""), 1000))
		require.Nil(r, refusal)
		for id, p := range tab.Pieces {
			require.Equal(r, pieces[id], *p)
		}
		for id, p := range tab.Places {
			require.Len(r, p.Cards, counts[id], "%s", id)
		}
	})
}

// ends reports whether an edit ends a look or an ask, which stays ended.
func ends(e table.Edit) bool {
	switch e.(type) {
	case table.PutLook, table.PutAsk:
		return true
	}
	return false
}
