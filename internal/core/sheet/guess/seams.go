package guess

import (
	"math"
	"slices"

	"damselfly.example/damselfly/internal/core/sheet/pixels"
)

// seams says of every run of every line what a cut before that line would meet there.
type seams struct {
	blocks         *blocks
	lines, runs    int
	parts, printed []int32 // in how many runs one picture ends and another begins, and how many are not of a ground: summed over all lines and runs before
}

func newSeams(b *blocks, grounds []pixels.Colour, lossy float64) *seams {
	n := len(b.means) / b.runs
	s := &seams{blocks: b, lines: n, runs: b.runs, parts: make([]int32, (n+1)*(b.runs+1)), printed: make([]int32, (n+1)*(b.runs+1))}
	near := max(leastNear*lossy, 2.2*b.noise(n))
	stripes := b.stripes(n)
	ground := func(c pixels.Colour) bool {
		return c.Clear() || slices.ContainsFunc(grounds, func(g pixels.Colour) bool { return looksLike(c, g, lossy) })
	}
	for x := range n {
		own, before, after := b.line(x), b.line(max(x-2, 0)), b.line(min(x+1, n-1))
		var parts, printed int32
		for i := range b.runs {
			if x > 0 && pixels.ApartBy(before[i], after[i]) > near {
				parts++
			}
			if !ground(own[i]) && !stripes[i].has(own[i], lossy) {
				printed++
			}
			at := s.at(x+1, i+1)
			s.parts[at], s.printed[at] = s.parts[at-b.runs-1]+parts, s.printed[at-b.runs-1]+printed
		}
	}
	return s
}

func (s *seams) at(line, run int) int { return line*(s.runs+1) + run }

// share is how much of something lies in some lines and runs, 0 to 1.
func (s *seams) share(of []int32, from, to int, runs [2]int) float64 {
	from, to = max(from, 0), min(to, s.lines)
	begin, end := runs[0], runs[1]
	if to <= from || end <= begin {
		return 0
	}
	sum := of[s.at(to, end)] - of[s.at(from, end)] - of[s.at(to, begin)] + of[s.at(from, begin)]
	return float64(sum) / float64((to-from)*(end-begin))
}

// parting is how much of one line's runs part.
func (s *seams) parting(line int, runs [2]int) float64 { return s.share(s.parts, line, line+1, runs) }

// plain reports whether nothing is printed on some lines.
func (s *seams) plain(from, to int, runs [2]int) bool {
	return s.share(s.printed, from, to, runs) <= specksOfCell
}

// Bounds of what the edge of a cell meets, in shares of it.
const (
	specksOfCell = 0.03
	sharpShare   = 0.7
	partlyShare  = 0.4
)

// seam is what the edge of one cell meets.
type seam uint8

const (
	through seam = iota // what is printed
	partly              // some of it parts
	clean               // nothing is printed there
	sharp               // one picture ends, another begins
	seamKinds
)

func (s *seams) seam(line int, runs [2]int) seam {
	switch parts := s.parting(line, runs); {
	case parts >= sharpShare:
		return sharp
	case s.plain(line-1, line+1, runs):
		return clean
	case parts >= partlyShare:
		return partly
	}
	return through
}

// How likely the edges of cells meet what they meet: of cards that fill their cells, of cards with blank
// rims, and with gutters between them.
var (
	fullCards  = [seamKinds]float64{sharp: 0.75, partly: 0.13, clean: 0.06, through: 0.06}
	blankCards = [seamKinds]float64{sharp: 0.02, partly: 0.05, clean: 0.88, through: 0.05}
)

const gutterSeen = 0.95

// looks is what a look at the edges of all cells found, in one direction.
type looks struct {
	full, blank float64        // the weights of the cuts, for cards that fill their cells, and with blank rims
	cuts        int            // how many edges between cells were looked at
	met         [seamKinds]int // and what they met
	rims        int            // how many edges beside margins and gutters were looked at
	seen        float64        // and along how many of them something begins
}

// unseen is the share of edges beside margins and gutters along which nothing begins.
func (l looks) unseen() float64 {
	if l.rims == 0 {
		return 0
	}
	return 1 - l.seen/float64(l.rims)
}

// weight is that of all cuts: cards are alike, so that what their cuts meet is, too.
func (l looks) weight() float64 {
	return max(l.full, l.blank) / math.Sqrt(float64(max(l.cuts, 1)))
}

// withoutCorners are the runs of an edge but for those at its ends: corners may be round.
func withoutCorners(runs [2]int) [2]int {
	if runs[1]-runs[0] <= 4 {
		return runs
	}
	return [2]int{runs[0] + 1, runs[1] - 1}
}

