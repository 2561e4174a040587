package sheet

import (
	"damselfly.example/damselfly/internal/core/sheet/guess"
	"fmt"
	"image"
	"math"
	"slices"
)

// edge is one side of a cell: the shades along the line just inside the cut, and
// whether the picture goes on across it.
type edge struct {
	shades []float64
	goesOn bool
}

// warnOfCutsThroughContent finds cuts across which a picture goes on: along both
// sides of the line the shades vary, and vary together. Where most cells have the
// same pattern along that side it is a border that all cards share, and no warning; nor
// is it one where the picture goes on at a few cards of a line alone.
func (r *Report) warnOfCutsThroughContent(at func(x, y int) float64, seen guess.Seen) {
	edges := make([][4]edge, len(r.Cells))
	for i, c := range r.Cells {
		edges[i] = r.edges(at, c)
	}
	cuts := cutLines{}
	through := func(cell, side int) bool {
		return edges[cell-1][side].goesOn && !shared(edges, r.Cells, cell-1, side)
	}
	for i := range r.Cells {
		c := &r.Cells[i]
		if next := c.Number + 1; c.Column < r.Grid.Columns && (through(c.Number, right) || through(next, left)) {
			cuts.meet(0, c.Column, c.Number, fmt.Sprintf("the cut to cell %d runs through content", next))
		}
		if below := c.Number + r.Grid.Columns; c.Row < r.Grid.Rows && (through(c.Number, bottom) || through(below, top)) {
			cuts.meet(1, c.Row, c.Number, fmt.Sprintf("the cut to cell %d runs through content", below))
		}
		for side, at := range [4]bool{left: c.Column == 1, top: c.Row == 1, right: c.Column == r.Grid.Columns, bottom: c.Row == r.Grid.Rows} {
			if at && r.Grid.Margin[side] > 0 && through(c.Number, side) {
				cuts.meet(2, side, c.Number, "the cut along the margin runs through content")
			}
		}
	}
	for line, met := range cuts {
		if of := r.cutsOf(line); 2*len(met) <= of || !r.goesOn(line, seen) {
			continue // some cards' own, and not where the sheet is cut
		}
		for cell, warning := range met {
			r.Cells[cell-1].warn(warning)
		}
	}
}

// cutsOf is at how many cells a line cuts.
func (r *Report) cutsOf(line [2]int) int {
	if line[0] == 1 || line[0] == 2 && (line[1] == top || line[1] == bottom) {
		return r.Grid.Columns
	}
	return r.Grid.Rows
}

// goesOn reports whether content goes on across a line as it does inside cards.
func (r *Report) goesOn(line [2]int, seen guess.Seen) bool {
	size := image.Pt(r.Width, r.Height)
	first, last := r.Grid.Cell(size, 1), r.Grid.Cell(size, r.Grid.Cells())
	switch {
	case line[0] == 0:
		before, after := r.Grid.Cell(size, line[1]), r.Grid.Cell(size, line[1]+1)
		return seen.GoesOn(false, before.Max.X) || seen.GoesOn(false, after.Min.X)
	case line[0] == 1:
		before, after := r.Grid.Cell(size, (line[1]-1)*r.Grid.Columns+1), r.Grid.Cell(size, line[1]*r.Grid.Columns+1)
		return seen.GoesOn(true, before.Max.Y) || seen.GoesOn(true, after.Min.Y)
	case line[1] == left:
		return seen.GoesOn(false, first.Min.X)
	case line[1] == top:
		return seen.GoesOn(true, first.Min.Y)
	case line[1] == right:
		return seen.GoesOn(false, last.Max.X)
	}
	return seen.GoesOn(true, last.Max.Y)
}

// cutLines are the lines along which a sheet is cut, by their direction and number, and the
// cells at which each runs through content, with what is to be said there.
type cutLines map[[2]int]map[int]string

func (c cutLines) meet(direction, number, cell int, warning string) {
	line := [2]int{direction, number}
	if c[line] == nil {
		c[line] = map[int]string{}
	}
	c[line][cell] = warning
}

