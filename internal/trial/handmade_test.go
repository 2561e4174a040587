package trial

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"io/fs"
	"math/rand/v2"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/draw"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/sheet"
)

// handmade is what a maker has who never wrote a line of YAML.
type handmade struct {
	pictures map[string][]byte // 60 loose ones, of one card each
	rows     []byte            // a table of 120 cards in five languages
	page     []byte            // a page of A4 with nine cards, as JPEG
}

func madeByHand(t *testing.T) (h handmade) {
	names, err := fs.Glob(demo.Kit(), "errands/*.png")
	require.NoError(t, err)
	var upright []*image.NRGBA
	for _, name := range names {
		file, err := fs.ReadFile(demo.Kit(), name)
		require.NoError(t, err)
		picture, err := sheet.Read(file)
		require.NoError(t, err)
		if picture.Bounds().Dx() < picture.Bounds().Dy() {
			upright = append(upright, sheet.NRGBA(picture))
		}
	}
	asJPEG := func(picture image.Image) []byte {
		var out bytes.Buffer
		require.NoError(t, jpeg.Encode(&out, picture, &jpeg.Options{Quality: 85}))
		return out.Bytes()
	}
	h.pictures = map[string][]byte{}
	for i := range 60 {
		one := upright[i%len(upright)]
		picture := image.NewNRGBA(one.Rect)
		copy(picture.Pix, one.Pix)
		draw.Draw(picture, image.Rect(10, 10, 12+5*i, 30), image.NewUniform(color.NRGBA{uint8(4 * i), 90, 120, 255}), image.Point{}, draw.Src)
		name := fmt.Sprintf("Moor Vögel %02d", i+1)
		if i%3 == 0 {
			h.pictures[name+".jpg"] = asJPEG(picture)
		} else {
			h.pictures[name+".png"] = demo.PNG(picture)
		}
	}
	rows := []byte("Titel,Text,Anzahl\n")
	for i := range 120 {
		rows = fmt.Appendf(rows, []string{
			"Flut %d,Überm Moor steht der **Nebel**; %d Möwen schreien.,%d\n",
			"Łódź pełna żab %d,Zażółć gęślą jaźń: **wiatr** wieje %d razy.,%d\n",
			"Ο γλάρος %d,Η παλίρροια φτάνει στις **%d** το βράδυ.,%d\n",
			"潮が満ちる %d,沼の向こうで**鷺**が%d羽、月を待っている。,%d\n",
			"الطائر %d,يحمل ساعي البريد **%d** رسائل عبر المستنقع.,%d\n",
		}[i%5], i/5+1, i+2, i%3+1)
	}
	h.rows = rows
	const wide, high = 496, 693 // a card at 200 dots an inch
	page := image.NewNRGBA(image.Rect(0, 0, 1654, 2339))
	draw.Draw(page, page.Rect, image.White, image.Point{}, draw.Src)
	for i := range 9 {
		at := image.Pt(83+i%3*wide, 130+i/3*high)
		draw.CatmullRom.Scale(page, image.Rectangle{at, at.Add(image.Pt(wide, high))}, upright[i], upright[i].Rect, draw.Src, nil)
	}
	h.page = asJPEG(page)
	return h
}

// What makers have becomes decks on the bench: nothing is typed, and nothing looks wrong.
func TestWhatMakersHaveBecomesDecksOnTheBench(t *testing.T) {
	t.Parallel()
	s := start(t)
	h := madeByHand(t)
	b := browsers(t, 1)[0]
	b.do(chromedp.Navigate(s.url() + "/bench#maker=" + s.maker().Key()))
	b.reads("Begin with what you have")
	b.drops(h.pictures)
	b.reads("60 cards, 10 columns × 6 rows, 3600 × 3024 pixels, each card 360 × 504.")
	b.click("Put it into the kit")
	b.sees("60", count(".card-strip li"))
	b.sees("nothing looks wrong", benchState)
	b.drops(map[string][]byte{"Karten.csv": h.rows})
	b.reads("120 rows, 240 cards")
	b.reads(`The column "Titel" has the cards' names, the column "Anzahl" says how often each is there.`)
	b.sees("nothing looks wrong", benchState)
	b.drops(map[string][]byte{"page.jpg": h.page})
	b.sees("9", count(".card-strip li"))
	b.sees("nothing looks wrong", benchState)
	b.click("Undo") // what was dropped goes in one step
	b.sees("cards,karten", `[...[...document.querySelectorAll(".bench-parts h2")].find((h) => h.innerText === "Decks").nextElementSibling.querySelectorAll("button")].map((e) => e.innerText).join()`)
	b.click("Redo")
	b.sees("nothing looks wrong", benchState)
	b.keeps()
	b.reads("It is edition 1 of ")
	kits, err := s.maker().Kits(s.ctx)
	require.NoError(t, err)
	require.Len(t, kits, 1)
	assert.Equal(t, 60+240+9, kits[0].Cards)
}

