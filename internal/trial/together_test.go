package trial

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
)

func (b *browser) menu(button, item string) {
	b.t.Helper()
	b.click(button)
	b.sees("1", count(".card-menu"))
	b.press(fmt.Sprintf(`[...document.querySelectorAll(".card-menu button")].find((e) => e.innerText.startsWith(%q))`, item))
}

func (b *browser) says(steps string) {
	b.t.Helper()
	b.do(chromedp.SendKeys(chromedp.CSS(".steps-box input"), steps+"\r"))
	b.sees("", "document.querySelector('.steps-box input').value")
}

// handNames are the fronts a player holds, for looking whether others have them.
func (b *browser) handNames() []string {
	return strings.Split(b.js("[...document.querySelectorAll('"+handCard+"')].map((e) => e.getAttribute('aria-label') + '|' + e.querySelector('img').getAttribute('src')).join('\\n')"), "\n")
}

// Three people play a round of Marsh Post; one of them loses the connection in the
// middle and goes on. Nobody's browser ever holds what another hand hides.
func TestThreeBrowsersPlayARound(t *testing.T) {
	t.Parallel()
	s := start(t)
	room := s.roomOf(demo.Kit())
	three := browsers(t, 3)
	names := []string{"Ada", "Bo", "Cleo"}
	poor := lineTo(t, s.address)
	for i, url := range []string{s.url(), s.url(), poor.url()} {
		three[i].sit(url+room.Path, names[i])
	}
	ada, bo, cleo := three[0], three[1], three[2]

	ada.menu("Table", "Set the game up")
	ada.click("Set up")
	for _, b := range three {
		b.sees("1", count(sky+" [data-handle]"))
		b.sees("true", count(handCard)+" >= 3")
		b.sees("1", `[...document.querySelectorAll('.seat')].filter((s) => s.innerText.includes('has the turn')).length`)
	}
	hands := [3]string{}
	for i, b := range three {
		hands[i] = strings.Join(b.handNames(), "\n")
	}
	public := ada.js("document.querySelector('.mat').innerHTML + [...document.querySelectorAll('.log-panel li')].filter((l) => l.innerText.includes('outbox')).map((l) => l.innerText).join()")
	for i := range three {
		for _, held := range strings.Split(hands[i], "\n") {
			name, picture, _ := strings.Cut(held, "|")
			if strings.Contains(public, name) || strings.Contains(public, picture) {
				continue // another copy of this letter lies open
			}
			for j, other := range three {
				if i != j && !strings.Contains(hands[j], picture) {
					assert.False(t, strings.Contains(other.everything(), picture), "%s has the picture of %s of %s", names[j], name, names[i])
				}
			}
		}
	}

	// Each plays a letter in turn; what was played last and by whom stands on the table.
	for i, b := range three {
		first := strings.Split(b.handNames()[0], "|")[0]
		b.drag(handCard, "[data-place=outbox]", 0)
		for _, other := range three {
			other.sees(names[i], "document.querySelector('.place.last .last-by')?.innerText")
			other.sees("true", fmt.Sprintf("document.querySelector('[data-place=outbox] [data-handle]').getAttribute('aria-label').includes(%q)", first))
		}
		b.click("Pass the turn")
	}

	// Cleo's connection goes, the others play on, Cleo comes back to it.
	poor.cut()
	cleo.reads("The connection is lost.")
	ada.says("run \"New day\"")
	bo.sees("2", "document.querySelector('.piece.counter strong').innerText")
	cleo.sees("1", "document.querySelector('.piece.counter strong').innerText")
	poor.mend()
	cleo.sees("2", "document.querySelector('.piece.counter strong').innerText")
	cleo.sees("", "document.querySelector('.connection').textContent")

	// A boat is moved, two cards change places by key, a hand is filled.
	bo.says("fill every hand to 5 from letters")
	for _, b := range three {
		b.sees("5", count(handCard))
	}
	bo.pressFirst(handCard)
	bo.sees("1", count(".held-card.chosen"))
	bo.js("document.querySelectorAll('" + handCard + "')[1].dispatchEvent(new MouseEvent('click', { bubbles: true, shiftKey: true }))")
	bo.sees("2", count(".held-card.chosen"))
	before := bo.handNames()
	bo.key("keydown", "x")
	bo.sees(before[1]+"\n"+before[0], "[...document.querySelectorAll('"+handCard+"')].slice(0, 2).map((e) => e.getAttribute('aria-label') + '|' + e.querySelector('img').getAttribute('src')).join('\\n')")

	// The host ends it: the table stays, and nothing is done any more.
	ada.menu("Table", "End the game")
	ada.click("End the game")
	bo.reads("The game has ended.")
	bo.sees("true", "document.querySelector('.steps-box input').disabled")
}

