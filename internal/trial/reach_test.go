package trial

import (
	"fmt"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// covered is a script that lists the controls of the page, or of the dialog or menu that
// is open, which a pointer does not reach: a button, link or field in its middle, and
// what lies on the mat anywhere, because cards lie over each other.
const covered = `(() => {
	const open = [...document.querySelectorAll(".modal.show, .dropdown-menu.show")].at(-1) ?? document.body;
	const wrong = [];
	for (const e of open.querySelectorAll('a[href], button, input, select, textarea, summary, [role=button], [role=menuitem], [tabindex="0"]')) {
		const style = getComputedStyle(e);
		if (e.disabled || e.closest("[inert], [aria-hidden=true]") || style.visibility === "hidden" || style.pointerEvents === "none" || !e.getClientRects().length) continue;
		const target = e.closest("label") ?? e;
		const mat = target.closest("[data-mat]"), frame = mat?.parentElement.getBoundingClientRect();
		if (!mat) target.scrollIntoView({ block: "nearest", inline: "nearest", behavior: "instant" });
		const r = target.getBoundingClientRect();
		if (r.width < 2 || r.height < 2) continue;
		const several = mat || target.closest(".held-card, .hand");
		const parts = several ? [0.5, 0.1, 0.25, 0.75, 0.9] : [0.5];
		let tried = 0, over = null, reached = false;
		for (const fx of parts) for (const fy of parts) {
			const x = r.left + r.width * fx, y = r.top + r.height * fy;
			if (reached || x < 0 || y < 0 || x >= innerWidth || y >= innerHeight) continue;
			if (frame && (x < frame.left || x > frame.right || y < frame.top || y > frame.bottom)) continue;
			tried++;
			const top = document.elementFromPoint(x, y);
			reached = !!top && (target.contains(top) || top.closest("label") === target || !!mat && mat.contains(top));
			over = reached ? null : over ?? top;
		}
		// The mat is moved to reach what lies beside its frame, and on a phone what lies under what floats over it.
		if (reached || (mat && (tried === 0 || Math.min(innerWidth, innerHeight) < 500))) continue;
		const name = (n) => n ? n.tagName.toLowerCase() + "." + String(n.className?.baseVal ?? n.className).replaceAll(" ", ".") + " " + JSON.stringify((n.getAttribute("aria-label") ?? n.innerText ?? "").slice(0, 30)) : "nothing";
		wrong.push(name(target) + (tried ? " lies under " + name(over) : " lies outside the window"));
	}
	return wrong.join("; ");
})()`

// apart is a script that says how a menu lies apart from the button that opened it.
const apart = `(() => {
	const menu = document.querySelector(".dropdown-menu.show"), button = document.getElementById(menu.getAttribute("aria-labelledby"));
	const m = menu.getBoundingClientRect(), b = button.getBoundingClientRect();
	const gap = Math.max(m.left - b.right, b.left - m.right, m.top - b.bottom, b.top - m.bottom);
	return gap < 12 ? "" : "the menu of " + button.getAttribute("aria-label") + " opens " + Math.round(gap) + " pixels from it";
})()`

// opensMenus opens each menu of a page that a button has, and asserts that it lies beside the button, and all its items
// where they are seen.
func (b *browser) opensMenus(where string) {
	b.t.Helper()
	all := b.number(count(".dropdown-toggle"))
	require.Positive(b.t, all, where)
	for i := range all {
		b.press(fmt.Sprintf("document.querySelectorAll('.dropdown-toggle')[%d]", i))
		b.sees("1", count(".dropdown-menu.show"))
		assert.Empty(b.t, b.js(apart), where)
		b.reaches("a menu, " + where)
		b.do(chromedp.KeyEvent("\u001b"))
		b.sees("0", count(".dropdown-menu.show"))
	}
}

// pressable is a script that finds the buttons of a part of the page that lead to no other
// page. What lies on the mat is pressed by other trials.
func pressable(part string) string {
	return fmt.Sprintf(`[...document.querySelectorAll(%q)].flatMap((part) => [...part.querySelectorAll("button, summary, label.btn")]).filter((e) => !e.disabled && !e.closest("[inert], [data-mat], [data-leads], form.doorway")
	&& e.getClientRects().length && getComputedStyle(e).visibility !== "hidden")`, part)
}

// pressesAll presses each button that a part of the page shows, one after the other, and
// closes what it opened. What the page is known by must still be there after each, and
// no script may have failed.
func (b *browser) pressesAll(part, known, where string) {
	b.t.Helper()
	b.js(`(window.failed = "", window.onerror = (text) => { window.failed += text + "; " }, window.confirm = () => false, "")`)
	all := b.number(pressable(part) + ".length")
	require.Positive(b.t, all, where)
	for i := range all {
		b.pressesOne(fmt.Sprintf("%s[%d]", pressable(part), i), known, fmt.Sprintf("%s, button %d", where, i))
	}
}

// pressesItems presses each item of a menu, which it opens anew for each, and the buttons
// of the dialog that an item opens but the one that does it.
func (b *browser) pressesItems(opens func(), known, where string) {
	b.t.Helper()
	items := ".card-menu [role=menuitem]:not(:disabled)"
	opens()
	b.sees("1", count(".card-menu"))
	all := b.number(count(items))
	require.Positive(b.t, all, where)
	b.do(chromedp.KeyEvent("\u001b"))
	b.sees("0", count(".card-menu"))
	for i := range all {
		opens()
		b.sees("1", count(".card-menu"))
		b.pressesOne(fmt.Sprintf("document.querySelectorAll(%q)[%d]", items, i), known, fmt.Sprintf("%s, item %d", where, i))
	}
}

func (b *browser) pressesOne(button, known, where string) {
	b.t.Helper()
	for range 3 { // what was pressed before may take it away, at once or when its answer comes
		if b.js("!!"+button) == "false" {
			return
		}
		time.Sleep(tick)
	}
	b.press(button)
	if b.js("!!document.querySelector('.modal')") == "true" {
		b.sees("1", "getComputedStyle(document.querySelector('.modal')).opacity")
		b.reaches("what opens, " + where)
	}
	for range 2 { // a menu, and a question that its item asked
		b.do(chromedp.KeyEvent("\u001b"))
	}
	b.sees("0", count(".modal, .card-menu"))
	if b.js("!!document.querySelector('.with-log') && innerWidth < 900") == "true" {
		b.click("Log") // on a phone it lies over the rest until it is put away
	}
	require.Equal(b.t, "", b.js("window.failed"), where)
	require.Equal(b.t, "true", b.js(fmt.Sprintf("!!document.querySelector(%q)", known)), where)
}

// chooses presses what lies on the mat until it is chosen. What comes from the table may
// draw it anew just while it is pressed, and pressed once more it would be chosen no more.
func (b *browser) chooses(selector string) {
	b.t.Helper()
	for deadline := time.Now().Add(patience); b.number(count(".place.chosen")) == 0; time.Sleep(300 * time.Millisecond) {
		require.True(b.t, time.Now().Before(deadline), "%s is not chosen", selector)
		b.pressFirst(selector)
	}
}

// reaches asserts that a pointer reaches every control there is, once all has come to rest.
func (b *browser) reaches(where string) {
	b.t.Helper()
	wrong := b.js(covered)
	for deadline := time.Now().Add(10 * time.Second); wrong != "" && time.Now().Before(deadline); time.Sleep(200 * time.Millisecond) {
		wrong = b.js(covered)
	}
	assert.Empty(b.t, wrong, where)
}

// screens are those of desks and of a phone, upright and across.
var screens = [][2]int64{{1280, 800}, {1920, 1080}, {844, 390}, {390, 844}}

// A menu that lay under a panel once passed every trial, because trials clicked by
// script. Here each control of every page, menu and dialog must be topmost where it is
// seen, on screens of four sizes, in light and dark, and each button is pressed.
func TestEveryControlIsWhereItIsSeenInLight(t *testing.T) { everyControl(t, "light") }
func TestEveryControlIsWhereItIsSeenInDark(t *testing.T)  { everyControl(t, "dark") }

func everyControl(t *testing.T, scheme string) {
	t.Parallel()
	s := start(t)
	room := s.room()
	b := browsers(t, 1)[0]
	_, err := chromedp.Call(b.ctx, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{
		Features: []*emulation.MediaFeature{{Name: "prefers-color-scheme", Value: scheme}, {Name: "prefers-reduced-motion", Value: "reduce"}},
	})
	require.NoError(t, err)
	// onEach does something on a screen of each size.
	onEach := func(what string, does func(where string)) {
		t.Helper()
		for _, size := range screens {
			b.do(chromedp.EmulateViewport(size[0], size[1]))
			b.sees(fmt.Sprint(size[0]), "innerWidth")
			does(fmt.Sprintf("%s, %s, %d × %d", what, scheme, size[0], size[1]))
		}
		b.do(chromedp.EmulateViewport(1280, 800))
		b.sees("1280", "innerWidth")
	}
	everywhere := func(what string) {
		t.Helper()
		onEach(what, func(where string) {
			b.reaches(where)
			if os.Getenv("SHOTS") != "" {
				shot, _ := chromedp.Run(b.ctx, chromedp.CaptureScreenshot())
				_ = os.WriteFile("/tmp/shot-"+strings.ReplaceAll(where, " ", "_")+".png", shot, 0o644)
			}
		})
	}
	b.do(chromedp.Navigate(s.url()+"/"), chromedp.WaitVisible(chromedp.CSS("h1")))
	everywhere("the start")
	b.do(chromedp.Navigate(s.url()+room.Path), chromedp.WaitVisible(chromedp.CSS("#name")))
	everywhere("the entrance")
	b.do(chromedp.Navigate(s.url() + "/#maker=" + s.maker().Key()))
	b.reads("nobody there")
	everywhere("the shelf")
	onEach("the shelf", func(where string) {
		b.do(chromedp.Navigate(s.url() + "/")) // a menu is placed anew only where it was not opened before
		b.reads("nobody there")
		b.opensMenus(where)
	})
	b.follow("Marsh Post")
	b.reads("Who finds it")
	everywhere("a kit")

	b.do(chromedp.Navigate(s.url()+"/bench"), chromedp.WaitVisible(chromedp.CSS(".bench-begin")))
	everywhere("the bench before anything is on it")
	s.onBench(b)
	everywhere("a kit on the bench")
	for _, part := range []string{"The kit", "weather", "letters", "letter"} {
		onEach(part+" on the bench", func(where string) {
			b.press(fmt.Sprintf(`[...document.querySelectorAll(".bench-parts li button")].find((e) => e.innerText === %q)`, part))
			b.reaches(where)
			b.pressesAll(".table-bar, .bench-main", ".bench-main", where)
		})
	}

	b.sit(s.url()+room.Path, "Ada")
	everywhere("the table")
	b.pressFirst(pileTop)
	b.sees("1", count(".place.chosen"))
	b.key("keydown", "3")
	b.key("keydown", "d")
	b.sees("3", count(handCard))
	everywhere("a pile that is chosen, and a hand")
	b.key("keydown", "p")
	b.sees("1", count(".peek-tray"))
	everywhere("a look")
	b.click("Close")
	b.sees("0", count(".peek-tray"))
	opensKeys := func() {
		b.key("keydown", "?")
		b.sees("1", count(".modal.show"))
		b.sees("1", "getComputedStyle(document.querySelector('.modal')).opacity")
	}
	onEach("the keys", func(where string) {
		opensKeys()
		b.reaches(where)
		b.pressFirst(".modal .btn-close")
		b.sees("0", count(".modal"))
	})
	onEach("the table", func(where string) {
		b.pressFirst(pileTop)
		b.pressesAll("body", "[data-mat]", where)
	})
	opensTable := func() { b.click("Table") }
	opensChosen := func() {
		b.chooses(pileTop)
		b.key("keydown", "m")
	}
	for what, opens := range map[string]func(){"the menu of the table": opensTable, "the menu of what is chosen": opensChosen} {
		onEach(what, func(where string) {
			opens() // menus open where they are asked for, so at each size anew
			b.sees("1", count(".card-menu"))
			b.reaches(where)
			b.do(chromedp.KeyEvent("\u001b"))
			b.sees("0", count(".card-menu"))
			b.pressesItems(opens, "[data-mat]", where)
			if b.js("!!document.querySelector('.frame')") == "true" {
				b.menu("Table", "Stop arranging")
			}
		})
	}
	if b.number(count(".peek-tray")) > 0 { // one of the acts began it; it lies over the mat
		b.click("Close")
		b.sees("0", count(".peek-tray"))
	}
	b.menu("Table", "Arrange the table")
	b.sees("true", count(".frame")+" > 6")
	everywhere("arranging")
	b.pressFirst(`.frame[aria-label^="sky"]`)
	b.sees("sky", "document.querySelector('.inspector h2').innerText")
	everywhere("the inspector")
}