// And on the command line.
func TestWhatMakersHaveBecomesDecksOnTheCommandLine(t *testing.T) {
	t.Parallel()
	s := &service{t: t, data: t.TempDir(), address: "127.0.0.1:1"}
	h := madeByHand(t)
	folder := t.TempDir()
	at := func(name string) string { return filepath.Join(folder, name) }
	require.NoError(t, os.Mkdir(at("Vögel"), 0o755))
	require.NoError(t, os.Mkdir(at("empty"), 0o755))
	for name, file := range h.pictures {
		require.NoError(t, os.WriteFile(at("Vögel/"+name), file, 0o600))
	}
	require.NoError(t, os.WriteFile(at("Karten.csv"), h.rows, 0o600))
	require.NoError(t, os.WriteFile(at("page.jpg"), h.page, 0o600))
	says := func(code int, want string, args ...string) {
		t.Helper()
		out, got := s.cli(args...)
		assert.Equal(t, code, got, out)
		assert.Contains(t, out, want)
	}
	says(0, "60 pictures packed to voegel.png", "kit", "new", at("kit"), at("Vögel"), at("Karten.csv"), at("page.jpg"))
	says(0, "Kit looks right: karten with 120 designs and 240 cards, page with 9 designs and 9 cards, voegel with 60 designs and 60 cards.", "kit", "check", at("kit"))
	for _, deck := range []string{"voegel", "karten", "page"} {
		says(0, "Wrote ", "deck", "show", deck, "--kit", at("kit"), "--sheet", at(deck+".png"))
	}
	says(0, "120 rows", "deck", "export", "karten", "--kit", at("kit"), "--to", at("out.csv"))
	again, err := os.ReadFile(at("out.csv"))
	require.NoError(t, err)
	assert.Equal(t, string(h.rows), string(again))

	// Pictures that were named one by one are a deck as well.
	loose, err := filepath.Glob(at("Vögel/*"))
	require.NoError(t, err)
	says(0, "60 pictures packed to cards.png", append([]string{"kit", "new", at("other")}, loose...)...)
	says(0, "Other looks right: cards with 60 designs and 60 cards.", "kit", "check", at("other"))

	// Notes among the pictures are no cards, and no name of a folder is in the way.
	require.NoError(t, os.CopyFS(at("null"), os.DirFS(at("Vögel"))))
	require.NoError(t, os.WriteFile(at("null/notes.txt"), []byte("Drawn in May\nby Reed\n"), 0o600))
	says(0, "Left out of "+at("null")+": notes.txt.", "kit", "new", at("übung"), at("null"))
	says(0, "Übung looks right: null-2 with 60 designs and 60 cards.", "kit", "check", at("übung"))

	// Where nothing is named, what lies in the kit's folder is taken, as it lies there.
	require.NoError(t, os.CopyFS(at("game/Meine Vögel"), os.DirFS(at("Vögel"))))
	require.NoError(t, os.CopyFS(at("game/notes"), os.DirFS(at("empty"))))
	require.NoError(t, os.WriteFile(at("game/Karten.csv"), h.rows, 0o600))
	require.NoError(t, os.WriteFile(at("game/page.jpg"), h.page, 0o600))
	says(0, "60 pictures packed to Meine Vögel.png", "kit", "new", at("game"))
	says(0, "Game looks right: karten with 120 designs and 240 cards, meine-voegel with 60 designs and 60 cards, page with 9 designs and 9 cards.", "kit", "check", at("game"))
	require.NoError(t, os.CopyFS(at("flat"), os.DirFS(at("Vögel"))))
	says(0, "Pictures of one card each were copied to cards/", "kit", "new", at("flat"))
	says(0, "Flat looks right: cards with 60 designs and 60 cards.", "kit", "check", at("flat"))
	require.NoError(t, os.CopyFS(at("twice"), os.DirFS(at("Vögel"))))
	says(0, "60 pictures packed to cards.png", "kit", "new", at("twice"), at("twice")+"/.")
	assert.NoFileExists(t, at("twice.png"), "nothing is written beside the kit")

	// One of another shape is told, and nothing is left half done.
	require.NoError(t, os.WriteFile(at("Vögel/square.png"), demo.PNG(image.NewNRGBA(image.Rect(0, 0, 300, 300))), 0o600))
	says(3, "square.png", "kit", "new", at("third"), at("Vögel"))
	assert.NoDirExists(t, at("third"))
	says(3, "holds a kit.yaml already", "kit", "new", at("kit"), at("Vögel"))
	says(3, "holds no pictures", "kit", "new", at("third"), at("empty"))
	says(3, "is a file; say first in which folder", "kit", "new", at("page.jpg"))
}

