package guess

import (
	"cmp"
	"image"
	"math"
	"slices"

	"damselfly.example/damselfly/internal/core/sheet/pixels"
)

// Bounds of what are words beside the cards of a page.
const (
	thickestWords = 0.07 // of the page's height, or width, how high they are
	leastInside   = 0.45 // of it is left for cards
	mostPeeled    = 3    // lines of words on a side
	mostWindows   = 8    // are looked at beside the whole picture
)

// opening is a part of a page, and what it leaves outside.
type opening struct {
	image.Rectangle
	outside []strip
}

// withoutWords are parts of a page without what lies outside its cards: titles, footers, numbers, marks. They are those of which one
// side after the other is left out up to a blank band: that with nothing beside it first, then those that leave out least.
func (w *window) withoutWords() (all []opening) {
	ground, is := w.paper()
	if !is {
		return nil
	}
	size := w.size()
	for _, row := range w.down.blocks.inked(ground, w.across.lossy, 0, size.X).peels(w.across.blocks.step) {
		for _, column := range w.across.blocks.inked(ground, w.across.lossy, row.from, row.to).peels(w.down.blocks.step) {
			if len(row.left)+len(column.left) > 0 {
				outside := append(w.stripsBeside(true, row, ground, column.from), w.stripsBeside(false, column, ground, row.from)...)
				all = append(all, opening{image.Rect(column.from, row.from, column.to, row.to), outside})
			}
		}
	}
	slices.SortStableFunc(all, func(a, b opening) int { return cmp.Compare(len(a.outside), len(b.outside)) })
	if n := len(all); n > mostWindows {
		all = append(all[n-1:], all[:mostWindows-1]...)
	}
	return all
}

// strip is what lies on some lines outside a part of a picture: whether anything does, along the lines that cross them.
type strip struct {
	rows   bool // they are rows of pixels, else columns
	inked  []bool
	begins int // the pixel of the part with which they begin
	step   int // pixels each
}

// stripsBeside are the strips that were left out of lines; the part begins with a pixel of theirs.
func (w *window) stripsBeside(rows bool, p peeled, ground pixels.Colour, begins int) (all []strip) {
	b := w.across.blocks
	if rows {
		b = w.down.blocks
	}
	for _, lines := range p.left {
		s := strip{rows: rows, inked: make([]bool, b.runs), begins: begins, step: b.step}
		for x := lines.from; x < lines.to; x++ {
			for i, c := range b.line(x) {
				if !looksLike(c, ground, w.across.lossy) {
					s.inked[i] = true
				}
			}
		}
		all = append(all, s)
	}
	return all
}

// paper is the colour of a page along at least three of its sides.
func (w *window) paper() (ground pixels.Colour, is bool) {
	var sides []pixels.Colour
	for _, p := range []*lines{&w.across, &w.down} {
		n := len(p.plain)
		for _, line := range []int{0, n - 1} {
			if colour, plain := groundOf(p.blocks.line(line), nil, p.lossy, p.blocks.step); plain {
				sides = append(sides, colour)
			}
		}
	}
	for _, one := range sides {
		same := 0
		for _, other := range sides {
			if pixels.ApartBy(one, other) < bandShade*w.across.lossy {
				same++
			}
		}
		if same >= 3 {
			return one, true
		}
	}
	return ground, false
}

// inking says of lines whether anything lies on them.
type inking []bool

// Bounds of lines along which a page is cut that go through all of it.
const (
	outermost = 0.015 // of a page's lines are looked at, at either end
	dotted    = 0.3   // of those it shows on
)

// cutLines says which runs are lines along which a page is cut, from one end to the other: they show where else nothing does.
func (b *blocks) cutLines(ground pixels.Colour, lossy float64) []bool {
	n := len(b.means) / b.runs
	deep := max(int(outermost*float64(n)), 4)
	shown := make([][2]int, b.runs)
	for x := range min(deep, n) {
		for end, line := range [2]int{x, n - 1 - x} {
			for i, c := range b.line(line) {
				if !looksLike(c, ground, lossy) {
					shown[i][end]++
				}
			}
		}
	}
	all := make([]bool, b.runs)
	for i, ends := range shown {
		all[i] = float64(min(ends[0], ends[1])) >= dotted*float64(deep)
	}
	return all
}

// inked finds on which lines something lies that is not of a ground, among the runs from one pixel to before another.
func (b *blocks) inked(ground pixels.Colour, lossy float64, begin, end int) inking {
	first, last := begin/b.step, min((end+b.step-1)/b.step, b.runs)
	all := make(inking, len(b.means)/b.runs)
	cutLine := b.cutLines(ground, lossy)
	for x := range all {
		for i, c := range b.line(x)[first:last] {
			if !cutLine[first+i] && !looksLike(c, ground, lossy) {
				all[x] = true
				break
			}
		}
	}
	return all
}

