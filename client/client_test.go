package client_test

import (
	"context"
	"encoding/json"
	"net/http"
	"net/http/httptest"
	"net/http/httptrace"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/gorilla/websocket"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/wire"
)

// script is a service that a test writes: one handler for the socket, one for
// the rest.
func script(t *testing.T, live func(*websocket.Conn, wire.Hello), rest http.HandlerFunc) *client.Seat {
	var upgrader websocket.Upgrader
	mux := http.NewServeMux()
	mux.HandleFunc("/api/rooms/r/live", func(w http.ResponseWriter, r *http.Request) {
		socket, err := upgrader.Upgrade(w, r, nil)
		if err != nil {
			return
		}
		defer socket.Close()
		var hello wire.Hello
		if socket.ReadJSON(&hello) == nil {
			live(socket, hello)
		}
	})
	if rest != nil {
		mux.HandleFunc("/", rest)
	}
	server := httptest.NewServer(mux)
	t.Cleanup(server.Close)
	return client.New(server.URL, "").At(client.Joined{Key: "k", Room: "r", Seat: 1})
}

func TestWatchGoesOnFromWhereItWasAfterABreak(t *testing.T) {
	var hellos []wire.Hello
	seat := script(t, func(socket *websocket.Conn, hello wire.Hello) {
		hellos = append(hellos, hello)
		if len(hellos) == 1 {
			_ = socket.WriteMessage(websocket.TextMessage, wire.Write(wire.Whole{Gate: "g", Told: 4}))
			_ = socket.WriteMessage(websocket.TextMessage, wire.Write(wire.Changes{}))
			return // and breaks
		}
		_ = socket.WriteMessage(websocket.TextMessage, wire.Write(wire.Resumed{Gate: "g", Told: 5}))
		_, _, _ = socket.ReadMessage() // until the other side has heard enough
	}, nil)
	ctx, cancel := context.WithTimeout(context.Background(), 20*time.Second)
	defer cancel()
	heard, breaks := 0, 0
	err := seat.Watch(ctx, func(client.Message) {
		if heard++; heard == 3 {
			cancel()
		}
	}, func(error) { breaks++ })
	require.NoError(t, err)
	assert.Equal(t, 1, breaks)
	assert.Equal(t, []wire.Hello{{Type: "hello", Key: "k"}, {Type: "hello", Key: "k", Gate: "g", Told: 5}}, hellos)
}

func TestWatchEndsWhereTryingAgainWouldNotHelp(t *testing.T) {
	seat := script(t, func(socket *websocket.Conn, _ wire.Hello) {
		_ = socket.WriteMessage(websocket.TextMessage, wire.Write(wire.Settled{Problem: &wire.Problem{Status: 401, Code: "needs-seat-key", Detail: "no"}}))
	}, nil)
	err := seat.Watch(context.Background(), func(client.Message) {}, nil)
	var problem *client.Problem
	require.ErrorAs(t, err, &problem)
	assert.Equal(t, "needs-seat-key", problem.Code)
}

func TestARequestWhoseAnswerWasLostIsSentAgainWithTheSameID(t *testing.T) {
	ids := make(chan string, 8) // each try comes over a connection of its own
	var tries atomic.Int32
	seat := script(t, nil, func(w http.ResponseWriter, r *http.Request) {
		var request wire.Request
		_ = json.NewDecoder(r.Body).Decode(&request)
		ids <- request.ID
		if tries.Add(1) == 1 {
			panic(http.ErrAbortHandler) // the connection breaks before the answer
		}
		_ = json.NewEncoder(w).Encode(wire.Answer{Told: 7, Done: "before"})
	})
	answer, err := seat.Do(context.Background(), "shuffle weather")
	require.NoError(t, err)
	assert.Equal(t, "before", answer.Done)
	require.Len(t, ids, 2)
	first := <-ids
	assert.Equal(t, first, <-ids)
	assert.NotEmpty(t, first)
}

func TestAnAnswerThatIsNotDamselflysIsSaid(t *testing.T) {
	seat := script(t, nil, func(w http.ResponseWriter, _ *http.Request) {
		w.WriteHeader(http.StatusBadGateway)
		_, _ = w.Write([]byte("<html>proxy</html>"))
	})
	_, err := seat.Look(context.Background())
	assert.ErrorContains(t, err, "answered 502 Bad Gateway, which is no answer of Damselfly; is the address right?")
}

// Who acts too fast is slowed down as the service says, and what was asked for is done once: it goes by one id.
func TestWhoActsTooFastWaitsAsTheServiceSays(t *testing.T) {
	var mu sync.Mutex
	var ids []string
	var began, done time.Time
	seat := script(t, nil, func(w http.ResponseWriter, r *http.Request) {
		mu.Lock()
		defer mu.Unlock()
		var asked wire.Request
		_ = json.NewDecoder(r.Body).Decode(&asked)
		if ids = append(ids, asked.ID); len(ids) == 1 {
			began = time.Now()
			w.Header().Set("Retry-After", "1")
			w.WriteHeader(http.StatusTooManyRequests)
			_ = json.NewEncoder(w).Encode(wire.Problem{Status: 429, Code: "too-fast"})
			return
		}
		done = time.Now()
		_ = json.NewEncoder(w).Encode(wire.Answer{Done: "now"})
	})
	answer, err := seat.Do(context.Background(), "roll wind")
	require.NoError(t, err)
	assert.EqualValues(t, "now", answer.Done)
	mu.Lock()
	require.Len(t, ids, 2)
	assert.Equal(t, ids[0], ids[1])
	assert.GreaterOrEqual(t, done.Sub(began), time.Second)
	mu.Unlock()

	var tries atomic.Int32
	seat = script(t, nil, func(w http.ResponseWriter, _ *http.Request) {
		tries.Add(1)
		w.Header().Set("Retry-After", "60")
		w.WriteHeader(http.StatusTooManyRequests)
		_ = json.NewEncoder(w).Encode(wire.Problem{Status: 429, Code: "too-fast"})
	})
	_, err = seat.Do(context.Background(), "roll wind")
	require.Error(t, err)
	assert.EqualValues(t, 1, tries.Load(), "nobody is kept waiting for a minute")
}

// What is asked through a line that goes silent ends by itself, and what only takes long is waited for.
func TestASilentLineIsGivenUpAndASlowAnswerIsNot(t *testing.T) {
	asleep := make(chan struct{})
	silent := httptest.NewServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { <-asleep }))
	defer silent.Close()
	defer close(asleep)
	_, err := client.New(silent.URL, "").Room(t.Context(), "r")
	assert.ErrorContains(t, err, "the line seems to be dead")
	var tries atomic.Int64
	_, err = client.New(silent.URL, "").Join(httptrace.WithClientTrace(t.Context(), &httptrace.ClientTrace{GetConn: func(string) { tries.Add(1) }}), "r", client.Join{Name: "Ada"})
	assert.ErrorContains(t, err, "the line seems to be dead")
	assert.EqualValues(t, 2, tries.Load(), "it was asked, and then for a sign of life")

	slow := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path != "/healthz" {
			time.Sleep(9 * time.Second) // longer than a silent line is waited for
			_, _ = w.Write([]byte(`{"id":"r"}`))
		}
	}))
	defer slow.Close()
	room, err := client.New(slow.URL, "").Room(t.Context(), "r")
	require.NoError(t, err)
	assert.Equal(t, "r", room.ID)
}
