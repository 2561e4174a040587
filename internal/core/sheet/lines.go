package sheet

import (
	"math"
	"slices"
)

// lines says of every line of pixels of a picture, in one direction, what a cut
// along it would meet.
type lines struct {
	goesOn []float64 // how much of the picture goes on across it: how much it varies along the line where both sides are alike
	edges  []float64 // how much differs from one side to the other, of it and its neighbours the most
	plain  []bool    // nothing but one shade
	shade  []float64 // the mean shade of a plain line
	usual  float64   // the mean of goesOn
}

// Shades nearer than these count as one: the noise of JPEG.
const (
	alike      = 8.0
	plainShade = 14.0
	plainShare = 0.985
)

// readLines reads n lines, each at some hundreds of points.
func readLines(n, length int, at func(line, along int) float64) lines {
	p := lines{goesOn: make([]float64, n), edges: make([]float64, n), plain: make([]bool, n), shade: make([]float64, n)}
	step := max(1, length/400)
	points := (length + step - 1) / step
	before, here := make([]float64, points), make([]float64, points)
	change := make([]float64, n)
	for line := range n {
		for i := range points {
			here[i] = at(line, i*step)
		}
		if line > 0 {
			last := here[0]
			for i, shade := range here {
				difference := math.Abs(shade - before[i])
				if difference < alike {
					p.goesOn[line] += math.Abs(shade - last)
				}
				change[line] += difference
				last = shade
			}
			change[line] /= float64(points)
		}
		p.plain[line], p.shade[line] = isPlain(here)
		before, here = here, before
	}
	for line := range n {
		p.edges[line] = slices.Max(change[max(line-1, 0):min(line+2, n)])
	}
	p.usual = mean(p.goesOn) + 1
	return p
}

// isPlain reports whether nearly all points have the shade that most have, and
// which.
func isPlain(shades []float64) (plain bool, shade float64) {
	var histogram [17]int
	for _, s := range shades {
		histogram[int(s)/16]++
	}
	most := 0
	for i, n := range histogram {
		if n > histogram[most] {
			most = i
		}
	}
	sum := 0.0
	for _, s := range shades {
		if int(s)/16 == most {
			sum += s
		}
	}
	middle, near := sum/float64(histogram[most]), 0
	for _, s := range shades {
		if math.Abs(s-middle) <= plainShade {
			near++
		}
	}
	return float64(near) >= plainShare*float64(len(shades)), middle
}

// oneBand reports whether two lines are plain and of one shade. The mean of a
// line hardly feels noise, so that a dark frame is told from a dark ground.
func (p lines) oneBand(line, other int) bool {
	return p.plain[line] && p.plain[other] && math.Abs(p.shade[line]-p.shade[other]) < bandShade
}

const bandShade = 4.0

// lead is how wide the plain band at the beginning is.
func (p lines) lead() int {
	width := 0
	for width < len(p.plain) && p.oneBand(0, width) {
		width++
	}
	return width
}

// bands are the widths of the plain bands inside that come up more than once,
// the most frequent first; a picture of two parts has one.
func (p lines) bands() []int {
	counts := map[int]int{}
	for from := p.lead(); from < len(p.plain); {
		to := from + 1
		for to < len(p.plain) && p.oneBand(from, to) {
			to++
		}
		if width := to - from; p.plain[from] && width > 1 && width < len(p.plain)/6 && to < len(p.plain) {
			counts[width]++
		}
		from = to
	}
	var widths []int
	for w := range counts {
		widths = append(widths, w)
	}
	slices.SortFunc(widths, func(a, b int) int {
		if counts[a] != counts[b] {
			return counts[b] - counts[a]
		}
		return a - b
	})
	return widths[:min(4, len(widths))]
}

// single is the fit of one part: nothing speaks for it but that nothing else
// fits.
const single = 0.62

// leastFit is what parts must fit for how they are inset to be looked at.
const leastFit = 0.3

