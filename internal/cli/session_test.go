package cli_test

import (
	"encoding/json"
	"image"
	"io/fs"
	"math/rand/v2"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/kit"
)

func TestAFirstSessionByHand(t *testing.T) {
	t.Parallel()
	s := start(t)
	folder := t.TempDir()
	require.NoError(t, os.CopyFS(folder, demo.Weather()))

	out, code := s.cli("sheet", "check", filepath.Join(folder, "weather.png"))
	assert.Equal(t, 0, code)
	assert.Contains(t, out, "4 columns × 4 rows, guessed")
	assert.Contains(t, out, "14 cells with content, 2 empty cells.")
	out, code = s.cli("kit", "put", folder)
	assert.Equal(t, 0, code, out)
	assert.Contains(t, out, "Marsh Post is on the shelf as edition 1: weather with 12 designs and 22 cards.")
	out, _ = s.cli("kit", "put", folder)
	assert.Contains(t, out, "Marsh Post is on the shelf already, as edition 1; nothing changed.")

	out, code = s.cli("room", "open", "marsh post", "--seats", "2", "--json")
	assert.Equal(t, 0, code, out)
	var room client.Room
	require.NoError(t, json.Unmarshal([]byte(out), &room))
	out, _ = s.cli("room", "list")
	assert.Contains(t, out, room.ID)
	out, _ = s.cli("join", room.ID, "--as", "Ada")
	assert.Contains(t, out, "Ada sits at seat 1.")
	_, _ = s.cli("join", s.url()+room.Path, "--as", "Bo")
	out, _ = s.cli("do", room.ID, "draw 2 from weather to my hand", "--as", "Ada")
	assert.Equal(t, "draw 2 from weather to my hand  # Ice, Low sun\n", out)
	out, _ = s.cli("look", room.ID, "--as", "Ada")
	assert.Contains(t, out, "My hand (2 cards): Ice, Low sun")
	assert.Contains(t, out, `Cues: run setup, run "New day"`)
	out, _ = s.cli("do", room.ID, `run "New day"`, "--as", "Ada")
	assert.Contains(t, out, "run \"New day\"\nset day to 2\nroll wind  # ")
	out, code = s.cli("room", "keep-table", room.ID)
	assert.Equal(t, 0, code, out)
	assert.Equal(t, "The table is kept: edition 2 of Marsh Post.\n", out)
	out, _ = s.cli("look", room.ID)
	assert.NotContains(t, out, "Ice", "Bo sees Ada's hand")
	out, _ = s.cli("look", room.ID, "--json")
	assert.NotContains(t, out, "Ice")
	out, _ = s.cli("log", room.ID)
	assert.Contains(t, out, "draw 2 from weather to hand of Ada")

	steps := filepath.Join(folder, "newday.steps")
	require.NoError(t, os.WriteFile(steps, []byte("shuffle weather\n# one for all\ndraw 1 from weather to sky\n"), 0o600))
	out, code = s.cli("do", room.ID, "--file", steps)
	assert.Equal(t, 0, code)
	assert.Contains(t, out, "shuffle weather\ndraw 1 from weather to sky")
}

