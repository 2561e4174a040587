package table_test

import (
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

// journaled is a table whose actions are entries with numbers.
type journaled struct {
	*table.Table
	entry uint64
}

func (j *journaled) act(seat table.Seat, a table.Action) (table.Edits, []table.Deed, *table.Refusal) {
	j.entry++
	c := tabletest.Seeded(chance.Seed{9}, 1000)
	c.Entry = j.entry
	return j.Apply(seat, a, c)
}

func (j *journaled) do(t require.TestingT, seat table.Seat, actions ...table.Action) {
	for _, a := range actions {
		_, _, refusal := j.act(seat, a)
		require.Nil(t, refusal, "%#v", a)
	}
}

// handRead finds an undo by which cards go back into a hand that somebody else looked at meanwhile, and whose
// owner was not asked. anyway is done after each act of a run.
func handRead(rt *rapid.T, anyway func(*journaled)) string {
	j, dice := &journaled{Table: tabletest.Sample(3)}, tabletest.NewDice(rt)
	looked := map[table.Seat]map[table.CardID]bool{1: {}, 2: {}, 3: {}}
	for range dice.Int(5, 40) {
		move := tabletest.Any(dice, j.Table)
		switch dice.Int(0, 9) {
		case 0:
			move.Action = table.EverythingHome{}
		case 1, 2:
			move.Action = table.Undo{Anyone: move.Actor == j.Settings.Host}
		case 3:
			move.Action = table.Peek{Place: []table.PlaceID{"letters", "weather"}[dice.Int(0, 1)]}
		}
		owners := map[table.CardID]table.Seat{} // of cards that lie hidden in hands
		for _, p := range j.Places {
			for _, card := range p.Cards {
				if p.Sight == table.OwnerOnly && p.Owner != 0 {
					owners[card] = p.Owner
				}
			}
		}
		edits, _, _ := j.act(move.Actor, move.Action)
		_, agreed := move.Action.(table.Agree)
		if anyway != nil {
			anyway(j)
			agreed = false
		}
		for _, p := range j.Places {
			if p.Sight != table.OwnerOnly || p.Owner == 0 || p.Owner == move.Actor || agreed || j.Chair(p.Owner).Name == "" || !undoes(edits) && anyway == nil {
				continue
			}
			for _, card := range p.Cards {
				for seat, seen := range looked {
					if seen[card] && seat != p.Owner && owners[card] != p.Owner {
						return fmt.Sprintf("seat %d looked at card %d, which is in the hand of seat %d again by %#v", seat, card, p.Owner, move.Action)
					}
				}
			}
		}
		for _, seat := range []table.Seat{1, 2, 3} {
			maps.DeleteFunc(looked[seat], func(card table.CardID, _ bool) bool { return j.Cards[card] == nil })
		}
		for _, look := range j.Looks {
			for _, card := range look.Cards {
				looked[look.Seat][card] = true
			}
		}
		for card, c := range j.Cards { // what moves on is not where it was looked at
			p := j.Places[c.Place]
			for _, seen := range looked {
				if seen[card] && !slices.ContainsFunc([]table.PlaceID{"letters", "weather"}, func(id table.PlaceID) bool { return id == p.ID }) {
					delete(seen, card)
				}
			}
		}
	}
	return ""
}

func undoes(edits table.Edits) bool {
	return len(edits) > 0 && slices.ContainsFunc(edits[:1], func(e table.Edit) bool { _, is := e.(table.Undid); return is })
}

func TestNoUndoBringsBackAHandThatSomebodyReadUnlessItsOwnerAgrees(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) { require.Empty(rt, handRead(rt, nil)) })
}

