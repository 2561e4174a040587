package cli_test

import (
	"bytes"
	"encoding/json"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/spf13/cobra"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/cli"
)

// Every command prints JSON for programs. Those that serve, or watch until they are ended, are tried elsewhere.
func TestEveryCommandPrintsJSON(t *testing.T) {
	t.Parallel()
	s := start(t)
	kit, other, files := t.TempDir(), filepath.Join(t.TempDir(), "bog-post"), t.TempDir()
	require.NoError(t, os.CopyFS(kit, demo.Weather()))
	sheet, in := filepath.Join(kit, "weather.png"), func(name string) string { return filepath.Join(files, name) }
	require.NoError(t, os.WriteFile(in("day.steps"), []byte("draw 1 from weather"), 0o600))
	bookmark := ""
	asked := map[string]bool{"serve": true, "demo": true, "watch": true, "kit watch": true}
	try := func(command string, args ...string) map[string]any {
		t.Helper()
		asked[command] = true
		values, errs, code := s.cliJSON(append(strings.Fields(command), args...)...)
		require.Zero(t, code, "%s: %s", command, errs)
		require.NotEmpty(t, values, "%s prints nothing", command)
		return values[0]
	}
	try("sheet check", sheet)
	assert.Len(t, try("sheet cut", sheet, "--to", in("cards"))["files"], 14)
	try("sheet pack", in("cards"), "--to", in("packed.png"))
	try("sheet compare", sheet, sheet)
	assert.NotNil(t, try("sheet blank", "--columns", "2", "--rows", "2", "--card", "60x84", "--to", in("blank.png"))["grid"])
	picture, err := os.ReadFile(sheet)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(in("birds.png"), picture, 0o600))
	assert.Contains(t, try("kit new", other, in("birds.png"))["file"], "kit.yaml")
	try("kit check", kit)
	try("kit put", kit)
	try("kit put", other)
	manifest, err := os.ReadFile(filepath.Join(kit, "kit.yaml"))
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(kit, "kit.yaml"), []byte(strings.Replace(string(manifest), "about: ", "about: Anew. ", 1)), 0o600))
	assert.EqualValues(t, 2, try("kit put", kit)["edition"])
	try("kit compare", "Marsh Post", "1")
	try("kit list")
	assert.NotZero(t, try("kit get", "Marsh Post", "--to", in("kit.zip"))["bytes"])
	try("deck show", "--kit", kit)
	try("deck export", "weather", "--kit", kit, "--to", in("weather.csv"))
	try("deck print", "--kit", kit, "--to", in("weather.pdf"))
	drawing := "../../demo/marshpost"
	try("card draw", "letters", "A spare key", "--kit", drawing, "--to", in("key.png"))
	try("steps check", in("day.steps"), "--kit", kit)

	opened := try("room open", "Marsh Post", "--seats", "3", "--edition", "1")["id"].(string)
	try("room list")
	try("room unused")
	assert.EqualValues(t, 1, try("join", opened, "--as", "Ada")["seat"])
	try("join", opened, "--as", "Bo")
	try("do", opened, "draw 2 from weather", "--as", "Ada")
	try("undo", opened, "--as", "Ada")
	try("do", opened, "draw 2 from weather", "--as", "Ada")
	assert.EqualValues(t, 2, try("look", opened, "my hand", "--as", "Ada")["count"])
	try("peek", opened, "weather", "2")
	try("where", opened, "weather")
	try("ask", opened, "Ada")
	try("answer", opened, "decline", "--as", "Ada")
	try("log", opened)
	try("practise", opened, "--seats", "1", "--acts", "2", "--pace", "50ms")
	bookmark = try("bookmark add", opened, "Before the storm")["id"].(string)
	try("bookmark list")
	assert.Equal(t, "Thursday", try("bookmark rename", bookmark, "Thursday")["name"])
	try("bookmark get", bookmark, "--to", in("bookmark.zip"))
	try("bookmark put", in("bookmark.zip"))
	assert.Equal(t, bookmark, try("bookmark remove", bookmark)["removed"])
	try("room keep-table", opened)
	assert.EqualValues(t, 2, try("room take-edition", opened, "--edition", "2")["edition"])
	try("room bring-deck", opened, "Bog post", "birds")
	try("room host", opened, "2")
	try("room free", opened, "1")
	assert.Equal(t, true, try("room passcode", opened, "heron")["passcode"])
	assert.Equal(t, []any{"https://game.example"}, try("room origins", opened, "https://game.example")["origins"])
	assert.Equal(t, true, try("room end", opened)["ended"])
	assert.Equal(t, opened, try("room remove", opened)["removed"])

	try("maker add", "Ada Reed")
	try("maker list")
	try("maker renew", "Ada Reed")
	try("maker end", "Ada Reed")
	try("status")
	try("backup", in("monday.zip"))
	try("restore", in("monday.zip"), "--yes")
	kitID := try("kit remove", "Marsh Post")["removed"].(string)
	assert.Equal(t, "Marsh Post", try("kit restore", kitID)["name"])

	var unasked func(cmd *cobra.Command)
	unasked = func(cmd *cobra.Command) {
		for _, below := range cmd.Commands() {
			name := strings.TrimPrefix(below.CommandPath(), "damselfly ")
			if below.Runnable() && !below.HasSubCommands() && below.Name() != "help" && !strings.HasPrefix(name, "completion") {
				assert.True(t, asked[name], "%s is not tried", name)
			}
			unasked(below)
		}
	}
	unasked(cli.Commands())
}

