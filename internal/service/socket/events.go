package socket

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/service/web"
	"damselfly.example/damselfly/internal/wire"
)

// Events tells what happens at a room as server-sent events, for what cannot hold a socket: the very messages of a
// socket, one an event. The key comes in the header, or as ?key= where a header cannot be set.
func (s *Server) Events(w http.ResponseWriter, r *http.Request) {
	if !s.OwnOrigin(r) {
		web.WriteProblem(w, wire.OtherOrigin.With(wire.Problem{Detail: "These events are for pages of " + r.Host + ". Its maker allows others for this room, or the keeper for all with --allow-origin."}))
		return
	}
	key := web.Bearer(r.Header.Get("Authorization"))
	if key == "" {
		key = r.URL.Query().Get("key")
	}
	id := chi.URLParam(r, "room")
	wait := helloPatience
	if !s.Rooms.Saving() {
		wait = GonePatience
	}
	ask, cancel := context.WithTimeout(r.Context(), wait)
	who, err := web.SeatOf(ask, s.Store, key, id)
	cancel()
	if err == nil {
		err = s.tellEvents(w, r, id, key, At(who))
	}
	if err != nil {
		p, _ := s.Answers.Answerable(r.Context(), err).(*wire.Problem)
		web.WriteProblem(w, p)
	}
}

// tellEvents writes events until the line, or the room's life, ends. An error comes before anything was written.
func (s *Server) tellEvents(w http.ResponseWriter, r *http.Request, id, key string, who room.Who) error {
	waits := make(chan struct{}, 1)
	listener := room.NewListener(who, func() {
		select {
		case waits <- struct{}{}:
		default:
		}
	})
	listener.Key = string(store.Hash(key))
	enter, cancel := context.WithTimeout(r.Context(), helloPatience)
	defer cancel()
	at := readEventID(r.Header.Get("Last-Event-ID"))
	if err := s.Rooms.Enter(enter, id, listener, wire.Hello{Type: "hello", Key: key, Gate: at.gate, Told: at.told}); err != nil {
		return err
	}
	defer s.Rooms.Leave(id, listener)
	if who.Seat == 0 {
		if err := s.Store.UsedSpectatorKey(r.Context(), id, key, store.Now()); err != nil {
			s.named(r.Context()).Warn("noting that a spectator came", "error", err)
		}
	}
	h := w.Header()
	h.Set("Content-Type", "text/event-stream")
	h.Set("Cache-Control", "no-store")
	h.Set("X-Accel-Buffering", "no") // proxies are to pass each on
	w.WriteHeader(http.StatusOK)
	line := http.NewResponseController(w)
	beat := time.NewTicker(pulse)
	defer beat.Stop()
	for {
		waiting, missed := listener.Take()
		_ = line.SetWriteDeadline(time.Now().Add(writePatience))
		for _, m := range waiting {
			if at.after(m.Text()) {
				if _, err := fmt.Fprintf(w, "id: %s\n", at); err != nil {
					return nil
				}
			}
			if _, err := fmt.Fprintf(w, "data: %s\n\n", m.Text()); err != nil {
				return nil
			}
		}
		if line.Flush() != nil {
			return nil
		}
		if missed && s.Rooms.Refresh(r.Context(), id, listener) != nil {
			return nil
		}
		select {
		case <-waits:
		case <-beat.C:
			_, _ = fmt.Fprint(w, ": still here\n\n")
		case <-listener.Gone():
			return nil
		case <-r.Context().Done():
			return nil
		}
	}
}

// eventID is how far somebody was told, as the id of an event: who comes back sends it as Last-Event-ID, and is told
// what they missed.
type eventID struct {
	gate string
	told uint64
}

func (e eventID) String() string { return fmt.Sprint(e.gate, ".", e.told) }

// readEventID reads an id that String wrote; what is none begins anew.
func readEventID(text string) eventID {
	gate, told, _ := strings.Cut(text, ".")
	n, err := strconv.ParseUint(told, 10, 64)
	if err != nil || len(gate) > 64 {
		return eventID{}
	}
	return eventID{gate, n}
}

// after notes what a message tells, and reports whether that changed how far somebody was told.
func (e *eventID) after(message []byte) bool {
	switch {
	case bytes.HasPrefix(message, []byte(`{"type":"changes"`)):
		e.told++
		return e.gate != ""
	case bytes.HasPrefix(message, []byte(`{"type":"view"`)), bytes.HasPrefix(message, []byte(`{"type":"resumed"`)):
		var begins wire.Resumed
		if json.Unmarshal(message, &begins) != nil {
			return false
		}
		e.gate, e.told = begins.Gate, begins.Told
		return true
	}
	return false
}
