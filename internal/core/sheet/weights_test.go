package sheet_test

import (
	"image"
	"os"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"

	"damselfly.example/damselfly/internal/core/sheet/guess"
)

// The weights are what sheets teach: those that are learnt from other sheets hardly doubt less. With
// LEARN set, they are learnt from 150 sheets of each style and printed; they belong into closer.go.
func TestWeightsAreLearnt(t *testing.T) {
	each, from := 12, uint64(900)
	if os.Getenv("LEARN") != "" {
		each, from = 150, 100
	}
	var sheets [][]guess.Taught
	var mu sync.Mutex
	var all sync.WaitGroup
	free := make(chan bool, 4)
	for _, style := range styles {
		for seed := range uint64(each) {
			all.Go(func() {
				free <- true
				defer func() { <-free }()
				s := drawStyled(t, style, from+seed)
				var grids []guess.Taught
				found := false
				_, lossy := s.picture.(*image.YCbCr)
				for _, g := range guess.FactsOf(s.picture, lossy) {
					is := s.right(g.Grid)
					found = found || is
					grids = append(grids, guess.Taught{Facts: g.Facts, Right: is})
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
	learnt := guess.Learn(sheets, guess.Weights(), guess.AllFacts, 200)
	t.Logf("of %d sheets: doubt %.3f, and %.3f with %.2f", len(sheets), guess.Doubt(sheets, guess.Weights()), guess.Doubt(sheets, learnt), learnt)
	assert.Less(t, guess.Doubt(sheets, guess.Weights()), guess.Doubt(sheets, learnt)+0.12)
}
