package guess

import "math"

// Bounds of gutters that a lossy picture smears, so that they are no plain band.
const (
	thinnest = 2 // pixels
	thickest = 6
	besides  = 3   // how many lines beside a gutter it is compared with
	clearly  = 4.0 // how much more the brightness of pictures differs from a gutter's than its own does
	unlikely = 2.5 // the same of the outermost lines of cards: none is a rim of that brightness
	asClear  = 0.6 // as the clearest width, from which a wider one is taken
)

// spread is what a mean and a variance are made of.
type spread struct{ n, sum, squares float64 }

func (s *spread) add(v float64) { s.n, s.sum, s.squares = s.n+1, s.sum+v, s.squares+v*v }

// take takes out what was added.
func (s *spread) take(v float64) { s.n, s.sum, s.squares = s.n-1, s.sum-v, s.squares-v*v }

func (s spread) mean() float64 { return s.sum / max(s.n, 1) }

// around is how far the values usually are from one.
func (s spread) around(v float64) float64 {
	return math.Sqrt(max(0, (s.squares-2*v*s.sum+s.n*v*v)/max(s.n, 1)))
}

// spaced has gutters of a width between parts that have none.
func (d division) spaced(width int) division {
	d.gutter, d.size = width, d.size-float64(width*(d.n-1))/float64(d.n)
	return d
}

// spaced has thin gutters between parts, where a lossy picture shows them.
func (c closer) spaced(g parted) parted {
	if c.lossy == 1 {
		return g
	}
	if g.columns.n > 1 && g.columns.gutter == 0 {
		g.columns = g.columns.spaced(c.across.thinGutter(g.columns, c.across.runsOf(g.rows, c.size.Y)))
	}
	if g.rows.n > 1 && g.rows.gutter == 0 {
		g.rows = g.rows.spaced(c.down.thinGutter(g.rows, c.down.runsOf(g.columns, c.size.X)))
	}
	return g
}

// showsThinGutters reports whether a grid's gutters are so thin that a lossy picture smears them, and their brightness shows them.
func (c closer) showsThinGutters(g parted) bool {
	if c.lossy == 1 || !g.columns.thinlySpaced() && !g.rows.thinlySpaced() {
		return false
	}
	shows := func(s *seams, d division, strips [][2]int) bool {
		if d.n == 1 {
			return true
		}
		clear, rim := s.clearness(d, strips)
		return d.thinlySpaced() && clear >= clearly && rim >= unlikely
	}
	return shows(c.across, g.columns, c.across.runsOf(g.rows, c.size.Y)) && shows(c.down, g.rows, c.down.runsOf(g.columns, c.size.X))
}

func (d division) thinlySpaced() bool { return d.n > 1 && d.gutter >= thinnest && d.gutter <= thickest }

// thinGutter is how wide the gutters are between parts that seem to have none: lines of one brightness between pictures of many,
// where no card has such a rim at the outside. 0: there are none.
func (s *seams) thinGutter(d division, strips [][2]int) (width int) {
	clearest := clearly
	for w := thinnest; w <= thickest; w++ {
		clear, rim := s.clearness(d.spaced(w), strips)
		if rim >= unlikely && (clear > clearest || width > 0 && clear > asClear*clearest) {
			width, clearest = w, max(clear, clearest)
		}
	}
	return width
}

// clearness is how much more what lies beside gutters differs from their brightness than they do themselves, and how much what
// lies at the outside of the first and the last part does, at the line that is most like them.
func (s *seams) clearness(d division, strips [][2]int) (clear, rim float64) {
	var inside, beside spread
	var outside [besides]spread
	see := func(into *spread, line int, runs [2]int) {
		if line < 0 || line >= s.lines {
			return
		}
		for _, c := range s.blocks.line(line)[runs[0]:runs[1]] {
			into.add(c.Shade())
		}
	}
	for _, runs := range strips {
		runs = withoutCorners(runs)
		last := d.n - 1 // part that shows something
		for from, to := d.part(last); last >= 0 && s.plain(from, to, runs); from, to = d.part(last) {
			last--
		}
		for i := range last + 1 {
			from, to := d.part(i)
			for away := range besides {
				if i == 0 {
					see(&outside[away], from+away, runs)
				} else {
					see(&beside, from+1+away, runs)
				}
				if i == d.n-1 {
					see(&outside[away], to-1-away, runs)
				} else if i < last {
					see(&beside, to-2-away, runs)
				}
			}
			for x := to; i < last && x < to+d.gutter; x++ {
				see(&inside, x, runs)
			}
		}
	}
	if inside.n == 0 {
		return 0, 0
	}
	shade := inside.mean()
	own := inside.around(shade) + 3
	rim = math.Inf(1)
	for _, line := range outside {
		rim = min(rim, line.around(shade)/own)
	}
	return beside.around(shade) / own, rim
}
