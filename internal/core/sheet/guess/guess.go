// Package guess reads off a picture how cards lie on it. docs/grids.md tells how.
package guess

import (
	"cmp"
	"image"
	"math"
	"slices"

	"damselfly.example/damselfly/internal/core/sheet/pixels"
)

// Guessed is a grid read off a picture. Confidence is from 0 to 1; what is
// under Sure should be looked at.
type Guessed struct {
	pixels.Grid
	Confidence float64 `json:"confidence"`
	Rims       bool    `json:"-"` // it leaves out plain rims that the best guess keeps: the cards' own, or the sheet's
	Smeared    bool    `json:"-"` // some edges of its cells are not to be seen, and what is to be seen was saved with loss
}

// Sure is the confidence from which a guess is taken at its word.
const Sure = 0.88

// Bounds of what is guessed.
const (
	maxSide  = 40
	maxCells = 400
	leastFor = 24 // pixels of a cell
)

// Seen is what a picture shows: the grids that it looks like, and what lies along its lines.
type Seen struct {
	Guesses      []Guessed // the best first; there is always one
	Askew        float64   // how many degrees the picture was turned, clockwise; 0 if it lies upright
	across, down lines
}

// GoesOn reports whether what is printed goes on from one side of a line of pixels to the other: a column, or a row.
func (s Seen) GoesOn(row bool, at int) bool {
	p := &s.across
	if row {
		p = &s.down
	}
	return at > 0 && at < len(p.meets) && p.best(at) <= some
}

// Look reads a grid off a picture, as far as it is not given: columns, rows, margin and
// gutter that are zero are guessed. The best guess comes first; there is always one, if only
// 1 × 1 with little confidence. Of a picture that was saved with loss, what lies beside an edge may be smeared. It ends with the error
// of stopped soon after that gives one: whoever wanted to know has left.
//
// Every way to part the picture's columns, and its rows, is weighed by what its cuts
// meet: how much likelier that is for cuts between cards than for cuts at any place of this
// picture. The weights are logarithms of chances, so that those of columns and rows add up. The
// likeliest grids are then looked at cell by cell. docs/grids.md tells it at length.
func Look(picture image.Image, savedWithLoss bool, given pixels.Grid, stopped func() error) (Seen, error) {
	whole, err := readLines(picture, savedWithLoss, stopped)
	if err != nil {
		return Seen{}, err
	}
	if given.Partly(whole.size()) != nil {
		given = pixels.Grid{} // it is refused where it is used
	}
	views, err := whole.views(given, stopped)
	return Seen{together(views, given), whole.askew(), whole.across, whole.down}, err
}

// views are what a picture shows, and parts of it without words beside its cards.
func (w *window) views(given pixels.Grid, stopped func() error) ([]view, error) {
	v, err := w.look(given, stopped)
	if err != nil || given.Margin != (pixels.Margin{}) {
		return []view{v}, err
	}
	all := []view{v}
	for _, part := range w.withoutWords() {
		v, err := w.part(part).look(given, stopped)
		if err != nil {
			return nil, err
		}
		all = append(all, v)
	}
	return all, nil
}

// together are the guesses of all views, those of the likeliest first; views that show the same grid speak for each other.
func together(views []view, given pixels.Grid) (all []Guessed) {
	views = slices.DeleteFunc(views, func(v view) bool { return len(v.guesses) == 0 })
	if len(views) == 0 {
		return []Guessed{{Grid: pixels.Grid{Columns: max(given.Columns, 1), Rows: max(given.Rows, 1), Margin: given.Margin, Gutter: given.Gutter}}}
	}
	slices.SortStableFunc(views, func(a, b view) int { return cmp.Compare(b.weight, a.weight) })
	sum := 0.0
	for _, v := range views {
		sum += math.Exp(v.weight - views[0].weight)
	}
	for _, v := range views {
		share := math.Exp(v.weight-views[0].weight) / sum
		for _, g := range v.guesses {
			g.Confidence *= share
			if at := slices.IndexFunc(all, func(other Guessed) bool { return other.Near(g.Grid) }); at >= 0 {
				all[at].Confidence += g.Confidence
				continue
			}
			all = append(all, g)
		}
	}
	for i := range all {
		all[i].Confidence = math.Round(100*all[i].Confidence) / 100
	}
	slices.SortStableFunc(all, func(a, b Guessed) int { return cmp.Compare(b.Confidence, a.Confidence) })
	best := all[0]
	return slices.DeleteFunc(all, func(g Guessed) bool { return g.Confidence == 0 && !g.Rims && g != best })
}

