package trial

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
)

// elsewhere serves a folder of examples from an address of its own, as a builder does.
func elsewhere(t *testing.T) *httptest.Server {
	pages := httptest.NewServer(http.FileServer(http.Dir("../../examples")))
	t.Cleanup(pages.Close)
	return pages
}

// A page of one's own, from another address, has people load a boat with the cards that come. It uses the client that the service gives.
func TestAPageOfOnesOwnIsPlayed(t *testing.T) {
	t.Parallel()
	pages := elsewhere(t)
	s := start(t, "--allow-origin", pages.URL)
	room := s.room()
	asked := url.Values{"service": {s.url()}, "room": {room.ID}}
	b := browsers(t, 1)[0]
	b.do(chromedp.Navigate(pages.URL+"/trim/?"+asked.Encode()), chromedp.WaitVisible(chromedp.CSS("#enter")),
		chromedp.SendKeys(chromedp.CSS("[name=name]"), "Ada"))
	b.press(`document.querySelector("#enter button")`)
	b.do(chromedp.WaitVisible(chromedp.CSS("#game")), chromedp.WaitNotVisible(chromedp.CSS("#enter")))
	b.sees("true", "String(document.getElementById('card').naturalWidth > 100)")
	for card := 1; card <= 6; card++ { // always to the side that is lighter: it lies level
		b.press(`(() => { const [port, starboard] = document.getElementById("trim").textContent.match(/\d+ to/g)?.map((n) => parseInt(n)) ?? [0, 0];
			return document.getElementById(port > starboard ? "starboard" : "port") })()`)
		b.sees("true", fmt.Sprintf(`String(document.getElementById("trim").textContent.startsWith("Day %d of 8"))`, card))
		assert.Regexp(t, ` is stowed\.$`, b.js(`document.getElementById("says").textContent`))
	}
	look, err := s.maker().Room(s.ctx, room.ID)
	require.NoError(t, err)
	assert.Equal(t, "Ada", look.Seats[0].Name)

	// Another address is not let in.
	other := elsewhere(t)
	b.do(chromedp.Navigate(other.URL+"/trim/?"+asked.Encode()), chromedp.WaitVisible(chromedp.CSS("#enter")),
		chromedp.SendKeys(chromedp.CSS("[name=name]"), "Eve"))
	b.press(`document.querySelector("#enter button")`)
	b.sees("true", "String(document.getElementById('says').textContent.length > 0)")
	assert.Equal(t, "true", b.js("String(document.getElementById('game').hidden)"))
}

// An overlay watches, and shows what is said to everybody, and no more.
func TestAnOverlayShowsWhatHappens(t *testing.T) {
	t.Parallel()
	pages := elsewhere(t)
	s := start(t, "--allow-origin", pages.URL)
	room := s.room()
	joined, err := s.maker().Join(s.ctx, room.ID, client.Join{Name: "Ada"})
	require.NoError(t, err)
	ada := client.New(s.url(), "").At(joined)
	b := browsers(t, 1)[0]
	b.do(chromedp.Navigate(pages.URL + "/overlay/?" + url.Values{"service": {s.url()}, "room": {room.ID}}.Encode()))
	_, err = ada.Do(s.ctx, "draw 2 from weather\nroll wind")
	require.NoError(t, err)
	b.reads("Ada: draw 2 from weather")
	b.reads("Ada: roll wind")
	b.reads("weather 20")
	look, err := ada.Look(s.ctx)
	require.NoError(t, err)
	for _, card := range look.View.Place("satchel/1").Cards {
		assert.NotContains(t, b.js("document.body.textContent"), look.View.Faces[card.Face].Name, "what Ada drew is hers to know")
	}
}

// A referee of one's own deals 52 cards of its own kit and plays 200 turns by its own rules.
func TestARefereePlaysTwoHundredTurns(t *testing.T) {
	t.Parallel()
	s := start(t)
	key, err := os.ReadFile(filepath.Join(s.data, "maker.key"))
	require.NoError(t, err)
	referee := exec.CommandContext(s.ctx, "go", "run", ".", s.url())
	referee.Dir = "../../examples/referee"
	referee.Env = append(os.Environ(), "MAKER_KEY="+strings.TrimSpace(string(key)))
	out, err := referee.CombinedOutput()
	require.NoError(t, err, string(out))
	assert.Contains(t, string(out), "200 turns, 50 tricks: [")
	assert.Contains(t, string(out), "was refused 150 times")
}

// The client is packed as a package that says what it has.
func TestTheClientIsPacked(t *testing.T) {
	t.Parallel()
	folder := t.TempDir()
	pack := exec.CommandContext(t.Context(), "npm", "pack", "--silent", "--pack-destination", folder)
	pack.Dir = "../../console/client"
	out, err := pack.CombinedOutput()
	require.NoError(t, err, string(out))
	listed, err := exec.Command("tar", "-tzf", filepath.Join(folder, "damselfly-client-0.1.0.tgz")).CombinedOutput()
	require.NoError(t, err, string(listed))
	for _, file := range []string{"package/package.json", "package/README.md", "package/dist/index.js", "package/dist/index.d.ts", "package/dist/schema.gen.d.ts"} {
		assert.Contains(t, string(listed), file+"\n")
	}
}
