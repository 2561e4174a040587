package steps

import (
	"fmt"
	"slices"
	"strings"

	"damselfly.example/damselfly/internal/core/table"
)

// turnRows are about whose turn it is.
var turnRows = []row{
	{ // "pass" ["to" seat]
		verbs: []string{"pass"},
		read: func(r *reader) table.Action {
			var a table.Pass
			if r.accept("to") {
				a.To = r.seat()
			}
			return a
		},
		print: printed(func(p *printer, a table.Pass) string {
			if a.To == 0 {
				return "pass"
			}
			return "pass to " + p.seat(a.To)
		}),
		say: said{"pass": of(func(t told, d table.ToSeat) string { return "pass to " + t.seat(d.To) })},
	},
	{ // "choose" "first" "seat" "by" "chance" | "choose" seat "first"
		verbs: []string{"choose"},
		read: func(r *reader) table.Action {
			if r.acceptAll("first", "seat") {
				r.expect("by")
				r.expect("chance")
				return table.First{}
			}
			a := table.First{Seat: r.seat()}
			r.expect("first")
			return a
		},
		print: printed(func(p *printer, a table.First) string {
			if a.Seat == 0 {
				return "choose first seat by chance"
			}
			return "choose " + p.seat(a.Seat) + " first"
		}),
		say: said{"first": of(func(t told, d table.ToSeat) string {
			if d.By == "chance" {
				return "choose first seat by chance  # " + t.seat(d.To)
			}
			return "choose " + t.seat(d.To) + " first"
		})},
	},
	{ // "reverse" "turns"
		verbs: []string{"reverse"},
		read: func(r *reader) table.Action {
			r.expect("turns")
			return table.TurnRound{}
		},
		print: printed(func(*printer, table.TurnRound) string { return "reverse turns" }),
		say:   said{"turn-round": of(func(told, table.Wordless) string { return "reverse turns" })},
	},
}

// pieceRows are about pieces.
var pieceRows = []row{
	{ // "set" counter "to" number
		verbs: []string{"set"},
		read: func(r *reader) table.Action {
			a := table.SetCounter{Piece: r.piece(table.Counter)}
			r.expect("to")
			n := r.number(-1_000_000_000, 1_000_000_000)
			a.To = &n
			return a
		},
		print: printed(func(p *printer, a table.SetCounter) string {
			if a.To != nil {
				return "set " + p.piece(a.Piece, table.Counter) + fmt.Sprintf(" to %d", *a.To)
			}
			return fmt.Sprintf("add %d to ", a.By) + p.piece(a.Piece, table.Counter)
		}),
		say: said{"set": of(func(t told, d table.OnPiece) string { return fmt.Sprintf("set %s to %d", t.quote(d.Piece), d.Value) })},
	},
	{ // "add" number "to" counter
		verbs: []string{"add"},
		read: func(r *reader) table.Action {
			a := table.SetCounter{By: r.number(-1_000_000, 1_000_000)}
			r.expect("to")
			a.Piece = r.piece(table.Counter)
			return a
		},
	},
	{ // ("roll" | "spin") piece {"," piece}
		verbs: []string{"roll", "spin"},
		read: func(r *reader) table.Action {
			a := table.Roll{Pieces: []table.PieceID{r.piece(table.Die, table.Spinner)}}
			for r.accept(",") {
				a.Pieces = append(a.Pieces, r.piece(table.Die, table.Spinner))
			}
			return a
		},
		print: printed(func(p *printer, a table.Roll) string {
			names := make([]string, len(a.Pieces))
			for i, id := range a.Pieces {
				names[i] = p.piece(id, table.Die, table.Spinner)
			}
			return "roll " + strings.Join(names, ", ")
		}),
		say: said{"roll": of(rolled), "spin": of(rolled)},
	},
	{ // "hand" marker "to" seat
		verbs: []string{"hand"},
		read: func(r *reader) table.Action {
			a := table.HandMarker{Piece: r.piece(table.SeatMark)}
			r.expect("to")
			a.Seat = r.seat()
			return a
		},
		print: printed(func(p *printer, a table.HandMarker) string {
			return "hand " + p.piece(a.Piece, table.SeatMark) + " to " + p.seat(a.Seat)
		}),
		say: said{"hand": of(func(t told, d table.ToSeat) string { return "hand " + t.quote(d.Piece) + " to " + t.seat(d.To) })},
	},
	{ // ("start" | "stop" | "reset") timer
		verbs: []string{"start", "stop", "reset"},
		read:  func(r *reader) table.Action { return table.RunTimer{Do: r.verb, Piece: r.piece(table.Timer)} },
		print: printed(func(p *printer, a table.RunTimer) string {
			if !slices.Contains([]string{"start", "stop", "reset"}, a.Do) {
				return p.wordless()
			}
			return a.Do + " " + p.piece(a.Piece, table.Timer)
		}),
		say: said{
			"start": of(timed), "stop": of(timed), "reset": of(timed),
			"ring": of(func(_ told, d table.OnPiece) string { return "# the time of " + d.Piece + " is up" }),
		},
	},
	{ // "place" [number "of"] piece "at" number number
		verbs: []string{"place"},
		read: func(r *reader) table.Action {
			a := table.MovePiece{Count: r.someOf(), Piece: r.piece(table.PieceKinds...)}
			r.expect("at")
			x, y := r.spot()
			a.X, a.Y = &x, &y
			return a
		},
		print: printed(func(p *printer, a table.MovePiece) string {
			if a.Flip || a.X == nil || a.Y == nil || *a.X < 0 || *a.Y < 0 {
				return p.wordless()
			}
			return "place " + someOf(a.Count) + p.piece(a.Piece, table.PieceKinds...) + fmt.Sprintf(" at %v %v", *a.X, *a.Y)
		}),
		say: said{"move-piece": of(func(t told, d table.PieceMoved) string {
			if len(d.At) != 2 {
				return "# moves " + d.Piece
			}
			return fmt.Sprintf("place %s%s at %.0f %.0f", someOf(d.Count), t.quote(d.Piece), d.At[0], d.At[1])
		})},
	},
	{ // "stack" [number "of"] token "onto" token
		verbs: []string{"stack"},
		read: func(r *reader) table.Action {
			a := table.Stack{Count: r.someOf(), Piece: r.piece(table.Token)}
			r.expect("onto")
			a.Onto = r.piece(table.Token)
			return a
		},
		print: printed(func(p *printer, a table.Stack) string {
			return "stack " + someOf(a.Count) + p.piece(a.Piece, table.Token) + " onto " + p.piece(a.Onto, table.Token)
		}),
		say: said{"stack": of(func(t told, d table.PieceMoved) string {
			return "stack " + someOf(d.Count) + t.quote(d.Piece) + " onto " + t.quote(d.Onto)
		})},
	},
	{say: said{"write": of(func(_ told, d table.OnPiece) string { return "# writes on " + d.Piece })}},
}

func rolled(t told, d table.OnPiece) string { return t.Do + " " + t.quote(d.Piece) + "  # " + d.Up }
func timed(t told, d table.OnPiece) string  { return t.Do + " " + t.quote(d.Piece) }

// someOf = [number "of"]; 0 if left out.
func (r *reader) someOf() int {
	if w := r.peek(); w.quoted || !isNumber(w.text) {
		return 0
	}
	count := r.number(1, table.MaxStack)
	r.expect("of")
	return count
}
