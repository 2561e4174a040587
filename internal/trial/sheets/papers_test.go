package sheets

import (
	"fmt"
	"math"
	"strings"
)

// mm is a millimetre in pixels of CSS.
const mm = 96 / 25.4

// papers are the styles that a browser draws.
var papers = map[string]func(h hand) *paper{
	// pages to be printed and cut
	"page-title":        func(h hand) *paper { return h.printed(h.cardFace(), title) },
	"page-footer":       func(h hand) *paper { return h.printed(h.cardFace(), footer) },
	"page-number":       func(h hand) *paper { return h.printed(h.cardFace(), number) },
	"page-everything":   func(h hand) *paper { return h.printed(h.cardFace(), title, footer, number) },
	"page-corner-marks": func(h hand) *paper { return h.printed(h.cardFace(), footer, cornerMarks) },
	"page-cut-lines":    func(h hand) *paper { return h.printed(h.cardFace(), cutLines, number) },
	"page-side":         func(h hand) *paper { return h.printed(h.cardFace(), side) },
	"page-photos":       func(h hand) *paper { return h.printed(h.textured(0.5, 1.5), title, footer) },
	"page-pictures":     func(h hand) *paper { return h.printed(h.painted(), title) },
	"page-written":      func(h hand) *paper { return h.printed(h.written(h.real(8, 11), "white"), title, number, outlined) },
	"page-help":         func(h hand) *paper { return h.printed(h.cardFace(), help) },
	"page-logo":         func(h hand) *paper { return h.printed(h.cardFace(), logo, footer) },
	"page-bare":         func(h hand) *paper { return h.printed(h.cardFace()) },
	"page-marks-bare":   func(h hand) *paper { return h.printed(h.cardFace(), cornerMarks) },
	"page-tarot":        func(h hand) *paper { return h.printedAs(70, 120, h.illustrated(h.real(9, 12), "#fffdf4"), footer) },
	"page-small": func(h hand) *paper {
		return h.printedAs(44, 63, h.badged(10, func() string { return h.tint(80, 93) }), title, number)
	},
	"page-tokens": func(h hand) *paper {
		p := h.printedAs(25, 25, h.round(), title)
		p.css = "border-radius:50%;"
		return p
	},

	// patterns and parts within cards
	"patterned": func(h hand) *paper { n := h.between(2, 4); return h.sheet(0.7, h.patterned(n, n, h.tint(80, 96))) },
	"patterned-wide": func(h hand) *paper {
		return h.sheet(0.7, h.patterned(h.between(1, 3), h.between(2, 5), h.tint(80, 96)))
	},
	"patterned-apart": func(h hand) *paper {
		p := h.sheet(0.7, h.patterned(3, 3, h.tint(80, 96)))
		p.across, p.down = h.real(4, 14), h.real(4, 14)
		return p
	},
	"ranked":   func(h hand) *paper { p := h.sheet(0.7, h.ranked(h.real(11, 14), "#fff")); return p.bordered(h, 1) },
	"panelled": func(h hand) *paper { return h.sheet(1, h.panelled(h.real(7, 9), "#f4efe2")) },
	"halved": func(h hand) *paper {
		return h.sheet(pick(h, 0.5, 0.45), h.halved("#fdfaf0", true)).bordered(h, h.between(1, 3))
	},
	"dominoes": func(h hand) *paper {
		upright := h.with(0.5)
		shape := 2.0
		if upright {
			shape = 0.5
		}
		p := h.sheet(shape, h.halved("ivory", upright))
		p.across, p.down, p.ground = h.real(5, 16), h.real(5, 16), h.tint(25, 50)
		p.css += fmt.Sprintf("border-radius:%dpx;", h.between(3, 10))
		return p
	},
	"striped": func(h hand) *paper {
		return h.sheet(0.7, func() string {
			return block(0, 0, 0, 0, fmt.Sprintf("background:repeating-linear-gradient(%ddeg,%s 0 %dpx,%s 0 %dpx)", pick(h, 0, 45, 90), h.tint(30, 60), h.between(6, 12), h.tint(60, 90), h.between(16, 26)), signed(h.sign("#222"), 0.5, 0.5, 0.4))
		})
	},

	// shapes and numbers of their own
	"tarot": func(h hand) *paper {
		p := h.sheet(0.58, h.illustrated(h.real(6, 8), "#efe6cf"))
		p.columns, p.rows = 8, 3
		return p.bordered(h, 2)
	},
	"tarot-painted": func(h hand) *paper {
		p := h.sheet(0.58, h.painted())
		p.columns, p.rows = h.between(6, 9), h.between(2, 3)
		return p
	},
	"notes": func(h hand) *paper {
		return h.sheet(h.real(1.9, 2.3), h.badged(14, func() string { return h.tint(70, 90) })).bordered(h, 2)
	},
	"minis": func(h hand) *paper {
		p := h.sheet(0.68, h.badged(9, func() string { return h.tint(60, 92) }))
		p.wide, p.columns, p.rows = 62, h.between(8, 12), h.between(5, 8)
		p.high = 62 / 0.68
		return p
	},
	"few": func(h hand) *paper {
		p := h.sheet(0.72, h.illustrated(9, "#fff8ea"))
		p.wide, p.high = 230, 320
		p.columns, p.rows = h.between(1, 3), h.between(1, 2)
		return p.bordered(h, 2)
	},
	"square": func(h hand) *paper { return h.sheet(1, h.painted()) },
	"coins": func(h hand) *paper {
		p := h.sheet(1, h.round())
		p.ground, p.across, p.down = "", h.real(0, 10), h.real(0, 10)
		p.css = "border-radius:50%;"
		return p
	},
	"coins-on-white": func(h hand) *paper {
		p := h.sheet(1, h.round())
		p.ground, p.across, p.down = "white", h.real(3, 20), h.real(3, 20)
		p.css = "border-radius:50%;"
		return p
	},
	"six-sided": func(h hand) *paper {
		p := h.sheet(pick(h, 0.866, 1.155), h.painted())
		p.ground = ""
		if p.wide < p.high {
			p.css = "clip-path:polygon(50% 0,100% 25%,100% 75%,50% 100%,0 75%,0 25%);"
		} else {
			p.css = "clip-path:polygon(25% 0,75% 0,100% 50%,75% 100%,25% 100%,0 50%);"
		}
		return p
	},

	// pictures and papers
	"terrain-soft": func(h hand) *paper { return h.sheet(1, h.textured(0.08, 0.3)) },
	"terrain":      func(h hand) *paper { return h.sheet(pick(h, 1, 0.75), h.textured(0.5, 1.6)) },
	"painted":      func(h hand) *paper { return h.sheet(h.real(0.62, 0.78), h.painted()) },
	"painted-apart": func(h hand) *paper {
		p := h.sheet(h.real(0.62, 0.78), h.painted())
		p.across = h.real(3, 18)
		p.down = p.across
		return p.margins(h)
	},
	"illustrated": func(h hand) *paper {
		return h.sheet(0.7, h.illustrated(h.real(7, 9), "#f6f1e4")).bordered(h, h.between(1, 4))
	},
	"illustrated-bare": func(h hand) *paper { return h.sheet(0.7, h.illustrated(h.real(7, 9), "white")).margins(h) },
	"written":          func(h hand) *paper { return h.sheet(0.7, h.written(h.real(7, 9), "#fff")).bordered(h, 1) },
	"written-dark": func(h hand) *paper {
		p := h.sheet(0.7, h.written(h.real(7, 9), "#23242b"))
		p.css += "color:#ddd;"
		return p.bordered(h, 2)
	},
	"bannered": func(h hand) *paper { return h.sheet(0.7, h.bannered(h.real(9, 12))) },
	"badged":   func(h hand) *paper { return h.sheet(0.7, h.badged(13, func() string { return h.tint(60, 92) })) },
	"badged-alike": func(h hand) *paper {
		c := h.tint(82, 95)
		return h.sheet(0.7, h.badged(13, func() string { return c })).bordered(h, 1)
	},
	"double-border": func(h hand) *paper {
		p := h.sheet(0.7, h.illustrated(7.5, "#fbf6e9"))
		p.css += fmt.Sprintf("border:%dpx double %s;", h.between(4, 8), h.tint(10, 40))
		return p
	},
	"shadowed": func(h hand) *paper {
		p := h.sheet(0.7, h.illustrated(8, "#fffaf0"))
		p.across, p.down, p.ground = h.real(12, 26), h.real(12, 26), pick(h, "white", "#e7e3d8", "#cfd6d9")
		p.css += "box-shadow:2px 3px 6px #0006;border-radius:4px;"
		p.shade = 9
		p.margins(h)
		return p
	},
	"rounded-on-colour": func(h hand) *paper {
		p := h.sheet(0.7, h.illustrated(8, h.tint(85, 95)))
		p.across, p.down, p.ground = h.real(6, 18), h.real(6, 18), h.tint(20, 75)
		p.css += fmt.Sprintf("border-radius:%dpx;", h.between(6, 14))
		return p.margins(h)
	},
	"bleed-marks": func(h hand) *paper {
		p := h.sheet(0.7, h.painted())
		p.across, p.down, p.ground = h.real(14, 26), 0, "white"
		p.down = p.across
		p.around = [4]float64{30, 30, 30, 30}
		p.finish()
		p.marks = p.corners(3, 9)
		return p
	},
	"framed-dark": func(h hand) *paper {
		p := h.sheet(0.7, h.illustrated(7.5, "#e8e2d2"))
		return p.bordered(h, h.between(6, 12))
	},
}

