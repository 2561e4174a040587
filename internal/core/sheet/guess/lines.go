package guess

import (
	"image"
	"math"
	"slices"

	"damselfly.example/damselfly/internal/core/sheet/pixels"
)

// lines says of every line of pixels of a picture, in one direction, what a cut along it
// would meet.
type lines struct {
	plain    []bool               // nothing but one colour, specks aside
	striped  []bool               // it is plain but for stripes, and something may lie on it at an end
	ground   []pixels.Colour      // the colour that most of a line has
	meets    []meeting            // what a cut before the line meets
	met      [kinds][]int         // how many cuts before a line meet each
	edges    []float64            // how much differs from one side to the other
	leading  int                  // how wide the plain band at the beginning is
	ending   int                  // and at the end
	seen     map[[2]int]*[4][]int // gutters, by their widths and colours
	colours  []pixels.Colour      // that gutters may have
	crossing []crossing           // how wide gutters are among the lines that cross these
	shade    float64              // how far the colours of one band lie apart
	band     []band               // the plain band that a line is in; none if it is not plain
	inner    []band               // the plain bands, but for those at the ends
	blocks   *blocks
	lossy    float64
}

// meeting is what a cut meets.
type meeting uint8

const (
	content meeting = iota // what is printed goes on from one side to the other
	some                   // a little of it does
	mixed                  // nothing goes on, but not much parts
	parting                // one picture ends, another begins
	blank                  // one colour on both sides
	halved                 // so, and as much of it on one side as on the other
	kinds
)

// Bounds of what counts as alike, in steps of a channel of 255.
const (
	groundShade = 12.0 // from the ground of a line
	leastNear   = 10.0 // from one side of a cut to the other, where there is no noise
	specksShare = 0.02 // of a plain line that has not its ground's colour
	marksShare  = 0.25 // of one in a margin, where cuts are marked
	markLong    = 2    // runs that a mark fills at most
	markTint    = 5.0  // pixels of full colour in it at most: marks are black, or grey
	points      = 144  // at how many points lines are compared at most; each is the mean of the pixels around it
)

// readLines reads the columns and the rows of a picture, until it is stopped. What was saved with loss is smeared beside edges.
func readLines(sheet image.Image, savedWithLoss bool, stopped func() error) (*window, error) {
	size := sheet.Bounds().Size()
	columns, rows := newBlocks(size.X, size.Y), newBlocks(size.Y, size.X)
	row := make([]pixels.Colour, size.X)
	read := pixels.RowReader(sheet)
	for y := range size.Y {
		if y%64 == 0 {
			if err := stopped(); err != nil {
				return nil, err
			}
		}
		if y%columns.every == 0 {
			read(y, 1, row)
			for x := range row {
				columns.add(x, y, &row[x])
			}
		} else {
			read(y, rows.every, row)
		}
		for x := 0; x < size.X; x += rows.every {
			rows.add(y, x, &row[x])
		}
	}
	columns.divide(size.Y)
	rows.divide(size.X)
	lossy := 1.0
	if savedWithLoss {
		lossy = 2
	}
	return newWindow(columns, rows, lossy), nil
}

// blocks are the lines of a picture in one direction, each as the means of short runs of
// pixels: noise hardly shows in them.
type blocks struct {
	step          int // pixels a run
	every         int // of so many pixels of a run one is read
	runs          int
	means         []pixels.Colour
	before, after int // how wide the plain bands at the ends are
	striped       []stripe
}

func newBlocks(lines, length int) *blocks {
	step := max(1, (length+points-1)/points)
	runs := (length + step - 1) / step
	return &blocks{step: step, every: max(1, step/4), runs: runs, means: make([]pixels.Colour, lines*runs)}
}

func (b *blocks) add(line, along int, c *pixels.Colour) {
	sum := &b.means[line*b.runs+along/b.step]
	sum[0] += c[0]
	sum[1] += c[1]
	sum[2] += c[2]
	sum[3] += c[3]
}

func (b *blocks) line(n int) []pixels.Colour { return b.means[n*b.runs : (n+1)*b.runs] }

// findRims finds how wide the plain bands at the ends are, cut marks aside.
func (b *blocks) findRims(lossy float64) {
	n := len(b.means) / b.runs
	band := func(from, step int) int {
		ground, plain := groundOf(b.line(from), nil, lossy, b.step)
		width := 0
		for x := from; plain && x >= 0 && x < n; x += step {
			other, is := groundOf(b.line(x), nil, lossy, b.step)
			if !is || pixels.ApartBy(ground, other) > bandShade*lossy {
				break
			}
			width++
		}
		return width
	}
	if before := band(0, 1); before < n {
		b.before, b.after = before, band(n-1, -1)
	}
}

