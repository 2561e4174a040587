package trial

import (
	"os"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"
)

// An undo that would fill another's hand with cards that were looked at meanwhile waits for that person's word.
func TestAnUndoThatWouldReadAHandAsksForIt(t *testing.T) {
	t.Parallel()
	_, ada, bo := pair(t)
	bo.says("draw 2 from weather")
	bo.sees("2", count(handCard))
	ada.says("everything home")
	bo.sees("0", count(handCard))
	ada.says("peek 3 of weather")
	ada.reads("Top of weather")
	ada.says("undo")
	bo.reads("Ada asks you to agree to an undo. It puts 2 cards back into your hand")
	ada.reads("You asked Bo to agree to an undo")
	if to := os.Getenv("PICTURE"); to != "" {
		shot, err := chromedp.Run(bo.ctx, chromedp.CaptureScreenshot())
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(to, shot, 0o600))
	}
	bo.sees("0", count(handCard))
	bo.click("Agree")
	bo.sees("2", count(handCard))
}
