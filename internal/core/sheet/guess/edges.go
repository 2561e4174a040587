package guess

import (
	"cmp"
	"slices"
)

// withOtherEdges moves the likeliest reading's edges to where they are seen faintly, where a lossy picture does not show all of
// them. If they are not, what else they may be follows: its cells as they were before they were widened to the middle of gutters,
// and the same margin and gutters all around. Those share what the likeliest loses by not being sure.
func (c closer) withOtherEdges(readings []reading) []reading {
	lead := readings[0]
	var others []parted
	if lead.tight != (pair{}) {
		if found, is := c.atFaintEdges(lead.pair, lead.tight); is {
			lead.pair, lead.smeared = found, false
		} else {
			others = append(others, c.lookAt(parted{pair: lead.tight}).parted)
		}
	}
	if lead.smeared {
		if even, is := c.evened(lead.pair); is {
			others = append(others, even)
		}
	}
	with := []reading{lead}
	known := func(p pair) bool {
		return slices.ContainsFunc(with, func(r reading) bool { return r.grid().Near(p.grid()) })
	}
	for _, p := range others {
		if !known(p.pair) {
			with = append(with, reading{parted: p})
		}
	}
	for i := range with[1:] {
		with[i+1].share = lead.share * (1 - mostSmeared) / float64(len(with)-1)
	}
	for _, r := range readings[1:] {
		if !known(r.pair) {
			with = append(with, r)
		}
	}
	slices.SortStableFunc(with[1:], func(a, b reading) int { return cmp.Compare(b.share, a.share) })
	return with
}

// evened is the likeliest grid with a margin that at least two sides have on all sides, and one of the gutters both ways.
func (c closer) evened(p pair) (best parted, is bool) {
	var most float64
	for _, margin := range p.grid().Margin {
		if p.grid().SidesWith(margin) < 2 {
			continue
		}
		for _, gutter := range p.gutters() {
			g := pair{p.columns.laid(c.size.X, margin, margin, gutter), p.rows.laid(c.size.Y, margin, margin, gutter)}
			if min(g.columns.size, g.rows.size) < leastFor {
				continue
			}
			if l := c.lookAt(parted{pair: g}); !is || l.facts.weight() > most {
				best, most, is = l.parted, l.facts.weight(), true
			}
		}
	}
	return best, is
}

// gutters are those of the directions in which there are any.
func (p pair) gutters() []int {
	switch {
	case p.columns.n == 1:
		return []int{p.rows.gutter}
	case p.rows.n == 1:
		return []int{p.columns.gutter}
	}
	return []int{p.columns.gutter, p.rows.gutter}
}
