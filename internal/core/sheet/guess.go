package sheet

import (
	"cmp"
	"image"
	"maps"
	"math"
	"slices"
)

// Guessed is a grid read off a picture. Confidence is from 0 to 1; what is
// under Sure should be looked at.
type Guessed struct {
	Grid
	Confidence float64 `json:"confidence"`
}

// Sure is the confidence from which a guess is taken at its word.
const Sure = 0.8

// Bounds of what is guessed.
const (
	maxSide  = 40
	maxCells = 400
	leastFor = 24 // pixels of a cell
)

// Guess reads a grid off a picture, as far as it is not given: columns, rows, margin and
// gutter that are zero are guessed. The best guess comes first; there is always one, if only
// 1 × 1 with little confidence.
//
// Every way to part the picture's columns, and its rows, is weighed by what its cuts
// meet: how much likelier that is for cuts between cards than for cuts at any place of this
// picture. The weights are logarithms of chances, so that those of columns and rows add up.
func Guess(sheet image.Image, given Grid) []Guessed {
	across, down := readLines(sheet)
	return guess(sheet.Bounds().Size(), across, down, given)
}

func guess(size image.Point, across, down lines, given Grid) []Guessed {
	columns := across.parts(set{given.Columns, given.Margin != Margin{}, given.Margin[left], given.Margin[right], given.Gutter != Gutter{}, given.Gutter[0]})
	rows := down.parts(set{given.Rows, given.Margin != Margin{}, given.Margin[top], given.Margin[bottom], given.Gutter != Gutter{}, given.Gutter[1]})
	var guesses []weighed
	for _, c := range columns {
		for _, r := range rows {
			g := Grid{
				Columns: c.n, Rows: r.n, Gutter: Gutter{c.gutter, r.gutter},
				Margin: Margin{left: c.before, right: c.after, top: r.before, bottom: r.after},
			}
			if g.Cells() > maxCells || g.Fits(size) != nil {
				continue
			}
			guesses = append(guesses, weighed{g, c.weight + r.weight + cardShape(c.size, r.size) + alikeRims(c, r)})
		}
	}
	if len(guesses) == 0 {
		return []Guessed{{Grid{Columns: max(given.Columns, 1), Rows: max(given.Rows, 1), Margin: given.Margin, Gutter: given.Gutter}, 0}}
	}
	return best(guesses)
}

// weighed is a grid and the logarithm of how likely it is, but for a factor.
type weighed struct {
	Grid
	weight float64
}

// doubt is by how much weights are taken to say too much: what cuts meet is not as
// independent as it is counted.
const doubt = 0.7

// best are the likeliest grids, with their shares of all chances as their confidence.
func best(guesses []weighed) (all []Guessed) {
	slices.SortStableFunc(guesses, func(a, b weighed) int { return cmp.Compare(b.weight, a.weight) })
	sum := 0.0
	for _, g := range guesses {
		share := math.Exp(doubt * (g.weight - guesses[0].weight))
		if !slices.ContainsFunc(all, func(d Guessed) bool { return d.near(g.Grid) }) {
			all = append(all, Guessed{g.Grid, share})
			sum += share
		}
	}
	for i := range all {
		all[i].Confidence = math.Round(100*all[i].Confidence/sum) / 100
		if all[i].Cells() == 1 {
			all[i].Confidence = min(all[i].Confidence, single)
		}
	}
	return all[:min(4, len(all))]
}

// single is how sure it is at most that a sheet has one card: nothing speaks for that but that
// nothing else fits.
const single = 0.62

// near reports whether two grids cut the same cards out, but for some pixels.
func (g Grid) near(other Grid) bool {
	off := abs(g.Gutter[0]-other.Gutter[0]) + abs(g.Gutter[1]-other.Gutter[1])
	for side := range g.Margin {
		off += abs(g.Margin[side] - other.Margin[side])
	}
	return g.Columns == other.Columns && g.Rows == other.Rows && off <= 8
}

