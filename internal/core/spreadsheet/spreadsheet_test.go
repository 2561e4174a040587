package spreadsheet_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/spreadsheet"
)

var limits = spreadsheet.Limits{Rows: 20, Columns: 10}

// book is a spreadsheet that a library made, changed by a test.
func book(t *testing.T, change func(*excelize.File)) []byte {
	b := excelize.NewFile()
	defer b.Close()
	change(b)
	out, err := b.WriteToBuffer()
	require.NoError(t, err)
	return out.Bytes()
}

func set(t *testing.T, b *excelize.File, at string, value any) {
	require.NoError(t, b.SetCellValue("Sheet1", at, value))
}

// What was written is read as it was, whatever stands in the cells.
func TestWhatIsWrittenIsReadAgain(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		cell := rapid.StringMatching(`[a-zÄ潮=+"'<&, #0-9-]{0,12}`).Filter(func(s string) bool { return s == strings.TrimSpace(s) })
		var tabs []spreadsheet.Tab
		for _, name := range rapid.SliceOfNDistinct(rapid.StringMatching(`[A-Zü][a-z ]{0,8}[a-z]`), 1, 3, strings.ToLower).Draw(t, "names") {
			tab := spreadsheet.Tab{Name: name}
			for range rapid.IntRange(1, 6).Draw(t, "rows") {
				row := rapid.SliceOfN(cell, 1, 5).Draw(t, "row")
				row[len(row)-1] += "." // a row ends with what stands in it
				tab.Rows = append(tab.Rows, row)
			}
			tabs = append(tabs, tab)
		}
		file, err := spreadsheet.Write(tabs)
		require.NoError(t, err)
		read, err := spreadsheet.Read(file, limits)
		require.NoError(t, err)
		require.Equal(t, tabs, read)
	})
}

func TestCellsShowWhatAPersonSees(t *testing.T) {
	file := book(t, func(b *excelize.File) {
		set(t, b, "A1", "district")
		set(t, b, "B1", "title")
		set(t, b, "C1", "copies")
		set(t, b, "A2", "Low Dock")
		require.NoError(t, b.MergeCell("Sheet1", "A2", "A4"))
		for row, title := range map[string]string{"2": "Heron", "3": "Otter", "4": "Reed"} {
			set(t, b, "B"+row, title)
		}
		set(t, b, "C2", 2.50)
		require.NoError(t, b.SetCellFormula("Sheet1", "C3", "1+1"))
	})
	tabs, err := spreadsheet.Read(file, limits)
	require.NoError(t, err)
	require.Len(t, tabs, 1)
	assert.Equal(t, [][]string{{"district", "title", "copies"}, {"Low Dock", "Heron", "2.5"}, {"Low Dock", "Otter", ""}, {"Low Dock", "Reed"}}, tabs[0].Rows,
		"a merged cell stands in each of its rows")
	assert.Equal(t, []string{"1 formula has no value (C3); open the file in a spreadsheet program and save it, so that it is computed"}, tabs[0].Notes)
}

func TestWhatIsTooLargeIsToldWithItsRow(t *testing.T) {
	for _, c := range []struct {
		at    string
		row   int
		wrong string
	}{
		{"K3", 3, "this row reaches to column 11; a table has 10 columns at most. Perhaps a cell far to the right holds a space"},
		{"A21", 21, "the table has more than 19 rows, which is the most it may have"},
	} {
		tabs, err := spreadsheet.Read(book(t, func(b *excelize.File) { set(t, b, "A1", "title"); set(t, b, c.at, "x") }), limits)
		require.NoError(t, err, c.at)
		assert.Equal(t, c.row, tabs[0].Row, c.at)
		assert.Contains(t, tabs[0].Wrong, c.wrong, c.at)
	}
}

func TestWhatIsNoSpreadsheetIsSaid(t *testing.T) {
	whole := book(t, func(b *excelize.File) { set(t, b, "A1", "title") })
	for name, file := range map[string][]byte{"nothing": nil, "text": []byte("title\nHeron\n"), "cut short": whole[:len(whole)/2], "a broken part": bytes.Replace(whole, []byte("xl/"), []byte("yl/"), -1)} {
		_, err := spreadsheet.Read(file, limits)
		assert.ErrorContains(t, err, "save it", name)
	}
}
