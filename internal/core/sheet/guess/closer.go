package guess

import (
	"cmp"
	"image"
	"math"
	"slices"

	"damselfly.example/damselfly/internal/core/sheet/pixels"
)

// closely is how many of the likeliest grids are looked at cell by cell.
const closely = 50

// inWindows is the same of a part of a page without words.
const inWindows = 16

// facts is what speaks for a grid and against it.
type facts [factKinds]float64

const (
	lineWeight   = iota // what its cuts meet, line by line: see lines.weigh
	edgeWeight          // what the edges of its single cells meet
	repeating           // how much is at the same place in all cells
	cutThrough          // the share of edges that go through what is printed
	edgesUnseen         // the share of edges beside margins and gutters along which nothing begins
	noWhole             // cells are no whole pixels: 1, and 2 with margins or gutters
	blankEdges          // the share of edges along which nothing is printed
	oneWay              // how much of what is left out is so in one direction alone
	partedAgain         // whether a grid that parts its cells again cuts as well
	shape               // how much its cells are shaped like cards
	rims                // how well columns and rows agree in how cards are set apart
	joined              // how much its cells are of kinds that take turns, as the cells of a coarser grid have them
	halvesAlike         // how much the cells of a finer grid that cuts as well are alike
	rimsTurn            // how much the rims of its cells are of kinds that take turns
	blankBetween        // how many of its cells show nothing though others after them do, as a logarithm
	alikeWithin         // how much more its cells are like their neighbours within a coarser grid's cells than like others, as a logarithm
	wordsOutside        // how many lines of words and marks lie outside the part of the picture that it fills
	wordsRepeat         // how much those repeat as its cells do
	factKinds
)

// weights are what the facts weigh. They are learnt from sheets made for that, so that the shares
// of all chances are as they should be: see TestWeightsAreLearnt.
var weights = facts{0.71, 0.18, 1.05, -1.59, -1.94, -1.91, -0.61, -2.16, -1.19, 2.13, 0.87, -0.16, -1.80, -1.26, -0.95, -9, -4, -6}

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
	lossy        float64
	across, down *seams
	outside      []strip
}

func newCloser(w *window) closer {
	across, down := w.across, w.down
	var grounds []pixels.Colour
	for _, p := range []*lines{&across, &down} {
		if p.leading > 2 {
			grounds = append(grounds, p.ground[0])
		}
		grounds = append(grounds, p.gutterColours()...)
	}
	return closer{w.size(), across.lossy, newSeams(across.blocks, grounds, across.lossy), newSeams(down.blocks, grounds, down.lossy), w.outside}
}

// looked is a grid that was looked at cell by cell, and what speaks for it.
type looked struct {
	parted
	facts facts
	met   [2]looks // what its columns' edges and its rows' edges meet
}

// lookAll looks at grids, and at how they lie in each other, until it is stopped.
func (c closer) lookAll(likely []parted, stopped func() error) (all []looked, err error) {
	for _, g := range likely {
		if err := stopped(); err != nil {
			return nil, err
		}
		all = append(all, c.look(g))
	}
	for i := range all {
		if slices.ContainsFunc(all, func(finer looked) bool { return c.isPartedBy(all[i], finer) }) {
			all[i].facts[partedAgain] = 1
		}
	}
	c.compare(all)
	return all, nil
}

// compared is how many of the likeliest grids are compared with those that part their cells again.
const compared = 16

// unlike is from how much finer cells take turns that a coarser cell is surely one card.
const unlike = 0.15

// unlikeRims is the same of their rims.
const unlikeRims = 0.3

