package sheet

import (
	"fmt"
	"image"
)

// MaxCells bounds columns × rows of one sheet.
const MaxCells = 1000

// Grid is how the cells lie on a sheet. Count is how many cells from the first hold cards; 0
// leaves it to the content.
type Grid struct {
	Columns int    `json:"columns"`
	Rows    int    `json:"rows"`
	Margin  Margin `json:"margin,omitzero" doc:"Pixels around all cells: left, top, right, bottom."`
	Gutter  Gutter `json:"gutter,omitzero" doc:"Pixels between two cells: across, down."`
	Count   int    `json:"count,omitempty"`
}

// Sides of a cell and of a margin, in their order.
const (
	left = iota
	top
	right
	bottom
)

// Cells is how many cells the grid has.
func (g Grid) Cells() int { return g.Columns * g.Rows }

// Words tells a grid: "9 columns × 7 rows, margin 5, gutter 3, 0".
func (g Grid) Words() string {
	text := g.InCells()
	if g.Margin != (Margin{}) {
		text += fmt.Sprintf(", margin %v", g.Margin)
	}
	if g.Gutter != (Gutter{}) {
		text += fmt.Sprintf(", gutter %v", g.Gutter)
	}
	return text
}

// InCells tells a grid without its margin and gutter: "9 columns × 1 row".
func (g Grid) InCells() string {
	of := func(n int, what string) string {
		if n == 1 {
			return "1 " + what
		}
		return fmt.Sprintf("%d %ss", n, what)
	}
	return of(g.Columns, "column") + " × " + of(g.Rows, "row")
}

// Fits says why a grid cannot lie on a picture of a size, nil if it can.
func (g Grid) Fits(size image.Point) error {
	if g.Columns < 1 || g.Rows < 1 {
		return fmt.Errorf("columns and rows must be at least 1, not %d and %d", g.Columns, g.Rows)
	}
	if g.Columns > MaxCells || g.Rows > MaxCells || g.Cells() > MaxCells {
		return fmt.Errorf("%s are more than %d cells", g.InCells(), MaxCells)
	}
	if err := g.spacingFits(size); err != nil {
		return err
	}
	if g.Count < 0 || g.Count > g.Cells() {
		return fmt.Errorf("%s are %d cells, so they cannot hold %d cards", g.InCells(), g.Cells(), g.Count)
	}
	if w, h := g.usable(size); w < 8*g.Columns || h < 8*g.Rows {
		return fmt.Errorf("%s leave cells under 8 pixels on a picture of %d × %d", g.InCells(), size.X, size.Y)
	}
	return nil
}

// spacingFits says why margin and gutter cannot be those of a picture, nil if they can.
func (g Grid) spacingFits(size image.Point) error {
	for _, n := range append(g.Margin[:], g.Gutter[:]...) {
		if most := max(size.X, size.Y); n < 0 || n > most {
			return fmt.Errorf("margin and gutter must be between 0 and %d pixels, not %v and %v", most, g.Margin, g.Gutter)
		}
	}
	return nil
}

// partly says why what is given of a grid cannot be that of a picture's, nil if it can; what is zero is not given.
func (g Grid) partly(size image.Point) error {
	if g.Columns < 0 || g.Rows < 0 || g.Columns > MaxCells || g.Rows > MaxCells {
		return fmt.Errorf("columns and rows are from 1 to %d, not %d and %d", MaxCells, g.Columns, g.Rows)
	}
	return g.spacingFits(size)
}

// usable is the size of the picture without margins and gutters.
func (g Grid) usable(size image.Point) (w, h int) {
	return size.X - g.Margin[left] - g.Margin[right] - (g.Columns-1)*g.Gutter[0], size.Y - g.Margin[top] - g.Margin[bottom] - (g.Rows-1)*g.Gutter[1]
}

// Cell is the rectangle of a cell, numbered from 1. All cells have the same
// size; where the picture does not divide evenly, the surplus pixels lie
// between cells, so that the error never adds up.
func (g Grid) Cell(size image.Point, number int) image.Rectangle {
	w, h := g.usable(size)
	column, row := (number-1)%g.Columns, (number-1)/g.Columns
	x := g.Margin[left] + column*w/g.Columns + column*g.Gutter[0]
	y := g.Margin[top] + row*h/g.Rows + row*g.Gutter[1]
	return image.Rect(x, y, x+w/g.Columns, y+h/g.Rows)
}
