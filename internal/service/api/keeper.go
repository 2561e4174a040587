package api

import (
	"archive/zip"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"os"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5"

	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/service/web"
	"damselfly.example/damselfly/internal/wire"
)

func (a *API) keeperRoutes(h huma.API) {
	tags := []string{"keeper"}
	route(a, h, keeper, huma.Operation{
		OperationID: "show-status", Method: http.MethodGet, Path: "/api/keeper/status", Summary: "How the service is", Tags: tags,
	}, func(ctx context.Context, _ *struct{}) (*struct{ Body wire.Status }, error) {
		status, err := a.status(ctx)
		return &struct{ Body wire.Status }{status}, err
	})
	route(a, h, keeper, huma.Operation{
		OperationID: "list-unused-rooms", Method: http.MethodGet, Path: "/api/keeper/unused", Summary: "Rooms in which nothing was done for some days", Tags: tags,
		Description: "Those that serve --keep-rooms removes, the newest first.",
	}, func(ctx context.Context, in *struct {
		Days int `query:"days" minimum:"1" maximum:"10000" required:"true"`
	}) (*struct{ Body wire.UnusedRooms }, error) {
		rooms, err := a.Store.Unused(ctx, in.Days, store.Now())
		return &struct{ Body wire.UnusedRooms }{unusedRooms(rooms)}, err
	})
}

func unusedRooms(rows []store.RoomRow) wire.UnusedRooms {
	out := wire.UnusedRooms{Rooms: []wire.UnusedRoom{}}
	for _, r := range rows {
		out.Rooms = append(out.Rooms, wire.UnusedRoom{ID: r.ID, Name: r.Name, Kit: r.KitName, Maker: r.Maker, LastAt: r.LastAt})
	}
	return out
}

// keeperFiles are the routes of files that no description fits: they may be larger than any memory.
func (a *API) keeperFiles(router chi.Router) {
	router.Get("/api/keeper/backup", a.asKeeper(a.backup))
	router.Post("/api/keeper/restore", a.asKeeper(a.restore))
}

func (a *API) asKeeper(do http.HandlerFunc) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		if _, err := a.identify(r.Context(), keeper, web.Bearer(r.Header.Get("Authorization")), ""); err != nil {
			p, _ := a.answers.Answerable(r.Context(), err).(*wire.Problem)
			w.Header().Set("WWW-Authenticate", `Bearer realm="Damselfly"`)
			web.WriteProblem(w, p)
			return
		}
		do(w, r)
	}
}

// backup gives all records as they are at one moment, while they are in use.
func (a *API) backup(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("Content-Type", "application/zip")
	w.Header().Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", time.Now().UTC().Format("damselfly-2006-01-02-1504.zip")))
	if err := a.Store.Backup(r.Context(), w, Version); err != nil {
		a.named(r.Context()).Error("a backup was not given whole", "error", err)
		panic(http.ErrAbortHandler) // so that nobody takes half of it for the whole
	}
}

// restore takes a backup in place of all records. Until then it lies in a file of its own.
func (a *API) restore(w http.ResponseWriter, r *http.Request) {
	err := a.restoreFrom(r)
	var why *store.RestoreError
	switch {
	case errors.As(err, &why):
		web.WriteProblem(w, wire.NotRestored.With(wire.Problem{Detail: "Nothing was changed: " + why.Text + "."}))
	case err != nil:
		p, _ := a.answers.Answerable(r.Context(), err).(*wire.Problem)
		web.WriteProblem(w, p)
	default:
		w.WriteHeader(http.StatusNoContent)
	}
}

func (a *API) restoreFrom(r *http.Request) error {
	file, err := os.CreateTemp("", "damselfly-restore-*.zip")
	if err != nil {
		return err
	}
	defer os.Remove(file.Name())
	defer file.Close()
	size, err := io.Copy(file, r.Body)
	if err != nil {
		return err
	}
	backup, err := zip.NewReader(file, size)
	if err != nil {
		return &store.RestoreError{Text: "the file is no zip, or was cut short (" + err.Error() + ")"}
	}
	if _, err := a.Store.ReadBackup(r.Context(), backup); err != nil {
		return err
	}
	if alone, err := a.Store.Alone(r.Context()); err != nil {
		return err
	} else if !alone {
		return &store.RestoreError{Text: "other services use these records; end them first, so that none goes on with what was before"}
	}
	defer a.makers.forget()
	a.named(r.Context()).Warn("restoring a backup")
	return a.Rooms.Aside(r.Context(), func() error { return a.Store.Restore(r.Context(), backup) })
}

// recent is what was counted some time ago, to say what happened since.
type recent struct {
	mutex sync.Mutex
	beats []beat // one in ten seconds, of the last minute
}

type beat struct {
	at   time.Time
	done room.Done
}

// beatEvery is how often is counted.
const beatEvery = 10 * time.Second

// Count counts until the end, for what happened in the last minute.
func (a *API) Count(ctx context.Context) {
	for {
		a.recent.mutex.Lock()
		a.recent.beats = append(a.recent.beats, a.beat())
		if len(a.recent.beats) > 7 {
			a.recent.beats = a.recent.beats[1:]
		}
		a.recent.mutex.Unlock()
		a.answers.Gone.Look(a.Log, a.Rooms.Saving())
		select {
		case <-ctx.Done():
			return
		case <-time.After(beatEvery):
		}
	}
}

// beat is what is counted now.
func (a *API) beat() beat { return beat{time.Now(), a.Rooms.Done()} }

func (a *API) status(ctx context.Context) (wire.Status, error) {
	s := wire.Status{Version: Version, Since: a.since.UnixMilli(), Saving: a.Rooms.Saving(), RoomsLive: a.Rooms.Live(), People: a.people.Connected()}
	var err error
	if s.Database, s.Schema, err = a.Store.Versions(ctx); err != nil {
		return s, err
	}
	sizes, err := a.Store.Sizes(ctx)
	if err != nil {
		return s, err
	}
	s.Makers, s.Kits, s.Rooms, s.Entries, s.JournalBytes, s.ArtBytes = sizes.Makers, sizes.Kits, sizes.Rooms, sizes.Entries, sizes.Journal, sizes.Pictures
	now := a.beat()
	a.recent.mutex.Lock()
	if len(a.recent.beats) > 0 {
		was := a.recent.beats[0]
		if span := now.at.Sub(was.at).Seconds(); span > 0 {
			s.ActionsASecond = float64(now.done.Actions-was.done.Actions) / span
		}
		if n := now.done.Commits - was.done.Commits; n > 0 {
			s.CommitMillis = (now.done.Committing - was.done.Committing).Seconds() / float64(n) * 1000
		}
	}
	a.recent.mutex.Unlock()
	if a.DiskFree != nil {
		if free, err := a.DiskFree(); err == nil {
			s.DiskFree, s.DiskShort = &free, free < DiskShort
		}
	}
	return s, nil
}

// DiskShort is how many bytes left are little.
const DiskShort = 2 << 30
