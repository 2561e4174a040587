package sheets

import (
	"fmt"
	"math"
	"strings"
)

// face is what all cards of a sheet have in common: it gives the HTML of one after the other.
type face func() string

var names = strings.Fields("Eel Heron Lantern Ferry Reedbed Toll Dyke Postbag Otter Bittern Sluice Peat Willow Courier Storm Mallow Oar Signal Fen Bell Crossing Causeway Tide Watch Marten")

var sentences = []string{
	"Move two steps along the causeway.", "Draw one, then put one back.", "When the tide turns, each player loses a coin.",
	"Deliver a letter to gain 3.", "You may rest here.", "Once a round, look at the top card.", "Costs one less at dusk.",
	"Cannot be stopped by rain.", "Keep this until the bell rings.", "If nobody is at the ferry, take the oar.",
}

// tint is a colour between two lightnesses.
func (h hand) tint(least, most int) string {
	return fmt.Sprintf("hsl(%d %d%% %d%%)", h.IntN(360), h.between(15, 85), h.between(least, most))
}

func (h hand) name() string {
	if h.with(0.4) {
		return pick(h, names...) + " " + pick(h, names...)
	}
	return pick(h, names...)
}

func (h hand) says(n int) string {
	var all []string
	for range n {
		all = append(all, pick(h, sentences...))
	}
	return strings.Join(all, " ")
}

// svg fills what it lies in.
func svg(inner string) string {
	return `<svg viewBox="0 0 100 100" preserveAspectRatio="none" style="position:absolute;inset:0;width:100%;height:100%">` + inner + `</svg>`
}

// scene is a painted picture: sky, hills, some things in it.
func (h hand) scene() string {
	var s strings.Builder
	id := h.Uint32()
	fmt.Fprintf(&s, `<defs><linearGradient id="g%d" x1="0" y1="0" x2="%.1f" y2="1"><stop offset="0" stop-color="%s"/><stop offset="1" stop-color="%s"/></linearGradient></defs><rect width="100" height="100" fill="url(#g%d)"/>`,
		id, h.Float64(), h.tint(45, 80), h.tint(25, 65), id)
	for range h.between(1, 3) {
		y := h.between(40, 85)
		fmt.Fprintf(&s, `<path d="M0 %d Q %d %d %d %d T 100 %d V100 H0 Z" fill="%s"/>`, y, h.between(10, 40), y-h.between(5, 30), h.between(45, 60), y, y+h.between(-10, 10), h.tint(20, 60))
	}
	for range h.between(2, 7) {
		x, y, r := h.between(0, 100), h.between(0, 100), h.between(3, 16)
		switch h.IntN(3) {
		case 0:
			fmt.Fprintf(&s, `<ellipse cx="%d" cy="%d" rx="%d" ry="%d" fill="%s" stroke="%s"/>`, x, y, r, h.between(3, 14), h.tint(15, 85), h.tint(5, 30))
		case 1:
			fmt.Fprintf(&s, `<polygon points="%d,%d %d,%d %d,%d" fill="%s"/>`, x, y-r, x+r, y+r, x-r, y+h.between(2, 14), h.tint(15, 85))
		default:
			fmt.Fprintf(&s, `<path d="M%d %d c %d %d %d %d %d %d" fill="none" stroke="%s" stroke-width="%d"/>`, x, y, h.between(-30, 30), h.between(-30, 30), h.between(-30, 30), h.between(-30, 30), h.between(-40, 40), h.between(-40, 40), h.tint(10, 90), h.between(1, 5))
		}
	}
	return svg(s.String())
}

