package sight

import (
	"cmp"
	"encoding/json"
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

// seen returns a place as a viewer sees it.
func (r *run) place(viewer Viewer, id table.PlaceID) Place {
	to := &untold{}
	defer func() { maps.Copy(r.faces, to.faces) }()
	return r.gate.place(r.table, r.table.Places[id], viewer, to)
}

// face is what a card shows.
func (r *run) face(c Card) Face { return r.faces[c.Face] }

func opened(t *testing.T, actions ...table.Action) *run {
	r := newRun(1, 0, 0)
	r.open()
	for _, a := range actions {
		require.True(t, r.play(tabletest.Move{Actor: 1, Action: a}), "%#v", a)
	}
	return r
}

func TestOfAPileOneSeesTheCountAndTheTopAsItLies(t *testing.T) {
	r := opened(t)
	p := r.place(2, "letters")
	assert.Equal(t, 20, p.Count)
	require.Len(t, p.Cards, 1)
	assert.Equal(t, table.Back, r.face(p.Cards[0]).Side)
	assert.Empty(t, r.face(p.Cards[0]).Name)
	assert.Equal(t, Names{}.Of(table.Picture{Full: "back-letters"}), r.face(p.Cards[0]).Picture)
}

func TestOfAnothersHandOneSeesCountAndVeils(t *testing.T) {
	r := opened(t, table.Draw{From: "letters", Count: 2}, table.Draw{From: "weather"})
	own, other := r.place(1, "satchel/1"), r.place(2, "satchel/1")
	assert.Len(t, own.Cards, 3)
	assert.Equal(t, "Letter 19", r.face(own.Cards[0]).Name)
	assert.Equal(t, table.Front, r.face(own.Cards[0]).Side)
	assert.Equal(t, table.Back, own.Cards[0].Side)
	assert.Empty(t, other.Cards)
	assert.Equal(t, 3, other.Count)
	require.Len(t, other.Veils, 2)
	for i, deck := range []string{"letters", "weather"} {
		assert.Equal(t, 2-i, other.Veils[i].Count)
		assert.Equal(t, Face{Deck: deck, Side: table.Back, Picture: Names{}.Of(table.Picture{Full: "veil-" + deck})}, r.faces[other.Veils[i].Face])
	}
}

func TestIntoAVaultNobodySees(t *testing.T) {
	r := opened(t, table.Draw{From: "letters", To: "vault"})
	for viewer := range Viewer(players + 1) {
		assert.Empty(t, r.place(viewer, "vault").Cards)
	}
}

func TestOnlyWhoHoldsAHandleCanUseIt(t *testing.T) {
	r := opened(t, table.Draw{From: "letters"})
	mine := r.place(1, "satchel/1").Cards[0].Handle
	assert.Equal(t, table.CardID(20), r.gate.Names(1)(mine))
	assert.Zero(t, r.gate.Names(2)(mine))
	assert.Zero(t, r.gate.Names(1)(20), "a card's own id is no handle")
}

func TestACardKeepsItsHandleWhileEverybodyFollowsIt(t *testing.T) {
	r := opened(t, table.Draw{From: "letters", To: "dock/1"})
	handle := r.place(2, "dock/1").Cards[0].Handle
	require.True(t, r.play(tabletest.Move{Actor: 1, Action: table.Move{Pick: table.Pick{From: "dock/1"}, To: table.Target{Place: "sky"}}}))
	assert.Equal(t, handle, r.place(2, "sky").Cards[0].Handle)
	require.True(t, r.play(tabletest.Move{Actor: 1, Action: table.Draw{From: "sky"}}))
	assert.NotEqual(t, handle, r.place(1, "satchel/1").Cards[0].Handle, "seat 2 lost sight of it")
}

func TestALineNamesACardOnlyToWhoSawIt(t *testing.T) {
	r := opened(t)
	_, deeds, _ := r.table.Apply(1, table.Draw{From: "letters", Count: 2}, tabletest.With(chance.Derive(chance.Seed{}, 1, ""), 1000))
	assert.Equal(t, "draw 2 from letters to my hand  # Letter 19, Letter 18", r.gate.Log(deeds, 1)[0].Text)
	assert.Equal(t, "draw 2 from letters to hand of Ada", r.gate.Log(deeds, 2)[0].Text)
	assert.Equal(t, "draw 2 from letters to hand of Ada", r.gate.Log(deeds, 0)[0].Text)
}

func TestNoCardIDLeavesTheGate(t *testing.T) {
	r := opened(t, table.Draw{From: "letters", Count: 5}, table.Draw{From: "weather", To: "sky"})
	text, err := json.Marshal(r.gate.View(r.table, 1))
	require.NoError(t, err)
	for _, p := range r.gate.View(r.table, 1).Places {
		for _, card := range p.Cards {
			assert.Greater(t, uint64(card.Handle), uint64(1)<<(handleBits-1)-1)
		}
	}
	assert.NotContains(t, string(text), `"place":`)
}

func TestInnerMovementOfAHandIsShownToItsOwnerOnly(t *testing.T) {
	r := opened(t, table.Draw{From: "letters", Count: 4})
	edits, deeds, _ := r.table.Apply(1, table.Shuffle{Place: "satchel/1"}, tabletest.With(chance.Derive(chance.Seed{}, 1, ""), 1000))
	touched := r.gate.Settle(r.table, edits)
	assert.False(t, r.gate.Changes(r.table, touched, deeds, 1).Empty())
	assert.True(t, r.gate.Changes(r.table, touched, deeds, 2).Empty())
	assert.Equal(t, []Viewer{1}, r.gate.Private(r.table, touched, deeds))
}

// do plays an action of a seat that must be done.
func (r *run) do(t *testing.T, seat Viewer, a table.Action) {
	t.Helper()
	require.True(t, r.play(tabletest.Move{Actor: seat, Action: a}), "%#v", a)
}

func TestWhoPeeksSeesTheFrontsAndTheOthersThatItLooks(t *testing.T) {
	r := opened(t, table.Peek{Place: "letters", Count: 3})
	looker, other := r.place(1, "letters"), r.place(2, "letters")
	require.Len(t, looker.Cards, 3)
	assert.Equal(t, []string{"Letter 17", "Letter 18", "Letter 19"}, []string{r.face(looker.Cards[0]).Name, r.face(looker.Cards[1]).Name, r.face(looker.Cards[2]).Name})
	require.Len(t, other.Cards, 1)
	assert.Empty(t, r.face(other.Cards[0]).Name)
	for _, p := range []Place{looker, other} {
		assert.EqualValues(t, 1, p.Looker)
		assert.Equal(t, 3, p.Looks)
	}
	top := other.Cards[0].Handle
	r.do(t, 1, table.Reorder{Place: "letters", Top: table.Handles(18)})
	after := r.place(2, "letters").Cards[0].Handle
	assert.NotEqual(t, top, after, "the others could follow what was rearranged")
	r.do(t, 1, table.Close{Place: "letters"})
	assert.Len(t, r.place(1, "letters").Cards, 1)
}

func TestAShownHandCardIsSeenByWhomItIsShownWithoutItsPosition(t *testing.T) {
	r := opened(t, table.Draw{From: "letters", Count: 4})
	r.do(t, 1, table.ShowCards{Pick: table.Pick{Cards: table.Handles(19, 17)}, To: 2})
	seen, other := r.place(2, "satchel/1"), r.place(3, "satchel/1")
	assert.Len(t, seen.Cards, 2)
	assert.Equal(t, 2, seen.Veils[0].Count)
	assert.Less(t, seen.Cards[0].Handle, seen.Cards[1].Handle, "in an order of their own")
	assert.Empty(t, other.Cards)
	assert.Equal(t, 4, other.Veils[0].Count)
	handle := seen.Cards[0].Handle
	r.do(t, 1, table.ShowCards{Pick: table.Pick{Cards: table.Handles(19, 17)}, Hide: true})
	assert.Empty(t, r.place(2, "satchel/1").Cards)
	for _, card := range r.place(1, "satchel/1").Cards {
		assert.NotEqual(t, handle, card.Handle, "seat 2 could tell it from the others later")
	}
}

func TestQuestionsAreAnsweredFromTheView(t *testing.T) {
	r := opened(t, table.Draw{From: "letters", Count: 2}, table.Draw{From: "letters", To: "marsh/B2"}, table.Draw{From: "weather", To: "marsh/D3"})
	mine, theirs := r.gate.View(r.table, 1), r.gate.View(r.table, 2)
	find := func(v View, id table.PlaceID) Found {
		for _, f := range v.Where("letters") {
			if f.Place == id {
				return f
			}
		}
		return Found{}
	}
	assert.Equal(t, []string{"Letter 19", "Letter 18"}, find(mine, "satchel/1").Cards)
	assert.Equal(t, Found{Place: "satchel/1", Name: "satchel", Count: 2}, find(theirs, "satchel/1"))
	assert.True(t, find(theirs, "letters").Hidden)
	for question, want := range map[struct {
		cell   table.PlaceID
		within int
	}]int{{"marsh/C2", 1}: 2, {"marsh/A1", 1}: 1, {"marsh/A1", 0}: 2, {"marsh", 0}: 2, {"marsh/B2", 1}: 0} {
		taken, ok := mine.Taken(question.cell, question.within)
		assert.True(t, ok)
		assert.Len(t, taken, want, "%v", question)
	}
	for _, wrong := range []table.PlaceID{"sky", "marsh/Z1", "nowhere/A1"} {
		_, ok := mine.Taken(wrong, 1)
		assert.False(t, ok, "%s", wrong)
	}
}

func TestAGripNamesOnlyCardsInView(t *testing.T) {
	r := opened(t, table.Draw{From: "letters"}, table.Draw{From: "letters", To: "sky"})
	cards := []table.CardID{20, 19, 5}
	assert.Len(t, r.gate.InSight(cards, 1), 2)
	assert.Len(t, r.gate.InSight(cards, 2), 1)
}

// The looker's own cards on top once left the handles of what they covered.
func TestWhatIsCoveredWhileOneLooksIsOutOfSight(t *testing.T) {
	r := opened(t, table.Peek{Place: "letters", Count: 2})
	below := r.place(1, "letters").Cards[0].Handle
	r.do(t, 1, table.Draw{From: "weather", Count: 2, To: "letters"})
	assert.NotZero(t, r.gate.cards[below], "a look is at cards, wherever they lie in their place")
	r.do(t, 1, table.Close{Place: "letters"})
	assert.Zero(t, r.gate.cards[below], "the handle outlived the sight of its card")
	r.do(t, 1, table.Draw{From: "letters", Count: 4, To: "dock/1"})
	for _, card := range r.place(1, "dock/1").Cards {
		assert.NotEqual(t, below, card.Handle)
	}
}

// A face is told once to each viewer, in the first message that shows it, and to nobody
// who does not see it.
func TestAFaceIsToldOnceAndOnlyToWhoSeesIt(t *testing.T) {
	tab := tabletest.Sample(players)
	g := NewGate(tab, [32]byte{1}, func(table.Told) string { return "" }, Names{})
	views := map[Viewer]View{}
	for viewer := range Viewer(players + 1) {
		views[viewer] = g.Begin(tab, viewer)
	}
	told := map[Viewer]map[Word]int{}
	do := func(seat Viewer, a table.Action) {
		edits, deeds, refusal := tab.Apply(seat, a, tabletest.With(chance.Derive(chance.Seed{}, 1, ""), 1000))
		require.Nil(t, refusal)
		public, own := g.Show(tab, g.Settle(tab, edits), deeds)
		for viewer := range views {
			shown := cmp.Or(own[viewer], public)
			for word, face := range shown.Faces {
				assert.NotContains(t, views[viewer].Faces, word, "seat %d was told of %v before", viewer, face)
				if told[viewer] == nil {
					told[viewer] = map[Word]int{}
				}
				told[viewer][word]++
			}
			v := views[viewer]
			v.Fold(*shown)
			views[viewer] = v
		}
	}
	names := func(viewer Viewer) (all []string) {
		for word := range told[viewer] {
			if name := views[viewer].Faces[word].Name; name != "" {
				all = append(all, name)
			}
		}
		slices.Sort(all)
		return all
	}
	do(1, table.Draw{From: "letters", Count: 2})
	assert.Equal(t, []string{"Letter 18", "Letter 19"}, names(1))
	assert.Empty(t, names(2), "nothing of a hand that is hidden")
	do(1, table.Move{Pick: table.Pick{From: "satchel/1", Which: table.Top, Count: 1}, To: table.Target{Place: "dock/1"}, Side: table.Front})
	assert.Len(t, names(2), 1)
	assert.Equal(t, names(2), names(0))
	before := len(told[2])
	do(2, table.Flip{Pick: table.Pick{From: "dock/1"}})
	do(2, table.Flip{Pick: table.Pick{From: "dock/1"}})
	assert.LessOrEqual(t, len(told[2]), before+1, "a back at most: the front was told")
	for viewer, words := range told {
		for word, times := range words {
			assert.Equal(t, 1, times, "seat %d, %v", viewer, views[viewer].Faces[word])
		}
	}
}

// Whoever comes is told what shows now. Designs that were shown before they came and lie
// hidden by then are not theirs to be told.
func TestANewcomerIsToldNoFaceOfBefore(t *testing.T) {
	r := opened(t, table.Draw{From: "letters", Count: 2}, table.Move{Pick: table.Pick{From: "satchel/1", Which: table.Every}, To: table.Target{Place: "dock/1"}, Side: table.Front})
	r.do(t, 1, table.Gather{Deck: "letters", Shuffle: true})
	for viewer := range Viewer(players + 1) {
		v := r.gate.Begin(r.table, viewer)
		for word, face := range v.Faces {
			assert.Empty(t, face.Name, "seat %d is told of %s", viewer, word)
		}
	}
	r.do(t, 1, table.Draw{From: "letters", Count: 20})
	r.do(t, 1, table.Move{Pick: table.Pick{From: "satchel/1", Names: []string{"Letter 19"}}, To: table.Target{Place: "dock/1"}, Side: table.Front})
	assert.Empty(t, r.folded(), "and it is told again where it is shown again")
}
