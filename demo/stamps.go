package demo

import (
	"image"
	"image/color"
)

// motif draws a small picture into a square of 100 × 100.
type motif func(b *brush, scale float64)

// motifs are what stamps, letters and permits show.
func motifs() map[string]motif {
	return map[string]motif{
		"heron": func(b *brush, s float64) {
			b.line(46*s, 90*s, 46*s, 58*s, 3*s, ink)
			b.line(54*s, 90*s, 54*s, 58*s, 3*s, ink)
			b.oval(50*s, 52*s, 20*s, 12*s, color.NRGBA{120, 140, 160, 255})
			b.line(62*s, 46*s, 66*s, 18*s, 5*s, color.NRGBA{120, 140, 160, 255})
			b.disc(66*s, 17*s, 5*s, color.NRGBA{120, 140, 160, 255})
			b.shape(sun, 70*s, 15*s, 90*s, 19*s, 70*s, 20*s)
		},
		"otter": func(b *brush, s float64) {
			b.oval(48*s, 64*s, 30*s, 15*s, wood)
			b.disc(76*s, 46*s, 12*s, wood)
			b.shape(wood, 20*s, 64*s, 4*s, 76*s, 22*s, 72*s)
			b.disc(80*s, 44*s, 2*s, paper)
			b.oval(84*s, 50*s, 5*s, 3*s, ink)
		},
		"reeds": func(b *brush, s float64) {
			for i := range 5 {
				x := (26 + 12*float64(i)) * s
				top := (24 + float64(i*i*5%22)) * s
				b.line(x, 90*s, x+3*s, top, 3*s, reed)
				b.oval(x+3*s, top, 4*s, 11*s, wood)
			}
		},
		"boat": func(b *brush, s float64) {
			b.shape(brick, 14*s, 64*s, 86*s, 64*s, 72*s, 84*s, 28*s, 84*s)
			b.line(50*s, 64*s, 50*s, 18*s, 3*s, ink)
			b.shape(paper, 53*s, 20*s, 80*s, 58*s, 53*s, 58*s)
			b.shape(cloud, 47*s, 26*s, 28*s, 58*s, 47*s, 58*s)
		},
		"moon": func(b *brush, s float64) {
			b.disc(50*s, 46*s, 30*s, sun)
			b.disc(62*s, 38*s, 26*s, harbour)
			b.line(20*s, 84*s, 80*s, 84*s, 4*s, foam)
		},
		"lantern": func(b *brush, s float64) {
			b.line(50*s, 8*s, 50*s, 24*s, 4*s, ink)
			b.shape(ink, 34*s, 32*s, 66*s, 32*s, 58*s, 22*s, 42*s, 22*s)
			b.shape(sun, 36*s, 32*s, 64*s, 32*s, 68*s, 74*s, 32*s, 74*s)
			b.fill(28*s, 74*s, 72*s, 82*s, ink)
			b.disc(50*s, 54*s, 9*s, paper)
		},
	}
}

// motifNames are the motifs in the order in which stamps come.
var motifNames = []string{"heron", "otter", "reeds", "boat", "moon", "lantern"}

var grounds = []color.NRGBA{
	{216, 228, 214, 255}, {238, 214, 178, 255}, {196, 216, 226, 255}, {228, 200, 196, 255},
}

const stampSide = 160

// drawStampsAndPermits draws one sheet for two decks: 24 stamps in cells 1 to 24,
// and 12 permits in cells 25 to 36.
func drawStampsAndPermits() image.Image {
	sheet := image.NewRGBA(image.Rect(0, 0, 6*stampSide, 6*stampSide))
	for i := range 36 {
		at := image.Pt(i%6*stampSide, i/6*stampSide)
		b, done := within(sheet, image.Rectangle{at, at.Add(image.Pt(stampSide, stampSide))})
		if i < 24 {
			drawStamp(b, i)
		} else {
			drawPermit(b, i-24)
		}
		done()
	}
	return sheet
}

func drawStamp(b *brush, i int) {
	b.all(paper)
	for n := range 9 { // the holes round the edge
		at := float64(n) * 20
		for _, hole := range [][2]float64{{at, 0}, {at, b.high}, {0, at}, {b.wide, at}} {
			b.disc(hole[0], hole[1], 5, ink)
		}
	}
	b.fill(14, 14, 146, 146, grounds[i/6])
	scaled(b, motifs()[motifNames[i%6]], 24, 18, 1.1)
	b.disc(126, 34, 17, ink)
	b.write(string(rune('1'+i/6)), 126, 43, 25, paper)
}

