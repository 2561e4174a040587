package print

import (
	"fmt"
	"image"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/sheet"
)

// Blank is a sheet to draw cards into.
type Blank struct {
	Columns, Rows int
	Card          image.Point // pixels, where it is cut
	Bleed         int         // pixels around each card that are drawn over and cut off
	Safe          int         // pixels within its cut where nothing of importance is to stand
}

// Grid is how the sheet is cut when it is drawn.
func (b Blank) Grid() sheet.Grid {
	return sheet.Grid{Columns: b.Columns, Rows: b.Rows, Margin: sheet.Around(b.Bleed), Gutter: sheet.Between(2 * b.Bleed)}
}

// size is that of the whole sheet, in pixels.
func (b Blank) size() image.Point {
	return image.Pt(b.Columns*(b.Card.X+2*b.Bleed), b.Rows*(b.Card.Y+2*b.Bleed))
}

// Wrong says what is wrong with it; nil if nothing is.
func (b Blank) Wrong() error {
	size := b.size()
	switch {
	case b.Columns < 1 || b.Rows < 1 || b.Columns > sheet.MaxCells || b.Columns*b.Rows > sheet.MaxCells || b.Rows > sheet.MaxCells:
		return fmt.Errorf("a sheet has 1 to %d cells, not %d × %d", sheet.MaxCells, b.Columns, b.Rows)
	case b.Card.X < 20 || b.Card.Y < 20:
		return fmt.Errorf("a card is at least 20 × 20 pixels, not %d × %d", b.Card.X, b.Card.Y)
	case b.Bleed < 0 || b.Safe < 0 || 2*b.Safe >= min(b.Card.X, b.Card.Y):
		return fmt.Errorf("bleed and the safe rim are pixels, and the rim is less than half a card; not %d and %d", b.Bleed, b.Safe)
	case size.X > sheet.DefaultLongest || size.Y > sheet.DefaultLongest:
		return fmt.Errorf("the sheet would be %d × %d pixels; its sides have %d at most, so take fewer columns or rows, or smaller cards", size.X, size.Y, sheet.DefaultLongest)
	}
	return nil
}

// Draw draws the sheet: each cell with its number, a line where it is cut and one around what is safe, on a tint of what is cut off.
func (b Blank) Draw(fonts *deck.Fonts) (*image.NRGBA, error) {
	if err := b.Wrong(); err != nil {
		return nil, err
	}
	size := b.size()
	l := &deck.Layout{Size: []int{size.X, size.Y}}
	box := func(r image.Rectangle, b deck.Box) {
		b.At = []float64{float64(r.Min.X), float64(r.Min.Y), float64(r.Dx()), float64(r.Dy())}
		l.Front = append(l.Front, b)
	}
	box(image.Rectangle{Max: size}, deck.Box{Fill: "#e8edf0"})
	for cell := 1; cell <= b.Columns*b.Rows; cell++ {
		r := b.Grid().Cell(size, cell)
		box(r, deck.Box{Fill: "#ffffff", Line: 1, Colour: "#788890"})
		if b.Safe > 0 {
			box(r.Inset(b.Safe), deck.Box{Line: 1, Colour: "#a9c9c2"})
		}
		high := min(r.Dx(), r.Dy()) / 4
		box(image.Rect(r.Min.X, (r.Min.Y+r.Max.Y)/2-high, r.Max.X, (r.Min.Y+r.Max.Y)/2+high),
			deck.Box{Align: "centre", Down: "middle", Height: float64(high), Text: fmt.Sprint(cell), Colour: "#c3ccd1"})
	}
	drawn, err := (&deck.Artist{Shipped: fonts}).Draw(l, l.Front, nil)
	return drawn.Picture, err
}
