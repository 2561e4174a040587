package trial

import (
	"os"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
)

func (b *browser) shot(name string) {
	text, err := chromedp.Run(b.ctx, chromedp.CaptureScreenshot())
	require.NoError(b.t, err)
	_ = os.MkdirAll("/tmp/shots", 0o755)
	require.NoError(b.t, os.WriteFile("/tmp/shots/"+name+".png", text, 0o644))
}

func TestZZ(t *testing.T) {
	s := start(t)
	b := browsers(t, 1)[0]
	b.do(chromedp.EmulateViewport(1280, 800))
	s.roomOf(demo.Kit())
	b.do(chromedp.Navigate(s.url() + "/#maker=" + s.maker().Key()))
	b.reads("nobody there")
	b.click("Link")
	b.click("Show it as a code")
	b.js("new Promise((r) => setTimeout(r, 1500))")
	b.shot("shelf")
	b.follow("Marsh Post")
	b.reads("Who finds it")
	b.js("new Promise((r) => setTimeout(r, 800))")
	b.shot("kit")
	b.click("Work on it")
	b.sees("nothing looks wrong", benchState)
	b.shot("bench")
	b.click("Keep …")
	b.js("new Promise((r) => setTimeout(r, 500))")
	b.shot("keep")
}
