package steps

import (
	"fmt"
	"strings"

	"damselfly.example/damselfly/internal/core/table"
)

// orderRows are about the order of cards in a place.
var orderRows = []row{
	{ // "shuffle" place ["into" place]
		verbs: []string{"shuffle"},
		read: func(r *reader) table.Action {
			p := r.place()
			if r.accept("into") {
				return table.ShuffleIn{From: p, Into: r.place()}
			}
			return table.Shuffle{Place: p}
		},
		print: printed(func(p *printer, a table.Shuffle) string { return "shuffle " + p.place(a.Place) }),
		say: said{
			"shuffle":    of(func(t told, d table.Ordered) string { return "shuffle " + t.spot(d.From) }),
			"shuffle-in": of(func(t told, d table.Ordered) string { return "shuffle " + t.spot(d.From) + " into " + t.spot(d.To) }),
		},
	},
	{print: printed(func(p *printer, a table.ShuffleIn) string {
		return "shuffle " + p.place(a.From) + " into " + p.place(a.Into)
	})},
	{ // "cut" place ["at" number]
		verbs: []string{"cut"},
		read: func(r *reader) table.Action {
			a := table.Cut{Place: r.place()}
			if r.accept("at") {
				a.At = r.number(1, maxCount)
			}
			return a
		},
		print: printed(func(p *printer, a table.Cut) string { return "cut " + p.place(a.Place) + numbered(" at %d", a.At) }),
		say:   said{"cut": of(func(t told, d table.Ordered) string { return "cut " + t.spot(d.From) + numbered(" at %d", d.At) })},
	},
	{ // "sort" place "by" field ["down"]
		verbs: []string{"sort"},
		read: func(r *reader) table.Action {
			p, field := r.placeBy()
			return table.Sort{Place: p, By: field, Down: r.accept("down")}
		},
		print: printed(func(p *printer, a table.Sort) string {
			return "sort " + p.place(a.Place) + " by " + p.quote(a.By) + when(a.Down, " down")
		}),
		say: said{"sort": of(func(t told, d table.Ordered) string { return "sort " + t.spot(d.From) + " by " + t.quote(d.By) })},
	},
	{ // "separate" place "by" field
		verbs: []string{"separate"},
		read: func(r *reader) table.Action {
			p, field := r.placeBy()
			return table.Separate{Place: p, By: field}
		},
		print: printed(func(p *printer, a table.Separate) string {
			return "separate " + p.place(a.Place) + " by " + p.quote(a.By)
		}),
	},
	{ // "gather" deck [where] ["and" "shuffle"]
		verbs: []string{"gather"},
		read: func(r *reader) table.Action {
			a := table.Gather{Deck: r.deck(), Where: r.where()}
			if r.accept("and") {
				a.Shuffle = true
				r.expect("shuffle")
			}
			return a
		},
		print: printed(func(p *printer, a table.Gather) string {
			if p.table.Decks[a.Deck] == nil {
				return p.wordless()
			}
			return "gather " + p.quote(a.Deck) + p.where(a.Where) + when(a.Shuffle, " and shuffle")
		}),
		say: said{"gather": of(func(t told, d table.Gathered) string { return "gather " + t.quote(d.Deck) + t.parts(d.Parts) })},
	},
	{ // "everything" "home"
		verbs: []string{"everything"},
		read: func(r *reader) table.Action {
			r.expect("home")
			return table.EverythingHome{}
		},
		print: printed(func(*printer, table.EverythingHome) string { return "everything home" }),
		say:   said{"everything-home": of(func(told, table.Wordless) string { return "everything home" })},
	},
	{say: said{
		"search": of(func(t told, d table.Searched) string {
			return fmt.Sprintf("# searches the %s of %s and takes nothing", cards(d.Among), t.spot(d.From))
		}),
		"try": of(func(told, table.Wordless) string { return "# tries something that cannot be done" }),
	}},
}

// placeBy = place "by" field.
func (r *reader) placeBy() (table.PlaceID, string) {
	p := r.place()
	r.expect("by")
	w := r.take()
	if w.text == "" {
		r.fail(w, "expected a field of the cards, found %s", found(w))
	}
	return p, w.text
}

// parts says where gathered cards came from, and where none were found.
func (t told) parts(parts []table.Part) string {
	var from, vain []string
	for _, part := range parts {
		if part.Count > 0 {
			from = append(from, fmt.Sprintf("%d from %s", part.Count, t.spot(part.Spot)))
		} else {
			vain = append(vain, t.spot(part.Spot))
		}
	}
	if len(vain) > 0 {
		from = append(from, "none of "+strings.Join(vain, ", "))
	}
	if len(from) == 0 {
		return ""
	}
	return "  # " + strings.Join(from, ", ")
}
