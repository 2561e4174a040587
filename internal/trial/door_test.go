package trial

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
)

// frame is the address that the one frame of a page shows.
func (b *browser) frame() string {
	got, err := chromedp.Call(b.ctx, page.GetFrameTree, cdp.Empty{})
	require.NoError(b.t, err)
	if len(got.FrameTree.ChildFrames) == 0 {
		return ""
	}
	return got.FrameTree.ChildFrames[0].Frame.URL
}

// A maker keeps order at a room without a seat there, and has a page of somebody else show its table.
func TestAMakerKeepsOrderAtARoom(t *testing.T) {
	t.Parallel()
	s := start(t)
	room := s.room()
	var seats []*client.Seat
	for _, name := range []string{"Ada", "Bo"} {
		joined, err := s.maker().Join(s.ctx, room.ID, client.Join{Name: name})
		require.NoError(t, err)
		seats = append(seats, s.maker().At(joined))
	}
	pages := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "text/html")
		_, _ = fmt.Fprintf(w, `<h1>Our club</h1><iframe src="%s" width="1000" height="600"></iframe>`, room.Link)
	}))
	t.Cleanup(pages.Close)
	all := browsers(t, 2)
	maker, club := all[0], all[1]
	club.do(chromedp.Navigate(pages.URL))
	require.Eventually(t, func() bool { return club.frame() == "chrome-error://chromewebdata/" }, waitFor, tick, "a page of others shows the table")

	maker.do(chromedp.Navigate(s.url() + "/#maker=" + s.maker().Key()))
	maker.press(fmt.Sprintf("document.getElementById('more-%s')", room.ID))
	maker.click("Seats and door …")
	maker.reads("Ada, host")
	maker.press(`document.querySelector('[aria-label="Make Bo the host"]')`)
	maker.reads("Bo is the host.")
	maker.press(`document.querySelector('[aria-label="Free the seat of Ada"]')`)
	maker.reads("Seat 1 is free")
	_, err := seats[0].Look(s.ctx)
	assert.ErrorContains(t, err, "Open the room's link to come in")
	maker.do(chromedp.SendKeys(chromedp.CSS("#door-passcode"), "heron"))
	maker.click("Ask for it")
	maker.reads("who sits there stays")
	_, err = s.maker().Join(s.ctx, room.ID, client.Join{Name: "Eve"})
	require.Error(t, err)
	_, err = seats[1].Look(s.ctx)
	require.NoError(t, err)
	maker.do(chromedp.SendKeys(chromedp.CSS("#door-pages"), pages.URL+"/club/tonight?week=3"))
	maker.click("Allow")
	maker.reads("These pages may show it.")
	maker.sees(pages.URL, "document.querySelector('#door-pages').value")

	club.do(chromedp.Navigate(pages.URL))
	require.Eventually(t, func() bool { return club.frame() == room.Link }, waitFor, tick, "a page that is allowed does not show the table")
}
