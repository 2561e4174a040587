package sheet

import (
	"cmp"
	"image"
	"math"
	"slices"
)

// Guessed is a grid read off a picture. Confidence is from 0 to 1; what is
// under Sure should be looked at.
type Guessed struct {
	Grid
	Confidence float64 `json:"confidence"`
}

// Sure is the confidence from which a guess is taken at its word.
const Sure = 0.7

// Bounds of what is guessed.
const (
	maxSide  = 40
	maxCells = 400
)

// nearly is the share of the best confidence from which a finer grid is taken
// instead: every second line of a right grid fits too.
const nearly = 0.7

// Guess reads a grid off a picture: lines that fall between cards everywhere,
// cells that begin and end alike and are shaped like cards. The best guess comes
// first; there is always one, if only 1 × 1 with little confidence.
func Guess(sheet image.Image) []Guessed {
	size := sheet.Bounds().Size()
	at := shading(sheet)
	across := readLines(size.X, size.Y, func(line, along int) float64 { return at(line, along) })
	down := readLines(size.Y, size.X, func(line, along int) float64 { return at(along, line) })
	var guesses []Guessed
	for _, rim := range rims(across, down) {
		columns, rows := across.splits(rim), down.splits(rim)
		for _, c := range columns {
			for _, r := range rows {
				g := Grid{Columns: c.parts, Rows: r.parts, Margin: rim.margin, Gutter: rim.gutter}
				if g.Cells() > maxCells || g.Fits(size) != nil {
					continue
				}
				cell := g.Cell(size, 1)
				confidence := math.Sqrt(c.fit*r.fit) * cardShape(float64(cell.Dx()), float64(cell.Dy()))
				guesses = append(guesses, Guessed{g, confidence})
			}
		}
	}
	if len(guesses) == 0 {
		return []Guessed{{Grid{Columns: 1, Rows: 1}, 0}}
	}
	return best(guesses)
}

// best sorts guesses: the surest first, but for it the finest of those nearly as
// sure that have all its cuts, and some more.
func best(guesses []Guessed) []Guessed {
	slices.SortStableFunc(guesses, func(a, b Guessed) int { return cmp.Compare(b.Confidence, a.Confidence) })
	first := 0
	for i, g := range guesses {
		top := guesses[first]
		finer := g.Columns%top.Columns == 0 && g.Rows%top.Rows == 0 && g.Cells() > top.Cells()
		if finer && top.Cells() > 1 && g.Confidence >= nearly*guesses[0].Confidence {
			first = i
		}
	}
	finest := guesses[first]
	finest.Confidence = guesses[0].Confidence // it has all the cuts of the surest
	guesses = slices.Insert(slices.Delete(guesses, first, first+1), 0, finest)
	var different []Guessed
	for _, g := range guesses {
		g.Confidence = math.Round(g.Confidence*100) / 100
		if !slices.ContainsFunc(different, func(d Guessed) bool { return d.Columns == g.Columns && d.Rows == g.Rows }) {
			different = append(different, g)
		}
		if len(different) == 4 {
			break
		}
	}
	return different
}

// cardShape is how much a cell is shaped like a card, from 0.3 to 1.
func cardShape(w, h float64) float64 {
	ratio := min(w, h) / max(w, h)
	switch {
	case ratio > 0.6 && ratio < 0.8, ratio > 0.95:
		return 1
	case ratio > 0.5:
		return 0.92
	}
	return max(0.3, ratio)
}

// rim is a margin and a gutter, in pixels.
type rim struct{ margin, gutter int }

// rims lists what margin and gutter might be: none, and what the plain bands
// along the edges and between the cards say.
func rims(across, down lines) []rim {
	all := []rim{{}}
	for _, axis := range []lines{across, down} {
		for _, gutter := range append(axis.bands(), 0) {
			for _, margin := range []int{0, axis.lead(), min(across.lead(), down.lead())} {
				if gutter != 0 && abs(2*margin-gutter) <= 1 {
					continue // the cards' own edges, and no gutter: half of it on each side
				}
				if r := (rim{margin, gutter}); !slices.Contains(all, r) {
					all = append(all, r)
				}
			}
		}
	}
	return all
}

// split is a number of parts and how well it fits, from 0 to 1.
type split struct {
	parts int
	fit   float64
}

// splits rates every number of parts that leaves room for cells. Where many fit
// badly only the better ones are kept.
func (p lines) splits(r rim) []split {
	var all []split
	for n := 1; n <= maxSide; n++ {
		if room := len(p.plain) - 2*r.margin - (n-1)*r.gutter; room >= 8*n {
			if fit := p.fit(n, r, float64(room)/float64(n)); fit > leastFit/3 {
				all = append(all, split{n, fit})
			}
		}
	}
	return all
}
