package api

import (
	"context"
	"fmt"
	"net/http"
	"time"

	"github.com/go-chi/chi/v5"

	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// events tells what happens at a room as server-sent events, for what cannot hold a socket: the very messages of a
// socket, one an event. The key comes in the header, or as ?key= where a header cannot be set.
func (a *API) events(w http.ResponseWriter, r *http.Request) {
	if !a.ownOrigin(r) {
		writeProblem(w, &wire.Problem{Status: 403, Code: "other-origin", Title: "A page of another address",
			Detail: "These events are for pages of " + r.Host + ". Its maker allows others for this room, or the keeper for all with --allow-origin."})
		return
	}
	key := bearer(r.Header.Get("Authorization"))
	if key == "" {
		key = r.URL.Query().Get("key")
	}
	id := chi.URLParam(r, "room")
	wait := helloPatience
	if !a.Rooms.Saving() {
		wait = gonePatience
	}
	ask, cancel := context.WithTimeout(r.Context(), wait)
	who, err := a.identify(ask, seat, key, id)
	cancel()
	if err == nil {
		err = a.tellEvents(w, r, id, key, at(who.seat))
	}
	if err != nil {
		p, _ := a.answerable(r.Context(), err).(*wire.Problem)
		writeProblem(w, p)
	}
}

// tellEvents writes events until the line, or the room's life, ends. An error comes before anything was written.
func (a *API) tellEvents(w http.ResponseWriter, r *http.Request, id, key string, who room.Who) error {
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
	if err := a.Rooms.Enter(enter, id, listener, wire.Hello{Type: "hello", Key: key}); err != nil {
		return err
	}
	defer a.Rooms.Leave(id, listener)
	if who.Seat == 0 {
		if err := a.Store.UsedSpectatorKey(r.Context(), id, key, store.Now()); err != nil {
			a.named(r.Context()).Warn("noting that a spectator came", "error", err)
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
			if _, err := fmt.Fprintf(w, "data: %s\n\n", m.Text()); err != nil {
				return nil
			}
		}
		if line.Flush() != nil {
			return nil
		}
		if missed && a.Rooms.Refresh(r.Context(), id, listener) != nil {
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
