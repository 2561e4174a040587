package deck_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
	"golang.org/x/text/encoding/unicode"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/deck"
)

func utf16(text string) []byte {
	encoded, err := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewEncoder().String(text)
	if err != nil {
		panic(err)
	}
	return []byte(encoded)
}

func TestTableFilesAreReadHoweverTheyWereSaved(t *testing.T) {
	for name, file := range map[string][]byte{
		"comma":          []byte("title,copies,verse\nFog,2,\"One, two\"\nCalm,,\"A \"\"quoted\"\" word\nand a line\"\n"),
		"semicolon":      []byte("title;copies;verse\nFog;2;One, two\nCalm;;\"A \"\"quoted\"\" word\nand a line\"\n"),
		"tab, marked":    []byte("\xef\xbb\xbftitle\tcopies\tverse\nFog\t2\tOne, two\nCalm\t\t\"A \"\"quoted\"\" word\nand a line\""),
		"UTF-16":         utf16("title;copies;verse\r\nFog;2;One, two\r\nCalm;;\"A \"\"quoted\"\" word\r\nand a line\"\r\n"),
		"empty rows too": []byte("title,copies,verse,,\nFog,2,\"One, two\",,\n,,,,\nCalm,,\"A \"\"quoted\"\" word\nand a line\",,\n"),
	} {
		t.Run(name, func(t *testing.T) {
			rows, err := deck.ReadCSV(file)
			require.NoError(t, err)
			cards, mistakes := rows.Cards()
			require.Empty(t, mistakes)
			require.Len(t, cards, 2)
			assert.Equal(t, []int{2, 1}, []int{cards[0].Copies, cards[1].Copies}, "copies default to one")
			assert.Equal(t, "One, two", cards[0].Fields["verse"])
			assert.Equal(t, "A \"quoted\" word\nand a line", cards[1].Fields["verse"])
			assert.Equal(t, "fog", cards[0].Key)
		})
	}
}

func TestMistakesInRowsNameRowAndColumn(t *testing.T) {
	for file, want := range map[string]string{
		"":                                  "row 1: the file is empty; its first row names the columns",
		"a,,b\n1,2,3\n":                     "row 1: column 2 has no name",
		"a,A\n1,2\n":                        `row 1, column "A": two columns have this name`,
		"a,b\n1,2\n1,2,3\n":                 `row 3: cell 3 holds "3", but the first row names 2 columns`,
		"title,copies\nFog,two\n":           `row 2, column "copies": copies are a whole number from 0 to 1000, not "two"; leave the cell empty for one`,
		"key,title\nfog,Fog\nF O G,Fog\n":   `row 3, column "key": a key has small letters, digits and hyphens, at most 40; "F O G" does not`,
		"title\nFog\nCalm\nFog\n":           `row 4, column "title": row 2 has the name "Fog" already; if it is the same card, say in a column "copies" how often it is there, else give each a key of its own in a column "key"`,
		"title\nWind – west\nWind west\n":   `row 3: has the key "wind-west", which row 2 has already; give each row a key of its own in a column "key"`,
		"title\n\"Fog\n":                    "row 2: line 2: a quote (\") is not closed, or stands inside a cell without being doubled",
		"title\n\xff\x01\xfa\n":             "the file is no text; save it as CSV with the encoding UTF-8",
		"t\n" + strings.Repeat("x", 70_000): `row 2, column "t": the cell has 70000 bytes; it may have 65536`,
	} {
		rows, err := deck.ReadCSV([]byte(file))
		if err == nil {
			_, mistakes := rows.Cards()
			require.NotEmpty(t, mistakes, "%q", file)
			err = mistakes[0]
		}
		assert.EqualError(t, err, want, "%.40q", file)
	}
}

