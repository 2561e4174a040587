package steps

import (
	"fmt"
	"strings"

	"damselfly/internal/core/grid"
	"damselfly/internal/core/table"
)

// Print writes an action as Steps that Read turns into the same action for the
// same actor at the same table. ok is false for what has no words, such as
// cards named by handles.
func Print(a table.Action, t *table.Table, actor table.Seat) (text string, ok bool) {
	p := &printer{table: t, actor: actor, ok: true}
	text = p.action(a)
	return text, p.ok
}

type printer struct {
	table *table.Table
	actor table.Seat
	ok    bool
}

// wordless notes that something cannot be said.
func (p *printer) wordless() string {
	p.ok = false
	return ""
}

func (p *printer) action(a table.Action) string {
	switch a := a.(type) {
	case table.All:
		lines := make([]string, len(a.Actions))
		for i, one := range a.Actions {
			if _, nested := one.(table.All); nested || len(a.Actions) < 2 {
				return p.wordless()
			}
			lines[i] = p.action(one)
		}
		if len(lines) == 0 {
			return p.wordless()
		}
		return strings.Join(lines, "\n")
	case table.Shuffle:
		return "shuffle " + p.place(a.Place)
	case table.ShuffleIn:
		return "shuffle " + p.place(a.From) + " into " + p.place(a.Into)
	case table.Cut:
		return "cut " + p.place(a.Place) + numbered(" at %d", a.At)
	case table.Sort:
		return "sort " + p.place(a.Place) + " by " + quote(a.By) + when(a.Down, " down")
	case table.Separate:
		return "separate " + p.place(a.Place) + " by " + quote(a.By)
	case table.Draw:
		to := ""
		if a.To != "" {
			to = " to " + p.place(a.To)
		}
		return "draw" + when(a.UpTo, " up to") + numbered(" %d", a.Count) + " from " + p.place(a.From) + to
	case table.TopUp:
		if a.UpTo {
			return p.wordless()
		}
		return "fill " + map[bool]string{true: "every", false: "my"}[a.Every] + fmt.Sprintf(" hand to %d from ", a.To) + p.place(a.From)
	case table.Exchange:
		return "exchange " + p.pick(a.Pick) + " to " + p.place(a.Away) + " for " + p.place(a.Draw)
	case table.Flip:
		face := map[table.Side]string{table.Front: " face up", table.Back: " face down"}[a.Side]
		return "flip " + p.pick(a.Pick) + face
	case table.Rotate:
		return "rotate " + p.pick(a.Pick) + numbered(" by %d", a.Steps)
	case table.Move:
		return "move " + p.pick(a.Pick) + p.target(a.To)
	case table.Spread:
		by := ""
		if a.By != "" {
			by = " by " + a.By
		}
		return "spread " + p.pick(a.Pick) + " over " + p.place(a.Over) + by
	case table.Collect:
		return "collect " + p.place(a.From) + " onto " + p.place(a.Onto)
	case table.Peek:
		return "peek" + numbered(" %d of", a.Count) + " " + p.place(a.Place)
	case table.Close:
		return "close " + p.place(a.Place)
	}
	return p.other(a)
}

// other writes actions about seats and pieces.
func (p *printer) other(a table.Action) string {
	switch a := a.(type) {
	case table.Gather:
		if p.table.Decks[a.Deck] == nil {
			return p.wordless()
		}
		where := ""
		if a.Where != nil {
			where = " where " + p.filter(*a.Where)
		}
		return "gather " + quote(a.Deck) + where + when(a.Shuffle, " and shuffle")
	case table.ShowCards:
		if a.Hide {
			if a.To != 0 || a.Seconds != 0 {
				return p.wordless()
			}
			return "hide " + p.pick(a.Pick)
		}
		if a.To == 0 {
			return "show " + p.pick(a.Pick) + seconds(a.Seconds)
		}
		return "show " + p.pick(a.Pick) + " to " + p.seat(a.To) + seconds(a.Seconds)
	case table.Pass:
		if a.To == 0 {
			return "pass"
		}
		return "pass to " + p.seat(a.To)
	case table.First:
		if a.Seat == 0 {
			return "choose first seat by chance"
		}
		return "choose " + p.seat(a.Seat) + " first"
	case table.TurnRound:
		return "reverse turns"
	case table.SetCounter:
		if a.To != nil {
			return "set " + p.piece(a.Piece, table.Counter) + fmt.Sprintf(" to %d", *a.To)
		}
		return fmt.Sprintf("add %d to ", a.By) + p.piece(a.Piece, table.Counter)
	case table.Roll:
		names := make([]string, len(a.Pieces))
		for i, id := range a.Pieces {
			names[i] = p.piece(id, table.Die, table.Spinner)
		}
		return "roll " + strings.Join(names, ", ")
	case table.MovePiece:
		if a.Flip || a.X == nil || a.Y == nil || *a.X < 0 || *a.Y < 0 {
			return p.wordless()
		}
		return "place " + someOf(a.Count) + p.piece(a.Piece, anyPiece...) + fmt.Sprintf(" at %v %v", *a.X, *a.Y)
	case table.Stack:
		return "stack " + someOf(a.Count) + p.piece(a.Piece, table.Token) + " onto " + p.piece(a.Onto, table.Token)
	case table.HandMarker:
		return "hand " + p.piece(a.Piece, table.SeatMark) + " to " + p.seat(a.Seat)
	case table.RunTimer:
		if a.Do != "start" && a.Do != "stop" && a.Do != "reset" {
			return p.wordless()
		}
		return a.Do + " " + p.piece(a.Piece, table.Timer)
	case table.Say:
		if a.Text == "" || strings.ContainsAny(a.Text, "\"\n") {
			return p.wordless()
		}
		return `say "` + a.Text + `"`
	case table.Run:
		if a.Cue == "" {
			return "run setup"
		}
		return "run " + p.piece(a.Cue, table.Cue)
	case table.Undo:
		if !a.Anyone {
			return "undo"
		}
	}
	return p.wordless()
}

