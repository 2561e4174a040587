package cli

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestACommandThatIsGivenTooFewWordsSaysHowItIsWritten(t *testing.T) {
	t.Setenv("XDG_CONFIG_HOME", t.TempDir())
	for want, args := range map[string][]string{
		"damselfly: this is written: damselfly look ROOM [PLACE]\n  such as: damselfly look ROOM\n":                                                    {"look"},
		"damselfly: this is written: damselfly answer ROOM agree|decline [CARD...]\n  such as: damselfly answer ROOM agree Fog\n":                      {"answer", "ROOM"},
		"damselfly: this is written: damselfly kit put FOLDER|ZIP\n  such as: damselfly kit put marshpost/\n":                                          {"kit", "put"},
		"damselfly: name the room and say what to do there, such as: damselfly do ROOM \"draw 2 from weather\"; or name a file of Steps with --file\n": {"do", "draw 2 from weather"},
	} {
		var out, errs bytes.Buffer
		assert.Equal(t, exitUsage, Main(args, &out, &errs))
		assert.Equal(t, want, errs.String())
		assert.Empty(t, out.String())
	}
}

func TestCommandsAreFoundByTheirOtherWords(t *testing.T) {
	for want, words := range map[string][]string{"damselfly room end": {"room", "close"}, "damselfly practise": {"practice"}} {
		found, _, err := Commands().Find(words)
		assert.NoError(t, err)
		assert.Equal(t, want, found.CommandPath())
	}
}

// A veil that lies among the pictures is no card, stays a picture of its own, and is left out again when the sheet is packed again.
func TestTheVeilIsNotPacked(t *testing.T) {
	t.Setenv("XDG_CONFIG_HOME", t.TempDir())
	folder := filepath.Join(t.TempDir(), "errands")
	require.NoError(t, os.CopyFS(folder, os.DirFS("../../demo/marshpost/errands")))
	pictures, err := filepath.Glob(filepath.Join(folder, "*.png"))
	require.NoError(t, err)
	pack := func(args ...string) string {
		var out, errs bytes.Buffer
		require.Zero(t, Main(append([]string{"sheet", "pack"}, args...), &out, &errs), errs.String())
		assert.Contains(t, errs.String(), "Name it in the deck: veil: {file: errands/"+filepath.Base(pictures[0])+"}")
		return out.String()
	}
	cards := fmt.Sprintf("%d cards", len(pictures)-1)
	assert.Contains(t, pack(folder, "--veil", pictures[0]), cards)
	assert.Contains(t, pack(folder+".png"), cards)
	assert.Contains(t, pack(append(pictures, "--veil", pictures[0], "--to", folder+"-by-name.png")...), cards)
}