// cardShape is how much a cell is shaped like a card.
func cardShape(w, h float64) float64 {
	ratio := min(w, h) / max(w, h)
	switch {
	case ratio > 0.6 && ratio < 0.8, ratio > 0.96:
		return 0
	case ratio > 0.5:
		return -1
	}
	return -2 - 12*(0.5-ratio)
}

// alikeRims is how well columns and rows agree in how cards are set apart: where one direction
// leaves a ground out, so does the other where it begins with that ground.
func alikeRims(c, r division) float64 {
	if c.trimmed() && r.trimmed() && apartBy(c.ground, r.ground) > 2*groundShade {
		return -4
	}
	if c.trimmed() && r.keeps(c.ground) || r.trimmed() && c.keeps(r.ground) {
		return -5
	}
	if c.n > 1 && r.n > 1 && (c.gutter > 0) != (r.gutter > 0) {
		return -2.5
	}
	return 0
}

// division is a way to part the lines of a picture.
type division struct {
	n                     int
	before, after, gutter int
	of                    int     // which of the gutters' colours
	size                  float64 // of a part
	weight                float64
	ground                colour // of margins and gutters
	rim                   int    // how wide the plain band is with which the picture begins
	rimGround             colour
}

// same reports whether two divisions leave the same out.
func (d division) same(other division) bool {
	return d.before == other.before && d.after == other.after && d.gutter == other.gutter && d.of == other.of
}

func (d division) trimmed() bool { return d.before+d.after+d.gutter > 0 }

// keeps reports whether the cells begin with a ground that is left out elsewhere.
func (d division) keeps(ground colour) bool {
	return d.rim-d.before > 2 && apartBy(ground, d.rimGround) < groundShade
}

// set is what is given of how lines are parted.
type set struct {
	n             int // 0: not given
	margin        bool
	before, after int
	spaced        bool
	gutter        int
}

// put puts what is given into a division.
func (f set) put(d division) division {
	if f.margin {
		d.before, d.after = f.before, f.after
	}
	if f.spaced {
		d.gutter = f.gutter
	}
	return d
}

// parts are the ways to part the lines, with their weights.
func (p *lines) parts(given set) (all []division) {
	for _, r := range p.rims() {
		r = given.put(r)
		for n := 1; n <= maxSide; n++ {
			room := len(p.plain) - r.before - r.after - (n-1)*r.gutter
			if n == 1 && r.gutter > 0 && !given.spaced || given.n > 0 && n != given.n || slices.ContainsFunc(all, func(d division) bool { return d.n == n && d.same(r) }) {
				continue
			}
			if room < leastFor*n {
				break
			}
			r.n, r.size = n, float64(room)/float64(n)
			r.weight = p.weigh(r)
			all = append(all, r)
		}
	}
	slices.SortStableFunc(all, func(a, b division) int { return cmp.Compare(b.weight, a.weight) })
	all = all[:min(len(all), mostDivisions)]
	for i := range all {
		if !given.margin && !given.spaced {
			p.spare(&all[i])
		}
	}
	return all
}

// mostDivisions bounds how many ways to part columns, and rows, are put together.
const mostDivisions = 60

// spare narrows gutters to what is blank between all parts: what is printed on one card may
// reach further than on the others.
func (p *lines) spare(d *division) {
	if d.gutter == 0 {
		return
	}
	begin, end := 0, d.gutter // what is blank of every gutter
	for i := 1; i < d.n; i++ {
		from := int(math.Round(float64(d.before) + float64(i)*d.size + float64(i-1)*float64(d.gutter)))
		if b := p.band[min(from+d.gutter/2, len(p.band)-1)]; b.to > 0 {
			begin, end = max(begin, b.from-from), min(end, b.to-from)
		}
	}
	after, before := min(begin, d.after), min(d.gutter-end, d.before)
	if wider := after + before; wider > 0 && wider < d.gutter {
		d.gutter, d.before, d.after, d.size = d.gutter-wider, d.before-before, d.after-after, d.size+float64(wider)
	}
}

