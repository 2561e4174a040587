package trial

import (
	"io/fs"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/demo"
)

func TestAWholeRoundByCommandAndClient(t *testing.T) {
	t.Parallel()
	s := start(t)
	room := s.room()
	var seats []*client.Seat
	for _, name := range []string{"Ada", "Bo", "Cleo"} {
		joined, err := s.maker().Join(s.ctx, room.ID, client.Join{Name: name})
		require.NoError(t, err)
		seats = append(seats, s.maker().At(joined))
	}
	ada, bo := seats[0], seats[1]
	must := func(answer client.Answer, err error) client.Answer {
		require.NoError(t, err)
		return answer
	}
	must(ada.Shuffle(s.ctx, "weather"))
	must(ada.ChooseFirst(s.ctx))
	must(ada.Deal(s.ctx, "weather", client.Share{Who: "every", Count: 2}))
	must(ada.Peek(s.ctx, "weather", 3))
	pile, err := ada.Place(s.ctx, "weather")
	require.NoError(t, err)
	require.Len(t, pile.Cards, 3)
	must(ada.Reorder(s.ctx, "weather", nil, []client.Handle{pile.Cards[0].Handle}))
	must(ada.Close(s.ctx, "weather"))
	must(bo.Ask(s.ctx, "satchel/1", 1))
	look, err := ada.Look(s.ctx)
	require.NoError(t, err)
	hand := look.View.Place("satchel/1")
	given := must(ada.Agree(s.ctx, look.View.Asks[0].ID, hand.Cards[1].Handle))
	assert.Contains(t, given.Log[0].Text, look.View.Faces[hand.Cards[1].Face].Name)
	must(bo.Spread(s.ctx, client.Pick{From: "satchel/2", Count: 3}, "moorings"))
	taken, err := bo.Taken(s.ctx, "moorings", 0)
	require.NoError(t, err)
	assert.Len(t, taken, 3)
	must(bo.Undo(s.ctx))
	must(bo.Set(s.ctx, "day", 4))
	must(bo.Add(s.ctx, "day", 2))
	must(bo.Roll(s.ctx, "wind", "tide"))
	must(bo.RunTimer(s.ctx, "sandglass", "start"))
	must(bo.HandMarker(s.ctx, "postmaster", 3))
	must(bo.Say(s.ctx, "The tide is in."))
	must(bo.Pass(s.ctx))
	must(ada.TopUpAll(s.ctx, "weather", 3))
	must(ada.Gather(s.ctx, "weather", true))
	look, err = ada.Look(s.ctx)
	require.NoError(t, err)
	assert.Equal(t, 22, look.View.Place("weather").Count)

	alone, err := s.maker().OpenRoom(s.ctx, client.OpenRoom{Kit: "Marsh Post", Deck: "weather", As: "Ada"})
	require.NoError(t, err)
	assert.Len(t, must(s.maker().At(*alone.Seat).Do(s.ctx, "draw 4 from weather")).Log[0].Cards, 4)

	// The same from the terminal.
	for _, name := range []string{"Dov"} {
		_, code := s.cli("join", room.ID, "--as", name)
		assert.Equal(t, 3, code, "the three seats are taken")
	}
	_, err = ada.Free(s.ctx, 3)
	require.NoError(t, err)
	_, _ = s.cli("join", room.ID, "--as", "Dov")
	for _, c := range []struct {
		args []string
		said string
	}{
		{[]string{"do", room.ID, "deal 1 from weather to every hand"}, "deal 1 from weather to Ada"},
		{[]string{"peek", room.ID, "weather", "1"}, "peek 1 of weather  # "},
		{[]string{"do", room.ID, "close weather"}, "not looking into"},
		{[]string{"peek", room.ID, "weather", "2", "--hold"}, "peek 2 of weather  # "},
		{[]string{"look", room.ID, "weather"}, "weather: 19 cards"},
		{[]string{"do", room.ID, "close weather"}, "close weather"},
		{[]string{"ask", room.ID, "Bo"}, "ask Bo for 1"},
		{[]string{"answer", room.ID, "agree"}, "there is no ask to you"},
		{[]string{"do", room.ID, "withdraw"}, "withdraw"},
		{[]string{"do", room.ID, "set day to 9"}, "set day to 9"},
		{[]string{"undo", room.ID}, "undo  # set"},
		{[]string{"where", room.ID, "weather"}, "in view, more beneath"},
		{[]string{"do", room.ID, "move 1 of weather to moorings C3"}, "to moorings C3"},
		{[]string{"look", room.ID, "moorings/A3", "--within", "2"}, "moorings C3"},
		{[]string{"look", room.ID, "moorings/A3", "--within", "1"}, "None of these cells is taken."},
		{[]string{"look", room.ID}, "day 6"},
	} {
		out, _ := s.cli(c.args...)
		assert.Contains(t, out, c.said, "%v", c.args)
	}
	folder := t.TempDir()
	require.NoError(t, os.CopyFS(folder, demo.Weather()))
	file := filepath.Join(folder, "newday.steps")
	require.NoError(t, os.WriteFile(file, []byte("shuffle outbox into weather\ndeal 1 weather to every hand\nadd 1 to day\n"), 0o600))
	out, code := s.cli("steps", "check", file, "--kit", folder)
	assert.Equal(t, 0, code, out)
	assert.Contains(t, out, "3 steps understood.")
	require.NoError(t, os.WriteFile(file, []byte("shuffle weather\nadd 1 to dya\n"), 0o600))
	out, code = s.cli("steps", "check", file, "--kit", folder)
	assert.Equal(t, 3, code)
	assert.Contains(t, out, `line 2, column 10: there is no counter "dya"; did you mean "day"?`)
}

func TestAPortThatIsTakenIsSaid(t *testing.T) {
	t.Parallel()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	out, err := exec.Command(program, "serve", "--listen", l.Addr().String(), "--data", t.TempDir()).CombinedOutput()
	require.Error(t, err)
	assert.Contains(t, string(out), "is taken, perhaps by a service that is running already; end that one, or choose another port")
}

func TestTheDemoLaysItselfOutAndFindsItselfAgain(t *testing.T) {
	t.Parallel()
	data, address := t.TempDir(), freeAddress(t)
	var links []string
	for range 2 {
		out, _ := os.CreateTemp(t.TempDir(), "said")
		cmd := exec.Command(program, "demo", "--listen", address, "--data", data)
		cmd.Stdout, cmd.Stderr = out, out
		require.NoError(t, cmd.Start())
		var said string
		require.Eventually(t, func() bool {
			text, _ := os.ReadFile(out.Name())
			said = string(text)
			return strings.Contains(said, "Ctrl-C ends everything")
		}, waitFor, tick, "the demo does not start")
		require.NoError(t, cmd.Process.Signal(os.Interrupt))
		require.NoError(t, cmd.Wait(), said)
		_, link, _ := strings.Cut(said, "http://")
		link, _, _ = strings.Cut(link, "\n")
		links = append(links, link)
		_, err := os.Stat(filepath.Join(data, "mariadb", "mariadb.pid"))
		assert.ErrorIs(t, err, fs.ErrNotExist, "the database was not ended")
	}
	assert.Equal(t, links[0], links[1], "the next start opened another room")
	assert.Contains(t, links[0], address+"/room/")
}
