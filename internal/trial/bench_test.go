package trial

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"io/fs"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/compared"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/spreadsheet"
)

// onBench puts all of Marsh Post on the shelf and opens it on the bench.
func (s *service) onBench(b *browser) *client.Client {
	var zip bytes.Buffer
	require.NoError(s.t, kit.Zip(demo.Kit(), &zip))
	maker := s.maker()
	_, err := maker.PutKit(s.ctx, &zip, int64(zip.Len()), false)
	require.NoError(s.t, err)
	b.do(chromedp.Navigate(s.url() + "/bench#maker=" + maker.Key()))
	b.follow("Marsh Post edition")
	b.sees("nothing looks wrong", benchState)
	return maker
}

// keeps keeps what lies on the bench.
func (b *browser) keeps() {
	b.t.Helper()
	b.click("Keep …")
	b.click("Keep it")
}

const benchState = "document.querySelector('.table-bar .quiet').innerText"

// types gives an input of the page another value, as typing does.
func (b *browser) types(input, value string) {
	b.t.Helper()
	b.sees("true", fmt.Sprintf(`(() => { const input = %s; if (!input) return false;
		Object.getOwnPropertyDescriptor(Object.getPrototypeOf(input), "value").set.call(input, %q);
		input.dispatchEvent(new Event("input", { bubbles: true })); return true })()`, input, value))
}

func fieldOf(label string) string {
	return fmt.Sprintf("[...document.querySelectorAll('.bench-field')].find((f) => f.innerText.startsWith(%q))?.querySelector('input')", label)
}

// adds chooses files for the bench, as from the disk.
func (b *browser) adds(files map[string][]byte) {
	b.t.Helper()
	b.js(`(() => { ` + transfer(files) + `
		const input = document.querySelector(".bench-parts input[type=file], .bench-begin input[type=file]");
		input.files = all.files; input.dispatchEvent(new Event("change", { bubbles: true })); })()`)
}

// drops drops files on the bench.
func (b *browser) drops(files map[string][]byte) {
	b.t.Helper()
	b.js(`(() => { ` + transfer(files) + `
		document.querySelector(".bench").dispatchEvent(new DragEvent("drop", { bubbles: true, cancelable: true, dataTransfer: all })); })()`)
}

// pastes pastes text into a field, as a spreadsheet copies it.
func (b *browser) pastes(field, text string) {
	b.t.Helper()
	b.press(field)
	b.js(fmt.Sprintf(`(() => { const all = new DataTransfer(); all.setData("text/plain", %q);
		document.activeElement.dispatchEvent(new ClipboardEvent("paste", { bubbles: true, cancelable: true, clipboardData: all })); })()`, text))
}

// transfer is a script that makes files as the browser hands them over.
func transfer(files map[string][]byte) string {
	var list strings.Builder
	list.WriteString("const all = new DataTransfer();")
	for name, file := range files {
		fmt.Fprintf(&list, "all.items.add(new File([Uint8Array.from(atob(%q), (c) => c.charCodeAt(0))], %q));", base64.StdEncoding.EncodeToString(file), name)
	}
	return list.String()
}

func (b *browser) part(group, name string) {
	b.t.Helper()
	b.press(fmt.Sprintf(`[...([...document.querySelectorAll(".bench-parts h2")].find((h) => h.innerText === %q)?.nextElementSibling.querySelectorAll("button") ?? [])].find((e) => e.innerText === %q)`, group, name))
}

// A maker with a wrong column count sees it at once, and no number is asked about
// over the network.
func TestWrongNumbersAreSeenOnTheBenchWithoutARoundTrip(t *testing.T) {
	t.Parallel()
	s := start(t)
	b := browsers(t, 1)[0]
	s.onBench(b)
	b.part("Sheets", "errands")
	b.sees("15", count(".card-strip li"))
	b.reads("15 cards, 0 empty cells. Nothing looks wrong.")
	b.mu.Lock()
	asked := b.traffic.Len()
	b.mu.Unlock()

	b.types(fieldOf("Columns"), "4")
	b.sees("12", count(".card-strip li"))
	b.reads("The picture looks like 5 columns × 3 rows, not 4 × 3")
	b.sees("true", count(".pin")+" > 5")
	b.types(fieldOf("Cards"), "99")
	b.reads("4 columns × 3 rows are 12 cells, so they cannot hold 99 cards")
	b.types(fieldOf("Cards"), "")
	b.click("5 × 3")
	b.sees("15", count(".card-strip li"))
	b.sees("0", count(".pin"))
	b.mu.Lock()
	defer b.mu.Unlock()
	for _, line := range strings.Split(b.traffic.String()[asked:], "\n") {
		assert.True(t, line == "" || strings.HasPrefix(line, "blob:"), "asked the network: %s", line)
	}
}