// cardFace is one of the faces that cards on printed pages have.
func (h hand) cardFace() face {
	paper := pick(h, "white", "#fdf8ea", "#eef3f6", h.tint(85, 96))
	switch h.IntN(5) {
	case 0:
		return h.painted()
	case 1:
		return h.badged(15, func() string { return paper })
	case 2:
		return h.bannered(11)
	}
	return h.illustrated(h.real(8, 11), paper)
}

// round tokens have a ring and a sign.
func (h hand) round() face {
	ring := h.tint(15, 40)
	return func() string {
		return block(0, 0, 0, 0, "border-radius:50%;border:3px solid "+ring+";background:"+h.tint(55, 88), signed(h.sign(h.tint(15, 45)), 0.5, 0.5, 0.45))
	}
}

// sheet is one without words beside the cards, of a number and a size that chance gives.
func (h hand) sheet(shape float64, f face) *paper {
	p := &paper{columns: h.between(2, 8), rows: h.between(2, 5), face: f, dense: pick(h, 1, 1, 1.25, 1.5, 2)}
	short := h.real(90, 150)
	p.wide, p.high = short, short/shape
	if shape > 1 {
		p.wide, p.high = short*shape, short
	}
	if h.with(0.5) {
		p.wide, p.high = math.Round(p.wide), math.Round(p.high)
	}
	p.ground = pick(h, "white", "white", "#f7f3ea", "#222", h.tint(30, 80))
	if h.with(0.25) {
		p.across, p.down = h.real(2, 12), h.real(2, 12)
	}
	if h.with(0.25) {
		p.margins(h)
	}
	if h.with(0.25) {
		p.cards = p.columns*p.rows - h.between(1, p.columns-1)
	}
	for float64(p.columns)*p.wide*float64(p.rows)*p.high*p.dense*p.dense > 4e6 && p.dense > 1 {
		p.dense = 1
	}
	return p
}

