// Package grid is the arithmetic of square and hex grids: addresses, steps,
// distances. Nothing wraps round an edge.
//
//	g := grid.Grid{Shape: grid.Square, Columns: 6, Rows: 4}
//	at, ok := g.Parse("B3") // column B, row 3
//	g.Within(at, 2)         // the cells at most two steps away
package grid

import (
	"strconv"
	"strings"
)

// Shape is the shape of a grid's cells.
type Shape string

// The shapes. Square4 cells touch along sides; Square cells across corners
// too. Hex columns stand upright, every second one half a cell lower.
const (
	Square  Shape = "square"
	Square4 Shape = "square4"
	Hex     Shape = "hex"
)

// Grid is a grid of cells.
type Grid struct {
	Shape   Shape `json:"shape"`
	Columns int   `json:"columns"`
	Rows    int   `json:"rows"`
}

// Cell is a cell's column and row, both from 0.
type Cell struct{ Column, Row int }

// MaxSide is the largest number of columns or rows.
const MaxSide = 702 // ZZ

// Has reports whether a cell lies on the grid.
func (g Grid) Has(c Cell) bool {
	return c.Column >= 0 && c.Column < g.Columns && c.Row >= 0 && c.Row < g.Rows
}

// Name writes a cell's address: column letters and row number, "B3", "AA10".
func (c Cell) Name() string {
	letters := ""
	for n := c.Column + 1; n > 0; n = (n - 1) / 26 {
		letters = string(rune('A'+(n-1)%26)) + letters
	}
	return letters + strconv.Itoa(c.Row+1)
}

// Parse reads an address; ok is false where it is none on this grid.
func (g Grid) Parse(name string) (c Cell, ok bool) {
	name = strings.ToUpper(name)
	digits := strings.TrimLeft(name, "ABCDEFGHIJKLMNOPQRSTUVWXYZ")
	letters := name[:len(name)-len(digits)]
	row, err := strconv.Atoi(digits)
	if err != nil || letters == "" || len(letters) > 2 || digits[0] == '+' || digits[0] == '0' {
		return c, false
	}
	column := 0
	for _, l := range letters {
		column = column*26 + int(l-'A') + 1
	}
	c = Cell{column - 1, row - 1}
	return c, g.Has(c)
}

// Index numbers the cells row by row, from 0.
func (g Grid) Index(c Cell) int { return c.Row*g.Columns + c.Column }

// At is the inverse of Index.
func (g Grid) At(index int) Cell { return Cell{index % g.Columns, index / g.Columns} }

// Neighbours are the cells one step away, in reading order.
func (g Grid) Neighbours(c Cell) []Cell { return g.ring(c, 1) }

// Within are the cells at most n steps away, without c itself, in reading order.
func (g Grid) Within(c Cell, n int) []Cell { return g.ring(c, n) }

func (g Grid) ring(c Cell, n int) []Cell {
	var cells []Cell
	reach := n
	if g.Shape == Hex {
		reach = n + n/2 + 1 // rows shift by half a cell a column
	}
	for row := max(0, c.Row-reach); row <= min(g.Rows-1, c.Row+reach); row++ {
		for column := max(0, c.Column-n); column <= min(g.Columns-1, c.Column+n); column++ {
			other := Cell{column, row}
			if d := g.Distance(c, other); d > 0 && d <= n {
				cells = append(cells, other)
			}
		}
	}
	return cells
}

// Distance is the least number of steps between two cells.
func (g Grid) Distance(a, b Cell) int {
	columns, rows := abs(a.Column-b.Column), abs(a.Row-b.Row)
	switch g.Shape {
	case Square4:
		return columns + rows
	case Hex:
		ax, az := axial(a)
		bx, bz := axial(b)
		return max(abs(ax-bx), abs(az-bz), abs((ax+az)-(bx+bz)))
	}
	return max(columns, rows)
}

// axial turns a hex cell into two of the three axes of a hex grid.
func axial(c Cell) (x, z int) { return c.Column, c.Row - (c.Column-c.Column&1)/2 }

// Line lists the cells of a straight line from a to b, both included: the
// cells nearest to evenly spaced points between their middles.
func (g Grid) Line(a, b Cell) []Cell {
	n := g.Distance(a, b)
	cells := []Cell{a}
	if n == 0 {
		return cells
	}
	ax, ay := g.Middle(a)
	bx, by := g.Middle(b)
	for i := 1; i <= n; i++ {
		part := float64(i) / float64(n)
		if next := g.Nearest(ax+(bx-ax)*part, ay+(by-ay)*part); next != cells[len(cells)-1] {
			cells = append(cells, next)
		}
	}
	return cells
}

// Middle is where a cell's middle lies, in cells from the upper left corner.
func (g Grid) Middle(c Cell) (x, y float64) {
	x, y = float64(c.Column)+0.5, float64(c.Row)+0.5
	if g.Shape == Hex {
		x = float64(c.Column)*0.75 + 0.5 // hexes overlap by a quarter of their width
		y += float64(c.Column&1) * 0.5
	}
	return x, y
}

// Size is the size of the whole grid, in cells.
func (g Grid) Size() (wide, high float64) {
	if g.Shape != Hex {
		return float64(g.Columns), float64(g.Rows)
	}
	high = float64(g.Rows)
	if g.Columns > 1 {
		high += 0.5
	}
	return float64(g.Columns-1)*0.75 + 1, high
}

// Nearest is the cell whose middle is nearest to a point.
func (g Grid) Nearest(x, y float64) Cell {
	stride := 1.0
	if g.Shape == Hex {
		stride = 0.75
	}
	best, least := Cell{}, -1.0
	guess := int((x - 0.5) / stride)
	for column := max(0, guess-1); column <= min(g.Columns-1, guess+2); column++ {
		for row := max(0, int(y)-2); row <= min(g.Rows-1, int(y)+1); row++ {
			c := Cell{column, row}
			mx, my := g.Middle(c)
			// A hex is as wide as 2/√3 of its height.
			dx, dy := (mx-x)*1.1547, my-y
			if d := dx*dx + dy*dy; least < 0 || d < least-1e-9 {
				best, least = c, d
			}
		}
	}
	return best
}

func abs(n int) int {
	if n < 0 {
		return -n
	}
	return n
}
