package steps_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
)

var known = steps.Known{
	Own:     []string{"hand", "tray"},
	Places:  []string{"weather", "sky", "old post"},
	Pieces:  []steps.KnownPiece{{Name: "wind", Kind: table.Die}, {Name: "New day", Kind: table.Cue}},
	Players: []string{"Ada", "Bo"},
	Others:  []string{"weather", "Low sun"},
}

func TestALineIsCompleted(t *testing.T) {
	for line, ways := range map[string][]string{
		"shu":                 {"shuffle"},
		"draw 2 from wea":     {"draw 2 from weather"},
		"move lo":             {`move "Low sun"`},
		`move "low s`:         {`move "Low sun"`},
		"run ":                {`run "New day"`, "run setup"},
		"roll ":               {"roll wind"},
		"draw 1 from my ":     {"draw 1 from my tray", "draw 1 from my hand"},
		"flip all of b":       {"flip all of Bo"},
		"draw 1 from sky to ": {`draw 1 from sky to weather`, "draw 1 from sky to sky", `draw 1 from sky to "old post"`, "draw 1 from sky to my hand", "draw 1 from sky to my", "draw 1 from sky to every hand", "draw 1 from sky to seat"},
		"shuffle":             nil,
		"nothing":             nil,
	} {
		assert.Equal(t, ways, steps.Complete(line, known), line)
	}
}

// Whatever is written goes on as it was written: each way begins with all but the last word, and the way itself is complete.
func TestCompletingKeepsWhatIsWritten(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		line := rapid.StringMatching(`((move|draw|roll|run|flip|2|from|to|my|of|"old|w|) ){0,5}("?[a-zä ]{0,3})`).Draw(t, "line")
		for _, way := range steps.Complete(line, known) {
			assert.NotEqual(t, line, way)
			assert.NotContains(t, steps.Complete(way, known), way)
		}
	})
}
