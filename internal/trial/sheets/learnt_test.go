package sheets

import (
	"fmt"
	"image"
	"slices"
	"strings"
	"testing"

	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/core/sheet/guess"
)

// teaching is what sheets teach, by the parts that their styles belong to.
type teaching [5][][]guess.Taught

// add adds what a sheet teaches. What lies askew teaches nothing.
func (t *teaching) add(d *drawn, picture image.Image) {
	if d.Turned != 0 {
		return
	}
	var grids []guess.Taught
	for _, g := range guess.FactsOf(picture, strings.HasSuffix(d.File, "jpg")) {
		grids = append(grids, guess.Taught{Facts: g.Facts, Right: d.right(g.Grid)})
	}
	t[part(d.Style)] = append(t[part(d.Style)], grids)
}

// report learns the later weights on four parts and says what that comes to on the fifth, for each of the five: by the facts alone,
// before rims and smeared edges are thought of.
func (t *teaching) report(to *testing.T) {
	for held, own := range t {
		others := slices.Concat(slices.Concat(t[:held]...), slices.Concat(t[held+1:]...))
		learnt := guess.Learn(taughtBy(others), guess.Weights(), guess.LaterFacts, 200)
		to.Logf("part %d: as it is %s; learnt on the others %s, with %.2f", held, by(own, guess.Weights()), by(own, learnt), learnt[guess.LaterFacts:])
	}
	all := guess.Learn(taughtBy(slices.Concat(t[:]...)), guess.Weights(), guess.LaterFacts, 200)
	to.Logf("learnt on all: %.2f", all[guess.LaterFacts:])
}

// taughtBy are the sheets whose right grid was looked at: others teach nothing.
func taughtBy(sheets [][]guess.Taught) [][]guess.Taught {
	return slices.DeleteFunc(slices.Clone(sheets), func(grids []guess.Taught) bool {
		return !slices.ContainsFunc(grids, func(g guess.Taught) bool { return g.Right })
	})
}

// by says how many sheets are right and sure, and silently wrong, by some weights.
func by(sheets [][]guess.Taught, weights []float64) string {
	right, silent := 0, 0
	for _, grids := range sheets {
		shares, sure := guess.Chances(grids, weights)
		lead := slices.Index(shares, slices.Max(shares))
		switch {
		case grids[lead].Right && sure >= sheet.Sure:
			right++
		case !grids[lead].Right && shares[lead] >= sheet.Sure:
			silent++
		}
	}
	return fmt.Sprintf("%.1f %% right and sure, %.1f %% silent", share(right, len(sheets)), share(silent, len(sheets)))
}
