package demo

import (
	"image"
	"image/color"
)

// courier is one of the six who carry letters.
type courier struct {
	name string
	coat color.NRGBA
	hat  string
}

var couriers = []courier{
	{"Ottoline", color.NRGBA{150, 64, 70, 255}, "cap"},
	{"Bram", color.NRGBA{58, 92, 120, 255}, "broad"},
	{"Wick", color.NRGBA{96, 116, 62, 255}, "hood"},
	{"Marigold", color.NRGBA{206, 146, 52, 255}, "cap"},
	{"Fenno", color.NRGBA{92, 72, 110, 255}, "broad"},
	{"Tamsin", color.NRGBA{44, 116, 108, 255}, "hood"},
}

const (
	uprightWide = 360
	uprightHigh = 504
)

// drawCouriers draws the sheet of the rested couriers, or of the tired ones: the
// other side of the same cards.
func drawCouriers(rested bool) image.Image {
	sheet := image.NewRGBA(image.Rect(0, 0, 3*uprightWide, 2*uprightHigh))
	for i, c := range couriers {
		at := image.Pt(i%3*uprightWide, i/3*uprightHigh)
		b, done := within(sheet, image.Rectangle{at, at.Add(image.Pt(uprightWide, uprightHigh))})
		c.draw(b, rested)
		done()
	}
	return sheet
}

func (c courier) draw(b *brush, rested bool) {
	sky, ground := color.NRGBA{222, 232, 220, 255}, color.NRGBA{160, 178, 140, 255}
	if !rested {
		sky, ground = color.NRGBA{70, 84, 104, 255}, color.NRGBA{54, 66, 74, 255}
	}
	b.all(sky)
	if rested {
		b.disc(290, 80, 34, sun)
	} else {
		b.disc(290, 80, 26, cloud)
		b.disc(302, 72, 24, sky)
	}
	b.fill(0, 330, b.wide, b.high, ground)
	x, y := b.wide/2, 240.0
	if !rested {
		y += 34
	}
	b.shape(c.coat, x-86, y+180, x-62, y+46, x-30, y+26, x+30, y+26, x+62, y+46, x+86, y+180) // the coat
	b.shape(paper, x-8, y+30, x+8, y+30, x+14, y+180, x-14, y+180)
	b.fill(x+34, y+90, x+92, y+136, wood) // the bag
	b.line(x-44, y+40, x+64, y+92, 8, wood)
	b.oval(x, y-16, 40, 46, skin)
	switch c.hat {
	case "cap":
		b.shape(c.coat, x-46, y-36, x-34, y-74, x+34, y-74, x+46, y-36)
		b.shape(ink, x-50, y-36, x+72, y-36, x+58, y-26, x-50, y-26)
	case "broad":
		b.oval(x, y-44, 78, 12, ink)
		b.shape(c.coat, x-36, y-46, x-28, y-92, x+28, y-92, x+36, y-46)
	default:
		b.shape(c.coat, x-56, y+30, x-54, y-40, x, y-88, x+54, y-40, x+56, y+30, x+36, y+14, x+34, y-34, x, y-58, x-34, y-34, x-36, y+14)
	}
	if rested {
		b.disc(x-15, y-14, 4.5, ink)
		b.disc(x+15, y-14, 4.5, ink)
		b.shape(ink, x-14, y+8, x, y+16, x+14, y+8, x, y+20)
	} else {
		b.line(x-21, y-12, x-9, y-10, 4, ink)
		b.line(x+9, y-10, x+21, y-12, 4, ink)
		b.oval(x, y+12, 7, 4, ink)
	}
	b.frame(c.coat)
	b.label(c.name)
	if !rested {
		b.fill(20, 20, 116, 58, ink)
		b.write("tired", 68, 47, 27, paper)
	}
}
