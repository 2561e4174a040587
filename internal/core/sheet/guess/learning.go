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
	across, down, _ := readLines(picture, lossy, never)
	size := picture.Bounds().Size()
	likely, _ := newCloser(size, across, down).lookAll(likeliest(size, across, down, pixels.Grid{}), never)
	for _, l := range likely {
		all = append(all, Weighed{l.grid(), l.facts[:]})
	}
	return all
}

// never is of what is not stopped.
func never() error { return nil }
