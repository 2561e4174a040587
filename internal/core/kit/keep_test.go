package kit

import (
	"bytes"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/compared"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

// laidOut lays a made kit with everybody seated.
func laidOut(made Edition, seats int) *table.Table {
	tab := &table.Table{}
	tab.Fold(made.Lay(seats))
	for i := range tab.Chairs {
		tab.Chairs[i].Name = tabletest.Names[i]
	}
	tab.Settings.Host = 1
	return tab
}

// kept reads the kit again with an arranged table in it.
func kept(t *testing.T, k *Kit, result *Result, tab *table.Table, folder Files) Edition {
	files, err := k.WithTable(tab.Bare(), result.Edition, func(address string) ([]byte, error) { return result.Pictures[address], nil })
	require.NoError(t, err)
	for name, text := range files {
		folder[name] = text
	}
	again, err := Read(folder)
	require.NoError(t, err, string(files[manifestFile]))
	made, err := again.Make(Making{})
	require.NoError(t, err, string(files[manifestFile]))
	return made.Edition
}

func weatherKit(t *testing.T) (*Kit, *Result, Files) {
	folder := Files{}
	for _, name := range []string{"kit.yaml", "weather.png"} {
		text, err := os.ReadFile("../../../demo/weather/" + name)
		require.NoError(t, err)
		folder[name] = text
	}
	k, err := Read(folder)
	require.NoError(t, err)
	result, err := k.Make(Making{})
	require.NoError(t, err)
	return k, result, folder
}

func do(t *testing.T, tab *table.Table, a table.Action) {
	_, _, refusal := tab.Apply(1, a, tabletest.With(chance.Derive(chance.Seed{}, 1, ""), 0))
	require.Nil(t, refusal)
}

func ptr[T any](v T) *T { return &v }

func TestATableThatWasNotArrangedIsKeptAsItWas(t *testing.T) {
	k, result, folder := weatherKit(t)
	tab := laidOut(result.Edition, 3)
	made := kept(t, k, result, tab, folder)
	assert.Equal(t, tab.Bare().Places, laidOut(made, 3).Bare().Places)
	assert.Equal(t, tab.Pieces, laidOut(made, 3).Pieces)
	assert.Equal(t, compared.Comparison{}, Compare(result.Edition, made), "it lies as before, whatever is written of it")
	before, _, _ := strings.Cut(string(k.text), "\ntable:")
	after, _, _ := strings.Cut(string(folder[manifestFile]), "\ntable:")
	assert.Equal(t, before, after, "the rest of kit.yaml stays, comments and all")
}

// What a kit leaves out is written down with its table, and lies as before.
func TestABeginningIsKeptAsItWas(t *testing.T) {
	_, _, folder := weatherKit(t)
	folder[manifestFile] = []byte("kit: 1\nname: Weather\nseats: 4\nsheets: {weather: {file: weather.png, columns: 4, rows: 4}}\ndecks: {weather: {sheet: weather}}\n")
	k, err := Read(folder)
	require.NoError(t, err)
	result, err := k.Make(Making{})
	require.NoError(t, err)
	assert.Equal(t, compared.Comparison{}, Compare(result.Edition, kept(t, k, result, laidOut(result.Edition, 4), folder)), string(folder[manifestFile]))
}

func TestAnArrangedTableIsKeptInTheKit(t *testing.T) {
	k, result, folder := weatherKit(t)
	tab := laidOut(result.Edition, 3)
	do(t, tab, table.LayZone{Kind: table.Grid, Name: ptr("quay"), Turn: ptr(45), X: ptr(200.04)})
	do(t, tab, table.LayZone{Kind: table.Hand, Owner: ptr(table.Seat(2)), Name: ptr("purse")})
	do(t, tab, table.LayZone{Zone: "sky", Name: ptr("Sky above"), Capacity: ptr(5), Arrival: &table.Arrival{Side: table.Back, Turn: ptr(90), Bottom: true}})
	do(t, tab, table.LayTable{Setup: ptr("shuffle weather\ndraw 2 from weather to my hand\n"), Turn: ptr(45), Arrange: ptr("everyone")})
	do(t, tab, table.LayPiece{Kind: table.Cue, Name: ptr("Dawn"), Text: ptr("# dawn\n\nshuffle weather")})
	do(t, tab, table.LayPiece{Kind: table.Die, Sectors: &[]table.Sector{{Name: "lull", Weight: 3}, {Name: "off: 'gale'", Weight: 1}}})
	var faces table.Picture
	for address := range result.Pictures {
		faces = table.Picture{Small: address, Full: address}
		break
	}
	do(t, tab, table.LayPiece{Kind: table.Token, Name: ptr("gull"), Faces: &[]table.Picture{faces}, Wide: ptr(30.0), Count: ptr(3)})
	do(t, tab, table.LayPiece{Kind: table.Note, Name: ptr("more rules"), Text: ptr("# Rules\n\n- be *kind*\n")})
	for _, id := range tab.PlaceIDs() {
		if p := tab.Places[id]; p.Kind == table.Hand && p.Name == "satchel" {
			do(t, tab, table.LayZone{Zone: id, Y: ptr(100.0)})
		}
	}
	again := laidOut(kept(t, k, result, tab, folder), 3)
	for id, p := range tab.Bare().Places {
		if p.X = tenth(p.X); assert.Contains(t, again.Places, id) {
			got := *again.Places[id]
			got.Cards = nil
			assert.Equal(t, *p, got)
		}
	}
	assert.Equal(t, tab.Settings.Setup, again.Settings.Setup)
	assert.Equal(t, "everyone", again.Settings.Arrange)
	for id, p := range tab.Pieces {
		got := again.Pieces[id]
		if p.Name == "gull" {
			require.Len(t, got.Faces, 1)
			p.Faces, got.Faces, p.High, got.High = nil, nil, 0, 0
		}
		for i := range p.Sectors {
			p.Sectors[i].Weight = max(p.Sectors[i].Weight, 1)
		}
		assert.Equal(t, p, got)
	}
	assert.Contains(t, string(folder[manifestFile]), "    - {key: sky, name: Sky above, kind: row,")
	var zip bytes.Buffer
	require.NoError(t, ZipWith(os.DirFS("../../../demo/weather"), folder, &zip))
	opened, err := OpenZip(zip.Bytes())
	require.NoError(t, err)
	_, err = Read(opened)
	require.NoError(t, err)
}

func TestAMistakeInTheStepsOfAKitIsToldWithItsPlace(t *testing.T) {
	_, _, folder := weatherKit(t)
	folder[manifestFile] = append(folder[manifestFile], []byte("    - {key: dawn, kind: cue, at: [10, 10], steps: \"shuffle wether\"}\n")...)
	k, err := Read(folder)
	require.NoError(t, err)
	_, err = k.Make(Making{})
	assert.ErrorContains(t, err, `kit.yaml, line 55, column 51: there is no place "wether"; did you mean "weather"?`)
	assert.NotEmpty(t, Mistakes(err)[0].Path)
}

// Pieces of kinds with pictures and faces are laid as kit.yaml says, and kept as they lie; what their kind has not is told.
func TestPiecesOfAKitAreKeptAsTheyLie(t *testing.T) {
	_, _, folder := weatherKit(t)
	manifest := string(folder[manifestFile])
	with := func(piece string) Files {
		changed := Files{}
		for name, text := range folder {
			changed[name] = text
		}
		changed[manifestFile] = []byte(strings.TrimRight(manifest, "\n") + "\n    - " + piece + "\n")
		return changed
	}
	for _, piece := range []string{
		`{key: omen, kind: die, at: [100, 100], faces: [sun, sun, rain], files: [weather.png, weather.png]}`,
		`{key: bell, kind: token, at: [100, 100], faces: [silent, rung], count: 3}`,
	} {
		made := with(piece)
		k, err := Read(made)
		require.NoError(t, err)
		result, err := k.Make(Making{})
		require.NoError(t, err)
		tab := laidOut(result.Edition, 2)
		again := kept(t, k, result, tab, made)
		assert.Equal(t, tab.Pieces, laidOut(again, 2).Pieces, piece)
	}
	for piece, mistake := range map[string]string{
		`{key: omen, kind: die, at: [100, 100], faces: [sun, rain], files: [a.png, b.png, c.png]}`: "omen has 3 pictures; a die has at most 2",
		`{key: bell, kind: token, at: [100, 100], faces: [a, b, c]}`:                               "bell has one or two sides, not 3",
		`{key: omen, kind: die, at: [100, 100]}`:                                                   `"omen": a die needs faces`,
		`{key: omen, kind: counter, at: [100, 100], steps: "roll omen"}`:                           `"omen": a counter has no steps`,
		`{key: omen, kind: timer, at: [100, 100], seconds: 9, most: 3}`:                            `"omen": a timer has no most`,
	} {
		_, err := Read(with(piece))
		assert.ErrorContains(t, err, mistake, piece)
	}
}