// Exporting gives the same file back, to the byte.
func TestATableFileIsWrittenAsItWasRead(t *testing.T) {
	rapid.Check(t, func(r *rapid.T) {
		comma := rapid.SampledFrom([]string{",", ";", "\t"}).Draw(r, "comma")
		end := rapid.SampledFrom([]string{"\n", "\r\n"}).Draw(r, "end")
		cell := rapid.Custom(func(r *rapid.T) string {
			text := rapid.StringMatching(`[a-zäöü0-9 .!]{0,12}`).Draw(r, "text")
			if strings.HasPrefix(text, " ") || rapid.Bool().Draw(r, "quoted") {
				return `"` + text + rapid.SampledFrom([]string{"", `""`, comma, end}).Draw(r, "sign") + `"`
			}
			return text
		})
		columns := rapid.IntRange(2, 5).Draw(r, "columns")
		lines := []string{}
		for i := range columns {
			lines = append(lines, fmt.Sprint("column", i))
		}
		text := strings.Join(lines, comma)
		for range rapid.IntRange(1, 6).Draw(r, "rows") {
			cells := []string{"x"}
			for range columns - 1 {
				cells = append(cells, cell.Draw(r, "cell"))
			}
			text += end + strings.Join(cells, comma)
		}
		if rapid.Bool().Draw(r, "last line ends") {
			text += end
		}
		file := []byte(text)
		switch rapid.IntRange(0, 2).Draw(r, "encoding") {
		case 1:
			file = append([]byte("\xef\xbb\xbf"), file...)
		case 2:
			file = utf16(text)
		}
		rows, err := deck.ReadCSV(file)
		require.NoError(r, err)
		assert.Equal(r, string(file), string(rows.WriteCSV()))
	})
}

func TestAChangedCellLeavesTheOthersAsTheyWere(t *testing.T) {
	rows, err := deck.ReadCSV([]byte("title;\"copies\"\nFog;\"2\"\nCalm;1\n"))
	require.NoError(t, err)
	cells := [][]string{{"Fog; thick", "2"}, {"Calm", "1"}, {"Ice", "3"}}
	assert.Equal(t, "title;\"copies\"\n\"Fog; thick\";\"2\"\nCalm;1\nIce;3\n", string(rows.With(rows.Header, cells).WriteCSV()))
}

func TestASpreadsheetGivesItsValues(t *testing.T) {
	rows, err := deck.ReadCSV([]byte("title,copies,verse\nFog,2,One\nCalm,,=1+1\n"))
	require.NoError(t, err)
	file, err := rows.WriteSpreadsheet()
	require.NoError(t, err)
	again, err := deck.ReadSpreadsheet(file, "")
	require.NoError(t, err)
	assert.Equal(t, rows.Header, again.Header)
	assert.Equal(t, rows.Cells, again.Cells, "what looks like a formula stays text")

	book := excelize.NewFile()
	require.NoError(t, book.SetSheetRow("Sheet1", "A1", &[]any{"title", "copies"}))
	require.NoError(t, book.SetCellStr("Sheet1", "A2", "Fog"))
	require.NoError(t, book.SetCellFormula("Sheet1", "B2", `WEBSERVICE("http://127.0.0.1:1/")`))
	require.NoError(t, book.SetCellHyperLink("Sheet1", "A2", "http://127.0.0.1:1/", "External"))
	out, err := book.WriteToBuffer()
	require.NoError(t, err)
	read, err := deck.ReadSpreadsheet(out.Bytes(), "")
	require.NoError(t, err)
	assert.Equal(t, [][]string{{"Fog", ""}}, read.Cells, "formulas are not run, links not followed")
}

func TestHostileSpreadsheetsAreRefused(t *testing.T) {
	var bomb bytes.Buffer
	w := zip.NewWriter(&bomb)
	for _, name := range []string{"[Content_Types].xml", "xl/workbook.xml", "xl/worksheets/sheet1.xml"} {
		part, err := w.Create(name)
		require.NoError(t, err)
		_, err = part.Write(bytes.Repeat([]byte("<row>   "), 10<<20))
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	require.Less(t, bomb.Len(), 1<<20)
	_, err := deck.ReadSpreadsheet(bomb.Bytes(), "")
	assert.ErrorContains(t, err, "no spreadsheet (.xlsx) that can be read")
	_, err = deck.ReadSpreadsheet([]byte("PK not at all"), "")
	assert.ErrorContains(t, err, "save it again, or save it as CSV")
}

func FuzzReadCSV(f *testing.F) {
	for _, seed := range []string{"a,b\n1,2\n", "a;b\r\n\"x\ny\";2", "\xef\xbb\xbfa\tb\n\"\"\"\"\t", string(utf16("a,b\n1,2\n"))} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, file []byte) {
		rows, err := deck.ReadCSV(file)
		if err != nil {
			return
		}
		_, _ = rows.Cards()
		again, err := deck.ReadCSV(rows.WriteCSV())
		require.NoError(t, err, "%q", rows.WriteCSV())
		assert.Equal(t, rows.Header, again.Header)
		assert.Equal(t, rows.Cells, again.Cells)
	})
}