// warn adds a warning that was not given yet, in the order of what is said.
func (c *Cell) warn(warning string) {
	if at, there := slices.BinarySearch(c.Warnings, warning); !there {
		c.Warnings = slices.Insert(c.Warnings, at, warning)
	}
}

// edges reads the four sides of a cell.
func (r *Report) edges(at func(x, y int) float64, c Cell) (all [4]edge) {
	cell := r.Grid.Cell(image.Pt(r.Width, r.Height), c.Number)
	upright := func(inside, outside int) edge {
		return readEdge(cell.Dy(), outside >= 0 && outside < r.Width, func(i int) (float64, float64) {
			return at(inside, cell.Min.Y+i), at(outside, cell.Min.Y+i)
		})
	}
	level := func(inside, outside int) edge {
		return readEdge(cell.Dx(), outside >= 0 && outside < r.Height, func(i int) (float64, float64) {
			return at(cell.Min.X+i, inside), at(cell.Min.X+i, outside)
		})
	}
	all[left], all[right] = upright(cell.Min.X, cell.Min.X-1), upright(cell.Max.X-1, cell.Max.X)
	all[top], all[bottom] = level(cell.Min.Y, cell.Min.Y-1), level(cell.Max.Y-1, cell.Max.Y)
	return all
}

// acrossShade is how far shades lie apart, in the mean, where a picture goes on.
const acrossShade = 20.0

// edgePoints is at how many points edges are compared with each other.
const edgePoints = 64

func readEdge(n int, hasOutside bool, at func(i int) (inside, outside float64)) edge {
	if !hasOutside {
		return edge{}
	}
	e := edge{shades: make([]float64, min(n, edgePoints))}
	inner, outer := make([]float64, n), make([]float64, n)
	for i := range n {
		inner[i], outer[i] = at(i)
	}
	for i := range e.shades {
		e.shades[i] = inner[i*n/len(e.shades)]
	}
	varies := together(inner, outer)
	e.goesOn = varies > 0.8 && apart(inner, outer) < acrossShade || varies > 0 && mostlyAlike(inner, outer)
	return e
}

// sharedBy is the share of the other cells that must have the same pattern along a
// side.
const sharedBy = 0.5

// shared reports whether most cells look alike along a side.
func shared(edges [][4]edge, cells []Cell, cell, side int) bool {
	alike, of := 0, 0
	for i := range edges {
		if i == cell || cells[i].Empty || edges[i][side].shades == nil {
			continue
		}
		of++
		if together(edges[cell][side].shades, edges[i][side].shades) > 0.8 {
			alike++
		}
	}
	return of > 1 && float64(alike) >= sharedBy*float64(of)
}

// apart is the mean distance of two lines of shades.
func apart(a, b []float64) float64 {
	sum := 0.0
	for i := range a {
		sum += math.Abs(a[i] - b[i])
	}
	return sum / float64(len(a))
}

// alikeAcross is how far shades lie apart at most where they count as one: the noise of JPEG.
const alikeAcross = 12.0

// alikeShare is the share of points of a line that are alike on both sides where a
// picture goes on, though an edge in it may fall together with the cut.
const alikeShare = 0.7

func mostlyAlike(a, b []float64) bool {
	near := 0
	for i := range a {
		if math.Abs(a[i]-b[i]) < alikeAcross {
			near++
		}
	}
	return float64(near) > alikeShare*float64(len(a))
}

// together is how much two lines of shades vary together, from -1 to 1; 0 if one of
// them does not vary by more than noise.
func together(a, b []float64) float64 {
	var sumA, sumB, squareA, squareB, product float64
	for i := range a {
		sumA, sumB = sumA+a[i], sumB+b[i]
		squareA, squareB, product = squareA+a[i]*a[i], squareB+b[i]*b[i], product+a[i]*b[i]
	}
	n := float64(len(a))
	varianceA, varianceB := squareA/n-sumA/n*sumA/n, squareB/n-sumB/n*sumB/n
	if varianceA < 64 || varianceB < 64 {
		return 0
	}
	return (product/n - sumA/n*sumB/n) / math.Sqrt(varianceA*varianceB)
}
