package steps

import (
	"fmt"
	"strings"

	"damselfly.example/damselfly/internal/core/table"
)

// moveRows are about cards that go from place to place.
var moveRows = []row{
	{ // "draw" ["up" "to"] [number ["cards"]] "from" place ["to" place]
		verbs: []string{"draw"},
		read: func(r *reader) table.Action {
			a := table.Draw{UpTo: r.acceptAll("up", "to"), Count: r.count()}
			r.expect("from")
			if a.From = r.place(); r.accept("to", "onto") {
				a.To = r.place()
			}
			return a
		},
		print: printed(func(p *printer, a table.Draw) string {
			to := ""
			if a.To != "" {
				to = " to " + p.place(a.To)
			}
			return "draw" + when(a.UpTo, " up to") + numbered(" %d", a.Count) + " from " + p.place(a.From) + to
		}),
		say: said{"draw": of(drawn), "top-up": of(drawn)},
	},
	{ // "deal" ["up" "to"] number ["cards"] ["from"] place "to" whom {"," number ["cards"] "to" whom}
		verbs: []string{"deal"},
		read: func(r *reader) table.Action {
			a := table.Deal{UpTo: r.acceptAll("up", "to")}
			count := r.dealt()
			r.accept("from")
			a.From = r.place()
			for {
				r.expect("to")
				share, zone := r.whom()
				share.Count = count
				if a.Shares = append(a.Shares, share); zone != "" {
					a.To = zone
				}
				if !r.accept(",") {
					return a
				}
				count = r.dealt()
			}
		},
		say: said{"deal": of(func(t told, d table.Moved) string {
			return t.comment(fmt.Sprintf("deal %d from %s to %s", d.Count, t.spot(d.From), t.seat(d.To)))
		})},
	},
	{ // "fill" ("my" | "every") "hand" "to" number "from" place
		verbs: []string{"fill"},
		read: func(r *reader) table.Action {
			a := table.TopUp{Every: r.peek().is("every", "each")}
			r.expect("my", "every", "each")
			r.expect("hand")
			r.expect("to")
			a.To = r.number(1, 1000)
			r.expect("from")
			a.From = r.place()
			return a
		},
		print: printed(func(p *printer, a table.TopUp) string {
			if a.UpTo {
				return p.wordless()
			}
			whose := "my"
			if a.Every {
				whose = "every"
			}
			return fmt.Sprintf("fill %s hand to %d from ", whose, a.To) + p.place(a.From)
		}),
	},
	{ // "exchange" pick ("to" | "onto" | "under") place "for" place
		verbs: []string{"exchange"},
		read: func(r *reader) table.Action {
			a := table.Exchange{Pick: r.pick()}
			r.expect("to", "onto", "under")
			a.Away = r.place()
			r.expect("for")
			a.Draw = r.place()
			return a
		},
		print: printed(func(p *printer, a table.Exchange) string {
			return "exchange " + p.pick(a.Pick) + " to " + p.place(a.Away) + " for " + p.place(a.Draw)
		}),
	},
	{ // ("move" | "discard" | "take" | "give") pick ("to" | "onto" | "under") target
		verbs: []string{"move", "discard", "take", "give"},
		read: func(r *reader) table.Action {
			a := table.Move{Pick: r.pick()}
			a.To.Under = r.peek().is("under")
			r.expect("to", "onto", "under")
			a.To = r.target(a.To)
			return a
		},
		print: printed(func(p *printer, a table.Move) string {
			if a.Side != "" {
				return "turn " + p.pick(a.Pick) + face(a.Side) + p.target(a.To)
			}
			return "move " + p.pick(a.Pick) + p.target(a.To)
		}),
		say: said{"move": of(func(t told, d table.Moved) string {
			preposition := " to "
			if d.Under {
				preposition = " under "
			}
			if d.Side != "" {
				return t.picked(d.Chosen, "turn", face(d.Side)+preposition+t.spot(d.To))
			}
			return t.picked(d.Chosen, "move", preposition+t.spot(d.To))
		})},
	},
	{ // "split" place "at" number ("to" | "onto") target: its upper part goes there
		verbs: []string{"split"},
		read: func(r *reader) table.Action {
			pick := table.Pick{From: r.place(), Which: table.Top}
			r.expect("at")
			pick.Count = r.number(1, maxCount)
			r.expect("to", "onto")
			return table.Move{Pick: pick, To: r.target(table.Target{})}
		},
	},
	{ // "combine" place ("onto" | "under") place: all of one with the other
		verbs: []string{"combine"},
		read: func(r *reader) table.Action {
			a := table.Move{Pick: table.Pick{From: r.place(), Which: table.Every}}
			a.To.Under = r.peek().is("under")
			r.expect("onto", "under")
			a.To.Place = r.place()
			return a
		},
	},
	{ // "spread" pick "over" place ["by" ("rows" | "columns")]
		verbs: []string{"spread"},
		read: func(r *reader) table.Action {
			a := table.Spread{Pick: r.pick()}
			r.expect("over")
			if a.Over = r.place(); r.accept("by") {
				a.By = strings.ToLower(r.peek().text)
				r.expect("rows", "columns")
			}
			return a
		},
		print: printed(func(p *printer, a table.Spread) string {
			return "spread " + p.pick(a.Pick) + " over " + p.place(a.Over) + when(a.By != "", " by "+a.By)
		}),
		say: said{"spread": of(func(t told, d table.Moved) string {
			return t.picked(d.Chosen, "spread", " over "+t.spot(d.To)+when(d.By != "", " by "+d.By))
		})},
	},
	{ // "collect" place ("onto" | "to") place
		verbs: []string{"collect"},
		read: func(r *reader) table.Action {
			a := table.Collect{From: r.place()}
			r.expect("onto", "to")
			a.Onto = r.place()
			return a
		},
		print: printed(func(p *printer, a table.Collect) string {
			return "collect " + p.place(a.From) + " onto " + p.place(a.Onto)
		}),
		say: said{"collect": of(func(t told, d table.Moved) string { return "collect " + t.spot(d.From) + " onto " + t.spot(d.To) })},
	},
	{say: said{"swap": of(func(t told, d table.Moved) string {
		return t.comment("# swaps a card of " + t.spot(d.From) + " and one of " + t.spot(d.To))
	})}},
}

