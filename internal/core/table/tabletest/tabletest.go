// Package tabletest lays small tables for tests and generates runs of actions
// over them.
package tabletest

import (
	"fmt"
	"maps"
	"slices"
	"sync/atomic"

	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/grid"
	"damselfly.example/damselfly/internal/core/table"
)

// entries numbers the acts of all tests, as a journal numbers entries.
var entries atomic.Uint64

// With are the circumstances of an act with a stream of chance, at a time in
// milliseconds since 1970. Handles are ids.
func With(s *chance.Stream, now int64) table.Circumstances {
	return table.Circumstances{Now: now, Entry: entries.Add(1), Chance: func(chance.Draw) *chance.Stream { return s }}
}

// Seeded are the circumstances of an act whose chance follows from a seed, as in a room.
func Seeded(seed chance.Seed, now int64) table.Circumstances {
	return table.Circumstances{Now: now, Entry: entries.Add(1), Chance: func(d chance.Draw) *chance.Stream { return chance.OfDraw(seed, d, "") }}
}

// Lay gives the edits that lay a table with two decks of unique cards, letters
// (20) and weather (10), the piles letters, weather, outbox and a vault that
// nobody sees into, the row sky, the grid marsh, a piece of each kind, a setup, and
// for each seat a satchel (hand) and a dock (open row). Every seat is taken, seat 1 is the host. The
// designs' field "group" is 0 or 1.
func Lay(seats int) table.Edits {
	edits := table.Edits{table.PutSettings{After: table.Settings{Name: "Sample", Wide: 900, High: 600, Host: 1, Setup: "shuffle letters\ndraw 1 from letters"}}}
	for seat := 1; seat <= seats; seat++ {
		edits = append(edits, table.PutChair{After: &table.Chair{Seat: table.Seat(seat), Name: Names[seat-1], Colour: "#0f766e"}})
		edits = append(edits,
			put(table.Place{ID: id("satchel", seat), Name: "satchel", Kind: table.Hand, Owner: table.Seat(seat), Sight: table.OwnerOnly}),
			put(table.Place{ID: id("dock", seat), Name: "dock", Kind: table.Row, Owner: table.Seat(seat), Sight: table.Open, Wide: 200}))
	}
	for _, p := range []table.Place{
		{ID: "letters", Name: "letters", Kind: table.Pile, Sight: table.Open, Arrival: table.Arrival{Side: table.Back}},
		{ID: "weather", Name: "weather", Kind: table.Pile, Sight: table.Open},
		{ID: "outbox", Name: "outbox", Kind: table.Pile, Sight: table.Open, Arrival: table.Arrival{Side: table.Front}},
		{ID: "vault", Name: "vault", Kind: table.Pile, Sight: table.None, Arrival: table.Arrival{Bottom: true}},
		{ID: "marsh", Name: "marsh", Kind: table.Grid, Sight: table.Open, X: 250, Y: 200, Wide: 400, High: 300, Grid: &grid.Grid{Shape: grid.Square, Columns: 4, Rows: 3}},
		{ID: "sky", Name: "sky", Kind: table.Row, Sight: table.Open, Arrival: table.Arrival{Side: table.Front}, Wide: 300, Capacity: 6},
	} {
		edits = append(edits, put(p))
	}
	least, most := 0, 9
	for _, p := range []table.Piece{
		{ID: "day", Name: "day", Kind: table.Counter, Step: 1, Least: &least, Most: &most},
		{ID: "wind", Name: "wind", Kind: table.Die, Sectors: []table.Sector{{Name: "north"}, {Name: "east"}, {Name: "lull", Weight: 2}}},
		{ID: "tide", Name: "tide", Kind: table.Spinner, Sectors: []table.Sector{{Name: "ebb"}, {Name: "flood"}}},
		{ID: "boat", Name: "boat", Kind: table.Token, Faces: []table.Picture{{}, {}}, Side: table.Front, Count: 5},
		{ID: "postmaster", Name: "postmaster", Kind: table.SeatMark},
		{ID: "sandglass", Name: "sandglass", Kind: table.Timer, Length: 180_000, Left: 180_000},
		{ID: "rules", Name: "rules", Kind: table.Note, Text: "Be kind."},
		{ID: "chart", Name: "chart", Kind: table.Mat, Wide: 300, High: 200},
		{ID: "new-day", Name: "New day", Kind: table.Cue, Text: "add 1 to day\nroll wind"},
	} {
		edits = append(edits, table.PutPiece{After: &p}, table.PutLaid{After: &p})
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

func put(p table.Place) table.Edit {
	p.Wide, p.High = max(p.Wide, 70), max(p.High, 95)
	return table.PutPlace{After: &p}
}

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
			Fields: map[string]string{"group": fmt.Sprint(i % 2)},
		}
		mint.Cards = append(mint.Cards, table.Minted{ID: first + table.CardID(i), Deck: key, Design: design, Side: table.Back})
	}
	return table.Edits{table.PutDeck{After: &d}, mint}
}

