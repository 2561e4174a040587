package sheet_test

import (
	"image"
	"math"
	"os"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"

	"damselfly.example/damselfly/internal/core/sheet/guess"
)

// seen is a grid that was looked at, and whether it is right.
type seen struct {
	facts []float64
	right bool
}

// chances are the shares of all chances that weights give grids, and that of those which are right.
func chances(grids []seen, weights []float64) (shares []float64, right float64) {
	most, sum := math.Inf(-1), 0.0
	for _, g := range grids {
		weight := 0.0
		for i, fact := range g.facts {
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
		if grids[i].right {
			right += shares[i]
		}
	}
	return shares, right
}

// learn finds the weights under which the right grids are likeliest, by gradients.
func learn(sheets [][]seen, weights []float64, rounds int) []float64 {
	w, mean, square := append([]float64{}, weights...), make([]float64, len(weights)), make([]float64, len(weights))
	for round := 1; round <= rounds; round++ {
		slope := make([]float64, len(w))
		for _, grids := range sheets {
			shares, right := chances(grids, w)
			for i, g := range grids {
				off := shares[i]
				if g.right {
					off -= shares[i] / max(right, 1e-12)
				}
				for k, fact := range g.facts {
					slope[k] += off * fact / float64(len(sheets))
				}
			}
		}
		for k := range w {
			g := slope[k] + 0.0005*w[k]
			mean[k], square[k] = 0.9*mean[k]+0.1*g, 0.99*square[k]+0.01*g*g
			w[k] -= 0.05 * mean[k] / (1 - math.Pow(0.9, float64(round))) / (math.Sqrt(square[k]/(1-math.Pow(0.99, float64(round)))) + 1e-8)
		}
	}
	return w
}

// doubt is how much less the right grids are taken to be likely, as a mean of logarithms.
func doubt(sheets [][]seen, weights []float64) (sum float64) {
	for _, grids := range sheets {
		_, right := chances(grids, weights)
		sum -= math.Log(max(right, 1e-12)) / float64(len(sheets))
	}
	return sum
}

// The weights are what sheets teach: those that are learnt from other sheets hardly doubt less. With
// LEARN set, they are learnt from 150 sheets of each style and printed; they belong into closer.go.
func TestWeightsAreLearnt(t *testing.T) {
	each, from := 12, uint64(900)
	if os.Getenv("LEARN") != "" {
		each, from = 150, 100
	}
	var sheets [][]seen
	var mu sync.Mutex
	var all sync.WaitGroup
	free := make(chan bool, 4)
	for _, style := range styles {
		for seed := range uint64(each) {
			all.Go(func() {
				free <- true
				defer func() { <-free }()
				s := drawStyled(t, style, from+seed)
				var grids []seen
				found := false
				_, lossy := s.picture.(*image.YCbCr)
				for _, g := range guess.FactsOf(s.picture, lossy) {
					is := s.right(g.Grid)
					found = found || is
					grids = append(grids, seen{g.Facts, is})
				}
				mu.Lock()
				defer mu.Unlock()
				if found {
					sheets = append(sheets, grids)
				}
			})
		}
	}
	all.Wait()
	assert.Greater(t, len(sheets)*100, each*len(styles)*93, "the right grid is among those that are looked at")
	learnt := learn(sheets, guess.Weights(), 200)
	t.Logf("of %d sheets: doubt %.3f, and %.3f with %.2f", len(sheets), doubt(sheets, guess.Weights()), doubt(sheets, learnt), learnt)
	assert.Less(t, doubt(sheets, guess.Weights()), doubt(sheets, learnt)+0.12)
}