// compare finds how much the cells of finer grids take turns as the cells of coarser ones would have them.
func (c closer) compare(all []looked) {
	likeliest := make([]int, len(all))
	for i := range likeliest {
		likeliest[i] = i
	}
	slices.SortStableFunc(likeliest, func(a, b int) int { return cmp.Compare(all[b].facts.weight(), all[a].facts.weight()) })
	likeliest = likeliest[:min(len(likeliest), compared)]
	faces := map[pair]cellFaces{}
	for _, i := range likeliest {
		for _, j := range likeliest {
			coarse, fine := &all[i], &all[j]
			if fine.grid().Cells() <= coarse.grid().Cells() || !c.across.madeOf(coarse.columns, fine.columns) || !c.down.madeOf(coarse.rows, fine.rows) {
				continue
			}
			turns, rims := 0.0, 0.0
			if kinds := fine.columns.n / coarse.columns.n; kinds > 1 {
				strips := c.across.runsOf(fine.rows, c.size.Y)
				turns = max(turns, c.across.repeats(fine.columns, strips, c.size.Y, kinds)-c.across.repeats(fine.columns, strips, c.size.Y, 1))
				rims = max(rims, c.across.rimsTurn(fine.columns, strips, kinds))
			}
			if kinds := fine.rows.n / coarse.rows.n; kinds > 1 {
				strips := c.down.runsOf(fine.columns, c.size.X)
				turns = max(turns, c.down.repeats(fine.rows, strips, c.size.X, kinds)-c.down.repeats(fine.rows, strips, c.size.X, 1))
				rims = max(rims, c.down.rimsTurn(fine.rows, strips, kinds))
			}
			if faces[fine.pair].of == nil {
				faces[fine.pair] = c.facesOf(fine.pair)
			}
			fine.facts[alikeWithin] = max(fine.facts[alikeWithin], faces[fine.pair].alikeWithin(coarse.pair))
			fine.facts[joined] = max(fine.facts[joined], -math.Log(1-min(turns, 0.95)))
			fine.facts[rimsTurn] = max(fine.facts[rimsTurn], -math.Log(1-min(rims, 0.95)))
			if fine.cutsAsWellAs(*coarse) {
				coarse.facts[halvesAlike] = max(coarse.facts[halvesAlike], 1-min(max(turns/unlike, rims/unlikeRims), 1))
			}
		}
	}
}

// Bounds of what parts cells again as well as they were parted.
const (
	asWell    = 0.06 // of its cuts go through what is printed, or are blank, beyond those of the coarser grid
	asAlike   = 0.12 // is at the same place in all cells at least, as facts have it
	sameEdges = 3    // pixels
)

// cutsAsWellAs reports whether a finer grid's cuts meet what a coarser one's do, in each direction in which it has more of them.
func (l looked) cutsAsWellAs(coarse looked) bool {
	for way, met := range l.met {
		as := coarse.met[way]
		if as.cuts == 0 {
			as = coarse.met[1-way]
		}
		if met.cuts > coarse.met[way].cuts && (met.share(through) > as.share(through)+asWell || met.share(clean) > as.share(clean)+asWell) {
			return false
		}
	}
	return true
}

// isPartedBy reports whether a finer grid parts the cells of a coarser one, and cuts as well.
func (c closer) isPartedBy(l, finer looked) bool {
	return finer.columns.n*finer.rows.n > l.columns.n*l.rows.n && c.across.madeOf(l.columns, finer.columns) && c.down.madeOf(l.rows, finer.rows) &&
		finer.cutsAsWellAs(l) && finer.facts[repeating] >= asAlike
}

// madeOf reports whether each part of a coarse division is made of parts of a finer one, but for what is blank.
func (s *seams) madeOf(coarse, fine division) bool {
	if fine.n%coarse.n != 0 {
		return false
	}
	same := func(edge, other int) bool {
		return abs(edge-other) <= sameEdges || s.plain(min(edge, other), max(edge, other), [2]int{0, s.runs})
	}
	each := fine.n / coarse.n
	for i := range coarse.n {
		from, to := coarse.part(i)
		first, _ := fine.part(i * each)
		_, last := fine.part(i*each + each - 1)
		if !same(from, first) || !same(to, last) {
			return false
		}
	}
	return true
}

// leastLines is the least that whole lines weigh: where cards of many kinds lie on one sheet, no line goes between all of them.
const leastLines = -3

// look finds what speaks for a grid. Where cards look like the ground, so that their edges are not to be
// seen, it widens them to the middle of the gutters.
func (c closer) look(g parted) looked {
	columns, rows := c.edges(g.pair)
	if wide := c.takingIn(g, columns, rows); wide != g {
		g = wide
		columns, rows = c.edges(g.pair)
	}
	if loose := (pair{g.columns.loosened(columns), g.rows.loosened(rows)}); loose != g.pair {
		g.pair, g.tight = loose, g.pair
		columns, rows = c.edges(g.pair)
	}
	return c.judge(g, columns, rows)
}

// lookAt finds what speaks for a grid as it is.
func (c closer) lookAt(g parted) looked {
	columns, rows := c.edges(g.pair)
	return c.judge(g, columns, rows)
}

// edges are what the edges of a grid's cells meet.
func (c closer) edges(g pair) (columns, rows looks) {
	return c.across.look(g.columns, c.across.runsOf(g.rows, c.size.Y)), c.down.look(g.rows, c.down.runsOf(g.columns, c.size.X))
}

