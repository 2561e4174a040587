package trial

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"
)

// patience is how long a page may take to show what it should.
const patience = 90 * time.Second

// browser is one person's browser, with storage of its own.
type browser struct {
	t   *testing.T
	ctx context.Context

	mu      sync.Mutex
	traffic strings.Builder // every text the browser received or asked for
}

// browsers starts headless Chromium with a window for each of n people.
func browsers(t *testing.T, n int) []*browser {
	flags := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.NoSandbox, chromedp.DisableGPU,
		chromedp.Flag("disable-quic", true), chromedp.Flag("disable-background-networking", true),
		chromedp.Flag("disable-component-update", true), chromedp.Flag("disable-sync", true), chromedp.WindowSize(1280, 800))
	allocator, cancel := chromedp.NewExecAllocator(context.Background(), flags...)
	t.Cleanup(cancel)
	first, cancel := chromedp.NewContext(allocator)
	t.Cleanup(cancel)
	require.NoError(t, chromedp.Do(first, chromedp.Navigate("about:blank")))
	all := make([]*browser, n)
	for i := range all {
		window, cancel := chromedp.NewContext(first, chromedp.WithNewBrowserContext())
		t.Cleanup(cancel)
		limited, stop := context.WithTimeout(window, 15*time.Minute)
		t.Cleanup(stop)
		b := &browser{t: t, ctx: limited}
		b.do(chromedp.EmulateViewport(1280, 800))
		_, err := chromedp.Call(b.ctx, network.Enable, network.EnableParams{})
		require.NoError(t, err)
		require.NoError(t, chromedp.Listen(b.ctx, b.overhear))
		all[i] = b
	}
	return all
}

// overhear keeps what the network brings this browser, and leaves a page that asks
// whether to leave it.
func (b *browser) overhear(event any) {
	if _, asks := event.(*page.EventJavascriptDialogOpening); asks {
		go func() {
			_, _ = chromedp.Call(b.ctx, page.HandleJavaScriptDialog, page.HandleJavaScriptDialogParams{Accept: true})
		}()
		return
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	switch e := event.(type) {
	case *network.EventWebSocketFrameReceived:
		b.traffic.WriteString(string(e.Response.PayloadData) + "\n")
	case *network.EventRequestWillBeSent:
		b.traffic.WriteString(e.Request.URL + "\n")
	}
}

// everything is all that this browser has: its page, its storage, and what
// the network brought it.
func (b *browser) everything() string {
	traffic := b.overheard()
	return b.js(`document.documentElement.outerHTML + JSON.stringify(localStorage) + JSON.stringify(sessionStorage)`) + traffic
}

// overheard is what went between this browser and the network, a line each: addresses that it asked, and what sockets brought.
func (b *browser) overheard() string {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.traffic.String()
}

func (b *browser) do(actions ...chromedp.Action[chromedp.Void]) {
	b.t.Helper()
	require.NoError(b.t, chromedp.Do(b.ctx, actions...))
}

// js is a script's value now. What is read so must be there already: whatever the
// page may still have to show is waited for with sees.
func (b *browser) js(expression string) string {
	b.t.Helper()
	value, err := b.value(expression)
	require.NoError(b.t, err, expression)
	return value
}

func (b *browser) value(expression string) (string, error) {
	return chromedp.Run(b.ctx, chromedp.Evaluate[string]("String("+expression+")"))
}

// number is a script's value now, which is a number.
func (b *browser) number(expression string) int {
	b.t.Helper()
	var n int
	_, err := fmt.Sscan(b.js(expression), &n)
	require.NoError(b.t, err, expression)
	return n
}

// sees waits until a script's value is what it should be. A script that throws
// (what it asks of is not on the page yet) has no value yet.
func (b *browser) sees(want, expression string) {
	b.t.Helper()
	got := ""
	for deadline := time.Now().Add(patience); time.Now().Before(deadline); time.Sleep(30 * time.Millisecond) {
		value, err := b.value(expression)
		require.NoError(b.t, b.ctx.Err(), expression)
		if got = value; err != nil {
			got = err.Error()
		}
		if got == want {
			return
		}
	}
	require.Equal(b.t, want, got, "%s\nthe page says:\n%s", expression, b.js("document.body.innerText"))
}

// reads waits until the page shows a text.
func (b *browser) reads(text string) {
	b.t.Helper()
	b.sees("true", fmt.Sprintf("document.body.innerText.includes(%q)", text))
}

// sit goes through a room's entrance.
func (b *browser) sit(url, name string) {
	b.t.Helper()
	b.do(chromedp.Navigate(url), chromedp.WaitVisible(chromedp.CSS("#name")), chromedp.SendKeys(chromedp.CSS("#name"), name),
		chromedp.Click(chromedp.CSS(`button[type="submit"]`)), chromedp.WaitVisible(chromedp.CSS("[data-mat]")))
	b.sees("", "document.querySelector('.connection').textContent")
}

// middle is the middle of the first element of a selector on the screen, once it
// lies still: cards move to where they come to lie.
func (b *browser) middle(selector string) (x, y float64) {
	b.t.Helper()
	b.sees("true", fmt.Sprintf("!!document.querySelector(%q)", selector))
	return b.still(fmt.Sprintf("document.querySelector(%q)", selector))
}

// still is the middle of an element, once it is where it was a moment before.
func (b *browser) still(element string) (x, y float64) {
	b.t.Helper()
	var before []float64
	for deadline := time.Now().Add(patience); ; time.Sleep(60 * time.Millisecond) {
		at, err := chromedp.Run(b.ctx, chromedp.Evaluate[[]float64](fmt.Sprintf(
			"(() => { const r = %s?.getBoundingClientRect() ?? new DOMRect(); return [r.left + r.width / 2, r.top + r.height / 2] })()", element)))
		require.NoError(b.t, err)
		if slices.Equal(at, before) {
			return at[0], at[1]
		}
		before = at
		require.True(b.t, time.Now().Before(deadline), "%s does not come to rest", element)
	}
}

// settled is a script that scrolls an element into view, and is true once it is there to
// be pressed: a dialog has opened, and nothing that it is a part of moves any more.
const settled = `(() => {
	const e = %s;
	e?.scrollIntoView({ block: "nearest", behavior: "instant" });
	if (!e || e.disabled) return false;
	const dialog = e.closest(".modal");
	if (dialog && getComputedStyle(dialog).opacity !== "1") return false;
	return !document.getAnimations().some((a) => a.playState === "running" && a.effect.getTiming().iterations !== Infinity && a.effect.target?.contains(e));
})()`

// press clicks an element as a person does: with the pointer in its middle, where
// nothing else may lie over it. The element is written as a script.
func (b *browser) press(element string) {
	b.t.Helper()
	var x, y float64
	top := ""
	for deadline := time.Now().Add(patience); top != "itself"; time.Sleep(30 * time.Millisecond) {
		require.True(b.t, time.Now().Before(deadline), "%s lies under %s", element, top)
		b.sees("true", fmt.Sprintf(settled, element))
		x, y = b.still(element)
		top = b.js(fmt.Sprintf(`(() => { const e = %s, top = document.elementFromPoint(%f, %f);
			if (!e || !top) return "nothing, at %.0f, %.0f";
			return e.contains(top) || top.contains(e) && top.closest("label") ? "itself" : top.outerHTML.slice(0, 200) })()`, element, x, y, x, y))
	}
	b.do(chromedp.MouseEvent(input.DispatchMouseEventTypeMousePressed, x, y, chromedp.ButtonLeft, chromedp.ClickCount(1)),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseReleased, x, y, chromedp.ButtonLeft, chromedp.ClickCount(1)))
}

