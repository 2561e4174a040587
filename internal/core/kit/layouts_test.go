package kit_test

import (
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const twoLayouts = `layouts:
  card:
    size: [120, 168]
    front:
      - {name: paper, at: [0, 0, 120, 168], fill: white}
      - {name: title, at: [8, 8, 104, 30], text: "{name} {row} {copies} {key}", height: 12}
  spell:
    based-on: card
    front:
      - {name: paper, at: [0, 0, 120, 168], fill: teal, color: "#000000"}
      - {at: [8, 60, 104, 30], text: "{name}", height: 12, align: center, color: grey}
`

func rowsKit(decks, rows string) fstest.MapFS {
	files := kitOf(twoLayouts + "decks:\n" + decks)
	files["rows.csv"] = &fstest.MapFile{Data: []byte(rows)}
	return files
}

func TestTheLayoutIsChosenByAColumn(t *testing.T) {
	files := rowsKit("  d: {rows: rows.csv, layout: \"{kind}\"}\n", "name,kind,copies\nFog,Spell,2\nReed,card,1\n")
	result, err := make(files)
	require.NoError(t, err)
	designs := result.Edition.Decks[0].Designs
	assert.NotEqual(t, designs["fog"].Front, designs["reed"].Front)

	files["rows.csv"].Data = []byte("name,kind\nFog,spell\nReed,crad\nHeron,\n")
	_, err = make(files)
	require.Error(t, err)
	assert.Contains(t, err.Error(), `rows.csv: row 3: {kind} gives the layout "crad", which there is not; there is "card", "spell"`)
	assert.Contains(t, err.Error(), `rows.csv: row 4: {kind} gives the layout ""`)
}

func TestLayoutsOfADeckAreOfOneSize(t *testing.T) {
	files := rowsKit("  d: {rows: rows.csv, layout: \"{kind}\"}\n", "name,kind\nFog,spell\nReed,large\n")
	files["kit.yaml"].Data = append(files["kit.yaml"].Data, "\n"...)
	text := string(files["kit.yaml"].Data)
	files["kit.yaml"].Data = []byte(text[:len(text)-len("decks:\n  d: {rows: rows.csv, layout: \"{kind}\"}\n\n")] +
		"  large: {based-on: card, size: [200, 200], front: []}\ndecks:\n  d: {rows: rows.csv, layout: \"{kind}\"}\n")
	_, err := make(files)
	assert.ErrorContains(t, err, `the layouts "large" and "spell" draw cards of [200 200] and [120 168] pixels; those of a deck are of one size`)
}

func TestLayoutsThatAreBasedOnNothingAreMistakes(t *testing.T) {
	for text, want := range map[string]string{
		"layouts:\n  a: {based-on: b}\n":                     `line 5, column 17: there is no layout "b"; there is "a"`,
		"layouts:\n  a: {based-on: b}\n  b: {based-on: a}\n": `is based on itself`,
	} {
		_, err := make(kitOf(text))
		assert.ErrorContains(t, err, want)
	}
}

func TestARowIsAlsoItsNumberAndItsKey(t *testing.T) {
	with := func(rows string) any {
		result, err := make(rowsKit("  d: {rows: rows.csv, layout: card}\n", rows))
		require.NoError(t, err)
		return result.Edition.Decks[0].Designs["fog"].Front
	}
	assert.NotEqual(t, with("name,copies\nFog,2\n"), with("name,copies\nFog,3\n"), "the copies stand on it")
	assert.NotEqual(t, with("name,copies\nFog,2\n"), with("name,copies\nReed,1\nFog,2\n"), "its row does")
	assert.Equal(t, with("name,copies,row\nFog,2,\n"), with("name,copies,row\nReed,1,\nFog,2,\n"), "a column of that name says something else")
}
