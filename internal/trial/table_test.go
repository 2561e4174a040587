package trial

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
)

const (
	weather  = "[data-place=weather]"
	pileTop  = weather + " [data-handle]"
	sky      = "[data-place=sky]"
	myHand   = ".hand"
	handCard = ".hand [data-handle]"
)

func count(selector string) string { return "document.querySelectorAll('" + selector + "').length" }

func labelOf(selector string) string {
	return "document.querySelector('" + selector + "')?.getAttribute('aria-label')"
}

const pileCount = "document.querySelector('" + weather + " .pile-count')?.textContent"

// pair starts a service with a room and two browsers seated in it.
func pair(t *testing.T) (s *service, ada, bo *browser) {
	s = start(t)
	room := s.room()
	both := browsers(t, 2)
	both[0].sit(s.url()+room.Path, "Ada")
	both[1].sit(s.url()+room.Path, "Bo")
	return s, both[0], both[1]
}

func TestTwoBrowsersShareATable(t *testing.T) {
	t.Parallel()
	_, ada, bo := pair(t)
	ada.sees("2", count(".seat-here.on"))

	// The mouse: pile to hand. Bo sees the count, and nothing of the card.
	ada.drag(pileTop, myHand, 0)
	ada.sees("1", count(handCard))
	bo.sees("21", pileCount)
	bo.sees("1 card", "document.querySelector('.seat-cards').innerText")
	picture := ada.js("document.querySelector('" + handCard + " img').getAttribute('src')")
	ada.sees("Ice", labelOf(handCard))
	assert.NotContains(t, bo.everything(), "Ice")
	assert.NotContains(t, bo.everything(), picture)

	// Dropped nowhere it springs back.
	ada.drag(handCard, ".table-bar h1", 0)
	ada.sees("0", count(".ghost"))
	ada.sees("1", count(handCard))

	// Hand to zone: now everyone sees it.
	ada.drag(handCard, sky, 0)
	bo.sees("Ice", labelOf(sky+" [data-handle]"))
	assert.Contains(t, bo.everything(), picture)

	// A finger: pile to hand, hand to one's dock. The mouse: zone to zone.
	bo.dragByFinger(pileTop, myHand)
	bo.sees("1", count(handCard))
	bo.dragByFinger(handCard, `[data-place="dock/2"]`)
	ada.sees("1", count(`[data-place="dock/2"] [data-handle]`))
	bo.drag(sky+" [data-handle]", "[data-place=outbox]", 0)
	ada.sees("Ice", labelOf("[data-place=outbox] [data-handle]"))

	// The felt.
	ada.drag(pileTop, sky, 215)
	bo.sees("1", count(".kind-loose"))

	// Choose first, act second: flip by the bar, shuffle by key.
	ada.do(chromedp.Click(chromedp.CSS(".kind-loose [data-handle]")))
	ada.click("Flip")
	bo.sees("Low sun", labelOf(".kind-loose [data-handle]"))
	bo.do(chromedp.Click(chromedp.CSS(pileTop)), chromedp.KeyEvent("s"))
	ada.reads("Bo: shuffle weather")

	// Steps in words, and a refusal that says why.
	ada.do(chromedp.SendKeys(chromedp.CSS(".steps-box input"), "draw 40 from weather\r"))
	ada.reads("weather has 19 cards, you asked for 40.")
}

// The acts of the issue on the whole table, plainly: peeks, asks, undo, pieces.
func TestTwoBrowsersPeekAskAndUndo(t *testing.T) {
	t.Parallel()
	_, ada, bo := pair(t)
	ada.do(chromedp.Click(chromedp.CSS(pileTop)), chromedp.KeyEvent("3"), chromedp.KeyEvent("p"))
	ada.sees("3", count(".peek-cards [data-handle]"))
	ada.sees("Ice", labelOf(".peek-cards [data-handle]"))
	bo.reads("peek 3 of weather")
	assert.NotContains(t, bo.everything(), "Ice")
	bo.do(chromedp.Click(chromedp.CSS(pileTop)), chromedp.KeyEvent("d"))
	bo.reads("Ada is looking at the top 3 of weather; wait until they close it.")

	// What is put underneath is Ada's to know.
	ada.do(chromedp.Click(chromedp.CSS(".peek-cards [data-handle]")))
	ada.click("Chosen underneath")
	ada.sees("2", count(".peek-cards [data-handle]"))
	ada.click("Close")
	bo.do(chromedp.KeyEvent("d"))
	bo.sees("Low sun", labelOf(handCard))

	// Ada asks Bo, who agrees.
	ada.do(chromedp.Click(chromedp.CSS(".seat-ask")))
	bo.reads("Ada asks you for 1 card.")
	bo.click("Agree, by chance")
	ada.sees("Low sun", labelOf(handCard))
	bo.sees("0", count(handCard))

	// A card onto a cell of the grid, and back by undo.
	ada.drag(handCard, `[data-place="moorings/C2"]`, 0)
	bo.sees("Low sun", labelOf(`.kind-cell [data-handle]`))
	ada.click("Undo")
	bo.sees("0", count(".kind-cell"))
	ada.sees("Low sun", labelOf(handCard))

	// Pieces, and the turn.
	bo.do(chromedp.Click(chromedp.CSS(`[aria-label="one more day"]`)))
	ada.sees("2", "document.querySelector('.piece.counter strong').textContent")
	bo.click("Pass the turn")
	ada.reads("has the turn")
}

func TestAfterAKillBothBrowsersGoOnWithoutAReload(t *testing.T) {
	t.Parallel()
	s, ada, bo := pair(t)
	ada.drag(pileTop, myHand, 0)
	bo.sees("21", pileCount)
	bo.drag(pileTop, sky, 0)
	ada.sees("1", count(sky+" [data-handle]"))
	for _, b := range []*browser{ada, bo} {
		b.js("window.notReloaded = 'so'")
	}

	s.kill()
	for _, b := range []*browser{ada, bo} {
		b.reads("The connection is lost. Trying again; the table shows what was last known.")
		b.sees("1", count(sky+" [data-handle]"))
	}
	s.run()
	for _, b := range []*browser{ada, bo} {
		b.sees("", "document.querySelector('.connection').textContent")
		b.sees("20", pileCount)
		b.sees("so", "window.notReloaded")
	}
	ada.sees("Ice", labelOf(handCard))
	ada.drag(handCard, sky, 0)
	bo.sees("2", count(sky+" [data-handle]"))
}

func TestTheEntranceSaysWhatIsWrong(t *testing.T) {
	t.Parallel()
	s := start(t)
	s.room()
	room, err := s.maker().OpenRoom(s.ctx, client.OpenRoom{Kit: "Marsh Post", Seats: 2, Passcode: "heron"})
	require.NoError(t, err)
	b := browsers(t, 1)[0]
	b.do(chromedp.Navigate(s.url() + "/room/nowhere"))
	b.reads(`There is no room "nowhere" here. Check the link you were sent.`)
	b.do(chromedp.Navigate(s.url()+room.Path), chromedp.WaitVisible(chromedp.CSS("#passcode")),
		chromedp.SendKeys(chromedp.CSS("#name"), "Ada"), chromedp.SendKeys(chromedp.CSS("#passcode"), "stork\r"))
	b.reads("That is not this room's passcode. Ask who sent you the link.")
	b.do(chromedp.SendKeys(chromedp.CSS("#passcode"), "\b\b\b\b\bheron\r"), chromedp.WaitVisible(chromedp.CSS("[data-mat]")))
}
