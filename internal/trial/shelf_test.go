package trial

import (
	"io/fs"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

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
	b.press(`document.querySelector('.room-card .dropdown-toggle')`)
	b.press(`[...document.querySelectorAll('.room-card .dropdown-item')].find((e) => e.innerText === 'Remove …')`)
	b.click("Remove it")
	b.sees("0", count(".room-card"))
	b.press("document.querySelector('.shelf-removed summary')")
	b.click("Bring it back")
	b.sees("1", count(".room-card"))
}
