package sight

import (
	"encoding/json"
	"fmt"
	"maps"
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

// Six properties of what is refused, of what cues do and of what editions tell, over one request on a table that play led to.
// Hidden is what is outside the actor's view now.

// world is a table that a script led to. The same script leads to the same world.
type world struct {
	table   *table.Table
	gate    *Gate
	seed    chance.Seed
	drawn   map[chance.Draw]int // how often the stream of a draw was asked for
	held    map[table.CardID]table.Seat
	entries uint64
	apply   func(*world, Viewer, table.Action) (table.Edits, []table.Deed, *table.Refusal)
}

// result is what a request led to.
type result struct {
	kept    bool
	edits   table.Edits
	deeds   []table.Deed
	refusal *table.Refusal
	bytes   string // all that the actor got
}

func newWorld(script []tabletest.Move, plant plant) *world {
	w := &world{table: tabletest.Sample(players), seed: chance.Seed{5}, drawn: map[chance.Draw]int{}, apply: (*world).honest}
	w.gate = NewGate(w.table, [32]byte{1}, steps.Say, Names{})
	for _, move := range script {
		w.act(move.Actor, move.Action)
	}
	if plant != nil {
		w.apply = plant
	}
	return w
}

func (w *world) circumstances(actor Viewer) table.Circumstances {
	c := tabletest.Seeded(w.seed, 1000)
	w.entries++
	c.Handles, c.Held, c.Entry = w.gate.Names(actor), w.held, w.entries
	c.Chance = func(d chance.Draw) *chance.Stream {
		w.drawn[d]++
		return chance.OfDraw(w.seed, d, "")
	}
	return c
}

func (w *world) honest(actor Viewer, a table.Action) (table.Edits, []table.Deed, *table.Refusal) {
	return w.table.Apply(actor, a, w.circumstances(actor))
}

// asked counts the requests that property 1 tried.
var asked atomic.Int64

// act does an action and says what its actor got.
func (w *world) act(actor Viewer, a table.Action) result {
	edits, deeds, refusal := w.apply(w, actor, a)
	r := result{kept: edits != nil || deeds != nil, edits: edits, deeds: deeds, refusal: refusal}
	var got []any
	if refusal != nil {
		got = append(got, refusal)
	}
	if r.kept {
		touched := w.gate.Settle(w.table, edits)
		got = append(got, w.gate.Changes(w.table, touched, deeds, actor))
	}
	text, err := json.Marshal(got)
	if err != nil {
		panic(err)
	}
	r.bytes = string(text)
	return r
}

// names reports whether a line that everybody reads names a place, or all of them.
func (r result) names(places ...table.PlaceID) bool {
	for _, deed := range r.deeds {
		if deed.Do == "everything-home" {
			return true
		}
		for _, spot := range deed.Spots() {
			for _, id := range places {
				if spot.Place == id || strings.HasPrefix(string(id), string(spot.Place)+"/") && spot.Kind == table.Grid {
					return true
				}
			}
		}
	}
	return false
}

// scene is a script, an actor and what they ask for then.
type scene struct {
	script  []tabletest.Move
	actor   Viewer
	request table.Action
	held    map[table.CardID]table.Seat // what another drags, before the actor's eyes
	dice    *tabletest.Dice
}

// drawScene plays a script, and has one of its people ask for something.
func drawScene(rt *rapid.T, longest int) scene {
	s := scene{dice: tabletest.NewDice(rt)}
	w := newWorld(nil, nil)
	s.actor = Viewer(s.dice.Int(1, players))
	held := map[Handle]bool{}
	look := func() {
		for _, p := range w.gate.View(w.table, s.actor).Places {
			for _, card := range p.Cards {
				held[card.Handle] = true
			}
		}
	}
	for range s.dice.Int(0, longest) {
		move := tabletest.Any(s.dice, w.table)
		if _, ends := move.Action.(table.End); ends {
			continue
		}
		move.Action = w.handled(move.Actor, move.Action)
		w.act(move.Actor, move.Action)
		s.script = append(s.script, move)
		if s.dice.Int(0, 3) == 0 {
			look()
		}
	}
	look()
	if seen := w.inView(s.actor); len(seen) > 0 && s.dice.Int(0, 3) == 0 {
		s.held = map[table.CardID]table.Seat{seen[s.dice.Int(0, len(seen)-1)]: s.actor%players + 1}
	}
	s.request = w.handled(s.actor, tabletest.Request(s.dice, w.table, s.actor, nil))
	if handles := slices.Sorted(maps.Keys(held)); len(handles) > 0 && s.dice.Int(0, 1) == 0 {
		s.request = tabletest.Request(s.dice, w.table, s.actor, handles)
	}
	return s
}

// inView are the cards that a viewer has before their eyes, in their hand not.
func (w *world) inView(viewer Viewer) (seen []table.CardID) {
	for _, id := range w.table.PlaceIDs() {
		for i, card := range w.table.Places[id].Cards {
			if p := w.table.Places[id]; p.Sight == table.Open && w.table.Audience(p, i).Includes(viewer) {
				seen = append(seen, card)
			}
		}
	}
	return seen
}

// handled names the cards of a generated action by the handles that its actor has.
func (w *world) handled(actor Viewer, a table.Action) table.Action {
	swap := func(handles []Handle) []Handle {
		named := slices.Clone(handles)
		for i, h := range handles {
			if held, known := w.gate.held[table.CardID(h)]; known && held.audience.Includes(actor) {
				named[i] = held.handle
			}
		}
		return named
	}
	switch a := a.(type) {
	case table.All:
		all := table.All{}
		for _, one := range a.Actions {
			all.Actions = append(all.Actions, w.handled(actor, one))
		}
		return all
	case table.Move:
		a.Cards = swap(a.Cards)
		return a
	case table.Flip:
		a.Cards = swap(a.Cards)
		return a
	case table.Rotate:
		a.Cards = swap(a.Cards)
		return a
	case table.Spread:
		a.Cards = swap(a.Cards)
		return a
	case table.ShowCards:
		a.Cards = swap(a.Cards)
		return a
	case table.Exchange:
		a.Cards = swap(a.Cards)
		return a
	case table.Swap:
		a.Cards = swap(a.Cards)
		return a
	case table.Agree:
		a.Cards = swap(a.Cards)
		return a
	case table.Reorder:
		a.Top, a.Under = swap(a.Top), swap(a.Under)
		return a
	}
	return a
}

// hidden are the cards whose fronts a viewer does not see, by what they show of
// themselves: those in one list could change places unseen.
func (w *world) hidden(viewer Viewer) [][]table.CardID {
	groups := map[string][]table.CardID{}
	for _, id := range w.table.PlaceIDs() {
		p := w.table.Places[id]
		for i, card := range p.Cards {
			if w.table.FrontSeen(viewer, p, i) {
				continue
			}
			c := w.table.Cards[card]
			key := "covered"
			if !p.Kind.Stacked() || p.Sight == table.None || w.table.Audience(p, i).Includes(viewer) || p.Sight == table.OwnerOnly && p.Owner != viewer {
				key = c.Deck // its veil or its back is in view
			}
			groups[key] = append(groups[key], card)
		}
	}
	var all [][]table.CardID
	for _, key := range slices.Sorted(maps.Keys(groups)) {
		if cards := groups[key]; len(cards) > 1 {
			slices.Sort(cards)
			all = append(all, cards)
		}
	}
	return all
}

// asksOf are the names that a request asks for, and the places where.
func asksOf(a table.Action) (about []string) {
	var filter func(f table.Filter)
	filter = func(f table.Filter) {
		about = append(about, f.Than...)
		for _, part := range append(slices.Clone(f.And), f.Or...) {
			filter(part)
		}
		if f.Not != nil {
			filter(*f.Not)
		}
	}
	pick := func(k table.Pick) {
		about = append(about, k.Names...)
		if k.Where != nil {
			about = append(about, string(k.From))
			filter(*k.Where)
		}
	}
	switch a := a.(type) {
	case table.All:
		for _, line := range a.Actions {
			about = append(about, asksOf(line)...)
		}
	case table.Move:
		pick(a.Pick)
	case table.Rotate:
		pick(a.Pick)
	}
	return about
}

// exchange has two cards that look alike to a viewer be each other, and says which; often one
// that a request asks for, and one that lies where it asks. Covered cards may also be turned.
func (w *world) exchange(d *tabletest.Dice, viewer Viewer, about ...string) (one, other table.CardID) {
	groups := w.hidden(viewer)
	if len(groups) == 0 {
		return 0, 0
	}
	group := groups[d.Int(0, len(groups)-1)]
	one, other = group[d.Int(0, len(group)-1)], group[d.Int(0, len(group)-1)]
	if len(about) > 0 && d.Int(0, 2) > 0 {
		for _, named := range groups {
			if i := slices.IndexFunc(named, func(card table.CardID) bool { return slices.Contains(about, w.table.Design(card).Name) }); i >= 0 {
				one, other = named[i], named[d.Int(0, len(named)-1)]
				if at := slices.IndexFunc(named, func(card table.CardID) bool { return slices.Contains(about, string(w.table.Cards[card].Place)) }); at >= 0 && d.Int(0, 1) == 0 {
					other = named[at]
				}
			}
		}
	}
	a, b := w.table.Cards[one], w.table.Cards[other]
	a.Deck, a.Design, b.Deck, b.Design = b.Deck, b.Design, a.Deck, a.Design
	if d.Int(0, 3) == 0 {
		w.turnHidden(one, viewer)
	}
	return one, other
}

// turnHidden turns a card over, if which side is up is hidden from a viewer.
func (w *world) turnHidden(card table.CardID, viewer Viewer) {
	if p, i := w.table.At(card); !w.table.Audience(p, i).Includes(viewer) {
		w.table.Cards[card].Side = w.table.Cards[card].Side.Other()
	}
}

// differ says what is wrong with what two worlds led to that the actor could not
// tell apart.
func differ(one, other result, places []table.PlaceID) string {
	switch {
	case one.kept != other.kept:
		return fmt.Sprintf("an entry is kept in one world only:\n%s\n%s", one.bytes, other.bytes)
	case one.bytes == other.bytes:
		return ""
	case !one.kept:
		return fmt.Sprintf("nothing is kept, and the answers differ:\n%s\n%s", one.bytes, other.bytes)
	case places != nil && !(one.names(places...) && other.names(places...)):
		return fmt.Sprintf("no line names %v:\n%s\n%s", places, one.bytes, other.bytes)
	}
	return ""
}

// plant does an action as a table with a hole would.
type plant func(*world, Viewer, table.Action) (table.Edits, []table.Deed, *table.Refusal)

// requests is how many requests of one scene are tried, one after the other, as long
// as the actor could not tell the worlds apart.
const requests = 8

// hiddenCardsDecide is property 1: whatever the hidden cards are.
func hiddenCardsDecide(rt *rapid.T, hole plant) string {
	s := drawScene(rt, 14)
	first, second := newWorld(s.script, hole), newWorld(s.script, hole)
	if s.dice.Int(0, 3) == 0 {
		s.request = tabletest.Search(s.dice, first.table, s.actor)
	}
	first.held, second.held = s.held, s.held
	one, other := second.exchange(s.dice, s.actor, asksOf(s.request)...)
	if one == 0 {
		return ""
	}
	for range requests {
		places := []table.PlaceID{second.table.Cards[one].Place, second.table.Cards[other].Place}
		asked.Add(1)
		a, b := first.act(s.actor, s.request), second.act(s.actor, s.request)
		if text := differ(a, b, places); text != "" {
			return fmt.Sprintf("seat %d: %+v: %s", s.actor, s.request, text)
		}
		if a.bytes != b.bytes || !sameBut(first.table, second.table, one, other) {
			return ""
		}
		s.request = first.handled(s.actor, tabletest.Request(s.dice, first.table, s.actor, nil))
	}
	return ""
}

// sameBut reports whether two tables differ in two cards alone.
func sameBut(a, b *table.Table, one, other table.CardID) bool {
	for id, p := range a.Places {
		if q := b.Places[id]; q == nil || !slices.Equal(p.Cards, q.Cards) {
			return false
		}
	}
	for id, c := range a.Cards {
		if d := *b.Cards[id]; *c != d && id != one && id != other {
			return false
		}
	}
	return len(a.Places) == len(b.Places)
}

// chanceDecides is property 2: whatever chance gives.
func chanceDecides(rt *rapid.T, hole plant) string {
	s := drawScene(rt, 14)
	first, second := newWorld(s.script, hole), newWorld(s.script, hole)
	first.held, second.held = s.held, s.held
	second.seed = chance.Seed{6}
	for range requests {
		drawn, asked := first.table.Draws[0], maps.Clone(first.drawn)
		one, other := first.act(s.actor, s.request), second.act(s.actor, s.request)
		text := differ(one, other, nil)
		if inHand := drawn == first.table.Draws[0]; text == "" && one.bytes != other.bytes && len(one.deeds) == 0 && !inHand {
			text = "chance was drawn and nobody is told"
		}
		for draw, n := range first.drawn {
			switch {
			case n > 1:
				text = fmt.Sprintf("draw %v is read twice", draw)
			case asked[draw] == 0 && (!one.kept || first.table.Draws[table.Seat(draw.Seat)] < draw.Number):
				text = fmt.Sprintf("draw %v is read and not spent", draw)
			}
		}
		if text != "" {
			return fmt.Sprintf("seat %d: %+v: %s", s.actor, s.request, text)
		}
		if one.bytes != other.bytes {
			return ""
		}
		s.request = first.handled(s.actor, tabletest.Request(s.dice, first.table, s.actor, nil))
	}
	return ""
}

// privateActsShow is property 3: what another does inside their hand changes
// nothing of what one gets.
func privateActsShow(rt *rapid.T, hole plant) string {
	s := drawScene(rt, 14)
	first, second := newWorld(s.script, nil), newWorld(s.script, hole)
	other := s.actor%players + 1
	hand := table.PlaceID(fmt.Sprintf("satchel/%d", other))
	p := second.table.Places[hand]
	if p == nil || len(p.Cards) == 0 || !followed(p) || p.Owner != other || s.actor == other {
		return ""
	}
	private := []table.Action{
		table.Shuffle{Place: hand}, table.Sort{Place: hand, By: "name"}, table.Flip{Pick: table.Pick{From: hand}}, table.Cut{Place: hand},
		table.Move{Pick: table.Pick{From: hand, Which: table.ByChance}, To: table.Target{Place: hand, Under: true}},
		table.Rotate{Pick: table.Pick{From: hand}}, table.ShuffleIn{From: hand, Into: hand},
		table.Move{Pick: table.Pick{From: hand, Where: &table.Filter{Field: "group", Than: []string{"1"}}}, To: table.Target{Place: hand}},
		table.Draw{From: hand, To: hand}, table.TopUp{From: hand, To: 3}, table.Collect{From: hand, Onto: hand},
	}[s.dice.Int(0, 10)]
	edits, deeds, _ := second.apply(second, other, private)
	touched := second.gate.Settle(second.table, edits)
	if told := second.gate.Changes(second.table, touched, deeds, s.actor); !told.Empty() && !shownTo(edits, first.table, s.actor) {
		return fmt.Sprintf("seat %d is told of %+v of seat %d", s.actor, private, other)
	}
	one, two := first.act(s.actor, s.request), second.act(s.actor, s.request)
	for _, r := range []result{one, two} {
		for _, e := range r.edits {
			if splice, ok := e.(table.Splice); ok && splice.From == hand && splice.To != hand {
				return "" // a card has left it
			}
		}
	}
	if one.kept != two.kept || one.bytes != two.bytes {
		return fmt.Sprintf("seat %d learns by %+v of %+v of seat %d:\n%s\n%s", s.actor, s.request, private, other, one.bytes, two.bytes)
	}
	return ""
}

// cueTells is property 5: steps that somebody else may have written, and that nobody is asked to confirm,
// tell others nothing of what only their presser sees.
func cueTells(rt *rapid.T, exposes func(table.Action, *table.Table, table.Seat) bool) string {
	s := drawScene(rt, 14)
	first, second := newWorld(s.script, nil), newWorld(s.script, nil)
	other := Viewer((int(s.actor) + s.dice.Int(1, players)) % (players + 1)) // another seat, or whoever watches
	if other == s.actor {
		other = 0
	}
	one := second.onlySeen(s.dice, s.actor)
	if one == 0 {
		return ""
	}
	s.request = tabletest.Request(s.dice, first.table, s.actor, nil)
	if s.dice.Int(0, 1) == 0 { // of what only the presser sees, with something that all see behind it
		from := first.table.Cards[one].Place
		s.request = table.All{Actions: table.Actions{tabletest.Touching(s.dice, first.table, from, first.table.Design(one).Name), table.SetCounter{Piece: "day", By: 1}}}
	}
	lines := []table.Action{s.request}
	if all, several := s.request.(table.All); several {
		lines = all.Actions
	}
	free := func(a table.Action) bool { // what takes from everybody, as everybody knows
		g, gathers := a.(table.Gather)
		_, home := a.(table.EverythingHome)
		return home || gathers && g.Where == nil
	}
	if slices.ContainsFunc(lines, func(a table.Action) bool { return free(a) || exposes(a, first.table, s.actor) }) {
		return ""
	}
	if a, b := first.shownTo(other, s.actor, s.request), second.shownTo(other, s.actor, s.request); a != b {
		return fmt.Sprintf("seat %d is told what only seat %d sees by %+v:\n%s\n%s", other, s.actor, s.request, a, b)
	}
	return ""
}

// onlySeen has a card that only a seat sees show something else of its deck, and says which card.
func (w *world) onlySeen(d *tabletest.Dice, seat Viewer) table.CardID {
	var seen []table.CardID
	for _, id := range w.table.PlaceIDs() {
		p := w.table.Places[id]
		for i, card := range p.Cards {
			others := false
			for viewer := range Viewer(players + 1) {
				others = others || viewer != seat && w.table.FrontSeen(viewer, p, i)
			}
			if !others && w.table.FrontSeen(seat, p, i) {
				seen = append(seen, card)
			}
		}
	}
	if len(seen) == 0 {
		return 0
	}
	card := seen[d.Int(0, len(seen)-1)]
	c := w.table.Cards[card]
	designs := slices.Sorted(maps.Keys(w.table.Decks[c.Deck].Designs))
	c.Design = designs[d.Int(0, len(designs)-1)]
	return card
}

// shownTo does an action and says what another viewer got.
func (w *world) shownTo(viewer, actor Viewer, a table.Action) string {
	edits, deeds, _ := w.apply(w, actor, a)
	if edits == nil && deeds == nil {
		return ""
	}
	text, err := json.Marshal(w.gate.Changes(w.table, w.gate.Settle(w.table, edits), deeds, viewer))
	if err != nil {
		panic(err)
	}
	return string(text)
}

func TestACueTellsNothingOfWhatOnlyItsPresserSees(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) { require.Empty(rt, cueTells(rt, table.Exposes)) })
}

