package sheet_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"testing"

	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/sheet"
)

// plan is a sheet to be drawn for a test: how its cells lie and how they look.
type plan struct {
	sheet.Grid
	wide, high int // of a cell
	empty      int // cells left empty at the end
	ground     color.NRGBA
	look       string // framed, bleed, white or round
	jpeg       int    // quality, 0: none
}

func (p plan) String() string {
	return fmt.Sprintf("%d × %d of %d × %d, margin %d, gutter %d, %d empty, %s on %v, jpeg %d",
		p.Columns, p.Rows, p.wide, p.high, p.Margin, p.Gutter, p.empty, p.look, p.ground, p.jpeg)
}

var (
	white       = color.NRGBA{255, 255, 255, 255}
	dark        = color.NRGBA{24, 26, 30, 255}
	grey        = color.NRGBA{128, 130, 126, 255}
	transparent = color.NRGBA{}
)

// draw makes the sheet: every card has art, a title, lines of text, and all of a
// sheet the same frame.
func (p plan) draw(t *testing.T) image.Image {
	size := image.Pt(2*p.Margin[0]+p.Columns*p.wide+(p.Columns-1)*p.Gutter[0], 2*p.Margin[0]+p.Rows*p.high+(p.Rows-1)*p.Gutter[0])
	picture := image.NewNRGBA(image.Rectangle{Max: size})
	fill(picture, picture.Rect, p.ground)
	s := chance.Derive(chance.Seed{byte(p.Columns), byte(p.Rows), byte(p.empty), byte(p.Gutter[0])}, uint64(p.wide*p.high), p.look)
	for cell := 1; cell <= p.Cells()-p.empty; cell++ {
		card := picture.SubImage(p.Cell(size, cell)).(*image.NRGBA)
		drawCard(card, s, p.look)
	}
	if p.jpeg == 0 {
		return picture
	}
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, picture, &jpeg.Options{Quality: p.jpeg}))
	decoded, err := sheet.Read(out.Bytes())
	require.NoError(t, err)
	return decoded
}

func fill(on draw.Image, r image.Rectangle, c color.NRGBA) {
	draw.Draw(on, r, image.NewUniform(c), image.Point{}, draw.Src)
}

func drawCard(card *image.NRGBA, s *chance.Stream, look string) {
	r := card.Rect
	unit := max(2, min(r.Dx(), r.Dy())/40)
	shade := func() color.NRGBA {
		w := s.Word()
		return color.NRGBA{uint8(w), uint8(w >> 8), uint8(w >> 16), 255}
	}
	inner := r
	switch look {
	case "framed":
		fill(card, r, color.NRGBA{30, 40, 50, 255})
		inner = r.Inset(2 * unit)
	case "white":
		fill(card, r, white)
		inner = r.Inset(3 * unit)
	case "round":
		fill(card, r.Inset(1), color.NRGBA{90, 60, 40, 255})
		inner = r.Inset(2 * unit)
	}
	fill(card, inner, shade())
	for range 60 {
		x, y := inner.Min.X+int(s.Below(uint64(inner.Dx())))-4, inner.Min.Y+int(s.Below(uint64(inner.Dy())))-4
		blot := image.Rect(x, y, x+8+int(s.Below(uint64(r.Dx()/4))), y+8+int(s.Below(uint64(r.Dy()/5))))
		fill(card, blot.Intersect(inner), shade())
	}
	text := image.Rect(inner.Min.X+2*unit, inner.Max.Y-inner.Dy()/3, inner.Max.X-2*unit, inner.Max.Y-2*unit)
	fill(card, text, color.NRGBA{244, 240, 228, 255})
	for y := text.Min.Y + 2*unit; y < text.Max.Y-2*unit; y += 3 * unit {
		for x := text.Min.X + unit; x < text.Max.X-unit; x += unit {
			if s.Below(3) > 0 {
				fill(card, image.Rect(x, y, x+max(1, unit*2/3), y+unit).Intersect(text), color.NRGBA{40, 40, 40, 255})
			}
		}
	}
}

// plans are the sheets that guesses are measured on: many sizes, gutters,
// grounds, looks and endings.
func plans() []plan {
	all := []plan{}
	add := func(c, r, w, h, margin, gutter, empty int, ground color.NRGBA, look string, quality int) {
		all = append(all, plan{sheet.Grid{Columns: c, Rows: r, Margin: sheet.Around(margin), Gutter: sheet.Between(gutter)}, w, h, empty, ground, look, quality})
	}
	for _, look := range []string{"framed", "bleed", "white"} {
		add(10, 7, 126, 176, 0, 0, 0, white, look, 0)
		add(4, 4, 176, 126, 0, 0, 2, white, look, 0)
		add(6, 5, 126, 176, 0, 0, 4, transparent, look, 0)
		add(5, 3, 150, 150, 0, 0, 1, dark, look, 0)
		add(3, 3, 250, 350, 0, 0, 0, white, look, 85)
		add(5, 4, 126, 176, 20, 12, 3, white, look, 0)
		add(4, 2, 180, 250, 30, 16, 0, dark, look, 80)
		add(3, 6, 176, 126, 14, 8, 2, transparent, look, 0)
		add(8, 2, 120, 168, 0, 10, 0, dark, look, 0)
		add(2, 2, 300, 420, 40, 24, 1, grey, look, 75)
	}
	add(1, 1, 300, 420, 0, 0, 0, white, "framed", 0)
	add(1, 1, 420, 300, 0, 0, 0, white, "bleed", 85)
	add(2, 1, 300, 420, 0, 0, 0, white, "framed", 0)
	add(1, 3, 420, 300, 0, 0, 0, white, "framed", 0)
	add(20, 10, 90, 126, 0, 0, 7, white, "framed", 0)
	add(20, 10, 90, 126, 0, 0, 19, white, "bleed", 90)
	add(12, 8, 100, 140, 16, 6, 5, white, "framed", 85)
	add(7, 5, 126, 176, 10, 0, 6, white, "framed", 0)
	add(9, 6, 110, 80, 12, 4, 8, dark, "framed", 0)
	add(6, 6, 120, 120, 8, 8, 5, white, "round", 0)
	add(8, 5, 120, 168, 0, 0, 3, transparent, "round", 0)
	add(7, 7, 126, 176, 0, 0, 6, dark, "round", 85)
	add(4, 3, 250, 350, 50, 20, 0, white, "round", 70)
	add(13, 4, 100, 140, 0, 0, 0, white, "framed", 90)
	add(5, 11, 140, 100, 0, 0, 4, white, "bleed", 0)
	return all
}