// rims are the margins and gutters that there might be, as the plain bands say.
func (p *lines) rims() (all []division) {
	add := func(r division) {
		r.rim, r.rimGround, r.ground = p.leading, p.ground[0], p.ground[0]
		if r.gutter > 0 {
			r.ground = p.colours[r.of]
		}
		if r.before >= 0 && r.after >= 0 && r.before+r.after < len(p.plain) && !slices.Contains(all, r) {
			all = append(all, r)
		}
	}
	least := min(p.leading, p.ending) // the last cells may be empty, or there is less margin than there seems
	add(division{})
	add(division{before: p.leading, after: p.ending})
	add(division{before: least, after: least})
	for g, shade := range p.gutterColours() {
		outside := p.leading > 0 && apartBy(shade, p.ground[0]) < 2*p.shade // it is the margins', too
		for _, w := range p.widths(g) {
			if !outside {
				add(division{gutter: w, of: g})
				continue
			}
			add(division{before: p.leading - w/2, after: p.ending - w/2})
			add(division{gutter: w, of: g})
			add(division{before: p.leading, after: p.ending, gutter: w, of: g})
			add(division{before: least, after: least, gutter: w, of: g})
			add(division{before: p.leading, after: p.afterPeriods(w, g), gutter: w, of: g})
		}
	}
	return all
}

// afterPeriods is what is left after the last part where parts begin at the ends of bands as wide as a
// gutter or wider: what is printed may end earlier there than elsewhere.
func (p *lines) afterPeriods(gutter, of int) int {
	var begins []float64
	from := p.leading
	for _, b := range p.bands() {
		if b.to-b.from >= gutter-2 && apartBy(p.ground[b.from], p.colours[of]) < 2*p.shade {
			begins = append(begins, float64(b.to-from))
			from = b.to
		}
	}
	if len(begins) == 0 {
		return -1
	}
	period := quantile(begins, 0.5)
	n := math.Round(float64(len(p.plain)-p.leading-p.ending+gutter) / period)
	return min(len(p.plain)-p.leading-int(n*period)+gutter, p.ending)
}

// gutterColours are the colours that gutters may have: that of the margins, and those of the
// bands that come up most.
func (p *lines) gutterColours() []colour {
	if p.colours != nil {
		return p.colours
	}
	var counts []int
	if p.leading >= 3 {
		p.colours, counts = []colour{p.ground[0]}, []int{len(p.plain)}
	}
	for _, b := range p.bands() {
		at := slices.IndexFunc(p.colours, func(c colour) bool { return apartBy(c, p.ground[b.from]) < 2*p.shade })
		if at < 0 {
			at = len(p.colours)
			p.colours, counts = append(p.colours, p.ground[b.from]), append(counts, 0)
		}
		counts[at]++
	}
	frequent := make([]int, len(p.colours))
	for i := range frequent {
		frequent[i] = i
	}
	slices.SortStableFunc(frequent, func(a, b int) int { return cmp.Compare(counts[b], counts[a]) })
	colours := make([]colour, 0, mostColours)
	for _, i := range frequent[:min(len(frequent), mostColours)] {
		colours = append(colours, p.colours[i])
	}
	p.colours = colours
	return colours
}

// widths are how wide bands of a gutters' colour are: those that come up most, and the widest.
func (p *lines) widths(of int) []int {
	counts := map[int]int{}
	for _, b := range p.bands() {
		if width := b.to - b.from; width > 1 && apartBy(p.colours[of], p.ground[b.from]) < 2*p.shade {
			counts[width]++
		}
	}
	widths := slices.SortedFunc(maps.Keys(counts), func(a, b int) int { return cmp.Or(cmp.Compare(counts[b], counts[a]), cmp.Compare(b, a)) })
	if len(widths) <= 2*mostWidths {
		return widths
	}
	rest := slices.SortedFunc(slices.Values(widths[mostWidths:]), func(a, b int) int { return cmp.Compare(b, a) })
	return append(widths[:mostWidths], rest[:mostWidths]...)
}

// Bounds of what is tried as gutters.
const (
	mostColours = 3
	mostWidths  = 5
)

