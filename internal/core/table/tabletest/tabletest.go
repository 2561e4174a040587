// Package tabletest lays small tables for tests and generates runs of actions
// over them.
package tabletest

import (
	"fmt"
	"maps"
	"slices"

	"pgregory.net/rapid"

	"damselfly/internal/core/table"
)

// Lay gives the edits that lay a table with two decks of unique cards, letters
// (20) and weather (10), the piles letters, weather, outbox and a vault that
// nobody sees into, the row sky, and for each seat a satchel (hand) and a dock
// (open row). Every seat is taken.
func Lay(seats int) table.Edits {
	edits := table.Edits{table.PutSettings{After: table.Settings{Name: "Sample", Wide: 900, High: 600}}}
	for seat := 1; seat <= seats; seat++ {
		edits = append(edits, table.PutChair{After: &table.Chair{Seat: table.Seat(seat), Name: Names[seat-1], Colour: "teal"}})
		edits = append(edits,
			put(table.Place{ID: id("satchel", seat), Name: "satchel", Kind: table.Hand, Owner: table.Seat(seat), Sight: table.OwnerOnly}),
			put(table.Place{ID: id("dock", seat), Name: "dock", Kind: table.Row, Owner: table.Seat(seat), Sight: table.Open, Wide: 200}))
	}
	for _, p := range []table.Place{
		{ID: "letters", Name: "letters", Kind: table.Pile, Sight: table.Open, Arrival: table.Arrival{Side: table.Back}},
		{ID: "weather", Name: "weather", Kind: table.Pile, Sight: table.Open},
		{ID: "outbox", Name: "outbox", Kind: table.Pile, Sight: table.Open, Arrival: table.Arrival{Side: table.Front}},
		{ID: "vault", Name: "vault", Kind: table.Pile, Sight: table.None, Arrival: table.Arrival{Bottom: true}},
		{ID: "sky", Name: "sky", Kind: table.Row, Sight: table.Open, Arrival: table.Arrival{Side: table.Front}, Wide: 300, Capacity: 6},
	} {
		edits = append(edits, put(p))
	}
	edits = append(edits, deck("letters", "Letter", 20, 1)...)
	return append(edits, deck("weather", "Weather", 10, 101)...)
}

// Names are the players of a sample table, by seat.
var Names = []string{"Ada", "Bo", "Cleo", "Dov", "Esme"}

// Sample is the table that Lay lays.
func Sample(seats int) *table.Table {
	t := &table.Table{}
	t.Fold(Lay(seats))
	return t
}

func id(name string, seat int) table.PlaceID { return table.PlaceID(fmt.Sprintf("%s/%d", name, seat)) }

func put(p table.Place) table.Edit { return table.PutPlace{After: &p} }

func deck(key, title string, n int, first table.CardID) table.Edits {
	d := table.Deck{
		Key: key, Name: key, Outline: "rounded", Wide: 63, High: 88,
		Veil: picture("veil-" + key), Home: table.PlaceID(key), Designs: map[string]table.Design{},
	}
	mint := table.Mint{Place: d.Home}
	for i := range n {
		design := fmt.Sprintf("%s-%02d", key, i)
		d.Designs[design] = table.Design{
			Key: design, Name: fmt.Sprintf("%s %02d", title, i), Front: picture("front-" + design), Back: picture("back-" + key),
		}
		mint.Cards = append(mint.Cards, table.Minted{ID: first + table.CardID(i), Deck: key, Design: design, Side: table.Back})
	}
	return table.Edits{table.PutDeck{After: &d}, mint}
}

func picture(name string) table.Picture { return table.Picture{Small: name + ".small", Full: name} }

// Move is one step of a run: an action of an actor.
type Move struct {
	Actor  table.Seat
	Action table.Action
}