func FuzzReadSpreadsheet(f *testing.F) {
	rows, err := deck.ReadCSV([]byte("a,b\n1,2\n"))
	require.NoError(f, err)
	file, err := rows.WriteSpreadsheet()
	require.NoError(f, err)
	f.Add(file)
	f.Fuzz(func(_ *testing.T, file []byte) { _, _ = deck.ReadSpreadsheet(file, "") })
}

// A cell far to the right once cost gigabytes.
func TestACellFarToTheRightIsRefused(t *testing.T) {
	book := excelize.NewFile()
	for row := 1; row <= 50; row++ {
		require.NoError(t, book.SetCellStr("Sheet1", fmt.Sprint("A", row), "x"))
		require.NoError(t, book.SetCellStr("Sheet1", fmt.Sprint("XFD", row), "x"))
	}
	file, err := book.WriteToBuffer()
	require.NoError(t, err)
	_, err = deck.ReadSpreadsheet(file.Bytes(), "")
	assert.ErrorContains(t, err, "this row reaches to column 16384; a table has 200 columns at most")
}

// Makers who write in other languages call the columns otherwise; what is taken for what is told.
func TestColumnsAreUnderstoodInOtherLanguages(t *testing.T) {
	for file, want := range map[string]struct {
		name   string
		copies int
		note   string
	}{
		"Titel,Anzahl\nNebel,3\n":               {"Nebel", 3, `the column "Titel" has the cards' names, the column "Anzahl" says how often each is there`},
		"Stück,Nazwa\n2,Mgła\n":                 {"Mgła", 2, `the column "Nazwa" has the cards' names, the column "Stück" says how often each is there`},
		"Τίτλος\nΟμίχλη\n":                      {"Ομίχλη", 1, `the column "Τίτλος" has the cards' names`},
		"名前,枚数\n霧,4\n":                          {"霧", 4, `the column "名前" has the cards' names, the column "枚数" says how often each is there`},
		"الاسم,العدد\nضباب,5\n":                 {"ضباب", 5, `the column "الاسم" has the cards' names, the column "العدد" says how often each is there`},
		"ti\u0301tulo,copias\nNiebla,2\n":       {"Niebla", 2, "the column \"ti\u0301tulo\" has the cards' names, the column \"copias\" says how often each is there"},
		"Titel,name,Anzahl,copies\nx,Fog,3,2\n": {"Fog", 2, ""},
		"name,Anzahl\nFog,3 Münzen\n":           {"Fog", 1, ""},
	} {
		rows, err := deck.ReadCSV([]byte(file))
		require.NoError(t, err, file)
		cards, mistakes := rows.Cards()
		require.Empty(t, mistakes, file)
		assert.Equal(t, want.name, cards[0].Name, file)
		assert.Equal(t, want.copies, cards[0].Copies, file)
		assert.Equal(t, want.note, strings.Join(rows.Notes, "; "), file)
		assert.Equal(t, file, string(rows.WriteCSV()))
		if column := rows.Copies(); column >= 0 && rows.Header[column] != "copies" {
			assert.Contains(t, cards[0].Fields, rows.Header[column], "a layout may speak of it")
		}
	}
}

// A layout that is begun fits its table, whatever its columns are.
func TestALayoutIsBegunForAnyTable(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		header := rapid.SliceOfNDistinct(rapid.SampledFrom([]string{"Text", "cost", "title", "Anzahl", "key", "名前", "copies", "a b", "Titel", "x{y", "a}b", "art"}), 1, 9, rapid.ID).Draw(t, "header")
		rows, err := deck.ReadCSV([]byte(strings.Join(header, ",") + "\n" + strings.Repeat("1,", len(header)-1) + "1\n"))
		require.NoError(t, err)
		begun := deck.Begin(rows)
		assert.Empty(t, begun.Mistakes())
		for _, field := range begun.Fields() {
			assert.Contains(t, header, field)
		}
		if column := rows.Names(); column >= 0 && len(begun.Front) > 2 {
			assert.Equal(t, "{"+rows.Header[column]+"}", begun.Front[2].Text, "the name is first")
		}
		cards, mistakes := rows.Cards()
		require.Empty(t, mistakes)
		drawn, err := artist("").Draw(begun, begun.Front, cards[0].Says())
		require.NoError(t, err)
		assert.Empty(t, drawn.Problems)
	})
}

