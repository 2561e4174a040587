package guess

import (
	"cmp"
	"maps"
	"math"
	"slices"

	"damselfly.example/damselfly/internal/core/sheet/pixels"
)

// division is a way to part the lines of a picture.
type division struct {
	n                     int
	before, after, gutter int
	of                    int     // which of the gutters' colours
	size                  float64 // of a part
	weight                float64
	ground                pixels.Colour // of margins and gutters
	rim                   int           // how wide the plain band is with which the picture begins
	rimGround             pixels.Colour
}

func (d division) trimmed() bool { return d.before+d.after+d.gutter > 0 }

// keeps reports whether the cells begin with a ground that is left out elsewhere.
func (d division) keeps(ground pixels.Colour) bool {
	return d.rim-d.before > 2 && pixels.ApartBy(ground, d.rimGround) < groundShade
}

// wanted is what is given of how lines are parted.
type wanted struct {
	n             int // 0: not given
	margin        bool
	before, after int
	spaced        bool
	gutter        int
}

// put puts what is given into a division.
func (w wanted) put(d division) division {
	if w.margin {
		d.before, d.after = w.before, w.after
	}
	if w.spaced {
		d.gutter = w.gutter
	}
	return d
}

// divisions are the likeliest ways to part the lines, with their weights.
func (p *lines) divisions(given wanted) (all []division) {
	for _, d := range p.rims(given) {
		least, most := 1, maxSide
		if given.n > 0 {
			least, most = given.n, given.n
		} else if d.gutter > 0 && !given.spaced {
			least = 2
		}
		for n := least; n <= most; n++ {
			room := len(p.plain) - d.before - d.after - (n-1)*d.gutter
			if room < leastFor*n {
				break
			}
			d.n, d.size = n, float64(room)/float64(n)
			d.weight = p.weigh(d)
			all = append(all, d)
		}
	}
	slices.SortStableFunc(all, func(a, b division) int { return cmp.Compare(b.weight, a.weight) })
	all = all[:min(len(all), mostDivisions)]
	if !given.margin && !given.spaced {
		for i := range all {
			p.spare(&all[i])
		}
	}
	return all
}

// mostDivisions bounds how many ways to part columns, and rows, are put together.
const mostDivisions = 60

// smearedGutters is the share of a lossy picture's gutters that say where they are blank: colours are smeared beside some cards,
// and that is no reason to cut all of them wider.
const smearedGutters = 0.75

// spare narrows gutters to what is blank between all parts: what is printed on one card may
// reach further than on the others.
func (p *lines) spare(d *division) {
	if d.gutter == 0 {
		return
	}
	var begins, ends []float64 // what is blank of each gutter
	for i := 1; i < d.n; i++ {
		from := int(math.Round(float64(d.before) + float64(i)*d.size + float64(i-1)*float64(d.gutter)))
		if b := p.band[min(from+d.gutter/2, len(p.band)-1)]; b.to > 0 {
			begins, ends = append(begins, max(0, float64(b.from-from))), append(ends, min(float64(d.gutter), float64(b.to-from)))
		}
	}
	if len(begins) == 0 {
		return
	}
	every := 1.0
	if p.shade > bandShade { // it is lossy
		every = smearedGutters
	}
	begin, end := int(quantile(begins, every)), int(quantile(ends, 1-every))
	after, before := min(begin, d.after), min(d.gutter-end, d.before)
	if wider := after + before; wider > 0 && wider < d.gutter {
		d.gutter, d.before, d.after, d.size = d.gutter-wider, d.before-before, d.after-after, d.size+float64(wider)
	}
}

