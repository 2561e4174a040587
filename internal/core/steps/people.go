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
		say: said{"run": of(func(t told, d table.OnPiece) string {
			if d.Piece == "" {
				return "run setup"
			}
			return "run " + t.quote(d.Piece)
		})},
	},
	{say: said{
		"lay-zone":  of(func(t told, d table.Laid) string { return "# " + laid(t.spot(d.Zone), d.What) }),
		"lay-piece": of(func(_ told, d table.Laid) string { return "# " + laid(d.Piece, d.What) }),
		"take-off": of(func(t told, d table.TakenOff) string {
			if d.Zone != nil {
				return "# takes " + t.spot(d.Zone) + " off the table"
			}
			return "# takes " + d.Piece + " off the table"
		}),
		"lay-table":  of(func(told, table.Wordless) string { return "# changes the table" }),
		"door":       of(func(_ told, d table.Worded) string { return "# " + d.Text }),
		"keys":       of(func(t told, d table.ToSeat) string { return "# gives the room's keys to " + t.seat(d.To) }),
		"revise":     of(func(_ told, d table.Worded) string { return "# takes in " + d.Text }),
		"bring-deck": of(func(_ told, d table.Worded) string { return "# brings the deck " + d.Text }),
		"bookmark":   of(func(_ told, d table.Worded) string { return "# keeps this table as the bookmark " + d.Text }),
		"leave": of(func(t told, d table.Turned) string {
			return "# " + listed(t.Names) + " leaves the game, because the kit has it no more"
		}),
		"end": of(func(told, table.Wordless) string { return "# ends the game" }),
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
		say: said{"say": of(func(_ told, d table.Worded) string { return `say "` + strings.ReplaceAll(d.Text, `"`, "'") + `"` })},
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
		say: said{"undo": of(func(_ told, d table.Worded) string { return "undo  # " + strings.ReplaceAll(d.Text, "-", " ") })},
	},
	{say: said{
		"sit":         of(func(_ told, d table.AtSeat) string { return fmt.Sprintf("# sits at seat %d", d.Seat) }),
		"free":        of(func(_ told, d table.AtSeat) string { return fmt.Sprintf("# leaves seat %d", d.Seat) }),
		"hand-on":     of(func(_ told, d table.Worded) string { return "# hands the seat on to " + d.Text }),
		"rename":      of(func(_ told, d table.Worded) string { return "# is called " + d.Text }),
		"change-seat": of(func(_ told, d table.AtSeat) string { return fmt.Sprintf("# moves to seat %d", d.Seat) }),
	}},
}

// laid says that something new was laid, or what of it was changed.
func laid(what, changes string) string {
	if changes == "new" {
		return "lays " + what
	}
	return "changes " + what + ": " + changes
}
