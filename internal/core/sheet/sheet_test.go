package sheet_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"image/png"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/sheet"
)

// drawn makes a sheet of cards with a border, a title bar and blots of their
// own, the last few cells empty.
func drawn(g sheet.Grid, wide, high, empty int) *image.NRGBA {
	picture := image.NewNRGBA(image.Rect(0, 0, g.Columns*wide, g.Rows*high))
	draw.Draw(picture, picture.Rect, image.White, image.Point{}, draw.Src)
	s := chance.Derive(chance.Seed{byte(g.Columns), byte(g.Rows)}, uint64(wide), "")
	shade := func() color.NRGBA {
		w := s.Word()
		return color.NRGBA{uint8(w), uint8(w >> 8), uint8(w >> 16), 255}
	}
	for cell := 1; cell <= g.Cells()-empty; cell++ {
		r := g.Cell(picture.Rect.Size(), cell)
		draw.Draw(picture, r, image.NewUniform(color.NRGBA{30, 40, 50, 255}), image.Point{}, draw.Src)
		inner := r.Inset(4)
		draw.Draw(picture, inner, image.NewUniform(shade()), image.Point{}, draw.Src)
		for range 24 {
			x, y := inner.Min.X+int(s.Below(uint64(inner.Dx()))), inner.Min.Y+int(s.Below(uint64(inner.Dy())))
			blot := image.Rect(x, y, x+wide/5, y+high/6).Intersect(inner)
			draw.Draw(picture, blot, image.NewUniform(shade()), image.Point{}, draw.Src)
		}
	}
	return picture
}

// Of every hundred sheets 95 are guessed right, and none is silently wrong: a
// wrong guess is unsure, or the check with it warns.
func TestTheGridIsGuessed(t *testing.T) {
	right, silent := 0, 0
	for _, p := range plans() {
		picture := p.draw(t)
		guess := sheet.Guess(picture, sheet.Grid{})[0]
		rimSeen := p.look != "white" || p.ground != white && p.ground != transparent // white edges on white: nobody can tell
		if guess.Columns == p.Columns && guess.Rows == p.Rows && (!rimSeen || abs(guess.Margin[0]-p.Margin[0]) <= 1 && abs(guess.Gutter[0]-p.Gutter[0]) <= 2) {
			right++
			continue
		}
		report, err := sheet.LookOver(picture, sheet.Grid{})
		require.NoError(t, err)
		t.Logf("%v\n guessed %+v, %d problems", p, report.Guesses, len(report.Problems()))
		if len(report.Problems()) == 0 {
			silent++
		}
	}
	t.Logf("%d of %d sheets guessed right, %d silently wrong", right, len(plans()), silent)
	assert.GreaterOrEqual(t, right*100, len(plans())*95)
	assert.Zero(t, silent)
	assert.Equal(t, sheet.Grid{Columns: 4, Rows: 4}, sheet.Guess(demo.DrawWeather(), sheet.Grid{})[0].Grid)
}

// Whoever types wrong numbers is told, on every kind of sheet.
func TestWrongNumbersAreSeenOnEverySheet(t *testing.T) {
	for _, p := range plans() {
		picture := p.draw(t)
		for _, off := range []image.Point{{1, 0}, {-1, 0}, {0, 1}, {0, -1}} {
			wrong := p.Grid
			wrong.Columns, wrong.Rows = p.Columns+off.X, p.Rows+off.Y
			if wrong.Fits(picture.Bounds().Size()) == nil {
				report := sheet.Check(picture, wrong)
				assert.NotEmpty(t, append(report.Problems(), report.Notes...), "%v\n read as %d × %d", p, wrong.Columns, wrong.Rows)
			}
		}
		assert.Empty(t, throughContent(sheet.Check(picture, p.Grid)), "%v: right numbers are no cut through content", p)
	}
}

// throughContent are the problems of a report that speak of cuts.
func throughContent(r sheet.Report) (cuts []string) {
	for _, problem := range r.Problems() {
		if strings.Contains(problem, "runs through") {
			cuts = append(cuts, problem)
		}
	}
	return cuts
}

func abs(n int) int { return max(n, -n) }

func TestCheckFindsContentAndEmptyCells(t *testing.T) {
	g := sheet.Grid{Columns: 5, Rows: 3}
	report := sheet.Check(drawn(g, 126, 176, 4), g)
	assert.Equal(t, 11, report.Content())
	assert.Empty(t, report.Problems())
	assert.True(t, report.Cells[14].Empty)
	assert.Equal(t, 3, report.Cells[14].Row)
}