// rims are the margins and gutters that there might be, as the plain bands say.
func (p *lines) rims(given wanted) (all []division) {
	add := func(r division) {
		r = given.put(r)
		r.rim, r.rimGround, r.ground = p.leading, p.ground[0], p.ground[0]
		if r.gutter > 0 && r.of < len(p.colours) {
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
	last := p.ground[len(p.ground)-1]
	if p.leading > 0 && p.ending > 0 && pixels.ApartBy(p.ground[0], last) >= 2*p.shade { // one may be a margin, and the other the cards' own
		add(division{before: p.leading})
		add(division{after: p.ending})
	}
	for g, shade := range p.gutterColours() {
		outside := p.leading > 0 && pixels.ApartBy(shade, p.ground[0]) < 2*p.shade || p.ending > 0 && pixels.ApartBy(shade, last) < 2*p.shade // it is the margins', too
		widths := p.widths(g)
		for _, c := range p.crossing {
			if pixels.ApartBy(c.shade, shade) < 2*p.shade && !slices.Contains(widths, c.width) {
				widths = append(widths, c.width)
			}
		}
		for _, w := range widths {
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
	for _, b := range p.inner {
		if b.to-b.from >= gutter-2 && pixels.ApartBy(p.ground[b.from], p.colours[of]) < 2*p.shade {
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

// gutterColours are the colours that gutters may have: that of the margins, those of the bands that are widest together, and
// those that have most bands of one width, for thin gutters are not wide together.
func (p *lines) gutterColours() []pixels.Colour {
	if p.colours != nil {
		return p.colours
	}
	var counts, times []int
	if p.leading >= 3 {
		p.colours, counts, times = []pixels.Colour{p.ground[0]}, []int{2 * len(p.plain)}, []int{0}
	}
	type width struct{ colour, lines int }
	widths := map[width]int{}
	for _, b := range p.inner {
		at := slices.IndexFunc(p.colours, func(c pixels.Colour) bool { return pixels.ApartBy(c, p.ground[b.from]) < 2*p.shade })
		if at < 0 {
			at = len(p.colours)
			p.colours, counts, times = append(p.colours, p.ground[b.from]), append(counts, 0), append(times, 0)
		}
		counts[at] += b.to - b.from
		if w := (width{at, b.to - b.from}); w.lines > 1 {
			widths[w]++
			times[at] = max(times[at], widths[w])
		}
		if p.ground[b.from].Clear() { // where one looks through the whole picture is no card
			counts[at] += len(p.plain)
		}
	}
	frequent := make([]int, len(p.colours))
	for i := range frequent {
		frequent[i] = i
	}
	slices.SortStableFunc(frequent, func(a, b int) int { return cmp.Compare(counts[b], counts[a]) })
	colours := make([]pixels.Colour, 0, mostColours+mostRecurring)
	for _, i := range frequent[:min(len(frequent), mostColours)] {
		colours = append(colours, p.colours[i])
	}
	recurring := slices.DeleteFunc(frequent[len(colours):], func(i int) bool { return times[i] < 2 })
	slices.SortStableFunc(recurring, func(a, b int) int { return cmp.Compare(times[b], times[a]) })
	for _, i := range recurring[:min(len(recurring), mostRecurring)] {
		colours = append(colours, p.colours[i])
	}
	p.colours = colours
	return colours
}

// usualWidths are the widths of gutters that come up most, for the lines that cross these: gutters are often as
// wide across as down, and not as well seen.
func (p *lines) usualWidths() (all []crossing) {
	for g, shade := range p.gutterColours() {
		widths := p.widths(g)
		for _, w := range widths[:min(len(widths), 2)] {
			all = append(all, crossing{w, shade})
		}
	}
	return all
}

// crossing is how wide gutters of a colour are among the lines that cross others.
type crossing struct {
	width int
	shade pixels.Colour
}

// widths are how wide bands of a gutters' colour are: those that come up most, and the widest.
func (p *lines) widths(of int) []int {
	counts := map[int]int{}
	for _, b := range p.inner {
		if width := b.to - b.from; width > 1 && pixels.ApartBy(p.colours[of], p.ground[b.from]) < 2*p.shade {
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
	mostColours   = 4
	mostRecurring = 2
	mostWidths    = 5
)

// chances are how likely cuts between cards meet what they meet.
var chances = [kinds]float64{content: 0.02, some: 0.06, mixed: 0.12, parting: 0.4, blank: 0.1, halved: 0.2}

// blankChances are the same for cards with blank rims.
var blankChances = [kinds]float64{content: 0.01, some: 0.02, mixed: 0.03, parting: 0.03, blank: 0.4, halved: 0.5}

// fewBlank is the logarithm of how likely cards have blank rims.
const fewBlank = -0.7

// gutterChances are how likely gutters between cards are a plain band of their very width, the
// end of a wider one, another part of one, or none.
var gutterChances = [4]float64{0.6, 0.2, 0.1, 0.1}

// weigh is the weight of a way to part the lines: of each cut, or gutter, how much likelier
// what it meets is than by chance, and how evenly what is printed is inset.
func (p *lines) weigh(d division) (weight float64) {
	if d.gutter > 0 && !d.ground.Clear() && abs(d.before+d.after-d.gutter) <= 1+8/(d.gutter+4) {
		// It may as well be the cards' own rims: what is left of one at an end is right at the other.
		return p.weigh(division{n: d.n, size: float64(len(p.plain)) / float64(d.n)}) - 4.5
	}
	end := len(p.plain) - max(d.after, p.ending)
	span := float64(end - d.before + 3)
	var classes *[4][]int
	if d.gutter > 0 {
		classes = p.gutters(d.gutter, d.of)
	}
	var begins, ends []float64
	invisible, blankly := true, fewBlank // the same for cards with blank rims
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
			blankly += math.Log(blankChances[kind] * span / float64(met+1))
			continue
		}
		k := p.gutterAt(at, d.gutter, d.of)
		met := classes[k][end] - classes[k][d.before]
		for better := range k % 3 {
			met += classes[better][end] - classes[better][d.before]
		}
		weight += math.Log(gutterChances[k] * span / float64(met+1))
	}
	if d.gutter == 0 {
		weight = max(weight, blankly)
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
	case d.gutter == 0 && invisible && p.leading > 1 && p.ending > 1:
		weight += min(1.5*float64(p.frames(d)), 5)
	}
	if gap := max(d.gutter, 2*(p.leading-d.before)); d.gutter > 0 || 0 < d.before && d.before < p.leading {
		weight -= 2.5 * math.Log1p(float64(p.wideBands(d, gap))/2) // where else cards might end
	}
	return weight - uneven(float64(begin), begins) + p.alike(d)
}

// frames is how many cuts halve a band that is made of the ends of two cards, as the picture's
// own ends show them.
func (p *lines) frames(d division) (n int) {
	for i := 1; i < d.n; i++ {
		at := int(math.Round(float64(d.before) + float64(i)*d.size))
		b := p.band[min(at, len(p.band)-1)]
		if b.to > 0 && abs(b.to-at-(p.leading-d.before)) <= 1 && abs(at-b.from-(p.ending-d.after)) <= 1 && pixels.ApartBy(p.ground[b.from], p.ground[0]) < 2*p.shade {
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
	for _, b := range p.inner {
		if b.to-b.from >= gap-2 && pixels.ApartBy(p.ground[b.from], p.colours[d.of]) < 2*p.shade {
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
		if from >= end && i > 0 {
			break // nothing lies there
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
	case !p.plain[middle], first > from+2, last < from+width-2, pixels.ApartBy(p.ground[middle], p.colours[of]) >= 2*p.shade:
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

// part is where a part of a division begins and ends.
func (d division) part(i int) (from, to int) {
	start := float64(d.before) + float64(i)*(d.size+float64(d.gutter))
	return int(math.Round(start)), int(math.Round(start + d.size))
}

// laid has other margins and gutters.
func (d division) laid(length, before, after, gutter int) division {
	d.before, d.after = before, after
	if d.n > 1 {
		d.gutter = gutter
	}
	d.size = float64(length-d.before-d.after-(d.n-1)*d.gutter) / float64(d.n)
	return d
}

// within reports whether all parts of a division lie in those of another, to a pixel, with nothing but a plain band between
// their edges.
func (p *lines) within(tight, loose division) bool {
	if tight.n != loose.n {
		return false
	}
	for i := range tight.n {
		from, to := tight.part(i)
		looseFrom, looseTo := loose.part(i)
		if looseFrom > from+1 || looseTo < to-1 || !p.onePlain(looseFrom, from) || !p.onePlain(to, looseTo) {
			return false
		}
	}
	return true
}

// onePlain reports whether lines are of one plain band, to a pixel.
func (p *lines) onePlain(from, to int) bool {
	from, to = max(from, 0), min(to, len(p.band))
	if to-from < 2 {
		return true
	}
	band := p.band[(from+to)/2]
	return band.from <= from+1 && band.to >= to-1
}
