package cli

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestNothingThatPeopleSayMovesTheCursor(t *testing.T) {
	for said, want := range map[string]string{
		"\x1b[2J\x1b[Hgone":             "[2J[Hgone",
		"\x1b]0;title\a":                "]0;title",
		"\x1b[1;34mBo\x1b[0m draws":     "\x1b[1;34mBo\x1b[0m draws",
		"\x1b[38;5;240mfaint\x1b[m":     "\x1b[38;5;240mfaint\x1b[m",
		"\x1b[8mhidden\x1b[1;8mtoo":     "[8mhidden[1;8mtoo",
		"one\u202eowt":                  "oneowt",
		"back\b\b\bspaces\r":            "backspaces",
		"Zoë says ‘שלום’ and goes\t→\n": "Zoë says ‘שלום’ and goes\t→\n",
	} {
		var out bytes.Buffer
		raw := false
		n, err := plain{&out, &raw}.Write([]byte(said))
		assert.NoError(t, err)
		assert.Equal(t, len(said), n)
		assert.Equal(t, want, out.String())
		raw = true
		out.Reset()
		_, _ = plain{&out, &raw}.Write([]byte(said))
		assert.Equal(t, said, out.String(), "as JSON it is escaped already")
	}
}