func TestCopiesMayHaveZerosBehindThePoint(t *testing.T) {
	rows, err := deck.ReadCSV([]byte("title,copies\na,2.00\nb,3.0\nc,2.5\n"))
	require.NoError(t, err)
	cards, mistakes := rows.Cards()
	assert.Equal(t, []int{2, 3}, []int{cards[0].Copies, cards[1].Copies})
	require.Len(t, mistakes, 1)
	assert.ErrorContains(t, mistakes[0], "copies are a whole number")
}

func TestKeysAreMadeOfNamesInAnyScript(t *testing.T) {
	for name, want := range map[string]string{
		"Spring tide!": "spring-tide", "Über Öl": "ueber-oel", "Żółw i łódź": "zolw-i-lodz", "Smørrebrød": "smorrebrod", "cafe\u0301": "cafe", "Straße 7": "strasse-7",
		"漁港": "other", "--": "other", "Ḱ": "k", "Γ 3": "3",
	} {
		assert.Equal(t, want, deck.KeyFrom(name, "other"), name)
	}
}

// keysOf are the keys of rows that have these names.
func keysOf(t *testing.T, names ...string) (keys []string) {
	rows, err := deck.ReadCSV([]byte("title,copies\n" + strings.Join(names, ",1\n") + ",1\n"))
	require.NoError(t, err)
	cards, mistakes := rows.Cards()
	require.Empty(t, mistakes)
	for _, c := range cards {
		assert.True(t, deck.KeyShape(c.Key), c.Key)
		keys = append(keys, c.Key)
	}
	return keys
}

// Whatever script names are written in, different names are different cards, and a card stays what it is when rows come
// and go before it.
func TestKeysTellNamesOfAnyScriptApart(t *testing.T) {
	names := []string{"漁港", "灯台", "Über Öl", "Ο γλάρος 4", "潮が満ちる 4", "الطائر 4", "Fog 霧", "Fog 雨", "☂", "☀", strings.Repeat("Long fog ", 9) + "霧", "Wind – west", ""}
	keys := keysOf(t, names...)
	assert.Len(t, slices.Compact(slices.Sorted(slices.Values(keys))), len(names), "%v", keys)
	assert.Equal(t, "ueber-oel", keys[2])
	assert.Regexp(t, `^name-\d{9}$`, keys[0])
	assert.Regexp(t, `^4-\d{9}$`, keys[4])
	assert.Regexp(t, `^fog-\d{9}$`, keys[6])
	assert.Equal(t, []string{"wind-west", "row-14"}, keys[11:])
	assert.Equal(t, keys[:12], keysOf(t, append([]string{"Calm"}, names[:12]...)...)[1:])
	assert.Equal(t, keysOf(t, "café 霧"), keysOf(t, "cafe\u0301 霧"), "however its accents are written")
}

// What stands above the table, and cells with line breaks of their own, come back as they were.
func TestTitlesAboveTheTableAreFoundAndComeBack(t *testing.T) {
	for _, file := range []string{
		"Marsh Post,,\n\"Third draft, by Reed\",,\n,,\nname,copies,verse\nFog,2,x\n,,\nCalm,1,y\n",
		"Marsh Post\nname;verse\nFog;\"One; two\"\n",
		"name\nFog\n",
	} {
		rows, err := deck.ReadCSV([]byte(file))
		require.NoError(t, err)
		cards, mistakes := rows.Cards()
		require.Empty(t, mistakes)
		assert.Equal(t, "fog", cards[0].Key)
		if strings.HasPrefix(file, "Marsh") {
			require.NotEmpty(t, rows.Notes)
			assert.Contains(t, rows.Notes[0], "names the columns; what stands above it is left out")
		}
		if !strings.Contains(file, "\n,,\nCalm") { // an empty row among the cards is no card, and is not kept
			assert.Equal(t, file, string(rows.WriteCSV()))
		}
	}
	rows, err := deck.ReadCSV([]byte("A title\nname,copies\nFog,many\n"))
	require.NoError(t, err)
	_, mistakes := rows.Cards()
	assert.ErrorContains(t, mistakes[0], "row 3, column \"copies\"")
	assert.Equal(t, "A title\nname,copies\nFog,2\n", string(rows.With(rows.Header, [][]string{{"Fog", "2"}}).WriteCSV()))
}

