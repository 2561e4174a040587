// Package api is how the world talks to the service: REST under /api with its
// description, the socket of a room, pictures, and the console.
package api

import (
	"cmp"
	"context"
	"encoding/hex"
	"io/fs"
	"log/slog"
	"net/http"
	"net/http/pprof"
	"path"
	"reflect"
	"regexp"
	"runtime/debug"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"
	"golang.org/x/sync/semaphore"
	"golang.org/x/time/rate"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/socket"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/service/web"
	"damselfly.example/damselfly/internal/wire"
)

// Version is the service's, as said by the API description and the program.
const Version = "0.1.0"

// Options are what an API speaks for.
type Options struct {
	Store   *store.Store
	Rooms   *room.Rooms
	Log     *slog.Logger
	Console fs.FS // the built console

	KeeperKey string                // opens what is for the keeper; empty: nothing does
	Proxies   web.Trusted           // who may say for whom they ask
	DiskFree  func() (int64, error) // bytes left where the own database lies; nil where that is not known
	Origins   []string              // of pages of others that may ask and hold sockets and frames; "*": all
	Limits    Limits                // of makers and people
	Public    string                // the address under which people reach the service, such as https://table.example; empty: the one they ask
	Path      string                // under which the service stands there, such as /table; empty: all of the address is its own
}

// API answers requests. Make it with New.
type API struct {
	Options
	http.Handler // everything the service serves, but for the metrics

	passcodes *web.Attempts
	comparing chan struct{} // passcodes at once
	decoded   *semaphore.Weighted
	ownTurns  web.Turns   // of who has pictures decoded, one at a time each
	prints    web.Turns   // one at a time, of all
	given     *web.Shares // files that are being taken away
	printing  *web.Shares // prints that are made or wait
	bodies    *web.Bodies
	answers   *web.Answers
	people    *socket.Server // who are at rooms

	fellows fellows

	fonts *deck.Fonts // that ship with the console

	joins    *web.Paces
	makers   *makerCache
	counted  http.Handler
	recent   recent
	since    time.Time
	requests *prometheus.CounterVec
	took     prometheus.Histogram
}

// Limits of requests.
const (
	maxBody         = web.SmallBody // bytes of a JSON request that says no other
	stepsBody       = 128 << 10     // of one that holds Steps
	requestPatience = 15 * time.Second
)

// New makes the API of a service.
func New(o Options) *API {
	o.Limits = o.Limits.orDefault()
	a := &API{
		Options: o, decoded: newDecoding(), given: &web.Shares{Most: givenAtOnce}, printing: &web.Shares{Most: 16},
		bodies: web.NewBodies(), answers: &web.Answers{Log: o.Log}, passcodes: &web.Attempts{Now: time.Now}, comparing: make(chan struct{}, passcodesAtOnce),
		joins: &web.Paces{Each: rate.Limit(o.Limits.Joins) / 60, AtOnce: joinsAtOnce}, makers: &makerCache{store: o.Store}, since: time.Now(),
	}
	if o.Console != nil {
		a.fonts = &deck.Fonts{Read: func(name string) ([]byte, error) { return fs.ReadFile(o.Console, path.Join("fonts", name)) }}
	}
	a.counted = a.metrics()
	a.Handler = underPath(o.Path, a.routes())
	return a
}

func (a *API) routes() http.Handler {
	router := chi.NewRouter()
	router.Use(a.rescue, a.behindProxy, middleware.RequestID, a.noted, a.toHolder, a.bodies.Watch, a.securityHeaders, a.otherOrigins(), a.address, middleware.GetHead)
	router.Get("/healthz", a.alive)
	router.Get("/readyz", a.ready)
	pictures := router.With(a.patience)
	pictures.Get("/pictures/{name}/{size}", a.pictureNamed)
	router.Get("/pictures/*", func(w http.ResponseWriter, _ *http.Request) { web.WriteProblem(w, noSuchPicture()) })
	router.Get("/api/rooms/{room}/live", a.people.Live)
	router.Get("/api/rooms/{room}/events", a.people.Events)
	a.keeperFiles(router)
	a.describe(router.With(a.patience, answers, middleware.Compress(5, "application/json", "application/problem+json")))
	router.NotFound(middleware.Compress(5)(http.HandlerFunc(a.console)).ServeHTTP)
	router.MethodNotAllowed(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Allow", strings.Join(methodsOf(router, r.URL.Path), ", "))
		web.WriteProblem(w, wire.MethodNotAllowed.With(wire.Problem{Detail: r.URL.Path + " does not take " + r.Method + "; see /api/docs."}))
	})
	return router
}

