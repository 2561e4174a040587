package trial

import (
	"regexp"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
)

// Under a path of a club's own address, all of the console works, asks for nothing outside of the path, and links
// lead there; so do the clients and the command line.
func TestUnderAPath(t *testing.T) {
	s := start(t, "--path", "/table", "--trust-proxy", "127.0.0.1/32")
	at := "http://" + behindNginx(t, s, "/table/") + "/table"
	s.room()
	rooms, err := client.New(at, s.maker().Key()).Rooms(s.ctx)
	require.NoError(t, err)
	require.Equal(t, at+"/room/"+rooms[0].ID, rooms[0].Link)
	out, code := s.cli("room", "list", "--server", at)
	assert.Zero(t, code, out)
	assert.Contains(t, out, rooms[0].ID)

	b := browsers(t, 1)[0]
	b.do(chromedp.Navigate(at + "#maker=" + s.maker().Key())) // without the slash, too
	b.reads("Marsh Post")
	b.click("Work on it")
	b.sees("/table/bench/", `location.pathname.replace(/[^/]*$/, "")`)
	b.reads("nothing looks wrong")
	b.do(chromedp.Navigate(at + "/room/" + rooms[0].ID + "#somewhere"))
	b.sit(rooms[0].Link, "Nell")
	b.sees("true", `[...document.images].length > 0 && [...document.images].every((i) => i.naturalWidth > 0)`)
	b.do(chromedp.Navigate(at + "/api/docs"))
	b.reads("Damselfly")
	b.reads("/api/rooms/{room}/join")

	asked := regexp.MustCompile(`(?m)^(http|ws)\S+$`).FindAllString(b.overheard(), -1)
	assert.Greater(t, len(asked), 10)
	for _, address := range asked {
		assert.True(t, strings.HasPrefix(address, at), address)
	}
}