// What Exposes once left out, and each kind of action that it may not.
func TestThePropertyOfCuesFindsPlantedHoles(t *testing.T) {
	holes := map[string]func(table.Action) bool{
		"turning and flipping are not confirmed": func(a table.Action) bool {
			switch a.(type) {
			case table.Rotate, table.Flip:
				return true
			}
			return false
		},
		"moves within a hand are not confirmed": func(a table.Action) bool {
			m, is := a.(table.Move)
			return is && m.To.Place == m.From
		},
		"moves are not confirmed": func(a table.Action) bool { _, is := a.(table.Move); return is },
	}
	for name, hole := range holes {
		t.Run(name, func(t *testing.T) {
			found, seed := "", 0
			for ; seed < 2000 && found == ""; seed++ {
				found = rapid.Custom(func(rt *rapid.T) string {
					return cueTells(rt, func(a table.Action, t *table.Table, seat table.Seat) bool {
						return !hole(a) && table.Exposes(a, t, seat)
					})
				}).Example(seed)
			}
			assert.NotEmpty(t, found, "the property does not see this hole")
			t.Logf("seed %d: %s", seed, found)
		})
	}
}

// editionTells is property 6: what is told when an edition is taken in does not depend on which cards lie
// where nobody sees them, of whatever decks they are, and whether the edition knows those.
func editionTells(rt *rapid.T, settle func(*Gate, *table.Table, table.Edits) *Touched) string {
	s := drawScene(rt, 14)
	first, second := newWorld(s.script, nil), newWorld(s.script, nil)
	for _, w := range []*world{first, second} { // cards of both decks lie in one pile, so that they can be each other
		w.act(1, table.All{Actions: table.Actions{
			table.Draw{From: "letters", Count: 2, UpTo: true, To: "weather"}, table.Draw{From: "weather", Count: 2, UpTo: true, To: "letters"}, table.Shuffle{Place: "weather"}}})
	}
	viewer := Viewer(s.dice.Int(0, players))
	var covered [2][]table.CardID
	for _, id := range first.table.PlaceIDs() {
		p := first.table.Places[id]
		for i, card := range p.Cards {
			if seen := first.table.Audience(p, i).Includes(viewer); !seen && p.Kind.Stacked() && p.Sight == table.Open && i < len(p.Cards)-1 {
				at := 0
				if first.table.Cards[card].Deck == "weather" {
					at = 1
				}
				covered[at] = append(covered[at], card)
			}
		}
	}
	if len(covered[0]) == 0 || len(covered[1]) == 0 {
		return ""
	}
	one, other := covered[0][s.dice.Int(0, len(covered[0])-1)], covered[1][s.dice.Int(0, len(covered[1])-1)]
	a, b := second.table.Cards[one], second.table.Cards[other]
	a.Deck, a.Design, b.Deck, b.Design = b.Deck, b.Design, a.Deck, a.Design
	revision := tabletest.Revision(s.dice, first.table)
	if s.dice.Int(0, 1) == 0 { // one deck is foreign to the edition
		foreign := []string{"letters", "weather"}[s.dice.Int(0, 1)]
		for _, edition := range []*table.Table{revision.Before, revision.After} {
			delete(edition.Decks, foreign)
			maps.DeleteFunc(edition.Cards, func(_ table.CardID, c *table.Card) bool { return c.Deck == foreign })
		}
	}
	told := func(w *world) string {
		edits, deeds, refusal := w.table.Apply(0, revision, w.circumstances(0))
		if refusal != nil {
			return refusal.Text
		}
		text, err := json.Marshal(w.gate.Changes(w.table, settle(w.gate, w.table, edits), deeds, viewer))
		if err != nil {
			panic(err)
		}
		return string(text)
	}
	inView := func(card table.CardID) bool { // what lay over it has left, in one world or the other
		return slices.ContainsFunc([]*world{first, second}, func(w *world) bool {
			p, i := w.table.At(card)
			return p == nil || w.table.Audience(p, i).Includes(viewer)
		})
	}
	if a, b := told(first), told(second); a != b && !inView(one) && !inView(other) {
		return fmt.Sprintf("seat %d is told by an edition which of the cards %d and %d lies where:\n%s\n%s", viewer, one, other, a, b)
	}
	return ""
}