// chances are how likely cuts between cards meet what they meet.
var chances = [kinds]float64{content: 0.02, some: 0.06, mixed: 0.12, parting: 0.4, blank: 0.1, halved: 0.2}

// gutterChances are how likely gutters between cards are a plain band of their very width, the
// end of a wider one, another part of one, or none.
var gutterChances = [4]float64{0.6, 0.2, 0.1, 0.1}

// weigh is the weight of a way to part the lines: of each cut, or gutter, how much likelier
// what it meets is than by chance, and how evenly what is printed is inset.
func (p *lines) weigh(d division) (weight float64) {
	if d.gutter > 0 && abs(d.before+d.after-d.gutter) <= 1+8/(d.gutter+4) {
		// It may as well be the cards' own rims: what is left of one at an end is right at the other.
		return p.weigh(division{n: d.n, size: float64(len(p.plain)) / float64(d.n)}) - 2.5
	}
	end := len(p.plain) - max(d.after, p.ending)
	span := float64(end - d.before + 3)
	var classes *[4][]int
	if d.gutter > 0 {
		classes = p.gutters(d.gutter, d.of)
	}
	var begins, ends []float64
	invisible := true
	for i := 1; i < d.n; i++ {
		at := int(math.Round(float64(d.before) + float64(i)*d.size + float64(i-1)*float64(d.gutter)))
		if at >= end {
			break // nothing lies there
		}
		begin, finish := p.insets(at, at+d.gutter)
		begins, ends = append(begins, float64(begin)), append(ends, float64(finish))
		if d.gutter == 0 {
			kind := p.best(at)
			invisible = invisible && kind >= blank
			met := p.met[kind][end] - p.met[kind][d.before]
			weight += math.Log(chances[kind] * span / float64(met+1))
			continue
		}
		k := p.gutterAt(at, d.gutter, d.of)
		met := classes[k][end] - classes[k][d.before]
		for better := range k % 3 {
			met += classes[better][end] - classes[better][d.before]
		}
		weight += math.Log(gutterChances[k] * span / float64(met+1))
	}
	if weight > 0 {
		weight /= math.Sqrt(1 + float64(d.n)/6) // cards are alike, so that what their cuts meet is, too
	}
	if 0 < d.after && d.after < p.ending && (d.n == 1 || float64(p.ending-d.after) < d.size/2) && d.before == p.leading {
		weight -= 6 // what is left of the margin is no empty cell
	}
	if len(begins) == 0 {
		return weight
	}
	begin, finish := p.outerInsets(d)
	if p.ending < int(d.size/2) {
		weight -= uneven(float64(finish), ends)
	}
	switch {
	case d.gutter == 0 && 0 < d.before && d.before < p.leading:
		weight -= 3 // cards with rims like the ground, and a margin around them
	case d.gutter == 0 && invisible:
		weight -= 1.5
		if p.leading > 1 && p.ending > 1 {
			weight += min(1.5*float64(p.frames(d)), 5)
		}
	}
	if gap := max(d.gutter, 2*(p.leading-d.before)); d.gutter > 0 || 0 < d.before && d.before < p.leading {
		weight -= 0.7 * float64(p.wideBands(d, gap)) // where else cards might end
	}
	return weight - uneven(float64(begin), begins) + p.alike(d)
}

// frames is how many cuts halve a band that is made of the ends of two cards, as the picture's
// own ends show them.
func (p *lines) frames(d division) (n int) {
	for i := 1; i < d.n; i++ {
		at := int(math.Round(float64(d.before) + float64(i)*d.size))
		b := p.band[min(at, len(p.band)-1)]
		if b.to > 0 && abs(b.to-at-(p.leading-d.before)) <= 1 && abs(at-b.from-(p.ending-d.after)) <= 1 && apartBy(p.ground[b.from], p.ground[0]) < 2*p.shade {
			n++
		}
	}
	return n
}

// wideBands is how many bands as wide as the gaps between parts lie inside them.
func (p *lines) wideBands(d division, gap int) int {
	if d.of >= len(p.colours) {
		return 0
	}
	n := -(d.n - 1)
	for _, b := range p.bands() {
		if b.to-b.from >= gap-2 && apartBy(p.ground[b.from], p.colours[d.of]) < 2*p.shade {
			n++
		}
	}
	return max(n, 0)
}

