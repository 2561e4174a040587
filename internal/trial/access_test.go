package trial

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
)

// tabTo presses Tab until what is in focus begins with a label.
func (b *browser) tabTo(label string) {
	b.t.Helper()
	const focused = "(document.activeElement.getAttribute('aria-label') || document.activeElement.innerText || '')"
	for range 150 {
		if strings.HasPrefix(b.js(focused), label) {
			return
		}
		b.do(chromedp.KeyEvent("\t"))
	}
	require.Fail(b.t, "Tab does not get to "+label, b.js("document.body.innerText"))
}

// pressUntil presses a key until what is in focus begins with a label.
func (b *browser) pressUntil(key, label string) {
	b.t.Helper()
	for range 40 {
		if strings.HasPrefix(b.js("document.activeElement.innerText"), label) {
			return
		}
		b.do(chromedp.KeyEvent(key))
	}
	require.Fail(b.t, "the key does not get to "+label, b.js("document.body.innerText"))
}

const arrowDown = "\u0301"

// A whole turn without a mouse: sit down, draw, look at the menu, play a card, turn it,
// undo, say something, pass.
func TestTheKeyboardAlonePlaysAWholeTurn(t *testing.T) {
	t.Parallel()
	s := start(t)
	room := s.room()
	both := browsers(t, 2)
	ada, bo := both[0], both[1]
	bo.sit(s.url()+room.Path, "Bo")
	ada.do(chromedp.Navigate(s.url()+room.Path), chromedp.WaitVisible(chromedp.CSS("#name")))
	ada.sees("name", "document.activeElement.id")
	ada.do(chromedp.KeyEvent("Ada\r"), chromedp.WaitVisible(chromedp.CSS("[data-mat]")))
	ada.sees("", "document.querySelector('.connection').textContent")

	ada.tabTo("weather, 22 cards")
	ada.do(chromedp.KeyEvent("\r"), chromedp.KeyEvent("2"), chromedp.KeyEvent("d"))
	ada.sees("2", count(handCard))
	bo.sees("20", pileCount)
	card := ada.js(labelOf(handCard))

	ada.tabTo(card)
	ada.do(chromedp.KeyEvent("\r"), chromedp.KeyEvent("m"))
	ada.sees("menuitem", "document.activeElement.getAttribute('role')")
	ada.pressUntil(arrowDown, "Onto outbox")
	ada.do(chromedp.KeyEvent("\r"))
	bo.sees(card, labelOf("[data-place=outbox] [data-handle]"))

	ada.do(chromedp.KeyEvent("f")) // it is still chosen
	bo.sees("weather card, face down", labelOf("[data-place=outbox] [data-handle]"))
	ada.do(chromedp.KeyEvent("u"))
	bo.sees(card, labelOf("[data-place=outbox] [data-handle]"))

	ada.tabTo("Steps")
	ada.do(chromedp.KeyEvent("say \"Your turn.\"\r"))
	bo.reads("Ada: say \"Your turn.\"")
	ada.tabTo("Pass the turn")
	ada.do(chromedp.KeyEvent("\r"), chromedp.KeyEvent("\r"))
	ada.sees("true", "[...document.querySelectorAll('.seat')].some((s) => s.innerText.includes('has the turn'))")
}

// grave asks axe-core what is serious or worse on the page as it is.
func (b *browser) grave(where string) {
	b.t.Helper()
	axe, err := os.ReadFile("../../console/node_modules/axe-core/axe.min.js")
	require.NoError(b.t, err, "npm ci brings axe-core")
	_, err = chromedp.Run(b.ctx, chromedp.Evaluate[string](string(axe)+"; ''"))
	require.NoError(b.t, err)
	b.js(`(window.grave = '', axe.run().then((r) => { window.grave = 'done ' + r.violations.filter((v) => ['serious', 'critical'].includes(v.impact))
		.map((v) => v.id + ': ' + v.nodes.map((n) => n.target.join(' ')).join(', ')).join('; ') }), '')`)
	b.sees("true", "window.grave.startsWith('done')")
	assert.Equal(b.t, "done ", b.js("window.grave"), where)
}