func TestLineBreaksInCellsComeBackAsTheyWere(t *testing.T) {
	file := "name,verse\r\nFog,\"One\ntwo\"\r\nCalm,\"One\r\ntwo\"\r\nIce,\"a \"\"b\"\"\nc\r\nd\"\r\n"
	rows, err := deck.ReadCSV([]byte(file))
	require.NoError(t, err)
	assert.Equal(t, "One\ntwo", rows.Cells[0][1])
	assert.Equal(t, file, string(rows.WriteCSV()))
	rows.Cells[0][1] = "One\nthree"
	assert.Contains(t, string(rows.WriteCSV()), "\"One\r\nthree\"", "what changed is written like its neighbours")
}

// One workbook, a table a deck: dates as they show, cells merged over rows, formulas that were never computed.
func TestASpreadsheetHasSeveralTables(t *testing.T) {
	book := excelize.NewFile()
	require.NoError(t, book.SetSheetRow("Sheet1", "A1", &[]any{"name", "group", "day"}))
	require.NoError(t, book.SetSheetRow("Sheet1", "A2", &[]any{"Fog", "Wet"}))
	require.NoError(t, book.SetSheetRow("Sheet1", "A3", &[]any{"Rain", ""}))
	require.NoError(t, book.MergeCell("Sheet1", "B2", "B3"))
	require.NoError(t, book.SetCellValue("Sheet1", "C2", time.Date(2026, 11, 5, 0, 0, 0, 0, time.UTC)))
	require.NoError(t, book.SetCellFormula("Sheet1", "C3", "C2+1"))
	_, err := book.NewSheet("Spells")
	require.NoError(t, err)
	require.NoError(t, book.SetSheetRow("Spells", "A1", &[]any{"name", "copies"}))
	require.NoError(t, book.SetSheetRow("Spells", "A2", &[]any{"Spark", 2.0}))
	out, err := book.WriteToBuffer()
	require.NoError(t, err)
	file := out.Bytes()
	tabs, err := deck.Tabs(file)
	require.NoError(t, err)
	assert.Equal(t, []string{"Sheet1", "Spells"}, tabs)
	first, err := deck.ReadSpreadsheet(file, "")
	require.NoError(t, err)
	assert.Equal(t, "Wet", first.Cells[1][1], "merged over both rows")
	assert.Contains(t, first.Cells[0][2], "2026-11-05", "a day as it shows, not as a number")
	assert.Equal(t, []string{"1 formula has no value (C3); open the file in a spreadsheet program and save it, so that it is computed"}, first.Odd)
	spells, err := deck.ReadSpreadsheet(file, "spells")
	require.NoError(t, err)
	cards, mistakes := spells.Cards()
	require.Empty(t, mistakes)
	assert.Equal(t, 2, cards[0].Copies)
	_, err = deck.ReadSpreadsheet(file, "Traps")
	assert.EqualError(t, err, `the spreadsheet has no table "Traps"; it has ["Sheet1" "Spells"]`)

	spells.Cells[0][1] = "3"
	written, err := spells.WriteSpreadsheet()
	require.NoError(t, err)
	again, err := deck.ReadSpreadsheet(written, "Sheet1")
	require.NoError(t, err)
	assert.Equal(t, first.Cells, again.Cells, "the other table is as it was")
}

