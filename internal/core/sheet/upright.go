package sheet

import (
	"image"
	"math"

	"golang.org/x/image/draw"
	"golang.org/x/image/math/f64"

	"damselfly.example/damselfly/internal/core/sheet/pixels"
)

// Upright turns a picture that lies askew by so many degrees, clockwise, back about its middle. It stays as large; what comes in at
// the corners has the colour that most of its edge has.
func Upright(picture image.Image, askew float64) *image.NRGBA {
	r := picture.Bounds()
	turned := image.NewNRGBA(image.Rectangle{Max: r.Size()})
	at := pixels.Colouring(picture)
	var edge []pixels.Colour
	for x := r.Min.X; x < r.Max.X; x++ {
		edge = append(edge, at(x, r.Min.Y), at(x, r.Max.Y-1))
	}
	if ground := pixels.MainOf(edge); !ground.Clear() {
		middle := edge[0]
		for _, c := range edge {
			if pixels.ApartBy(c, ground) < pixels.ApartBy(middle, ground) {
				middle = c
			}
		}
		for i := 0; i < len(turned.Pix); i += 4 {
			turned.Pix[i], turned.Pix[i+1], turned.Pix[i+2], turned.Pix[i+3] = uint8(middle[0]), uint8(middle[1]), uint8(middle[2]), 255
		}
	}
	sin, cos := math.Sincos(-askew * math.Pi / 180)
	x, y := float64(r.Dx())/2, float64(r.Dy())/2
	draw.BiLinear.Transform(turned, f64.Aff3{cos, -sin, x - cos*x + sin*y, sin, cos, y - sin*x - cos*y}, picture, r, draw.Over, nil)
	return turned
}
