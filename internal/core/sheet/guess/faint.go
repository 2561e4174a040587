package guess

import "math"

// Bounds of a step in brightness by which the edges of all cells together are seen, where a lossy picture hides each of them.
const (
	leastStep = 2.5 // in brightness, 0 to 255
	ragged    = 0.2 // of the step: what brightness may differ by on either side of it
	stepRoom  = 3   // lines on either side of it at least
)

// atFaintEdges has cells that were widened to the middle of gutters end where brightness steps between there and what is printed.
// There may be no such steps: cards may look like their ground.
func (c closer) atFaintEdges(loose, tight pair) (found pair, is bool) {
	columns, all := c.across.atFaintEdges(loose.columns, tight.columns, c.across.runsOf(tight.rows, c.size.Y))
	rows, too := c.down.atFaintEdges(loose.rows, tight.rows, c.down.runsOf(tight.columns, c.size.X))
	return pair{columns, rows}, all && too
}

// atFaintEdges is the same in one direction, for what lies in strips of the lines.
func (s *seams) atFaintEdges(loose, tight division, strips [][2]int) (found division, is bool) {
	before, begins := s.stepWithin(tight.before-loose.before, loose.n, strips, func(part, inside int) int {
		from, _ := loose.part(part)
		return from + inside
	})
	after, ends := s.stepWithin(tight.after-loose.after, loose.n, strips, func(part, inside int) int {
		_, to := loose.part(part)
		return to - 1 - inside
	})
	return loose.laid(s.lines, loose.before+before, loose.after+after, loose.gutter+before+after), begins && ends
}

// stepWithin is how far inside of its parts the picture's brightness steps, if there is room for that.
func (s *seams) stepWithin(room, parts int, strips [][2]int, line func(part, inside int) int) (inside int, is bool) {
	if room <= 0 {
		return 0, true
	}
	shades := make([]spread, 0, room+stepRoom)
	for inside := -stepRoom; inside < room-1; inside++ {
		var shade spread
		for part := range parts {
			if x := line(part, inside); x >= 0 && x < s.lines {
				for _, runs := range strips {
					runs = withoutCorners(runs)
					for _, c := range s.blocks.line(x)[runs[0]:runs[1]] {
						shade.add(c.Shade())
					}
				}
			}
		}
		shades = append(shades, shade)
	}
	at, step, rest := clearestStep(shades)
	return at - stepRoom, math.Abs(step) >= leastStep && rest <= ragged*math.Abs(step)
}

// clearestStep is where the means of lines fall best into those before and those after, by how much the two differ, and what lines
// usually differ by from their own.
func clearestStep(lines []spread) (at int, step, rest float64) {
	var before, after spread
	for _, l := range lines {
		after.add(l.mean())
	}
	rest = math.Inf(1)
	for split, l := range lines {
		if split >= stepRoom && split <= len(lines)-stepRoom {
			off := math.Hypot(before.around(before.mean())*math.Sqrt(before.n), after.around(after.mean())*math.Sqrt(after.n)) / math.Sqrt(float64(len(lines)))
			if off < rest {
				at, step, rest = split, after.mean()-before.mean(), off
			}
		}
		before.add(l.mean())
		after.take(l.mean())
	}
	return at, step, rest
}