// judge finds what speaks for a grid whose edges were looked at.
func (c closer) judge(g parted, columns, rows looks) looked {
	inRows, inColumns := c.across.runsOf(g.rows, c.size.Y), c.down.runsOf(g.columns, c.size.X)
	f := facts{lineWeight: max(g.columns.weight+g.rows.weight, leastLines), shape: cardShape(g.columns.size, g.rows.size), rims: alikeRims(g.columns, g.rows, c.lossy), edgeWeight: columns.weight() + rows.weight()}
	f[repeating] = -math.Log(1 - min((c.across.repeats(g.columns, inRows, c.size.Y, 1)+c.down.repeats(g.rows, inColumns, c.size.X, 1))/2, 0.95))
	if cuts := float64(columns.cuts + rows.cuts); cuts > 0 {
		f[cutThrough], f[blankEdges] = float64(columns.met[through]+rows.met[through])/cuts, float64(columns.met[clean]+rows.met[clean])/cuts
	}
	if rims := float64(columns.rims + rows.rims); rims > 0 {
		f[edgesUnseen] = 1 - (columns.seen+rows.seen)/rims
	}
	f[oneWay] = g.oneWay()
	f[wordsOutside], f[wordsRepeat] = float64(len(c.outside)), c.outsideRepeats(g.pair)
	f[blankBetween] = math.Log1p(float64(c.blankBetween(g, inRows, inColumns)))
	if w, h := g.grid().Usable(c.size); w%g.columns.n != 0 || h%g.rows.n != 0 {
		f[noWhole] = 1
		if g.columns.trimmed() || g.rows.trimmed() {
			f[noWhole] = 2
		}
	}
	g.unseen, g.through = f[edgesUnseen], f[cutThrough]
	return looked{parted: g, facts: f, met: [2]looks{columns, rows}}
}

// leastPrinted is the share of a cell that is printed where it shows something.
const leastPrinted = 0.004

// blankBetween is how many cells show nothing though others after them do.
func (c closer) blankBetween(g parted, inRows, inColumns [][2]int) (n int) {
	blank := 0
	for row := range min(g.rows.n, len(inRows)) {
		top, bottom := g.rows.part(row)
		for column := range min(g.columns.n, len(inColumns)) {
			from, to := g.columns.part(column)
			if c.across.share(c.across.printed, from, to, inRows[row]) < leastPrinted && c.down.share(c.down.printed, top, bottom, inColumns[column]) < leastPrinted {
				blank++
				continue
			}
			n += blank
			blank = 0
		}
	}
	return n
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

// plainly is the share of edges that are seen from which nothing of a card lies beyond them.
const plainly = 0.75

// takingIn widens the parts into gutters by what is printed there, unless their edges were seen: text may reach further on some
// cards than on the others.
func (c closer) takingIn(g parted, columns, rows looks) parted {
	if columns.unseen() > 1-plainly {
		g.columns = g.columns.widened(c.across.beyond(g.columns, c.across.runsOf(g.rows.wide(), c.size.Y), g.rows.gutter))
	}
	if rows.unseen() > 1-plainly {
		g.rows = g.rows.widened(c.down.beyond(g.rows, c.down.runsOf(g.columns.wide(), c.size.X), g.columns.gutter))
	}
	return g
}

// wide are the parts with the gutters between them, or a single one with the margins.
func (d division) wide() division {
	if d.n == 1 {
		return division{n: 1, size: float64(d.before) + d.size + float64(d.after)}
	}
	return d.widened(d.gutter/2, (d.gutter-1)/2)
}

// widened has parts begin and end so much further out, if the gutters have room for that.
func (d division) widened(before, after int) division {
	before, after = min(before, d.before), min(after, d.after)
	if before+after == 0 || d.n > 1 && before+after >= d.gutter {
		return d
	}
	d.before, d.after, d.size = d.before-before, d.after-after, d.size+float64(before+after)
	if d.n > 1 {
		d.gutter -= before + after
	}
	return d
}

// loosened widens the parts by halves of the gutters, or where there are none into the margins, if
// their edges were not seen.
func (d division) loosened(l looks) division {
	if l.unseen() <= 1-loosely {
		return d
	}
	before, after := min(d.before, d.gutter/2), min(d.after, (d.gutter+1)/2)
	if d.gutter == 0 && d.n == 1 {
		before, after = d.before/3, d.after/3
	}
	d.before, d.after, d.gutter, d.size = d.before-before, d.after-after, max(0, d.gutter-before-after), d.size+float64(before+after)
	return d
}