// Whatever goes wrong has one shape for programs, and the exit code in it.
func TestErrorsHaveOneShape(t *testing.T) {
	t.Parallel()
	s := start(t)
	room := s.room()
	_, _ = s.cli("join", room.ID, "--as", "Ada")
	for code, args := range map[string][]string{
		"wrong-command-line": {"juggle"},
		"refused":            {"kit", "put", "nowhere"},
		"no-such-place":      {"look", room.ID, "wether"},
		"not-understood":     {"do", room.ID, "drw 1"},
		"unlike":             {"do", room.ID, "draw 400 from weather"},
	} {
		values, errs, exit := s.cliJSON(args...)
		assert.Empty(t, values, args)
		var told struct {
			client.Problem
			Exit int
		}
		require.NoError(t, json.Unmarshal([]byte(errs), &told), "%v: %s", args, errs)
		assert.Equal(t, exit, told.Exit, args)
		assert.NotEmpty(t, told.Title, args)
		assert.NotEmpty(t, told.Detail, args)
		if code != "unlike" {
			assert.Equal(t, code, told.Code, args)
		}
	}
	s.address = "127.0.0.1:1"
	_, errs, exit := s.cliJSON("room", "list")
	assert.Equal(t, 4, exit)
	assert.Contains(t, errs, `"code":"no-service"`)
}

// A shell completes what is there: rooms, seats, kits, places, decks, cues, and the words of Steps.
func TestWordsAreCompleted(t *testing.T) {
	t.Parallel()
	s := start(t)
	room := s.room()
	_, _ = s.cli("join", room.ID, "--as", "Ada")
	_, _ = s.cli("join", room.ID, "--as", "Bo Fen")
	for _, c := range []struct {
		words []string
		offer string
	}{
		{[]string{"look", ""}, room.ID + "\tMarsh Post"},
		{[]string{"look", room.ID, ""}, `satchel of Ada`},
		{[]string{"look", room.ID, "my "}, "my satchel"},
		{[]string{"look", room.ID, "--as", "a"}, "Ada"},
		{[]string{"ask", room.ID, "A"}, "Ada"},
		{[]string{"room", "free", room.ID, ""}, "2\tBo Fen"},
		{[]string{"room", "open", "mar"}, "Marsh Post\tedition 1"},
		{[]string{"kit", "compare", "Marsh Post", ""}, "1"},
		{[]string{"where", room.ID, "w"}, "weather"},
		{[]string{"do", room.ID, "dra"}, "draw"},
		{[]string{"do", room.ID, "draw 2 from we"}, "draw 2 from weather"},
		{[]string{"do", room.ID, "draw", "2", "from", "we"}, "weather"},
		{[]string{"do", room.ID, "run", ""}, `"New day"`},
		{[]string{"do", room.ID, "roll", ""}, "wind"},
		{[]string{"deck", "export", "--kit", "../../demo/marshpost", "er"}, "errands"},
		{[]string{"serve", "--log-format", ""}, "json"},
	} {
		last := len(c.words) - 1
		words := append(append([]string{"__complete"}, c.words[0]), "--server", s.url(), "--data", s.data)
		out, code := s.cliPlain(append(words, c.words[1:]...)...)
		assert.Zero(t, code, c.words)
		assert.Contains(t, strings.Split(out, "\n"), c.offer, "%v %q", c.words[:last], c.words[last])
	}
	out, _ := s.cliPlain("__complete", "look", "--server", "http://127.0.0.1:1", "--data", s.data, "")
	assert.NotContains(t, out, "no service", "a shell is told nothing that is no word")
}

// What goes wrong on a command line is told with what to do next.
func TestWhatIsWrongIsToldWithWhatToDo(t *testing.T) {
	t.Parallel()
	s := start(t)
	room := s.room() // three seats
	for _, name := range []string{"Ada", "Bo", "Cleo"} {
		_, code := s.cli("join", room.ID, "--as", name)
		require.Zero(t, code)
	}
	other := httptest.NewTLSServer(http.NotFoundHandler())
	t.Cleanup(other.Close)
	for _, c := range []struct {
		server string
		words  []string
		code   int
		said   string
	}{
		{s.url(), []string{"join", room.ID, "--as", "Dee"}, 3, "All 3 seats of this room are taken. You can watch, or ask who sits there to free one."},
		{s.url(), []string{"join", room.ID, "--as", "Dee", "--seat", "9"}, 3, "There is no seat 9; this table has 3 seats."},
		{s.address, []string{"room", "list"}, 2, `the address of a service begins with http:// or https://, such as http://127.0.0.1:7171; --server is "` + s.address},
		{"https://" + s.address, []string{"room", "list"}, 4, "speaks http and not https; try --server " + s.url()},
		{other.URL, []string{"room", "list"}, 4, "is not trusted by this machine, so nothing was sent"},
		{s.url(), []string{"room", "open", "Marsh Post", "--seats", "20"}, 3, `"seats" is to be at most 12, not 20.`},
		{s.url(), []string{"room", "opn"}, 2, `there is no command "room opn"; did you mean "open"?`},
		{s.url(), []string{"lookk"}, 2, `there is no command "lookk"; did you mean "look"?`},
		{s.url(), []string{"sheet", "pack", "nowhere/"}, 3, "there is no folder or picture nowhere/"},
		{s.url(), []string{"do", room.ID, "drw 1 of weather"}, 3, `there is no step "drw"; did you mean "draw"?`},
		{s.url(), []string{"room", "list", "--only", "idd"}, 2, `there is no field "idd"; did you mean "id"?`},
		{s.url(), []string{"status", "--only", "room"}, 2, `there is no field "room"; did you mean "rooms"?`},
	} {
		var out bytes.Buffer
		assert.Equal(t, c.code, cli.Main(append(c.words, "--server", c.server, "--data", s.data), &out, &out), "%v: %s", c.words, &out)
		assert.Contains(t, out.String(), c.said, c.words)
	}
}