// look weighs the edges of all cells. What an edge meets is the more telling, the more rarely lines
// between the same two other edges meet it.
func (s *seams) look(d division, strips [][2]int) (l looks) {
	met := make([]seam, s.lines)
	for _, runs := range strips {
		runs = withoutCorners(runs)
		first, last := 0, s.lines // of what is printed: the last cells may be empty
		for first < last && s.plain(first, first+1, runs) {
			first++
		}
		for last > first && s.plain(last-1, last, runs) {
			last--
		}
		if last == first {
			continue
		}
		for x := first; x < last; x++ {
			met[x] = s.seam(x, runs)
		}
		best := func(x int) seam {
			if x+2 < first {
				return clean
			}
			return slices.Max(met[max(x-2, first):min(x+3, last)])
		}
		var all [seamKinds]int
		for x := first; x < last; x++ {
			all[best(x)]++
		}
		gap := func(from int) bool { return s.plain(from+d.gutter/4, from+d.gutter-d.gutter/4, runs) }
		gaps := 0
		for x := first; d.gutter > 0 && x < last-d.gutter; x++ {
			if gap(x) {
				gaps++
			}
		}
		span := float64(last - first + 3)
		for i := range d.n {
			from := int(math.Round(float64(d.before) + float64(i)*(d.size+float64(d.gutter))))
			if from >= last {
				break
			}
			if i == 0 && d.before > 0 || i > 0 && d.gutter > 0 {
				l.rim(s, from, runs)
			}
			if i == d.n-1 && d.after > 0 || i < d.n-1 && d.gutter > 0 {
				l.rim(s, int(math.Round(float64(from)+d.size)), runs)
			}
			if i == 0 {
				continue
			}
			l.cuts++
			if d.gutter > 0 {
				weight := math.Log(1 - gutterSeen)
				if gap(from - d.gutter) {
					weight = math.Log(gutterSeen * span / float64(gaps+1))
				} else {
					l.met[through]++
				}
				l.full, l.blank = l.full+weight, l.blank+weight
				continue
			}
			k, as := best(from), 0
			l.met[k]++
			for _, n := range all[k:] {
				as += n
			}
			l.full += math.Log(fullCards[k] * span / float64(as+1))
			l.blank += math.Log(blankCards[k] * span / float64(all[k]+1))
		}
	}
	return l
}

// cornerRuns is how much of an edge is left out at its ends, in runs: cuts are marked there.
const cornerRuns = 2

// beyond is how far what is printed reaches into the gutters after parts, and before them: all of it but the widest blank of all
// gutters. Where there are none, gutters may be as wide as those that cross these.
func (s *seams) beyond(d division, strips [][2]int, crossing int) (before, after int) {
	printed := func(from int) bool {
		return from >= 0 && from < s.lines && slices.ContainsFunc(strips, func(runs [2]int) bool {
			if runs[1]-runs[0] > 4*cornerRuns {
				runs[0], runs[1] = runs[0]+cornerRuns, runs[1]-cornerRuns
			}
			return !s.plain(from, from+1, runs)
		})
	}
	if d.n == 1 {
		from, to := d.part(0)
		for away := crossing / 2; away > 0; away-- {
			if before == 0 && printed(from-away) {
				before = away
			}
			if after == 0 && printed(to+away-1) {
				after = away
			}
		}
		return before, after
	}
	widest, blank := 0, 0
	for at := range d.gutter {
		blank++
		for i := range d.n + 1 { // the margins may begin and end as gutters do
			from, _ := d.part(i)
			if printed(from - d.gutter + at) {
				blank = 0
				break
			}
		}
		if blank > widest {
			widest, after, before = blank, at+1-blank, d.gutter-at-1
		}
	}
	return before, after
}

// share is how much of the edges between cells meets something.
func (l looks) share(k seam) float64 { return float64(l.met[k]) / float64(max(l.cuts, 1)) }

func (l *looks) rim(s *seams, line int, runs [2]int) {
	l.rims++
	l.seen += max(s.parting(line-1, runs), s.parting(line, runs), s.parting(line+1, runs))
}

// runsOf are the runs of each part of a division of the lines that cross these.
func (s *seams) runsOf(d division, length int) (all [][2]int) {
	scale := float64(s.runs) / float64(length)
	for i := range d.n {
		from := float64(d.before) + float64(i)*(d.size+float64(d.gutter))
		begin, end := int(math.Ceil(from*scale)), int((from+d.size)*scale)
		if end > begin {
			all = append(all, [2]int{min(begin, s.runs), min(end, s.runs)})
		}
	}
	return all
}

// How finely cells are laid on each other, and how much of their rims is left out, where gutters that belong
// to none would repeat: in runs, and in as many lines as a run is long.
const (
	rimRuns = 2
	longRun = 6 // pixels
)