// peeled is what is left of lines without what lies at their ends, and what that is.
type peeled struct {
	from, to int
	left     []band
}

// peels are what is left of lines without nothing, and without what is thin and lies apart at either end. Each begins and ends at a
// multiple of a step.
func (k inking) peels(step int) (all []peeled) {
	n := len(k)
	firsts, lasts := []peeled{{from: 0, to: n}}, []peeled{{from: 0, to: n}}
	var left []band
	for _, t := range k.thin() {
		left = append(left, t.words)
		if at := (t.gap.from + t.gap.to) / 2 / step * step; at > t.gap.from && at < t.gap.to {
			firsts = append(firsts, peeled{at, n, left})
		}
	}
	back := slices.Clone(k)
	slices.Reverse(back)
	left = nil
	for _, t := range back.thin() {
		left = append(left, band{n - t.words.to, n - t.words.from})
		if at := (n - (t.gap.from+t.gap.to)/2) / step * step; at > n-t.gap.to && at < n-t.gap.from {
			lasts = append(lasts, peeled{0, at, left})
		}
	}
	for _, f := range firsts {
		for _, l := range lasts {
			if float64(l.to-f.from) >= leastInside*float64(n) {
				all = append(all, peeled{f.from, l.to, slices.Concat(f.left, l.left)})
			}
		}
	}
	return all
}

// thin is what is thin and lies first, and the blank band behind it.
type thin struct{ words, gap band }

// thin are the thin things at the beginning, one after the other.
func (k inking) thin() (all []thin) {
	n := len(k)
	x := 0
	for x < n && !k[x] {
		x++
	}
	for len(all) < mostPeeled {
		from := x
		to := from
		for to < n && k[to] {
			to++
		}
		for high := to - from; ; { // lines of words that belong together
			next := to
			for next < n && !k[next] {
				next++
			}
			end := next
			for end < n && k[end] {
				end++
			}
			if next == n || next-to > high || 2*(end-next) > 3*high {
				break
			}
			to = end
		}
		gap := band{to, to}
		for gap.to < n && !k[gap.to] {
			gap.to++
		}
		if gap.to == n || float64(to-from) > thickestWords*float64(n) {
			return all
		}
		all = append(all, thin{band{from, to}, gap})
		x = gap.to
	}
	return all
}

// outsideRepeats is how much what lies outside repeats as the cells of a grid do: the most of all strips, as facts have it.
func (c closer) outsideRepeats(g pair) (most float64) {
	for _, s := range c.outside {
		d := g.rows
		if s.rows {
			d = g.columns
		}
		most = max(most, s.repeats(d))
	}
	return -math.Log(1 - min(most, 0.95))
}

// repeats is the share of a strip's variance that the mean part of a division explains, less what chance would.
func (s strip) repeats(d division) float64 {
	wide := int(d.size) / s.step
	if d.n < 2 || wide < 3 {
		return 0
	}
	if s.inEach(d) {
		return 1
	}
	folded := make([]float64, wide)
	sum, count := 0.0, 0.0
	for i := range d.n {
		from, _ := d.part(i)
		for x := range wide {
			if at := (s.begins+from)/s.step + x; at < len(s.inked) && s.inked[at] {
				folded[x]++
				sum++
			}
			count++
		}
	}
	mean := sum / count
	total := mean - mean*mean
	if total <= 0 {
		return 0
	}
	explained := 0.0
	for _, n := range folded {
		off := n/float64(d.n) - mean
		explained += off * off / float64(wide)
	}
	chance := 1 / float64(d.n)
	return max(0, (explained/total-chance)/(1-chance))
}

// mostParts is the share of parts in which something lies where it lies in each: a card may have no name.
const mostParts = 0.7

// inEach reports whether something lies in nearly every part of a division, and not all along where two of them meet: names of cards
// do, and no title does.
func (s strip) inEach(d division) bool {
	at := func(pixel int) int { return min(max((s.begins+pixel)/s.step, 0), len(s.inked)-1) }
	in := 0
	for i := range d.n {
		from, to := d.part(i)
		if i > 0 && !slices.Contains(s.inked[max(at(from)-1, 0):min(at(from)+2, len(s.inked))], false) {
			return false
		}
		if slices.Contains(s.inked[at(from):at(to)+1], true) {
			in++
		}
	}
	return float64(in) >= mostParts*float64(d.n)
}
