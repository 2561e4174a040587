// Command bench measures Damselfly against a plain reference in the same run,
// because machines differ and are shared, and prints one ratio a line:
//
//	ratio NAME VALUE  (ours …, reference …, reach …)  SECONDS s
//
// The service is bin/damselfly in a process of its own, a new one for each measure. Each has a limit
// of its own, and what fails does not stop the others. Names after the command take those alone, quick
// those of the path of an action.
// It fails only if something could not be measured. What each ratio means
// stands in docs/measures.md.
package main

import (
	"cmp"
	"context"
	"fmt"
	"os"
	"os/signal"
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
	{"journal", "≥ 0.6", journaled, 3},
	{"latency", "≤ 2", latency, 0},
	{"flood", "≤ 2", flood, 0},
	{"latency-tail", "≤ 5", latencyTail, 3},
	{"neighbour", "≤ 5", neighbour, 0},
	{"load", "≤ 1.5", loading, 0},
	{"room-memory", "≤ 2.3", roomMemory, 0},
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

// quick are the measures of the path of an action, for work in hand.
var quick = []string{"fanout", "journal", "latency", "latency-tail", "flood", "neighbour", "wire-flat", "wire", "shuffle", "flat"}

// limit is how long a measure may take, for each of its turns.
const limit = 3 * time.Minute

func main() {
	named := os.Args[1:]
	if slices.Contains(named, "quick") {
		named = quick
	}
	ctx, interrupted := signal.NotifyContext(context.Background(), os.Interrupt)
	defer interrupted()
	b, err := newBench(ctx)
	if err != nil {
		fmt.Fprintln(os.Stderr, "bench:", err)
		os.Exit(1)
	}
	code := 0
	for _, m := range measures {
		if len(named) > 0 && !slices.Contains(named, m.name) || ctx.Err() != nil {
			continue
		}
		line, err := m.within(ctx, b)
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

// within takes a measure by a service of its own, and ends that where it takes too long: what
// waits for it then fails. Whatever becomes of it, the next is taken.
func (m measure) within(ctx context.Context, b *bench) (string, error) {
	most := limit * time.Duration(max(m.turns, 1))
	limited, cancel := context.WithTimeout(ctx, most)
	defer cancel()
	one := *b // a measure that does not end keeps its own
	one.ctx = limited
	if err := one.start(); err != nil {
		return "", err
	}
	began := time.Now()
	type result struct {
		line string
		err  error
	}
	done := make(chan result, 1)
	go func() {
		line, err := m.line(&one)
		done <- result{line, err}
	}()
	select {
	case r := <-done:
		one.stop()
		if r.err != nil {
			return "", fmt.Errorf("%w, after %.0f s", r.err, time.Since(began).Seconds())
		}
		return fmt.Sprintf("%s  %.0f s", r.line, time.Since(began).Seconds()), nil
	case <-limited.Done():
		_ = one.service.Process.Kill()
		select {
		case <-done:
		case <-time.After(2 * silence):
		}
		return "", fmt.Errorf("it was not measured within %v", most)
	}
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