// generators make one action of each kind; a test in this folder compares
// them with the actions there are.
func generators() map[string]func(*rapid.T, *table.Table, table.Seat) table.Action {
	return map[string]func(*rapid.T, *table.Table, table.Seat) table.Action{
		"shuffle": func(r *rapid.T, t *table.Table, _ table.Seat) table.Action {
			return table.Shuffle{Place: place(r, t)}
		},
		"draw": func(r *rapid.T, t *table.Table, _ table.Seat) table.Action {
			a := table.Draw{From: place(r, t), Count: rapid.IntRange(0, 4).Draw(r, "count")}
			if rapid.Bool().Draw(r, "elsewhere") {
				a.To = place(r, t)
			}
			return a
		},
		"flip": func(r *rapid.T, t *table.Table, actor table.Seat) table.Action {
			side := rapid.SampledFrom([]table.Side{"", table.Front, table.Back}).Draw(r, "side")
			return table.Flip{Pick: pick(r, t, actor), Side: side}
		},
		"move": func(r *rapid.T, t *table.Table, actor table.Seat) table.Action {
			return table.Move{Pick: pick(r, t, actor), To: target(r, t)}
		},
		"sit": func(r *rapid.T, t *table.Table, _ table.Seat) table.Action {
			return table.Sit{Seat: table.Seat(rapid.IntRange(0, 6).Draw(r, "seat")), Name: "Finn"}
		},
		"all": func(r *rapid.T, t *table.Table, actor table.Seat) table.Action {
			var all table.All
			for range rapid.IntRange(1, 3).Draw(r, "parts") {
				kind := rapid.SampledFrom([]string{"shuffle", "draw", "flip", "move"}).Draw(r, "part")
				all.Actions = append(all.Actions, Generate(kind, r, t, actor))
			}
			return all
		},
	}
}

// Kinds lists the actions that can be generated.
func Kinds() []string {
	return slices.Sorted(maps.Keys(generators()))
}

// Generate makes an action of a kind that an actor might try, sensible or not.
func Generate(kind string, r *rapid.T, t *table.Table, actor table.Seat) table.Action {
	return generators()[kind](r, t, actor)
}

// Any makes any step of a run on the table as it is.
func Any(r *rapid.T, t *table.Table) Move {
	actor := table.Seat(rapid.IntRange(1, len(t.Chairs)).Draw(r, "actor"))
	kind := rapid.SampledFrom(Kinds()).Draw(r, "kind")
	return Move{Actor: actor, Action: Generate(kind, r, t, actor)}
}

func place(r *rapid.T, t *table.Table) table.PlaceID {
	return rapid.SampledFrom(t.PlaceIDs()).Draw(r, "place")
}

func pick(r *rapid.T, t *table.Table, actor table.Seat) table.Pick {
	p := t.Places[place(r, t)]
	var seen []table.CardID
	for i := range p.Cards {
		if p.Audience(i).Includes(actor) {
			seen = append(seen, p.Cards[i])
		}
	}
	if len(seen) > 0 && rapid.IntRange(0, 2).Draw(r, "by") > 0 {
		cards := rapid.SliceOfNDistinct(rapid.SampledFrom(seen), 1, min(3, len(seen)), rapid.ID[table.CardID]).Draw(r, "cards")
		return table.Pick{Cards: cards}
	}
	which := rapid.SampledFrom([]table.Which{"", table.Top, table.Bottom, table.Every}).Draw(r, "which")
	return table.Pick{From: p.ID, Which: which, Count: rapid.IntRange(0, 3).Draw(r, "count")}
}

func target(r *rapid.T, t *table.Table) table.Target {
	if rapid.IntRange(0, 3).Draw(r, "felt") == 0 {
		x, y := rapid.Float64Range(-50, 1000).Draw(r, "x"), rapid.Float64Range(-50, 700).Draw(r, "y")
		return table.Target{X: &x, Y: &y}
	}
	to := table.Target{Place: place(r, t), Under: rapid.Bool().Draw(r, "under")}
	if rapid.Bool().Draw(r, "indexed") {
		index := rapid.IntRange(0, 8).Draw(r, "index")
		to.Index = &index
	}
	return to
}