// methodsOf are the methods that a path takes.
func methodsOf(router chi.Routes, path string) (methods []string) {
	for _, method := range []string{http.MethodGet, http.MethodHead, http.MethodPost, http.MethodPut, http.MethodPatch, http.MethodDelete} {
		asked := method
		if method == http.MethodHead {
			asked = http.MethodGet
		}
		if router.Match(chi.NewRouteContext(), asked, path) {
			methods = append(methods, method)
		}
	}
	return methods
}

// NodeHeader is the header by which a service that shares its records says which of them it is, without its name.
const NodeHeader = "Damselfly-Node"

// NodeMark is what stands in it.
func NodeMark(service string) string { return hex.EncodeToString(store.Hash("node " + service))[:16] }

// Wait waits until all sockets have ended, which they do when the rooms close.
func (a *API) Wait(ctx context.Context) error { return a.people.Wait(ctx) }

// named is the log of a request.
func (a *API) named(ctx context.Context) *slog.Logger { return web.Named(ctx, a.Log) }

// behindProxy takes for whom is asked from what proxies and fellow services say.
func (a *API) behindProxy(next http.Handler) http.Handler { return a.Proxies.Behind(a.isFellow, next) }

func (a *API) alive(w http.ResponseWriter, _ *http.Request) {
	if a.Store.Shares() {
		w.Header().Set(NodeHeader, NodeMark(a.Store.Service()))
	}
	_, _ = w.Write([]byte("alive\n"))
}

// Metrics is what Prometheus reads. It stands on an address of its own, because it is the
// keeper's and nobody else's.
func (a *API) Metrics() http.Handler {
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", a.counted)
	for _, profile := range []string{"heap", "allocs", "goroutine", "block", "mutex"} {
		mux.Handle("GET /debug/pprof/"+profile, pprof.Handler(profile)) // not the command line, which may have a password
	}
	mux.HandleFunc("GET /debug/pprof/profile", pprof.Profile)
	return mux
}

// Description is the OpenAPI description, as JSON.
func Description() ([]byte, error) {
	return (&API{}).describe(chi.NewRouter()).OpenAPI().MarshalJSON()
}

// describe registers all REST routes.
func (a *API) describe(router chi.Router) huma.API {
	web.SpeakPlainly()
	config := huma.DefaultConfig("Damselfly", Version)
	config.Info.Description = "A rules-free shared card table. Keys go in the header Authorization: Bearer KEY. " +
		"Errors are problems as in RFC 9457 with a stable code. The socket is described in docs/asyncapi.yaml."
	config.Servers = []*huma.Server{{URL: a.Path + "/", Description: "The service that gives this description."}}
	config.OpenAPIPath, config.DocsPath, config.SchemasPath = "/api/openapi", "", ""
	config.Components.Schemas = huma.NewMapRegistry("#/components/schemas/", schemaName)
	config.CreateHooks = nil // no $schema fields in the answers
	config.Components.SecuritySchemes = map[string]*huma.SecurityScheme{
		"maker":  {Type: "http", Scheme: "bearer", Description: "A maker key. The first one stands in the file maker.key of the data folder; damselfly maker add gives others."},
		"keeper": {Type: "http", Scheme: "bearer", Description: "The keeper's key, which stands in the file keeper.key of the data folder, another one after each start."},
		"seat":   {Type: "http", Scheme: "bearer", Description: "A seat key, as joining a room gives it."},
	}
	h := humachi.New(router, config)
	h.OpenAPI().AddOperation(eventsOperation)
	a.makerRoutes(h)
	a.keeperRoutes(h)
	a.kitRoutes(h)
	a.roomRoutes(h)
	a.bookmarkRoutes(h)
	a.tableRoutes(h)
	a.questionRoutes(h)
	a.arrangeRoutes(h)
	for _, spoken := range []any{wire.Hello{}, wire.Act{}, wire.Grip{}, wire.Point{}} { // over the socket; for whoever generates types
		config.Components.Schemas.Schema(reflect.TypeOf(spoken), true, "")
	}
	describeMessages(config.Components.Schemas)
	// The socket takes the same actions as REST.
	config.Components.Schemas.Map()["Act"].Properties["action"] = &huma.Schema{Ref: "#/components/schemas/Action"}
	return h
}