func TestAnEditionTellsNothingOfTheDecksOfHiddenCards(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) { require.Empty(rt, editionTells(rt, (*Gate).Settle)) })
}

// As it was once: places were told anew where cards of the deck lie, hidden or not.
func TestThePropertyOfEditionsFindsAPlantedHole(t *testing.T) {
	byDeck := func(g *Gate, t *table.Table, edits table.Edits) *Touched {
		touched := g.Settle(t, edits)
		decks := map[string]bool{}
		for _, e := range edits {
			if put, is := e.(table.PutDeck); is && put.Before != nil {
				decks[put.Before.Key] = true
			}
		}
		touched.places = slices.DeleteFunc(touched.places, func(at *touchedPlace) bool {
			p := t.Places[at.id]
			return p != nil && !at.laid && len(touched.moves) == 0 && !slices.ContainsFunc(p.Cards, func(card table.CardID) bool { return decks[t.Cards[card].Deck] })
		})
		return touched
	}
	found, seed := "", 0
	for ; seed < 2000 && found == ""; seed++ {
		found = rapid.Custom(func(rt *rapid.T) string { return editionTells(rt, byDeck) }).Example(seed)
	}
	assert.NotEmpty(t, found, "the property does not see this hole")
	t.Logf("seed %d: %.400s", seed, found)
}

