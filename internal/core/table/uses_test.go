package table_test

import (
	"encoding/json"
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

// What a journal names is found, whichever action named it: the pictures and editions of its edits are those that stand in their text.
func TestUsesAreAllThatIsNamed(t *testing.T) {
	rapid.Check(t, func(r *rapid.T) {
		tab := tabletest.Sample(3)
		for key, d := range tab.Decks {
			d.Edition = &table.EditionOf{Kit: "kit-" + key, Number: 2}
		}
		dice := tabletest.NewDice(r)
		for range rapid.IntRange(1, 12).Draw(r, "moves") {
			move := tabletest.Any(dice, tab)
			edits, _, _ := tab.Apply(move.Actor, move.Action, tabletest.Seeded([32]byte{1}, move.Now()))
			checkUses(r, edits)
		}
		checkUses(r, table.Edits{table.Begin{With: tab.Bookmark(5)}})
		checkUses(r, tabletest.Lay(2))
	})
}

func checkUses(r *rapid.T, edits table.Edits) {
	text, err := json.Marshal(edits)
	require.NoError(r, err)
	var read any
	require.NoError(r, json.Unmarshal(text, &read))
	pictures, kits := map[string]bool{}, map[string]bool{}
	var search func(any)
	search = func(v any) {
		switch v := v.(type) {
		case []any:
			for _, one := range v {
				search(one)
			}
		case map[string]any:
			for name, one := range v {
				if text, is := one.(string); is && text != "" && (name == "small" || name == "full") {
					pictures[text] = true
				} else if is && name == "kit" {
					kits[text] = true
				}
				search(one)
			}
		}
	}
	search(read)
	found := table.UsesOf(edits)
	assert.Equal(r, slices.Sorted(maps.Keys(pictures)), found.Pictures)
	var of []string
	for _, e := range found.Editions {
		of = append(of, e.Kit)
	}
	assert.Equal(r, slices.Sorted(maps.Keys(kits)), slices.Compact(of))
}
