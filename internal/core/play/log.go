package play

import (
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
)

// Line is a line of the log as its reader may read it.
type Line struct {
	sight.Line
	Number int64 // from 1, of all lines of the game
	At     int64 // milliseconds since 1970
}

// kept is a deed of the log with its number and time.
type kept struct {
	deed              table.Deed
	number, at, entry int64
}

// Entry is where deeds stand in the journal.
type Entry struct {
	Number int64
	At     int64 // milliseconds since 1970
	Told   int64 // lines of the log before it
}

// logLength is how many lines are kept for whoever comes.
const logLength = 200

// Remember takes the deeds of an entry into the log.
func (g *Game) Remember(e Entry, deeds []table.Deed) {
	for i, deed := range deeds {
		g.lines = append(g.lines, kept{deed, e.Told + int64(i) + 1, e.At, e.Number})
	}
	g.lines = trimmed(g.lines, logLength)
}

// LinesOf are the lines of an entry as a viewer may read them.
func (g *Game) LinesOf(e Entry, deeds []table.Deed, viewer Viewer) []Line {
	return Stamp(g.gate.Log(deeds, viewer), e)
}

// Stamp gives the lines of an entry their numbers and time.
func Stamp(lines []sight.Line, e Entry) []Line {
	stamped := make([]Line, 0, len(lines))
	for i, line := range lines {
		stamped = append(stamped, Line{line, e.Told + int64(i) + 1, e.At})
	}
	return stamped
}

// Newest are the last n lines of the log as a viewer may read them. What was done
// before they took their seat they read as anybody does.
func (g *Game) Newest(viewer Viewer, n int) []Line {
	lines := []Line{}
	since := int64(g.tenure(viewer))
	for _, k := range g.lines[max(0, len(g.lines)-n):] {
		reader := viewer
		if k.entry < since {
			reader = 0
		}
		for _, line := range g.gate.Log([]table.Deed{k.deed}, reader) {
			lines = append(lines, Line{line, k.number, k.at})
		}
	}
	return lines
}

// Older are the lines of an entry of before, as a viewer may read them now: what was done before they took
// their seat they read as anybody does.
func (g *Game) Older(e Entry, deeds []table.Deed, viewer Viewer) []Line {
	if e.Number < int64(g.tenure(viewer)) {
		viewer = 0
	}
	return g.LinesOf(e, deeds, viewer)
}