// smeared is a sheet of 5 × 4 pictures with gutters of three pixels, as JPEG leaves them.
func smeared() []byte {
	const wide, high = 220, 300
	random := rand.New(rand.NewPCG(7, 7))
	page := image.NewNRGBA(image.Rect(0, 0, 41+5*wide+4*3+5, 63+4*high+3*3+9))
	draw.Draw(page, page.Rect, image.White, image.Point{}, draw.Src)
	for i := range 20 {
		card := image.Rect(0, 0, wide, high).Add(image.Pt(41+i%5*(wide+3), 63+i/5*(high+3)))
		for range 60 {
			at := card.Min.Add(image.Pt(random.IntN(wide)-40, random.IntN(high)-40))
			c := color.NRGBA{uint8(random.IntN(256)), uint8(random.IntN(256)), uint8(random.IntN(256)), 255}
			draw.Draw(page, image.Rectangle{at, at.Add(image.Pt(40+random.IntN(90), 40+random.IntN(90)))}.Intersect(card), image.NewUniform(c), image.Point{}, draw.Src)
		}
		for range 3000 {
			page.SetNRGBA(card.Min.X+random.IntN(wide), card.Min.Y+random.IntN(high), color.NRGBA{uint8(random.IntN(256)), uint8(random.IntN(256)), uint8(random.IntN(256)), 255})
		}
	}
	var out bytes.Buffer
	_ = jpeg.Encode(&out, page, &jpeg.Options{Quality: 60})
	return out.Bytes()
}

// Sheets that are dropped together are sheets each, and are read as the command line reads them, also JPEG.
func TestSheetsThatAreDroppedTogetherAreReadAsOnTheCommandLine(t *testing.T) {
	t.Parallel()
	s := start(t)
	errands, err := fs.ReadFile(demo.Kit(), "errands.png")
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "moor.jpg")
	moor := smeared()
	require.Greater(t, len(moor), 200_000, "so large that a browser may decode it")
	require.NoError(t, os.WriteFile(file, moor, 0o600))
	out, code := s.cli("sheet", "check", file)
	require.Zero(t, code, out)
	assert.Contains(t, out, "5 columns × 4 rows, margin 41, 63, 5, 9, gutter 3, guessed")

	b := browsers(t, 1)[0]
	b.do(chromedp.Navigate(s.url() + "/bench#maker=" + s.maker().Key()))
	b.reads("Begin with what you have")
	b.drops(map[string][]byte{"moor.jpg": moor, "errands.png": errands})
	b.part("Sheets", "errands")
	b.sees("15", count(".card-strip li"))
	b.part("Sheets", "moor")
	b.sees("20", count(".card-strip li"))
	b.reads("5 × 4, margin 41, 63, 5, 9, gutter 3")
	b.sees("nothing looks wrong", benchState)
}
