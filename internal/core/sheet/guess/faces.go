package guess

import (
	"math"

	"damselfly.example/damselfly/internal/core/sheet/pixels"
)

// faceFields is at how many places, across and down, cells are compared.
const faceFields = 8

// face is what a cell looks like from afar; none if it is plain.
type face []pixels.Colour

// cellFaces are the faces of a grid's cells, row by row.
type cellFaces struct {
	pair
	of []face
}

// facesOf looks at all cells from afar.
func (c closer) facesOf(g pair) cellFaces {
	all := cellFaces{pair: g}
	scale := float64(c.across.runs) / float64(c.size.Y)
	for row := range g.rows.n {
		top, bottom := g.rows.part(row)
		for column := range g.columns.n {
			left, right := g.columns.part(column)
			f := make(face, 0, faceFields*faceFields)
			for y := range faceFields {
				run := min(int((float64(top)+(float64(y)+0.5)/faceFields*float64(bottom-top))*scale), c.across.runs-1)
				for x := range faceFields {
					line := min(max(int(float64(left)+(float64(x)+0.5)/faceFields*float64(right-left)), 0), c.across.lines-1)
					f = append(f, c.across.blocks.line(line)[max(run, 0)])
				}
			}
			if f.plain() {
				f = nil
			}
			all.of = append(all.of, f)
		}
	}
	return all
}

func (f face) plain() bool {
	for _, c := range f {
		if pixels.ApartBy(c, f[0]) > groundShade {
			return false
		}
	}
	return true
}

// mostApart bounds how much one place tells cells apart.
const mostApart = 60.0

// nearlyAlike is how far faces of one pattern lie apart at most.
const nearlyAlike = 10.0

// apart is how far two faces lie apart.
func (f face) apart(other face) (sum float64) {
	for i := range f {
		sum += min(pixels.ApartBy(f[i], other[i]), mostApart) / float64(len(f))
	}
	return sum
}

// alikeWithin is how much more cells are like their neighbours within the cells of a coarser grid than like their neighbours beyond,
// as a logarithm: they are one card's pattern.
func (a cellFaces) alikeWithin(coarse pair) float64 {
	var within, beyond spread
	see := func(one, other int, together bool) {
		if a.of[one] == nil || a.of[other] == nil {
			return
		}
		if d := a.of[one].apart(a.of[other]); together {
			within.add(d)
		} else {
			beyond.add(d)
		}
	}
	columns, rows := a.columns.n/coarse.columns.n, a.rows.n/coarse.rows.n
	for row := range a.rows.n {
		for column := range a.columns.n {
			at := row*a.columns.n + column
			if columns > 1 && column+1 < a.columns.n {
				see(at, at+1, (column+1)%columns != 0)
			}
			if rows > 1 && row+1 < a.rows.n {
				see(at, at+a.columns.n, (row+1)%rows != 0)
			}
		}
	}
	if within.n < 2 || beyond.n < 2 || within.mean() > nearlyAlike {
		return 0
	}
	return min(max(math.Log((beyond.mean()+2)/(within.mean()+2)), 0), 3)
}