func TestThePropertyOfUndoFindsWhatAsksNobody(t *testing.T) {
	asksNobody := func(j *journaled) {
		for id, ask := range j.Asks {
			if ask.For == "undo" {
				_, _, _ = j.act(ask.To, table.Agree{Ask: id})
			}
		}
	}
	found, seed := "", 0
	for ; seed < 2000 && found == ""; seed++ {
		found = rapid.Custom(func(rt *rapid.T) string { return handRead(rt, asksNobody) }).Example(seed)
	}
	assert.NotEmpty(t, found, "the property does not see this hole")
	t.Logf("seed %d: %s", seed, found)
}

// Everything home, a look at all of it, and an undo would read every hand.
func TestAnUndoAfterALookAsksWhoseHandItWouldFill(t *testing.T) {
	read := func(t *testing.T) *journaled {
		j := &journaled{Table: tabletest.Sample(3)}
		j.do(t, 2, table.Draw{From: "letters", Count: 3})
		j.do(t, 3, table.Draw{From: "letters", Count: 2})
		j.do(t, 1, table.EverythingHome{}, table.Peek{Place: "letters"})
		j.do(t, 1, table.Undo{Anyone: true})
		return j
	}
	held := func(j *journaled, seat int) int {
		return len(j.Places[table.PlaceID(fmt.Sprintf("satchel/%d", seat))].Cards)
	}
	t.Run("all agree", func(t *testing.T) {
		j := read(t)
		require.Len(t, j.Asks, 2)
		assert.Zero(t, held(j, 2)+held(j, 3), "nothing is done yet")
		_, _, refusal := j.act(1, table.Undo{Anyone: true})
		require.NotNil(t, refusal)
		assert.Contains(t, refusal.Text, "You asked for this undo already")
		for _, id := range slices.Sorted(maps.Keys(j.Asks)) {
			assert.Zero(t, held(j, 2)+held(j, 3))
			j.do(t, j.Asks[id].To, table.Agree{Ask: id})
		}
		assert.Equal(t, []int{3, 2}, []int{held(j, 2), held(j, 3)})
		assert.Empty(t, j.Looks, "the look ended")
		assert.Empty(t, j.Asks)
	})
	t.Run("one declines", func(t *testing.T) {
		j := read(t)
		j.do(t, 3, table.Decline{Ask: slices.Sorted(maps.Keys(j.Asks))[1]})
		assert.Empty(t, j.Asks, "the other need not answer any more")
		assert.Zero(t, held(j, 2)+held(j, 3))
	})
	t.Run("one leaves", func(t *testing.T) {
		j := read(t)
		_, _, refusal := j.act(0, table.Lapse{Seat: 2})
		require.Nil(t, refusal)
		assert.Empty(t, j.Asks, "leaving is no agreeing")
	})
	t.Run("another seat acts meanwhile", func(t *testing.T) {
		j := read(t)
		j.do(t, 1, table.Close{Place: "letters"})
		j.do(t, 2, table.Draw{From: "letters"})
		for _, id := range slices.Sorted(maps.Keys(j.Asks)) {
			_, _, refusal := j.act(j.Asks[id].To, table.Agree{Ask: id})
			if refusal != nil {
				assert.Equal(t, table.NothingToUndo, refusal.Code)
			}
		}
		assert.Equal(t, []int{1, 0}, []int{held(j, 2), held(j, 3)})
	})
}

// Without a look nobody is asked, and a look that is kept open is in no host's way.
func TestAnUndoThatNobodyLookedInBetweenIsDoneAtOnce(t *testing.T) {
	j := &journaled{Table: tabletest.Sample(3)}
	j.do(t, 2, table.Draw{From: "letters", Count: 3})
	j.do(t, 1, table.EverythingHome{}, table.Undo{Anyone: true})
	assert.Len(t, j.Places["satchel/2"].Cards, 3)
	j.do(t, 3, table.Draw{From: "weather", Count: 1, To: "outbox"}, table.Peek{Place: "weather", Count: 2})
	j.do(t, 1, table.Undo{Anyone: true})
	assert.Empty(t, j.Places["outbox"].Cards)
	assert.Empty(t, j.Looks)
}
