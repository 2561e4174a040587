package sheet_test

import (
	"image"
	"image/color"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/sheet"
)

// A border that all cards share, such as a stamp's holes, goes on from card to card
// and is no picture that was cut through.
func TestABorderThatAllCardsShareIsNoWarning(t *testing.T) {
	stamps := demo.Pictures()["stamps-permits.png"]
	assert.Empty(t, sheet.Check(stamps, sheet.Grid{Columns: 6, Rows: 6}).Problems())
	wrong := sheet.Check(stamps, sheet.Grid{Columns: 5, Rows: 6}).Problems()
	assert.NotEmpty(t, wrong)
	assert.Contains(t, wrong[0], "cell 1 (column 1, row 1): the cut to cell 2 runs through content")
}

// A cut that runs through content at most cards of its line is named at each; cards that go on in
// one another, as two halves of a bridge do, are as their maker drew them.
func TestCutsThroughContentAreNamed(t *testing.T) {
	g := sheet.Grid{Columns: 3, Rows: 3}
	picture := drawn(g, 120, 160, 0)
	assert.Empty(t, sheet.Check(picture, g).Problems())
	goOn := func(row int) { // one picture that goes on from the second column into the third
		for y := 160 * row; y < 160*(row+1); y++ {
			for x := 200; x < 280; x++ {
				picture.SetNRGBA(x, y, color.NRGBA{uint8(y * 7), uint8(y * 3), uint8(40 * row), 255})
			}
		}
	}
	goOn(0)
	assert.Empty(t, sheet.Check(picture, g).Problems())
	goOn(2)
	assert.Equal(t, []string{
		"cell 2 (column 2, row 1): the cut to cell 3 runs through content", "cell 8 (column 2, row 3): the cut to cell 9 runs through content",
	}, sheet.Check(picture, g).Problems())
}

func TestContentInAGutterOrAMarginIsACutThroughContent(t *testing.T) {
	p := plan{Grid: sheet.Grid{Columns: 4, Rows: 2, Margin: sheet.Around(30), Gutter: sheet.Between(16)}, wide: 180, high: 250, ground: white, look: "framed"}
	picture := p.draw(t)
	assert.Empty(t, sheet.Check(picture, p.Grid).Problems())
	shifted := p.Grid
	shifted.Margin = sheet.Around(44)
	wrong := sheet.Check(picture, shifted)
	assert.NotEmpty(t, wrong.Problems())
	assert.Equal(t, []string{"the picture looks like margin 30 and gutter 16, not 44 and 16"}, wrong.Notes)
	tight := p.Grid
	tight.Gutter = sheet.Between(40)
	assert.NotEmpty(t, throughContent(sheet.Check(picture, tight)))
}

func TestAnUnsureGuessSaysWhatElseItMightBe(t *testing.T) {
	noise := image.NewNRGBA(image.Rect(0, 0, 400, 300))
	s := chance.Derive(chance.Seed{1}, 1, "")
	for i := range noise.Pix {
		noise.Pix[i] = uint8(s.Below(256)) | 1
	}
	report, err := sheet.LookOver(noise, sheet.Grid{})
	require.NoError(t, err)
	assert.Contains(t, report.Warnings[0], "columns and rows are guessed, and not surely: 1 column × 1 row")
	report, err = sheet.LookOver(noise, sheet.Grid{Columns: 3})
	require.NoError(t, err)
	assert.Equal(t, 3, report.Grid.Columns, "what is given is not guessed")
	_, err = sheet.LookOver(noise, sheet.Grid{Columns: 3, Rows: 3, Count: 10})
	assert.EqualError(t, err, "3 columns × 3 rows are 9 cells, so they cannot hold 10 cards")
}

func TestACountIsComparedWithTheContent(t *testing.T) {
	g := sheet.Grid{Columns: 4, Rows: 3}
	picture := drawn(g, 120, 160, 3)
	for count, want := range map[int][]string{
		0: nil, 9: nil,
		10: {"cell 10 (column 2, row 3): empty, but the sheet is to have 10 cards"},
		8:  {"cell 9 (column 1, row 3): holds content, but the sheet is to have 8 cards"},
	} {
		g.Count = count
		assert.ElementsMatch(t, want, sheet.Check(picture, g).Problems(), "count %d", count)
	}
	g.Count = 8
	assert.Empty(t, sheet.Check(picture, g).ProblemsBut(map[int]bool{9: true}), "a back may lie there")
}