func picture(name string) table.Picture { return table.Picture{Small: name + ".small", Full: name} }

// Move is one step of a run: an action of an actor, or of the service itself
// when the time of something is over.
type Move struct {
	Actor  table.Seat
	Action table.Action
	Later  bool
}

// Now is the time of a move, in milliseconds since 1970.
func (m Move) Now() int64 {
	if m.Later {
		return 10_000_000
	}
	return 1000
}

// generators make one action of each kind; a test in this folder compares
// them with the actions there are.
func generators() map[string]func(*Dice, *table.Table, table.Seat) table.Action {
	return map[string]func(*Dice, *table.Table, table.Seat) table.Action{
		"shuffle": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.Shuffle{Place: stocked(r, t, actor)}
		},
		"draw": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			a := table.Draw{From: stocked(r, t, actor), Count: r.Int(0, 4)}
			if r.Int(0, 1) == 1 {
				a.To = place(r, t)
			}
			return a
		},
		"flip": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			side := oneOf(r, []table.Side{"", table.Front, table.Back})
			return table.Flip{Pick: pick(r, t, actor), Side: side}
		},
		"move": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.Move{Pick: pick(r, t, actor), To: target(r, t), Side: oneOf(r, []table.Side{"", "", table.Front, table.Back})}
		},
		"swap": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			var cards []table.CardID
			for _, id := range some(r, t.PlaceIDs(), 6) {
				p := t.Places[id]
				for i, card := range p.Cards {
					if t.Audience(p, i).Includes(actor) {
						cards = append(cards, card)
					}
				}
			}
			if len(cards) < 2 {
				return table.Swap{}
			}
			return table.Swap{Cards: table.Handles(some(r, cards, 2)...)}
		},
		"sit": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			for _, c := range t.Chairs {
				if c.Name == "" && r.Int(0, 2) > 0 {
					return table.Sit{Seat: c.Seat, Name: oneOf(r, []string{"Finn", "Gus", "Hal", "Ines"})}
				}
			}
			return table.Sit{Seat: anySeat(r), Name: oneOf(r, []string{"Finn", "Gus"})}
		},
		"free":  func(r *Dice, t *table.Table, _ table.Seat) table.Action { return table.Free{Seat: anySeat(r)} },
		"lapse": func(r *Dice, t *table.Table, _ table.Seat) table.Action { return table.Lapse{Seat: anySeat(r)} },
		"hand-on": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			return table.HandOn{Seat: anySeat(r), Name: oneOf(r, []string{"Jo", "Kai", "Lu"})}
		},
		"rename": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.Rename{Name: oneOf(r, []string{"", "Hal", "Bo"}), Colour: oneOf(r, []string{"", "#0f766e", "red"})}
		},
		"cut": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.Cut{Place: stocked(r, t, actor), At: r.Int(0, 5)}
		},
		"sort": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.Sort{Place: stocked(r, t, actor), By: "group", Down: r.Int(0, 1) == 1}
		},
		"separate": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.Separate{Place: stocked(r, t, actor), By: "group"}
		},
		"deal": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			shares := []table.Share{{Who: "first", Count: r.Int(1, 3)}, {Who: "other", Count: 1}}
			return table.Deal{From: stocked(r, t, actor), Shares: shares, UpTo: r.Int(0, 1) == 1, To: oneOf(r, []string{"", "dock"})}
		},
		"top-up": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.TopUp{From: stocked(r, t, actor), To: r.Int(1, 4), Every: r.Int(0, 1) == 1, UpTo: r.Int(0, 1) == 1}
		},
		"exchange": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.Exchange{Pick: pickFrom(r, t, actor, t.HandOf(actor)), Away: place(r, t), Draw: stocked(r, t, actor)}
		},
		"rotate": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.Rotate{Pick: pick(r, t, actor), Steps: r.Int(-2, 2)}
		},
		"spread": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.Spread{Pick: pick(r, t, actor), Over: "marsh", By: oneOf(r, []string{"", "columns"})}
		},
		"collect": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			return table.Collect{From: oneOf(r, []table.PlaceID{"marsh", "marsh", "sky", "outbox"}), Onto: place(r, t)}
		},
		"gather": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.Gather{Deck: oneOf(r, []string{"letters", "weather", "none"}), Where: oneOf(r, gathers), Shuffle: r.Int(0, 1) == 1}
		},
		"everything-home": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			if r.Int(0, 3) > 0 { // now and then: what runs lead to starts anew with it
				return table.Gather{Deck: oneOf(r, []string{"letters", "weather"})}
			}
			return table.EverythingHome{}
		},
		"shuffle-in": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.ShuffleIn{From: stocked(r, t, actor), Into: place(r, t)}
		},
		"peek": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.Peek{Place: stocked(r, t, actor), Count: r.Int(0, 4)}
		},
		"reorder": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			look := anyLook(r, t, actor)
			a := table.Reorder{Place: look.Place}
			if p := t.Places[look.Place]; p != nil && look.Count > 0 {
				for _, card := range look.Cards {
					switch r.Int(0, 2) {
					case 0:
						a.Top = append(a.Top, table.Handle(card))
					case 1:
						a.Under = append(a.Under, table.Handle(card))
					}
				}
			}
			return a
		},
		"close": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.Close{Place: anyLook(r, t, actor).Place}
		},
		"show": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.ShowCards{Pick: pickFrom(r, t, actor, t.HandOf(actor)), To: table.Seat(r.Int(0, len(t.Chairs))), Seconds: oneOf(r, []int{0, 0, 5, 60}), Hide: r.Int(0, 2) == 0}
		},
		"ask": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			return table.MakeAsk{Place: oneOf(r, satchels(t, actor)), For: oneOf(r, []string{"", "peek"}), Count: r.Int(0, 2)}
		},
		"agree": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			ask := anyAsk(r, t)
			a := table.Agree{Ask: ask.ID}
			if p := t.Places[ask.Place]; p != nil && len(p.Cards) >= ask.Count && r.Int(0, 1) == 1 {
				a.Cards = table.Handles(p.Cards[:ask.Count]...)
			}
			return a
		},
		"decline": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			return table.Decline{Ask: anyAsk(r, t).ID}
		},
		"withdraw": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			return table.Withdraw{Ask: anyAsk(r, t).ID}
		},
		"pass": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			return table.Pass{To: table.Seat(r.Int(0, 4))}
		},
		"first": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			return table.First{Seat: table.Seat(r.Int(0, 2))}
		},
		"turn-round": func(*Dice, *table.Table, table.Seat) table.Action { return table.TurnRound{} },
		"set": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			to := r.Int(-2, 12)
			if r.Int(0, 1) == 1 {
				return table.SetCounter{Piece: anyPiece(r, t, "day"), By: to}
			}
			return table.SetCounter{Piece: "day", To: &to}
		},
		"roll": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			return table.Roll{Pieces: []table.PieceID{"wind", anyPiece(r, t, "tide")}}
		},
		"move-piece": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			x := r.Float(-5, 1000)
			return table.MovePiece{Piece: anyPiece(r, t, anyToken(r, t)), X: &x, Y: &x, Flip: r.Int(0, 1) == 1, Count: oneOf(r, []int{0, 0, 1, 2})}
		},
		"stack": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			return table.Stack{Piece: anyToken(r, t), Onto: anyToken(r, t), Count: r.Int(0, 2)}
		},
		"hand": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			return table.HandMarker{Piece: anyPiece(r, t, "postmaster"), Seat: anySeat(r)}
		},
		"timer": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			return table.RunTimer{Piece: anyPiece(r, t, "sandglass"), Do: oneOf(r, []string{"start", "stop", "reset", "melt"})}
		},
		"write": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			return table.Write{Piece: anyPiece(r, t, "rules"), Text: "Be kinder."}
		},
		"lay-zone": layZone, "lay-piece": layPiece, "take-off": takeOff,
		"lay-table": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			wide, turn := r.Float(400, 1200), r.Int(0, 200)
			return oneOf(r, []table.LayTable{
				{Wide: &wide}, {Turn: &turn}, {Setup: ptr("shuffle weather")}, {Arrange: ptr("everyone")}, {Arrange: ptr("host")}, {Name: ptr(" ")},
			})
		},
		"door": func(r *Dice, _ *table.Table, _ table.Seat) table.Action {
			return oneOf(r, []table.Door{{Locked: ptr(true)}, {Locked: ptr(false)}, {Spectators: ptr(false)}, {}})
		},
		"keys": func(r *Dice, _ *table.Table, _ table.Seat) table.Action { return table.Keys{Seat: anySeat(r)} },
		"end": func(r *Dice, _ *table.Table, _ table.Seat) table.Action {
			if r.Int(0, 6) > 0 { // most runs go on
				return table.Keys{Seat: 1}
			}
			return table.End{}
		},
		"change-seat": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			for _, c := range t.Chairs {
				if c.Name == "" {
					return table.ChangeSeat{To: c.Seat}
				}
			}
			return table.ChangeSeat{To: anySeat(r)}
		},
		"run": func(r *Dice, t *table.Table, _ table.Seat) table.Action {
			return table.Run{Cue: oneOf(r, []table.PieceID{"", anyPiece(r, t, "new-day")})}
		},
		"say": func(*Dice, *table.Table, table.Seat) table.Action { return table.Say{Text: "The tide is in."} },
		"undo": func(r *Dice, _ *table.Table, _ table.Seat) table.Action {
			return table.Undo{Anyone: r.Int(0, 3) == 0}
		},
		"all": func(r *Dice, t *table.Table, actor table.Seat) table.Action {
			var all table.All
			for range r.Int(1, 3) {
				kind := oneOf(r, []string{"shuffle", "draw", "flip", "move", "deal", "gather", "spread", "peek"})
				all.Actions = append(all.Actions, Generate(kind, r, t, actor))
			}
			return all
		},
	}
}

