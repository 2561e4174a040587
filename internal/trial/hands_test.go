package trial

import (
	"strconv"
	"testing"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// key presses a key of the page, or lets go of it.
func (b *browser) key(kind, key string) {
	b.t.Helper()
	b.js("window.dispatchEvent(new KeyboardEvent('" + kind + "', { key: '" + key + "', bubbles: true }))")
}

func itoa(v float64) string { return strconv.Itoa(int(v)) }

// moves moves the mouse to the middle of an element.
func (b *browser) moves(selector string) {
	b.t.Helper()
	x, y := b.middle(selector)
	b.do(chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, x-6, y-6), chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, x, y))
}

func TestCardsAreChosenWithABoxAndActedOnTogether(t *testing.T) {
	t.Parallel()
	_, ada, bo := pair(t)
	ada.pressFirst(pileTop)
	ada.key("keydown", "2")
	ada.key("keydown", "d")
	ada.sees("2", count(handCard))
	bo.sees("20", pileCount)
	ada.drag(handCard, sky, 0)
	ada.sees("1", count(sky+" [data-handle]"))
	ada.drag(handCard, sky, 0)
	ada.sees("2", count(sky+" [data-handle]"))

	// A box over the row chooses both; F turns both over.
	x, y := ada.middle(sky)
	mouse := func(kind input.DispatchMouseEventType, x, y float64) chromedp.Action[chromedp.Void] {
		return chromedp.MouseEvent(kind, x, y, chromedp.ButtonLeft, chromedp.ClickCount(1))
	}
	ada.do(mouse(input.DispatchMouseEventTypeMousePressed, x-135, y-60))
	for step := 1.0; step <= 5; step++ {
		ada.do(mouse(input.DispatchMouseEventTypeMouseMoved, x-135+step*54, y-60+step*24))
	}
	ada.sees("1", count(".box-choice"))
	ada.do(mouse(input.DispatchMouseEventTypeMouseReleased, x+135, y+60))
	ada.sees("2", count(".held-card.chosen"))
	ada.key("keydown", "f")
	bo.sees("2", count(sky+` [aria-label="weather card, face down"]`))
	ada.key("keydown", "Escape")
	ada.sees("0", count(".held-card.chosen"))

	// The menu has every act, for as many as were typed.
	ada.key("keydown", "2")
	ada.js("document.querySelector('" + pileTop + "').dispatchEvent(new MouseEvent('contextmenu', { bubbles: true, clientX: 200, clientY: 200 }))")
	ada.sees("true", count(".card-menu [role=menuitem]")+" > 8")
	ada.press("[...document.querySelectorAll('.card-menu button')].find((b) => b.innerText.startsWith('Deal 2 to each'))")
	bo.sees("2", count(handCard))
	ada.sees("2", count(handCard))
	ada.sees("0", count(".card-menu"))
}

func TestATableIsZoomedAndCardsAreDraggedOnIt(t *testing.T) {
	t.Parallel()
	_, ada, bo := pair(t)
	x, y := ada.middle(pileTop)
	ada.js("document.querySelector('.mat-frame').dispatchEvent(new WheelEvent('wheel', { deltaY: -400, clientX: " + itoa(x) + ", clientY: " + itoa(y) + ", bubbles: true, cancelable: true }))")
	ada.sees("false", "[...document.querySelectorAll('.zoom button')].pop().disabled")
	nowX, nowY := ada.middle(pileTop)
	assert.InDelta(t, x, nowX, 25, "what is under the pointer stays there")
	assert.InDelta(t, y, nowY, 25)
	ada.drag(pileTop, myHand, 0)
	ada.sees("1", count(handCard))
	bo.sees("21", pileCount)
	ada.click("Show all")
	ada.sees("true", "[...document.querySelectorAll('.zoom button')].pop().disabled")
	ada.drag(handCard, sky, 0)
	bo.sees("1", count(sky+" [data-handle]"))
}

func TestACardIsEnlargedAndPointersAreSeen(t *testing.T) {
	t.Parallel()
	_, ada, bo := pair(t)
	ada.drag(pileTop, myHand, 0)
	ada.sees("1", count(handCard))
	ada.moves(handCard)
	ada.key("keydown", "z")
	full := ada.js("document.querySelector('.enlarged img')?.getAttribute('src')")
	assert.Contains(t, full, "/pictures/")
	ada.key("keyup", "z")
	ada.sees("0", count(".enlarged"))
	assert.NotContains(t, bo.everything(), full)

	ada.moves(sky)
	bo.sees("Ada", "document.querySelector('.pointer')?.innerText")
	ada.moves(".table-bar h1")
	bo.sees("0", count(".pointer"))
}

func TestPiecesAreDragged(t *testing.T) {
	t.Parallel()
	_, ada, bo := pair(t)
	spot := "document.querySelector('.piece.counter').style.getPropertyValue('--x')"
	before := bo.js(spot)
	ada.drag(".piece.counter > span", sky, -40)
	bo.sees("true", spot+" !== '"+before+"'")
	ada.sees(bo.js(spot), spot)
	ada.sees("0", count(".piece.dragged"))
	ada.click("Undo")
	bo.sees(before, spot)
	ada.drag(".piece.counter > span", ".table-bar h1", 0)
	ada.sees("0", count(".piece.dragged"))
	assert.Equal(t, before, ada.js(spot), "dropped beside the table it goes back")
	ada.pressFirst(`.piece.counter button[aria-label="one more day"]`) // its buttons work as before
	bo.sees("2", "document.querySelector('.piece.counter strong').innerText")
}

// A phone held sideways: two fingers zoom, a long press enlarges, the log is a button away.
func TestFingersZoomAndReadOnAPhone(t *testing.T) {
	t.Parallel()
	_, ada, bo := pair(t)
	ada.do(chromedp.EmulateViewport(844, 390))
	ada.dragByFinger(pileTop, myHand)
	bo.sees("21", pileCount)
	ada.sees("1", count(handCard))
	touch := func(kind input.DispatchTouchEventType, points ...*input.TouchPoint) {
		if points == nil {
			points = []*input.TouchPoint{}
		}
		_, err := chromedp.Call(ada.ctx, input.DispatchTouchEvent, input.DispatchTouchEventParams{Type: kind, TouchPoints: points})
		require.NoError(t, err)
	}
	x, y := ada.middle("[data-mat]")
	zoomed := "[...document.querySelectorAll('.zoom button')].pop().disabled"
	one, two := float64(1), float64(2)
	apart := func(by float64) []*input.TouchPoint {
		return []*input.TouchPoint{{X: x - by, Y: y + 30, ID: &one}, {X: x + by, Y: y + 30, ID: &two}}
	}
	ada.sees("true", zoomed)
	touch(input.DispatchTouchEventTypeTouchStart, apart(20)...)
	for by := 25.0; by <= 60; by += 5 {
		touch(input.DispatchTouchEventTypeTouchMove, apart(by)...)
	}
	touch(input.DispatchTouchEventTypeTouchEnd)
	ada.sees("false", zoomed)
	ada.click("Show all")
	ada.sees("true", zoomed)

	x, y = ada.middle(handCard)
	touch(input.DispatchTouchEventTypeTouchStart, &input.TouchPoint{X: x, Y: y})
	ada.sees("Ice", labelOf(".enlarged"))
	touch(input.DispatchTouchEventTypeTouchEnd)
	ada.sees("0", count(".enlarged"))

	ada.sees("none", "getComputedStyle(document.querySelector('.log-panel')).display")
	ada.click("Log")
	ada.sees("flex", "getComputedStyle(document.querySelector('.log-panel')).display")
}
