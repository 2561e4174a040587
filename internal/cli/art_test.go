package cli_test

import (
	"bytes"
	"encoding/json"
	"image"
	"image/png"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/sheet"
)

// From loose pictures to a deck by the command line alone, with no service.
func TestFromArtToDeckOnTheCommandLine(t *testing.T) {
	t.Parallel()
	s := alone(t)
	folder := t.TempDir()
	require.NoError(t, os.CopyFS(folder, demo.Kit()))
	at := func(name string) string { return filepath.Join(folder, name) }
	remove := func(names ...string) {
		for _, name := range names {
			require.NoError(t, os.Remove(at(name)))
		}
	}
	says := func(code int, want string, args ...string) {
		t.Helper()
		out, got := s.cli(args...)
		assert.Equal(t, code, got, out)
		assert.Contains(t, out, want)
	}
	remove("errands.png", "errands.sheet.yaml")
	says(0, "15 cards, 5 columns × 3 rows, cards of 360 × 504 pixels; 15 drawn, 0 as they were.", "sheet", "pack", at("errands"))
	says(0, "0 drawn, 15 as they were.", "sheet", "pack", at("errands.png"))
	require.NoError(t, os.Rename(at("errands/trim-the-lamps.png"), at("old.png")))
	require.NoError(t, os.WriteFile(at("errands/trim-the-lamps.png"), demo.PNG(demo.Pictures()["errand-back.png"]), 0o600))
	says(0, "1 drawn, 14 as they were.", "sheet", "pack", at("errands.png"))
	require.NoError(t, os.Rename(at("old.png"), at("errands/trim-the-lamps.png")))
	require.NoError(t, os.Rename(at("errands.png"), at("newer.png")))
	says(0, "errands.png: 15 cards", "sheet", "pack", at("errands"))
	says(0, "changed", "sheet", "compare", at("errands.png"), at("newer.png"), "--columns", "5", "--rows", "3")
	says(3, "columns × 3 rows, not 4 × 3", "sheet", "check", at("errands.png"), "--columns", "4", "--rows", "3", "--marked", at("marked.png"))
	marked, err := os.Open(at("marked.png"))
	require.NoError(t, err)
	defer marked.Close()
	_, err = png.Decode(marked)
	require.NoError(t, err)

	says(3, "so nothing was cut", "sheet", "cut", at("errands.png"), "--columns", "4", "--rows", "3", "--to", at("wrong"))
	says(0, "Cut 15 cards from 5 columns × 3 rows", "sheet", "cut", at("errands.png"), "--to", at("cut"))
	loose, err := os.ReadFile(at("errands/borrow-a-sail.png"))
	require.NoError(t, err)
	cut, err := os.ReadFile(at("cut/cell-01.png"))
	require.NoError(t, err)
	was, err := sheet.Read(loose)
	require.NoError(t, err)
	is, err := sheet.Read(cut)
	require.NoError(t, err)
	assert.Equal(t, sheet.NRGBA(was).Pix, sheet.NRGBA(is).Pix, "packing then cutting gives the same picture back")
	says(3, "not one shape", "sheet", "check", at("couriers-rested.png"), "--backs", at("stamps-permits.png"))

	says(0, "letters  │ 40      │ 57", "deck", "show", "--kit", folder)
	says(0, "Sedge Landing", "deck", "show", "couriers", "--kit", folder)
	says(3, `the kit has no deck "parcels"`, "deck", "show", "parcels", "--kit", folder)
	says(0, "40 rows", "deck", "export", "letters", "--kit", folder, "--to", at("out.csv"))
	exported, err := os.ReadFile(at("out.csv"))
	require.NoError(t, err)
	original, err := os.ReadFile(at("letters.csv"))
	require.NoError(t, err)
	assert.Equal(t, string(original), string(exported))
	says(0, "6 rows", "deck", "export", "couriers", "--kit", folder, "--to", at("couriers.xlsx"))
	says(0, "500 × 700 pixels", "card", "draw", "letters", "two words", "--kit", folder, "--to", at("card.png"))
	says(3, "has no such card", "card", "draw", "letters", "a parcel", "--kit", folder)
	says(3, "is not drawn by a layout", "card", "draw", "weather", "calm", "--kit", folder)

	out, code := s.cli("sheet", "check", at("tiles.png"), "--columns", "6", "--rows", "3", "--json")
	assert.Equal(t, 0, code)
	var report sheet.Report
	require.NoError(t, json.Unmarshal([]byte(out), &report))
	assert.Equal(t, 18, report.Content())
}