// shownTo reports whether edits turn a card that is shown to a viewer, who sees it.
func shownTo(edits table.Edits, t *table.Table, viewer Viewer) bool {
	return slices.ContainsFunc(edits, func(e table.Edit) bool {
		lie, ok := e.(table.SetLie)
		return ok && t.Shown[lie.Card].Includes(viewer)
	})
}

// sampled is how many worlds property 4 compares.
const sampled = 60

// standsForNothing is property 4: a refusal that always comes keeps nothing. It says
// whether the request was refused, whether something stands, and whether any world
// of those sampled is answered otherwise.
func standsForNothing(rt *rapid.T, hole plant) (refused, stands, differs bool) {
	s := drawScene(rt, 14)
	world := newWorld(s.script, hole)
	world.held = s.held
	one := world.act(s.actor, s.request)
	if one.refusal == nil {
		return false, false, false
	}
	if !one.kept {
		return true, false, false
	}
	answer := func(r *table.Refusal) string {
		if r == nil {
			return ""
		}
		return fmt.Sprint(r.Code, r.Text, r.Step)
	}
	for n := range sampled {
		w := newWorld(s.script, nil)
		w.seed, w.held = chance.Seed{7, byte(n)}, s.held
		for range 1 + n%40 {
			w.exchange(s.dice, s.actor, asksOf(s.request)...)
		}
		if n%3 == 0 {
			w.exaggerate(s.actor, s.request, n%2 == 0)
		}
		if other := w.act(s.actor, s.request); answer(other.refusal) != answer(one.refusal) {
			return true, true, true
		}
	}
	return true, true, false
}