// repeats is how much of what parts does so at the same place in all cells, 0 to 1: the share of its
// variance that the mean cell explains, less what chance would. Cells may be of kinds that take turns, each with a mean
// of its own.
func (s *seams) repeats(d division, strips [][2]int, length, kinds int) float64 {
	run := max(1, length/s.runs)
	step := max(longRun, run)
	rim := rimRuns * step
	long := (int(d.size) - 2*rim) / step
	wide := math.MaxInt
	for _, runs := range strips {
		wide = min(wide, runs[1]-runs[0]-2*rim/run)
	}
	if long < 2 || wide < 2 {
		return 0
	}
	folded := make([][]float64, kinds)
	counts := make([]float64, kinds)
	for kind := range folded {
		folded[kind] = make([]float64, long*wide)
	}
	sum, squares, count := 0.0, 0.0, 0.0
	for _, runs := range strips {
		begin := runs[0] + rim/run
		for i := range d.n {
			from := int(float64(d.before)+float64(i)*(d.size+float64(d.gutter))) + rim
			if s.share(s.printed, from, from+long*step, [2]int{begin, begin + wide}) < 0.01 {
				continue // it is empty
			}
			kind := i % kinds
			counts[kind]++
			count++
			for x := range long {
				for y := range wide {
					v := math.Sqrt(s.share(s.parts, from+x*step, from+(x+1)*step, [2]int{begin + y, begin + y + 1}))
					folded[kind][x*wide+y] += v
					sum, squares = sum+v, squares+v*v
				}
			}
		}
	}
	if slices.Min(counts) < 1 || count < 2*float64(kinds) {
		return 0
	}
	fields := float64(long * wide)
	middle := sum / count / fields
	total := squares/count/fields - middle*middle
	if total <= 0 {
		return 0
	}
	explained := 0.0
	for kind := range folded {
		for _, v := range folded[kind] {
			off := v/counts[kind] - middle
			explained += off * off * counts[kind] / count / fields
		}
	}
	chance := float64(kinds) / count
	return max(0, (explained/total-chance)/(1-chance))
}

// Where the rims of cells are compared: so many pixels within their edges, in so many parts.
var rimDepths = [...]int{1, 3, 6, 9, 13}

const (
	rimParts  = 6
	mostKinds = 3
	noise     = 36.0 // the variance of a colour that says nothing
)

// rimsTurn is how much of what tells the rims of cells apart is told by kinds of cells that take turns, 0 to 1, less what chance
// would.
func (s *seams) rimsTurn(d division, strips [][2]int, kinds int) float64 {
	if kinds > mostKinds {
		return 0 // cells that are no whole pixels would be of kinds, too
	}
	all := newTurning(kinds)
	for _, runs := range strips {
		if runs[1]-runs[0] < rimParts {
			return 0
		}
		for i := range d.n {
			if from, to := d.part(i); from >= 0 && to <= s.lines && s.share(s.printed, from, to, runs) >= 0.01 { // it is not empty
				all.add(i%kinds, s.rimsOf(from, to, runs))
			}
		}
	}
	return all.told()
}

// partsOf are the colours of a line's parts.
func (s *seams) partsOf(line int, runs [2]int) (parts []float64) {
	of := s.blocks.line(line)
	for part := range rimParts {
		begin, end := runs[0]+(runs[1]-runs[0])*part/rimParts, runs[0]+(runs[1]-runs[0])*(part+1)/rimParts
		for channel := range 3 {
			sum := 0.0
			for _, c := range of[begin:end] {
				sum += float64(c[channel])
			}
			parts = append(parts, sum/float64(end-begin))
		}
	}
	return parts
}

// rimsOf are the colours at the rims of a cell.
func (s *seams) rimsOf(from, to int, runs [2]int) (rims []float64) {
	for _, depth := range rimDepths {
		for _, x := range [2]int{min(from+depth, to-1), max(to-1-depth, from)} {
			rims = append(rims, s.partsOf(x, runs)...)
		}
	}
	return rims
}

// turning finds how much kinds that take turns tell of what tells things apart.
type turning struct {
	counts  []float64
	sums    [][]float64 // of each kind
	squares float64
}

func newTurning(kinds int) *turning {
	return &turning{counts: make([]float64, kinds), sums: make([][]float64, kinds)}
}

func (t *turning) add(kind int, values []float64) {
	if t.sums[kind] == nil {
		t.sums[kind] = make([]float64, len(values))
	}
	t.counts[kind]++
	for i, v := range values {
		t.sums[kind][i] += v
		t.squares += v * v
	}
}

// told is the share of the variance that the kinds explain, less what chance would.
func (t *turning) told() float64 {
	count := 0.0
	for _, n := range t.counts {
		count += n
	}
	kinds := float64(len(t.counts))
	if slices.Min(t.counts) < 1 || count < 2*kinds {
		return 0
	}
	all, explained := t.squares, 0.0
	for i := range t.sums[0] {
		sum := 0.0
		for kind, sums := range t.sums {
			sum += sums[i]
			explained += sums[i] * sums[i] / t.counts[kind]
		}
		all -= sum * sum / count
		explained -= sum * sum / count
	}
	chance := (kinds - 1) / (count - 1)
	return max(0, (explained/(all+noise*float64(len(t.sums[0]))*count)-chance)/(1-chance))
}