// schemaName tells apart types that share a name: the grid of a sheet and the
// grid on a table, a deck as one sees it and a deck that was opened.
func schemaName(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	switch {
	case strings.Contains(t.PkgPath(), "core/sheet"):
		return "Sheet" + name
	}
	return name
}

// downloads are where files are taken away, as many as the caller's line allows a second.
var downloads = regexp.MustCompile(`^/api/(kits/[^/]+/(zip|rules|print)|bookmarks/[^/]+/file)$`)

// uploads are where kits are sent and made.
var uploads = regexp.MustCompile(`^/api/(kits|files|editions|bookmarks|kits/[^/]+/copy|rooms/[^/]+/keep-table)$`)

// patience bounds how long a request may wait for a room or the database, and that it
// waits little while the database is known to be gone. Files take as long as an upload may, and
// few are given at once, because each holds one in memory for whoever reads slowly.
func (a *API) patience(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		wait := requestPatience
		switch {
		case r.Method == http.MethodPost && uploads.MatchString(r.URL.Path):
			next.ServeHTTP(w, r)
			return
		case r.Method == http.MethodGet && downloads.MatchString(r.URL.Path):
			release, ok := a.given.Take(web.EachOf(r.RemoteAddr, r.Header.Get("Authorization"), givenToKey, givenToAddr))
			if !ok {
				web.WriteProblem(w, web.Busy(http.StatusServiceUnavailable, "Many files are being taken away, by you or by all"))
				return
			}
			defer release()
			wait = uploadTime
			line := http.NewResponseController(w)
			w = web.QuickEnough{ResponseWriter: w, Line: line}
			defer func() { _ = line.SetWriteDeadline(time.Time{}) }() // what is asked next over the same line has its own
		case !a.Rooms.Saving():
			wait = socket.GonePatience
		}
		ctx, cancel := context.WithTimeout(r.Context(), wait)
		defer cancel()
		next.ServeHTTP(w, r.WithContext(ctx))
	})
}

// rescue answers a request whose handler failed.
func (a *API) rescue(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		defer func() {
			cause := recover()
			if cause == http.ErrAbortHandler { // what was given is not whole, and the line is broken so that it shows
				panic(cause)
			}
			if cause != nil {
				a.named(web.Noting(r.Context(), web.AboutOf(r))).Error("a request failed", "path", r.URL.Path, "cause", cause, "stack", string(debug.Stack()))
				web.WriteProblem(w, wire.Internal.With(wire.Problem{Detail: "The service failed on this request; please report it."}))
			}
		}()
		next.ServeHTTP(w, r)
	})
}

// noted counts requests, and logs them for who wants to see each.
func (a *API) noted(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		began := time.Now()
		of := web.AboutOf(r)
		r = r.WithContext(web.Noting(r.Context(), of))
		seen := middleware.NewWrapResponseWriter(w, r.ProtoMajor)
		defer func() {
			status := cmp.Or(seen.Status(), http.StatusOK)
			a.requests.WithLabelValues(r.Method, strconv.Itoa(status)).Inc()
			long := strings.HasSuffix(r.URL.Path, "/live") || downloads.MatchString(r.URL.Path) || uploads.MatchString(r.URL.Path)
			if !long {
				a.took.Observe(time.Since(began).Seconds())
			}
			a.named(r.Context()).Debug("request", "method", r.Method, "path", r.URL.Path, "status", status, "bytes", seen.BytesWritten(), "took", time.Since(began), "from", r.RemoteAddr)
		}()
		w.Header().Set("X-Request-Id", of.Request)
		next.ServeHTTP(seen, r)
	})
}

// securityHeaders fit the console: everything comes from the service itself,
// but styles that its components set on elements.
func (a *API) securityHeaders(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "+
			"connect-src 'self'; frame-ancestors "+a.mayFrame(r)+"; base-uri 'self'; form-action 'self'")
		if strings.HasPrefix(r.URL.Path, "/client/") { // code that is everybody's, for pages of one's own
			h.Set("Access-Control-Allow-Origin", "*")
		}
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		next.ServeHTTP(w, r)
	})
}

