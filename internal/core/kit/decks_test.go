package kit_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"io/fs"
	"maps"
	"os"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
)

func deckOf(t *testing.T, result *kit.Result, key string) kit.EditionDeck {
	i := slices.IndexFunc(result.Edition.Decks, func(d kit.EditionDeck) bool { return d.Key == key })
	require.GreaterOrEqual(t, i, 0, key)
	return result.Edition.Decks[i]
}

func TestAllDecksOfTheDemoAreMadeWithoutAWarning(t *testing.T) {
	result, err := make(demo.Kit())
	require.NoError(t, err)
	assert.Empty(t, result.Warnings)
	sizes := map[string][2]int{}
	for _, d := range result.Edition.Decks {
		sizes[d.Key] = [2]int{len(d.Designs), d.Cards()}
	}
	assert.Equal(t, map[string][2]int{
		"letters": {40, 57}, "weather": {12, 22}, "couriers": {6, 6}, "tiles": {18, 18}, "stamps": {24, 24}, "permits": {12, 12}, "errands": {15, 15},
	}, sizes)
	backs := map[table.Picture]bool{}
	for _, d := range deckOf(t, result, "couriers").Designs {
		backs[d.Back] = true
	}
	assert.Len(t, backs, 6, "a back for each")
	assert.Equal(t, "Sedge Landing", deckOf(t, result, "letters").Designs["a-cousin-s-apology"].Fields["district"])

	tab := &table.Table{}
	tab.Fold(result.Edition.Lay(5))
	assert.Len(t, tab.Cards, 154)
	assert.Equal(t, 4, tab.Pieces["boat"].Count)
	assert.NotEmpty(t, tab.Settings.Mat.Full)
}

// cells are six pictures on a sheet of 3 × 2, the last ones empty.
func cells(seed, empty int) []byte {
	sheet := image.NewNRGBA(image.Rect(0, 0, 3*60, 2*84))
	draw.Draw(sheet, sheet.Rect, image.White, image.Point{}, draw.Src)
	for i := range 6 - empty {
		at := image.Rect(i%3*60, i/3*84, i%3*60+60, i/3*84+84)
		draw.Draw(sheet, at, image.NewUniform(color.NRGBA{30, 30, 40, 255}), image.Point{}, draw.Src)
		draw.Draw(sheet, at.Inset(4), image.NewUniform(color.NRGBA{uint8(40 * i), uint8(seed), 160, 255}), image.Point{}, draw.Src)
		draw.Draw(sheet, at.Inset(20+i), image.NewUniform(color.NRGBA{uint8(seed), uint8(250 - 20*i), 90, 255}), image.Point{}, draw.Src)
	}
	return demo.PNG(sheet)
}

// folder is a kit with two sheets of six, a picture, a table file and these decks.
func folder(decks string) fstest.MapFS {
	return fstest.MapFS{
		"kit.yaml": {Data: []byte(`kit: 1
name: Decks
seats: 2
sheets:
  one: {file: one.png, columns: 3, rows: 2}
  two: {file: two.png, columns: 3, rows: 2}
layouts:
  plain: {size: [100, 140], front: [{at: [0, 0, 100, 60], text: "{title}", height: 20}]}
  sided: {size: [100, 140], front: [{at: [0, 0, 100, 60], text: "{title}", height: 20}], back: [{at: [0, 0, 100, 140], fill: "{ink}"}]}
decks:
` + decks + `
table: {size: [600, 400], zones: [{key: pile, kind: pile, at: [100, 100]}]}
`)},
		"one.png": {Data: cells(10, 0)}, "two.png": {Data: cells(200, 1)}, "back.png": {Data: demo.PNG(image.NewNRGBA(image.Rect(0, 0, 60, 84)))}, "other.png": {Data: demo.PNG(image.NewGray(image.Rect(0, 0, 60, 84)))},
		"rows.csv": {Data: []byte("title,ink,copies\nFog,#102030,2\nCalm,#405060,\n")},
	}
}

