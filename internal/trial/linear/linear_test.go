// Package linear tries whether reading what somebody else sends takes no more than linear time: each input
// is read at one size and at twice that, and may take less than three times as long.
package linear

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math/rand/v2"
	"runtime"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

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
	worth = 30 * time.Millisecond
	tries = 6
)

func least(read func(), runs int) time.Duration {
	best := time.Hour
	for range runs {
		runtime.GC()
		began := time.Now()
		read()
		best = min(best, time.Since(began))
	}
	return best
}

func TestWhatOthersSendIsReadInLinearTime(t *testing.T) {
	for name, r := range readers {
		t.Run(name, func(t *testing.T) {
			n := r.size
			for least(r.make(n), 1) < worth && 4*n <= r.most {
				n *= 2
			}
			one, two := r.make(n), r.make(2*n)
			ratio := 0.0
			for range tries {
				a, b := least(one, 2), least(two, 2)
				if ratio = float64(b) / float64(a); ratio < 3 || b < 2*time.Millisecond {
					t.Logf("%d: %v, %d: %v, ratio %.2f", n, a, 2*n, b, ratio)
					return
				}
			}
			assert.Less(t, ratio, 3.0, "twice %d takes %.1f times as long", n, ratio)
		})
	}
}

// What is asked of readers is asked of one that is slow on purpose, too.
func TestAReaderOfQuadraticTimeIsFound(t *testing.T) {
	slow := func(n int) func() {
		text := strings.Repeat("a", n)
		return func() {
			for i := range text {
				_ = strings.Count(text[i:], "b")
			}
		}
	}
	n := 20_000
	for least(slow(n), 1) < worth {
		n *= 2
	}
	require.GreaterOrEqual(t, float64(least(slow(2*n), 2))/float64(least(slow(n), 2)), 3.0)
}
