package trial

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net/http"
	"os"
	"path/filepath"
	"strconv"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/service/mariadb"
)

// sharing starts services that share the records of one MariaDB.
func sharing(t *testing.T, n int) (all []*service) {
	folder := t.TempDir()
	require.NoError(t, os.CopyFS(filepath.Join(folder, "mariadb"), os.DirFS(laid)))
	server, err := mariadb.Start(t.Context(), filepath.Join(folder, "mariadb"), os.Stderr)
	require.NoError(t, err)
	t.Cleanup(func() { _ = server.Stop() })
	for range n {
		s := &service{t: t, ctx: t.Context(), data: t.TempDir(), address: freeAddress(t)}
		s.flags = []string{"--database", server.DSN(mariadb.Database), "--node-address", s.url(), "--metrics", ""}
		s.run()
		t.Cleanup(s.end)
		all = append(all, s)
	}
	return all
}

// player does acts through one of the services, each until it is confirmed, and hears what is told.
type player struct {
	seat      *client.Seat
	at        *service
	confirmed []string
	longest   time.Duration // until one was confirmed
	followed  time.Duration // the same, where the service that was asked lived all the while

	mu   sync.Mutex
	told map[int64]string // lines of the log, by their numbers
	torn []string         // lines that were told in two ways
}

func (p *player) hear(lines []client.LogLine) {
	p.mu.Lock()
	defer p.mu.Unlock()
	for _, line := range lines {
		if before, is := p.told[line.Number]; is && before != line.Text {
			p.torn = append(p.torn, before+" / "+line.Text)
		}
		p.told[line.Number] = line.Text
	}
}

// act says something under an id of its own, again and again until the service says that it is kept.
func (p *player) act(t *testing.T, text string) {
	body, err := json.Marshal(map[string]string{"id": text, "steps": "say \"" + text + "\""})
	require.NoError(t, err)
	gone := false
	for began := time.Now(); ; time.Sleep(tick) {
		request, err := http.NewRequestWithContext(t.Context(), http.MethodPost, p.at.url()+"/api/rooms/"+p.seat.Joined.Room+"/actions", bytes.NewReader(body))
		require.NoError(t, err)
		request.Header.Set("Authorization", "Bearer "+p.seat.Joined.Key)
		request.Header.Set("Content-Type", "application/json")
		response, err := http.DefaultClient.Do(request)
		gone = gone || err != nil
		if err == nil {
			_ = response.Body.Close()
			if response.StatusCode == http.StatusOK {
				p.confirmed = append(p.confirmed, text)
				p.longest = max(p.longest, time.Since(began))
				if !gone {
					p.followed = max(p.followed, time.Since(began))
				}
				return
			}
		}
		if t.Context().Err() != nil || time.Since(began) > waitFor {
			assert.Fail(t, "it is never confirmed", text)
			return
		}
	}
}

// Two services share one database and are killed in turn, under load: each room is held by one of them at a time and is
// followed by the other; every confirmed act is in the log once, and nobody was told a line that is not there. With KILLS set, they
// are killed so often.
func TestRoomsAreHeldByOneServiceAtATime(t *testing.T) {
	t.Parallel()
	kills := 6
	if n, err := strconv.Atoi(os.Getenv("KILLS")); err == nil {
		kills = n
	}
	services := sharing(t, 2)
	var players []*player
	for range 3 {
		var room client.Room
		if len(players) == 0 {
			room = services[0].room()
		} else {
			opened, err := services[0].maker().OpenRoom(t.Context(), client.OpenRoom{Kit: "Marsh Post", Seats: 3})
			require.NoError(t, err)
			room = opened
		}
		for _, s := range services {
			joined, err := client.New(s.url(), "").Join(t.Context(), room.ID, client.Join{Name: fmt.Sprintf("P%d", len(players))})
			require.NoError(t, err)
			p := &player{seat: client.New(s.url(), "").At(joined), at: s, told: map[int64]string{}}
			players = append(players, p)
			go func() {
				_ = p.seat.Watch(t.Context(), func(m client.Message) {
					switch m := m.(type) {
					case client.Whole:
						p.hear(m.Log)
					case client.Changes:
						p.hear(m.Log)
					}
				}, nil)
			}()
		}
	}
	var enough atomic.Bool
	var playing sync.WaitGroup
	for i, p := range players {
		playing.Go(func() {
			for n := 0; !enough.Load(); n++ {
				p.act(t, fmt.Sprintf("%d-%d", i, n))
				time.Sleep(time.Duration(rand.IntN(20)) * time.Millisecond)
			}
		})
	}
	for i := range kills {
		time.Sleep(time.Duration(500+rand.IntN(1500)) * time.Millisecond)
		s := services[i%2]
		s.kill()
		time.Sleep(time.Duration(rand.IntN(5000)) * time.Millisecond) // long enough for the other to follow, or not
		s.run()
	}
	time.Sleep(time.Second)
	enough.Store(true)
	playing.Wait()

	acts, longest, followed := 0, time.Duration(0), time.Duration(0)
	for i, p := range players {
		lines, after := map[int64]string{}, int64(0)
		said := map[string]int{}
		for more := true; more; {
			var some []client.LogLine
			var err error
			require.Eventually(t, func() bool {
				some, more, err = p.seat.LogAfter(t.Context(), after, 500)
				return err == nil
			}, waitFor, tick)
			for _, line := range some {
				lines[line.Number], after = line.Text, line.Number
				said[line.Text]++
			}
		}
		for _, text := range p.confirmed {
			assert.Equal(t, 1, said[`say "`+text+`"`], "player %d: %s", i, text)
		}
		p.mu.Lock()
		for number, text := range p.told {
			assert.Equal(t, lines[number], text, "player %d was told this", i)
		}
		assert.Empty(t, p.torn)
		assert.NotEmpty(t, p.told, "they hear what is told")
		p.mu.Unlock()
		acts, longest, followed = acts+len(p.confirmed), max(longest, p.longest), max(followed, p.followed)
	}
	t.Logf("%d kills, %d confirmed acts of %d players; the longest wait for one was %v, and at a service that lived %v", kills, acts, len(players), longest.Round(10*time.Millisecond), followed.Round(10*time.Millisecond))
}