// gathers are filters for gathering, the last of them refused.
var gathers = []*table.Filter{
	nil, nil, {Not: &table.Filter{In: []table.PlaceID{"sky", "marsh"}}}, {In: []table.PlaceID{"satchel/1", "satchel/2"}},
	{Field: "group", Than: []string{"1"}},
}

func ptr[T any](v T) *T { return &v }

// layZone changes any zone or lays a new one, sometimes as no table can have it.
func layZone(r *Dice, t *table.Table, actor table.Seat) table.Action {
	var zones []table.PlaceID
	for _, id := range t.PlaceIDs() {
		if !t.Places[id].Kind.Passing() {
			zones = append(zones, id)
		}
	}
	a := table.LayZone{Zone: oneOf(r, append(zones, "", "", "none"))}
	if a.Zone == "" && r.Int(0, 2) == 0 {
		a.Like = oneOf(r, zones)
	}
	for range r.Int(1, 3) {
		switch r.Int(0, 8) {
		case 0:
			a.Kind = oneOf(r, []table.Kind{table.Pile, table.Row, table.Grid, table.Hand, table.Loose})
		case 1:
			a.Sight = ptr(oneOf(r, []table.Sight{table.Open, table.OwnerOnly, table.None}))
		case 2:
			a.Owner = ptr(anySeat(r))
		case 3:
			a.X, a.Y = ptr(r.Float(-50, 1000)), ptr(r.Float(0, 600))
		case 4:
			a.Wide, a.Turn = ptr(r.Float(1, 300)), ptr(r.Int(0, 400))
		case 5:
			a.Capacity = ptr(r.Int(-1, 8))
		case 6:
			a.Arrival = &table.Arrival{Side: oneOf(r, []table.Side{"", table.Front, table.Back}), Bottom: r.Int(0, 1) == 0}
		case 7:
			a.Grid = &grid.Grid{Shape: oneOf(r, []grid.Shape{grid.Square, grid.Hex}), Columns: r.Int(0, 5), Rows: 3}
		default:
			a.Name, a.Locked = ptr(oneOf(r, []string{"sky", "west bank", ""})), ptr(r.Int(0, 3) == 0)
		}
	}
	if a.Owner == nil && (a.Sight != nil && *a.Sight == table.OwnerOnly || a.Kind == table.Hand) {
		a.Owner = ptr(actor)
	}
	return a
}

