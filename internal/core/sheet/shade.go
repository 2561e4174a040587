package sheet

import "image"

// shading tells how bright the pixels of a picture look on white, 0 to 255. Two
// colours of the same shade count as alike, which is near enough to find cuts
// and empty cells.
func shading(p image.Image) func(x, y int) float64 {
	switch p := p.(type) {
	case *image.NRGBA:
		return func(x, y int) float64 {
			i := p.PixOffset(x, y)
			return shadeOf(p.Pix[i], p.Pix[i+1], p.Pix[i+2], p.Pix[i+3])
		}
	case *image.YCbCr:
		return func(x, y int) float64 { return float64(p.Y[p.YOffset(x, y)]) }
	case *image.Paletted:
		var shades [256]float64
		for i, c := range p.Palette {
			shades[i] = shadeOf(straight(c.RGBA()))
		}
		return func(x, y int) float64 { return shades[p.Pix[p.PixOffset(x, y)]] }
	}
	return func(x, y int) float64 { return shadeOf(straight(p.At(x, y).RGBA())) }
}

func shadeOf(r, g, b, a uint8) float64 {
	return 255 - float64(a)/255*(255-(0.35*float64(r)+0.5*float64(g)+0.15*float64(b)))
}

// straight turns colour premultiplied with alpha, 16 bits each, into straight
// colour of 8 bits.
func straight(r, g, b, a uint32) (uint8, uint8, uint8, uint8) {
	if a == 0 {
		return 0, 0, 0, 0
	}
	return uint8(r * 0xff / a), uint8(g * 0xff / a), uint8(b * 0xff / a), uint8(a >> 8)
}