// uneven is what it weighs against a division that what is printed is inset otherwise at the
// ends than between.
func uneven(at float64, between []float64) float64 {
	usually := quantile(between, 0.5)
	differ := quantile(between, 0.9) - quantile(between, 0.1)
	if math.Abs(at-usually) > max(3, 0.3*max(at, usually), 1.5*differ) {
		return 3
	}
	return 0
}

// insets are how far the plain band around a gutter, or those at a cut, reach into the cells after and
// before it.
func (p *lines) insets(from, to int) (after, before int) {
	last := len(p.band) - 1
	next, former := p.band[min(to, last)], p.band[max(from-1, 0)]
	if to > from {
		next = p.band[min((from+to)/2, last)]
		former = next
	}
	return max(0, next.to-to), max(0, min(from, former.to)-former.from)
}

// outerInsets are the same at the outer edges of the first and the last cell.
func (p *lines) outerInsets(d division) (begin, finish int) {
	first, last := p.band[d.before], p.band[len(p.band)-1-d.after]
	if first.to == 0 || d.gutter > 0 && first.from == d.before {
		first.to = d.before
	}
	end := len(p.band) - d.after
	if last.to == 0 || d.gutter > 0 && last.to == end {
		last.from = end
	}
	return first.to - d.before, end - last.from
}

// alike weighs how much edges lie at the same places in all parts.
func (p *lines) alike(d division) float64 {
	return -10 * math.Log(1-min(max(p.repeats(d)-0.15, 0), 0.7))
}

// repeats is how much the edges lie at the same places in all parts, 0 to 1: the share
// of the edges' variance that the mean part explains, less what chance would.
func (p *lines) repeats(d division) float64 {
	length := int(d.size)
	folded := make([]float64, length)
	sum, squares, count := 0.0, 0.0, 0.0
	end := len(p.plain) - max(d.after, p.ending)
	for i := range d.n {
		from := int(math.Round(float64(d.before) + float64(i)*(d.size+float64(d.gutter))))
		if from+length > end+2 && i > 0 {
			break
		}
		count++
		for x := range min(length, len(p.edges)-from) {
			edge := math.Sqrt(p.edges[from+x])
			folded[x] += edge
			sum, squares = sum+edge, squares+edge*edge
		}
	}
	for x := range folded {
		folded[x] /= count
	}
	all := count * float64(length)
	total := squares/all - sum/all*sum/all
	if total <= 0 || count < 2 {
		return 0
	}
	return max(0, (variance(folded)/total-1/count)/(1-1/count))
}

// gutterAt is how well a gutter is seen: 0 a plain band of its width, 1 the end of a wider one,
// 2 another part of one, 3 none.
func (p *lines) gutterAt(from, width, of int) int {
	middle := min(from+width/2, len(p.plain)-1)
	if of >= len(p.colours) {
		return 3
	}
	first, last := p.band[middle].from, p.band[middle].to
	switch {
	case !p.plain[middle], first > from+2, last < from+width-2, apartBy(p.ground[middle], p.colours[of]) >= 2*p.shade:
		return 3
	case last > from+width+2:
		return 2
	case first < from-2:
		return 1
	}
	return 0
}

// gutters are how many gutters of a width that begin before a line would be seen how well.
func (p *lines) gutters(width, of int) *[4][]int {
	if p.seen == nil {
		p.seen = map[[2]int]*[4][]int{}
	}
	if known := p.seen[[2]int{width, of}]; known != nil {
		return known
	}
	var counts [4][]int
	for k := range counts {
		counts[k] = make([]int, len(p.plain)+1)
	}
	for x := range p.plain {
		for k := range counts {
			counts[k][x+1] = counts[k][x]
		}
		counts[p.gutterAt(x, width, of)][x+1]++
	}
	p.seen[[2]int{width, of}] = &counts
	return &counts
}