// inside is the share of the lines, and so of the runs of the lines that cross them, that
// the rims leave.
func (b *blocks) inside() [2]float64 {
	n := float64(len(b.means) / b.runs)
	return [2]float64{float64(b.before) / n, 1 - float64(b.after)/n}
}

// stripe is a run that has one colour in most lines: all cards' banner, or their paper. It says
// nothing about where cards end.
type stripe struct {
	colour pixels.Colour
	is     bool
}

func (s stripe) has(c pixels.Colour, lossy float64) bool {
	return s.is && pixels.ApartBy(s.colour, c) <= groundShade*lossy
}

// stripeShare is the share of the lines that a stripe goes through.
const stripeShare = 0.5

func (b *blocks) stripes(n int) []stripe {
	if b.striped != nil {
		return b.striped
	}
	all, along := make([]stripe, b.runs), make([]pixels.Colour, n)
	for i := range all {
		for x := range along {
			along[x] = b.line(x)[i]
		}
		ground, _ := groundOf(along, nil, 1, 0)
		same := 0
		for _, c := range along {
			if pixels.ApartBy(c, ground) <= groundShade {
				same++
			}
		}
		all[i] = stripe{ground, float64(same) >= stripeShare*float64(n)}
	}
	b.striped = all
	return all
}

// endsAt is where the tail of two lines begins, in which neither shows anything: the last row
// of a sheet may be filled in part.
func endsAt(left, right []pixels.Colour, lossy float64) int {
	last := len(left)
	for i := len(left) - 1; i >= max(1, len(left)*2/5); i-- {
		if pixels.ApartBy(left[i], left[len(left)-1]) > groundShade*lossy || pixels.ApartBy(right[i], left[len(left)-1]) > groundShade*lossy {
			break
		}
		last = i
	}
	if last > len(left)*19/20 {
		return len(left)
	}
	return last
}

// lines reads the meetings off the runs' means that lie inside.
func (b *blocks) lines(inside [2]float64, lossy float64) lines {
	n := len(b.means) / b.runs
	first, last := int(math.Ceil(inside[0]*float64(b.runs))), int(inside[1]*float64(b.runs))
	if last-first < 4 {
		first, last = 0, b.runs
	}
	p := lines{plain: make([]bool, n), striped: make([]bool, n), ground: make([]pixels.Colour, n), meets: make([]meeting, n), edges: make([]float64, n), shade: bandShade * lossy}
	near := max(leastNear*lossy, 2.2*b.noise(n))
	goesOn, parts := make([]float64, n), make([]float64, n)
	line := func(x int) []pixels.Colour { return b.line(x)[first:last] }
	stripes := b.stripes(n)[first:last]
	for x := range n {
		own := line(x)
		marked := 0
		if x < b.before || x >= n-b.after {
			marked = b.step
		}
		p.ground[x], p.plain[x] = groundOf(own[:endsAt(own, own, lossy)], stripes, lossy, marked)
		if p.plain[x] && x >= b.before && x < n-b.after {
			_, bare := groundOf(own, nil, lossy, 0)
			p.striped[x] = !bare
		}
	}
	for x := 1; x < n; x++ {
		before, after := line(max(x-2, 0)), line(min(x+1, n-1)) // edges may be a pixel or two wide
		left, right := line(x-1), line(x)
		ground := p.ground[x]
		if p.plain[x-1] {
			ground = p.ground[x-1]
		}
		to := endsAt(before, after, lossy)
		each := 1 / float64(to)
		for i := range to {
			p.edges[x] += edgeBetween(left[i], right[i], lossy) * each
			switch {
			case pixels.ApartBy(before[i], after[i]) > near:
				parts[x] += each
			case before[i].Clear() && after[i].Clear():
				// nothing is printed there
			case pixels.ApartBy(before[i], ground) > groundShade*lossy && pixels.ApartBy(after[i], ground) > groundShade*lossy && !stripes[i].has(before[i], lossy):
				goesOn[x] += each
			}
		}
	}
	p.sort(goesOn, parts)
	p.findBands()
	if lossy > 1 {
		p.joinBands()
		p.widenBands()
		p.joinBands() // those that have met
	}
	p.count()
	return p
}

// divide makes means of sums, once all pixels were added.
func (b *blocks) divide(length int) {
	for i := range b.runs {
		n := float32(0)
		for along := i * b.step; along < min((i+1)*b.step, length); along++ {
			if along%b.every == 0 {
				n++
			}
		}
		for run := i; run < len(b.means); run += b.runs {
			for c := range b.means[run] {
				b.means[run][c] /= max(n, 1)
			}
		}
	}
}