// layPiece changes any piece but a token, or lays a new one: tokens are counted.
func layPiece(r *Dice, t *table.Table, _ table.Seat) table.Action {
	var pieces []table.PieceID
	for _, id := range slices.Sorted(maps.Keys(t.Pieces)) {
		if t.Pieces[id].Kind != table.Token {
			pieces = append(pieces, id)
		}
	}
	a := table.LayPiece{Piece: oneOf(r, append(pieces, "", "", "none"))}
	if a.Piece == "" {
		a.Kind = oneOf(r, []table.PieceKind{table.Counter, table.Die, table.Spinner, table.Timer, table.Note, table.Mat, table.Cue, "kite"})
		if len(pieces) > 0 && r.Int(0, 1) == 0 {
			a.Kind, a.Like = "", oneOf(r, pieces)
		}
	}
	switch r.Int(0, 4) {
	case 0:
		a.X, a.Y = ptr(r.Float(-50, 1000)), ptr(r.Float(0, 600))
	case 1:
		a.Value, a.Bounds = ptr(r.Int(0, 5)), &table.Bounds{Most: ptr(4)}
	case 2:
		a.Sectors = &[]table.Sector{{Name: "north"}, {Name: oneOf(r, []string{"south", ""})}}
	case 3:
		if p := t.Pieces[a.Piece]; a.Kind == table.Timer || p != nil && p.Kind == table.Timer {
			a.Seconds = ptr(r.Int(0, 5))
		} else {
			a.Text = ptr("shuffle sky")
		}
	default:
		a.Name, a.Locked = ptr(oneOf(r, []string{"kite", "gull"})), ptr(r.Int(0, 3) == 0)
	}
	return a
}

