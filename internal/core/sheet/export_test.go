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
	across, down := readLines(picture)
	size := picture.Bounds().Size()
	for _, l := range newCloser(size, across, down).lookAll(likeliest(size, across, down, Grid{})) {
		all = append(all, Weighed{l.grid(), l.facts[:]})
	}
	return all
}
