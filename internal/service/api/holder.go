package api

import (
	"context"
	"damselfly.example/damselfly/internal/service/socket"
	"damselfly.example/damselfly/internal/service/web"
	"net"
	"net/http"
	"net/http/httputil"
	"net/url"
	"strings"
	"sync"
	"time"

	"github.com/go-chi/chi/v5/middleware"

	"damselfly.example/damselfly/internal/wire"
)

// passedBy is the header with which a service names itself to the one that it passes a request on to.
const passedBy = "Damselfly-Service"

// reachWithin is how long the service that holds a room may take to be reached.
const reachWithin = time.Second

// toHolder passes requests and sockets of a room on to the service that holds it, where several share the
// records. One that was passed on already is not passed on again.
func (a *API) toHolder(next http.Handler) http.Handler {
	if a.Store == nil || !a.Store.Shares() {
		return next
	}
	line := &http.Transport{DialContext: (&net.Dialer{Timeout: reachWithin}).DialContext, MaxIdleConnsPerHost: 64, IdleConnTimeout: time.Minute}
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		room := web.RoomIn(r.URL.Path)
		if room == "" || !strings.HasPrefix(r.URL.Path, "/api/") || a.Rooms.Holds(room) { // every service has the pages
			next.ServeHTTP(w, r)
			return
		}
		ask, cancel := context.WithTimeout(r.Context(), socket.GonePatience)
		at, lives, err := a.Store.HeldAt(ask, room)
		cancel()
		if err != nil || at == "" { // whoever is asked first holds it
			next.ServeHTTP(w, r)
			return
		}
		if r.Header.Get(passedBy) != "" {
			comesAnew(w)
			return
		}
		to, err := url.Parse(at)
		if err != nil {
			comesAnew(w)
			return
		}
		ctx, end := context.WithCancel(r.Context()) // what waits for who stands still ends when its lease does
		defer end()
		defer context.AfterFunc(lives, end)()
		a.passTo(to, line).ServeHTTP(w, r.WithContext(ctx))
	})
}

// passTo passes requests on to another service, which takes from it for whom they are.
func (a *API) passTo(to *url.URL, line http.RoundTripper) http.Handler {
	return &httputil.ReverseProxy{
		Transport:     line,
		FlushInterval: -1, // events are told as they come
		Rewrite: func(p *httputil.ProxyRequest) {
			p.SetURL(to)
			p.Out.Host = p.In.Host
			person := p.In.RemoteAddr
			if host, _, err := net.SplitHostPort(person); err == nil {
				person = host
			}
			h := p.Out.Header
			h.Del("Forwarded")
			h.Set("X-Forwarded-For", person)
			h.Set("X-Forwarded-Host", p.In.Host)
			h.Set("X-Forwarded-Proto", web.SchemeOf(p.In))
			h.Set("X-Request-Id", middleware.GetReqID(p.In.Context()))
			h.Set(passedBy, a.Store.Service())
		},
		ModifyResponse: func(answer *http.Response) error {
			answer.Header.Del("X-Request-Id") // it stands there already
			return nil
		},
		ErrorHandler: func(w http.ResponseWriter, r *http.Request, err error) {
			a.named(r.Context()).Debug("passing a request on", "path", r.URL.Path, "to", to.Host, "error", err)
			comesAnew(w)
		},
	}
}

// comesAnew answers while a room goes from one service to another.
func comesAnew(w http.ResponseWriter) {
	w.Header().Set("Retry-After", "1")
	web.WriteProblem(w, wire.RoomIsBusy.With(wire.Problem{Detail: "The room is going from one service to another. Try again in a moment."}))
}

// fellows remembers the services that share the records.
type fellows struct{ known sync.Map }

// isFellow reports whether a request was passed on by a service that shares the records. What others say is taken
// out of the request.
func (a *API) isFellow(r *http.Request) bool {
	id := r.Header.Get(passedBy)
	if id == "" || a.Store == nil || !a.Store.Shares() {
		r.Header.Del(passedBy)
		return false
	}
	if _, known := a.fellows.known.Load(id); known {
		return true
	}
	ask, cancel := context.WithTimeout(r.Context(), socket.GonePatience)
	defer cancel()
	is, err := a.Store.IsService(ask, id)
	if err != nil || !is {
		r.Header.Del(passedBy)
		return false
	}
	a.fellows.known.Store(id, true)
	return true
}