// noise is how far apart neighbouring lines usually are.
func (b *blocks) noise(n int) float64 {
	var apart []float64
	for x := 1; x < n; x += 1 + n/300 {
		for i := 0; i < b.runs; i += 1 + b.runs/60 {
			apart = append(apart, pixels.ApartBy(b.line(x - 1)[i], b.line(x)[i]))
		}
	}
	if len(apart) == 0 {
		return 0
	}
	slices.Sort(apart)
	return apart[len(apart)/2]
}

// sort tells the kinds of meetings apart, by what is usual on the picture.
func (p *lines) sort(goesOn, parts []float64) {
	usual := max(0.03, quantile(goesOn, 0.75))
	for x := 1; x < len(goesOn); x++ {
		share := goesOn[x] / usual
		switch {
		case p.oneBand(x-1, x):
			p.meets[x] = blank
		case share > 0.5:
			p.meets[x] = content
		case share > 0.2:
			p.meets[x] = some
		case parts[x] > 0.3:
			p.meets[x] = parting
		default:
			p.meets[x] = mixed
		}
	}
}

// count counts what cuts would meet, once the bands are known.
func (p *lines) count() {
	for _, b := range p.inner {
		if middle := (b.from + b.to) / 2; p.meets[middle] == blank {
			p.meets[middle] = halved
		}
	}
	for k := range p.met {
		p.met[k] = make([]int, len(p.meets)+1)
	}
	for x := range p.meets {
		for k := range p.met {
			p.met[k][x+1] = p.met[k][x]
		}
		p.met[p.best(x)][x+1]++
	}
}

// best is the best of what cuts at a place or beside it meet.
func (p *lines) best(x int) meeting {
	return slices.Max(p.meets[min(max(x-1, 1), len(p.meets)-1):min(max(x+2, 2), len(p.meets))])
}

// oneBand reports whether two lines are plain and of one colour.
func (p *lines) oneBand(line, other int) bool {
	return p.plain[line] && p.plain[other] && p.striped[line] == p.striped[other] && pixels.ApartBy(p.ground[line], p.ground[other]) < p.shade
}

const bandShade = 6.0

// band is a run of plain lines of one colour, the last not included.
type band struct{ from, to int }

func (p *lines) findBands() {
	p.band = make([]band, len(p.plain))
	for from := 0; from < len(p.plain); {
		to := from + 1
		for to < len(p.plain) && p.oneBand(from, to) {
			to++
		}
		for x := from; x < to && p.plain[from]; x++ {
			p.band[x] = band{from, to}
		}
		from = to
	}
	p.findEnds()
}

// findEnds notes the bands at the ends, and those that are not.
func (p *lines) findEnds() {
	last := p.band[len(p.band)-1]
	p.leading, p.ending, p.inner = p.band[0].to, last.to-last.from, nil
	for x := p.leading; x < len(p.band)-p.ending; x++ {
		if p.band[x].from == x && p.band[x].to > x {
			p.inner = append(p.inner, p.band[x])
		}
	}
}

// edgeBetween is how much of an edge lies between two colours. A lossy picture keeps brightness in its place, and
// smears what is colour alone over pixels beside it.
func edgeBetween(a, b pixels.Colour, lossy float64) float64 {
	if lossy > 1 {
		return math.Abs(a.Shade()-b.Shade()) + 0.25*pixels.ApartBy(a, b)
	}
	return pixels.ApartBy(a, b)
}

// mostBlurred is how many lines between two bands may belong to neither.
const mostBlurred = 4

// ringing is how far from an edge a lossy picture shows ripples, in pixels.
const ringing = 17

// Bounds of what is smeared beside an edge.
const (
	smearedShade = 2.5 * groundShade // from the ground
	smearedEdge  = 8.0
	smearedShare = 0.12 // of the edge that smears
)

// edgeNear is the strongest edge that may have smeared what lies at a line.
func (p *lines) edgeNear(line int) float64 {
	return slices.Max(p.edges[max(line-ringing, 0):min(line+ringing, len(p.edges))])
}

// joinBands joins what is smeared beside an edge with the plain band that it lies in.
func (p *lines) joinBands() {
	for to := 1; to < len(p.band); to++ {
		before, after := p.band[to-1], p.band[to]
		if before.to != to || after.from != to || min(to-before.from, after.to-to) > ringing || p.edges[to] > max(smearedEdge, smearedShare*p.edgeNear(to)) || pixels.ApartBy(p.ground[to-1], p.ground[to]) > smearedShade {
			continue
		}
		ground, joined := p.ground[to-1], band{before.from, after.to}
		if after.to-to > to-before.from {
			ground = p.ground[to]
		}
		for x := joined.from; x < joined.to; x++ {
			p.band[x], p.ground[x] = joined, ground
		}
	}
	p.findEnds()
}

