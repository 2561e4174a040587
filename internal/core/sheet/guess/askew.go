package guess

import (
	"math"

	"damselfly.example/damselfly/internal/core/sheet/pixels"
)

// Bounds of how a scan lies askew, in degrees.
const (
	mostAskew  = 2.0
	leastAskew = 0.25 // that is told
	askewStep  = 0.1
	askewApart = 0.25 // columns and rows agree but for so much
)

// How much sharper edges are at an angle than upright where a picture lies askew, and how strong an edge counts.
const (
	sharper     = 1.25
	weakestEdge = 10.0
	strongest   = 70.0
)

// mostEdgeLines is at how many lines edges are summed at most: more tell no more of an angle.
const mostEdgeLines = 1600

// askew is how many degrees a picture was turned, clockwise, by where edges fall together; 0 if it is upright, or one cannot tell.
func (w *window) askew() float64 {
	across, sharpAcross := w.across.blocks.angle()
	down, sharpDown := w.down.blocks.angle()
	degrees := (down - across) / 2
	if min(sharpAcross, sharpDown) < sharper || math.Abs(across+down) > askewApart || math.Abs(degrees) < leastAskew {
		return 0
	}
	return math.Round(10*degrees) / 10
}

// angle is how lines lean over their whole length where edges are sharpest, in degrees, and how much sharper they are than where
// lines do not lean.
func (b *blocks) angle() (degrees, sharp float64) {
	n := len(b.means) / b.runs
	each := 1 + n/mostEdgeLines // lines that are one
	lines := n / each
	if lines < 8 {
		return 0, 0
	}
	edges := make([]float64, lines*b.runs)
	for x := 1; x < lines*each; x++ {
		before, own := b.line(x-1), b.line(x)
		for i := range own {
			if e := pixels.ApartBy(before[i], own[i]); e > weakestEdge {
				edges[x/each*b.runs+i] += min(e, strongest)
			}
		}
	}
	folded := make([]float64, lines)
	sharpness := func(angle float64) (sum float64) {
		lean := math.Tan(angle*math.Pi/180) * float64(b.step) / float64(each)
		clear(folded)
		for i := range b.runs {
			off := int(math.Round((float64(i) - float64(b.runs)/2) * lean))
			for x := max(0, -off); x < min(lines, lines-off); x++ {
				folded[x] += edges[(x+off)*b.runs+i]
			}
		}
		for _, v := range folded {
			sum += v * v
		}
		return sum
	}
	upright := sharpness(0)
	best := upright
	for angle := -mostAskew; angle <= mostAskew; angle += askewStep {
		if s := sharpness(angle); s > best {
			degrees, best = angle, s
		}
	}
	if upright == 0 {
		return 0, 0
	}
	return degrees, best / upright
}