func TestNothingIsLearntByWhatIsRefused(t *testing.T) {
	before := asked.Load()
	rapid.Check(t, func(rt *rapid.T) { require.Empty(rt, hiddenCardsDecide(rt, nil)) })
	t.Logf("%d requests, each in two worlds", asked.Load()-before)
}

func TestChanceIsNotChosenByWhatIsRefused(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) { require.Empty(rt, chanceDecides(rt, nil)) })
}

func TestNobodyCountsWhatHappensInsideAnothersHand(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) { require.Empty(rt, privateActsShow(rt, nil)) })
}

func TestWhatIsAlwaysRefusedKeepsNothing(t *testing.T) {
	refusals, stood, nothing := 0, 0, 0
	rapid.Check(t, func(rt *rapid.T) {
		refused, stands, differs := standsForNothing(rt, nil)
		if refused {
			refusals++
		}
		if stands {
			stood++
		}
		if stands && !differs {
			nothing++
		}
	})
	t.Logf("%d refused, %d of them stand, %d for nothing that %d worlds show", refusals, stood, nothing, sampled)
	most := refusals / 20
	if refusals < 1000 {
		most = 5 + refusals/5 // so few say little
	}
	assert.LessOrEqual(t, nothing, most)
	assert.Positive(t, stood)
}

