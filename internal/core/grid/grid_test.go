package grid_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/grid"
)

// touching are the cells one step away, written down from the picture of the
// grid and not from the arithmetic under test.
func touching(g grid.Grid, c grid.Cell) []grid.Cell {
	steps := [][2]int{{0, -1}, {-1, 0}, {1, 0}, {0, 1}}
	switch {
	case g.Shape == grid.Square:
		steps = append(steps, [][2]int{{-1, -1}, {1, -1}, {-1, 1}, {1, 1}}...)
	case g.Shape == grid.Hex && c.Column%2 == 0:
		steps = append(steps, [][2]int{{-1, -1}, {1, -1}}...)
	case g.Shape == grid.Hex:
		steps = append(steps, [][2]int{{-1, 1}, {1, 1}}...)
	}
	var cells []grid.Cell
	for _, s := range steps {
		if next := (grid.Cell{Column: c.Column + s[0], Row: c.Row + s[1]}); g.Has(next) {
			cells = append(cells, next)
		}
	}
	return cells
}

// walked is the distance to every cell by walking.
func walked(g grid.Grid, from grid.Cell) map[grid.Cell]int {
	steps, queue := map[grid.Cell]int{from: 0}, []grid.Cell{from}
	for len(queue) > 0 {
		c := queue[0]
		queue = queue[1:]
		for _, next := range touching(g, c) {
			if _, known := steps[next]; !known {
				steps[next] = steps[c] + 1
				queue = append(queue, next)
			}
		}
	}
	return steps
}

func TestDistancesAreThoseOfWalking(t *testing.T) {
	for _, shape := range []grid.Shape{grid.Square, grid.Square4, grid.Hex} {
		for _, size := range [][2]int{{1, 1}, {1, 5}, {6, 4}, {5, 7}} {
			g := grid.Grid{Shape: shape, Columns: size[0], Rows: size[1]}
			for i := range g.Columns * g.Rows {
				from := g.At(i)
				steps := walked(g, from)
				for to, n := range steps {
					require.Equal(t, n, g.Distance(from, to), "%v from %s to %s", g, from.Name(), to.Name())
				}
				assert.ElementsMatch(t, touching(g, from), g.Neighbours(from), "%v around %s", g, from.Name())
				for n := 1; n < 4; n++ {
					var near []grid.Cell
					for to, d := range steps {
						if d > 0 && d <= n {
							near = append(near, to)
						}
					}
					require.ElementsMatch(t, near, g.Within(from, n))
				}
			}
		}
	}
}

func TestNothingWrapsRoundAnEdge(t *testing.T) {
	g := grid.Grid{Shape: grid.Square4, Columns: 3, Rows: 3}
	right, ok := g.Parse("C1")
	require.True(t, ok)
	for _, n := range g.Neighbours(right) {
		assert.NotEqual(t, 0, n.Column, "a step off the right edge lands on the left")
	}
}

func TestAddressesAreReadAndWritten(t *testing.T) {
	g := grid.Grid{Shape: grid.Square, Columns: 60, Rows: 12}
	for i := range g.Columns * g.Rows {
		c, ok := g.Parse(g.At(i).Name())
		require.True(t, ok)
		assert.Equal(t, i, g.Index(c))
	}
	for _, wrong := range []string{"", "3", "B", "B0", "B13", "ZZ1", "B-1", "B+1", "3B", "B3x", "AAA1"} {
		_, ok := g.Parse(wrong)
		assert.False(t, ok, wrong)
	}
}

func TestALineGoesStraightFromEndToEnd(t *testing.T) {
	for _, shape := range []grid.Shape{grid.Square, grid.Hex} {
		g := grid.Grid{Shape: shape, Columns: 9, Rows: 9}
		for a := range 81 {
			for b := range 81 {
				line := g.Line(g.At(a), g.At(b))
				require.Equal(t, g.At(a), line[0])
				require.Equal(t, g.At(b), line[len(line)-1])
				require.Len(t, line, g.Distance(g.At(a), g.At(b))+1)
				for i := 1; i < len(line); i++ {
					require.Equal(t, 1, g.Distance(line[i-1], line[i]), "%v", line)
				}
			}
		}
	}
}

func ExampleGrid_Within() {
	g := grid.Grid{Shape: grid.Hex, Columns: 4, Rows: 4}
	at, _ := g.Parse("B2")
	for _, c := range g.Within(at, 1) {
		fmt.Print(c.Name(), " ")
	}
	// Output: B1 A2 C2 A3 B3 C3
}
