package sheet_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gomediumitalic"
	"golang.org/x/image/font/gofont/gomono"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"

	"damselfly.example/damselfly/internal/core/sheet"
)

// costs draws a sheet of 2 × 2 cards, on a ground of its own grain, each with a line of text and what it costs.
func costs(t *testing.T, r *rand.Rand, letters []byte, height float64, ink color.Color, says [4]string) *image.NRGBA {
	f, err := opentype.Parse(letters)
	require.NoError(t, err)
	face, err := opentype.NewFace(f, &opentype.FaceOptions{Size: height, DPI: 72})
	require.NoError(t, err)
	p := image.NewNRGBA(image.Rect(0, 0, 400, 560))
	ground, grain, wave := [3]float64{120 + 130*r.Float64(), 120 + 130*r.Float64(), 120 + 130*r.Float64()}, r.IntN(25), 0.05+0.2*r.Float64()
	for y := range 560 {
		for x := range 400 {
			v := func(i int) uint8 {
				return uint8(max(0, min(255, ground[i]+float64(grain)*math.Sin(float64(x+i*9)*wave+float64(y)*0.13)+float64(r.IntN(grain+1)))))
			}
			p.SetNRGBA(x, y, color.NRGBA{v(0), v(1), v(2), 255})
		}
	}
	for i, said := range says {
		at := image.Pt(i%2*200, i/2*280)
		draw.Draw(p, image.Rect(30, 30, 150, 110).Add(at), image.NewUniform(color.NRGBA{uint8(r.IntN(256)), uint8(r.IntN(256)), uint8(r.IntN(256)), 255}), image.Point{}, draw.Src)
		d := font.Drawer{Dst: p, Src: image.NewUniform(ink), Face: face, Dot: fixed.P(at.X+20, at.Y+180)}
		d.DrawString("Pay " + said)
	}
	return p
}

// A sheet that was saved anew as JPEG is the same to look at; a single digit that became another one is never hidden by that.
func TestASheetSavedAnewHidesNoDigit(t *testing.T) {
	grid := sheet.Grid{Columns: 2, Rows: 2}
	asJPEG := func(p image.Image, quality int) image.Image {
		var out bytes.Buffer
		require.NoError(t, jpeg.Encode(&out, p, &jpeg.Options{Quality: quality}))
		read, err := sheet.Read(out.Bytes())
		require.NoError(t, err)
		return read
	}
	for n := range uint64(40) {
		r := rand.New(rand.NewPCG(7, n))
		height, quality := 9+30*r.Float64(), 40+r.IntN(56)
		letters, ink := [][]byte{gomono.TTF, gomediumitalic.TTF}[n%2], color.NRGBA{uint8(r.IntN(60)), uint8(r.IntN(60)), uint8(r.IntN(60)), 255}
		said := [4]string{"1", "3", "5", "8"}
		sheetOf := func() *image.NRGBA { return costs(t, rand.New(rand.NewPCG(8, n)), letters, height, ink, said) }
		before := sheetOf()
		anew := sheet.Compare(before, asJPEG(before, quality), grid, grid)
		require.Len(t, anew, 4)
		for _, d := range anew {
			assert.Equal(t, "saved anew", d.What, "%d: letters of %.0f pixels, quality %d", n, height, quality)
		}
		changed := r.IntN(4)
		said[changed] = fmt.Sprint((int(said[changed][0]-'0') + 1 + r.IntN(8)) % 10)
		for _, d := range sheet.Compare(before, asJPEG(sheetOf(), quality), grid, grid) {
			want := "saved anew"
			if d.After == changed+1 {
				want = "changed"
			}
			assert.Equal(t, want, d.What, "%d, cell %d: letters of %.0f pixels, quality %d, now %s", n, d.After, height, quality, said[changed])
		}
	}
}