// pair is a grid as its two divisions.
type pair struct{ columns, rows division }

// parted is a pair, and the logarithm of how likely it is, but for a factor.
type parted struct {
	pair
	weight  float64
	unseen  float64 // the share of edges beside margins and gutters along which nothing begins
	through float64 // the share of cuts that go through what is printed
	smeared bool    // it may be some pixels off: see Guessed
	tight   pair    // what it was before its cells were widened to the middle of gutters; none if they were not
}

func (p pair) grid() pixels.Grid {
	return pixels.Grid{
		Columns: p.columns.n, Rows: p.rows.n, Gutter: pixels.Gutter{p.columns.gutter, p.rows.gutter},
		Margin: pixels.Margin{pixels.Left: p.columns.before, pixels.Right: p.columns.after, pixels.Top: p.rows.before, pixels.Bottom: p.rows.after},
	}
}

// likeliest are the grids to look at, as what their cuts meet says.
func (w *window) likeliest(given pixels.Grid) (likely []parted) {
	size, across, down := w.size(), &w.across, &w.down
	most := closely
	if w.outside != nil {
		most = inWindows
	}
	columns := across.divisions(wanted{given.Columns, given.Margin != pixels.Margin{}, given.Margin[pixels.Left], given.Margin[pixels.Right], given.Gutter != pixels.Gutter{}, given.Gutter[0]})
	rows := down.divisions(wanted{given.Rows, given.Margin != pixels.Margin{}, given.Margin[pixels.Top], given.Margin[pixels.Bottom], given.Gutter != pixels.Gutter{}, given.Gutter[1]})
	var all []parted
	for _, c := range columns {
		for _, r := range rows {
			p := parted{pair: pair{c, r}, weight: c.weight + r.weight + cardShape(c.size, r.size) + alikeRims(c, r, across.lossy)}
			if guessed := given.Columns == 0 || given.Rows == 0; guessed && c.n*r.n > maxCells || p.grid().Fits(size) != nil {
				continue
			}
			all = append(all, p)
		}
	}
	slices.SortStableFunc(all, func(a, b parted) int { return cmp.Compare(b.weight, a.weight) })
	for _, p := range all {
		if len(likely) == most {
			break
		}
		if !slices.ContainsFunc(likely, func(l parted) bool { return l.grid().Near(p.grid()) }) {
			likely = append(likely, p)
		}
	}
	return likely
}

// reading is a grid with its share of all chances.
type reading struct {
	parted
	share float64
}

// best are the likeliest grids, with their shares of all chances as their confidence.
func best(readings []reading, across, down *lines) (all []Guessed) {
	for i, r := range readings[:min(4, len(readings))] {
		g := Guessed{Grid: r.grid(), Confidence: math.Round(100*r.share) / 100}
		if g.Cells() == 1 || r.through > mostThrough {
			g.Confidence = min(g.Confidence, single)
		}
		if i == 0 && r.smeared {
			g.Smeared = g.Confidence >= Sure // else more is not sure than its edges
			g.Confidence = math.Round(100*mostSmeared*g.Confidence) / 100
		}
		if g.Confidence > 0 || len(all) == 0 {
			all = append(all, g)
		}
	}
	if i := slices.IndexFunc(readings, func(r reading) bool { return r.keepsNoRim(readings[0], across, down) }); i > 0 {
		g := Guessed{Grid: readings[i].grid(), Confidence: math.Round(100*readings[i].share) / 100, Rims: true}
		if at := slices.IndexFunc(all, func(other Guessed) bool { return other.Grid == g.Grid }); at >= 0 {
			all[at] = g
		} else {
			all = append(all, g)
		}
	}
	return all
}

