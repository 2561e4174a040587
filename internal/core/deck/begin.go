package deck

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
	text(shown[0], rim, names, Box{Height: 64, Bold: true})
	for i, column := range shown[1:] {
		tall := (high - 2*rim - names) / (len(shown) - 1)
		text(column, rim+names+20+i*tall, tall-20, Box{Height: 40})
	}
	return l
}

// mostShown is how many columns a layout shows that is begun.
const mostShown = 6

// shown are the columns that cards show first: their names, then what else there is.
func (r *Rows) shown() []int {
	shown := []int{max(r.Names(), 0)}
	for column := range r.Header {
		if column != shown[0] && column != r.Copies() && column != r.Column(ColumnKey) && len(shown) < mostShown {
			shown = append(shown, column)
		}
	}
	return shown
}