// widenBands has bands reach to the edges beside them: the ripples along an edge are part
// of the plain band.
func (p *lines) widenBands() {
	all := slices.Clone(p.inner)
	if p.leading > 0 {
		all = append(all, band{0, p.leading})
	}
	if p.ending > 0 {
		all = append(all, band{len(p.plain) - p.ending, len(p.plain)})
	}
	for _, b := range all {
		wide := b
		if b.from > 0 {
			wide.from = p.nextEdge(b.from+1, b.from-1, -1)
		}
		if b.to < len(p.plain) {
			wide.to = p.nextEdge(b.to-1, b.to, 1)
		}
		for x := wide.from; x < wide.to; x++ {
			p.band[x], p.plain[x], p.ground[x] = wide, true, p.ground[b.from]
		}
	}
	p.findEnds()
}

// nearlyMost is the share of the strongest edge near that an edge of its own has at least.
const nearlyMost = 0.35

// nextEdge is the first line from some on, one way or the other, before which the picture
// changes nearly as much as it does anywhere near. Where another band
// lies beside, nothing ripples.
func (p *lines) nextEdge(from, beyond, step int) int {
	from = min(max(from, 1), len(p.edges)-1)
	for off := range mostBlurred + 1 {
		x := beyond + off*step
		if x < 1 || x >= len(p.band)-1 {
			break
		}
		if b := p.band[x]; b.to-b.from > mostBlurred && pixels.ApartBy(p.ground[x], p.ground[from]) > groundShade {
			at := max(beyond, beyond-step) // the line before which the other band begins or ends
			for y := at; y != max(x, x-step)+step; y += step {
				if p.edges[y] > p.edges[at] {
					at = y
				}
			}
			return at
		}
	}
	found, at := 0.0, from // first how much, then where
	for range 2 {
		for i := range ringing {
			x := from + i*step
			if x < 1 || x >= len(p.edges) {
				break
			}
			if found > 0 && p.edges[x] > nearlyMost*found {
				for next := x + step; next >= 1 && next < len(p.edges) && p.edges[next] > p.edges[x]; next += step {
					x = next
				}
				return x
			}
			if p.edges[x] > p.edges[at] {
				at = x
			}
		}
		found = p.edges[at]
	}
	return at
}

func quantile(values []float64, share float64) float64 {
	sorted := slices.Sorted(slices.Values(values))
	return sorted[min(int(share*float64(len(sorted))), len(sorted)-1)]
}

func mean(values []float64) float64 {
	sum := 0.0
	for _, v := range values {
		sum += v
	}
	return sum / float64(len(values))
}

func variance(values []float64) float64 {
	middle, sum := mean(values), 0.0
	for _, v := range values {
		sum += (v - middle) * (v - middle)
	}
	return sum / float64(len(values))
}

func abs(n int) int { return max(n, -n) }

// Bounds of what looks like a ground in a lossy picture: what lies beside it colours it more than it lights it.
const (
	coloured = 40.0
	lit      = 6.0
)

// looksLike reports whether a colour is a ground's.
func looksLike(c, ground pixels.Colour, lossy float64) bool {
	apart := pixels.ApartBy(c, ground)
	return apart <= groundShade*lossy || lossy > 1 && apart <= coloured && c[3] == ground[3] && math.Abs(c.Shade()-ground.Shade()) <= lit
}

// groundOf is the colour that most runs of a line have, and whether nearly all have it. Where cuts may be marked, marks are left
// out: marked is how many pixels a run has there, or 0.
func groundOf(line []pixels.Colour, stripes []stripe, lossy float64, marked int) (ground pixels.Colour, plain bool) {
	ground = pixels.MainOf(line)
	off, long, longest := 0, 0, 0 // runs that are not of the ground, and how many of them one after the other
	tint, strongest := 0.0, 0.0   // of those, in pixels of full colour
	for i, c := range line {
		if long++; c.Clear() || looksLike(c, ground, lossy) || stripes != nil && stripes[i].has(c, lossy) {
			long, tint = 0, 0
			continue
		}
		off++
		longest = max(longest, long)
		tint += pixels.TintOf(c, ground) / 255 * float64(marked)
		strongest = max(strongest, tint)
	}
	if marked > 0 && longest <= markLong && strongest <= markTint {
		return ground, float64(off) <= marksShare*float64(len(line))
	}
	return ground, float64(off) <= specksShare*float64(len(line))
}
