package sight

import (
	"encoding/json"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
)

// A journal that was kept before actions had a registry, tenures and one number for what
// was told, with what two seats saw in the end and what the log said. It must fold to
// the same for as long as there are journals.
func TestAJournalOfBeforeIsStillRead(t *testing.T) {
	text, err := os.ReadFile("testdata/journal-of-before.json")
	require.NoError(t, err)
	var before struct {
		Journal []struct {
			Entry uint64
			Actor table.Seat
			Told  int
			Edits table.Edits
			Deeds []table.Deed
		}
		Views map[Viewer]any
		Log   [][2]any
	}
	require.NoError(t, json.Unmarshal(text, &before))
	tab, lines := &table.Table{}, map[int]string{}
	gate := NewGate(tab, [32]byte{1}, steps.Say, Names{})
	for _, e := range before.Journal {
		tab.Fold(e.Edits)
		tab.Recall(e.Actor, e.Entry, e.Edits, e.Deeds)
		gate.Settle(tab, e.Edits)
		for i, deed := range e.Deeds {
			for _, line := range gate.Log([]table.Deed{deed}, 1) {
				lines[e.Told+i+1] = line.Text
			}
		}
	}
	for viewer, want := range before.Views {
		view, err := json.Marshal(gate.View(tab, viewer))
		require.NoError(t, err)
		var got any
		require.NoError(t, json.Unmarshal(view, &got))
		faces := got.(map[string]any)["faces"].(map[string]any)
		delete(got.(map[string]any), "faces")
		assert.Equal(t, withNames(want), asBefore(got, faces), "seat %d", viewer)
	}
	require.NotEmpty(t, before.Log)
	for _, line := range before.Log {
		assert.Equal(t, withQuotes(line[1].(string), tab), lines[int(line[0].(float64))])
	}
	kept, err := json.Marshal(tab)
	require.NoError(t, err)
	again := &table.Table{}
	require.NoError(t, json.Unmarshal(kept, again))
	assert.Equal(t, NewGate(tab, [32]byte{1}, steps.Say, Names{}).View(tab, 1), NewGate(again, [32]byte{1}, steps.Say, Names{}).View(again, 1), "and its snapshot is the same table")
}

// withQuotes has names with commas stand in quotes, as they do since lists of them are told.
func withQuotes(line string, tab *table.Table) string {
	for _, deck := range tab.Decks {
		for _, design := range deck.Designs {
			if strings.Contains(design.Name, ",") {
				quoted := `"` + design.Name + `"`
				line = strings.ReplaceAll(strings.ReplaceAll(line, quoted, design.Name), design.Name, quoted)
			}
		}
	}
	return line
}

// withNames has cards and veils name their picture, which they once told by two addresses,
// and places tell hundredths of a millimetre.
func withNames(v any) any {
	switch v := v.(type) {
	case map[string]any:
		if picture, has := v["picture"].(map[string]any); has && v["deck"] != nil {
			v["picture"] = string(Names{}.Of(table.Picture{Full: picture["full"].(string)}))
		}
		for key := range v {
			if mm, is := v[key].(float64); is && v["sight"] != nil {
				v[key] = hundredths(mm)
			}
			v[key] = withNames(v[key])
		}
	case []any:
		for i := range v {
			v[i] = withNames(v[i])
		}
	}
	return v
}

// asBefore is what a view said before faces were told apart from the cards that show them,
// but for the names of cards, which are new with each life of a room.
func asBefore(v any, faces map[string]any) any {
	switch v := v.(type) {
	case map[string]any:
		delete(v, "handle")
		if word, has := v["face"].(string); has {
			delete(v, "face")
			face := faces[word].(map[string]any)
			v["deck"], v["picture"] = face["deck"], face["picture"]
			if _, card := v["side"]; card {
				v["shows"] = face["side"]
			}
			if name, has := face["name"]; has {
				v["name"] = name
			}
		}
		for key := range v {
			v[key] = asBefore(v[key], faces)
		}
	case []any:
		for i := range v {
			v[i] = asBefore(v[i], faces)
		}
	}
	return v
}
