package sheet

import "image"

// Weighed is a grid that was looked at, what speaks for it, and what that weighs now.
type Weighed struct {
	Grid  Grid
	Facts []float64
}

// Weights are those of the facts.
func Weights() []float64 { return weights[:] }

// FactsOf are the facts of the grids that are looked at on a picture.
func FactsOf(picture image.Image) (all []Weighed) {
	across, down, _ := readLines(picture, never)
	size := picture.Bounds().Size()
	likely, _ := newCloser(size, across, down).lookAll(likeliest(size, across, down, Grid{}), never)
	for _, l := range likely {
		all = append(all, Weighed{l.grid(), l.facts[:]})
	}
	return all
}
