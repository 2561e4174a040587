package sheet

import (
	"image"
	"image/color"
	"math"
)

// colour is red, green and blue as they are premultiplied with alpha, and alpha, 0 to 255.
type colour [4]float32

// clear reports whether one looks through.
func (c colour) clear() bool { return c[3] < 16 }

// apartBy is how far two colours lie apart: by the channel that differs most.
func apartBy(a, b colour) float64 {
	return float64(max(distance(a[0], b[0]), distance(a[1], b[1]), distance(a[2], b[2]), distance(a[3], b[3])))
}

// tintOf is how much more one channel differs from a ground than another, 0 to 510: 0 for what is as grey as the ground.
func tintOf(c, ground colour) float64 {
	red, green, blue := c[0]-ground[0], c[1]-ground[1], c[2]-ground[2]
	return float64(max(red, green, blue) - min(red, green, blue))
}

// Bounds of what looks like a ground in a lossy picture: what lies beside it colours it more than it lights it.
const (
	coloured = 40.0
	lit      = 6.0
)

// looksLike reports whether a colour is a ground's.
func looksLike(c, ground colour, lossy float64) bool {
	apart := apartBy(c, ground)
	return apart <= groundShade*lossy || lossy > 1 && apart <= coloured && c[3] == ground[3] && math.Abs(c.shade()-ground.shade()) <= lit
}

func distance(a, b float32) float32 {
	if a > b {
		return a - b
	}
	return b - a
}

// shade is how bright a colour looks on white, 0 to 255.
func (c colour) shade() float64 {
	return 255 - float64(c[3]) + 0.35*float64(c[0]) + 0.5*float64(c[1]) + 0.15*float64(c[2])
}

// straight turns colour premultiplied with alpha, 16 bits each, into straight
// colour of 8 bits.
func straight(r, g, b, a uint32) (uint8, uint8, uint8, uint8) {
	if a == 0 {
		return 0, 0, 0, 0
	}
	return uint8(r * 0xff / a), uint8(g * 0xff / a), uint8(b * 0xff / a), uint8(a >> 8)
}

// colouring reads single pixels of a picture.
func colouring(p image.Image) func(x, y int) colour {
	switch p := p.(type) {
	case *image.NRGBA:
		return func(x, y int) colour {
			i := p.PixOffset(x, y)
			return premultiplied(p.Pix[i], p.Pix[i+1], p.Pix[i+2], p.Pix[i+3])
		}
	case *image.YCbCr:
		return func(x, y int) colour {
			i := p.COffset(x, y)
			r, g, b := color.YCbCrToRGB(p.Y[p.YOffset(x, y)], p.Cb[i], p.Cr[i])
			return colour{float32(r), float32(g), float32(b), 255}
		}
	}
	return func(x, y int) colour { return premultiplied(straight(p.At(x, y).RGBA())) }
}

// rowReader reads every so many pixels of a picture's rows.
func rowReader(p image.Image) func(y, every int, row []colour) {
	switch p := p.(type) {
	case *image.NRGBA:
		return func(y, every int, row []colour) {
			pixels := p.Pix[p.PixOffset(0, y):]
			for x := 0; x < len(row); x += every {
				row[x] = premultiplied(pixels[4*x], pixels[4*x+1], pixels[4*x+2], pixels[4*x+3])
			}
		}
	case *image.YCbCr:
		return func(y, every int, row []colour) {
			for x := 0; x < len(row); x += every {
				c := p.COffset(x, y)
				r, g, b := color.YCbCrToRGB(p.Y[p.YOffset(x, y)], p.Cb[c], p.Cr[c])
				row[x] = colour{float32(r), float32(g), float32(b), 255}
			}
		}
	case *image.Paletted:
		var colours [256]colour
		for i, c := range p.Palette {
			colours[i] = premultiplied(straight(c.RGBA()))
		}
		return func(y, every int, row []colour) {
			pixels := p.Pix[p.PixOffset(0, y):]
			for x := 0; x < len(row); x += every {
				row[x] = colours[pixels[x]]
			}
		}
	}
	return func(y, every int, row []colour) {
		for x := 0; x < len(row); x += every {
			row[x] = premultiplied(straight(p.At(x, y).RGBA()))
		}
	}
}

func premultiplied(r, g, b, a uint8) colour {
	if a == 255 {
		return colour{float32(r), float32(g), float32(b), 255}
	}
	share := float32(a) / 255
	return colour{float32(r) * share, float32(g) * share, float32(b) * share, float32(a)}
}
