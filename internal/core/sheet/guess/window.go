package guess

import (
	"image"
	"math"

	"damselfly.example/damselfly/internal/core/sheet/pixels"
)

// window is a picture, or a part of it, in which grids are looked for.
type window struct {
	across, down lines
	beside       pixels.Margin // how much of the picture lies around it
	outside      []strip       // what lies there
}

// newWindow reads the lines of a picture, or of a part of it.
func newWindow(columns, rows *blocks, lossy float64) *window {
	columns.findRims(lossy)
	rows.findRims(lossy)
	w := &window{across: columns.lines(rows.inside(), lossy), down: rows.lines(columns.inside(), lossy)}
	w.across.blocks, w.down.blocks, w.across.lossy, w.down.lossy = columns, rows, lossy, lossy
	w.across.crossing, w.down.crossing = w.down.usualWidths(), w.across.usualWidths()
	return w
}

func (w *window) size() image.Point { return image.Pt(len(w.across.plain), len(w.down.plain)) }

// part is a part of a window. What lies at its edges is blank, and begins with a run of the lines that cross it.
func (w *window) part(r opening) *window {
	size := w.size()
	p := newWindow(w.across.blocks.part(r.Min.X, r.Max.X, r.Min.Y, r.Max.Y), w.down.blocks.part(r.Min.Y, r.Max.Y, r.Min.X, r.Max.X), w.across.lossy)
	p.beside = pixels.Margin{pixels.Left: r.Min.X, pixels.Top: r.Min.Y, pixels.Right: size.X - r.Max.X, pixels.Bottom: size.Y - r.Max.Y}
	p.outside = r.outside
	return p
}

// part are some of the lines, and of their runs those from one pixel to before another.
func (b *blocks) part(from, to, begin, end int) *blocks {
	first, last := begin/b.step, min((end+b.step-1)/b.step, b.runs)
	p := &blocks{step: b.step, every: b.every, runs: last - first, means: make([]pixels.Colour, 0, (to-from)*(last-first))}
	for x := from; x < to; x++ {
		p.means = append(p.means, b.line(x)[first:last]...)
	}
	return p
}

// view is what a window shows: its grids, laid on the whole picture, as if there were no other window; and the weight of the likeliest.
type view struct {
	weight  float64
	guesses []Guessed
}

// look weighs the likeliest grids of a window; a view without guesses shows none.
func (w *window) look(given pixels.Grid, stopped func() error) (v view, err error) {
	likely := w.likeliest(given)
	if len(likely) == 0 {
		return view{weight: math.Inf(-1)}, nil
	}
	closer := newCloser(w)
	edgesGiven := given.Margin != (pixels.Margin{}) || given.Gutter != (pixels.Gutter{})
	looked, err := closer.lookAll(likely, stopped)
	if err != nil {
		return view{}, err
	}
	weighed := make([]parted, 0, len(likely))
	for i, l := range looked {
		g := closer.spaced(l.parted)
		if edgesGiven {
			g.pair = likely[i].pair
		}
		g.weight = l.facts.weight() / math.Sqrt(w.across.lossy) // what a lossy picture shows is less sure
		if closer.showsThinGutters(l.parted) {
			g.through = 0 // what is smeared over them seems to go on
		}
		g.smeared = w.across.lossy > 1 && !edgesGiven && max(l.met[0].unseen(), l.met[1].unseen()) >= unseenEdges && (g.tight != pair{} || !g.grid().Even())
		weighed = append(weighed, g)
	}
	all := readingsOf(weighed)
	v.weight = all[0].weight
	readings := leading(all, &w.across, &w.down)
	if readings[0].smeared {
		readings = closer.withOtherEdges(readings)
	}
	v.guesses = best(readings, &w.across, &w.down)
	for i := range v.guesses {
		for side, beside := range w.beside {
			v.guesses[i].Margin[side] += beside
		}
	}
	return v, nil
}