// A service that stands still is followed though it never says so: who comes through another one waits no longer than its
// lease, also with what was on its way; when it goes on, it has kept nothing that others did not see.
func TestAServiceThatStandsStillIsFollowed(t *testing.T) {
	t.Parallel()
	services := sharing(t, 2)
	still, other := services[0], services[1]
	room := still.room()
	joined, err := client.New(still.url(), "").Join(t.Context(), room.ID, client.Join{Name: "Ada"}) // it is held there now
	require.NoError(t, err)
	there := &player{seat: client.New(still.url(), "").At(joined), at: still, told: map[int64]string{}}
	joined, err = client.New(other.url(), "").Join(t.Context(), room.ID, client.Join{Name: "Bo"})
	require.NoError(t, err)
	p := &player{seat: client.New(other.url(), "").At(joined), at: other, told: map[int64]string{}}
	p.act(t, "before")
	require.NoError(t, still.process.Process.Signal(syscall.SIGSTOP))
	for n := range 20 {
		p.act(t, fmt.Sprint("meanwhile ", n))
	}
	require.NoError(t, still.process.Process.Signal(syscall.SIGCONT))
	there.act(t, "afterwards")
	assert.Less(t, p.longest, waitFor, "it is confirmed while the other still stands still")
	said := map[string]int{}
	lines, _, err := there.seat.LogAfter(t.Context(), 0, 500)
	require.NoError(t, err)
	for _, line := range lines {
		said[line.Text]++
	}
	for _, text := range append(p.confirmed, there.confirmed...) {
		assert.Equal(t, 1, said[`say "`+text+`"`], text)
	}
	t.Logf("the longest wait while one stood still was %v", p.longest.Round(10*time.Millisecond))
}

// Who comes through another service than the one that holds the room is counted as the person they are.
func TestARequestThatIsPassedOnIsForWhoAsked(t *testing.T) {
	t.Parallel()
	services := sharing(t, 2)
	services[0].room()
	room, err := services[0].maker().OpenRoom(t.Context(), client.OpenRoom{Kit: "Marsh Post", Seats: 2, Passcode: "heron"})
	require.NoError(t, err)
	_, err = client.New(services[0].url(), "").Join(t.Context(), room.ID, client.Join{Name: "Ada", Passcode: "heron"}) // it is held there now
	require.NoError(t, err)
	joined, err := client.New(services[1].url(), "").Join(t.Context(), room.ID, client.Join{Name: "Bo", Passcode: "heron"})
	require.NoError(t, err)
	look, err := client.New(services[1].url(), "").At(joined).Look(t.Context())
	require.NoError(t, err)
	assert.Equal(t, client.SeatNumber(2), look.View.You)

	request, err := http.NewRequestWithContext(t.Context(), http.MethodGet, services[0].url()+"/api/rooms/"+room.ID, nil)
	require.NoError(t, err)
	request.Header.Set("Damselfly-Service", "ABCDEFGHIJKLMNOPQRSTUVWXYZ") // made up
	request.Header.Set("X-Forwarded-Host", "elsewhere.example")
	response, err := http.DefaultClient.Do(request)
	require.NoError(t, err)
	defer response.Body.Close()
	assert.Equal(t, http.StatusOK, response.StatusCode)

	services[0].end() // in good order: the other follows at once
	services[0].flags = append(services[0].flags, "--log", "warn")
	began := time.Now()
	require.Eventually(t, func() bool {
		_, err = client.New(services[1].url(), "").At(joined).Do(t.Context(), "say \"still here\"")
		return err == nil
	}, waitFor, tick)
	t.Logf("followed after %v", time.Since(began).Round(time.Millisecond))
	services[0].run()
}
