package start_test

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"path"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/kit/start"
	"damselfly.example/damselfly/internal/core/sheet"
)

func picture(t require.TestingT, p *image.NRGBA) []byte {
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, p))
	return out.Bytes()
}

// card is a picture of one card of a colour of its own: a ground with one shape on it.
func card(t require.TestingT, wide, high, n int) []byte {
	p := image.NewNRGBA(image.Rect(0, 0, wide, high))
	draw.Draw(p, p.Rect, image.NewUniform(color.NRGBA{uint8(40 + 9*n), 120, uint8(200 - 7*n), 255}), image.Point{}, draw.Src)
	draw.Draw(p, image.Rect(wide/4, high/4, wide/2, high/2), image.NewUniform(color.NRGBA{250, 240, uint8(20 * n), 255}), image.Point{}, draw.Src)
	return picture(t, p)
}

// page is a sheet of 4 by 3 cards with white between them.
func page(t require.TestingT) []byte {
	p := image.NewNRGBA(image.Rect(0, 0, 4*100+5*10, 3*140+4*10))
	draw.Draw(p, p.Rect, image.White, image.Point{}, draw.Src)
	for n := range 12 {
		at := image.Pt(10+n%4*110, 10+n/4*150)
		ground := color.NRGBA{uint8(90 + 5*n), uint8(60 + 11*n), 90, 255}
		draw.Draw(p, image.Rect(at.X, at.Y, at.X+100, at.Y+140), image.NewUniform(ground), image.Point{}, draw.Src)
		draw.Draw(p, image.Rect(at.X+20+n, at.Y+30, at.X+70, at.Y+60+3*n), image.NewUniform(color.NRGBA{240, 230, uint8(10 * n), 255}), image.Point{}, draw.Src)
	}
	return picture(t, p)
}

func files(of map[string][]byte) []start.File {
	var all []start.File
	for name, text := range of {
		all = append(all, start.File{Name: name, Bytes: func() ([]byte, error) { return text, nil }})
	}
	return all
}

func free(string) bool { return false }

func begin(t require.TestingT, lots ...start.Lot) start.Start {
	begun, err := start.From(lots, free)
	require.NoError(t, err)
	return begun
}

func TestPicturesOfOneFolderArePackedTogether(t *testing.T) {
	birds := map[string][]byte{"/art/Vögel/notes.txt": []byte("drawn in May")}
	for n := range 12 {
		birds[path.Join("/art/Vögel", "bird-"+string(rune('a'+n))+".png")] = card(t, 120, 168, n)
	}
	begun := begin(t, start.Lot{Folder: "Vögel", Said: "art/Vögel", Among: true, Files: files(birds)})
	require.Len(t, begun.Loose, 1)
	l := begun.Loose[0]
	assert.Equal(t, []string{"voegel", "voegel", "voegel.png"}, []string{l.Key, l.Folder, l.Sheet})
	assert.Equal(t, "voegel/bird-a.png", l.Files[0])
	assert.Equal(t, "/art/Vögel/bird-a.png", begun.From["voegel/bird-a.png"])
	assert.Equal(t, []string{"Left out of art/Vögel: notes.txt."}, begun.Notes)
	assert.Empty(t, begun.Sheets)
}

func TestASheetHasItsGridAndATableFileItsLayout(t *testing.T) {
	begun := begin(t, start.Lot{Said: "what was named", Files: files(map[string][]byte{
		"art/Night Sky.png": page(t), "letters.csv": []byte("name,copies,stamps\nReed,2,1\nTide,1,3\n"), "faces.csv": []byte("name,front\nReed,reed.png\n"),
	})})
	require.Empty(t, begun.Faults)
	require.Len(t, begun.Sheets, 1)
	entry := begun.Sheets[0].Entry
	assert.Equal(t, []any{"Night Sky.png", 4, 3, 10, 10}, []any{entry.File, entry.Columns, entry.Rows, entry.Margin, entry.Gutter})
	assert.Equal(t, []start.Deck{{"faces", start.DeckEntry{Rows: "faces.csv"}}, {"letters", start.DeckEntry{Rows: "letters.csv", Layout: "letters"}}, {"night-sky", start.DeckEntry{Sheet: "night-sky"}}},
		slices.SortedFunc(slices.Values(begun.Decks), func(a, b start.Deck) int { return strings.Compare(a.Key, b.Key) }))
	assert.Len(t, begun.Layouts, 1)

	_, err := kit.Read(kit.Files{"kit.yaml": begun.Manifest("Night", 3), "Night Sky.png": page(t), "letters.csv": nil, "faces.csv": nil})
	assert.NoError(t, err)
}