// takeOff takes off a zone, or a piece that is no token.
func takeOff(r *Dice, t *table.Table, _ table.Seat) table.Action {
	if r.Int(0, 2) == 0 {
		return table.TakeOff{Piece: oneOf(r, []table.PieceID{"chart", "rules", "piece1", "piece2"})}
	}
	return table.TakeOff{Zone: oneOf(r, []table.PlaceID{"zone1", "zone2", "zone1", "vault", "sky", "letters", "marsh", "satchel/2", "satchel/3"}), Cards: oneOf(r, []string{"", "felt"})}
}

func anySeat(r *Dice) table.Seat { return table.Seat(r.Int(0, 4)) }

// satchels are the hands of others that hold cards, or all.
func satchels(t *table.Table, actor table.Seat) []table.PlaceID {
	var full, all []table.PlaceID
	for seat := 1; seat <= len(t.Chairs); seat++ {
		hand := id("satchel", seat)
		all = append(all, hand)
		if p := t.Places[hand]; p != nil && table.Seat(seat) != actor && len(p.Cards) > 0 {
			full = append(full, hand)
		}
	}
	if len(full) > 0 {
		return full
	}
	return all
}

func anyToken(r *Dice, t *table.Table) table.PieceID {
	var tokens []table.PieceID
	for _, id := range slices.Sorted(maps.Keys(t.Pieces)) {
		if t.Pieces[id].Kind == table.Token {
			tokens = append(tokens, id)
		}
	}
	return anyPiece(r, t, oneOf(r, tokens))
}