func when(is bool, text string) string {
	if is {
		return text
	}
	return ""
}

func numbered(format string, n int) string {
	if n == 0 {
		return ""
	}
	return fmt.Sprintf(format, n)
}

func seconds(n int) string { return numbered(" for %d seconds", n) }
func someOf(n int) string  { return numbered("%d of ", n) }

// place writes a place so that it is found again.
func (p *printer) place(id table.PlaceID) string {
	if of, address, isCell := strings.Cut(string(id), "/"); isCell {
		if g := p.table.Places[table.PlaceID(of)]; g != nil && g.Kind == table.Grid {
			if at, ok := g.Grid.Parse(address); ok {
				return quote(g.Name) + " " + grid.Cell{Column: at.Column, Row: at.Row}.Name()
			}
		}
	}
	place := p.table.Places[id]
	switch {
	case place == nil:
		return p.wordless()
	case place.Kind == table.Loose:
		return `"` + string(id) + `"`
	case place.Owner == 0:
		return quote(place.Name)
	case place.Owner == p.actor:
		return "my " + quote(place.Name)
	}
	return fmt.Sprintf("%s of seat %d", quote(place.Name), place.Owner)
}

func (p *printer) seat(seat table.Seat) string {
	if p.table.Chair(seat) == nil {
		return p.wordless()
	}
	return fmt.Sprintf("seat %d", seat)
}

func (p *printer) piece(id table.PieceID, kinds ...table.PieceKind) string {
	piece := p.table.Pieces[id]
	for _, kind := range kinds {
		if piece != nil && piece.Kind == kind {
			return quote(piece.Name)
		}
	}
	return p.wordless()
}

func (p *printer) target(to table.Target) string {
	onto := map[bool]string{true: " under ", false: " to "}[to.Under]
	switch {
	case to.Index != nil, to.Felt && to.X != nil:
		return p.wordless()
	case to.Felt:
		return onto + "felt"
	case to.X != nil && to.Y != nil && to.Place == "" && *to.X >= 0 && *to.Y >= 0:
		return onto + fmt.Sprintf("felt at %v %v", *to.X, *to.Y)
	}
	return onto + p.place(to.Place)
}

func (p *printer) pick(k table.Pick) string {
	if len(k.Cards) > 0 || len(k.Names) > 0 && (k.Which != "" || k.Where != nil || k.Count > 0) {
		return p.wordless()
	}
	if len(k.Names) > 0 {
		names := make([]string, len(k.Names))
		for i, name := range k.Names {
			names[i] = `"` + name + `"`
		}
		return strings.Join(names, ", ") + " of " + p.place(k.From)
	}
	where := ""
	if k.Where != nil {
		where = " where " + p.filter(*k.Where)
	}
	count := when(k.UpTo, "up to ") + numbered("%d ", k.Count)
	switch {
	case k.Which == table.Every && count == "":
		return "all of " + p.place(k.From) + where
	case k.Which == table.ByChance && k.Count > 0:
		return count + "by chance of " + p.place(k.From) + where
	case k.Which == table.Top, k.Which == table.Bottom:
		return string(k.Which) + " " + count + "of " + p.place(k.From) + where
	case k.Which == "" && count == "":
		return p.place(k.From) + where
	case k.Which == "" && k.Count > 0:
		return count + "of " + p.place(k.From) + where
	}
	return p.wordless()
}

func (p *printer) filter(f table.Filter) string {
	switch {
	case f.Not != nil:
		return "not (" + p.filter(*f.Not) + ")"
	case f.And != nil:
		return p.chain(f.And, " and ")
	case f.Or != nil:
		return p.chain(f.Or, " or ")
	case f.In != nil:
		places := make([]string, len(f.In))
		for i, id := range f.In {
			places[i] = p.place(id)
		}
		return "in (" + strings.Join(places, ", ") + ")"
	}
	values := make([]string, len(f.Than))
	for i, value := range f.Than {
		values[i] = `"` + value + `"`
	}
	switch {
	case f.Is == "in":
		return quote(f.Field) + " in (" + strings.Join(values, ", ") + ")"
	case f.Is == "" || len(values) != 1:
		return p.wordless()
	}
	return quote(f.Field) + " " + f.Is + " " + values[0]
}

func (p *printer) chain(parts []table.Filter, with string) string {
	texts := make([]string, len(parts))
	for i, part := range parts {
		texts[i] = "(" + p.filter(part) + ")"
	}
	return strings.Join(texts, with)
}