func drawn(t told, d table.Moved) string {
	return t.comment(fmt.Sprintf("draw %d from %s to %s", d.Count, t.spot(d.From), t.spot(d.To)))
}

// dealt = number ["card" | "cards"].
func (r *reader) dealt() int {
	n := r.number(1, 1000)
	r.accept("card", "cards")
	return n
}

// whom = "first" "seat" | "every" ("other" | "seat" | "hand" | name) | ["hand" "of"] seat.
func (r *reader) whom() (share table.Share, zone string) {
	if r.acceptAll("first", "seat") {
		return table.Share{Who: "first"}, ""
	}
	if r.accept("every", "each") {
		w := r.take()
		switch {
		case w.is("other"):
			r.accept("seat", "hand")
			return table.Share{Who: "other"}, ""
		case w.is("seat", "hand"):
			return table.Share{Who: "every"}, ""
		}
		if zone = r.zoneOfAll(w.text); zone == "" {
			r.fail(w, "expected \"other\", \"hand\" or a zone that every seat has, found %s", found(w))
		}
		return table.Share{Who: "every"}, zone
	}
	r.acceptAll("hand", "of")
	if r.accept("my") {
		r.expect("hand", "seat")
		return table.Share{Who: "seat", Seat: r.actor}, ""
	}
	return table.Share{Who: "seat", Seat: r.seat()}, ""
}

// zoneOfAll is the key of a zone that every seat has, by its name.
func (r *reader) zoneOfAll(name string) (zone string) {
	for _, p := range r.table.Places {
		if p.Owner == 0 || !strings.EqualFold(p.Name, name) {
			continue
		}
		if key, _ := p.ID.Parts(); zone == "" || string(key) < zone {
			zone = string(key)
		}
	}
	return zone
}
