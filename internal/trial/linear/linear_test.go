// Package linear tries whether reading what somebody else sends takes no more than linear time: each input
// is read at one size and at four times that, and may take less than nine times as much: three for each doubling.
package linear

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math/rand/v2"
	"runtime"
	"runtime/debug"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sys/unix"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/core/spreadsheet"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

// reader reads an input of a size, which it makes beforehand.
type reader struct {
	size int // to begin with; it is made larger until it takes some time
	most int // above which inputs are refused
	make func(n int) (read func())
}

func csv(text func(n int) string) func(int) func() {
	return func(n int) func() {
		file := []byte(text(n))
		return func() {
			rows, err := deck.ReadCSV(file)
			if err == nil {
				_, _ = rows.Cards()
			}
		}
	}
}

func manifest(text func(n int) string) func(int) func() {
	return func(n int) func() {
		folder := fstest.MapFS{"kit.yaml": {Data: []byte(text(n))}}
		return func() { _, _ = kit.Read(folder) }
	}
}

func list(text func(n int) string) func(int) func() {
	return func(n int) func() {
		said := []byte(text(n))
		return func() { _, _ = sheet.ReadList(said) }
	}
}

func stepsOf(text func(n int) string) func(int) func() {
	t := tabletest.Sample(3)
	return func(n int) func() {
		said := text(n)
		return func() { _, _ = steps.Read(said, t, 1) }
	}
}

func svg(text func(n int) string) func(int) func() {
	return func(n int) func() {
		file := []byte(text(n))
		return func() { _, _ = deck.ReadSVG(file) }
	}
}

func repeated(part string) func(int) string {
	return func(n int) string { return strings.Repeat(part, n) }
}

// noisy is a sheet of so many thousand pixels that nothing is quiet about.
func noisy(n int) func() {
	picture := image.NewNRGBA(image.Rect(0, 0, 600, n))
	chance := rand.New(rand.NewPCG(1, 2))
	for i := range picture.Pix {
		picture.Pix[i] = uint8(chance.Uint32())
	}
	return func() { sheet.Guess(picture, sheet.Grid{}) }
}

// barred is a sheet of lines, each of a colour of its own.
func barred(n int) func() {
	picture := image.NewNRGBA(image.Rect(0, 0, 600, n))
	for y := range n {
		for x := range 600 {
			picture.SetNRGBA(x, y, color.NRGBA{uint8(y * 37), uint8(y * 91), uint8(y * 13), 255})
		}
	}
	return func() { sheet.Guess(picture, sheet.Grid{}) }
}

const begun = "kit: 1\nname: K\nseats: 2\n"

