package sheet

import (
	"image"
	"image/draw"
)

// Cut returns the picture of one cell. It may share its pixels with the sheet,
// so neither is to be changed.
func Cut(sheet image.Image, g Grid, number int) *image.NRGBA {
	from := g.Cell(sheet.Bounds().Size(), number)
	if p, ok := sheet.(*image.NRGBA); ok {
		return moved(p.SubImage(from).(*image.NRGBA))
	}
	return straightened(sheet, from)
}

// NRGBA returns a picture with straight colours of 8 bits, which may share its
// pixels.
func NRGBA(p image.Image) *image.NRGBA {
	if same, ok := p.(*image.NRGBA); ok {
		return moved(same)
	}
	return straightened(p, p.Bounds())
}

// moved puts a picture's upper left corner to 0, 0.
func moved(p *image.NRGBA) *image.NRGBA {
	return &image.NRGBA{Pix: p.Pix, Stride: p.Stride, Rect: image.Rectangle{Max: p.Rect.Size()}}
}

func straightened(p image.Image, from image.Rectangle) *image.NRGBA {
	whole := image.Rectangle{Max: from.Size()}
	if opaque, ok := p.(*image.YCbCr); ok { // image/draw has a fast way to RGBA, and opaque RGBA is NRGBA
		rgba := image.NewRGBA(whole)
		draw.Draw(rgba, whole, opaque, from.Min, draw.Src)
		return &image.NRGBA{Pix: rgba.Pix, Stride: rgba.Stride, Rect: whole}
	}
	card := image.NewNRGBA(whole)
	draw.Draw(card, whole, p, from.Min, draw.Src)
	return card
}