// anyPiece is mostly the right one.
func anyPiece(r *Dice, t *table.Table, right table.PieceID) table.PieceID {
	if r.Int(0, 4) > 0 {
		return right
	}
	return oneOf(r, append(slices.Sorted(maps.Keys(t.Pieces)), "none"))
}

// anyLook is mostly one of the actor's own.
func anyLook(r *Dice, t *table.Table, actor table.Seat) table.Look {
	for _, id := range slices.Sorted(maps.Keys(t.Looks)) {
		if look := t.Looks[id]; look.Seat == actor || r.Int(0, 3) == 0 {
			return look
		}
	}
	return table.Look{Place: place(r, t)}
}

func anyAsk(r *Dice, t *table.Table) table.Ask {
	ids := slices.Sorted(maps.Keys(t.Asks))
	if len(ids) == 0 {
		return table.Ask{ID: 99}
	}
	return t.Asks[oneOf(r, ids)]
}

// Kinds lists the actions that can be generated.
func Kinds() []string {
	return slices.Sorted(maps.Keys(generators()))
}

// Generate makes an action of a kind that an actor might try, sensible or not.
func Generate(kind string, r *Dice, t *table.Table, actor table.Seat) table.Action {
	return generators()[kind](r, t, actor)
}

// Revision is another edition taken in, as any maker might make one of a table as it is:
// designs that are gone, drawn anew, new or there again, zones and pieces laid otherwise.
// There is one card of each design.
func Revision(r *Dice, t *table.Table) table.Revise {
	before, after := edition(t), edition(t)
	for _, key := range slices.Sorted(maps.Keys(after.Decks)) {
		for _, name := range slices.Sorted(maps.Keys(after.Decks[key].Designs)) {
			design := after.Decks[key].Designs[name]
			switch r.Int(0, 9) {
			case 0:
				delete(after.Decks[key].Designs, name)
				maps.DeleteFunc(after.Cards, func(_ table.CardID, c *table.Card) bool { return c.Deck == key && c.Design == name })
			case 1, 2:
				design.Front = picture(fmt.Sprintf("%s again %d", design.Front.Full, t.Made))
				after.Decks[key].Designs[name] = design
			case 3:
				if leaving(t, key, name) { // it is there again
					after.Cards[table.CardID(1<<30+len(after.Cards))] = &table.Card{Deck: key, Design: name}
				}
			}
		}
		for n := range r.Int(0, 2) {
			name := fmt.Sprintf("%s-new-%d-%d", key, t.Made, n)
			after.Decks[key].Designs[name] = table.Design{Key: name, Name: "New " + name, Front: picture("front-" + name), Back: picture("back-" + key), Fields: map[string]string{"group": "1"}}
			after.Cards[table.CardID(1<<30+len(after.Cards))] = &table.Card{Deck: key, Design: name}
		}
	}
	for _, id := range slices.Sorted(maps.Keys(after.Places)) {
		p := after.Places[id]
		switch r.Int(0, 7) {
		case 0:
			delete(after.Places, id)
		case 1:
			p.X, p.Sight = p.X+10, oneOf(r, []table.Sight{table.Open, table.None})
		case 2:
			delete(before.Places, id) // somebody laid one of the same key
		}
	}
	after.Places["den"] = &table.Place{ID: "den", Name: "den", Kind: table.Row, Sight: table.Open, Wide: 200, High: 95}
	after.Settings.Turn = r.Int(1, 90)
	return table.Revise{Number: 2, Before: before, After: after, New: oneOf(r, []table.NewCards{table.OnTop, table.Underneath, table.ShuffledIn})}
}

