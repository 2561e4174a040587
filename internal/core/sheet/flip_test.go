package sheet_test

import (
	"image"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/sheet"
)

// turnedAround is a picture on its head: its last card is its first.
func turnedAround(p image.Image) image.Image {
	b := p.Bounds()
	turned := image.NewNRGBA(image.Rectangle{Max: b.Size()})
	for y := range b.Dy() {
		for x := range b.Dx() {
			turned.Set(b.Dx()-1-x, b.Dy()-1-y, p.At(b.Min.X+x, b.Min.Y+y))
		}
	}
	return turned
}

// A sheet that is full has as many columns and rows when it stands on its head. Few cards, with much that is blank, tell the least.
func TestASheetOnItsHeadIsReadAlike(t *testing.T) {
	const each = 60
	upright, turned, differ, of := 0, 0, 0, 0
	for _, style := range []string{"text", "icons", "hairline"} {
		for seed := range uint64(each) {
			s := drawStyled(t, style, 5100+seed)
			if s.empty > 0 || s.quality > 0 || s.Rows > 3 {
				continue // the first row would be filled in part, or it would no longer be known that it is lossy
			}
			of++
			as := func(p image.Image) (right bool, g sheet.Guessed) {
				report, err := sheet.LookOver(p, sheet.Grid{})
				require.NoError(t, err)
				g = report.Guesses[0]
				return g.Columns == s.Columns && g.Rows == s.Rows, g
			}
			is, one := as(s.picture)
			too, other := as(turnedAround(s.picture))
			if is {
				upright++
			}
			if too {
				turned++
			}
			if is != too {
				differ++
				t.Logf("%v: read as %s (%.2f), and on its head as %s (%.2f)", s, one.Words(), one.Confidence, other.Words(), other.Confidence)
				assert.Less(t, min(one.Confidence, other.Confidence), sheet.Sure, "%v", s)
			}
		}
	}
	t.Logf("of %d sheets %d are read rightly, %d on their heads; %d differ", of, upright, turned, differ)
	assert.LessOrEqual(t, differ*100, of*10)
}