var readers = map[string]reader{
	"csv: commas":               {20_000, 8 << 20, csv(repeated(","))},
	"csv: a header of quotes":   {20_000, 4 << 20, csv(repeated(`"a",`))},
	"csv: rows of ten":          {300, 20_000, csv(func(n int) string { return "name,b,c,d,e,f,g,h,i,j\n" + strings.Repeat("a,1,2,3,4,5,6,7,8,9\n", n) })},
	"csv: rows in quotes":       {300, 20_000, csv(func(n int) string { return "name,b\r\n" + strings.Repeat("\"a\nb\",\"c\r\nd\"\r\n", n) })},
	"csv: a quote never closed": {20_000, 8 << 20, csv(func(n int) string { return `name,b` + "\n" + `"` + strings.Repeat("a\n", n) })},
	"csv: empty lines":          {20_000, 8 << 20, csv(repeated("\n"))},
	"csv: one cell":             {20_000, 8 << 20, csv(repeated("a"))},
	"csv: columns of their own": {2_000, 1 << 20, csv(func(n int) string {
		var b strings.Builder
		for i := range n {
			fmt.Fprintf(&b, "c%d,", i)
		}
		return b.String() + "\na\n"
	})},
	"kit.yaml: decks": {100, 3_000, manifest(func(n int) string {
		var b strings.Builder
		for i := range n {
			fmt.Fprintf(&b, "  d%d: {sheet: s}\n", i)
		}
		return begun + "decks:\n" + b.String()
	})},
	"kit.yaml: designs": {100, 10_000, manifest(func(n int) string {
		return begun + "decks:\n  d:\n    designs:\n" + strings.Repeat("      - {cell: 1, name: A}\n", n)
	})},
	"kit.yaml: zones": {100, 3_000, manifest(func(n int) string {
		return begun + "table:\n  zones:\n" + strings.Repeat("    - {key: z, kind: pile, at: [1, 1]}\n", n)
	})},
	"kit.yaml: one long line": {20_000, 1 << 20, manifest(func(n int) string { return begun + "about: " + strings.Repeat("a ", n) })},
	"kit.yaml: a long text":   {2_000, 1 << 19, manifest(func(n int) string { return begun + "about: |\n" + strings.Repeat("  a\n", n) })},
	"kit.yaml: comments":      {2_000, 1 << 19, manifest(func(n int) string { return begun + strings.Repeat("# a\n", n) })},
	"kit.yaml: brackets":      {2_000, 1 << 19, manifest(func(n int) string { return begun + "about: " + strings.Repeat("[", n) })},
	"kit.yaml: quotes":        {2_000, 1 << 19, manifest(func(n int) string { return begun + "about: " + strings.Repeat("\"a\" ", n) })},
	"kit.yaml: keys": {1_000, 1 << 17, manifest(func(n int) string {
		var b strings.Builder
		for i := range n {
			fmt.Fprintf(&b, "k%d: 1\n", i)
		}
		return begun + b.String()
	})},
	"sheet.yaml: keys": {1_000, 1 << 16, list(func(n int) string {
		var b strings.Builder
		for i := range n {
			fmt.Fprintf(&b, "k%d: 1\n", i)
		}
		return b.String()
	})},
	"steps: lines":    {50, 4_000, stepsOf(repeated("shuffle weather\n"))},
	"steps: one word": {2_000, 1 << 16, stepsOf(repeated("a"))},
	"steps: words":    {2_000, 1 << 16, stepsOf(repeated("a "))},
	"steps: brackets": {2_000, 1 << 16, stepsOf(func(n int) string { return "move all of weather where " + strings.Repeat("(", n) })},
	"steps: nots":     {2_000, 1 << 15, stepsOf(func(n int) string { return "move all of weather where " + strings.Repeat("not ", n) })},
	"steps: names":    {500, 1 << 14, stepsOf(func(n int) string { return "move " + strings.Repeat("Fog, ", n) + "Fog of weather to sky" })},
	"steps: quotes":   {2_000, 1 << 16, stepsOf(repeated(`" `))},
	"svg: shapes": {40, 400, svg(func(n int) string {
		return `<svg viewBox="0 0 10 10">` + strings.Repeat(`<path d="M0 0L1 1"/>`, n) + `</svg>`
	})},
	"svg: a long path": {500, 1 << 17, svg(func(n int) string {
		return `<svg viewBox="0 0 10 10"><path d="M0 0` + strings.Repeat("L1 1", n) + `"/></svg>`
	})},
	"svg: groups": {200, 1 << 16, svg(func(n int) string { return `<svg viewBox="0 0 10 10">` + strings.Repeat("<g>", n) })},
	"svg: definitions": {200, 1 << 15, svg(func(n int) string {
		return `<svg viewBox="0 0 10 10"><defs>` + strings.Repeat(`<linearGradient id="a"><stop/></linearGradient>`, n) + `</defs></svg>`
	})},
	"a spreadsheet": {200, 10_000, func(n int) func() {
		var cells [][]string
		for i := range n {
			cells = append(cells, []string{fmt.Sprint("Card ", i), "1", "words of it"})
		}
		file, err := spreadsheet.Write([]spreadsheet.Tab{{Name: "cards", Rows: cells}})
		if err != nil {
			panic(err)
		}
		return func() { _, _ = deck.ReadSpreadsheet(file, "") }
	}},
	"a sheet: noise": {300, 12_000, noisy},
	"a sheet: lines": {300, 16_000, barred},
	"keys: of one long name": {20_000, 4 << 20, func(n int) func() {
		name := strings.Repeat("Über Öl ", n)
		return func() { deck.KeyFrom(name, "x") }
	}},
	"an action: a filter within filters": {500, 1 << 16, func(n int) func() {
		text := []byte(`{"do":"move","from":"weather","to":{"place":"sky"},"where":` + strings.Repeat(`{"not":`, n) + `{"in":["sky"]}` + strings.Repeat("}", n) + "}")
		return func() { _, _ = table.ReadAction(text) }
	}},
	"an action: several": {100, 4_000, func(n int) func() {
		text := []byte(`{"do":"all","actions":[` + strings.Repeat(`{"do":"shuffle","place":"weather"},`, n) + `{"do":"pass"}]}`)
		return func() { _, _ = table.ReadAction(text) }
	}},
	"a picture's bytes": {100, 3_000, func(n int) func() {
		var out bytes.Buffer
		if err := png.Encode(&out, image.NewNRGBA(image.Rect(0, 0, 600, n))); err != nil {
			panic(err)
		}
		return func() { _, _ = sheet.Read(out.Bytes()) }
	}},
}