// leaving reports whether the card of a design is to leave.
func leaving(t *table.Table, deck, design string) bool {
	for card := range t.Leaving {
		if c := t.Cards[card]; c.Deck == deck && c.Design == design {
			return true
		}
	}
	return false
}

// edition is what an edition would lay that has all the decks and zones of a table.
func edition(t *table.Table) *table.Table {
	e := &table.Table{Decks: map[string]*table.Deck{}, Cards: map[table.CardID]*table.Card{}, Places: map[table.PlaceID]*table.Place{}, Laid: maps.Clone(t.Laid), Settings: t.Settings}
	for key, d := range t.Decks {
		alone := *d
		alone.Designs = maps.Clone(d.Designs)
		e.Decks[key] = &alone
	}
	for id, c := range t.Cards {
		if alone := *c; !t.Leaving[id] {
			e.Cards[id] = &alone
		}
	}
	for id, p := range t.Places {
		if alone := *p; !p.Kind.Passing() {
			alone.Cards = nil
			e.Places[id] = &alone
		}
	}
	return e
}

// Any makes any step of a run on the table as it is. Open asks and looks are
// often answered and used, so that runs get somewhere.
func Any(r *Dice, t *table.Table) Move {
	actor := table.Seat(r.Int(1, len(t.Chairs)))
	kind := oneOf(r, Kinds())
	if len(t.Looks) > 0 && r.Int(0, 3) == 0 {
		look := t.Looks[oneOf(r, slices.Sorted(maps.Keys(t.Looks)))]
		actor, kind = look.Seat, oneOf(r, []string{"reorder", "close", "move", "flip"})
	} else if len(t.Asks) > 0 && r.Int(0, 2) == 0 {
		ask := anyAsk(r, t)
		actor, kind = ask.To, oneOf(r, []string{"agree", "agree", "decline"})
		if r.Int(0, 3) == 0 {
			actor, kind = ask.From, "withdraw"
		}
	} else if r.Int(0, 3) == 0 {
		kind = oneOf(r, []string{"deal", "draw", "move", "shuffle", "flip"})
	}
	return Move{Actor: actor, Action: Generate(kind, r, t, actor)}
}

// AnyOrDue makes any step of a run, or what the service does: when time passes, and when
// another edition is taken in.
func AnyOrDue(r *Dice, t *table.Table) Move {
	if r.Int(0, 40) == 0 && !t.Settings.Ended {
		return Move{Action: Revision(r, t)}
	}
	due := Move{Later: true}
	if all := t.Due(due.Now()); len(all) > 0 && r.Int(0, 4) == 0 {
		due.Action = table.All{Actions: all}
		return due
	}
	return Any(r, t)
}

// Dice make the choices of a generated run, each as likely as any other.
type Dice struct{ s *chance.Stream }

// NewDice makes dice from what a property test draws.
func NewDice(r *rapid.T) *Dice {
	seed := rapid.SliceOfN(rapid.Byte(), 32, 32).Draw(r, "dice")
	return &Dice{chance.Derive(chance.Seed(seed), 0, "dice")}
}

// Int is a number from least to most.
func (d *Dice) Int(least, most int) int { return least + int(d.s.Below(uint64(most-least+1))) }

// Float is a number from least to most.
func (d *Dice) Float(least, most float64) float64 {
	return least + (most-least)*float64(d.Int(0, 1000))/1000
}

func oneOf[T any](d *Dice, all []T) T { return all[d.Int(0, len(all)-1)] }

// some are one to most different ones of all.
func some[T any](d *Dice, all []T, most int) []T {
	var chosen []T
	for _, i := range d.s.Shuffle(len(all))[:d.Int(1, min(most, len(all)))] {
		chosen = append(chosen, all[i])
	}
	return chosen
}

// stocked is mostly a place that has cards and that the actor may take from.
func stocked(r *Dice, t *table.Table, actor table.Seat) table.PlaceID {
	var ids []table.PlaceID
	for _, id := range t.PlaceIDs() {
		if p := t.Places[id]; len(p.Cards) > 0 && (p.Sight != table.OwnerOnly || p.Owner == actor) {
			ids = append(ids, id)
		}
	}
	if len(ids) == 0 || r.Int(0, 7) == 0 {
		return place(r, t)
	}
	return oneOf(r, ids)
}

