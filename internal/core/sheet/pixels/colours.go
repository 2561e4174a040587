package pixels

import (
	"image"
	"image/color"
)

// Colour is red, green and blue as they are premultiplied with alpha, and alpha, 0 to 255.
type Colour [4]float32

// Clear reports whether one looks through.
func (c Colour) Clear() bool { return c[3] < 16 }

// ApartBy is how far two colours lie apart: by the channel that differs most.
func ApartBy(a, b Colour) float64 {
	return float64(max(Distance(a[0], b[0]), Distance(a[1], b[1]), Distance(a[2], b[2]), Distance(a[3], b[3])))
}

// TintOf is how much more one channel differs from a ground than another, 0 to 510: 0 for what is as grey as the ground.
func TintOf(c, ground Colour) float64 {
	red, green, blue := c[0]-ground[0], c[1]-ground[1], c[2]-ground[2]
	return float64(max(red, green, blue) - min(red, green, blue))
}

// Distance is how far two channels lie apart.
func Distance(a, b float32) float32 {
	if a > b {
		return a - b
	}
	return b - a
}

// Shade is how bright a colour looks on white, 0 to 255.
func (c Colour) Shade() float64 {
	return 255 - float64(c[3]) + 0.35*float64(c[0]) + 0.5*float64(c[1]) + 0.15*float64(c[2])
}

// Straight turns colour premultiplied with alpha, 16 bits each, into straight
// Colour of 8 bits.
func Straight(r, g, b, a uint32) (uint8, uint8, uint8, uint8) {
	if a == 0 {
		return 0, 0, 0, 0
	}
	return uint8(r * 0xff / a), uint8(g * 0xff / a), uint8(b * 0xff / a), uint8(a >> 8)
}

// Colouring reads single pixels of a picture.
func Colouring(p image.Image) func(x, y int) Colour {
	switch p := p.(type) {
	case *image.NRGBA:
		return func(x, y int) Colour {
			i := p.PixOffset(x, y)
			return Premultiplied(p.Pix[i], p.Pix[i+1], p.Pix[i+2], p.Pix[i+3])
		}
	case *image.YCbCr:
		return func(x, y int) Colour {
			i := p.COffset(x, y)
			r, g, b := color.YCbCrToRGB(p.Y[p.YOffset(x, y)], p.Cb[i], p.Cr[i])
			return Colour{float32(r), float32(g), float32(b), 255}
		}
	}
	return func(x, y int) Colour { return Premultiplied(Straight(p.At(x, y).RGBA())) }
}

// RowReader reads every so many pixels of a picture's rows.
func RowReader(p image.Image) func(y, every int, row []Colour) {
	switch p := p.(type) {
	case *image.NRGBA:
		return func(y, every int, row []Colour) {
			pixels := p.Pix[p.PixOffset(0, y):]
			for x := 0; x < len(row); x += every {
				row[x] = Premultiplied(pixels[4*x], pixels[4*x+1], pixels[4*x+2], pixels[4*x+3])
			}
		}
	case *image.YCbCr:
		return func(y, every int, row []Colour) {
			for x := 0; x < len(row); x += every {
				c := p.COffset(x, y)
				r, g, b := color.YCbCrToRGB(p.Y[p.YOffset(x, y)], p.Cb[c], p.Cr[c])
				row[x] = Colour{float32(r), float32(g), float32(b), 255}
			}
		}
	case *image.Paletted:
		var colours [256]Colour
		for i, c := range p.Palette {
			colours[i] = Premultiplied(Straight(c.RGBA()))
		}
		return func(y, every int, row []Colour) {
			pixels := p.Pix[p.PixOffset(0, y):]
			for x := 0; x < len(row); x += every {
				row[x] = colours[pixels[x]]
			}
		}
	}
	return func(y, every int, row []Colour) {
		for x := 0; x < len(row); x += every {
			row[x] = Premultiplied(Straight(p.At(x, y).RGBA()))
		}
	}
}

// Premultiplied is a colour of straight channels.
func Premultiplied(r, g, b, a uint8) Colour {
	if a == 255 {
		return Colour{float32(r), float32(g), float32(b), 255}
	}
	share := float32(a) / 255
	return Colour{float32(r) * share, float32(g) * share, float32(b) * share, float32(a)}
}

// MainOf is the colour that most of several have.
func MainOf(line []Colour) (main Colour) {
	var histogram [4096]uint16
	bin := func(c Colour) int { return int(c[0])>>4<<8 | int(c[1])>>4<<4 | int(c[2])>>4 }
	most := bin(line[0])
	for _, c := range line {
		k := bin(c)
		if histogram[k]++; histogram[k] > histogram[most] {
			most = k
		}
	}
	n := float32(0)
	for _, c := range line {
		if bin(c) == most {
			for i := range c {
				main[i] += c[i]
			}
			n++
		}
	}
	for i := range main {
		main[i] /= n
	}
	return main
}
