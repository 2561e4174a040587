package table_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

// takenAway is a table's bookmark as a file of it is read again, and the designs its edition has.
func takenAway(t require.TestingT, tab *table.Table, now int64) (*table.Table, map[string]map[string]table.Design) {
	bookmark := &table.Table{}
	require.NoError(t, json.Unmarshal([]byte(state(t, tab.Bookmark(now))), bookmark))
	bookmark.WithoutLeaving()
	designs := map[string]map[string]table.Design{}
	for key, deck := range tab.Decks {
		designs[key] = deck.Designs
	}
	return bookmark, designs
}

// Whatever was played, its bookmark can be brought anywhere, and is what it was.
func TestEveryBookmarkOfATableCanBeBroughtBack(t *testing.T) {
	rapid.Check(t, func(r *rapid.T) {
		tab, dice := tabletest.Sample(seats), tabletest.NewDice(r)
		now := int64(1000)
		for n := range rapid.IntRange(1, 30).Draw(r, "actions") {
			move := tabletest.AnyOrDue(dice, tab)
			now = move.Now()
			tab.Apply(move.Actor, move.Action, tabletest.With(chance.Derive(chance.Seed{7}, uint64(n), ""), now))
		}
		bookmark, designs := takenAway(r, tab, now)
		before := state(r, bookmark)
		require.Empty(r, bookmark.Damage(designs))
		require.Equal(r, before, state(r, bookmark), "looking it over changed something")
	})
}

// A bookmark whose file was changed by hand, anywhere, is refused, or a table on which nothing
// that players do loses or doubles a card.
func TestALyingBookmarkIsRefusedOrCanBePlayed(t *testing.T) {
	refused := 0
	rapid.Check(t, func(r *rapid.T) {
		tab, dice := tabletest.Sample(seats), tabletest.NewDice(r)
		run := func(on *table.Table, from, to int) {
			for n := from; n < to; n++ {
				move := tabletest.AnyOrDue(dice, on)
				on.Apply(move.Actor, move.Action, tabletest.With(chance.Derive(chance.Seed{7}, uint64(n), ""), move.Now()))
			}
		}
		run(tab, 0, 15)
		bookmark, designs := takenAway(r, tab, 1000)
		var tree any
		require.NoError(r, json.Unmarshal([]byte(state(r, bookmark)), &tree))
		tree = lied(dice, tree, tree)
		text, err := json.Marshal(tree)
		require.NoError(r, err)
		lying := &table.Table{}
		if json.Unmarshal(text, lying) != nil || lying.Damage(designs) != "" {
			refused++
			return
		}
		if kindsOn(lying) != kindsOn(bookmark) {
			return // the generators need one of each
		}
		for key, deck := range lying.Decks {
			deck.Designs = designs[key]
		}
		for seat := range lying.Chairs {
			lying.Apply(0, table.Sit{Seat: table.Seat(seat + 1), Name: tabletest.Names[seat%len(tabletest.Names)]}, tabletest.Seeded(chance.Seed{4}, 1000))
		}
		cards := len(lying.Cards)
		for n := range 15 {
			move := tabletest.AnyOrDue(dice, lying)
			edits, _, _ := lying.Apply(move.Actor, move.Action, tabletest.With(chance.Derive(chance.Seed{7}, uint64(n), ""), move.Now()))
			for _, e := range edits {
				if mint, is := e.(table.Mint); is && mint.Gone {
					cards -= len(mint.Cards)
				} else if is {
					cards += len(mint.Cards)
				}
			}
		}
		require.Len(r, lying.Cards, cards)
		seen := map[table.CardID]bool{}
		for id, p := range lying.Places {
			for _, card := range p.Cards {
				require.Equal(r, id, lying.Cards[card].Place)
				require.False(r, seen[card], "a card lies twice")
				seen[card] = true
			}
		}
		require.Len(r, seen, cards)
	})
	assert.NotZero(t, refused)
}

// kindsOn counts the zones, pieces and seats by their kinds.
func kindsOn(tab *table.Table) string {
	kinds := map[string]int{}
	for _, p := range tab.Places {
		if !p.Kind.Passing() {
			kinds["zone "+string(p.Kind)]++
		}
	}
	for _, p := range tab.Pieces {
		kinds["piece "+string(p.Kind)]++
	}
	return fmt.Sprint(kinds, len(tab.Chairs), len(tab.Decks))
}

// lied is a tree of JSON in which one value is another one: one of the whole tree's, or a wild one.
func lied(r *tabletest.Dice, tree, whole any) any {
	if r.Int(0, 5) > 0 {
		switch at := tree.(type) {
		case map[string]any:
			keys := slices.Sorted(maps.Keys(at))
			if len(keys) > 0 {
				key := keys[r.Int(0, len(keys)-1)]
				lie, fresh := lied(r, at[key], whole), key
				if r.Int(0, 9) == 0 {
					fresh = keys[r.Int(0, len(keys)-1)]
				}
				at[fresh] = lie
				return at
			}
		case []any:
			if len(at) > 0 {
				n := r.Int(0, len(at)-1)
				at[n] = lied(r, at[n], whole)
				return at
			}
		}
	}
	if r.Int(0, 1) == 0 {
		return anywhere(r, whole)
	}
	wild := []any{nil, 0, 1, -1, 7, 99, 1e18, 0.5, "", "felt/1", "felt/9", "marsh/A1", "marsh", "sky", "owner", "none", "hand", "grid", "1", "k", []any{}, map[string]any{}}
	return wild[r.Int(0, len(wild)-1)]
}

// anywhere is a value of a tree of JSON.
func anywhere(r *tabletest.Dice, tree any) any {
	switch at := tree.(type) {
	case map[string]any:
		if keys := slices.Sorted(maps.Keys(at)); len(keys) > 0 {
			return anywhere(r, at[keys[r.Int(0, len(keys)-1)]])
		}
	case []any:
		if len(at) > 0 {
			return anywhere(r, at[r.Int(0, len(at)-1)])
		}
	}
	return tree
}

// Whatever a file of a bookmark says, it is refused, or a table that can be played.
func FuzzDamage(f *testing.F) {
	sample := tabletest.Sample(2)
	designs := map[string]map[string]table.Design{}
	for key, deck := range sample.Decks {
		designs[key] = deck.Designs
	}
	text, err := json.Marshal(sample.Bookmark(1000))
	require.NoError(f, err)
	f.Add(text)
	for _, hurt := range []string{
		`{}`, `{"chairs":[{"seat":1,"colour":"#0f766e"}],"settings":{"name":"x","wide":900,"high":600}}`,
		`{"decks":{"letters":null},"places":{"sky":null},"cards":{"1":null},"pieces":{"day":null},"laid":{"day":null}}`,
	} {
		f.Add([]byte(hurt))
	}
	f.Fuzz(func(t *testing.T, text []byte) {
		tab := &table.Table{}
		if json.Unmarshal(text, tab) != nil || tab.Damage(designs) != "" {
			return
		}
		for key, deck := range tab.Decks {
			deck.Designs = designs[key]
		}
		for n, a := range []table.Action{
			table.Sit{Seat: 1, Name: "Esme"}, table.EverythingHome{}, table.Shuffle{Place: "letters"}, table.Draw{From: "letters", Count: 2},
			table.LayTable{Wide: ptr(500.0)}, table.Undo{},
		} {
			_, _, _ = tab.Apply(1, a, tabletest.With(chance.Derive(chance.Seed{}, uint64(n), ""), 1000))
		}
		lying := 0
		for _, p := range tab.Places {
			lying += len(p.Cards)
		}
		assert.Len(t, tab.Cards, lying)
	})
}
