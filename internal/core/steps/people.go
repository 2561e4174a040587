package steps

import (
	"fmt"
	"strings"

	"damselfly.example/damselfly/internal/core/table"
)

// tableRows are about how the table is laid, and the game as a whole.
var tableRows = []row{
	{ // "run" ("setup" | cue)
		verbs: []string{"run"},
		read: func(r *reader) table.Action {
			if r.accept("setup") {
				return table.Run{}
			}
			return table.Run{Cue: r.piece(table.Cue)}
		},
		print: printed(func(p *printer, a table.Run) string {
			if a.Cue == "" {
				return "run setup"
			}
			return "run " + p.piece(a.Cue, table.Cue)
		}),
		say: said{"run": func(t told) string {
			if t.Piece == "" {
				return "run setup"
			}
			return "run " + t.quote(t.Piece)
		}},
	},
	{say: said{
		"lay-zone":  func(t told) string { return "# " + laid(t.spot(t.To), t.Text) },
		"lay-piece": func(t told) string { return "# " + laid(t.Piece, t.Text) },
		"take-off": func(t told) string {
			if t.From != nil {
				return "# takes " + t.spot(t.From) + " off the table"
			}
			return "# takes " + t.Piece + " off the table"
		},
		"lay-table": func(told) string { return "# changes the table" },
		"door":      func(t told) string { return "# " + t.Text },
		"keys":      func(t told) string { return "# gives the room's keys to " + t.seat(t.To) },
		"end":       func(told) string { return "# ends the game" },
	}},
}

// peopleRows are about people and what they say.
var peopleRows = []row{
	{ // "say" text
		verbs: []string{"say"},
		read: func(r *reader) table.Action {
			w := r.take()
			if !w.quoted || w.text == "" {
				r.fail(w, "expected what to say in quotes, found %s", found(w))
			}
			return table.Say{Text: w.text}
		},
		print: printed(func(p *printer, a table.Say) string {
			if a.Text == "" || strings.ContainsAny(a.Text, "\"\n") {
				return p.wordless()
			}
			return `say "` + a.Text + `"`
		}),
		say: said{"say": func(t told) string { return `say "` + strings.ReplaceAll(t.Text, `"`, "'") + `"` }},
	},
	{ // "undo"
		verbs: []string{"undo"},
		read:  func(*reader) table.Action { return table.Undo{} },
		print: printed(func(p *printer, a table.Undo) string {
			if a.Anyone {
				return p.wordless()
			}
			return "undo"
		}),
		say: said{"undo": func(t told) string { return "undo  # " + strings.ReplaceAll(t.Text, "-", " ") }},
	},
	{say: said{
		"sit":         func(t told) string { return fmt.Sprintf("# sits at seat %d", t.Count) },
		"free":        func(t told) string { return fmt.Sprintf("# leaves seat %d", t.Count) },
		"hand-on":     func(t told) string { return "# hands the seat on to " + t.Text },
		"rename":      func(t told) string { return "# is called " + t.Text },
		"change-seat": func(t told) string { return fmt.Sprintf("# moves to seat %d", t.Count) },
	}},
}

// laid says that something new was laid, or what of it was changed.
func laid(what, changes string) string {
	if changes == "new" {
		return "lays " + what
	}
	return "changes " + what + ": " + changes
}
