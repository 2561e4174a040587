package sight

import (
	"cmp"
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

const players = 3

// played counts the actions of all runs.
var played atomic.Int64

// run plays a script on a table whose cards may have exchanged designs, and
// keeps all that one viewer receives.
type run struct {
	table   *table.Table
	gate    *Gate
	viewer  Viewer
	traffic []string
	seen    map[table.CardID]bool // cards whose front the viewer ever saw
	entries uint64

	say    func(table.Told) string // how log lines are put into words
	settle func(*Gate, *table.Table, table.Edits) *Touched
	view   View  // folded from what they received
	faces  Faces // of the places that a test looked at
}

func newRun(viewer Viewer, one, other table.CardID) *run {
	r := &run{table: tabletest.Sample(players), viewer: viewer, seen: map[table.CardID]bool{}, faces: Faces{}, say: steps.Say, settle: (*Gate).Settle}
	a, b := r.table.Cards[one], r.table.Cards[other]
	if a != nil && b != nil {
		a.Design, b.Design = b.Design, a.Design
	}
	return r
}

func (r *run) open() {
	r.gate = NewGate(r.table, [32]byte{1}, func(told table.Told) string { return r.say(told) }, Names{})
	r.view = r.gate.Begin(r.table, r.viewer)
	r.receive(r.view)
}

func (r *run) receive(message any) {
	text, err := json.Marshal(message)
	if err != nil {
		panic(err)
	}
	r.traffic = append(r.traffic, string(text))
	for _, p := range r.table.Places {
		for i, card := range p.Cards {
			if r.table.FrontSeen(r.viewer, p, i) {
				r.seen[card] = true
			}
		}
	}
}

// play does one action and reports whether it was done.
func (r *run) play(move tabletest.Move) bool {
	played.Add(1)
	r.entries++
	c := tabletest.Seeded(chance.Seed{3}, move.Now())
	c.Entry = r.entries
	edits, deeds, refusal := r.table.Apply(move.Actor, move.Action, c)
	if refusal != nil && move.Actor == r.viewer {
		r.receive(refusal)
	}
	if refusal != nil && !refusal.Stands {
		return false
	}
	touched := r.settle(r.gate, r.table, edits)
	for _, deed := range deeds {
		for _, w := range deed.Witnesses() {
			if w.SeenBy(r.viewer) {
				for card := range r.table.Cards {
					if r.table.Design(card).Name == w.Name {
						r.seen[card] = true // named designs are unique here
					}
				}
			}
		}
	}
	changes := r.gate.Changes(r.table, touched, deeds, r.viewer)
	shared := !slices.Contains(r.gate.Private(r.table, touched, deeds), r.viewer)
	if shared {
		assertSame(r, changes, r.gate.Changes(r.table, touched, deeds, 0))
	}
	public, own := r.gate.Show(r.table, touched, deeds)
	if told := cmp.Or(own[r.viewer], public); told != nil {
		r.receive(told)
		r.view.Fold(*told)
	}
	return true
}

// folded finds where the view that a viewer folded is not the one they would be shown.
func (r *run) folded() string {
	fresh, folded := r.gate.View(r.table, r.viewer), r.view
	for word, face := range fresh.Faces {
		if !reflect.DeepEqual(folded.Faces[word], face) {
			return fmt.Sprintf("seat %d knows the face %s as %v, not as %v", r.viewer, word, folded.Faces[word], face)
		}
	}
	fresh.Faces, folded.Faces = nil, nil
	one, _ := json.Marshal(fresh)
	other, _ := json.Marshal(folded)
	if string(one) != string(other) {
		return fmt.Sprintf("seat %d would be shown\n%s\nand has folded\n%s", r.viewer, one, other)
	}
	return ""
}

// assertSame panics where a viewer said to be shown the public changes is not.
func assertSame(r *run, own, public Changes) {
	own.Faces, public.Faces = nil, nil // some they may have been told already
	a, _ := json.Marshal(own)
	b, _ := json.Marshal(public)
	if string(a) != string(b) {
		panic(fmt.Sprintf("seat %d is shown\n%s\nand not the public\n%s", r.viewer, a, b))
	}
}

// leak plays a generated run and its twin, and says what told them apart.
func leak(rt *rapid.T, plant func(*run)) string {
	viewer := Viewer(rapid.IntRange(0, players).Draw(rt, "viewer"))
	first := newRun(viewer, 0, 0)
	plant(first)
	first.open()
	dice := tabletest.NewDice(rt)
	var script []tabletest.Move
	for range dice.Int(5, 40) {
		move := tabletest.AnyOrDue(dice, first.table)
		script = append(script, move)
		handles := first.handles(move)
		if done := first.play(move); done {
			for _, handle := range first.handles(move) {
				if slices.Contains(handles, handle) {
					return fmt.Sprintf("handle %d outlived a shuffle", handle)
				}
			}
		}
	}
	if text := first.strange(); text != "" {
		return text
	}
	one, other := first.unseenPair(rt)
	if one == 0 {
		return ""
	}
	second := newRun(viewer, one, other)
	plant(second)
	second.open()
	for _, move := range script {
		second.play(move)
	}
	if !slices.Equal(first.traffic, second.traffic) {
		return fmt.Sprintf("exchanging cards %d and %d, never seen by seat %d, shows", one, other, viewer)
	}
	return ""
}

// handles are those of the place a shuffle is about to act, or has acted, on.
func (r *run) handles(move tabletest.Move) []Handle {
	a, ok := move.Action.(table.Shuffle)
	if !ok || r.table.Places[a.Place] == nil || followed(r.table.Places[a.Place]) {
		return nil
	}
	var all []Handle
	for _, card := range r.gate.place(r.table, r.table.Places[a.Place], r.viewer, &untold{}).Cards {
		all = append(all, card.Handle)
	}
	return all
}

// strange finds what the viewer may not have received: the name or picture of
// a front they never saw.
func (r *run) strange() string {
	all := strings.Join(r.traffic, "\n")
	for card := range r.table.Cards {
		design := r.table.Design(card)
		if !r.seen[card] && (strings.Contains(all, design.Name) || strings.Contains(all, design.Front.Full) || strings.Contains(all, string(Names{}.Of(design.Front))) || strings.Contains(all, design.Key+`"`)) {
			return fmt.Sprintf("seat %d received %q without having seen it", r.viewer, design.Name)
		}
	}
	return ""
}

// unseenPair draws two cards of one deck that the viewer never saw.
func (r *run) unseenPair(rt *rapid.T) (one, other table.CardID) {
	var unseen []table.CardID
	for card, c := range r.table.Cards {
		if !r.seen[card] && c.Deck == "letters" && r.table.Design(card).Fields["group"] == "0" {
			unseen = append(unseen, card)
		}
	}
	slices.Sort(unseen)
	if len(unseen) < 2 {
		return 0, 0
	}
	pair := rapid.SliceOfNDistinct(rapid.SampledFrom(unseen), 2, 2, rapid.ID[table.CardID]).Draw(rt, "pair")
	return pair[0], pair[1]
}

func TestNothingAViewerReceivesDependsOnCardsTheyNeverSaw(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		require.Empty(rt, leak(rt, func(*run) {}))
	})
	t.Logf("%d actions played", played.Load())
}

