package trial

import (
	"bytes"
	"io/fs"
	"testing"
	"testing/fstest"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/client/kits"
	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/kit"
)

// An edition without a card is taken in while somebody drags that card, and another is asked for one: the card
// goes from the hand that drags it, nothing else moves, and everybody plays on.
func TestAnEditionIsTakenInWhileARemovedCardIsDragged(t *testing.T) {
	t.Parallel()
	s := start(t)
	room := s.room()
	two := browsers(t, 2)
	for i, name := range []string{"Ada", "Bo"} {
		two[i].sit(s.url()+room.Path, name)
	}
	ada, bo := two[0], two[1]
	ada.says("turn all of weather face up onto sky")
	bo.sees("22", count(sky+" [data-handle]"))
	bo.says("move Calm of sky to moorings B2") // where nothing lies over it
	bo.says("move Fog of sky to my hand")
	bo.sees("1", count(handCard))
	ada.says("ask Bo for 1")

	// The pointer goes down on Calm and moves away with it.
	calm := `[data-place="moorings/B2"] [data-handle]`
	ada.sees("1", count(calm))
	x, y := ada.middle(calm)
	mouse := func(kind input.DispatchMouseEventType, x, y float64) {
		ada.do(chromedp.MouseEvent(kind, x, y, chromedp.ButtonLeft, chromedp.ClickCount(1)))
	}
	mouse(input.DispatchMouseEventTypeMousePressed, x, y)
	for step := 0.0; step < 6; step++ {
		mouse(input.DispatchMouseEventTypeMouseMoved, x+20*step, y+30*step)
	}

	files := fstest.MapFS{}
	require.NoError(t, kit.Walk(demo.Weather(), func(name string) error {
		text, err := fs.ReadFile(demo.Weather(), name)
		files[name] = &fstest.MapFile{Data: text}
		return err
	}))
	var lines [][]byte
	for _, line := range bytes.Split(files["kit.yaml"].Data, []byte("\n")) {
		if !bytes.Contains(line, []byte("key: calm")) {
			lines = append(lines, line)
		}
	}
	files["kit.yaml"].Data = bytes.Join(lines, []byte("\n"))
	maker := s.maker()
	_, err := kits.PutFolder(t.Context(), maker, files, kits.Options{Despite: true})
	require.NoError(t, err)
	require.NoError(t, maker.TakeEdition(t.Context(), room.ID, client.TakeEdition{}))

	for _, b := range two {
		b.sees("18", count(sky+" [data-handle]"))
	}
	mouse(input.DispatchMouseEventTypeMouseReleased, x+100, y+150)
	ada.sees("0", `document.querySelectorAll('[aria-label^="Calm"]').length`)
	// The ask is still there to be answered, and the table to be played at.
	bo.says("agree")
	ada.sees("true", count(handCard)+" === 1")
	ada.sees("18", count(sky+" [data-handle]"))
	ada.says("shuffle sky")
	bo.sees("18", count(sky+" [data-handle]"))
	ada.grave("after the edition")
}