// fit is how well n parts of a size fall between cards, from 0 to 1: little of
// the picture goes on where they part, gutters and margins are plain, the parts
// begin and end alike, and look alike in where their edges lie.
func (p lines) fit(n int, r rim, size float64) float64 {
	rimFit := p.margins(r.margin)
	if n == 1 {
		if r.gutter > 0 {
			return 0
		}
		return single * rimFit
	}
	worst, sum := 1.0, 0.0
	for i := 1; i < n; i++ {
		parted := p.parted(r, size, i)
		worst, sum = min(worst, parted), sum+parted
	}
	parted := (worst + sum/float64(n-1)) / 2
	repeats := p.repeats(n, r, size)
	parted = max(parted, 0.9*repeats) // a border of all cards may go on from one to the next: a stamp's holes
	if parted*rimFit < leastFit {
		return 0
	}
	return parted * rimFit * (0.55 + 0.45*repeats) * p.evenness(n, r, size)
}

// margins is how plain the margins are.
func (p lines) margins(margin int) float64 {
	if margin == 0 {
		return 1
	}
	plain := 0
	for i := range margin {
		if p.oneBand(0, i) {
			plain++
		}
		if p.oneBand(0, len(p.plain)-1-i) {
			plain++
		}
	}
	share := float64(plain) / float64(2*margin)
	return share * share
}

// parted is how well the line, or the gutter, before part i falls between cards.
func (p lines) parted(r rim, size float64, i int) float64 {
	at := float64(r.margin) + float64(i)*size + float64(i-1)*float64(r.gutter)
	if r.gutter > 1 {
		from, plain, of := int(math.Round(at)), 0, 0
		for x := from; x < from+r.gutter && x < len(p.plain); x++ {
			of++
			if p.oneBand(x, min(from+r.gutter/2, len(p.plain)-1)) {
				plain++
			}
		}
		share := float64(plain+1) / float64(of+1) // the edges may be half a pixel off
		return share * share
	}
	least := math.Inf(1)
	for x := max(1, int(at)-2); x <= min(len(p.goesOn)-1, int(at)+2); x++ {
		least = min(least, p.goesOn[x])
	}
	return 1 - math.Min(1, least/p.usual)
}

// evenness is how evenly the parts are inset, 0 to 1: the plain bands at which they
func (p lines) evenness(n int, r rim, size float64) float64 {
	var begins, ends []int
	for i := range n - 1 { // the last row may be filled in part
		from := int(math.Round(float64(r.margin) + float64(i)*(size+float64(r.gutter))))
		to := min(int(math.Round(float64(from)+size)), len(p.plain))
		begin, end := 0, 0
		for from+begin < to && p.plain[from+begin] {
			begin++
		}
		for end < to-from-begin && p.plain[to-1-end] {
			end++
		}
		if begin < to-from {
			begins, ends = append(begins, begin), append(ends, end)
		}
	}
	if len(begins) == 0 {
		return 0
	}
	spread := float64(slices.Max(begins)-slices.Min(begins)+slices.Max(ends)-slices.Min(ends)) / 2
	lopsided := math.Abs(mean(asFloats(begins)) - mean(asFloats(ends)))
	return 1 / (1 + max(0, spread-2)/max(4, size/16) + 0.5*max(0, lopsided-2)/max(4, size/8))
}

// repeats is how much the edges lie at the same places in all parts, 0 to 1: the share
// of the edges' variance that the mean part explains, less what chance would.
func (p lines) repeats(n int, r rim, size float64) float64 {
	length := int(size)
	folded := make([]float64, length)
	sum, squares := 0.0, 0.0
	for i := range n {
		from := int(math.Round(float64(r.margin) + float64(i)*(size+float64(r.gutter))))
		for x := range min(length, len(p.edges)-from) {
			edge := p.edges[from+x]
			folded[x] += edge / float64(n)
			sum, squares = sum+edge, squares+edge*edge
		}
	}
	count := float64(n * length)
	total := squares/count - sum/count*sum/count
	if total <= 0 {
		return 0
	}
	byChance := 1 / float64(n)
	return max(0, (variance(folded)/total-byChance)/(1-byChance))
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

func asFloats(values []int) []float64 {
	all := make([]float64, len(values))
	for i, v := range values {
		all[i] = float64(v)
	}
	return all
}

func abs(n int) int { return max(n, -n) }