func TestNothingIsStoredBeforeKeepAndKeepingTwiceMakesOne(t *testing.T) {
	t.Parallel()
	s := start(t)
	b := browsers(t, 1)[0]
	maker := s.onBench(b)
	edition := func() int {
		kits, err := maker.Kits(s.ctx)
		require.NoError(t, err)
		require.Len(t, kits, 1)
		return kits[0].Edition
	}
	b.part("Decks", "letters")
	b.reads("40 rows, 57 cards")
	b.types("document.querySelector('[aria-label=\"copies of row 2\"]')", "two")
	b.reads(`row 2, copies: copies are a whole number from 0 to 1000, not "two"`)
	b.sees("true", "[...document.querySelectorAll('button')].find((e) => e.innerText === 'Keep …').disabled")
	b.types("document.querySelector('[aria-label=\"copies of row 2\"]')", "5")
	b.reads("40 rows, 60 cards")
	b.sees("nothing looks wrong", benchState)
	assert.Equal(t, 1, edition(), "something was stored before Keep")

	b.keeps()
	b.reads("It is edition 2 of Marsh Post.")
	b.click("Go on here")
	b.keeps()
	b.reads("Nothing has changed since edition 2 of Marsh Post.")
	assert.Equal(t, 2, edition())
	zip, err := maker.Kit(s.ctx, "Marsh Post")
	require.NoError(t, err)
	files, err := kit.OpenZip(zip)
	require.NoError(t, err)
	was, err := fs.ReadFile(demo.Kit(), "letters.csv")
	require.NoError(t, err)
	is, err := fs.ReadFile(files, "letters.csv")
	require.NoError(t, err)
	assert.Equal(t, strings.Replace(string(was), "back the spade.\",2,", "back the spade.\",5,", 1), string(is), "only that cell has changed")
}

// From loose pictures to a deck on the shelf, by hand.
func TestLoosePicturesBecomeADeckOnTheBench(t *testing.T) {
	t.Parallel()
	s := start(t)
	b := browsers(t, 1)[0]
	maker := s.maker()
	b.do(chromedp.Navigate(s.url() + "/bench#maker=" + maker.Key()))
	b.reads("Begin with what you have")
	pictures := map[string][]byte{}
	for _, name := range []string{"caulk-the-skiff", "trim-the-lamps", "feed-the-heron", "borrow-a-sail"} {
		file, err := fs.ReadFile(demo.Kit(), "errands/"+name+".png")
		require.NoError(t, err)
		pictures[name+".png"] = file
	}
	b.drops(pictures)
	b.reads("4 cards, 2 columns × 2 rows, 720 × 1008 pixels, each card 360 × 504")
	b.reads("feed-the-heron.png lay on its side and was turned.")
	b.click("Put it into the kit")
	b.sees("4", count(".card-strip li"))
	b.adds(map[string][]byte{"names.csv": []byte("title\nFog\nCalm\n")}) // a table file becomes a deck of its own
	b.reads("2 rows, 2 cards")
	b.sees("nothing looks wrong", benchState) // a layout was begun for it
	b.click("Remove this deck")
	b.click("Take it out")
	b.part("Decks", "cards")
	b.sees("true", "[...document.querySelectorAll('.bench-face select')].length > 0")
	b.sees("nothing looks wrong", benchState) // it has a plain back and a pile of its own
	b.click("Spell the designs out")
	b.types("document.querySelector('[aria-label=\"copies of design 1\"]')", "3")
	b.reads("4 designs, 6 cards")
	b.keeps()
	b.reads("It is edition 1 of My game.")
	room, err := maker.OpenRoom(s.ctx, client.OpenRoom{Kit: "My game"})
	require.NoError(t, err)
	joined, err := maker.Join(s.ctx, room.ID, client.Join{Name: "Ada"})
	require.NoError(t, err)
	look, err := maker.At(joined).Look(s.ctx)
	require.NoError(t, err)
	assert.Equal(t, 6, look.View.Places[slices.IndexFunc(look.View.Places, func(p sight.Place) bool { return p.ID == "cards" })].Count)
}

func TestALayoutIsDrawnAsItIsChanged(t *testing.T) {
	t.Parallel()
	s := start(t)
	b := browsers(t, 1)[0]
	s.onBench(b)
	b.part("Layouts", "letter")
	b.sees("11", count(".bench-boxes li"))
	drawn := "document.querySelector('.layout-preview canvas').toDataURL().length"
	b.sees("true", drawn+" > 5000")
	before := b.js("document.querySelector('.layout-preview canvas').toDataURL()")
	b.press("document.querySelectorAll('.bench-boxes li button')[8]")
	b.types(fieldOf("Letters"), "90")
	b.types(fieldOf("Shrink to"), "88")
	b.reads("does not fit, also not 88 pixels high")
	b.sees("true", fmt.Sprintf("document.querySelector('.layout-preview canvas').toDataURL() !== %q", before))
	b.types(fieldOf("Shrink to"), "")
	b.sees("false", "document.body.innerText.includes('does not fit')")
}

