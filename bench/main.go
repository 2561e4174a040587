// Command bench measures Damselfly against a plain reference in the same run,
// because machines differ and are shared, and prints one ratio a line:
//
//	ratio NAME VALUE  (ours …, reference …, reach …)
//
// It fails only if something could not be measured. What each ratio means
// stands in docs/measures.md.
package main

import (
	"cmp"
	"context"
	"fmt"
	"os"
	"slices"
	"strings"
	"time"
)

// measure is one ratio: ours over reference.
type measure struct {
	name  string
	reach string
	take  func(*bench) (ours, reference float64, unit string, err error)
	turns int // how often ours and the reference take turns; once if 0
}

var measures = []measure{
	{"fanout", "≥ 0.5", fanout, 3},
	{"journal", "≥ 0.5", journaled, 3},
	{"latency", "≤ 2", latency, 0},
	{"flood", "≤ 2", flood, 0},
	{"latency-tail", "≤ 5", latencyTail, 3},
	{"load", "≤ 2", loading, 0},
	{"room-memory", "≤ 3", roomMemory, 0},
	{"wire-flat", "≤ 1.2", wireFlat, 0},
	{"wire", "≤ 2.5", wireRound, 0},
	{"shuffle", "≤ 1.2", shuffled, 0},
	{"flat", "≤ 1.2", flat, 0},
	{"cut", "≤ 1.3", cut, 0},
	{"grid", "≤ 1.5", gridFound, 0},
	{"pack", "≤ 1.5", pack, 0},
	{"shelf", "≤ 2", shelfOpens, 0},
	{"cut-peer", "≤ 0.25", cutPeer, 0},
	{"draw", "≤ 2", drawn, 0},
	{"look-over", "≤ 2", lookedOver, 0},
	{"again", "≤ 1.5", again, 0},
	{"revise", "≤ 1.5", revise, 0},
	{"first-paint", "≤ 2", firstPaint, 0},
	{"long-tasks", "0", longTasks, 0},
	{"console-flat", "≤ 1.5", consoleFlat, 0},
}

func main() {
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Minute)
	defer cancel()
	b, err := newBench(ctx)
	if err != nil {
		fmt.Fprintln(os.Stderr, "bench:", err)
		os.Exit(1)
	}
	code := 0
	for _, m := range measures {
		if len(os.Args) > 1 && !slices.Contains(os.Args[1:], m.name) {
			continue
		}
		line, err := m.line(b)
		if err != nil {
			fmt.Fprintf(os.Stderr, "bench: %s: %v\n", m.name, err)
			code = 1
			continue
		}
		fmt.Println(line)
	}
	b.close()
	os.Exit(code)
}

// line takes a measure and says what came out: of several turns the middle one, and
// between what they lay.
func (m measure) line(b *bench) (string, error) {
	type turn struct {
		ours, reference float64
		unit            string
	}
	var turns []turn
	for range max(m.turns, 1) {
		ours, reference, unit, err := m.take(b)
		if err != nil {
			return "", err
		}
		turns = append(turns, turn{ours, reference, unit})
	}
	slices.SortFunc(turns, func(a, b turn) int { return cmp.Compare(a.ours/a.reference, b.ours/b.reference) })
	middle, spread := turns[len(turns)/2], ""
	if last := len(turns) - 1; last > 0 {
		spread = fmt.Sprintf(", from %.2f to %.2f in %d turns", turns[0].ours/turns[0].reference, turns[last].ours/turns[last].reference, len(turns))
	}
	return fmt.Sprintf("ratio %s %.2f  (ours %s, reference %s, reach %s%s)",
		m.name, middle.ours/middle.reference, figure(middle.ours, middle.unit), figure(middle.reference, middle.unit), m.reach, spread), nil
}

// figure writes a number with its unit, to three digits.
func figure(v float64, unit string) string {
	text := fmt.Sprintf("%.3g", v)
	if v >= 1000 {
		text = fmt.Sprintf("%.0f", v)
	}
	return strings.TrimSpace(text + " " + unit)
}

// median is the middle of some durations, in seconds.
func median(durations []time.Duration) float64 {
	slices.Sort(durations)
	return durations[len(durations)/2].Seconds()
}

// best runs two things in turn, several times, and returns the shortest time of
// each, in seconds: on a shared machine the least disturbed run says most, and
// taking turns disturbs both alike.
func best(runs int, one, other func()) (float64, float64) {
	least := [2]time.Duration{time.Hour, time.Hour}
	for range runs {
		for i, do := range []func(){one, other} {
			start := time.Now()
			do()
			least[i] = min(least[i], time.Since(start))
		}
	}
	return least[0].Seconds(), least[1].Seconds()
}