func place(r *Dice, t *table.Table) table.PlaceID {
	if r.Int(0, 9) == 0 {
		return oneOf(r, []table.PlaceID{"marsh/A1", "marsh/B2", "marsh/Z9"})
	}
	return oneOf(r, t.PlaceIDs())
}

func pick(r *Dice, t *table.Table, actor table.Seat) table.Pick {
	return pickFrom(r, t, actor, t.Places[stocked(r, t, actor)])
}

// pickFrom picks cards of a place: the ones before the actor's eyes one by one,
// by names that everyone can read, or by number and filter.
func pickFrom(r *Dice, t *table.Table, actor table.Seat, p *table.Place) table.Pick {
	if p == nil {
		return table.Pick{From: "nowhere"}
	}
	if p.Of != "" && r.Int(0, 1) == 0 {
		p = t.Places[p.Of] // the whole grid
	}
	var seen []table.CardID
	var names []string
	for i, card := range p.Cards {
		if t.Audience(p, i).Includes(actor) {
			seen = append(seen, card)
		}
		if t.FrontSeen(0, p, i) {
			names = append(names, t.Design(card).Name)
		}
	}
	by := r.Int(0, 4)
	if len(seen) > 0 && by > 1 {
		cards := some(r, seen, 3)
		return table.Pick{Cards: table.Handles(cards...)}
	}
	if len(names) > 0 && by == 1 {
		return table.Pick{From: p.ID, Names: []string{oneOf(r, names)}}
	}
	which := oneOf(r, []table.Which{"", table.Top, table.Bottom, table.Every, table.ByChance})
	k := table.Pick{From: p.ID, Which: which, Count: r.Int(0, 3), UpTo: r.Int(0, 1) == 1}
	if r.Int(0, 2) == 0 {
		k.Where = &table.Filter{Field: "group", Is: oneOf(r, []string{"", "≠", "<", "≥"}), Than: []string{"1"}}
	} else if r.Int(0, 5) == 0 {
		k.Where = &table.Filter{Not: &table.Filter{In: []table.PlaceID{place(r, t), "marsh/A1"}}}
	}
	if k.Where != nil && r.Int(0, 2) == 0 {
		k.Where = located(r, t, k.Where, p.ID)
	}
	return k
}

// located is a filter that asks where cards lie, too: in the place that is searched or
// not, in others, nested, either way round.
func located(r *Dice, t *table.Table, by *table.Filter, searched table.PlaceID) *table.Filter {
	where := table.Filter{In: oneOf(r, [][]table.PlaceID{{searched}, {searched}, {place(r, t)}, {place(r, t), searched}})}
	if r.Int(0, 1) == 0 {
		inner := where
		where = table.Filter{Not: &inner}
	}
	both := []table.Filter{*by, where}
	if r.Int(0, 1) == 0 {
		both = []table.Filter{where, *by}
	}
	whole := table.Filter{And: both}
	if r.Int(0, 1) == 0 {
		whole = table.Filter{Or: both}
	}
	switch r.Int(0, 5) {
	case 0:
		return &table.Filter{Not: &whole}
	case 1:
		return &table.Filter{And: []table.Filter{whole, {Not: &table.Filter{In: []table.PlaceID{place(r, t)}}}}}
	}
	return &whole
}

func target(r *Dice, t *table.Table) table.Target {
	if r.Int(0, 3) == 0 {
		x, y := r.Float(-50, 1000), r.Float(-50, 700)
		return table.Target{X: &x, Y: &y}
	}
	if r.Int(0, 9) == 0 {
		return table.Target{Felt: true}
	}
	to := table.Target{Place: place(r, t), Under: r.Int(0, 1) == 1}
	if r.Int(0, 1) == 1 {
		index := r.Int(0, 8)
		to.Index = &index
	}
	return to
}