// Bounds of what is measured: long enough that it says something, and tries enough that a machine that is
// busy with other things is not taken for a reader that is slow.
const (
	worth   = 30 * time.Millisecond
	nothing = 10 * time.Millisecond
	fewest  = 2
	tries   = 12
	most    = 9.0
)

// cost is what reading takes of the processors, which is not what it takes by the clock where others use them too.
func cost(t *testing.T, read func()) time.Duration {
	runtime.GC()
	var before, after unix.Rusage
	require.NoError(t, unix.Getrusage(unix.RUSAGE_SELF, &before))
	read()
	require.NoError(t, unix.Getrusage(unix.RUSAGE_SELF, &after))
	return time.Duration(after.Utime.Nano() + after.Stime.Nano() - before.Utime.Nano() - before.Stime.Nano())
}

// growth is how many times as much reading an input of four times the size takes. The two are read by turns until
// the least that each took says less than most: often enough that chance has not decided it either way.
func growth(t *testing.T, r reader) float64 {
	// No collector at its own time: what is kept grows by what is read, and is collected between reads.
	defer debug.SetGCPercent(debug.SetGCPercent(-1))
	defer debug.SetMemoryLimit(debug.SetMemoryLimit(4 << 30))
	n := r.size
	for cost(t, r.make(n)) < worth && 8*n <= r.most {
		n *= 2
	}
	read, readFour := r.make(n), r.make(4*n)
	one, four := time.Hour, time.Hour
	for try := range tries {
		one, four = min(one, cost(t, read)), min(four, cost(t, readFour))
		if try >= fewest-1 && (float64(four) < most*float64(one) || four < nothing) {
			break
		}
	}
	t.Logf("%d: %v, %d: %v, ratio %.2f", n, one, 4*n, four, float64(four)/float64(one))
	if four < nothing {
		return 0 // as large as it may be, it takes no time
	}
	return float64(four) / float64(one)
}

func TestWhatOthersSendIsReadInLinearTime(t *testing.T) {
	for name, r := range readers {
		t.Run(name, func(t *testing.T) {
			assert.Less(t, growth(t, r), most)
		})
	}
}

// What is asked of readers is asked of one that is slow on purpose, too.
func TestAReaderOfQuadraticTimeIsFound(t *testing.T) {
	slow := func(n int) func() {
		return func() {
			sum := 0
			for i := range n {
				for j := range i {
					sum ^= i + j
				}
			}
			runtime.KeepAlive(sum)
		}
	}
	assert.GreaterOrEqual(t, growth(t, reader{size: 5_000, most: 1 << 20, make: slow}), most)
}
