package sheet

import (
	"cmp"
	"image"
	"math"
	"slices"
)

// Guessed is a grid read off a picture. Confidence is from 0 to 1.
type Guessed struct {
	Grid
	Confidence float64 `json:"confidence"`
}

// maxSide is the largest number of columns or rows that is guessed.
const maxSide = 20

// Guess reads columns and rows off a picture: cut lines that fall between
// cards everywhere, and cells shaped like cards. The best guess comes first;
// there is always one, if only 1 × 1 with little confidence.
func Guess(sheet *image.NRGBA) []Guessed {
	size := sheet.Rect.Size()
	across := profile(size.X, size.Y, func(x, y int) float64 { return shade(sheet, x, y) })
	down := profile(size.Y, size.X, func(y, x int) float64 { return shade(sheet, x, y) })
	var fitsAcross, fitsDown [maxSide + 1]float64
	for n := 1; n <= maxSide; n++ {
		fitsAcross[n], fitsDown[n] = across.fit(n), down.fit(n)
	}
	var guesses []Guessed
	for columns := 1; columns <= maxSide; columns++ {
		for rows := 1; rows <= maxSide; rows++ {
			g := Grid{Columns: columns, Rows: rows}
			if g.Fits(size) != nil {
				continue
			}
			confidence := math.Sqrt(fitsAcross[columns]*fitsDown[rows]) * cardShape(float64(size.X)/float64(columns), float64(size.Y)/float64(rows))
			guesses = append(guesses, Guessed{g, math.Round(confidence*100) / 100})
		}
	}
	// Among equals the finer grid: every second line of a right grid fits too.
	slices.SortStableFunc(guesses, func(a, b Guessed) int {
		return cmp.Or(cmp.Compare(b.Confidence, a.Confidence), cmp.Compare(b.Cells(), a.Cells()))
	})
	if len(guesses) == 0 {
		return []Guessed{{Grid{Columns: 1, Rows: 1}, 0}}
	}
	return guesses[:min(4, len(guesses))]
}

// lines describes all lines of a picture in one direction: jump is how much
// the picture changes at a line, unrest how much it varies along it.
type lines struct{ jump, unrest []float64 }

func profile(n, length int, at func(line, along int) float64) lines {
	p := lines{jump: make([]float64, n), unrest: make([]float64, n)}
	step := max(1, length/600)
	for line := range n {
		jump, unrest, count := 0.0, 0.0, 0.0
		last := at(line, 0)
		for along := 0; along < length; along += step {
			here := at(line, along)
			unrest += math.Abs(here - last)
			if line > 0 {
				jump += math.Abs(here - at(line-1, along))
			}
			last = here
			count++
		}
		p.jump[line], p.unrest[line] = jump/count, unrest/count
	}
	return p
}

// fit is how well n equal parts fall between cards, from 0 to 1: at each
// dividing line the picture is calm along it, or it changes sharply across.
func (p lines) fit(n int) float64 {
	if n == 1 {
		return 0.6
	}
	calm, sharp := mean(p.unrest), mean(p.jump)
	worst, sum := 1.0, 0.0
	for i := 1; i < n; i++ {
		at := i * len(p.jump) / n
		best := 0.0
		for x := max(1, at-2); x <= min(len(p.jump)-1, at+2); x++ {
			quiet := 1 - math.Min(1, (p.unrest[x]+p.unrest[x-1])/(calm+0.5))
			edge := math.Min(1, p.jump[x]/(4*sharp+0.5))
			best = max(best, quiet, edge)
		}
		worst, sum = min(worst, best), sum+best
	}
	return (worst + sum/float64(n-1)) / 2
}

// cardShape is how much a cell is shaped like a card, from 0.3 to 1.
func cardShape(w, h float64) float64 {
	ratio := min(w, h) / max(w, h)
	switch {
	case ratio > 0.6 && ratio < 0.8, ratio > 0.97:
		return 1
	case ratio > 0.5:
		return 0.92
	}
	return max(0.3, ratio)
}

func mean(values []float64) float64 {
	sum := 0.0
	for _, v := range values {
		sum += v
	}
	return sum / float64(len(values))
}
