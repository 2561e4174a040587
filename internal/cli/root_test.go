package cli

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
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