// placeless takes from a deed where it was, whatever its kind.
func placeless(d table.Deed) table.Deed {
	var fields map[string]any
	text, err := json.Marshal(d)
	if err == nil {
		err = json.Unmarshal(text, &fields)
	}
	delete(fields, "from")
	delete(fields, "to")
	if err == nil {
		text, err = json.Marshal(fields)
	}
	if err == nil {
		err = json.Unmarshal(text, &d)
	}
	if err != nil {
		panic(err)
	}
	return d
}

// holes are tables with a hole, by the property that must find it.
var holes = map[string]struct {
	property func(*rapid.T, plant) string
	plant    plant
}{
	"a refusal takes everything back, as it once did": {hiddenCardsDecide, takesBack},
	"chance is given back by a refusal":               {chanceDecides, takesBack},
	"names are looked up when their turn comes":       {hiddenCardsDecide, oneByOne},
	"a search in vain is not told":                    {hiddenCardsDecide, without(func(d table.Deed) table.Deed { return d }, "search")},
	"gathering does not say where it looked": {hiddenCardsDecide, without(func(d table.Deed) table.Deed {
		if g, is := d.Of.(table.Gathered); is {
			g.Parts, g.To = nil, nil
			d.Of = g
		}
		return d
	})},
	"a move does not say from where": {hiddenCardsDecide, without(placeless)},
	"draws inside a hand are counted with all others": {privateActsShow, func(w *world, actor Viewer, a table.Action) (table.Edits, []table.Deed, *table.Refusal) {
		edits, deeds, refusal := w.honest(actor, a)
		for _, e := range edits {
			if drew, ok := e.(table.Drew); ok && drew.Seat != 0 {
				w.table.Draws[0]++
			}
		}
		return edits, deeds, refusal
	}},
	"what happens inside a hand is told": {privateActsShow, func(w *world, actor Viewer, a table.Action) (table.Edits, []table.Deed, *table.Refusal) {
		edits, deeds, refusal := w.honest(actor, a)
		return edits, append(deeds, table.Deed{Actor: actor, Do: "try", Of: table.Wordless{}}), refusal
	}},
	"a search is judged by where hidden cards lie, where it asks for its own place": {hiddenCardsDecide, judgedWhereTheyLie(func(in, not bool) bool { return in && !not })},
	"a search is judged by where hidden cards lie, where it asks for another place": {hiddenCardsDecide, judgedWhereTheyLie(func(in, not bool) bool { return not && !in })},
	"a search is never judged": {hiddenCardsDecide, judged(func(*world, Viewer, table.Pick) bool { return true })},
	"a look is at whatever lies on top": {hiddenCardsDecide, func(w *world, actor Viewer, a table.Action) (table.Edits, []table.Deed, *table.Refusal) {
		for id, look := range w.table.Looks {
			p := w.table.Places[id]
			look.Cards = slices.Clone(p.Cards[max(0, len(p.Cards)-look.Count):])
			more := table.Edits{table.PutLook{Before: &look, After: &look}}
			w.table.Fold(more)
		}
		edits, _, refusal := w.honest(actor, a)
		return edits, nil, refusal
	}},
}