func TestWhatIsTakenIsNotGivenAgain(t *testing.T) {
	begun, err := start.From(start.Within([]string{"page.png"}, func(name string) start.File { return files(map[string][]byte{name: page(t)})[0] }),
		func(key string) bool { return key == "page" })
	require.NoError(t, err)
	assert.Equal(t, []string{"page-2", "page.png"}, []string{begun.Sheets[0].Key, begun.Sheets[0].Entry.File})
	keys, names := start.FreeSheets("cards", 2, func(key string) bool { return key == "cards-2" })
	assert.Equal(t, []string{"cards-3", "cards-3-2"}, keys, "neither of the two is taken")
	assert.Equal(t, []string{"cards-3.png", "cards-3-2.png"}, names)
}

func TestAPackedSheetIsCutByItsList(t *testing.T) {
	list, err := sheet.List{Columns: 4, Rows: 3, Count: 11, Card: [2]int{110, 150}, Scale: 1}.Write()
	require.NoError(t, err)
	begun := begin(t, start.Lot{Folder: "art", Said: "art", Among: true, Files: files(map[string][]byte{"art/birds.png": page(t), "art/birds.sheet.yaml": list})})
	require.Len(t, begun.Sheets, 1)
	assert.Equal(t, start.SheetEntry{File: "birds.png"}, begun.Sheets[0].Entry)
	assert.Contains(t, begun.From, "birds.sheet.yaml")
	assert.Contains(t, string(begun.Manifest("Art", 2)), "birds: {file: birds.png} # cut as the list beside it says")
}

func TestTwoFilesOfOneNameAreTold(t *testing.T) {
	_, err := start.From([]start.Lot{{Files: files(map[string][]byte{"a/page.png": page(t), "b/page.png": page(t)})}}, free)
	assert.ErrorContains(t, err, "a/page.png and b/page.png would both be page.png in the kit")
}

func TestADamagedPictureKeepsTheOthersFromNothing(t *testing.T) {
	begun := begin(t, start.Lot{Files: files(map[string][]byte{"page.png": page(t), "torn.png": page(t)[:200]})})
	require.Len(t, begun.Faults, 1)
	assert.ErrorContains(t, begun.Faults[0], "torn.png")
	require.Len(t, begun.Sheets, 2)
	assert.Equal(t, 4, begun.Sheets[0].Entry.Columns)
	assert.Zero(t, begun.Sheets[1].Entry.Columns)
}

// Whatever is brought, each file that is taken is in the kit once, under a key of its own, and what begins is a kit that can be read.
func TestEachFileBecomesOnePart(t *testing.T) {
	art, table := page(t), []byte("name,stamps\nReed,1\n")
	rapid.Check(t, func(t *rapid.T) {
		given := map[string][]byte{}
		for _, name := range rapid.SliceOfNDistinct(rapid.StringMatching(`((a|Über Öl|null)/)?[aß]{1,2}[12]?\.(png|csv|txt|md|sheet\.yaml)`), 0, 9, rapid.ID).Draw(t, "names") {
			switch {
			case strings.HasSuffix(name, ".png") && rapid.Bool().Draw(t, "is a sheet"):
				given[name] = art
			case strings.HasSuffix(name, ".png"):
				given[name] = card(t, 80, 112, len(name))
			default:
				given[name] = table
			}
		}
		names := make([]string, 0, len(given))
		for name := range given {
			names = append(names, name)
		}
		slices.Sort(names)
		begun, err := start.From(start.Within(names, func(name string) start.File { return files(map[string][]byte{name: given[name]})[0] }), free)
		require.NoError(t, err)
		require.Empty(t, begun.Faults)
		var taken, keys []string
		for _, s := range begun.Sheets {
			taken, keys = append(taken, s.Entry.File), append(keys, s.Key)
		}
		for _, d := range begun.Decks {
			if d.Entry.Rows != "" {
				taken, keys = append(taken, d.Entry.Rows), append(keys, d.Key)
			}
		}
		for _, l := range begun.Loose {
			taken, keys = append(taken, l.Files...), append(keys, l.Key)
			require.NotContains(t, given, l.Sheet, "what is packed is written over nothing")
			given[l.Sheet] = art // as it will be packed
		}
		wanted := slices.DeleteFunc(names, func(name string) bool { return !start.Takes(name, strings.Contains(name, "/")) })
		assert.ElementsMatch(t, wanted, taken)
		assert.Len(t, slices.Compact(slices.Sorted(slices.Values(keys))), len(keys), "a key twice: %v", keys)
		given["kit.yaml"] = begun.Manifest("Marsh", 2)
		_, err = kit.Read(kit.Files(given))
		require.NoError(t, err, string(given["kit.yaml"]))
	})
}