func TestDecksOfManyKinds(t *testing.T) {
	for name, c := range map[string]struct {
		decks          string
		designs, cards int
	}{
		"a range of cells":     {"  d: {sheet: one, cells: \"1-3, 5\", back: {file: back.png}, home: pile}\n  rest: {sheet: one, cells: \"4, 6\", back: {file: back.png}, home: pile}\n  two: {sheet: two, back: {file: back.png}, home: pile}", 4, 4},
		"several sheets":       {"  d: {from: [{sheet: one}, {sheet: two}], back: {file: back.png}, home: pile}", 11, 11},
		"a cell elsewhere":     {"  d: {sheet: one, back: {sheet: two, cell: 1}, home: pile}\n  two: {sheet: two, back: {cell: 2}, home: pile}", 6, 6},
		"loose pictures":       {"  d: {designs: [{file: back.png, key: a}, {file: other.png, key: b, copies: 3}], back: {file: back.png}, home: pile}\n  use: {from: [{sheet: one}, {sheet: two}], back: {file: back.png}, home: pile}", 2, 4},
		"rows with a layout":   {"  d: {rows: rows.csv, layout: plain, back: {file: back.png}, home: pile}\n  use: {from: [{sheet: one}, {sheet: two}], back: {file: back.png}, home: pile}", 2, 3},
		"rows with both sides": {"  d: {rows: rows.csv, layout: sided, home: pile}\n  use: {from: [{sheet: one}, {sheet: two}], back: {file: back.png}, home: pile}", 2, 3},
	} {
		t.Run(name, func(t *testing.T) {
			result, err := make(folder(c.decks))
			require.NoError(t, err)
			assert.Empty(t, result.Warnings)
			d := deckOf(t, result, "d")
			assert.Equal(t, []int{c.designs, c.cards}, []int{len(d.Designs), d.Cards()})
			for _, design := range d.Designs {
				assert.NotEmpty(t, design.Front.Full)
				assert.NotEmpty(t, design.Back.Full)
			}
		})
	}
}

func TestMistakesInDecksAreNamed(t *testing.T) {
	for decks, want := range map[string]string{
		"  d: {sheet: one, back: {cell: 1, file: back.png}, home: pile}":                               "give one of cell, file and each, not 2 of them",
		"  d: {sheet: one, back: {each: two}, veil: {each: two}, home: pile}":                          "a veil for each would tell them apart",
		"  d: {sheet: one, back: {each: three}, home: pile}":                                           `there is no sheet "three"; there is "one", "two"`,
		"  d: {sheet: one, rows: rows.csv, back: {file: back.png}, home: pile}":                        "a deck comes from rows, or from sheets and designs, and not from both",
		"  d: {back: {file: back.png}, home: pile}":                                                    "say where the cards come from",
		"  d: {sheet: one, cells: 5-2, back: {file: back.png}, home: pile}":                            `cells are written like 1-12, 15, and not "5-2"`,
		"  d: {rows: rows.csv, layout: sided, back: {file: back.png}, home: pile}":                     "draws a back for each card, so the deck can have no other",
		"  d: {rows: rows.csv, layout: none, back: {file: back.png}, home: pile}":                      `there is no layout "none"; there is "plain", "sided"`,
		"  d: {rows: rows.csv, back: {file: back.png}, home: pile}":                                    `rows.csv has no column "front" that names each card's picture`,
		"  d: {rows: gone.csv, layout: plain, back: {file: back.png}, home: pile}":                     "gone.csv: this file is not in the kit",
		"  d: {sheet: one, designs: [{cell: 1, file: back.png, key: a}], back: {cell: 2}, home: pile}": "needs a cell, numbered from 1, or a file, and not both",
	} {
		_, err := make(folder(decks))
		assert.ErrorContains(t, err, want, decks)
	}
	files := folder("  d: {rows: rows.csv, layout: plain, back: {file: back.png}, home: pile}")
	files["rows.csv"].Data = []byte("name\nFog\n")
	_, err := make(files)
	assert.ErrorContains(t, err, `the layout speaks of {title}, but rows.csv has no such column; it has "name"`)
}

func TestBacksUnlikeTheirFrontsAreWarnedOf(t *testing.T) {
	result, err := make(folder("  d: {sheet: one, cells: 1-5, back: {each: two}, home: pile}\n  e: {sheet: one, cells: \"6\", back: {file: back.png}, home: pile}"))
	require.NoError(t, err)
	assert.Contains(t, result.Warnings, "decks.d.back: cell 6 has a front and no back")
}

// A packed sheet brings its numbers along, and the count of its cards.
func TestAPackedSheetIsCutByItsList(t *testing.T) {
	files := folder("  d: {sheet: one, back: {file: back.png}, home: pile}\n  two: {sheet: two, back: {file: back.png}, home: pile}")
	files["kit.yaml"].Data = []byte(strings.Replace(string(files["kit.yaml"].Data), "one: {file: one.png, columns: 3, rows: 2}", "one: {file: one.png}", 1))
	files["one.sheet.yaml"] = &fstest.MapFile{Data: []byte("columns: 3\nrows: 2\ncount: 6\ncard: [60, 84]\nscale: 1\nsources: [{cell: 2, file: art/feed-the_heron.png}]\n")}
	result, err := make(files)
	require.NoError(t, err)
	assert.Empty(t, result.Warnings, "nothing is guessed")
	assert.Len(t, deckOf(t, result, "d").Designs, 6)
	assert.Equal(t, "Feed the heron", deckOf(t, result, "d").Designs["feed-the-heron"].Name)
	files["one.sheet.yaml"].Data = []byte("columns: 0\n")
	_, err = make(files)
	assert.ErrorContains(t, err, "one.sheet.yaml: columns and rows must be at least 1, not 0 and 0")
}

