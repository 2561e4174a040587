package wire_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/wire"
)

func TestMessagesAreReadAsTheyWereWritten(t *testing.T) {
	kinds := map[string]bool{}
	for _, m := range append([]wire.Message{
		wire.Whole{Gate: "g", Told: 3, View: sight.View{You: 2}, Log: []wire.LogLine{{Number: 1}}},
		wire.Changes{
			Changes: sight.Changes{Places: []sight.PlaceChange{{ID: "sky", Went: []sight.Handle{1 << 49}}}},
			Log:     []wire.LogLine{{Line: sight.Line{Text: "say \"<b> & more\""}, Number: 2}},
		},
		wire.Settled{ID: "1", Problem: &wire.Problem{Code: "no-such-place", Status: 404}},
		wire.Gripping{Seat: 2, Cards: []table.Handle{1 << 49}},
	}, wire.Messages...) {
		text := wire.Write(m)
		assert.True(t, strings.HasPrefix(string(text), `{"type":"`+wire.KindOf(m)+`"`), "%s", text)
		read, err := wire.Read(text)
		require.NoError(t, err, "%s", text)
		assert.Equal(t, string(text), string(wire.Write(read)))
		assert.IsType(t, m, read)
		kinds[wire.KindOf(m)] = true
	}
	assert.Len(t, kinds, len(wire.Messages), "two kinds have one word")
	_, err := wire.Read([]byte(`{"type":"shout"}`))
	assert.ErrorContains(t, err, `a message of the type "shout" is not known here`)
}
