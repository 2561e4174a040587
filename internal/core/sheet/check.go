package sheet

import (
	"fmt"
	"image"
	"math"
)

// Report is what a look over a sheet found.
type Report struct {
	Width    int      `json:"width"`
	Height   int      `json:"height"`
	Grid     Grid     `json:"grid"`
	Cells    []Cell   `json:"cells"`
	Warnings []string `json:"warnings,omitempty"` // of the sheet as a whole
}

// Cell is one cell of a report.
type Cell struct {
	Number   int      `json:"cell"`
	Column   int      `json:"column"`
	Row      int      `json:"row"`
	Empty    bool     `json:"empty"`
	Warnings []string `json:"warnings,omitempty"`
}

// Content counts the cells that are not empty.
func (r Report) Content() int {
	n := 0
	for _, c := range r.Cells {
		if !c.Empty {
			n++
		}
	}
	return n
}

// Problems lists all warnings, those of cells with the cell's number.
func (r Report) Problems() []string {
	all := append([]string{}, r.Warnings...)
	for _, c := range r.Cells {
		for _, w := range c.Warnings {
			all = append(all, fmt.Sprintf("cell %d (column %d, row %d): %s", c.Number, c.Column, c.Row, w))
		}
	}
	return all
}

// endCells at the end of a sheet may follow empty ones without a warning: by
// custom a back and a veil lie there.
const endCells = 2

// Check looks a sheet over with a grid that fits it.
func Check(sheet *image.NRGBA, g Grid) Report {
	size := sheet.Rect.Size()
	r := Report{Width: size.X, Height: size.Y, Grid: g}
	w, h := g.usable(size)
	if surplus := w % g.Columns; surplus != 0 {
		r.Warnings = append(r.Warnings, fmt.Sprintf("the width does not divide evenly: %d pixels over %d columns leave %d", w, g.Columns, surplus))
	}
	if surplus := h % g.Rows; surplus != 0 {
		r.Warnings = append(r.Warnings, fmt.Sprintf("the height does not divide evenly: %d pixels over %d rows leave %d", h, g.Rows, surplus))
	}
	last := 0
	for number := 1; number <= g.Cells(); number++ {
		cell := Cell{Number: number, Column: (number-1)%g.Columns + 1, Row: (number-1)/g.Columns + 1}
		cell.Empty = empty(sheet, g.Cell(size, number))
		if !cell.Empty && number <= g.Cells()-endCells {
			last = number
		}
		r.Cells = append(r.Cells, cell)
	}
	r.warnOfCutsThroughContent(sheet)
	for i := range r.Cells[:last] {
		if c := &r.Cells[i]; c.Empty {
			c.Warnings = append(c.Warnings, "empty, though cells with content come after it")
		}
	}
	return r
}

// shade is how bright a pixel looks on white, 0 to 255. Two colours of the
// same shade count as alike, which is near enough for cuts and empty cells.
func shade(p *image.NRGBA, x, y int) float64 {
	i := p.PixOffset(x, y)
	r, g, b, a := float64(p.Pix[i]), float64(p.Pix[i+1]), float64(p.Pix[i+2]), float64(p.Pix[i+3])/255
	return 255 - a*(255-(0.35*r+0.5*g+0.15*b))
}

// emptyShare is how much of an empty cell may differ from its main shade:
// specks of noise, a stray cut mark.
const (
	emptyShare = 0.002
	emptyShade = 12.0
)

// empty reports whether a cell holds nothing but one shade.
func empty(p *image.NRGBA, r image.Rectangle) bool {
	step := max(1, min(r.Dx(), r.Dy())/160)
	var histogram [256]int
	n := 0
	r = r.Inset(min(r.Dx(), r.Dy()) / 20) // cut marks and neighbours' bleed
	for y := r.Min.Y; y < r.Max.Y; y += step {
		for x := r.Min.X; x < r.Max.X; x += step {
			histogram[int(shade(p, x, y))]++
			n++
		}
	}
	main := 0
	for s, count := range histogram {
		if count > histogram[main] {
			main = s
		}
	}
	far := 0
	for s, count := range histogram {
		if math.Abs(float64(s-main)) > emptyShade {
			far += count
		}
	}
	return float64(far) <= emptyShare*float64(n)
}

// warnOfCutsThroughContent finds cut lines along which the pixels of both
// sides vary, and vary together: a picture goes on across the line.
func (r *Report) warnOfCutsThroughContent(sheet *image.NRGBA) {
	size := image.Pt(r.Width, r.Height)
	for i := range r.Cells {
		c := &r.Cells[i]
		cell := r.Grid.Cell(size, c.Number)
		if c.Column < r.Grid.Columns {
			next := r.Grid.Cell(size, c.Number+1)
			if goesOn(cell.Dy(), func(i int) (float64, float64) {
				return shade(sheet, cell.Max.X-1, cell.Min.Y+i), shade(sheet, next.Min.X, cell.Min.Y+i)
			}) {
				c.Warnings = append(c.Warnings, fmt.Sprintf("the cut to cell %d runs through content", c.Number+1))
			}
		}
		if c.Row < r.Grid.Rows {
			below := r.Grid.Cell(size, c.Number+r.Grid.Columns)
			if goesOn(cell.Dx(), func(i int) (float64, float64) {
				return shade(sheet, cell.Min.X+i, cell.Max.Y-1), shade(sheet, cell.Min.X+i, below.Min.Y)
			}) {
				c.Warnings = append(c.Warnings, fmt.Sprintf("the cut to cell %d runs through content", c.Number+r.Grid.Columns))
			}
		}
	}
}

// goesOn reports whether the shades on both sides of a line of n pixels vary
// (by more than noise) and correlate.
func goesOn(n int, sides func(i int) (a, b float64)) bool {
	var sumA, sumB, squareA, squareB, product float64
	for i := range n {
		a, b := sides(i)
		sumA, sumB = sumA+a, sumB+b
		squareA, squareB, product = squareA+a*a, squareB+b*b, product+a*b
	}
	count := float64(n)
	varianceA, varianceB := squareA/count-sumA/count*sumA/count, squareB/count-sumB/count*sumB/count
	if varianceA < 64 || varianceB < 64 {
		return false
	}
	covariance := product/count - sumA/count*sumB/count
	return covariance/math.Sqrt(varianceA*varianceB) > 0.8
}
