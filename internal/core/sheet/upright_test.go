package sheet_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/sheet"
)

// A scan that lies askew is said to, whichever way, is not taken for sure, and is read rightly once it was turned. None that lies
// upright is said to lie askew.
func TestAScanThatLiesAskewIsToldAndTurned(t *testing.T) {
	for _, seed := range []uint64{7001, 7004, 7010} {
		s := drawStyled(t, "bordered", seed)
		upright, err := sheet.LookOver(s.picture, sheet.Grid{})
		require.NoError(t, err)
		assert.Zero(t, upright.Askew, "%v", s)
		for _, degrees := range []float64{-1.5, -0.6, 0.8, 1.3} {
			scan := sheet.Upright(s.picture, -degrees)
			report, err := sheet.LookOver(scan, sheet.Grid{})
			require.NoError(t, err)
			require.InDelta(t, degrees, report.Askew, 0.25, "%v", s)
			assert.False(t, report.Sure)
			assert.Contains(t, report.Warnings[0], "lies askew by")
			again, err := sheet.LookOver(sheet.Upright(scan, report.Askew), sheet.Grid{})
			require.NoError(t, err)
			assert.Less(t, math.Abs(again.Askew), 0.3)
			assert.Equal(t, []int{s.Columns, s.Rows}, []int{again.Grid.Columns, again.Grid.Rows}, "%v by %v", s, degrees)
		}
	}
}