// seenRims is the share of edges along which nothing begins up to which rims end where they are taken to end.
const seenRims = 0.1

// keepsNoRim reports whether a reading leaves out plain rims that another keeps, and cards' pictures begin right behind them.
func (r reading) keepsNoRim(other reading, across, down *lines) bool {
	return r.unseen <= seenRims && r.columns.allInside(other.columns) && r.rows.allInside(other.rows) &&
		across.within(r.columns, other.columns) && down.within(r.rows, other.rows)
}

// allInside reports whether all parts begin later and end earlier than those of another division.
func (d division) allInside(other division) bool {
	return d.before-other.before > pixels.NearBy && d.after-other.after > pixels.NearBy && (d.n == 1 || d.gutter-other.gutter > 2*pixels.NearBy)
}

// readingsOf are the grids that differ by more than some pixels, with their shares of all chances, the likeliest first.
func readingsOf(weighed []parted) (all []reading) {
	slices.SortStableFunc(weighed, func(a, b parted) int { return cmp.Compare(b.weight, a.weight) })
	sum := 0.0
	for _, p := range weighed {
		if !slices.ContainsFunc(all, func(r reading) bool { return r.grid().Near(p.grid()) }) {
			share := math.Exp(p.weight - weighed[0].weight)
			all = append(all, reading{p, share})
			sum += share
		}
	}
	for i := range all {
		all[i].share /= sum
	}
	return all
}

// unseenEdges is the share of edges along which nothing begins from which a rim may be a card's as well as the sheet's.
const unseenEdges = 0.3

// leading has the likeliest reading speak for the tighter ones that show the same: they leave out plain rims, which may be the
// cards' or the sheet's. Where only a looser reading is sure by that, it goes first: whichever is right, it leaves nothing out.
func leading(all []reading, across, down *lines) []reading {
	showSame := func(tight, loose reading) bool {
		return tight == loose || tight.unseen >= unseenEdges && across.within(tight.columns, loose.columns) && down.within(tight.rows, loose.rows)
	}
	of := func(loose reading) (share float64) {
		for _, r := range all {
			if showSame(r, loose) {
				share += r.share
			}
		}
		return share
	}
	lead := all[0]
	if of(lead) < Sure {
		if i := slices.IndexFunc(all, func(r reading) bool { return showSame(lead, r) && of(r) >= Sure }); i > 0 {
			lead = all[i]
		}
	}
	share := of(lead)
	others := slices.DeleteFunc(slices.Clone(all), func(r reading) bool { return showSame(r, lead) })
	lead.share = share
	return append([]reading{lead}, others...)
}

// single is how sure it is at most that a sheet has one card, or that cards are cut where what is printed goes on: nothing
// speaks for that but that nothing else fits.
const single = 0.62

// mostSmeared is how sure it is at most where cells begin and end that some edges in a lossy picture do not show: of 36 sheets
// like that 19 were read rightly, to two pixels, and of the others one of withOtherEdges was right with 9.
const mostSmeared = 0.6

// mostThrough is the share of cuts that may go through what is printed where a grid is sure.
const mostThrough = 0.5

// cardShape is how much a cell is shaped like a card.
func cardShape(w, h float64) float64 {
	ratio := min(w, h) / max(w, h)
	switch {
	case ratio > 0.6 && ratio < 0.8, ratio > 0.85 && ratio < 0.88, ratio > 0.96: // cards, hexagons and squares
		return 0
	case ratio > 0.5:
		return -1
	}
	return -2 - 12*(0.5-ratio)
}

// alikeRims is how well columns and rows agree in how cards are set apart: where one direction
// leaves a ground out, so does the other where it begins with that ground.
func alikeRims(c, r division, lossy float64) float64 {
	if c.trimmed() && r.trimmed() && pixels.ApartBy(c.ground, r.ground) > 2*groundShade*lossy {
		return -8
	}
	if c.trimmed() && r.keeps(c.ground) || r.trimmed() && c.keeps(r.ground) {
		return -5
	}
	if c.n > 1 && r.n > 1 && (c.gutter > 0) != (r.gutter > 0) {
		return -2.5
	}
	return 0
}
