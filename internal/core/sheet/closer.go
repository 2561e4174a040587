package sheet

import (
	"image"
	"math"
	"slices"
)

// closely is how many of the likeliest grids are looked at cell by cell.
const closely = 50

// facts is what speaks for a grid and against it.
type facts [factKinds]float64

const (
	lineWeight  = iota // what its cuts meet, line by line: see lines.weigh
	edgeWeight         // what the edges of its single cells meet
	repeating          // how much is at the same place in all cells
	cutThrough         // the share of edges that go through what is printed
	edgesUnseen        // the share of edges beside margins and gutters along which nothing begins
	noWhole            // cells are no whole pixels: 1, and 2 with margins or gutters
	manyCells          // the logarithm of their number
	blankEdges         // the share of edges along which nothing is printed
	oneWay             // how much of what is left out is so in one direction alone
	partedAgain        // whether a grid that parts its cells again cuts as well
	factKinds
)

// weights are what the facts weigh. They are learnt from sheets made for that, so that the shares
// of all chances are as they should be: see TestWeightsAreLearnt.
var weights = facts{0.67, 0.26, 2.54, -1.84, -2.85, -1.23, 1.36, 1.42, -3.48, -1.28}

func (f facts) weight() (sum float64) {
	for i, fact := range f {
		sum += weights[i] * fact
	}
	return sum
}

// closer looks at grids cell by cell: what lies in one row of cells alone is not seen where whole lines
// of pixels are.
type closer struct {
	size         image.Point
	across, down *seams
}

func newCloser(size image.Point, across, down lines) closer {
	var grounds []colour
	for _, p := range []*lines{&across, &down} {
		if p.leading > 2 {
			grounds = append(grounds, p.ground[0])
		}
		grounds = append(grounds, p.gutterColours()...)
	}
	return closer{size, newSeams(across.blocks, grounds, across.lossy), newSeams(down.blocks, grounds, down.lossy)}
}

// looked is a grid that was looked at cell by cell, and what speaks for it.
type looked struct {
	parted
	facts facts
}

// lookAll looks at grids, and at how they lie in each other.
func (c closer) lookAll(likely []parted) (all []looked) {
	for _, g := range likely {
		loose, found := c.look(g)
		all = append(all, looked{loose, found})
	}
	for i := range all {
		if slices.ContainsFunc(all, func(finer looked) bool { return all[i].isPartedBy(finer) }) {
			all[i].facts[partedAgain] = 1
		}
	}
	return all
}

// Bounds of what parts cells again as well as they were parted.
const (
	asWell    = 0.06 // of its cuts go through what is printed, or are blank, beyond those of the coarser grid
	asAlike   = 0.12 // is at the same place in all cells at least, as facts have it
	sameEdges = 3    // pixels
)

// isPartedBy reports whether a finer grid parts the cells of this one, and cuts as well.
func (l looked) isPartedBy(finer looked) bool {
	inside := func(coarse, fine division) bool {
		return fine.n%coarse.n == 0 && abs(fine.before-coarse.before) <= sameEdges && abs(fine.after-coarse.after) <= sameEdges
	}
	return finer.columns.n*finer.rows.n > l.columns.n*l.rows.n && inside(l.columns, finer.columns) && inside(l.rows, finer.rows) &&
		finer.facts[cutThrough] <= l.facts[cutThrough]+asWell && finer.facts[blankEdges] <= l.facts[blankEdges]+asWell &&
		finer.facts[repeating] >= asAlike
}

// look finds what speaks for a grid. Where cards look like the ground, so that their edges are not to be
// seen, it widens them to the middle of the gutters.
func (c closer) look(g parted) (parted, facts) {
	look := func() (columns, rows looks, inRows, inColumns [][2]int) {
		inRows, inColumns = c.across.runsOf(g.rows, c.size.Y), c.down.runsOf(g.columns, c.size.X)
		return c.across.look(g.columns, inRows), c.down.look(g.rows, inColumns), inRows, inColumns
	}
	columns, rows, inRows, inColumns := look()
	if loose := (parted{columns: g.columns.loosened(columns), rows: g.rows.loosened(rows), weight: g.weight}); loose != g {
		g = loose
		columns, rows, inRows, inColumns = look()
	}
	f := facts{lineWeight: g.weight, edgeWeight: columns.weight() + rows.weight(), manyCells: math.Log(float64(g.grid().Cells()))}
	f[repeating] = -math.Log(1 - min((c.across.repeats(g.columns, inRows, c.size.Y)+c.down.repeats(g.rows, inColumns, c.size.X))/2, 0.95))
	if cuts := float64(columns.cuts + rows.cuts); cuts > 0 {
		f[cutThrough], f[blankEdges] = float64(columns.met[through]+rows.met[through])/cuts, float64(columns.met[clean]+rows.met[clean])/cuts
	}
	if rims := float64(columns.rims + rows.rims); rims > 0 {
		f[edgesUnseen] = 1 - (columns.seen+rows.seen)/rims
	}
	f[oneWay] = g.oneWay()
	if w, h := g.grid().usable(c.size); w%g.columns.n != 0 || h%g.rows.n != 0 {
		f[noWhole] = 1
		if g.columns.trimmed() || g.rows.trimmed() {
			f[noWhole] = 2
		}
	}
	return g, f
}

// oneWay is how much of what is left out, margins and gutters, is so in one direction alone.
func (p parted) oneWay() (share float64) {
	if (p.columns.before+p.columns.after > 0) != (p.rows.before+p.rows.after > 0) {
		share += 0.5
	}
	if p.columns.n > 1 && p.rows.n > 1 && (p.columns.gutter > 0) != (p.rows.gutter > 0) {
		share += 0.5
	}
	return share
}

// loosely is the share of edges that are seen under which cards are taken to look like the ground.
const loosely = 0.35

// loosened widens the parts by halves of the gutters, or where there are none into the margins, if
// their edges were not seen.
func (d division) loosened(l looks) division {
	if l.rims == 0 || l.seen >= loosely*float64(l.rims) {
		return d
	}
	before, after := min(d.before, d.gutter/2), min(d.after, (d.gutter+1)/2)
	if d.gutter == 0 && d.n == 1 {
		before, after = d.before/3, d.after/3
	}
	d.before, d.after, d.gutter, d.size = d.before-before, d.after-after, max(0, d.gutter-before-after), d.size+float64(before+after)
	return d
}