// scaled draws a motif at a spot.
func scaled(b *brush, m motif, x, y, scale float64) {
	part := newBrush(int(100*scale), int(100*scale))
	m(part, scale)
	for dy := range part.on.Rect.Dy() {
		for dx := range part.on.Rect.Dx() {
			if c := part.on.RGBAAt(dx, dy); c.A > 0 {
				under := b.on.RGBAAt(int(x)+dx, int(y)+dy)
				over := func(top, below uint8) uint8 { return uint8(int(top) + int(below)*(255-int(c.A))/255) }
				b.on.SetRGBA(int(x)+dx, int(y)+dy, color.RGBA{over(c.R, under.R), over(c.G, under.G), over(c.B, under.B), over(c.A, under.A)})
			}
		}
	}
}

func drawPermit(b *brush, i int) {
	colour := []color.NRGBA{brick, harbour, reed}[i/4]
	b.all(colour)
	b.oval(80, 80, 70, 70, paper)
	b.oval(80, 80, 64, 64, grounds[i%4])
	scaled(b, motifs()[motifNames[(i*5+i/4)%6]], 40, 34, 0.8)
	b.write([]string{"quay", "lock", "bank", "reach"}[i%4], 80, 132, 21, ink)
}

// drawArt draws a motif alone, on nothing, for layouts.
func drawArt(m motif) image.Image {
	b := newBrush(240, 240)
	m(b, 2.4)
	return b.on
}

// icons stand in the text of letters.
var icons = map[string]func(*brush){
	"wind": func(b *brush) {
		for i := range 3 {
			y := 14 + float64(i)*11
			b.line(4, y, 34-float64(i)*5, y, 4, harbour)
			b.disc(36-float64(i)*5, y-3, 5, harbour)
		}
	},
	"tide": func(b *brush) {
		for i := range 2 {
			y := 22 + float64(i)*14
			b.shape(water, 2, y, 12, y-9, 22, y, 32, y-9, 46, y, 46, y+6, 32, y-3, 22, y+6, 12, y-3, 2, y+6)
		}
	},
	"seal": func(b *brush) { b.disc(24, 24, 19, brick); b.disc(24, 24, 12, color.NRGBA{200, 110, 90, 255}) },
}

// drawBoat draws a boat seen from above, on nothing: a token.
func drawBoat(c color.NRGBA) image.Image {
	b := newBrush(120, 200)
	hull := func(inset float64) []float64 {
		return []float64{60, 8 + 1.6*inset, 92 - inset, 60, 98 - inset, 120, 84 - inset, 190 - inset, 36 + inset, 190 - inset, 22 + inset, 120, 28 + inset, 60}
	}
	b.shape(ink, hull(0)...)
	b.shape(c, hull(6)...)
	b.shape(color.NRGBA{214, 190, 150, 255}, hull(20)...)
	for _, y := range []float64{92, 130, 164} {
		b.fill(38, y, 82, y+10, wood)
	}
	return b.on
}

// drawMat draws the chart that lies under everything.
func drawMat() image.Image {
	b := newBrush(1500, 900)
	b.all(color.NRGBA{222, 229, 214, 255})
	for i := range 60 { // soft banks
		x, y := float64(i*397%1500), float64(i*251%900)
		b.oval(x, y, 70+float64(i*31%90), 26+float64(i*17%40), color.NRGBA{206, 217, 196, 255})
	}
	for i := range 4 { // the channels that wind through
		y := 110 + float64(i)*230
		for x := -20.0; x < 1520; x += 10 {
			wave := 46 * float64((int(x)/10*7+i*90)%97) / 97
			b.oval(x, y+wave*0.4+40*sine(x/170+float64(i)), 26, 17, color.NRGBA{190, 212, 212, 255})
		}
	}
	for i := range 90 {
		x, y := float64(i*331%1500), float64(i*157%900)
		b.line(x, y, x+3, y-14, 2, color.NRGBA{176, 192, 156, 255})
		b.line(x+6, y, x+8, y-10, 2, color.NRGBA{176, 192, 156, 255})
	}
	return b.on
}
