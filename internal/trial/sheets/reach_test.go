package sheets

import (
	"context"
	"fmt"
	"math"
	"os"
	"strconv"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/sheet"
)

// reach counts what came of looking sheets over whose grid was not given.
type reach struct {
	right, unsure, offered, lost, noted, silent, askew, of int
}

func (r reach) with(o reach) reach {
	return reach{r.right + o.right, r.unsure + o.unsure, r.offered + o.offered, r.lost + o.lost, r.noted + o.noted, r.silent + o.silent, r.askew + o.askew, r.of + o.of}
}

func (r reach) String() string {
	return fmt.Sprintf("of %d sheets %d right and sure (%.1f %%), %d right and unsure, %d wrong and unsure with the right grid offered, %d without it, %d wrong and silent (%.1f %%); %d said to lie askew",
		r.of, r.right, share(r.right, r.of), r.unsure, r.offered, r.lost, r.silent, share(r.silent, r.of), r.askew)
}

func share(n, of int) float64 { return 100 * float64(n) / float64(max(of, 1)) }

// kind is the word for what came of one sheet.
func (r reach) kind() string {
	switch {
	case r.right == 0 && r.askew > 0:
		return "not askew"
	case r.unsure > 0:
		return "unsure"
	case r.offered > 0:
		return "offered"
	case r.lost > 0:
		return "lost"
	case r.silent > 0:
		return "silent"
	}
	return "right"
}

// judged is what came of one sheet.
func judged(d *drawn, r sheet.Report) (came reach) {
	came.of = 1
	told := len(r.Problems()) > 0
	if r.Askew != 0 {
		came.askew = 1
		if math.Abs(d.Turned) >= skewed { // it is said
			came.right = 1
			return came
		}
	}
	switch is := d.right(r.Grid); {
	case is && !told:
		came.right = 1
	case is:
		came.unsure = 1
	case told && d.offered(r):
		came.offered = 1
	case told:
		came.lost = 1
	default:
		came.silent = 1
	}
	return came
}

// What of all sheets is right at least, and silently wrong at most, in hundredths: few sheets of each style are read here, so both
// leave room. The reach is 85 and 0.5.
const (
	leastRight = 60.0
	mostSilent = 8.0
)

// Grids are found on sheets that others made. DAMSELFLY_EACH says how many of each style, and DAMSELFLY_SHEETS a folder in which they
// are kept; with DAMSELFLY_LEARN, what four parts of the styles teach is reported on the fifth.
func TestGridsOfSheetsThatOthersMade(t *testing.T) {
	each := 2
	if n, err := strconv.Atoi(os.Getenv("DAMSELFLY_EACH")); err == nil {
		each = n
	}
	a := atelier{os.Getenv("DAMSELFLY_SHEETS")}
	if a.folder == "" {
		a.folder = t.TempDir()
	}
	require.NoError(t, os.MkdirAll(a.folder, 0o755))
	var screens []screen
	for range 2 {
		s, end, err := openScreen(context.Background())
		require.NoError(t, err)
		t.Cleanup(end)
		screens = append(screens, s)
	}
	var mu sync.Mutex
	var taught teaching
	learn := os.Getenv("DAMSELFLY_LEARN") != ""
	styled, parts, whole := map[string]reach{}, [5]reach{}, reach{}
	err := a.drawAll(t.Context(), screens, styles(), 1, each, func(d *drawn) {
		file, err := a.read(d)
		if !assert.NoError(t, err) {
			return
		}
		picture, r, err := sheet.Look(file, sheet.Grid{})
		if !assert.NoError(t, err, "%v", d) {
			return
		}
		d.size = picture.Bounds().Size()
		came := judged(d, r)
		mu.Lock()
		defer mu.Unlock()
		if learn {
			taught.add(d, picture)
		}
		if came.right == 0 {
			t.Logf("%s: %v: %s: is read as %v; %q %q", came.kind(), d, d.wrong(r.Grid), r.Guesses[:min(3, len(r.Guesses))], r.Warnings, r.Notes)
		}
		styled[d.Style], parts[part(d.Style)], whole = styled[d.Style].with(came), parts[part(d.Style)].with(came), whole.with(came)
	})
	require.NoError(t, err)
	for _, style := range styles() {
		t.Logf("%-18s part %d: %v", style, part(style), styled[style])
	}
	for i, p := range parts {
		t.Logf("sheets of others: part %d: %v", i, p)
	}
	t.Logf("sheets that others made: %v", whole)
	if learn {
		taught.report(t)
	}
	assert.GreaterOrEqual(t, share(whole.right, whole.of), leastRight)
	assert.LessOrEqual(t, share(whole.silent, whole.of), mostSilent)
}