func TestACountThatDisagreesIsSaid(t *testing.T) {
	files := folder("  d: {sheet: one, back: {file: back.png}, home: pile}\n  two: {sheet: two, back: {file: back.png}, home: pile}")
	files["kit.yaml"].Data = []byte(strings.Replace(string(files["kit.yaml"].Data), "two: {file: two.png, columns: 3, rows: 2}", "two: {file: two.png, columns: 3, rows: 2, count: 6}", 1))
	result, err := make(files)
	require.NoError(t, err)
	assert.Equal(t, []string{"two.png: cell 6 (column 3, row 2): empty, but the sheet is to have 6 cards"}, result.Warnings)
	files["kit.yaml"].Data = []byte(strings.Replace(string(files["kit.yaml"].Data), "count: 6", "count: 4", 1))
	result, err = make(files)
	require.NoError(t, err)
	assert.Contains(t, result.Warnings, "two.png: cell 5 (column 2, row 2): holds content, but the sheet is to have 4 cards")
	assert.Len(t, deckOf(t, result, "two").Designs, 4)
}

// Of forty letters one was changed: it alone is drawn and stored again.
func TestOnlyWhatChangedIsDrawnAgain(t *testing.T) {
	first, err := make(demo.Kit())
	require.NoError(t, err)
	files := copied(t, demo.Kit())
	files["letters.csv"].Data = []byte(strings.Replace(string(files["letters.csv"].Data), "Come home.", "Stay away.", 1))
	k, err := kit.Read(files)
	require.NoError(t, err)
	second, err := k.Make(kit.Making{Known: first.Known})
	require.NoError(t, err)
	fresh := []string{}
	for address := range maps.Keys(second.Pictures) {
		if _, known := first.Pictures[address]; !known {
			fresh = append(fresh, address)
		}
	}
	changed := deckOf(t, second, "letters").Designs["two-words"].Front
	assert.ElementsMatch(t, []string{changed.Full, changed.Small}, fresh)
	for key, design := range deckOf(t, first, "letters").Designs {
		if _, again := second.Pictures[design.Front.Full]; again {
			t.Errorf("%s was drawn again", key)
		}
	}
}

// hashedFolder knows the hashes of its files, as a service that keeps them does, and notes
// which are read.
type hashedFolder struct {
	fstest.MapFS
	read map[string]bool
}

func (h hashedFolder) Hash(name string) (string, bool) {
	f, is := h.MapFS[name]
	if !is {
		return "", false
	}
	return kit.HashOf(f.Data), true
}

func (h hashedFolder) Open(name string) (fs.File, error) {
	h.read[name] = true
	return h.MapFS.Open(name)
}

// What did not change is not even read: no sheet, no loose picture. What it looks like is
// made as from the beginning, warnings included.
func TestWhatIsKnownIsNeitherReadNorMadeAgain(t *testing.T) {
	files := copied(t, demo.Kit())
	files["kit.yaml"].Data = append(files["kit.yaml"].Data, "\n# later\n"...)
	first, err := make(demo.Kit())
	require.NoError(t, err)
	text, err := json.Marshal(first.Known) // as it is kept
	require.NoError(t, err)
	var known kit.Known
	require.NoError(t, json.Unmarshal(text, &known))

	folder := hashedFolder{files, map[string]bool{}}
	k, err := kit.Read(folder)
	require.NoError(t, err)
	again, err := k.Make(kit.Making{Known: known})
	require.NoError(t, err)
	assert.Equal(t, first.Edition, again.Edition)
	assert.Equal(t, first.Warnings, again.Warnings)
	assert.Empty(t, again.Pictures)
	for name := range folder.read {
		assert.False(t, strings.HasSuffix(name, ".png"), "%s was read", name)
	}
	text, err = json.Marshal(again.Known)
	require.NoError(t, err)
	assert.JSONEq(t, string(mustJSON(t, first.Known)), string(text), "what the third edition can go by")

	changed := copied(t, demo.Kit())
	changed["weather.png"] = changed["couriers-rested.png"]
	k, err = kit.Read(hashedFolder{changed, map[string]bool{}})
	require.NoError(t, err)
	other, err := k.Make(kit.Making{Known: known})
	assert.True(t, err != nil || !assert.ObjectsAreEqual(first.Edition, other.Edition), "another picture under the name of a known one was taken for it")
}

func mustJSON(t *testing.T, v any) []byte {
	text, err := json.Marshal(v)
	require.NoError(t, err)
	return text
}

