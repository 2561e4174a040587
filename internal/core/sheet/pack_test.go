package sheet_test

import (
	"fmt"
	"image"
	"image/color"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/sheet"
)

// loose are pictures of cards, each its own, those at the given places of another size.
func loose(n int, size image.Point, others map[int]image.Point) (sources []sheet.Source) {
	s := chance.Derive(chance.Seed{7}, uint64(n), "")
	for i := range n {
		at := size
		if other, is := others[i]; is {
			at = other
		}
		picture := image.NewNRGBA(image.Rectangle{Max: at})
		drawCard(picture, s, "framed")
		picture.SetNRGBA(0, 0, color.NRGBA{200, 0, 0, 90}) // a corner that lets the table through
		sources = append(sources, sheet.Source{
			File: fmt.Sprintf("card-%02d.png", i), Hash: fmt.Sprint(i), Size: at,
			Open: func() (image.Image, error) { return picture, nil },
		})
	}
	return sources
}

func opened(t *testing.T, s sheet.Source) *image.NRGBA {
	picture, err := s.Open()
	require.NoError(t, err)
	return picture.(*image.NRGBA)
}

func TestPackingThenCuttingGivesTheSamePicturesBack(t *testing.T) {
	sources := loose(15, image.Pt(60, 84), nil)
	packed, err := sheet.Pack{}.Sheets(sources)
	require.NoError(t, err)
	require.Len(t, packed, 1)
	g := packed[0].List.Grid()
	assert.Equal(t, sheet.Grid{Columns: 5, Rows: 3, Count: 15}, g, "no cell is left empty")
	for i, s := range sources {
		assert.Equal(t, opened(t, s).Pix, tight(sheet.Cut(packed[0].Sheet, g, i+1)).Pix, s.File)
	}
	assert.Empty(t, sheet.Check(packed[0].Sheet, g).Problems())
}

// tight copies a picture that shares its pixels with a larger one.
func tight(p *image.NRGBA) *image.NRGBA {
	own := image.NewNRGBA(p.Rect)
	for y := range p.Rect.Dy() {
		copy(own.Pix[y*own.Stride:], p.Pix[y*p.Stride:y*p.Stride+4*p.Rect.Dx()])
	}
	return own
}

func TestPicturesOnTheirSideAreTurned(t *testing.T) {
	sources := loose(6, image.Pt(60, 84), map[int]image.Point{2: {84, 60}})
	packed, err := sheet.Pack{}.Sheets(sources)
	require.NoError(t, err)
	assert.True(t, packed[0].List.Sources[2].Turned)
	cut, was := sheet.Cut(packed[0].Sheet, packed[0].List.Grid(), 3), opened(t, sources[2])
	assert.Equal(t, was.NRGBAAt(10, 50), cut.NRGBAAt(60-1-50, 10), "a quarter clockwise")

	lying, err := sheet.Pack{Lie: "landscape"}.Sheets(sources)
	require.NoError(t, err)
	assert.Equal(t, [2]int{84, 60}, lying[0].List.Card)
	assert.False(t, lying[0].List.Sources[2].Turned)
}

func TestPicturesOfAnotherShapeAreNamedOrFitted(t *testing.T) {
	sources := loose(6, image.Pt(60, 84), map[int]image.Point{4: {60, 60}})
	_, err := sheet.Pack{}.Sheets(sources)
	assert.EqualError(t, err, "the cards are 60 × 84 pixels, but card-04.png is 60 × 60; mend them, or have them fitted")
	packed, err := sheet.Pack{Fit: true}.Sheets(sources)
	require.NoError(t, err)
	cut := sheet.Cut(packed[0].Sheet, packed[0].List.Grid(), 5)
	assert.Zero(t, cut.NRGBAAt(30, 5).A, "a rim above")
	assert.NotZero(t, cut.NRGBAAt(30, 42).A)
}

func TestWhereOneSheetIsFullAnotherIsBegun(t *testing.T) {
	sources := loose(20, image.Pt(200, 280), nil)
	packed, err := sheet.Pack{Longest: 1000}.Sheets(sources)
	require.NoError(t, err)
	cards := 0
	for _, one := range packed {
		assert.LessOrEqual(t, max(one.Sheet.Rect.Dx(), one.Sheet.Rect.Dy()), 1000)
		assert.Equal(t, 1.0, one.List.Scale, "at their own size")
		for i, s := range sources[cards : cards+one.List.Count] {
			assert.Equal(t, opened(t, s).Pix, tight(sheet.Cut(one.Sheet, one.List.Grid(), i+1)).Pix, s.File)
		}
		cards += one.List.Count
	}
	assert.Len(t, packed, 2)
	assert.Equal(t, 20, cards)
}

