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

// nearly is the share of the best confidence from which a finer grid is taken
// instead: every second line of a right grid fits too.
const nearly = 0.93

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
	if len(guesses) == 0 {
		return []Guessed{{Grid{Columns: 1, Rows: 1}, 0}}
	}
	best := slices.MaxFunc(guesses, func(a, b Guessed) int { return cmp.Compare(a.Confidence, b.Confidence) }).Confidence
	near := func(g Guessed) int {
		if g.Confidence >= nearly*best {
			return g.Cells()
		}
		return 0
	}
	slices.SortStableFunc(guesses, func(a, b Guessed) int {
		return cmp.Or(cmp.Compare(near(b), near(a)), cmp.Compare(b.Confidence, a.Confidence))
	})
	return guesses[:min(4, len(guesses))]
}

// lines says of every line of a picture, in one direction, how much of the
// picture goes on across it: how much it varies along the line where both
// sides of the line are alike.
type lines []float64

func profile(n, length int, at func(line, along int) float64) lines {
	p := make(lines, n)
	step := max(1, length/400)
	before := make([]float64, length/step+1)
	for line := range n {
		last, goesOn := at(line, 0), 0.0
		for i, along := 0, 0; along < length; i, along = i+1, along+step {
			here := at(line, along)
			if line > 0 && math.Abs(here-before[i]) < 8 {
				goesOn += math.Abs(here - last)
			}
			last, before[i] = here, here
		}
		p[line] = goesOn
	}
	return p
}

// fit is how well n equal parts fall between cards, from 0 to 1: at each
// dividing line, or a pixel or two beside it, little of the picture goes on.
func (p lines) fit(n int) float64 {
	if n == 1 {
		return 0.6
	}
	usual := mean(p) + 1
	worst, sum := 1.0, 0.0
	for i := 1; i < n; i++ {
		at := i * len(p) / n
		least := math.Inf(1)
		for x := max(1, at-2); x <= min(len(p)-1, at+2); x++ {
			least = min(least, p[x])
		}
		parted := 1 - math.Min(1, least/usual)
		worst, sum = min(worst, parted), sum+parted
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
