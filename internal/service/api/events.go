package api

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5"

	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// eventsOperation describes the events, which are no answer that ends.
var eventsOperation = &huma.Operation{
	OperationID: "events", Method: http.MethodGet, Path: "/api/rooms/{room}/events", Summary: "What happens at a room, as server-sent events", Tags: []string{"tables"},
	Description: "The messages of the socket, one an event, for what cannot hold a socket. The key may come as ?key= where a header cannot be set. " +
		"Who comes back with Last-Event-ID is told what they missed.",
	Security: []map[string][]string{{seat: {}}},
	Parameters: []*huma.Param{
		{Name: "room", In: "path", Required: true, Schema: &huma.Schema{Type: huma.TypeString}},
		{Name: "key", In: "query", Schema: &huma.Schema{Type: huma.TypeString}, Description: "The seat key, where the header cannot be set."},
		{Name: "Last-Event-ID", In: "header", Schema: &huma.Schema{Type: huma.TypeString}, Description: "The id of the last event that you heard."},
	},
	Responses: map[string]*huma.Response{
		"200": {Description: "Events, until the line ends.", Content: map[string]*huma.MediaType{"text/event-stream": {Schema: &huma.Schema{Type: huma.TypeString}}}},
		"401": {Description: "Needs a seat key"}, "403": {Description: "A page of another address"}, "429": {Description: "Too many"}, "503": {Description: "The database is gone"},
	},
}

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
	at := readEventID(r.Header.Get("Last-Event-ID"))
	if err := a.Rooms.Enter(enter, id, listener, wire.Hello{Type: "hello", Key: key, Gate: at.gate, Told: at.told}); err != nil {
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