func TestPicturesAreHandedOverAsTheyAreMade(t *testing.T) {
	whole, err := make(demo.Kit())
	require.NoError(t, err)
	k, err := kit.Read(demo.Kit())
	require.NoError(t, err)
	kept, most := deck.Pictures{}, 0
	result, err := k.Make(kit.Making{Keep: func(some deck.Pictures) error {
		most = max(most, len(some))
		maps.Copy(kept, some)
		return nil
	}})
	require.NoError(t, err)
	assert.Equal(t, whole.Pictures, kept)
	assert.Equal(t, whole.Edition, result.Edition)
	assert.Empty(t, result.Pictures)
	assert.LessOrEqual(t, most, 2*64)

	_, err = k.Make(kit.Making{Keep: func(deck.Pictures) error { return errors.New("the disk is full") }})
	var notKept *kit.NotKept
	assert.ErrorAs(t, err, &notKept)
}

func copied(t *testing.T, from fs.FS) fstest.MapFS {
	files := fstest.MapFS{}
	require.NoError(t, fs.WalkDir(from, ".", func(name string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() {
			return err
		}
		text, err := fs.ReadFile(from, name)
		files[name] = &fstest.MapFile{Data: text}
		return err
	}))
	return files
}

// In memory, and only looked at, a kit says the same as it does when it is made.
func TestLookingOverAKitSaysWhatMakingItSays(t *testing.T) {
	for _, decks := range []string{
		"  d: {rows: rows.csv, layout: sided, home: pile}",
		"  d: {sheet: one, cells: 1-5, back: {each: two}, home: pile}",
		"  d: {sheet: one, back: {cell: 9}, home: pile}",
	} {
		files := folder(decks)
		inMemory := kit.Files{}
		for name, f := range files {
			inMemory[name] = f.Data
		}
		result, err := make(files)
		k, readErr := kit.Read(inMemory)
		require.NoError(t, readErr)
		looked, lookErr := k.Make(kit.Making{Look: func(string, func() *image.NRGBA) {}})
		assert.Equal(t, fmt.Sprint(err), fmt.Sprint(lookErr))
		if err == nil {
			assert.Equal(t, result.Warnings, looked.Warnings)
			assert.Empty(t, looked.Pictures)
		}
	}
	assert.ErrorIs(t, func() error { _, err := kit.Files{}.Open("../x"); return err }(), fs.ErrNotExist)
}

func TestMistakesAreTakenApart(t *testing.T) {
	_, err := make(folder("  d: {sheet: three, back: {cell: 1}, home: attic}"))
	all := kit.Mistakes(err)
	require.Len(t, all, 2)
	assert.Equal(t, "decks.d.home", all[1].Path)
	assert.Positive(t, all[1].Line)
}

// Of a sheet without numbers it is said how it is cut, also where that is sure, and what else it might be.
func TestAGuessThatIsSureIsNoted(t *testing.T) {
	files := folder("  d: {sheet: one, back: {file: back.png}, home: pile}")
	for art, notes := range map[string][]string{
		"weather.png": {"one.png: guessed as 4 columns × 4 rows"},
		"errands.png": {"one.png: guessed as 5 columns × 3 rows", "one.png: all cells have plain rims; if they are the sheet's and not the cards', give margin 5 and gutter 10"},
	} {
		picture, err := os.ReadFile("../../../demo/marshpost/" + art)
		require.NoError(t, err)
		files["one.png"] = &fstest.MapFile{Data: picture}
		given := string(files["kit.yaml"].Data)
		files["kit.yaml"].Data = []byte(strings.Replace(given, "one: {file: one.png, columns: 3, rows: 2}", "one: {file: one.png}", 1))
		result, err := make(files)
		require.NoError(t, err)
		assert.Subset(t, result.Notes, notes)
	}
}

// A card of which only its cell is known is called by where it stands; one with a key of its own by that.
func TestCardsWithoutNamesAreCalledByWhereTheyStand(t *testing.T) {
	result, err := make(folder("  d: {sheet: one, back: {file: back.png}, home: pile}\n  e: {from: [{sheet: one, cells: 1-2}, {sheet: two, cells: \"3\"}], back: {file: back.png}, home: pile}\n" +
		"  f: {sheet: one, back: {file: back.png}, home: pile, designs: [{cell: 2, key: fog}, {cell: 3, key: cell-03}]}"))
	require.NoError(t, err)
	for deck, want := range map[string]map[string]string{
		"d": {"cell-05": "card 5 of one"}, "e": {"one-02": "card 2 of one", "two-03": "card 3 of two"}, "f": {"fog": "fog", "cell-03": "card 3 of one"},
	} {
		for key, name := range want {
			assert.Equal(t, name, deckOf(t, result, deck).Designs[key].Name)
		}
	}
	assert.Equal(t, "card 5 of one", result.SpeltOut["d"][4].Name)
}
