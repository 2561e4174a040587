package trial

import (
	"net/http"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
)

// database is the process of the service's own MariaDB now.
func (s *service) database() int {
	text, _ := os.ReadFile(filepath.Join(s.data, "mariadb", "mariadb.pid"))
	pid, _ := strconv.Atoi(strings.TrimSpace(string(text))) // none while it starts
	return pid
}

// notice waits for a notice of the service at a table.
func notice(t *testing.T, heard <-chan client.Message, code string) {
	t.Helper()
	for timeout := time.After(waitFor); ; {
		select {
		case m := <-heard:
			if n, is := m.(client.Notice); is && n.Code == code {
				return
			}
		case <-timeout:
			require.Fail(t, "nobody is told", code)
		}
	}
}

// The service's own database is its child: it is started again when it ends, people
// are told while it is gone or stands still, and nothing waits for it at the end.
func TestTheServiceOutlivesItsDatabase(t *testing.T) {
	t.Parallel()
	s := start(t)
	room := s.room()
	joined, err := s.maker().Join(s.ctx, room.ID, client.Join{Name: "Ada"})
	require.NoError(t, err)
	ada := s.maker().At(joined)
	heard := make(chan client.Message, 200)
	go func() {
		_ = ada.Watch(s.ctx, func(m client.Message) { heard <- m }, nil)
	}()
	_, err = ada.Do(s.ctx, "draw 2 from weather")
	require.NoError(t, err)

	former := s.database()
	require.Positive(t, former)
	require.NoError(t, syscall.Kill(former, syscall.SIGKILL))
	require.Eventually(t, func() bool {
		_, err = ada.Do(s.ctx, "draw 1 from weather")
		return err == nil && s.database() != former
	}, waitFor, tick, "it does not go on by itself")
	look, err := ada.Look(s.ctx)
	require.NoError(t, err)
	drawn := look.View.Place("satchel/1").Count
	assert.Greater(t, drawn, 2, "and nothing is lost")
	for len(heard) > 0 { // how soon it was back decides whether people were told
		<-heard
	}

	require.Positive(t, s.database())
	require.NoError(t, syscall.Kill(s.database(), syscall.SIGSTOP)) // it stands still
	notice(t, heard, "not-saving")
	patient := http.Client{Timeout: waitFor}
	for path, status := range map[string]int{
		"/api/rooms/elsewhere": 503, "/api/rooms/elsewhere/events": 503, "/api/kits": 503, "/pictures/" + strings.Repeat("A", 22) + "/small": 503,
		"/api/rooms/elsewhere/live": 400, "/room/elsewhere": 200, "/": 200, "/healthz": 200,
	} {
		for _, origin := range []string{"", "https://game.example"} { // whether a page of others may ask is asked first
			request, err := http.NewRequestWithContext(s.ctx, http.MethodGet, s.url()+path, nil)
			require.NoError(t, err)
			request.Header.Set("Authorization", "Bearer "+joined.Key)
			if origin != "" {
				request.Header.Set("Origin", origin)
			}
			response, err := patient.Do(request)
			require.NoError(t, err, path)
			_ = response.Body.Close()
			if origin == "" {
				assert.Equal(t, status, response.StatusCode, path)
			}
			if response.StatusCode == 503 {
				assert.NotEmpty(t, response.Header.Get("Retry-After"), path)
			}
		}
	}
	ended := make(chan struct{})
	go func() { s.end(); close(ended) }()
	select {
	case <-ended:
	case <-time.After(waitFor):
		require.Fail(t, "the service waits for a database that stands still")
	}
	assert.Contains(t, s.said.String(), "MariaDB has ended by itself; it is started again")
	s.run()
	look, err = ada.Look(s.ctx)
	require.NoError(t, err)
	assert.Equal(t, drawn, look.View.Place("satchel/1").Count)
}