func TestOneArrangesWhileAnotherPlays(t *testing.T) {
	t.Parallel()
	s, ada, bo := pair(t)
	ada.menu("Table", "Arrange the table")
	ada.sees("true", count(".frame")+" > 6")
	bo.sees("false", "[...document.querySelectorAll('button')].some((b) => b.innerText === 'Arrange the table')")

	// A new zone, by the palette; its name and rules, by the inspector.
	ada.click("pile")
	ada.sees("zone 2", "document.querySelector('.inspector h2').innerText")
	ada.do(chromedp.Click(chromedp.CSS(".inspector input")), chromedp.SendKeys(chromedp.CSS(".inspector input"), "\b\b\b\b\b\bquay\r"))
	bo.reads("quay")
	ada.js(`(() => { const s = [...document.querySelectorAll('.laid-field')].find((f) => f.innerText.startsWith('cards arrive')).querySelector('select'); s.value = 'front'; s.dispatchEvent(new Event('change', { bubbles: true })) })()`)

	// Meanwhile Bo plays onto it, and the card takes its side.
	bo.drag(pileTop, "[data-place=zone1]", 0)
	bo.sees("Ice", labelOf("[data-place=zone1] [data-handle]"))

	// Moved by hand with what lies on it, sized by its corner, turned by key, undone.
	x := bo.js("document.querySelector('[data-place=zone1]').style.getPropertyValue('--x')")
	ada.drag(`.frame[aria-label^="quay"]`, `.frame[aria-label^="quay"]`, 60)
	bo.sees("true", "document.querySelector('[data-place=zone1]').style.getPropertyValue('--y') > 400")
	assert.Equal(t, x, bo.js("document.querySelector('[data-place=zone1]').style.getPropertyValue('--x')"), "it stays in line")
	ada.drag(".frame-size", ".frame-size", 25)
	bo.sees("true", "document.querySelector('[data-place=zone1]').style.getPropertyValue('--place-high') > 100")
	assert.Equal(t, x, bo.js("document.querySelector('[data-place=zone1]').style.getPropertyValue('--x')"), "a corner sizes and does not move")
	ada.drag(".frame-turn", `[data-place="moorings/F4"]`, 0)
	bo.sees("true", "document.querySelector('[data-place=zone1]').style.rotate.endsWith('deg')")
	ada.click("Undo")
	bo.sees("", "document.querySelector('[data-place=zone1]').style.rotate")
	ada.js(`document.querySelector('.frame[aria-label^="quay"]').focus()`)
	ada.do(chromedp.KeyEvent("r"))
	bo.sees("15deg", "document.querySelector('[data-place=zone1]').style.rotate")
	ada.click("Undo")
	bo.sees("", "document.querySelector('[data-place=zone1]').style.rotate")

	// A cue, whose steps are checked as they are typed.
	ada.click("cue")
	ada.sees("cue 2", "document.querySelector('.inspector h2').innerText")
	ada.do(chromedp.Click(chromedp.CSS(".steps-laid textarea")))
	ada.js("document.querySelector('.steps-laid textarea').select()")
	ada.do(chromedp.SendKeys(chromedp.CSS(".steps-laid textarea"), "shuffle wether"))
	ada.reads(`there is no place "wether"; did you mean "weather"?`)
	ada.do(chromedp.SendKeys(chromedp.CSS(".steps-laid textarea"), "\b\b\b\b\beather"))
	ada.reads("These steps are understood.")
	ada.do(chromedp.Click(chromedp.CSS(".inspector h2")))
	ada.js("document.activeElement.blur()")
	bo.sees("shuffle weather", "[...document.querySelectorAll('button.cue')].find((c) => c.innerText === 'cue 2')?.title")
	bo.press("[...document.querySelectorAll('button.cue')].find((c) => c.innerText === 'cue 2')")
	ada.sees("false", "document.querySelector('.notices').innerText.includes('refused')")

	// What others see, with their eyes: Ada's own hand is then only counted.
	ada.js(`(() => { const s = [...document.querySelectorAll('.laid-field')].find((f) => f.innerText.startsWith('Seen with')).querySelector('select'); s.value = '2'; s.dispatchEvent(new Event('change', { bubbles: true })) })()`)
	ada.sees("true", `document.querySelector('.frame[aria-label^="satchel"]').getAttribute('aria-label').endsWith('sees how many')`)
	ada.sees("0", count(".hand"))

	// Taken off, the zone's card stays on the felt; done, the table is played on.
	ada.js(`document.querySelector('.frame[aria-label^="quay"]').focus()`)
	ada.do(chromedp.KeyEvent("\u007f"))
	bo.sees("0", count("[data-place=zone1]"))
	bo.sees("1", count(".kind-loose"))
	ada.click("Done")
	ada.sees("0", count(".frame"))
	ada.drag(pileTop, myHand, 0)
	bo.sees("true", "document.querySelector('.seat-cards').innerText === '1 card'")

	// Kept in the kit, it is there in the next room.
	kept, err := s.maker().KeepTable(s.ctx, strings.TrimPrefix(ada.js("location.pathname"), "/room/"))
	require.NoError(t, err)
	assert.Equal(t, 2, kept.Edition)
}

func TestASeatIsHandedOnByALinkAndChanged(t *testing.T) {
	t.Parallel()
	_, ada, bo := pair(t)
	ada.drag(pileTop, myHand, 0)
	ada.sees("Ice", labelOf(handCard))
	bo.menu("seat 3", "Move to this seat")
	bo.click("Move")
	bo.sees("true", "document.querySelector('.seat.you').innerText.startsWith('Bo') && document.querySelectorAll('.seat')[2].classList.contains('you')")

	ada.menu("Ada (you)", "Hand the seat on")
	ada.do(chromedp.WaitVisible(chromedp.CSS(".modal input")), chromedp.SendKeys(chromedp.CSS(".modal input"), "Cleo\r"))
	ada.sees("true", "document.querySelector('.modal input')?.value.includes('#seat=')")
	link := ada.js("document.querySelector('.modal input').value")
	cleo := browsers(t, 1)[0]
	cleo.do(chromedp.Navigate(link), chromedp.WaitVisible(chromedp.CSS("[data-mat]")))
	cleo.sees("Ice", labelOf(handCard))
	assert.NotContains(t, cleo.js("location.href"), "seat=", "the key does not stay in the address")
	ada.reads("Your seat was freed or handed on.")
}