func TestSheetsOfBacksAreComparedWithTheirFronts(t *testing.T) {
	g := sheet.Grid{Columns: 3, Rows: 2}
	fronts := sheet.Check(drawn(g, 120, 160, 1), g)
	assert.Empty(t, sheet.Backs(fronts, sheet.Check(drawn(g, 240, 320, 1), g)), "another size of the same shape will do")
	assert.Equal(t, []string{"cell 5 has a front and no back"}, sheet.Backs(fronts, sheet.Check(drawn(g, 120, 160, 2), g)))
	assert.Equal(t, []string{"cell 6 has a back and no front"}, sheet.Backs(fronts, sheet.Check(drawn(g, 120, 160, 0), g)))
	assert.Equal(t, []string{"the cells of the backs are 160 × 120 pixels, those of the fronts 120 × 160: not one shape"},
		sheet.Backs(fronts, sheet.Check(drawn(g, 160, 120, 1), g)))
	other := sheet.Grid{Columns: 2, Rows: 2}
	assert.Equal(t, []string{"the backs are 2 columns × 2 rows, the fronts 3 × 2"}, sheet.Backs(fronts, sheet.Check(drawn(other, 120, 160, 0), other)))
}

func TestAMarkedSheetShowsCutsEmptyCellsAndPins(t *testing.T) {
	g := sheet.Grid{Columns: 3, Rows: 2}
	picture := drawn(g, 120, 160, 1)
	marked := sheet.Marked(picture, sheet.Check(picture, g))
	assert.Equal(t, picture.Rect.Size(), marked.Rect.Size())
	assert.Equal(t, color.NRGBA{214, 40, 96, 255}, marked.NRGBAAt(121, 80), "a cut")
	empty := marked.NRGBAAt(300, 240)
	assert.True(t, empty.R < 200 && empty.R == marked.NRGBAAt(310, 250).R, "an empty cell is greyed")
	pinned := sheet.Marked(picture, sheet.Check(picture, sheet.Grid{Columns: 2, Rows: 2}))
	assert.Equal(t, color.NRGBA{176, 84, 0, 255}, pinned.NRGBAAt(6, 6), "a pin on a cell with a warning")
	large := drawn(sheet.Grid{Columns: 10, Rows: 2}, 300, 420, 0)
	assert.Equal(t, 1600, sheet.Marked(large, sheet.Check(large, sheet.Grid{Columns: 10, Rows: 2})).Rect.Dx(), "made smaller to be looked at")
}

func TestFilesAreOrderedAsPeopleDo(t *testing.T) {
	names := []string{"card-10.png", "card-9.png", "card-09.png", "b.png", "card-2b.png", "card-2a.png", "card.png"}
	slices.SortStableFunc(names, sheet.CompareNames)
	assert.Equal(t, []string{"b.png", "card-2a.png", "card-2b.png", "card-9.png", "card-09.png", "card-10.png", "card.png"}, names)
}

func TestTheSizeIsReadOffTheHeader(t *testing.T) {
	size, err := sheet.Size(demo.PNG(drawn(sheet.Grid{Columns: 2, Rows: 1}, 30, 20, 0)))
	require.NoError(t, err)
	assert.Equal(t, image.Pt(60, 20), size)
	_, err = sheet.Size([]byte("GIF89a"))
	assert.ErrorContains(t, err, "no PNG, JPEG, GIF, WebP, TIFF or BMP picture")
}

// Whatever numbers are given, no cell leaves the picture and no two overlap.
func TestNoGridThatFitsLeavesThePicture(t *testing.T) {
	s := chance.Derive(chance.Seed{5}, 1, "")
	n := func(most int) int { return int(s.Below(uint64(most))) }
	fitting := 0
	for range 4000 {
		size := image.Pt(20+n(500), 20+n(500))
		g := sheet.Grid{Columns: 1 + n(9), Rows: 1 + n(9), Margin: sheet.Margin{n(30), n(30), n(30), n(30)}, Gutter: sheet.Gutter{n(20), n(20)}}
		if g.Fits(size) != nil {
			continue
		}
		fitting++
		for cell := 1; cell <= g.Cells(); cell++ {
			r := g.Cell(size, cell)
			require.True(t, r.In(image.Rectangle{Max: size}), "%+v on %v: cell %d is %v", g, size, cell, r)
			if cell%g.Columns != 0 {
				require.GreaterOrEqual(t, g.Cell(size, cell+1).Min.X, r.Max.X)
			}
		}
	}
	assert.Greater(t, fitting, 500)
}