func takesBack(w *world, actor Viewer, a table.Action) (table.Edits, []table.Deed, *table.Refusal) {
	edits, deeds, refusal := w.honest(actor, a)
	if refusal != nil && refusal.Stands {
		w.table.Fold(table.Inverse(edits))
		refusal.Stands = false
		return nil, nil, refusal
	}
	return edits, deeds, refusal
}

// judgedWhereTheyLie takes back what a search decided that was judged by where the hidden cards
// of the table lie, as once was done, where the filters ask for places as given.
func judgedWhereTheyLie(asks func(in, not bool) bool) plant {
	return judged(func(w *world, actor Viewer, k table.Pick) bool {
		if in, not := asksFor(*k.Where, false); !asks(in, not) {
			return false
		}
		all, fitting, hidden, known := 0, 0, 0, 0
		for id, p := range w.table.Places {
			searched := id == k.From || p.Of != "" && p.Of == k.From
			for i, card := range p.Cards {
				fits := w.fits(*k.Where, card)
				switch seen := w.table.FrontSeen(actor, p, i); {
				case !seen && searched:
					hidden++
					fallthrough
				case !seen:
					if all++; fits {
						fitting++
					}
				case searched && fits:
					known++
				}
			}
		}
		enough := max(k.Count, 1)
		if k.Which == table.Every || k.UpTo {
			enough = 1
		}
		least, most := known+max(0, hidden-(all-fitting)), known+min(hidden, fitting)
		return least >= enough || least == most
	})
}

// judged takes back what searches decided that are called blind, where nothing else decides.
func judged(blind func(*world, Viewer, table.Pick) bool) plant {
	return func(w *world, actor Viewer, a table.Action) (table.Edits, []table.Deed, *table.Refusal) {
		lines := []table.Action{a}
		if all, several := a.(table.All); several {
			lines = all.Actions
		}
		searches := false
		for _, line := range lines {
			var k table.Pick
			switch line := line.(type) {
			case table.Move:
				k = line.Pick
			case table.Rotate:
				k = line.Pick
			case table.Draw, table.Close, table.SetCounter:
				continue
			}
			if k.From == "" || len(k.Names) > 0 || k.Which == table.ByChance || k.Where != nil && !blind(w, actor, k) {
				return w.honest(actor, a)
			}
			searches = searches || k.Where != nil
		}
		if !searches {
			return w.honest(actor, a)
		}
		return takesBack(w, actor, a)
	}
}

// asksFor reports whether a filter asks that cards lie somewhere, and that they do not.
func asksFor(f table.Filter, turned bool) (in, not bool) {
	if f.Not != nil {
		return asksFor(*f.Not, !turned)
	}
	for _, part := range append(slices.Clone(f.And), f.Or...) {
		i, n := asksFor(part, turned)
		in, not = in || i, not || n
	}
	return in || f.In != nil && !turned, not || f.In != nil && turned
}

