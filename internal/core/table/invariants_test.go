package table_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

const seats = 3

func state(t require.TestingT, tab *table.Table) string {
	text, err := json.Marshal(tab)
	require.NoError(t, err)
	return string(text)
}

// checkWhole asserts that every card lies in exactly one place at one index.
func checkWhole(t require.TestingT, tab *table.Table, cards []table.CardID) {
	var lying []table.CardID
	for id, p := range tab.Places {
		assert.Equal(t, id, p.ID)
		for _, card := range p.Cards {
			require.Equal(t, id, tab.Cards[card].Place, "card %d", card)
			lying = append(lying, card)
		}
		assert.False(t, p.Kind == table.Grid && len(p.Cards) > 0, "cards lie in the grid %s itself, where nobody sees them", id)
		assert.False(t, p.Kind == table.Loose && len(p.Cards) == 0, "empty felt place %s stays", id)
		assert.False(t, p.Capacity > 0 && len(p.Cards) > p.Capacity, "%s overflows", id)
	}
	called := map[string]table.PlaceID{}
	for _, id := range tab.PlaceIDs() {
		if p := tab.Places[id]; !p.Kind.Passing() {
			name := fmt.Sprint(strings.ToLower(p.Name), " of ", p.Owner)
			assert.Empty(t, called[name], "%s is called as another", id)
			assert.NotEqual(t, "felt", strings.ToLower(p.Name))
			called[name] = id
		}
	}
	tokens := 0
	for _, p := range tab.Pieces {
		if p.Kind == table.Token {
			tokens += max(p.Count, 1)
		}
	}
	assert.Equal(t, 5, tokens, "tokens were lost or doubled")
	for card, brief := range tab.Brief {
		assert.True(t, tab.Shown[card].Covers(brief.To), "card %d is shown for a while to whoever is not shown it", card)
	}
	slices.Sort(lying)
	require.Equal(t, cards, lying, "cards were lost or doubled")
}

// mintedBy are the cards there are after some edits.
func mintedBy(edits table.Edits, cards []table.CardID) []table.CardID {
	for _, e := range edits {
		mint, is := e.(table.Mint)
		for _, m := range mint.Cards {
			if i, there := slices.BinarySearch(cards, m.ID); is && mint.Gone && there {
				cards = slices.Delete(slices.Clone(cards), i, i+1)
			} else if is && !mint.Gone {
				cards = slices.Insert(slices.Clone(cards), i, m.ID)
			}
		}
	}
	return cards
}

func TestNoRunOfActionsLosesOrDoublesACard(t *testing.T) {
	rapid.Check(t, func(r *rapid.T) {
		tab, seed, dice := tabletest.Sample(seats), chance.Seed{7}, tabletest.NewDice(r)
		cards := slices.Sorted(maps.Keys(tab.Cards))
		first := state(r, tab)
		var journal []table.Edits
		for n := range rapid.IntRange(1, 30).Draw(r, "actions") {
			move := tabletest.AnyOrDue(dice, tab)
			before := state(r, tab)
			edits, deeds, refusal := tab.Apply(move.Actor, move.Action, tabletest.With(chance.Derive(seed, uint64(n), ""), move.Now()))
			if refusal != nil {
				require.NotEmpty(r, refusal.Code)
				require.NotEmpty(r, refusal.Text)
			}
			if refusal != nil && !refusal.Stands {
				require.Equal(r, before, state(r, tab), "a blindly refused action changed something")
				require.Nil(r, edits)
				require.Nil(r, deeds)
				continue
			}
			if refusal != nil {
				require.NotEmpty(r, deeds, "what stands is told")
			}
			cards = mintedBy(edits, cards)
			checkWhole(r, tab, cards)
			journal = append(journal, edits)
		}
		last := state(r, tab)

		replayed := tabletest.Sample(seats)
		for _, edits := range journal {
			text, err := json.Marshal(edits)
			require.NoError(r, err)
			var read table.Edits
			require.NoError(r, json.Unmarshal(text, &read))
			replayed.Fold(read)
		}
		require.Equal(r, last, state(r, replayed), "replaying the journal gives another table than playing did")

		for _, edits := range slices.Backward(journal) {
			tab.Fold(table.Inverse(edits))
		}
		require.Equal(r, first, state(r, tab), "the inverses do not lead back")
	})
}

