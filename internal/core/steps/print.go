package steps

import (
	"fmt"
	"reflect"
	"strings"

	"damselfly.example/damselfly/internal/core/table"
)

// Print writes an action as Steps that Read turns into the same action for the
// same actor at the same table. ok is false for what has no words, such as
// cards named by handles.
func Print(a table.Action, t *table.Table, actor table.Seat) (text string, ok bool) {
	p := &printer{table: t, actor: actor, keywords: language.keywords, ok: true}
	text = p.action(a)
	return text, p.ok
}

type printer struct {
	table *table.Table
	actor table.Seat
	keywords
	ok bool
}

// wordless notes that something cannot be said.
func (p *printer) wordless() string {
	p.ok = false
	return ""
}

func (p *printer) action(a table.Action) string {
	all, several := a.(table.All)
	if !several {
		if write := language.prints[reflect.TypeOf(a)]; write != nil {
			return write(p, a)
		}
		return p.wordless()
	}
	lines := make([]string, len(all.Actions))
	for i, one := range all.Actions {
		if _, nested := one.(table.All); nested || len(all.Actions) < 2 {
			return p.wordless()
		}
		lines[i] = p.action(one)
	}
	if len(lines) == 0 {
		return p.wordless()
	}
	return strings.Join(lines, "\n")
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
	of, address := id.Parts()
	if g := p.table.Places[of]; g != nil && g.Kind == table.Grid {
		if at, ok := g.Grid.Parse(address); ok {
			return p.quote(g.Name) + " " + at.Name()
		}
	}
	place := p.table.Places[id]
	switch {
	case place == nil:
		return p.wordless()
	case place.Kind == table.Loose:
		return `"` + string(id) + `"`
	case place.Owner == 0:
		return p.quote(place.Name)
	case place.Owner == p.actor:
		return "my " + p.quote(place.Name)
	}
	return fmt.Sprintf("%s of seat %d", p.quote(place.Name), place.Owner)
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
			return p.quote(piece.Name)
		}
	}
	return p.wordless()
}

func (p *printer) target(to table.Target) string {
	onto := " to "
	if to.Under {
		onto = " under "
	}
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
	where := p.where(k.Where)
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
