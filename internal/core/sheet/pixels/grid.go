// Package pixels is what guessing a grid and looking a sheet over both stand on: how cells lie on a picture, and its colours.
package pixels

import (
	"fmt"
	"image"
	"slices"
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
	Left = iota
	Top
	Right
	Bottom
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
	if w, h := g.Usable(size); w < 8*g.Columns || h < 8*g.Rows {
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

// Partly says why what is given of a grid cannot be that of a picture's, nil if it can; what is zero is not given.
func (g Grid) Partly(size image.Point) error {
	if g.Columns < 0 || g.Rows < 0 || g.Columns > MaxCells || g.Rows > MaxCells {
		return fmt.Errorf("columns and rows are from 1 to %d, not %d and %d", MaxCells, g.Columns, g.Rows)
	}
	return g.spacingFits(size)
}

// Usable is the size of the picture without margins and gutters.
func (g Grid) Usable(size image.Point) (w, h int) {
	return size.X - g.Margin[Left] - g.Margin[Right] - (g.Columns-1)*g.Gutter[0], size.Y - g.Margin[Top] - g.Margin[Bottom] - (g.Rows-1)*g.Gutter[1]
}

// Cell is the rectangle of a cell, numbered from 1. All cells have the same
// size; where the picture does not divide evenly, the surplus pixels lie
// between cells, so that the error never adds up.
func (g Grid) Cell(size image.Point, number int) image.Rectangle {
	w, h := g.Usable(size)
	column, row := (number-1)%g.Columns, (number-1)/g.Columns
	x := g.Margin[Left] + column*w/g.Columns + column*g.Gutter[0]
	y := g.Margin[Top] + row*h/g.Rows + row*g.Gutter[1]
	return image.Rect(x, y, x+w/g.Columns, y+h/g.Rows)
}

// NearBy is how many pixels grids differ by that are as good as the same.
const NearBy = 2

// Near reports whether two grids cut the same cards out, but for some pixels.
func (g Grid) Near(other Grid) bool {
	off := max(abs(g.Gutter[0]-other.Gutter[0]), abs(g.Gutter[1]-other.Gutter[1]))
	for side := range g.Margin {
		off = max(off, abs(g.Margin[side]-other.Margin[side]))
	}
	return g.Columns == other.Columns && g.Rows == other.Rows && off <= NearBy
}

// Even reports whether a grid's margin is the same on all sides, and its gutters the same both ways: that is no chance.
func (g Grid) Even() bool {
	return slices.Max(g.Margin[:])-slices.Min(g.Margin[:]) <= NearBy && (g.Columns == 1 || g.Rows == 1 || abs(g.Gutter[0]-g.Gutter[1]) <= NearBy)
}

// SidesWith is how many sides have a margin, but for some pixels.
func (g Grid) SidesWith(margin int) (n int) {
	for _, side := range g.Margin {
		if abs(side-margin) <= NearBy {
			n++
		}
	}
	return n
}

func abs(n int) int { return max(n, -n) }