// Cards are printed in any number, all or some of them; what cannot be printed is said before a card is drawn, and what
// looks as it did, though its file was saved anew, is not printed again.
func TestCardsArePrintedOnTheCommandLine(t *testing.T) {
	t.Parallel()
	s, folder, former := alone(t), t.TempDir(), t.TempDir()
	back := demo.Pictures()["letter-back.png"]
	var anew bytes.Buffer
	require.NoError(t, png.Encode(&anew, back))
	kitIn := func(folder string, picture []byte, more string) {
		t.Helper()
		deck := "decks: {notes: {back: {file: calm.png}, " + more + "designs: [{file: calm.png, key: a, copies: 900}, {file: calm.png, key: b, copies: 900}, {file: calm.png, key: c, copies: 900}]}}\n"
		require.NoError(t, os.WriteFile(filepath.Join(folder, "kit.yaml"), []byte("kit: 1\nname: W\nseats: 2\n"+deck), 0o600))
		require.NoError(t, os.WriteFile(filepath.Join(folder, "calm.png"), picture, 0o600))
	}
	to := filepath.Join(folder, "out.pdf")
	says := func(code int, want string, args ...string) {
		t.Helper()
		out, got := s.cli(append([]string{"deck", "print", "--kit", folder, "--to", to}, args...)...)
		assert.Equal(t, code, got, out)
		assert.Contains(t, out, want)
	}
	kitIn(former, anew.Bytes(), "")
	kitIn(folder, demo.PNG(back), "size: [300, 400], ")
	says(3, "does not go on a page of 210 × 297")
	assert.NoFileExists(t, to)
	kitIn(folder, demo.PNG(back), "")
	says(0, "2700 cards in real size")
	says(0, "notes: 1 picture of fewer than 200 dots per inch; the coarsest has 145", "--cards", "1-3")
	says(0, "11 cards in real size", "--cards", "2-10,14, 2700")
	says(2, "there are 2700 cards to print, so that 2701 is none", "--cards", "2700-2701")
	says(2, `cards are written like 1-200 or 1-9,14, and not "9-1"`, "--cards", "9-1")
	says(0, "Nothing to print: every card looks as it did.", "--changed-since", former)
}

// The finished cards of a deck are written as a sheet, from which the very same deck begins again.
func TestADeckIsWrittenAsASheet(t *testing.T) {
	t.Parallel()
	s, folder := alone(t), t.TempDir()
	at := func(name string) string { return filepath.Join(folder, name) }
	require.NoError(t, os.CopyFS(at("kit"), demo.Kit()))
	says := func(code int, want string, args ...string) {
		t.Helper()
		out, got := s.cli(args...)
		assert.Equal(t, code, got, out)
		assert.Contains(t, out, want)
	}
	says(0, "couriers-backs.png: 6 cards, and 6 backs.", "deck", "export", "couriers", "--kit", at("kit"), "--to", at("couriers.png"))
	says(0, "weather-backs.png: 12 cards, and 1 back.", "deck", "export", "weather", "--kit", at("kit"), "--to", at("weather.png"))
	says(0, "6 cards", "deck", "export", "couriers", "--kit", at("kit"), "--to", at("couriers.png")) // over what it wrote before
	says(3, "mat.png is there already and is no packed sheet", "deck", "export", "weather", "--kit", at("kit"), "--to", at("kit/mat.png"))
	for _, name := range []string{"couriers", "couriers-backs"} {
		says(0, "2 rows", "sheet", "check", at(name+".png"))
	}
	says(0, "weather", "kit", "new", at("begun"), at("weather.png"))
	for _, name := range []string{"calm", "fog", "ice"} { // as the list calls them
		says(0, "│ "+name, "deck", "show", "weather", "--kit", at("begun"))
	}
}

// A sheet to draw into has cells of the size that is asked for, and is not written over what somebody drew.
func TestABlankSheetIsDrawnInto(t *testing.T) {
	t.Parallel()
	s, folder := alone(t), t.TempDir()
	at := func(name string) string { return filepath.Join(folder, name) }
	says := func(code int, want string, args ...string) {
		t.Helper()
		out, got := s.cli(append([]string{"sheet", "blank"}, args...)...)
		assert.Equal(t, code, got, out)
		assert.Contains(t, out, want)
	}
	says(0, "columns: 3, rows: 2, margin: 10, gutter: 20", "--columns", "3", "--rows", "2", "--card", "200x280", "--bleed", "10", "--safe", "12", "--to", at("birds.png"))
	text, err := os.ReadFile(at("birds.png"))
	require.NoError(t, err)
	picture, err := sheet.Read(text)
	require.NoError(t, err)
	assert.Equal(t, image.Pt(660, 600), picture.Bounds().Size())
	g := sheet.Grid{Columns: 3, Rows: 2, Margin: sheet.Around(10), Gutter: sheet.Between(20)}
	_, report, err := sheet.Look(text, g)
	require.NoError(t, err)
	assert.Equal(t, 6, report.Content(), "each cell has its number")
	first, other := sheet.Cut(picture, g, 1), sheet.Cut(picture, g, 2)
	assert.Equal(t, image.Pt(200, 280), first.Rect.Size())
	assert.NotEqual(t, first.Pix, other.Pix)
	says(3, "birds.png is there already and is no packed sheet", "--columns", "3", "--rows", "2", "--card", "200x280", "--to", at("birds.png"))
	says(2, `the size of a card is written like 750x1050, in pixels, and not "big"`, "--columns", "3", "--rows", "2", "--card", "big", "--to", at("x.png"))
	says(2, "give --columns, --rows and --card", "--columns", "3", "--to", at("x.png"))
	says(2, "take fewer columns or rows", "--columns", "30", "--rows", "2", "--card", "700x900", "--to", at("x.png"))
	says(2, "a sheet has 1 to", "--columns", "-3", "--rows", "2", "--card", "700x900", "--to", at("x.png"))
}