func TestWrongNumbersAreSeen(t *testing.T) {
	g := sheet.Grid{Columns: 5, Rows: 3}
	picture := drawn(g, 126, 176, 0)
	for _, wrong := range []sheet.Grid{{Columns: 4, Rows: 3}, {Columns: 6, Rows: 3}, {Columns: 5, Rows: 2}, {Columns: 5, Rows: 4}} {
		assert.NotEmpty(t, sheet.Check(picture, wrong).Problems(), "%d × %d is silently wrong", wrong.Columns, wrong.Rows)
	}
	draw.Draw(picture, g.Cell(picture.Rect.Size(), 7), image.Transparent, image.Point{}, draw.Src)
	report := sheet.Check(picture, g)
	assert.Empty(t, report.Problems(), "a plain cell that nobody counts is no card, and stops nobody")
	assert.Contains(t, report.Notes, "plain cells that are left out, though cells with content come after them: 7")
	g.Count = 15
	assert.Equal(t, []string{"cell 7 (column 2, row 2): empty, but the sheet is to have 15 cards"}, sheet.Check(picture, g).Problems())
}

func TestGridsThatDoNotFitAreRefused(t *testing.T) {
	for g, want := range map[sheet.Grid]string{
		{Columns: 0, Rows: 3}:                            "columns and rows must be at least 1, not 0 and 3",
		{Columns: 2000, Rows: 3}:                         "2000 columns × 3 rows are more than 1000 cells",
		{Columns: 30, Rows: 3}:                           "30 columns × 3 rows leave cells under 8 pixels on a picture of 200 × 100",
		{Columns: 2, Rows: 2, Margin: sheet.Around(900)}: "margin and gutter must be between 0 and 200 pixels, not 900 and 0",
	} {
		assert.EqualError(t, g.Fits(image.Pt(200, 100)), want)
	}
}

func TestCellsHaveOneSizeAndNeverDrift(t *testing.T) {
	g, size := sheet.Grid{Columns: 7, Rows: 3, Margin: sheet.Around(5), Gutter: sheet.Between(2)}, image.Pt(1003, 500)
	first := g.Cell(size, 1)
	for cell := 1; cell <= g.Cells(); cell++ {
		r := g.Cell(size, cell)
		assert.Equal(t, first.Size(), r.Size())
		assert.True(t, r.In(image.Rect(5, 5, 998, 495)), "cell %d at %v", cell, r)
	}
	assert.InDelta(t, 998, g.Cell(size, 7).Max.X, 1)
}

func TestCutGivesTheCellsPicture(t *testing.T) {
	g := sheet.Grid{Columns: 3, Rows: 2}
	picture := drawn(g, 60, 90, 0)
	cut := sheet.Cut(picture, g, 5)
	assert.Equal(t, image.Pt(60, 90), cut.Rect.Size())
	assert.Equal(t, picture.NRGBAAt(60+30, 90+45), cut.NRGBAAt(30, 45))
}

func TestReadTakesJPEGToo(t *testing.T) {
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, drawn(sheet.Grid{Columns: 2, Rows: 2}, 100, 140, 0), nil))
	picture, err := sheet.Read(out.Bytes())
	require.NoError(t, err)
	assert.Equal(t, image.Pt(200, 280), picture.Bounds().Size())
}

func TestTheDemosPicturesAreTheOnesItsProgramDraws(t *testing.T) {
	kept, err := demo.Kit().Open("weather.png")
	require.NoError(t, err)
	defer kept.Close()
	decoded, err := png.Decode(kept)
	require.NoError(t, err)
	again := demo.DrawWeather()
	require.Equal(t, again.Bounds(), decoded.Bounds())
	for y := range again.Bounds().Dy() {
		for x := range again.Bounds().Dx() {
			if color.NRGBAModel.Convert(decoded.At(x, y)) != color.NRGBAModel.Convert(again.At(x, y)) {
				t.Fatalf("pixel %d, %d differs; run make draw", x, y)
			}
		}
	}
}

func FuzzRead(f *testing.F) {
	small := demo.PNG(drawn(sheet.Grid{Columns: 2, Rows: 1}, 16, 16, 0))
	f.Add(small)
	f.Add(small[:len(small)/2])
	f.Fuzz(func(t *testing.T, file []byte) {
		picture, err := sheet.Read(file)
		if err != nil || picture.Bounds().Dx()*picture.Bounds().Dy() > 1<<20 {
			return
		}
		g := sheet.Guess(picture, sheet.Grid{})[0].Grid
		if g.Fits(picture.Bounds().Size()) == nil {
			_ = sheet.Check(picture, g)
		}
	})
}

func ExampleCheck() {
	picture := demo.DrawWeather()
	report := sheet.Check(picture, sheet.Grid{Columns: 4, Rows: 4})
	fmt.Println(report.Content(), "cells with content,", len(report.Problems()), "warnings")
	// Output: 14 cells with content, 0 warnings
}