// A spreadsheet is read by a module of its own, which is fetched when it comes.
func TestASpreadsheetIsReadAndWrittenOnTheBench(t *testing.T) {
	t.Parallel()
	s := start(t)
	b := browsers(t, 1)[0]
	s.onBench(b)
	assert.NotContains(t, b.everything(), "spreadsheets.wasm", "nobody waits for it who has none")
	book, err := spreadsheet.Write([]spreadsheet.Tab{{Rows: [][]string{{"title", "district", "copies"}, {"Heron", "Reed End", "2"}, {"Otter", "Low Dock", ""}}}})
	require.NoError(t, err)
	b.adds(map[string][]byte{"birds.xlsx": book})
	b.reads("2 rows, 3 cards")
	b.types(`document.querySelector('[aria-label="district of row 3"]')`, "High Dock")
	b.sees("High Dock", `document.querySelector('[aria-label="district of row 3"]')?.value`)
	b.pastes(`document.querySelector('[aria-label="title of row 3"]')`, "Otter\tLow Dock\t3\nGull\t\"Reed\nEnd\"\t\n")
	b.reads("3 rows, 6 cards")
	b.sees("Gull", `document.querySelector('[aria-label="title of row 4"]')?.value`)
	b.click("Undo")
	b.reads("2 rows, 3 cards")
	b.sees("High Dock", `document.querySelector('[aria-label="district of row 3"]')?.value`)
	b.adds(map[string][]byte{"broken.xlsx": []byte("no spreadsheet")})
	b.reads("broken.xlsx: this is no spreadsheet (.xlsx) that can be read")
}

// What is dropped while a kit still opens comes to that kit; what cannot be read is told, with how to save it; and one undo
// takes a whole drop back.
func TestWhatIsDroppedWhileAKitOpensComesToIt(t *testing.T) {
	t.Parallel()
	s := start(t)
	b := browsers(t, 1)[0]
	s.onBench(b)
	path := b.js("location.pathname")
	b.do(chromedp.Navigate(s.url()+"/"), chromedp.Navigate(s.url()+path), chromedp.WaitVisible(chromedp.CSS(".bench")))
	b.drops(map[string][]byte{
		"birds.csv": []byte("title,copies\nHeron,2\nOtter,1\n"), "fish.csv": []byte("Eel,3\nPike,2\nRoach,3\n"), "sea.png": file(t, "weather.png"),
		"old.ods": []byte("x"),
	})
	b.reads("old.ods cannot be read here: save it as .xlsx or .csv.")
	decks := `[...document.querySelectorAll(".bench-parts li")].map((e) => e.innerText.trim()).join(" ")`
	for _, name := range []string{"letters", "couriers", "birds", "fish", "sea"} {
		b.sees("true", fmt.Sprintf("%s.includes(%q)", decks, name))
	}
	b.part("Decks", "fish")
	b.reads("3 rows, 3 cards")
	b.reads("No row names the columns, so they are called")
	b.types(`document.querySelector('[aria-label="the column column 2"]')`, "copies")
	b.press(`document.querySelector('[aria-label="the column column 2"]')`)
	b.do(chromedp.KeyEvent("\r"))
	b.reads("3 rows, 8 cards")
	b.click("Undo")
	b.reads("3 rows, 3 cards")
	b.click("Undo")
	b.sees("false", decks+`.includes("fish")`)
	b.sees("false", decks+`.includes("sea")`)
	b.sees("true", decks+`.includes("letters")`)
}

// A scan that lies askew is told so, and a button turns it: its grid is found then. One undo brings the scan back as it was.
func TestAScanIsTurnedUprightOnTheBench(t *testing.T) {
	t.Parallel()
	s := start(t)
	b := browsers(t, 1)[0]
	b.do(chromedp.Navigate(s.url() + "/bench"))
	b.reads("Begin with what you have")
	errands, err := sheet.Read(file(t, "errands.png"))
	require.NoError(t, err)
	b.drops(map[string][]byte{"scan.png": demo.PNG(sheet.Upright(errands, -0.9))})
	b.reads("the picture lies askew by 0.9 degrees")
	b.click("Turn it upright")
	b.reads("15 cards, 0 empty cells. Nothing looks wrong.")
	b.click("Undo")
	b.reads("the picture lies askew by 0.9 degrees")
}

