package play

import (
	"slices"
)

// Shown is what something showed: one for everyone, and one in its place for each viewer
// who saw something of their own.
type Shown[M any] struct {
	Public *M // nil if it showed nothing to everyone
	Own    []Own[M]
}

// Own is what something showed one viewer.
type Own[M any] struct {
	Viewer Viewer
	Shown  *M
}

// To is what a viewer was shown, nil for nothing.
func (s Shown[M]) To(viewer Viewer) *M {
	for _, own := range s.Own {
		if own.Viewer == viewer {
			return own.Shown
		}
	}
	return s.Public
}

// Each makes one thing of each that was shown, such as a message.
func Each[A, B any](s Shown[A], make func(*A) *B) Shown[B] {
	var out Shown[B]
	if s.Public != nil {
		out.Public = make(s.Public)
	}
	for _, own := range s.Own {
		out.Own = append(out.Own, Own[B]{own.Viewer, make(own.Shown)})
	}
	return out
}

// Told counts what each viewer was told, and keeps the newest of it for whoever comes back.
type Told[M any] struct {
	counts  map[Viewer]uint64
	history []Shown[M]
}

// historyLength is how many are kept for whoever comes back.
const historyLength = 128

// Add notes what was shown to the viewers of a game.
func (t *Told[M]) Add(viewers int, s Shown[M]) {
	if t.counts == nil {
		t.counts = map[Viewer]uint64{}
	}
	for viewer := range Viewer(viewers) {
		if s.To(viewer) != nil {
			t.counts[viewer]++
		}
	}
	t.history = trimmed(append(t.history, s), historyLength)
}

// Count is how many things a viewer was told.
func (t *Told[M]) Count(viewer Viewer) uint64 { return t.counts[viewer] }

// Begin has a viewer begin anew: somebody else sits there now, or nobody.
func (t *Told[M]) Begin(viewer Viewer) { delete(t.counts, viewer) }

// Since lists what a viewer was told after the first so many, if it is still known.
func (t *Told[M]) Since(viewer Viewer, told uint64) (missed []*M, known bool) {
	now := t.counts[viewer]
	if told > now {
		return nil, false
	}
	for _, shown := range slices.Backward(t.history) {
		if uint64(len(missed)) == now-told {
			break
		}
		if m := shown.To(viewer); m != nil {
			missed = append(missed, m)
		}
	}
	slices.Reverse(missed)
	return missed, uint64(len(missed)) == now-told
}

// trimmed keeps the last n of a growing list, moving them only now and then.
func trimmed[T any](list []T, n int) []T {
	if len(list) < n+n/4 {
		return list
	}
	return slices.Clone(list[len(list)-n:])
}
