package table

// Gap is the space between two cards that lie side by side, in millimetres.
const Gap = 4.0

// Step returns the distance between the centres of neighbouring cards when n
// cards of the given width are spread evenly over room, all in millimetres.
// They lie side by side while there is room, and overlap evenly when it is
// short. The spread is centred: card i lies (i-(n-1)/2) steps from the middle.
func Step(n int, card, room float64) float64 {
	step := card + Gap
	if n > 1 && float64(n-1)*step+card > room {
		step = max((room-card)/float64(n-1), 0)
	}
	return step
}

// nearest is where a card played from a seat onto the felt comes to lie: a
// third of the way from the seat's own zones to the middle of the table, and
// beside what lies there already. Nobody's is the middle.
func (t *Table) nearest(seat Seat) (x, y float64) {
	middleX, middleY := t.Settings.Wide/2, t.Settings.High/2
	x, y = middleX, middleY
	if own := t.HandOf(seat); own != nil {
		x, y = own.X+(middleX-own.X)/3, own.Y+(middleY-own.Y)/3
	}
	for beside := range 12 {
		spot := x + float64(beside)*12
		if !t.loose(spot, y) {
			return min(spot, t.Settings.Wide), y
		}
	}
	return x, y
}

// loose reports whether a loose card lies exactly there.
func (t *Table) loose(x, y float64) bool {
	for _, p := range t.Places {
		if p.Kind == Loose && p.X == x && p.Y == y {
			return true
		}
	}
	return false
}