// A draft is tried alone, without a key: every seat is one's own, and nothing is sent. From
// dropping a sheet to shuffling its cards is a drop and a few clicks.
func TestADraftIsTriedAlone(t *testing.T) {
	t.Parallel()
	s := start(t)
	b := browsers(t, 1)[0]
	b.do(chromedp.Navigate(s.url() + "/bench"))
	b.reads("Begin with what you have")
	b.drops(map[string][]byte{"weather.png": file(t, "weather.png")})
	b.reads("14 cards, 2 empty cells. Nothing looks wrong.")
	time.Sleep(time.Second) // it is looked over once more a moment after the last change
	b.sees("nothing looks wrong", benchState)
	b.mu.Lock()
	asked := b.traffic.Len()
	b.mu.Unlock()
	b.click("Try it")
	b.reads("Back to the bench")
	b.sees("14", "document.querySelector('[data-place=\"weather\"] .pile-count')?.innerText")
	b.says("shuffle weather")
	b.says("draw 3 from weather")
	b.sees("3", count(".hand .held-card"))
	b.sees("true", "[...document.querySelectorAll('.hand .held-card img')].every((i) => i.src.startsWith('blob:') && i.naturalWidth > 100)")
	b.reads("draw 3 from Weather")
	b.selects(".try-seat", "2")
	b.sees("0", count(".hand .held-card"))
	b.says("draw 1 from weather")
	b.sees("1", count(".hand .held-card"))
	b.selects(".try-seat", "1")
	b.sees("3", count(".hand .held-card"))
	b.do(chromedp.SendKeys(chromedp.CSS(".steps-box input"), "draw 99 from weather\r"))
	b.reads("Weather has 10 cards, you asked for 99.")
	b.click("Begin anew")
	b.sees("14", "document.querySelector('[data-place=\"weather\"] .pile-count')?.innerText")
	b.click("Back to the bench")
	b.sees("nothing looks wrong", benchState)
	b.mu.Lock()
	defer b.mu.Unlock()
	for _, line := range strings.Split(b.traffic.String()[asked:], "\n") {
		assert.False(t, strings.Contains(line, "/api/"), "asked the service: %s", line)
	}
}

// The table is arranged on the bench as it is in a room, and what is laid stands in the kit.
func TestTheTableIsArrangedOnTheBench(t *testing.T) {
	t.Parallel()
	s := start(t)
	b := browsers(t, 1)[0]
	maker := s.onBench(b)
	b.click("Table")
	b.reads("What is laid here is written into the kit on the bench.")
	b.press(`[...document.querySelectorAll('.palette button, [class*=palette] button')].find((e) => e.innerText === 'pile')`)
	b.sees("true", "[...document.querySelectorAll('.frame-name')].some((f) => f.innerText.includes('zone'))")
	b.click("Back to the bench")
	b.reads("changed since edition 1")
	b.sees("nothing looks wrong", benchState)
	b.keeps()
	b.reads("It is edition 2 of Marsh Post.")
	changed, err := maker.Compare(s.ctx, "Marsh Post", 1, 2)
	require.NoError(t, err)
	assert.Contains(t, changed.Zones, compared.ThingChange{Key: "zone1", Change: compared.Added})
	assert.Empty(t, changed.Decks)
}

// selects chooses an option of a list by its value.
func (b *browser) selects(list, value string) {
	b.t.Helper()
	b.sees("true", fmt.Sprintf(`(() => { const list = document.querySelector(%q); if (!list) return false;
		Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(list, %q);
		list.dispatchEvent(new Event("change", { bubbles: true })); return true })()`, list, value))
}

// A box of a layout is moved and sized by hand: it falls into line with the card and other boxes, and all of a drag is
// undone at once.
func TestABoxOfALayoutIsMovedByHand(t *testing.T) {
	t.Parallel()
	s := start(t)
	b := browsers(t, 1)[0]
	s.onBench(b)
	b.part("Layouts", "letter")
	b.sees("11", count(".bench-boxes li"))
	b.press("document.querySelectorAll('.bench-boxes li button')[8]")
	// The numbers of the box, which are the last of their names.
	const lies = "['Left', 'Top', 'Width', 'Height'].map((n) => [...document.querySelectorAll('.bench-field')].filter((f) => f.innerText.startsWith(n)).at(-1).querySelector('input').value).join(' ')"
	numbers := func() string { return b.js(lies) }
	before := numbers()
	const box = "document.querySelector('.layout-box.chosen')"
	b.dragBy(box, 40, 30)
	moved := numbers()
	assert.NotEqual(t, before, moved)
	b.dragBy("document.querySelector('.layout-box.chosen .layout-size')", -20, 10)
	sized := numbers()
	assert.Equal(t, strings.Fields(moved)[:2], strings.Fields(sized)[:2], "its corner alone is dragged")
	assert.NotEqual(t, moved, sized)
	b.dragBy(box, -1000, 0) // beyond the card's edge it may lie, and nothing is near there
	b.click("Undo")
	b.click("Undo")
	b.click("Undo")
	b.sees(before, lies)
	b.click("Redo")
	b.sees(moved, lies)
}
