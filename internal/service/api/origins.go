package api

import (
	"context"
	"damselfly.example/damselfly/internal/service/socket"
	"damselfly.example/damselfly/internal/service/web"
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strings"

	"github.com/go-chi/cors"

	"damselfly.example/damselfly/internal/wire"
)

// Pages of other addresses may ask about all rooms where the service's keeper says so (Options.Origins), and about one
// where its maker does.

// OriginOf is the address of pages as browsers say it, such as https://game.example, or * for all; whether it is one.
func OriginOf(text string) (origin string, is bool) {
	origin = strings.ToLower(strings.TrimSuffix(strings.TrimSpace(text), "/"))
	return origin, origin == "*" || anOrigin.MatchString(origin)
}

// anOrigin is narrower than an address may be: what a maker names stands in a header.
var anOrigin = regexp.MustCompile(`^https?://([a-z0-9_-]+(\.[a-z0-9_-]+)*|\[[0-9a-f:.]+\])(:[0-9]{1,5})?$`)

// originsOf are the addresses that a maker names for a room, as they are kept.
func originsOf(named []string) (string, error) {
	var all []string
	for _, text := range named {
		origin, is := OriginOf(text)
		if !is {
			return "", wire.NoOrigin.With(wire.Problem{Detail: fmt.Sprintf("%q is not the address of pages: that is such as https://game.example, without what comes after it, or * for all.", text)})
		}
		if !slices.Contains(all, origin) {
			all = append(all, origin)
		}
	}
	return strings.Join(all, " "), nil
}

// otherOrigins lets pages of chosen other addresses ask, with keys that they have, never with what the browser adds.
func (a *API) otherOrigins() func(http.Handler) http.Handler {
	return cors.Handler(cors.Options{
		AllowOriginFunc: a.allows,
		AllowedMethods:  []string{http.MethodGet, http.MethodPost, http.MethodPut, http.MethodPatch, http.MethodDelete},
		AllowedHeaders:  []string{"Authorization", "Content-Type", "If-None-Match"},
		ExposedHeaders:  []string{"ETag", "Retry-After", "X-Request-Id", "WWW-Authenticate"},
		MaxAge:          600,
	})
}

// allows lets in our own pages: those of the host that was asked, or of the public address; and those of other addresses
// that may ask about all, or about the room in the path.
func (a *API) allows(r *http.Request, origin string) bool {
	if u, err := url.Parse(origin); err == nil && u.Host != "" {
		public, _ := url.Parse(a.Public)
		if u.Host == r.Host || public != nil && u.Host == public.Host {
			return true
		}
	}
	fits := func(allowed []string) bool { return slices.Contains(allowed, "*") || slices.Contains(allowed, origin) }
	return fits(a.Origins) || fits(a.originsAt(r.Context(), r.URL.Path))
}

// originsAt are the addresses whose pages may ask about the room in a path, as its maker says.
func (a *API) originsAt(ctx context.Context, path string) []string {
	room := web.RoomIn(path)
	if room == "" || a.Store == nil {
		return nil
	}
	ctx, cancel := context.WithTimeout(ctx, socket.GonePatience) // nothing waits for a database that stands still
	defer cancel()
	origins, err := a.Store.Origins(ctx, room)
	if err != nil {
		return nil // there is no such room, or nobody can say: then nobody is let in
	}
	return origins
}

// ownOrigin lets in programs, which send no origin, and pages that are allowed.
func (a *API) ownOrigin(r *http.Request) bool {
	origin := r.Header.Get("Origin")
	return origin == "" || a.allows(r, origin)
}

// mayFrame are the addresses whose pages may show a page of ours in a frame, as a header says it.
func (a *API) mayFrame(r *http.Request) string {
	all := a.Origins
	if strings.HasPrefix(r.URL.Path, "/room/") { // what else is asked for is shown in no frame
		all = slices.Concat(all, a.originsAt(r.Context(), r.URL.Path))
	}
	if len(all) == 0 {
		return "'none'"
	}
	return strings.Join(all, " ")
}