// exaggerate has as many hidden cards fit what a request searches for, where it searches, as can be, or as
// few.
func (w *world) exaggerate(viewer Viewer, a table.Action, fit bool) {
	lines := []table.Action{a}
	if all, several := a.(table.All); several {
		lines = all.Actions
	}
	for _, line := range lines {
		picks, does := line.(interface{ Picks() table.Pick })
		if !does || picks.Picks().Where == nil {
			continue
		}
		k := picks.Picks()
		p := w.table.Places[k.From]
		if p == nil {
			continue
		}
		for _, group := range w.hidden(viewer) {
			for _, one := range group {
				if w.table.Cards[one].Place != p.ID || w.fitsAt(*k.Where, one, p) == fit {
					continue
				}
				for _, other := range group {
					a, b := w.table.Cards[one], w.table.Cards[other]
					if b.Place != p.ID && w.fitsAt(*k.Where, other, p) == fit {
						a.Deck, a.Design, b.Deck, b.Design = b.Deck, b.Design, a.Deck, a.Design
						break
					}
				}
			}
		}
	}
}

// fits is what a filter says of a card where it lies.
func (w *world) fits(f table.Filter, card table.CardID) bool {
	return w.fitsAt(f, card, w.table.Places[w.table.Cards[card].Place])
}

// fitsAt is what a filter would say of a card that lies at a place.
func (w *world) fitsAt(f table.Filter, card table.CardID, p *table.Place) bool {
	some := func(parts []table.Filter, is bool) bool {
		return slices.ContainsFunc(parts, func(part table.Filter) bool { return w.fitsAt(part, card, p) == is })
	}
	switch {
	case f.Not != nil:
		return !w.fitsAt(*f.Not, card, p)
	case f.And != nil:
		return !some(f.And, false)
	case f.Or != nil:
		return some(f.Or, true)
	case f.In != nil:
		return slices.Contains(f.In, p.ID) || p.Of != "" && slices.Contains(f.In, p.Of)
	}
	value, than := w.table.Field(card, f.Field), f.Than[0]
	switch f.Is {
	case "≠":
		return value != than
	case "<":
		return value < than
	case "≥":
		return value >= than
	}
	return value == than
}

// oneByOne does the steps of a sequence each for itself, and takes all back where one
// is refused.
func oneByOne(w *world, actor Viewer, a table.Action) (table.Edits, []table.Deed, *table.Refusal) {
	all, several := a.(table.All)
	if !several {
		return w.honest(actor, a)
	}
	var edits table.Edits
	var deeds []table.Deed
	for _, one := range all.Actions {
		c := w.circumstances(actor)
		c.Handles = nil
		more, told, refusal := w.table.Apply(actor, one, c)
		if refusal != nil {
			w.table.Fold(table.Inverse(append(edits, more...)))
			return nil, nil, refusal
		}
		edits, deeds = append(edits, more...), append(deeds, told...)
	}
	return edits, deeds, nil
}

// without changes deeds before they are told, and leaves some out.
func without(change func(table.Deed) table.Deed, words ...string) plant {
	return func(w *world, actor Viewer, a table.Action) (table.Edits, []table.Deed, *table.Refusal) {
		edits, deeds, refusal := w.honest(actor, a)
		var told []table.Deed
		for _, deed := range deeds {
			if !slices.Contains(words, deed.Do) {
				told = append(told, change(deed))
			}
		}
		return edits, told, refusal
	}
}

func TestThePropertiesFindPlantedHoles(t *testing.T) {
	for name, hole := range holes {
		t.Run(name, func(t *testing.T) {
			found := ""
			seed := 0
			for ; seed < 2000 && found == ""; seed++ {
				found = rapid.Custom(func(rt *rapid.T) string { return hole.property(rt, hole.plant) }).Example(seed)
			}
			assert.NotEmpty(t, found, "the property does not see this hole")
			t.Logf("seed %d: %s", seed, found)
		})
	}
}

func TestKeepingWhatIsAlwaysRefusedIsFound(t *testing.T) {
	always := func(w *world, actor Viewer, a table.Action) (table.Edits, []table.Deed, *table.Refusal) {
		edits, deeds, refusal := w.honest(actor, a)
		if refusal != nil {
			deeds = append(deeds, table.Deed{Actor: actor, Do: "try", Of: table.Wordless{}})
		}
		return edits, deeds, refusal
	}
	refusals, nothing := 0, 0
	for seed := range 100 {
		rapid.Custom(func(rt *rapid.T) bool {
			refused, stands, differs := standsForNothing(rt, always)
			if refused {
				refusals++
			}
			if stands && !differs {
				nothing++
			}
			return true
		}).Example(seed)
	}
	assert.Greater(t, nothing, refusals/2)
}
