package tabletest

import (
	"fmt"
	"slices"

	"damselfly.example/damselfly/internal/core/table"
)

// Request makes what somebody might ask for whoever wants to learn more than the table
// shows: one to five steps, with searches, names of any card there is, handles that
// were held once, and often a last step that is refused.
func Request(r *Dice, t *table.Table, actor table.Seat, handles []table.Handle) table.Action {
	var lines table.Actions
	for range r.Int(1, 4) {
		lines = append(lines, probing(r, t, actor, handles))
	}
	if r.Int(0, 1) == 0 {
		lines = append(lines, refused(r, t))
	}
	if len(lines) == 1 {
		return lines[0]
	}
	return table.All{Actions: lines}
}

// Search makes a sequence of which what is searched decides, and nothing else: often of few hidden
// cards, and with a last step that is mostly refused.
func Search(r *Dice, t *table.Table, actor table.Seat) table.Action {
	var lines table.Actions
	from := stocked(r, t, actor)
	if r.Int(0, 1) == 0 {
		from = oneOf(r, []table.PlaceID{"dock/1", "dock/2", "dock/3"})
		lines = append(lines, table.Draw{From: stocked(r, t, actor), Count: r.Int(1, 2), To: from})
	}
	return table.All{Actions: append(lines, searching(r, t, from), refused(r, t))}
}

// Touching makes a step that picks a card by its name in a place, or else by what its group is, and does
// something there.
func Touching(r *Dice, t *table.Table, from table.PlaceID, name string) table.Action {
	k := table.Pick{From: from, Names: []string{name}}
	if r.Int(0, 1) == 0 {
		k = table.Pick{From: from, Where: &table.Filter{Field: oneOf(r, []string{"name", "group"}), Than: []string{oneOf(r, []string{name, "1"})}}}
	}
	return oneOf(r, []table.Action{
		table.Rotate{Pick: k}, table.Flip{Pick: k}, table.Move{Pick: k, To: table.Target{Place: from, Under: true}}, table.Move{Pick: k, To: table.Target{Place: place(r, t)}},
		table.Sort{Place: from, By: "name"}, table.Shuffle{Place: from}, table.ShowCards{Pick: k},
	})
}

// inOne are the kinds of action that may be part of a longer one.
var inOne = slices.DeleteFunc(Kinds(), func(kind string) bool {
	return slices.Contains([]string{"all", "sit", "hand-on", "free", "change-seat", "keys", "end", "undo", "lapse"}, kind)
})

// probing makes a step that teaches its actor something, or any other.
func probing(r *Dice, t *table.Table, actor table.Seat, handles []table.Handle) table.Action {
	from := stocked(r, t, actor)
	to := table.Target{Place: place(r, t)}
	switch r.Int(0, 11) {
	case 0:
		return table.Move{Pick: table.Pick{From: from, Names: []string{anyName(r)}}, To: to}
	case 1:
		if len(handles) > 0 {
			return table.Move{Pick: table.Pick{Cards: []table.Handle{oneOf(r, handles)}}, To: to}
		}
	case 2:
		others := &table.Filter{In: slices.DeleteFunc(t.PlaceIDs(), func(id table.PlaceID) bool { return id == from })}
		return table.Gather{Deck: oneOf(r, []string{"letters", "weather"}), Where: oneOf(r, []*table.Filter{nil, {In: []table.PlaceID{from}}, {Not: others}}), Shuffle: r.Int(0, 1) == 0}
	case 3:
		return searching(r, t, from)
	case 4:
		return table.Shuffle{Place: from}
	case 5:
		return table.Draw{From: from, Count: r.Int(1, 3), To: oneOf(r, []table.PlaceID{"", "dock/1", "outbox", "letters"})}
	case 6:
		return table.Peek{Place: from, Count: r.Int(0, 3)}
	case 7:
		return table.Move{Pick: table.Pick{From: from, Which: table.ByChance, Count: r.Int(1, 3)}, To: to}
	case 8:
		return oneOf(r, []table.Action{table.First{}, table.Roll{Pieces: []table.PieceID{"wind"}}, table.Separate{Place: from, By: oneOf(r, []string{"group", "deck"})}})
	}
	return Generate(oneOf(r, inOne), r, t, actor)
}

// searching makes a step that searches a place.
func searching(r *Dice, t *table.Table, from table.PlaceID) table.Action {
	where := oneOf(r, []*table.Filter{
		{Field: "name", Than: []string{anyName(r)}}, {Field: "name", Than: []string{anyName(r)}}, {Field: "group", Than: []string{"1"}}, {Field: "deck", Than: []string{"letters"}},
	})
	where.Is = oneOf(r, []string{"=", "≠"})
	if r.Int(0, 3) > 0 {
		where = located(r, t, where, from)
	}
	some := table.Pick{From: from, Which: oneOf(r, []table.Which{"", table.Every, table.Bottom}), Count: r.Int(0, 3), UpTo: r.Int(0, 1) == 0, Where: where}
	return oneOf(r, []table.Action{table.Move{Pick: some, To: table.Target{Place: place(r, t)}}, table.Rotate{Pick: some}})
}

// refused makes a step that mostly cannot be done.
func refused(r *Dice, t *table.Table) table.Action {
	switch r.Int(0, 5) {
	case 0:
		return table.Move{Pick: table.Pick{From: "nowhere"}, To: table.Target{Place: "sky"}}
	case 1:
		return table.Draw{From: place(r, t), Count: r.Int(3, 25)}
	case 2:
		return table.Move{Pick: table.Pick{From: place(r, t), Names: []string{anyName(r)}}, To: table.Target{Place: "outbox"}}
	case 3:
		return table.Move{Pick: table.Pick{From: place(r, t), Count: r.Int(1, 7)}, To: table.Target{Place: "sky"}}
	case 4:
		return table.Close{Place: place(r, t)}
	}
	return table.SetCounter{Piece: "day", By: 50}
}

func anyName(r *Dice) string {
	if r.Int(0, 1) == 0 {
		return fmt.Sprintf("Letter %02d", r.Int(0, 19))
	}
	return fmt.Sprintf("Weather %02d", r.Int(0, 9))
}