// texture is a cloudy picture without edges.
func (h hand) texture(strength float64) string {
	id := h.Uint32()
	return fmt.Sprintf(`<svg style="position:absolute;inset:0;width:100%%;height:100%%"><filter id="t%d" x="0" y="0" width="100%%" height="100%%"><feTurbulence type="%s" baseFrequency="%.4f" numOctaves="%d" seed="%d"/><feColorMatrix type="matrix" values="%.2f 0 0 0 %.2f 0 %.2f 0 0 %.2f 0 0 %.2f 0 %.2f 0 0 0 0 1"/></filter><rect width="100%%" height="100%%" filter="url(#t%d)"/></svg>`,
		id, pick(h, "fractalNoise", "turbulence"), h.real(0.008, 0.06), h.between(1, 4), h.IntN(1000),
		strength, h.real(0.1, 0.6), strength, h.real(0.1, 0.6), strength, h.real(0.1, 0.6), id)
}

// sign is a simple mark in a box of 100 × 100.
func (h hand) sign(colour string) string {
	switch h.IntN(5) {
	case 0:
		return fmt.Sprintf(`<circle cx="50" cy="50" r="45" fill="%s"/>`, colour)
	case 1:
		return fmt.Sprintf(`<path d="M50 5 L95 95 L5 95 Z" fill="%s"/>`, colour)
	case 2:
		var points []string
		for i := range 10 {
			r := 46.0 - 26*float64(i%2)
			a := float64(i) * math.Pi / 5
			points = append(points, fmt.Sprintf("%.1f,%.1f", 50+r*math.Sin(a), 50-r*math.Cos(a)))
		}
		return fmt.Sprintf(`<polygon points="%s" fill="%s"/>`, strings.Join(points, " "), colour)
	case 3:
		return fmt.Sprintf(`<path d="M50 5 C 90 45 90 95 50 95 C 10 95 10 45 50 5" fill="%s"/>`, colour)
	}
	return fmt.Sprintf(`<path d="M10 30 H90 V45 H65 V90 H35 V45 H10 Z" fill="%s"/>`, colour)
}

// signed puts a sign somewhere, in shares of the card.
func signed(inner string, left, top, wide float64) string {
	return fmt.Sprintf(`<svg viewBox="0 0 100 100" style="position:absolute;left:%.1f%%;top:%.1f%%;width:%.1f%%;transform:translate(-50%%,-50%%)">%s</svg>`, 100*left, 100*top, 100*wide, inner)
}

// words in a part of the card, given in shares of it.
func words(text string, left, top, right, bottom, size float64, css string) string {
	return fmt.Sprintf(`<div style="position:absolute;left:%.1f%%;top:%.1f%%;right:%.1f%%;bottom:%.1f%%;font-size:%.1fpx;line-height:1.25;overflow:hidden;%s">%s</div>`, 100*left, 100*top, 100*right, 100*bottom, size, css, text)
}

func block(left, top, right, bottom float64, css, inner string) string {
	return fmt.Sprintf(`<div style="position:absolute;left:%.1f%%;top:%.1f%%;right:%.1f%%;bottom:%.1f%%;overflow:hidden;%s">%s</div>`, 100*left, 100*top, 100*right, 100*bottom, css, inner)
}

// illustrated cards have a name, a picture and some words; size is that of the words, in pixels.
func (h hand) illustrated(size float64, paper string) face {
	art, low := h.real(0.1, 0.16), h.real(0.4, 0.55)
	serif := pick(h, "serif", "sans-serif")
	return func() string {
		return block(0, 0, 0, 0, "background:"+paper, "") + words(h.name(), 0.07, 0.03, 0.07, 1-art, size*1.35, "font-weight:bold;font-family:"+serif) +
			block(0.06, art, 0.06, 1-low, "border:1px solid #333", h.scene()) + words(h.says(h.between(1, 4)), 0.08, low+0.03, 0.08, 0.04, size, "font-family:"+serif)
	}
}

// painted cards are pictures to their edges.
func (h hand) painted() face { return h.scene }

// textured cards are clouds to their edges.
func (h hand) textured(least, most float64) face {
	return func() string { return h.texture(h.real(least, most)) }
}