func TestWhatDoesNotFitAtItsOwnSizeIsScaledAndSaysIt(t *testing.T) {
	large, err := sheet.Pack{Longest: 140}.Sheets(loose(3, image.Pt(200, 280), nil))
	require.NoError(t, err)
	assert.Len(t, large, 3)
	assert.Equal(t, 0.5, large[0].List.Scale, "one card is larger than a sheet")

	wide, err := sheet.Pack{Columns: 10, Longest: 1000}.Sheets(loose(20, image.Pt(200, 280), nil))
	require.NoError(t, err)
	require.Len(t, wide, 1)
	assert.Equal(t, []any{10, 0.5}, []any{wide[0].List.Columns, wide[0].List.Scale}, "as many columns as asked for")
}

func TestPackingAgainDrawsOnlyWhatChanged(t *testing.T) {
	sources := loose(12, image.Pt(60, 84), nil)
	before, err := sheet.Pack{}.Sheets(sources)
	require.NoError(t, err)
	assert.Equal(t, 12, before[0].Drawn)
	text, err := before[0].List.Write()
	require.NoError(t, err)
	list, err := sheet.ReadList(text)
	require.NoError(t, err)
	former := sheet.Former{List: list, Open: func() (image.Image, error) { return before[0].Sheet, nil }}

	changed := loose(13, image.Pt(60, 84), nil)
	sources[4] = changed[12]
	after, err := sheet.Pack{}.Sheets(sources, former)
	require.NoError(t, err)
	assert.Equal(t, 1, after[0].Drawn)
	anew, err := sheet.Pack{}.Sheets(sources)
	require.NoError(t, err)
	assert.Equal(t, anew[0].Sheet.Pix, after[0].Sheet.Pix)
	assert.Equal(t, []sheet.Difference{{What: "changed", Before: 5, After: 5}},
		sheet.Compare(before[0].Sheet, after[0].Sheet, before[0].List.Grid(), after[0].List.Grid()))
}

func TestCompareTellsWhatMovedCameAndWent(t *testing.T) {
	sources := loose(8, image.Pt(40, 56), nil)
	before, err := sheet.Pack{Columns: 4}.Sheets(sources[:6])
	require.NoError(t, err)
	after, err := sheet.Pack{Columns: 4}.Sheets([]sheet.Source{sources[0], sources[2], sources[6], sources[3], sources[4]})
	require.NoError(t, err)
	assert.Equal(t, []sheet.Difference{
		{What: "moved", Before: 3, After: 2}, {What: "added", After: 3}, {What: "removed", Before: 2}, {What: "removed", Before: 6},
	}, sortedByWhat(sheet.Compare(before[0].Sheet, after[0].Sheet, before[0].List.Grid(), after[0].List.Grid())))
}

// A sheet that was saved with another program's noise is not told to have changed.
func TestASheetThatWasSavedAnewHasNotChanged(t *testing.T) {
	s := drawStyled(t, "bordered", 3)
	before := sheet.NRGBA(s.picture)
	after := image.NewNRGBA(before.Rect)
	copy(after.Pix, before.Pix)
	for i := range after.Pix {
		if i%4 != 3 {
			after.Pix[i] = uint8(min(255, int(after.Pix[i])+i%3))
		}
	}
	r := s.Cell(before.Rect.Size(), 2)
	fill(after, image.Rect(r.Min.X+20, r.Min.Y+20, r.Max.X-20, r.Min.Y+60), grey)
	for _, d := range sheet.Compare(before, after, s.Grid, s.Grid) {
		want := "saved anew"
		if d.After == 2 {
			want = "changed"
		}
		assert.Equal(t, want, d.What, "cell %d", d.After)
	}
}

// sortedByWhat leaves out the order in which additions and removals are told.
func sortedByWhat(all []sheet.Difference) (sorted []sheet.Difference) {
	for _, what := range []string{"changed", "moved", "added", "removed"} {
		for _, d := range all {
			if d.What == what {
				sorted = append(sorted, d)
			}
		}
	}
	return sorted
}

func FuzzReadList(f *testing.F) {
	f.Add([]byte("columns: 4\nrows: 4\ncount: 15\nsources:\n- {cell: 1, file: a.png}\n"))
	f.Fuzz(func(t *testing.T, text []byte) {
		l, err := sheet.ReadList(text)
		if err != nil {
			return
		}
		again, err := l.Write()
		require.NoError(t, err)
		_, err = sheet.ReadList(again)
		require.NoError(t, err, "%s", again)
	})
}
