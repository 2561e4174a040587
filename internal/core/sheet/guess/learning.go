package guess

import (
	"image"
	"math"

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
		likely, _ := newCloser(w).lookAll(w.likeliest(pixels.Grid{}), never)
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

// Taught is a grid that was looked at on a sheet that teaches, and whether it is right.
type Taught struct {
	Facts []float64
	Right bool
}

// Chances are the shares of all chances that weights give the grids of a sheet, and that of those which are right.
func Chances(grids []Taught, weights []float64) (shares []float64, right float64) {
	most, sum := math.Inf(-1), 0.0
	for _, g := range grids {
		weight := 0.0
		for i, fact := range g.Facts {
			weight += fact * weights[i]
		}
		shares = append(shares, weight)
		most = max(most, weight)
	}
	for i := range shares {
		shares[i] = math.Exp(shares[i] - most)
		sum += shares[i]
	}
	for i := range shares {
		shares[i] /= sum
		if grids[i].Right {
			right += shares[i]
		}
	}
	return shares, right
}

// Which facts' weights are learnt: all, or those that our own sheets hardly show, so that sheets of others teach them.
const (
	AllFacts   = 0
	LaterFacts = int(alikeWithin)
)

// Learn finds the weights, from one of the facts on, under which the right grids are likeliest, by gradients.
func Learn(sheets [][]Taught, weights []float64, from, rounds int) []float64 {
	w, mean, square := append([]float64{}, weights...), make([]float64, len(weights)), make([]float64, len(weights))
	for round := 1; round <= rounds; round++ {
		slope := make([]float64, len(w))
		for _, grids := range sheets {
			shares, right := Chances(grids, w)
			for i, g := range grids {
				off := shares[i]
				if g.Right {
					off -= shares[i] / max(right, 1e-12)
				}
				for k, fact := range g.Facts {
					slope[k] += off * fact / float64(len(sheets))
				}
			}
		}
		for k := from; k < len(w); k++ {
			g := slope[k] + 0.0005*w[k]
			mean[k], square[k] = 0.9*mean[k]+0.1*g, 0.99*square[k]+0.01*g*g
			w[k] -= 0.05 * mean[k] / (1 - math.Pow(0.9, float64(round))) / (math.Sqrt(square[k]/(1-math.Pow(0.99, float64(round)))) + 1e-8)
		}
	}
	return w
}

// Doubt is how much less the right grids are taken to be likely, as a mean of logarithms.
func Doubt(sheets [][]Taught, weights []float64) (sum float64) {
	for _, grids := range sheets {
		_, right := Chances(grids, weights)
		sum -= math.Log(max(right, 1e-12)) / float64(len(sheets))
	}
	return sum
}

// never is of what is not stopped.
func never() error { return nil }