func TestNothingGraveStandsInTheWayOfAnyone(t *testing.T) {
	t.Parallel()
	s := start(t)
	room := s.room()
	for _, scheme := range []string{"light", "dark"} {
		b := browsers(t, 1)[0]
		_, err := chromedp.Call(b.ctx, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{
			Features: []*emulation.MediaFeature{{Name: "prefers-color-scheme", Value: scheme}, {Name: "prefers-reduced-motion", Value: "reduce"}},
		})
		require.NoError(t, err)
		b.do(chromedp.Navigate(s.url()+"/"), chromedp.WaitVisible(chromedp.CSS("h1")))
		b.grave(scheme + ": the start")
		b.do(chromedp.Navigate(s.url()+room.Path), chromedp.WaitVisible(chromedp.CSS("#name")))
		b.grave(scheme + ": the entrance")
		b.do(chromedp.Navigate(s.url() + "/#maker=" + s.maker().Key()))
		b.reads("last act")
		b.grave(scheme + ": the shelf")
		b.follow("Marsh Post")
		b.reads("Who finds it")
		b.grave(scheme + ": a kit's page")
		b.do(chromedp.Navigate(s.url() + "/bench"))
		b.do(chromedp.WaitVisible(chromedp.CSS("h1, h2")))
		b.grave(scheme + ": the bench")
		s.onBench(b)
		b.grave(scheme + ": a kit on the bench")

		b.sit(s.url()+room.Path, map[string]string{"light": "Ada", "dark": "Bo"}[scheme])
		b.pressFirst(pileTop)
		b.sees("1", count(".place.chosen"))
		b.key("keydown", "2")
		b.sees("2", "document.querySelector('.act-count input').value")
		b.key("keydown", "d")
		b.sees("2", count(handCard))
		b.grave(scheme + ": the table")
		b.key("keydown", "p")
		b.sees("1", count(".peek-tray"))
		b.key("keydown", "m")
		b.sees("1", count(".card-menu"))
		b.grave(scheme + ": a look and the menu")
		b.key("keydown", "Escape")
		b.click("Close")
		b.sees("0", count(".peek-tray"))
		b.key("keydown", "?")
		b.sees("1", count(".modal.show"))
		b.sees("1", "getComputedStyle(document.querySelector('.modal')).opacity")
		b.grave(scheme + ": the keys")
		b.pressFirst(".modal .btn-close")
		b.sees("0", count(".modal.show"))
		if scheme == "light" { // Ada is the host
			b.key("keydown", "a")
			b.sees("true", count(".frame")+" > 6")
			b.grave("arranging")
			b.pressFirst(`.frame[aria-label^="sky"]`)
			b.sees("sky", "document.querySelector('.inspector h2').innerText")
			b.grave("the inspector")
		}
	}
}

// Nothing moves under one's hands while pictures arrive.
func TestThePageDoesNotJumpAsPicturesArrive(t *testing.T) {
	t.Parallel()
	s := start(t)
	room := s.roomOf(demo.Kit())
	b := browsers(t, 1)[0]
	b.do(chromedp.Navigate(s.url() + room.Path))
	b.js(`(window.jumped = 0, new PerformanceObserver((list) => { for (const e of list.getEntries()) if (!e.hadRecentInput) window.jumped += e.value })
		.observe({ type: 'layout-shift', buffered: true }), '')`)
	b.do(chromedp.WaitVisible(chromedp.CSS("#name")), chromedp.SendKeys(chromedp.CSS("#name"), "Ada\r"), chromedp.WaitVisible(chromedp.CSS("[data-mat]")))
	b.sees("true", "[...document.images].length > 2 && [...document.images].every((i) => i.complete)")
	var jumped float64
	_, err := fmt.Sscan(b.js("window.jumped"), &jumped)
	require.NoError(t, err)
	assert.Less(t, jumped, 0.02)
}