func TestTheSameSeedAndActionsGiveTheSameBytes(t *testing.T) {
	run := func() string {
		tab := tabletest.Sample(2)
		var all []table.Edits
		for n, a := range []table.Action{
			table.Shuffle{Place: "letters"}, table.Draw{From: "letters", Count: 5},
			table.Move{Pick: table.Pick{From: "satchel/1", Which: table.Top, Count: 2}, To: table.Target{Place: "sky"}},
		} {
			edits, _, refusal := tab.Apply(1, a, tabletest.With(chance.Derive(chance.Seed{5}, uint64(n), "salt"), 1000))
			require.Nil(t, refusal)
			all = append(all, edits)
		}
		text, err := json.Marshal(all)
		require.NoError(t, err)
		return string(text)
	}
	assert.Equal(t, run(), run())
}

func TestActionsSurviveJSON(t *testing.T) {
	rapid.Check(t, func(r *rapid.T) {
		move := tabletest.Any(tabletest.NewDice(r), tabletest.Sample(seats))
		text, err := table.WriteAction(move.Action)
		require.NoError(r, err)
		read, err := table.ReadAction(text)
		if err != nil {
			require.ErrorContains(r, err, "it goes from", "what no table takes is refused while it is read")
			return
		}
		again, err := table.WriteAction(read)
		require.NoError(r, err)
		require.Equal(r, string(text), string(again))
	})
}

func TestDeedsSurviveJSON(t *testing.T) {
	rapid.Check(t, func(r *rapid.T) {
		tab, dice := tabletest.Sample(seats), tabletest.NewDice(r)
		for n := range rapid.IntRange(1, 10).Draw(r, "actions") {
			move := tabletest.AnyOrDue(dice, tab)
			_, deeds, _ := tab.Apply(move.Actor, move.Action, tabletest.With(chance.Derive(chance.Seed{}, uint64(n), ""), 1000))
			for _, deed := range deeds {
				text, err := json.Marshal(deed)
				require.NoError(r, err)
				var read table.Deed
				require.NoError(r, json.Unmarshal(text, &read))
				again, err := json.Marshal(read)
				require.NoError(r, err)
				require.Equal(r, string(text), string(again))
				require.Equal(r, deed.Do, read.Do)
				require.Equal(r, reflect.TypeOf(deed.Of), reflect.TypeOf(read.Of))
			}
		}
	})
}

func TestAMistakenActionIsAnswered(t *testing.T) {
	for text, want := range map[string]string{
		`{"do":"juggle"}`:             `"do" is "juggle", and there is no such action; there is ` + strings.Join(table.ActionWords(), ", "),
		`{}`:                          `"do" is missing or no text`,
		`{"do":"draw","count":"two"}`: `draw: "count" is a whole number, and a text was sent`,
		`{"do":"draw","from":"weather","cuont":1}`:                  `draw: there is no field "cuont"; did you mean "count"?`,
		`{"do":"draw","from":"weather","count":-3}`:                 `draw: "count" is -3; it goes from 0 to 1000000000`,
		`{"do":"peek","place":"weather","count":-1}`:                `peek: "count" is -1; it goes from 0 to 1000000000`,
		`{"do":"top-up","from":"weather","to":9223372036854775807}`: `top-up: "to" is 9223372036854775807; it goes from 1 to 1000`,
		`{"do":"all","actions":[{"do":"all","actions":[]}]}`:        `all: several actions are done as one, but not within each other: write them in one list`,
		`{"do":"shufle","place":"sky"}`:                             `"do" is "shufle", and there is no such action; did you mean "shuffle"?`,
	} {
		_, err := table.ReadAction([]byte(text))
		assert.EqualError(t, err, want)
	}
}

func FuzzReadAction(f *testing.F) {
	f.Add([]byte(`{"do":"move","cards":["1a"],"to":{"place":"sky","index":0}}`))
	f.Add([]byte(`{"do":"all","actions":[{"do":"shuffle","place":"letters"}]}`))
	f.Fuzz(func(t *testing.T, text []byte) {
		a, err := table.ReadAction(text)
		if err != nil {
			return
		}
		tab := tabletest.Sample(2)
		_, _, _ = tab.Apply(1, a, tabletest.With(chance.Derive(chance.Seed{}, 1, ""), 1000))
	})
}
