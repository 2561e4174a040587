// Package web is what every way into the service goes by, whatever it is about: problems and their words, who stands behind a
// proxy, pace and shares, and what the log tells of a request.
package web

import (
	"context"
	"log/slog"
	"net/http"
	"regexp"

	"github.com/go-chi/chi/v5/middleware"
)

// About is what lines of the log tell of a request, so that those that belong together are found.
type About struct{ Request, Room string }

type aboutKey struct{}

// AboutOf is what a request is about: its id, and the room in its path.
func AboutOf(r *http.Request) About {
	return About{middleware.GetReqID(r.Context()), RoomIn(r.URL.Path)}
}

// aboutRoom are the paths that are about one room: its page, and what of the API is.
var aboutRoom = regexp.MustCompile(`^/(?:api/rooms|room)/([^/]+)(?:/|$)`)

// RoomIn is the room that a path is about; empty if it is about none.
func RoomIn(path string) string {
	if named := aboutRoom.FindStringSubmatch(path); named != nil {
		return named[1]
	}
	return ""
}

// Noting has the lines of the log about a request tell of it.
func Noting(ctx context.Context, of About) context.Context {
	return context.WithValue(ctx, aboutKey{}, of)
}

// Named is the log with what a request is about.
func Named(ctx context.Context, log *slog.Logger) *slog.Logger {
	of, _ := ctx.Value(aboutKey{}).(About)
	if of.Request != "" {
		log = log.With("id", of.Request)
	}
	if of.Room != "" {
		log = log.With("room", of.Room)
	}
	return log
}
