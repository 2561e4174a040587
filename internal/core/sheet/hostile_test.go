package sheet_test

import (
	"bytes"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/sheet"
)

// Whatever a picture shows and whatever is given of its grid, there is a guess, and it is one that fits or
// one that is refused in words.
func TestEveryPictureHasAGuess(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := image.NewNRGBA(image.Rect(0, 0, rapid.IntRange(1, 90).Draw(t, "wide"), rapid.IntRange(1, 90).Draw(t, "high")))
		shades := rapid.SliceOfN(rapid.Uint32(), 1, 4).Draw(t, "shades")
		every := rapid.IntRange(1, 40).Draw(t, "every")
		for i := 0; i < len(p.Pix); i += 4 {
			c := shades[(i/4/every+i/4%every)%len(shades)]
			copy(p.Pix[i:], []uint8{uint8(c), uint8(c >> 8), uint8(c >> 16), uint8(c >> 24)})
		}
		var picture image.Image = p
		if rapid.Bool().Draw(t, "lossy") {
			var out bytes.Buffer
			require.NoError(t, jpeg.Encode(&out, p, &jpeg.Options{Quality: rapid.IntRange(1, 100).Draw(t, "quality")}))
			var err error
			picture, err = sheet.Read(out.Bytes())
			require.NoError(t, err)
		}
		number := rapid.IntRange(-3, 300)
		given := sheet.Grid{
			Columns: rapid.IntRange(0, 50).Draw(t, "columns"), Rows: rapid.IntRange(0, 50).Draw(t, "rows"),
			Margin: sheet.Margin{number.Draw(t, "left"), number.Draw(t, "top"), number.Draw(t, "right"), number.Draw(t, "bottom")},
			Gutter: sheet.Gutter{number.Draw(t, "across"), number.Draw(t, "down")},
		}
		if rapid.Bool().Draw(t, "no spacing") {
			given.Margin, given.Gutter = sheet.Margin{}, sheet.Gutter{}
		}
		guesses := sheet.Guess(picture, given)
		require.NotEmpty(t, guesses)
		for _, g := range guesses {
			require.False(t, g.Confidence < 0 || g.Confidence > 1 || g.Confidence != g.Confidence, "%+v", g)
		}
		if report, err := sheet.LookOver(picture, given); err == nil {
			require.NoError(t, report.Grid.Fits(p.Rect.Size()))
			if given == (sheet.Grid{}) {
				for _, g := range report.Guesses { // whichever is taken
					require.NoError(t, g.Fits(p.Rect.Size()), "%+v", report.Guesses)
				}
			}
		}
	})
}

// Whoever asked may leave at any time: looking a sheet over ends where it is next asked whether to go on, which is
// for every 64 lines and every grid that is looked at.
func TestLookingOverEndsWhenItIsStopped(t *testing.T) {
	noise := image.NewNRGBA(image.Rect(0, 0, 400, 640))
	chance := rand.New(rand.NewPCG(1, 2))
	for i := range noise.Pix {
		noise.Pix[i] = uint8(chance.Uint32())
	}
	left := errors.New("left")
	for _, given := range []sheet.Grid{{}, {Columns: 2, Rows: 2}} {
		all := 0
		_, err := sheet.LookOverUntil(noise, given, func() error { all++; return nil })
		require.NoError(t, err)
		require.Greater(t, all, 640/64+20)
		for last := 1; last <= all; last++ {
			asked := 0
			_, err := sheet.LookOverUntil(noise, given, func() error {
				if asked++; asked < last {
					return nil
				}
				return left
			})
			require.Equal(t, left, err)
			require.Equal(t, last, asked)
		}
	}
}

// What lies beside cards may be left out in many ways, of which few are looked at: a page with lines along all its sides takes no more
// than some times the work of one without.
func TestAPageOfManyLinesIsLookedAtInFewWays(t *testing.T) {
	asked := func(lines bool) (n int) {
		page := image.NewNRGBA(image.Rect(0, 0, 900, 900))
		fill(page, page.Rect, white)
		fill(page, image.Rect(300, 300, 600, 600), dark)
		for line := 0; lines && line < 6; line++ {
			at := 20 + 40*line
			for _, r := range []image.Rectangle{image.Rect(300, at, 600, at+12), image.Rect(300, 888-at, 600, 900-at), image.Rect(at, 300, at+12, 600), image.Rect(888-at, 300, 900-at, 600)} {
				fill(page, r, dark)
			}
		}
		_, err := sheet.LookOverUntil(page, sheet.Grid{}, func() error { n++; return nil })
		require.NoError(t, err)
		return n
	}
	assert.Less(t, asked(true), 12*asked(false))
}

// A line of millions of pixels is small as a file and costs memory for each of them.
func TestPicturesOfEndlessLinesAreRefused(t *testing.T) {
	var file bytes.Buffer
	require.NoError(t, png.Encode(&file, image.NewPaletted(image.Rect(0, 0, 1<<16, 1), color.Palette{color.White})))
	_, err := sheet.Read(file.Bytes())
	assert.EqualError(t, err, "the picture is 65536 × 1 pixels; a side has at most 32768")
}
