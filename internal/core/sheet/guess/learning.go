package guess

import (
	"image"

	"damselfly.example/damselfly/internal/core/sheet/pixels"
)

// Weighed is a grid that was looked at, and what speaks for it.
type Weighed struct {
	Grid  pixels.Grid
	Facts []float64
}

// Weights are those of the facts, for the test that learns them.
func Weights() []float64 { return weights[:] }

// FactsOf are the facts of the grids that are looked at on a picture, for the test that learns their weights.
func FactsOf(picture image.Image, lossy bool) (all []Weighed) {
	whole, _ := readLines(picture, lossy, never)
	windows := []*window{whole}
	for _, part := range whole.withoutWords() {
		windows = append(windows, whole.part(part))
	}
	for _, w := range windows {
		likely, _ := newCloser(w).lookAll(likeliest(w.size(), w.across, w.down, pixels.Grid{}), never)
		for _, l := range likely {
			g := l.grid()
			for side, beside := range w.beside {
				g.Margin[side] += beside
			}
			all = append(all, Weighed{g, l.facts[:]})
		}
	}
	return all
}

// never is of what is not stopped.
func never() error { return nil }