// pressFirst presses the first element of a selector.
func (b *browser) pressFirst(selector string) {
	b.t.Helper()
	b.press(fmt.Sprintf("document.querySelector(%q)", selector))
}

// drag drags with the mouse from the middle of one element to a point below
// the middle of another.
func (b *browser) drag(from, to string, below float64) {
	b.t.Helper()
	fromX, fromY := b.middle(from)
	toX, toY := b.middle(to)
	b.dragged(fromX, fromY, toX, toY+below)
}

// dragBy drags an element, which is written as a script, by so many pixels.
func (b *browser) dragBy(element string, x, y float64) {
	b.t.Helper()
	fromX, fromY := b.still(element)
	b.dragged(fromX, fromY, fromX+x, fromY+y)
}

func (b *browser) dragged(fromX, fromY, toX, toY float64) {
	b.t.Helper()
	mouse := func(kind input.DispatchMouseEventType, x, y float64) chromedp.Action[chromedp.Void] {
		return chromedp.MouseEvent(kind, x, y, chromedp.ButtonLeft, chromedp.ClickCount(1))
	}
	b.do(mouse(input.DispatchMouseEventTypeMousePressed, fromX, fromY))
	for step := 1.0; step <= 8; step++ {
		b.do(mouse(input.DispatchMouseEventTypeMouseMoved, fromX+(toX-fromX)*step/8, fromY+(toY-fromY)*step/8))
	}
	b.do(mouse(input.DispatchMouseEventTypeMouseReleased, toX, toY))
}

// dragByFinger drags on a touch screen.
func (b *browser) dragByFinger(from, to string) {
	b.t.Helper()
	fromX, fromY := b.middle(from)
	toX, toY := b.middle(to)
	touch := func(kind input.DispatchTouchEventType, points ...*input.TouchPoint) {
		if points == nil {
			points = []*input.TouchPoint{}
		}
		_, err := chromedp.Call(b.ctx, input.DispatchTouchEvent, input.DispatchTouchEventParams{Type: kind, TouchPoints: points})
		require.NoError(b.t, err)
	}
	touch(input.DispatchTouchEventTypeTouchStart, &input.TouchPoint{X: fromX, Y: fromY})
	for step := 1.0; step <= 8; step++ {
		touch(input.DispatchTouchEventTypeTouchMove, &input.TouchPoint{X: fromX + (toX-fromX)*step/8, Y: fromY + (toY-fromY)*step/8})
	}
	touch(input.DispatchTouchEventTypeTouchEnd)
}

// click presses the button that begins with a label.
func (b *browser) click(label string) {
	b.t.Helper()
	b.press(fmt.Sprintf(`[...document.querySelectorAll("button")].find((e) => e.innerText.startsWith(%q) && !e.disabled)`, label))
}

// follow presses the link that begins with a label.
func (b *browser) follow(label string) {
	b.t.Helper()
	b.press(fmt.Sprintf(`[...document.querySelectorAll("a")].find((e) => e.innerText.startsWith(%q))`, label))
}
