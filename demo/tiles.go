package demo

import (
	"image"
	"image/color"
	"math"
)

// Size of a marsh tile: a hex with flat sides above and below is as wide as 2/√3
// of its height.
const (
	tileWide = 240
	tileHigh = 208
)

// drawTiles draws the eighteen hexes: open water, channels, reeds, mud and quays.
func drawTiles() image.Image {
	sheet := image.NewRGBA(image.Rect(0, 0, 6*tileWide, 3*tileHigh))
	for i := range 18 {
		at := image.Pt(i%6*tileWide, i/6*tileHigh)
		b, done := within(sheet, image.Rectangle{at, at.Add(image.Pt(tileWide, tileHigh))})
		drawTile(b, i)
		done()
	}
	return sheet
}

func drawTile(b *brush, i int) {
	ground := []color.NRGBA{water, reed, mud}[i/6]
	b.all(ground)
	x, y := b.wide/2, b.high/2
	switch {
	case i < 6: // open water, with a shoal or a buoy
		b.waves(foam, 44)
		if i%2 == 1 {
			b.shape(brick, x-14, y+22, x-8, y-24, x+8, y-24, x+14, y+22)
			b.disc(x, y-30, 9, sun)
		}
	default: // a channel from side to side, more of them the further on
		channel := func(side int) {
			angle := float64(side)*math.Pi/3 + math.Pi/6
			b.line(x, y, x+130*math.Cos(angle), y+130*math.Sin(angle), 46, water)
		}
		for n := range 2 + i%3 {
			channel((i + n*(1+i%2)) % 6)
		}
		b.disc(x, y, 30, water)
		for n := range 7 {
			angle := float64(n*53%360) * math.Pi / 180
			left, top := x+74*math.Cos(angle), y+62*math.Sin(angle)
			if i < 12 {
				b.line(left, top+14, left+4, top-16, 3, color.NRGBA{64, 84, 48, 255})
				b.disc(left+4, top-16, 4, wood)
			} else {
				b.oval(left, top, 12, 5, color.NRGBA{122, 102, 76, 255})
			}
		}
		if i%6 == 5 { // a quay
			b.fill(x-34, y-16, x+34, y+16, wood)
			b.shape(brick, x-24, y-16, x, y-48, x+24, y-16)
			b.fill(x-16, y-16, x+16, y+8, paper)
		}
	}
	for _, corner := range [][]float64{{0, 0, 60, 0, 0, 104}, {0, 208, 60, 208, 0, 104}, {240, 0, 180, 0, 240, 104}, {240, 208, 180, 208, 240, 104}} {
		b.clear(corner...)
	}
	for side := range 6 { // the rim
		from, to := float64(side)*math.Pi/3, float64(side+1)*math.Pi/3
		b.line(x+116*math.Cos(from), y+116*math.Sin(from), x+116*math.Cos(to), y+116*math.Sin(to), 7, ink)
	}
}