// answers are for whoever asked, so nothing between keeps them; and where the service
// cannot do now what it can do in a moment, they say when to come back.
func answers(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Cache-Control", "no-store")
		next.ServeHTTP(comingBack{w}, r)
	})
}

type comingBack struct{ http.ResponseWriter }

func (w comingBack) WriteHeader(status int) {
	said := w.Header().Get("Retry-After") != ""
	if !said && (status == http.StatusServiceUnavailable || status == http.StatusTooManyRequests) {
		w.Header().Set("Retry-After", "2")
	}
	if status == http.StatusUnauthorized {
		w.Header().Set("WWW-Authenticate", `Bearer realm="Damselfly"`)
	}
	w.ResponseWriter.WriteHeader(status)
}

// Unwrap lets the library reach the connection's deadlines.
func (w comingBack) Unwrap() http.ResponseWriter { return w.ResponseWriter }

func (a *API) ready(w http.ResponseWriter, r *http.Request) {
	ctx, cancel := context.WithTimeout(r.Context(), 2*time.Second)
	defer cancel()
	if err := a.Store.Ping(ctx); err != nil || !a.Rooms.Saving() {
		http.Error(w, "the database does not answer", http.StatusServiceUnavailable)
		return
	}
	_, _ = w.Write([]byte("ready\n"))
}

// metrics are those of the service and of the Go runtime.
func (a *API) metrics() http.Handler {
	registry := prometheus.NewRegistry()
	registry.MustRegister(collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}))
	registry.MustRegister(a.Rooms.Collectors()...)
	a.requests = prometheus.NewCounterVec(prometheus.CounterOpts{Name: "damselfly_requests_total", Help: "Requests, by method and status."}, []string{"method", "status"})
	a.took = prometheus.NewHistogram(prometheus.HistogramOpts{Name: "damselfly_request_seconds", Help: "How long requests took, but for sockets and files.", Buckets: prometheus.ExponentialBuckets(0.001, 2, 14)})
	registry.MustRegister(a.requests, a.took, prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: "damselfly_disk_free_bytes", Help: "Bytes left where the own database lies; -1 where that is not known."},
		func() float64 {
			if a.DiskFree == nil {
				return -1
			}
			free, err := a.DiskFree()
			if err != nil {
				return -1
			}
			return float64(free)
		}))
	people := prometheus.NewGaugeVec(prometheus.GaugeOpts{Name: "damselfly_people", Help: "Connected people."}, []string{"as"})
	registry.MustRegister(people,
		prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: "damselfly_rooms_live", Help: "Loaded rooms."},
			func() float64 { return float64(a.Rooms.Live()) }),
		prometheus.NewCounterFunc(prometheus.CounterOpts{Name: "damselfly_room_failures_total", Help: "Panics inside rooms."},
			func() float64 { return float64(a.Rooms.Failures.Load()) }),
		prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: "damselfly_saving", Help: "1 while journals are kept, 0 while the database is gone."},
			func() float64 {
				if a.Rooms.Saving() {
					return 1
				}
				return 0
			}))
	a.people = socket.New(socket.Options{Store: a.Store, Rooms: a.Rooms, Answers: a.answers, OwnOrigin: a.ownOrigin, Acts: a.Limits.Acts, People: people})
	return promhttp.HandlerFor(registry, promhttp.HandlerOpts{})
}

// describeMessages adds what is said over the socket, for whoever generates types: each
// kind of message by its type, and all of them as Message.
func describeMessages(schemas huma.Registry) {
	union := &huma.Schema{Discriminator: &huma.Discriminator{PropertyName: "type", Mapping: map[string]string{}}}
	for _, m := range wire.Messages {
		ref := schemas.Schema(reflect.TypeOf(m), true, "")
		schema := schemas.SchemaFromRef(ref.Ref)
		schema.Properties["type"] = &huma.Schema{Type: "string", Enum: []any{wire.KindOf(m)}}
		schema.Required = append(schema.Required, "type")
		union.OneOf = append(union.OneOf, ref)
		union.Discriminator.Mapping[wire.KindOf(m)] = ref.Ref
	}
	schemas.Map()["Message"] = union
}
