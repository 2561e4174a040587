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
