package steps

import (
	"fmt"

	"damselfly.example/damselfly/internal/core/table"
)

// sightRows are about how cards lie, and about who sees them.
var sightRows = []row{
	{ // "flip" pick ["face" ("up" | "down")]
		verbs: []string{"flip"},
		read:  func(r *reader) table.Action { return r.flip() },
		print: printed(func(p *printer, a table.Flip) string { return "flip " + p.pick(a.Pick) + face(a.Side) }),
		say:   said{"flip": of(func(t told, d table.Turned) string { return t.picked(d.Chosen, "flip", face(d.Side)) })},
	},
	{ // "turn" pick ["face" ("up" | "down")] [("to" | "onto" | "under") target]
		verbs: []string{"turn"},
		read: func(r *reader) table.Action {
			flip := r.flip()
			if !r.peek().is("to", "onto", "under") {
				return flip
			}
			a := table.Move{Pick: flip.Pick, Side: flip.Side}
			a.To.Under = r.take().is("under")
			a.To = r.target(a.To)
			return a
		},
	},
	{ // "rotate" pick ["by" number]
		verbs: []string{"rotate"},
		read: func(r *reader) table.Action {
			a := table.Rotate{Pick: r.pick()}
			if r.accept("by") {
				a.Steps = r.number(-table.MaxTurn, table.MaxTurn)
			}
			return a
		},
		print: printed(func(p *printer, a table.Rotate) string {
			return "rotate " + p.pick(a.Pick) + numbered(" by %d", a.Steps)
		}),
		say: said{"rotate": of(func(t told, d table.Turned) string { return t.picked(d.Chosen, "rotate", "") })},
	},
	{ // "peek" [number ["cards"] "of"] ["at"] place
		verbs: []string{"peek"},
		read: func(r *reader) table.Action {
			a := table.Peek{Count: r.count()}
			if a.Count > 0 {
				r.expect("of")
			}
			r.accept("at")
			a.Place = r.place()
			return a
		},
		print: printed(func(p *printer, a table.Peek) string {
			return "peek" + numbered(" %d of", a.Count) + " " + p.place(a.Place)
		}),
		say: said{
			"peek": of(func(t told, d table.Looked) string {
				return t.comment(fmt.Sprintf("peek %d of %s", d.Count, t.spot(d.From)))
			}),
			"reorder": of(reordered),
		},
	},
	{ // "close" place
		verbs: []string{"close"},
		read:  func(r *reader) table.Action { return table.Close{Place: r.place()} },
		print: printed(func(p *printer, a table.Close) string { return "close " + p.place(a.Place) }),
		say:   said{"close": of(func(t told, d table.Looked) string { return "close " + t.spot(d.From) })},
	},
	{ // "show" pick ["to" ("all" | seat)] ["for" number "seconds"]
		verbs: []string{"show"},
		read: func(r *reader) table.Action {
			a := table.ShowCards{Pick: r.pick()}
			if r.accept("to") && !r.accept("all") {
				a.To = r.seat()
			}
			if r.accept("for") {
				a.Seconds = r.number(1, 3600)
				r.expect("seconds", "second")
			}
			return a
		},
		print: printed(func(p *printer, a table.ShowCards) string {
			switch {
			case a.Hide && (a.To != 0 || a.Seconds != 0):
				return p.wordless()
			case a.Hide:
				return "hide " + p.pick(a.Pick)
			case a.To == 0:
				return "show " + p.pick(a.Pick) + seconds(a.Seconds)
			}
			return "show " + p.pick(a.Pick) + " to " + p.seat(a.To) + seconds(a.Seconds)
		}),
		say: said{
			"show": of(func(t told, d table.ShownTo) string {
				if d.To == nil {
					return t.picked(d.Chosen, "show", " to all"+seconds(d.Seconds))
				}
				return t.picked(d.Chosen, "show", " to "+t.seat(d.To)+seconds(d.Seconds))
			}),
			"hide": of(func(t told, d table.ShownTo) string { return t.picked(d.Chosen, "hide", "") }),
		},
	},
	{ // "hide" pick
		verbs: []string{"hide"},
		read:  func(r *reader) table.Action { return table.ShowCards{Pick: r.pick(), Hide: true} },
	},
	{ // "ask" seat "for" number ["cards"] | "ask" seat "to" "show" number ["cards"]
		verbs: []string{"ask"},
		read: func(r *reader) table.Action {
			w := r.peek()
			seat := r.seat()
			a := table.MakeAsk{For: "take"}
			if hand := r.table.HandOf(seat); hand != nil {
				a.Place = hand.ID
			} else {
				r.fail(w, "seat %d has no hand on this table", seat)
			}
			if r.accept("to") {
				a.For = "peek"
				r.expect("show")
			} else {
				r.expect("for")
			}
			a.Count = r.count()
			return a
		},
		say: said{"ask": of(func(t told, d table.Asked) string {
			switch d.For {
			case "undo":
				return fmt.Sprintf("# asks %s to agree to an undo, by which %s would go back to where nobody else sees them", t.seat(d.From), cards(d.Count))
			case "peek":
				return fmt.Sprintf("ask %s to show %d", t.seat(d.From), d.Count)
			}
			return fmt.Sprintf("ask %s for %d", t.seat(d.From), d.Count)
		})},
	},
	{ // "agree" ["with" name {"," name}]: to the latest ask; the names are the cards to give or show
		verbs: []string{"agree"},
		read: func(r *reader) table.Action {
			a := table.Agree{Ask: r.askTo()}
			if !r.accept("with") {
				return a
			}
			for {
				w := r.take()
				if w.text == "" || w.text == "," {
					r.fail(w, "expected the name of a card, found %s", found(w))
				}
				if a.Names = append(a.Names, w.text); !r.accept(",") {
					return a
				}
			}
		},
		say: said{"agree": of(func(told, table.ToSeat) string { return "agree" })},
	},
	{ // "decline"
		verbs: []string{"decline"},
		read:  func(r *reader) table.Action { return table.Decline{Ask: r.askTo()} },
		say:   said{"decline": of(func(told, table.ToSeat) string { return "decline" })},
	},
	{ // "withdraw"
		verbs: []string{"withdraw"},
		read: func(r *reader) table.Action {
			return table.Withdraw{Ask: r.latest("of yours", func(a table.Ask) bool { return a.From == r.actor })}
		},
		say: said{"withdraw": of(func(told, table.ToSeat) string { return "withdraw" })},
	},
}

// flip = pick ["face" ("up" | "down")].
func (r *reader) flip() table.Flip {
	a := table.Flip{Pick: r.pick()}
	if r.accept("face") {
		a.Side = table.Back
		if r.peek().is("up") {
			a.Side = table.Front
		}
		r.expect("up", "down")
	}
	return a
}

func reordered(t told, d table.Looked) string {
	return "# puts the cards of " + t.spot(d.From) + " back in an order of their own" + numbered(", %d underneath", d.Count)
}

// askTo is the latest ask to the actor.
func (r *reader) askTo() int {
	return r.latest("to you", func(a table.Ask) bool { return a.To == r.actor })
}

// latest is the number of the newest ask that fits.
func (r *reader) latest(which string, fits func(table.Ask) bool) (newest int) {
	for id, ask := range r.table.Asks {
		if fits(ask) && id > newest {
			newest = id
		}
	}
	if newest == 0 {
		r.fail(r.peek(), "there is no ask %s", which)
	}
	return newest
}