// written cards are words on paper.
func (h hand) written(size float64, paper string) face {
	centred := ""
	if h.with(0.3) {
		centred = "text-align:center;"
	}
	return func() string {
		return block(0, 0, 0, 0, "background:"+paper, "") + words("<b>"+h.name()+"</b>", 0.08, 0.05, 0.08, 0.82, size*1.4, centred) + words(h.says(h.between(2, 6)), 0.08, 0.22, 0.08, 0.05, size, centred)
	}
}

// patterned cards repeat a sign in rows and columns.
func (h hand) patterned(columns, rows int, paper string) face {
	wide := 0.7 / float64(max(columns, rows))
	return func() string {
		inner, colour := block(0, 0, 0, 0, "background:"+paper, ""), h.tint(20, 55)
		s := h.sign(colour)
		for r := range rows {
			for c := range columns {
				inner += signed(s, (float64(c)+0.5)/float64(columns), (float64(r)+0.5)/float64(rows), wide)
			}
		}
		return inner
	}
}

// ranked cards have a number in two corners, upside down in one, and as many signs.
func (h hand) ranked(size float64, paper string) face {
	return func() string {
		colour, n := pick(h, "#a11", "#111", "#157", "#262"), h.between(1, 10)
		s := h.sign(colour)
		inner := block(0, 0, 0, 0, "background:"+paper, "") + words(fmt.Sprint(n), 0.06, 0.03, 0.7, 0.8, size*1.6, "color:"+colour) +
			words(fmt.Sprint(n), 0.7, 0.8, 0.06, 0.03, size*1.6, "transform:rotate(180deg);color:"+colour)
		for i := range n {
			inner += signed(s, []float64{0.3, 0.7}[i%2], 0.18+0.64*float64(i/2)/max(1, float64((n-1)/2)), 0.17)
		}
		return inner
	}
}

// halved cards are two fields of pips.
func (h hand) halved(paper string, upright bool) face {
	return func() string {
		inner := block(0, 0, 0, 0, "background:"+paper, "")
		for half := range 2 {
			for range h.between(0, 6) {
				along, across := 0.06+0.5*float64(half)+0.38*h.Float64(), 0.15+0.7*h.Float64()
				if upright {
					inner += signed(`<circle cx="50" cy="50" r="45" fill="#222"/>`, across, along, 0.12)
				} else {
					inner += signed(`<circle cx="50" cy="50" r="45" fill="#222"/>`, along, across, 0.06)
				}
			}
		}
		if upright {
			return inner + block(0.08, 0.495, 0.08, 0.495, "background:#444", "")
		}
		return inner + block(0.495, 0.08, 0.495, 0.08, "background:#444", "")
	}
}

// bannered cards have a band of the sheet's colour with the name.
func (h hand) bannered(size float64) face {
	band, at := h.tint(25, 50), h.real(0.05, 0.75)
	return func() string {
		return h.scene() + block(0, at, 0, 1-at-0.14, "background:"+band, words(h.name(), 0.05, 0.15, 0.05, 0, size*1.2, "color:white"))
	}
}

// badged cards are a large sign on a paper, and a number.
func (h hand) badged(size float64, paper func() string) face {
	return func() string {
		return block(0, 0, 0, 0, "background:"+paper(), "") + signed(h.sign(h.tint(15, 60)), 0.5, 0.5, h.real(0.4, 0.6)) + words(fmt.Sprint(h.between(1, 12)), 0.08, 0.04, 0.5, 0.8, size*1.5, "")
	}
}

// panelled cards have a frame in four fields.
func (h hand) panelled(size float64, paper string) face {
	return func() string {
		inner := block(0, 0, 0, 0, "background:"+paper, "")
		for i := range 4 {
			x, y := 0.06+0.46*float64(i%2), 0.05+0.46*float64(i/2)
			inner += block(x, y, 1-x-0.42, 1-y-0.43, "border:1px solid #444;background:"+h.tint(75, 92), signed(h.sign(h.tint(20, 50)), 0.5, 0.4, 0.4)+words(h.name(), 0.05, 0.72, 0.05, 0, size, ""))
		}
		return inner
	}
}
