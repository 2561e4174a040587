package trial

import (
	"bytes"
	"image"
	"image/draw"
	"image/png"
	"io/fs"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/demo"
)

// file reads a file of the demo's kit.
func file(t *testing.T, name string) []byte {
	text, err := fs.ReadFile(demo.Kit(), name)
	require.NoError(t, err)
	return text
}

// From a sheet to two people at a room, by someone who types no key and needs no word of
// explanation: a drop, and a click for each thing.
func TestAMakerGoesFromASheetToARoomWithTwoPeople(t *testing.T) {
	t.Parallel()
	s := start(t)
	all := browsers(t, 2)
	maker, guest := all[0], all[1]
	maker.do(chromedp.Navigate(s.url() + "/#maker=" + s.maker().Key()))
	maker.reads("Your shelf is empty")
	assert.NotContains(t, maker.js("location.href"), "maker=", "the key stands in the address")
	maker.follow("Make a kit")
	maker.reads("Begin with what you have")

	maker.drops(map[string][]byte{"weather.png": file(t, "weather.png")}) // act 1
	maker.reads("14 cards, 2 empty cells. Nothing looks wrong.")
	maker.sees("nothing looks wrong", benchState)
	maker.click("Keep …")      // 2
	maker.click("Keep it")     // 3
	maker.click("Open a room") // 4
	maker.click("Open it")     // 5
	maker.reads("Weather is open")
	maker.reads("Only this machine can open that link.")
	link := maker.js("document.querySelector('[aria-label=\"Link to send\"]').value")
	guest.do(chromedp.Navigate(link))
	guest.sit(link, "Bo") // 6 and 7: a name, and Sit down
	maker.follow("Sit down")
	maker.sit(link, "Ada")
	maker.reads("Bo")
	maker.sees("true", count("[data-place] .card-face")+" > 0")
	guest.reads("Ada")

	// Change the art, keep it, and take it into the room that is playing: both see it.
	room := link[strings.LastIndex(link, "/")+1:]
	joined, err := s.maker().Join(s.ctx, room, client.Join{Name: "Cleo"})
	require.NoError(t, err)
	cleo := s.maker().At(joined)
	_, err = cleo.Do(s.ctx, "flip 1 of weather")
	require.NoError(t, err)
	const top = "document.querySelector('[data-place=\"weather\"] .card-face')?.getAttribute('src') ?? ''"
	front := func(b *browser) string {
		b.sees("true", "("+top+") !== '' && "+count("[data-place=\"weather\"] .held-card")+" > 0")
		return b.js(top)
	}
	look, err := cleo.Look(s.ctx)
	require.NoError(t, err)
	face := ""
	for _, p := range look.View.Places {
		if p.ID == "weather" {
			face = string(look.View.Faces[p.Cards[0].Face].Picture)
		}
	}
	for _, b := range all {
		b.sees("true", "("+top+").includes('"+face+"')")
	}
	was := front(guest)
	maker.do(chromedp.Navigate(s.url() + "/"))
	maker.click("Work on it")
	maker.sees("nothing looks wrong", benchState)
	maker.drops(map[string][]byte{"weather.png": darker(t, file(t, "weather.png"))})
	maker.reads("changed since edition 1")
	maker.sees("nothing looks wrong", benchState)
	maker.click("Keep …")
	maker.reads("Against edition 1: 14 cards changed.")
	maker.sees("28", "[...document.querySelectorAll('.compared img')].filter((i) => i.src.startsWith('blob:') && i.naturalWidth > 50).length")
	maker.click("Keep it")
	maker.reads("Rooms that play with a former edition:")
	maker.click("Take it in")
	maker.reads("14 cards changed.")
	maker.press(`[...document.querySelectorAll('.modal.show button')].find((e) => e.innerText === 'Take it in' && !e.disabled)`)
	guest.sees("true", "("+top+") !== '' && ("+top+") !== '"+was+"'")
	guest.reads("takes in edition 2")
	maker.do(chromedp.Navigate(link))
	assert.Equal(t, front(guest), front(maker))

	// Kept under a name, another room begins from it.
	maker.do(chromedp.Navigate(s.url() + "/"))
	maker.press(`document.querySelector('.room-card .dropdown-toggle')`)
	maker.press(`[...document.querySelectorAll('.room-card .dropdown-item')].find((e) => e.innerText === 'Bookmark …')`)
	maker.click("Keep it")
	guest.reads("keeps this table as the bookmark Weather")
	maker.click("Open a room from it")
	maker.click("Open it")
	maker.reads("Weather is open")
	maker.follow("Sit down")
	again := maker.js("location.href")
	assert.NotEqual(t, link, again)
	maker.sit(again, "Ada")
	assert.Equal(t, front(guest), front(maker))
}

// darker is a picture with every pixel darkened.
func darker(t *testing.T, text []byte) []byte {
	picture, err := png.Decode(bytes.NewReader(text))
	require.NoError(t, err)
	dark := image.NewNRGBA(picture.Bounds())
	draw.Draw(dark, dark.Rect, picture, image.Point{}, draw.Src)
	for i := range dark.Pix {
		if i%4 != 3 {
			dark.Pix[i] -= dark.Pix[i] / 4
		}
	}
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, dark))
	return out.Bytes()
}

func TestAShelfShowsKitsAndRoomsAndTakesThemAwayForAWhile(t *testing.T) {
	t.Parallel()
	s := start(t)
	all := browsers(t, 2)
	b, guest := all[0], all[1]
	url := s.url() + s.room().Path
	b.do(chromedp.Navigate(s.url() + "/#maker=" + s.maker().Key()))
	b.reads("keeper's shelf")
	b.reads("nobody there")
	guest.sit(url, "Bo")
	b.reads("1 person there")
	b.follow("Marsh Post")
	b.reads("Who finds it")
	b.sees("true", `(() => { const reach = document.querySelector("#reach"); Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(reach, "listed"); reach.dispatchEvent(new Event("change", { bubbles: true })); return true })()`)
	b.sees("true", "document.querySelector('[aria-label=\"Link to the kit\"]')?.value.includes('/kit/')")
	guest.do(chromedp.Navigate(s.url() + "/"))
	guest.reads("Kits to look at")
	guest.reads("as Bo")

	b.follow("Shelf")
	b.sees("true", `(() => { // the card rests: pictures above it may come late
		const top = document.querySelector(".room-card .dropdown-toggle")?.getBoundingClientRect().top;
		if (top === undefined || top !== window.lay) { window.lay = top; window.since = Date.now(); return false }
		return Date.now() - window.since > 1000;
	})()`)
	b.press(`document.querySelector('.room-card .dropdown-toggle')`)
	b.press(`[...document.querySelectorAll('.room-card .dropdown-item')].find((e) => e.innerText === 'Remove …')`)
	b.click("Remove it")
	b.sees("0", count(".room-card"))
	b.press("document.querySelector('.shelf-removed summary')")
	b.click("Bring it back")
	b.sees("1", count(".room-card"))
}