func TestExitCodesAndErrorsSayWhatToDo(t *testing.T) {
	t.Parallel()
	s := start(t)
	room := s.room()
	_, _ = s.cli("join", room.ID, "--as", "Ada")
	bad := filepath.Join(t.TempDir(), "bad.png")
	picture, err := fs.ReadFile(demo.Weather(), "weather.png")
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(bad, picture[:5000], 0o600))
	good := filepath.Join(t.TempDir(), "weather.png")
	require.NoError(t, os.WriteFile(good, picture, 0o600))
	folderOf := func(files map[string]string) string {
		folder := t.TempDir()
		for name, text := range files {
			require.NoError(t, os.WriteFile(filepath.Join(folder, name), []byte(text), 0o600))
		}
		return folder
	}
	const begun = "kit: 1\nname: W\nseats: 2\n"
	drawn := folderOf(map[string]string{
		"rows.csv": "title,art\nFog,\n",
		"kit.yaml": begun + "layouts: {l: {size: [30, 40], front: [{at: [0, 0, 30, 20], picture: \"{art}.png\"}]}}\ndecks: {w: {rows: rows.csv, layout: l}}\n",
	})
	for name, c := range map[string]struct {
		args []string
		code int
		said string
	}{
		"no decks":       {[]string{"kit", "check", folderOf(map[string]string{"kit.yaml": begun})}, 0, "W has no decks yet.\n"},
		"capital":        {[]string{"kit", "check", folderOf(map[string]string{"Kit.yaml": begun})}, 3, "holds no kit.yaml; rename Kit.yaml to kit.yaml"},
		"file of a kit":  {[]string{"kit", "check", filepath.Join(drawn, "kit.yaml")}, 3, "is a file of a kit; name the folder in which it lies: " + drawn},
		"empty art":      {[]string{"kit", "check", drawn}, 3, `rows.csv: row 2: the column "art" is empty, so that the picture is missing; name its file there, or write optional: true in the box`},
		"other table":    {[]string{"kit", "check", folderOf(map[string]string{"a.ods": "x", "kit.yaml": begun + "decks: {w: {rows: a.ods}}\n"})}, 3, "a.ods: cannot be read here: save it as .xlsx or .csv"},
		"folder":         {[]string{"sheet", "check", drawn}, 3, "is a folder; name one picture in it, or pack all of them: damselfly sheet pack"},
		"no picture":     {[]string{"sheet", "check", "nowhere.png"}, 3, "there is no file nowhere.png"},
		"refusal":        {[]string{"do", room.ID, "draw 40 from weather"}, 3, "damselfly: weather has 22 cards, you asked for 40."},
		"mistake":        {[]string{"do", room.ID, "draw 4 from wether"}, 3, `there is no place "wether"; did you mean "weather"?`},
		"wrong columns":  {[]string{"sheet", "check", good, "--columns", "5", "--rows", "4"}, 3, "the picture looks like 4 columns × 4 rows, not 5 × 4"},
		"broken picture": {[]string{"sheet", "check", bad}, 3, "cut short or damaged"},
		"no art":         {[]string{"kit", "new", filepath.Join(t.TempDir(), "bog"), "session_test.go"}, 3, "session_test.go is no picture (PNG"},
		"no such art":    {[]string{"kit", "new", filepath.Join(t.TempDir(), "bog"), "nowhere.png"}, 3, "nowhere.png: no such file"},
		"no such file":   {[]string{"kit", "put", "nowhere"}, 3, "there is no folder or zip nowhere"},
		"no such kit":    {[]string{"room", "open", "Bog Post"}, 3, `You have no kit "Bog Post"; you have "Marsh Post".`},
		"not joined":     {[]string{"look", "elsewhere"}, 3, "take a seat with: damselfly join elsewhere --as NAME"},
		"no name":        {[]string{"join", room.ID}, 2, "say who joins with --as NAME"},
		"no arguments":   {[]string{"do"}, 2, "this is written: damselfly do ROOM STEPS\n  such as: damselfly do ROOM"},
		"unknown flag":   {[]string{"look", room.ID, "--loud"}, 2, "unknown flag: --loud; see damselfly look --help"},
		"unknown word":   {[]string{"juggle"}, 2, `there is no command "juggle"`},
		"as JSON":        {[]string{"do", room.ID, "draw 40 from weather", "--json"}, 3, `"numbers":{"asked":40,"has":22}`},
	} {
		t.Run(name, func(t *testing.T) {
			out, code := s.cli(c.args...)
			assert.Equal(t, c.code, code, out)
			assert.Contains(t, out, c.said)
		})
	}
	s.address = "127.0.0.1:1"
	out, code := s.cli("room", "list")
	assert.Equal(t, 4, code)
	assert.Contains(t, out, `start one with "damselfly serve"`)
}

// Before much is sent a kit is looked over, and what looks wrong is asked about: no work is thrown away for it.
func TestWarningsComeBeforeTheWork(t *testing.T) {
	t.Parallel()
	s, folder := start(t), t.TempDir()
	write := func(name string, text []byte) {
		t.Helper()
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), text, 0o600))
	}
	noise := image.NewNRGBA(image.Rect(0, 0, 1300, 1000))
	r := rand.New(rand.NewPCG(1, 2))
	for i := range noise.Pix {
		noise.Pix[i] = byte(r.Uint32())
	}
	write("weather.png", demo.PNG(demo.Pictures()["weather.png"]))
	write("mat.png", demo.PNG(noise))
	write("kit.yaml", []byte("kit: 1\nname: W\nseats: 2\nsheets: {weather: {file: weather.png, columns: 5, rows: 4}}\ndecks: {weather: {sheet: weather}}\ntable: {size: [800, 600], mat: mat.png, zones: [{key: weather, kind: pile, at: [200, 200]}]}\n"))
	out, code := s.cli("kit", "put", folder)
	assert.Equal(t, 3, code, out)
	assert.Contains(t, out, "weather.png: the width does not divide evenly: 1408 pixels over 5 columns leave 3")
	assert.Contains(t, out, "Write yes to put it on the shelf all the same: ")
	assert.Contains(t, out, "nothing was sent (--despite-warnings)")
	lacking, err := s.maker().Lacking(t.Context(), []string{kit.HashOf(demo.PNG(noise))})
	require.NoError(t, err)
	assert.Len(t, lacking, 1, "nothing was sent")
	out, code = s.cli("kit", "put", folder, "--despite-warnings")
	assert.Equal(t, 0, code, out)
	assert.NotContains(t, out, "Write yes")
}
