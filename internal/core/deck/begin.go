package deck

import (
	"slices"
	"strings"
)

// Begin is a layout to go on from, for a table file: the names large, what else the columns say under them.
func Begin(r *Rows) *Layout {
	const wide, high, rim, names = 630, 880, 60, 160
	l := &Layout{Size: []int{wide, high}, Front: []Box{
		{At: []float64{0, 0, wide, high}, Fill: "#f6f2e6"},
		{At: []float64{20, 20, wide - 40, high - 40}, Line: 4, Colour: "#47736b", Round: 24},
	}}
	text := func(column, top, tall int, b Box) {
		b.At = []float64{rim, float64(top), wide - 2*rim, float64(tall)}
		b.Text, b.Align, b.Down = "{"+r.Header[column]+"}", "centre", "middle"
		l.Front = append(l.Front, b)
	}
	shown := r.shown()
	for i, column := range shown {
		if i == 0 {
			text(column, rim, names, Box{Height: 64, Bold: true})
			continue
		}
		tall := (high - 2*rim - names) / (len(shown) - 1)
		text(column, rim+names+20+(i-1)*tall, tall-20, Box{Height: 40})
	}
	return l
}

// mostShown is how many columns a layout shows that is begun.
const mostShown = 6

// shown are the columns that cards show first: their names, then what else there is. Of one that has a brace in its name no
// layout can speak.
func (r *Rows) shown() (shown []int) {
	names, copies, keys := r.Names(), r.Copies(), r.Column(ColumnKey)
	for column, name := range r.Header {
		switch {
		case column == copies || column == keys || strings.ContainsAny(name, "{}"):
		case column == names:
			shown = slices.Insert(shown, 0, column)
		default:
			shown = append(shown, column)
		}
	}
	return shown[:min(len(shown), mostShown)]
}
