package sheet

import (
	"image"
	"image/color"
	"strconv"

	"golang.org/x/image/draw"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"
)

// markedSide is the longest side of a marked picture, in pixels.
const markedSide = 1600

var (
	cutColour   = color.NRGBA{214, 40, 96, 255}
	emptyColour = color.NRGBA{110, 116, 122, 190}
	pinColour   = color.NRGBA{176, 84, 0, 255}
	cellColour  = color.NRGBA{32, 40, 46, 200}
)

// Marked draws a sheet with what the report found: cut lines, cells greyed that
// are empty, and a pin with the cell's number on each cell with a warning.
func Marked(sheet image.Image, r Report) *image.NRGBA {
	size := image.Pt(r.Width, r.Height)
	scale := min(1, float64(markedSide)/float64(max(size.X, size.Y)))
	at := func(p image.Point) image.Point { return image.Pt(int(float64(p.X)*scale), int(float64(p.Y)*scale)) }
	marked := image.NewRGBA(image.Rectangle{Max: at(size)})
	draw.Draw(marked, marked.Rect, image.White, image.Point{}, draw.Src)
	draw.ApproxBiLinear.Scale(marked, marked.Rect, sheet, sheet.Bounds(), draw.Over, nil)
	face := pinFace()
	for _, c := range r.Cells {
		cell := r.Grid.Cell(size, c.Number)
		box := image.Rectangle{at(cell.Min), at(cell.Max)}
		if c.Empty {
			paint(marked, box, emptyColour)
		}
		for _, edge := range []image.Rectangle{
			{box.Min, image.Pt(box.Max.X, box.Min.Y+2)}, {image.Pt(box.Min.X, box.Max.Y-2), box.Max},
			{box.Min, image.Pt(box.Min.X+2, box.Max.Y)}, {image.Pt(box.Max.X-2, box.Min.Y), box.Max},
		} {
			paint(marked, edge, cutColour)
		}
		colour, text := cellColour, strconv.Itoa(c.Number)
		if len(c.Warnings) > 0 || c.Beyond {
			colour, text = pinColour, "! "+text
		}
		pin(marked, face, box.Min.Add(image.Pt(5, 5)), colour, text)
	}
	return &image.NRGBA{Pix: marked.Pix, Stride: marked.Stride, Rect: marked.Rect} // opaque, so the same bytes
}

func paint(on draw.Image, r image.Rectangle, c color.NRGBA) {
	draw.Draw(on, r, image.NewUniform(c), image.Point{}, draw.Over)
}

func pin(on draw.Image, face font.Face, at image.Point, c color.NRGBA, text string) {
	d := font.Drawer{Dst: on, Src: image.White, Face: face}
	box := image.Rectangle{at, at.Add(image.Pt(d.MeasureString(text).Ceil()+10, 22))}
	paint(on, box, c)
	d.Dot = fixed.P(at.X+5, at.Y+17)
	d.DrawString(text)
}

func pinFace() font.Face {
	parsed, err := opentype.Parse(gobold.TTF)
	if err != nil {
		panic(err) // the font ships with its package
	}
	face, err := opentype.NewFace(parsed, &opentype.FaceOptions{Size: 17, DPI: 72})
	if err != nil {
		panic(err)
	}
	return face
}
