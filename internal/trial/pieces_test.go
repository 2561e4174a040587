package trial

import (
	"io/fs"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
)

// A die shows the picture of the face that came up, and what has two sides is flipped by a button that can be pressed.
func TestDiceShowPicturesAndTokensAreFlipped(t *testing.T) {
	t.Parallel()
	s := start(t)
	files := fstest.MapFS{}
	take := func(from fs.FS, file, name string) {
		text, err := fs.ReadFile(from, file)
		require.NoError(t, err)
		files[name] = &fstest.MapFile{Data: text}
	}
	take(demo.Weather(), "kit.yaml", "kit.yaml")
	take(demo.Weather(), "weather.png", "weather.png")
	take(demo.Kit(), "errands/feed-the-heron.png", "heron.png")
	take(demo.Kit(), "errands/borrow-a-sail.png", "sail.png")
	files["kit.yaml"].Data = []byte(strings.TrimRight(string(files["kit.yaml"].Data), "\n") + `
    - {key: omen, kind: die, at: [570, 510], faces: [heron, sail], files: [heron.png, sail.png]}
    - {key: bell, kind: token, at: [570, 590], faces: [silent, rung]}
`)
	room := s.roomOf(files)
	both := browsers(t, 2)
	both[0].sit(s.url()+room.Path, "Ada")
	both[1].sit(s.url()+room.Path, "Bo")
	both[0].says("roll omen")
	for _, b := range both {
		b.sees("true", "(document.querySelector('.piece.die .face-shown')?.naturalWidth ?? 0) > 50")
		b.reads("silent")
	}
	both[0].click("flip")
	both[1].reads("rung")
}
