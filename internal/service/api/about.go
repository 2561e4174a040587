package api

import (
	"context"
	"log/slog"
	"net/http"
	"regexp"

	"github.com/go-chi/chi/v5/middleware"
)

// about is what lines of the log tell of a request, so that those that belong together are found.
type about struct{ request, room string }

type aboutKey struct{}

// aboutOf is what a request is about: its id, and the room in its path.
func aboutOf(r *http.Request) about {
	return about{middleware.GetReqID(r.Context()), roomIn(r.URL.Path)}
}

// aboutRoom are the paths that are about one room: its page, and what of the API is.
var aboutRoom = regexp.MustCompile(`^/(?:api/rooms|room)/([^/]+)(?:/|$)`)

// roomIn is the room that a path is about; empty if it is about none.
func roomIn(path string) string {
	if named := aboutRoom.FindStringSubmatch(path); named != nil {
		return named[1]
	}
	return ""
}

// noting has the lines of the log about a request tell of it.
func noting(ctx context.Context, of about) context.Context {
	return context.WithValue(ctx, aboutKey{}, of)
}

// named is the log of a request.
func (a *API) named(ctx context.Context) *slog.Logger {
	of, _ := ctx.Value(aboutKey{}).(about)
	log := a.Log
	if of.request != "" {
		log = log.With("id", of.request)
	}
	if of.room != "" {
		log = log.With("room", of.room)
	}
	return log
}
