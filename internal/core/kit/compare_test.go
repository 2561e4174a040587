package kit_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/compared"
	"damselfly.example/damselfly/internal/core/kit"
)

// The demo's second edition is what its scenario says.
func TestTheSecondEditionOfTheDemo(t *testing.T) {
	first, err := make(demo.Kit())
	require.NoError(t, err)
	files := copied(t, demo.Kit())
	for name, text := range demo.Second() {
		files[name].Data = text
	}
	second, err := make(files)
	require.NoError(t, err)
	assert.Empty(t, second.Warnings)
	added, changed, removed := kit.Compare(first.Edition, second.Edition).Counts()
	assert.Equal(t, []int{2, 1, 1}, []int{added, changed, removed})
}

// One letter's words changed, one gone, one new, a zone moved and another home: and that is
// all that a comparison tells.
func TestAComparisonTellsWhatDiffers(t *testing.T) {
	first, err := make(demo.Kit())
	require.NoError(t, err)
	assert.True(t, kit.Compare(first.Edition, first.Edition).Empty())

	files := copied(t, demo.Kit())
	lines := strings.Split(strings.TrimRight(string(files["letters.csv"].Data), "\n"), "\n")
	gone := lines[len(lines)-1]
	lines[len(lines)-1] = strings.Replace(gone, gone[:strings.Index(gone, ",")], "An owl's receipt", 1)
	files["letters.csv"].Data = []byte(strings.Replace(strings.Join(lines, "\n")+"\n", "Come home.", "Stay away.", 1))
	files["kit.yaml"].Data = []byte(strings.Replace(string(files["kit.yaml"].Data), "name: Marsh Post", "name: Marsh Post\npicture: mat.png", 1))
	k, err := kit.Read(files)
	require.NoError(t, err)
	second, err := k.Make(kit.Making{Known: first.Known})
	require.NoError(t, err)
	c := kit.Compare(first.Edition, second.Edition)
	assert.Equal(t, []string{"picture"}, c.Kit)
	require.Len(t, c.Decks, 1)
	letters := c.Decks[0]
	assert.Equal(t, []string{"letters", compared.Changed}, []string{letters.Key, letters.Change})
	require.Len(t, letters.Changed, 1)
	assert.Equal(t, "two-words", letters.Changed[0].After.Key)
	assert.NotEqual(t, letters.Changed[0].Before.Front, letters.Changed[0].After.Front)
	require.Len(t, letters.Changed[0].Words, 1)
	assert.Contains(t, letters.Changed[0].Words[0].After, "Stay away.")
	assert.Len(t, letters.Added, 1)
	assert.Len(t, letters.Removed, 1)
	assert.Empty(t, c.Zones)
	assert.Empty(t, c.Pieces)

	moved := second.Edition
	moved.Decks = append([]kit.EditionDeck{}, moved.Decks...)
	weather := first.Edition.Decks[len(first.Edition.Decks)-1]
	require.Equal(t, "weather", weather.Key)
	one := weather.Copies[0]
	alone := kit.EditionDeck{Copies: []kit.Copies{one}}
	alone.Key, alone.Designs = "storms", weather.Designs
	rest := weather
	rest.Copies = weather.Copies[1:]
	moved.Decks[len(moved.Decks)-1] = rest
	moved.Decks = append(moved.Decks, alone)
	c = kit.Compare(second.Edition, moved)
	require.Len(t, c.Decks, 2)
	require.Len(t, c.Decks[0].Moved, 1)
	assert.Equal(t, []string{one.Design, "weather"}, []string{c.Decks[0].Moved[0].Design.Key, c.Decks[0].Moved[0].From})
	added, changed, removed := c.Counts()
	assert.Equal(t, []int{0, 0, 0}, []int{added, changed, removed})
}