// A table whose first row is a card already is seen to have no header, and is written as it was.
func TestATableWithoutAHeaderIsSeen(t *testing.T) {
	for text, want := range map[string][]string{
		"Fog,3,bog\nCalm,2,bay\nIce,1,bog\n":          {"name", "column 2", "column 3"},
		"Fog,bog\nCalm,bay\nIce,bog\n":                {"name", "column 2"},
		"1;Fog\n2;Calm\n3;Ice\n":                      {"column 1", "name"},
		"title,cost\nFog,3\nCalm,2\n":                 {"title", "cost"},
		"card,wind,2020\nFog,north,3\nCalm,south,2\n": {"name", "column 2", "column 3"}, // the third could be a year, but no header has numbers over numbers
		"name,1,2\nFog,3,4\nCalm,2,5\n":               {"name", "1", "2"},
		"place,kind\nFog,bog\nCalm,bay\n":             {"place", "kind"},
		"Fog,3\n":                                     {"Fog", "3"}, // who knows
		"Anzahl;Karte\n3;Nebel\n2;Ebbe\n":             {"Anzahl", "Karte"},
	} {
		r, err := deck.ReadCSV([]byte(text))
		require.NoError(t, err, text)
		assert.Equal(t, want, r.Header, text)
		assert.Equal(t, text, string(r.WriteCSV()))
		if want[0] == "name" && text[0] == 'F' {
			require.NotEmpty(t, r.Notes)
			assert.Contains(t, r.Notes[0], "no row names the columns")
			assert.Equal(t, 1, r.Number(0), "the first row is a card")
			cards, mistakes := r.Cards()
			assert.Empty(t, mistakes)
			assert.Equal(t, "Fog", cards[0].Name)
			assert.Equal(t, "name,wind\nFog,n\n", string(r.With([]string{"name", "wind"}, [][]string{{"Fog", "n"}}).WriteCSV()), "with names of one's own they are written")
		}
	}
}

// Words that may mean the number of a card count as copies only where numbers come again; what is not taken is told.
func TestNumbersOfCardsAreNoCopies(t *testing.T) {
	rows := func(column string, values ...string) *deck.Rows {
		text := "name," + column + "\n"
		for i, value := range values {
			text += fmt.Sprintf("Card %c,%s\n", 'A'+i, value)
		}
		r, err := deck.ReadCSV([]byte(text))
		require.NoError(t, err)
		return r
	}
	for _, word := range []string{"Count", "Amount", "Qty", "x", "copies", "Anzahl"} {
		assert.Equal(t, 1, rows(word, "1", "2", "3").Copies(), word)
	}
	for _, word := range []string{"Number", "No", "#", "Nr."} {
		assert.Equal(t, 1, rows(word, "2", "1", "2").Copies(), word)
		numbered := rows(word, "1", "2", "3")
		assert.Equal(t, -1, numbered.Copies(), word)
		assert.Contains(t, strings.Join(numbered.Notes, "; "), "has another number in each row, so it numbers the cards")
	}
	assert.Equal(t, -1, rows("Count", "few", "2", "3").Copies())
	assert.Contains(t, strings.Join(rows("strength", "3", "1", "3").Notes, "; "), `each card is there once; if "strength" says how often it is, call that column "copies"`)
	assert.Empty(t, rows("strength", "300", "1", "3").Notes)
	assert.Empty(t, rows("copies", "1", "1", "3").Notes)
}

// A table that a spreadsheet wrote in Windows-1252 is read, and said to be, and written so again.
func TestATableOfWindowsIsRead(t *testing.T) {
	file := []byte("name;Anzahl\r\nTr\xfcbe M\xf6we \x80;2\r\n")
	r, err := deck.ReadCSV(file)
	require.NoError(t, err)
	assert.Equal(t, "Trübe Möwe €", r.Cells[0][0])
	assert.Contains(t, strings.Join(r.Notes, "; "), "read as Windows-1252 (Latin-1)")
	assert.Equal(t, file, r.WriteCSV())
	r.Cells[0][0] = "潮"
	assert.Equal(t, "\xef\xbb\xbfname;Anzahl\r\n潮;2\r\n", string(r.WriteCSV()), "what Windows-1252 has not is written in UTF-8")
}

// Empty rows between cards are told of, because they are not written again; those at the end are not.
func TestEmptyRowsBetweenCardsAreTold(t *testing.T) {
	for text, told := range map[string]string{
		"name,copies\nFog,2\n\n\nCalm,1\n":         "empty rows between the cards (2) are left out",
		"name,copies\nFog,2\n,\nCalm,1\n":          "empty rows between the cards (1) are left out",
		"name,copies\n\"Fog\n\nbank\",2\nCalm,1\n": "",
		"name,copies\r\nFog,2\r\nCalm,1\r\n,\r\n,": "",
		"name,copies\nFog,2\nCalm,1\n\n\n":         "",
	} {
		r, err := deck.ReadCSV([]byte(text))
		require.NoError(t, err, text)
		if told == "" {
			assert.Empty(t, r.Notes, text)
			continue
		}
		assert.Contains(t, strings.Join(r.Notes, "; "), told, text)
	}
}
