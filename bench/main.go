// Command bench measures Damselfly against a plain reference in the same run,
// because machines differ and are shared, and prints one ratio a line:
//
//	ratio NAME VALUE  (ours …, reference …, reach …)
//
// It fails only if something could not be measured. What each ratio means
// stands in docs/measures.md.
package main

import (
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
}

var measures = []measure{
	{"fanout", "≥ 0.5", fanout},
	{"journal", "≥ 0.5", journaled},
	{"latency", "≤ 2", latency},
	{"flood", "≤ 2", flood},
	{"latency-tail", "≤ 5", latencyTail},
	{"load", "≤ 2", loading},
	{"room-memory", "≤ 3", roomMemory},
	{"wire-flat", "≤ 1.2", wireFlat},
	{"wire", "≤ 2.5", wireRound},
	{"shuffle", "≤ 1.2", shuffled},
	{"flat", "≤ 1.2", flat},
	{"cut", "≤ 1.3", cut},
	{"cut-peer", "≤ 0.25", cutPeer},
	{"first-paint", "≤ 2", firstPaint},
	{"long-tasks", "0", longTasks},
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
		ours, reference, unit, err := m.take(b)
		if err != nil {
			fmt.Fprintf(os.Stderr, "bench: %s: %v\n", m.name, err)
			code = 1
			continue
		}
		fmt.Printf("ratio %s %.2f  (ours %s, reference %s, reach %s)\n",
			m.name, ours/reference, figure(ours, unit), figure(reference, unit), m.reach)
	}
	b.close()
	os.Exit(code)
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