// The plants are leaks as they happen to people. Each must be found.
var plants = map[string]func(*run){
	"a front in a log line": func(r *run) {
		r.say = func(told table.Told) string {
			if moved, is := told.Of.(table.Moved); is {
				for _, card := range r.table.Places[moved.To.Place].Cards {
					return steps.Say(told) + r.table.Design(card).Name
				}
			}
			return steps.Say(told)
		}
	},
	"a handle that survives a shuffle": func(r *run) {
		r.settle = func(g *Gate, t *table.Table, edits table.Edits) *Touched {
			before := map[table.CardID]held{}
			for card, h := range g.held {
				before[card] = h
			}
			touched := g.Settle(t, edits)
			for _, card := range t.Places["letters"].Cards {
				if h, known := before[card]; known && touched.byID["letters"] != nil && touched.byID["letters"].reordered {
					g.drop(card)
					g.held[card], g.cards[h.handle] = h, card
				}
			}
			return touched
		}
	},
	"a hand shown to all": func(r *run) {
		r.settle = func(g *Gate, t *table.Table, edits table.Edits) *Touched {
			t.Places["satchel/1"].Sight = table.Open
			return g.Settle(t, edits)
		}
		r.say = func(told table.Told) string {
			text := steps.Say(told)
			for _, card := range r.table.Places["satchel/1"].Cards {
				text += r.table.Design(card).Key
			}
			return text
		}
	},
}

func TestThePropertyFindsPlantedLeaks(t *testing.T) {
	for name, plant := range plants {
		t.Run(name, func(t *testing.T) {
			found := ""
			for seed := 0; seed < 60_000 && found == ""; seed++ {
				found = rapid.Custom(func(rt *rapid.T) string { return leak(rt, plant) }).Example(seed)
			}
			assert.NotEmpty(t, found, "the twin run does not see this leak")
		})
	}
}

func TestAHandleIsNeverSeenAgainOnceItsCardWasOutOfSight(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		r := newRun(Viewer(rapid.IntRange(0, players).Draw(rt, "viewer")), 0, 0)
		r.open()
		dice := tabletest.NewDice(rt)
		gone, before := map[Handle]bool{}, r.visible()
		for range dice.Int(5, 40) {
			r.play(tabletest.AnyOrDue(dice, r.table))
			now := r.visible()
			for handle := range before {
				gone[handle] = gone[handle] || !now[handle]
			}
			for handle := range now {
				require.False(rt, gone[handle], "handle %d came back", handle)
			}
			before = now
		}
	})
}

func (r *run) visible() map[Handle]bool {
	all := map[Handle]bool{}
	for _, p := range r.gate.View(r.table, r.viewer).Places {
		for _, card := range p.Cards {
			all[card.Handle] = true
		}
	}
	return all
}

func TestChangesLeadToTheSameViewAsAFreshLook(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		r := newRun(Viewer(rapid.IntRange(0, players).Draw(rt, "viewer")), 0, 0)
		r.open()
		dice := tabletest.NewDice(rt)
		for range dice.Int(5, 25) {
			move := tabletest.AnyOrDue(dice, r.table)
			r.play(move)
			require.Empty(rt, r.folded(), "after %#v", move)
		}
	})
}