// margins gives the sheet some, half of them of four widths.
func (p *paper) margins(h hand) *paper {
	around := h.real(5, 40)
	p.around = [4]float64{around, around, around, around}
	if h.with(0.5) {
		p.around = [4]float64{h.real(5, 50), h.real(5, 50), h.real(5, 50), h.real(5, 50)}
	}
	return p
}

func (p *paper) bordered(h hand, wide int) *paper {
	p.css += fmt.Sprintf("border:%dpx solid %s;", wide, h.tint(5, 45))
	return p
}

// beside is what a page has beside its cards.
type beside int

const (
	title beside = iota
	footer
	number
	help
	side
	logo
	cornerMarks
	cutLines
	outlined
)

// printed is a page of cards of the usual size.
func (h hand) printed(f face, with ...beside) *paper { return h.printedAs(63, 88, f, with...) }

// printedAs is a page of cards of a size in millimetres, as many as fit between the words.
func (h hand) printedAs(wide, high float64, f face, with ...beside) *paper {
	has := func(b beside) bool {
		for _, w := range with {
			if w == b {
				return true
			}
		}
		return false
	}
	p := &paper{wide: wide * mm, high: high * mm, face: f, ground: "white", size: pick(h, [2]float64{210 * mm, 297 * mm}, [2]float64{215.9 * mm, 279.4 * mm})}
	if h.with(0.2) {
		p.size[0], p.size[1] = p.size[1], p.size[0]
	}
	dpi := pick(h, 100, 120, 150, 150, 150, 200, 200, 300)
	if h.with(0.02) {
		dpi = 600
	}
	p.dense = float64(dpi) / 96
	if h.with(0.5) {
		p.across = pick(h, 1.0, 2, 3, 5) * mm
		p.down = p.across
	}
	if has(cornerMarks) && h.with(0.5) && p.across == 0 {
		p.across, p.down = 4*mm, 4*mm
	}
	top, bottom := 5*mm, 5*mm
	if has(title) || has(help) || has(logo) {
		top = 14 * mm
	}
	if has(footer) || has(number) {
		bottom = 11 * mm
	}
	p.columns = int((p.size[0] - 10*mm + p.across) / (p.wide + p.across))
	p.rows = int((p.size[1] - top - bottom + p.down) / (p.high + p.down))
	if h.with(0.2) && p.columns > 1 && p.rows > 1 {
		p.cards = p.columns*p.rows - h.between(1, p.columns-1)
	}
	p.finish()
	free := [2]float64{p.size[0] - p.inner(0), p.size[1] - top - bottom - p.inner(1)}
	p.around = [4]float64{free[0] * pick(h, 0.5, 0.5, h.real(0.3, 0.7)), top + free[1]*pick(h, 0.5, 0.5, h.real(0.1, 0.9))}
	switch h.IntN(3) {
	case 0:
		p.css = fmt.Sprintf("border:%.1fpx solid %s;", h.real(0.7, 4), h.tint(0, 50))
	case 1:
		p.css = fmt.Sprintf("border:%.1fpx solid #111;border-radius:%.1fpx;", h.real(1, 6), h.real(4, 14))
	}
	if has(outlined) {
		p.css = "border:1px solid #999;"
	}
	words := func(css, text string) {
		p.outside += fmt.Sprintf(`<div class="outside" style="%s">%s</div>`, css, text)
	}
	aligned := pick(h, "left:8mm", "left:50%;transform:translateX(-50%)", "right:8mm")
	above, under := p.around[1], p.size[1]-p.around[1]-p.inner(1)
	if has(title) {
		words(fmt.Sprintf("%s;top:%.2fpx;font-size:%.1fpx;font-weight:bold;white-space:nowrap;line-height:1", aligned, above*h.real(0.15, 0.4), h.real(12, 24)), "Marsh Post: "+h.name()+" cards")
	}
	if has(help) {
		words(fmt.Sprintf("left:10mm;right:10mm;top:%.2fpx;font-size:%.1fpx;line-height:1.2", above*0.2, h.real(8, 11)), "Print at 100 %, on stiff paper, and cut along the edges. "+h.says(h.between(1, 4)))
	}
	if has(footer) {
		words(fmt.Sprintf("%s;bottom:%.2fpx;font-size:%.1fpx;white-space:nowrap;line-height:1", aligned, under*h.real(0.15, 0.4), h.real(7, 12)), pick(h, "© 2026 The Reed Office. May be printed for play.", "Marsh Post, playtest 4, not for sale", "v0.7 · couriers and errands"))
	}
	if has(number) {
		words(fmt.Sprintf("%s;bottom:%.2fpx;font-size:%.1fpx;white-space:nowrap;line-height:1", pick(h, "left:50%", "right:9mm", "left:9mm"), under*h.real(0.5, 0.6), h.real(8, 13)), fmt.Sprintf("%s%d", pick(h, "", "page ", "– "), h.between(1, 12)))
	}
	if has(side) {
		wide := min(p.around[0], p.size[0]-p.around[0]-p.inner(0))
		words(fmt.Sprintf("writing-mode:vertical-rl;%s:%.2fpx;top:%.0f%%;font-size:%.1fpx;white-space:nowrap;line-height:1", pick(h, "left", "right"), wide*0.2, h.real(10, 50), min(wide*0.5, h.real(8, 12))), "Marsh Post, sheet "+fmt.Sprint(h.between(1, 9))+", fronts")
	}
	if has(logo) {
		words(fmt.Sprintf("%s:9mm;top:%.2fpx;width:%.2fpx;height:%.2fpx", pick(h, "left", "right"), above*0.15, above*0.6, above*0.6), `<svg viewBox="0 0 100 100">`+h.sign(h.tint(20, 50))+`</svg>`)
	}
	if has(cornerMarks) {
		p.marks += p.corners(h.real(1, 2)*mm, h.real(2, 4)*mm)
	}
	if has(cutLines) {
		p.marks += p.lines(pick(h, "solid", "dashed", "dotted"))
	}
	return p
}

