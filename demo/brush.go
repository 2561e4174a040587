package demo

import (
	"image"
	"image/color"
	"image/draw"
	"math"

	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"
	"golang.org/x/image/vector"
)

// The colours of the marsh.
var (
	ink     = color.NRGBA{38, 50, 56, 255}
	paper   = color.NRGBA{250, 247, 238, 255}
	foam    = color.NRGBA{255, 255, 255, 210}
	reed    = color.NRGBA{98, 120, 72, 255}
	sun     = color.NRGBA{244, 190, 78, 255}
	cloud   = color.NRGBA{226, 230, 232, 255}
	brick   = color.NRGBA{176, 78, 58, 255}
	harbour = color.NRGBA{46, 98, 138, 255}
	mud     = color.NRGBA{150, 130, 100, 255}
	water   = color.NRGBA{104, 158, 168, 255}
	wood    = color.NRGBA{112, 78, 52, 255}
	skin    = color.NRGBA{214, 172, 136, 255}
)

// brush paints one picture. It paints RGBA, which the rasterizer does much faster
// than other kinds.
type brush struct {
	on         *image.RGBA
	wide, high float64
}

func newBrush(wide, high int) *brush {
	return &brush{image.NewRGBA(image.Rect(0, 0, wide, high)), float64(wide), float64(high)}
}

// within paints onto a part of a sheet.
func within(sheet *image.RGBA, r image.Rectangle) (*brush, func()) {
	b := newBrush(r.Dx(), r.Dy())
	return b, func() { draw.Draw(sheet, r, b.on, image.Point{}, draw.Src) }
}

func (b *brush) fill(x0, y0, x1, y1 float64, c color.NRGBA) {
	draw.Draw(b.on, image.Rect(int(x0), int(y0), int(x1), int(y1)), image.NewUniform(c), image.Point{}, draw.Over)
}

func (b *brush) all(c color.NRGBA) { b.fill(0, 0, b.wide, b.high, c) }

// shape fills the outline through points given as x, y, x, y …
func (b *brush) shape(c color.NRGBA, points ...float64) {
	box := image.Rect(math.MaxInt32, math.MaxInt32, math.MinInt32, math.MinInt32)
	for i := 0; i < len(points); i += 2 {
		box.Min.X, box.Min.Y = min(box.Min.X, int(points[i])-1), min(box.Min.Y, int(points[i+1])-1)
		box.Max.X, box.Max.Y = max(box.Max.X, int(points[i])+2), max(box.Max.Y, int(points[i+1])+2)
	}
	box = box.Intersect(b.on.Rect)
	if box.Empty() {
		return
	}
	r := vector.NewRasterizer(box.Dx(), box.Dy())
	at := func(i int) (float32, float32) {
		return float32(points[i]) - float32(box.Min.X), float32(points[i+1]) - float32(box.Min.Y)
	}
	r.MoveTo(at(0))
	for i := 2; i < len(points); i += 2 {
		r.LineTo(at(i))
	}
	r.ClosePath()
	r.Draw(b.on, box, image.NewUniform(c), image.Point{})
}

// clear makes what lies inside an outline transparent.
func (b *brush) clear(points ...float64) {
	r := vector.NewRasterizer(b.on.Rect.Dx(), b.on.Rect.Dy())
	r.DrawOp = draw.Src
	mask := image.NewAlpha(b.on.Rect)
	r.MoveTo(float32(points[0]), float32(points[1]))
	for i := 2; i < len(points); i += 2 {
		r.LineTo(float32(points[i]), float32(points[i+1]))
	}
	r.ClosePath()
	r.Draw(mask, mask.Rect, image.Opaque, image.Point{})
	for y := range b.on.Rect.Dy() {
		for x := range b.on.Rect.Dx() {
			if mask.AlphaAt(x, y).A > 127 {
				b.on.SetRGBA(x, y, color.RGBA{})
			}
		}
	}
}

// ring are the points of an oval.
func ring(x, y, rx, ry float64) (points []float64) {
	for a := 0.0; a < 2*math.Pi; a += math.Pi / 32 {
		points = append(points, x+rx*math.Cos(a), y+ry*math.Sin(a))
	}
	return points
}

func (b *brush) disc(x, y, radius float64, c color.NRGBA) { b.shape(c, ring(x, y, radius, radius)...) }
func (b *brush) oval(x, y, rx, ry float64, c color.NRGBA) { b.shape(c, ring(x, y, rx, ry)...) }

// line draws a straight line of a thickness.
func (b *brush) line(x0, y0, x1, y1, thick float64, c color.NRGBA) {
	length := math.Hypot(x1-x0, y1-y0)
	dx, dy := (y1-y0)/length*thick/2, (x1-x0)/length*thick/2
	b.shape(c, x0+dx, y0-dy, x1+dx, y1-dy, x1-dx, y1+dy, x0-dx, y0+dy)
}

func (b *brush) frame(c color.NRGBA) {
	b.fill(0, 0, b.wide, 5, c)
	b.fill(0, b.high-5, b.wide, b.high, c)
	b.fill(0, 0, 5, b.high, c)
	b.fill(b.wide-5, 0, b.wide, b.high, c)
}

// write writes a text centred at a spot, its base line at y.
func (b *brush) write(text string, x, y, height float64, c color.NRGBA) (half float64) {
	parsed, err := opentype.Parse(gobold.TTF)
	if err != nil {
		panic(err) // the font ships with its package
	}
	face, err := opentype.NewFace(parsed, &opentype.FaceOptions{Size: height, DPI: 72})
	if err != nil {
		panic(err)
	}
	d := font.Drawer{Dst: b.on, Src: image.NewUniform(c), Face: face}
	wide := d.MeasureString(text)
	d.Dot = fixed.Point26_6{X: fixed.Int26_6(x*64) - wide/2, Y: fixed.Int26_6(y * 64)}
	d.DrawString(text)
	return float64(wide) / 128
}

// label writes a text on a paper strip near the lower edge.
func (b *brush) label(text string) {
	height := b.high * 0.12
	half := newBrush(1, 1).write(text, 0, 0, height, ink)
	b.fill(b.wide/2-half-12, b.high-1.8*height, b.wide/2+half+12, b.high-0.53*height, paper)
	b.write(text, b.wide/2, b.high-0.83*height, height, ink)
}

// waves covers all with rows of waves.
func (b *brush) waves(c color.NRGBA, size float64) {
	for row := 0; float64(row)*size*0.85 < b.high+size; row++ {
		for i := -1; float64(i)*size < b.wide+size; i++ {
			x, y := float64(i)*size-float64(row%2)*size/2, float64(row)*size*0.85
			b.shape(c, x, y, x+size/2, y-size*0.3, x+size, y, x+size/2, y-size*0.15)
		}
	}
}