// edges are where cards begin and end, in one direction.
func (p *paper) edges(direction int) (all []float64) {
	n, of, gap := p.columns, p.wide, p.across
	if direction == 1 {
		n, of, gap = p.rows, p.high, p.down
	}
	for i := range n {
		from := p.around[direction] + float64(i)*(of+gap)
		all = append(all, from, from+of)
	}
	return all
}

func mark(left, top, wide, high float64) string {
	return fmt.Sprintf(`<div class="mark" style="left:%.2fpx;top:%.2fpx;width:%.2fpx;height:%.2fpx;background:#000"></div>`, left, top, wide, high)
}

// corners are short lines outside the cards at which a page is cut.
func (p *paper) corners(away, long float64) string {
	var b strings.Builder
	xs, ys := p.edges(0), p.edges(1)
	for _, x := range xs {
		b.WriteString(mark(x-0.4, ys[0]-away-long, 0.8, long) + mark(x-0.4, ys[len(ys)-1]+away, 0.8, long))
	}
	for _, y := range ys {
		b.WriteString(mark(xs[0]-away-long, y-0.4, long, 0.8) + mark(xs[len(xs)-1]+away, y-0.4, long, 0.8))
	}
	return b.String()
}

// lines go through the whole page where it is cut.
func (p *paper) lines(how string) string {
	var b strings.Builder
	for _, x := range p.edges(0) {
		fmt.Fprintf(&b, `<div class="mark" style="left:%.2fpx;top:0;height:100%%;border-left:1px %s #888"></div>`, x-0.5, how)
	}
	for _, y := range p.edges(1) {
		fmt.Fprintf(&b, `<div class="mark" style="top:%.2fpx;left:0;width:100%%;border-top:1px %s #888"></div>`, y-0.5, how)
	}
	return b.String()
}
