package api

import (
	"cmp"
	"context"
	"crypto/subtle"
	"fmt"
	"net/http"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/service/web"
	"damselfly.example/damselfly/internal/wire"
)

// Who may call a route.
const (
	anyone = "anyone"
	maker  = "maker"
	seat   = "seat"   // of the room in the path
	keeper = "keeper" // who may read the service's data folder
)

// caller is who calls, as the key they sent says.
type caller struct {
	maker store.Maker
	seat  store.SeatKey
}

type callerKey struct{}

// callerOf is the caller of a route that is not for anyone.
func callerOf(ctx context.Context) caller {
	c, _ := ctx.Value(callerKey{}).(caller)
	return c
}

// route registers an operation with who may call it.
func route[I, O any](a *API, h huma.API, who string, op huma.Operation, handle func(context.Context, *I) (*O, error)) {
	first, _ := op.Metadata["first"].(func(huma.Context) error)
	op.Metadata = map[string]any{"who": who}
	if who != anyone {
		op.Security = []map[string][]string{{who: {}}}
		op.Middlewares = append(op.Middlewares, a.admit(h, who))
		op.Errors = append(op.Errors, http.StatusUnauthorized)
	}
	if who == anyone {
		op.Security = []map[string][]string{{}, {maker: {}}} // a maker is known here, too
		op.Middlewares = append(op.Middlewares, a.recognise)
	}
	if op.MaxBodyBytes == 0 {
		op.MaxBodyBytes = maxBody
	}
	for _, always := range []int{http.StatusTooManyRequests, http.StatusServiceUnavailable} { // of whoever asks for too much, and while the database is gone
		if !slices.Contains(op.Errors, always) {
			op.Errors = append(op.Errors, always)
		}
	}
	op.Middlewares = append(op.Middlewares, knownParameters(h, parametersOf(reflect.TypeFor[I]())), a.beforeBody(h, op.MaxBodyBytes, first))
	huma.Register(h, op, func(ctx context.Context, in *I) (*O, error) {
		out, err := handle(ctx, in)
		if err != nil {
			return nil, a.answers.Answerable(ctx, err)
		}
		return out, nil
	})
}

// parametersOf are the names that a route takes in its query.
func parametersOf(in reflect.Type) (names []string) {
	if in.Kind() != reflect.Struct {
		return nil
	}
	for i := range in.NumField() {
		f := in.Field(i)
		if f.Anonymous {
			names = append(names, parametersOf(f.Type)...)
		}
		if name, _, _ := strings.Cut(f.Tag.Get("query"), ","); name != "" {
			names = append(names, name)
		}
	}
	return names
}

// knownParameters refuses a query with names that a route does not take: what is misspelt would be left out in silence.
func knownParameters(h huma.API, known []string) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		asked := ctx.URL()
		for name := range asked.Query() {
			if slices.Contains(known, name) {
				continue
			}
			meant := table.DidYouMean(name, known)
			if meant == "" && len(known) > 0 {
				meant = "; there is " + strings.Join(known, ", ") + "."
			}
			p := wire.NotValid.With(wire.Problem{Detail: fmt.Sprintf("%q is not known here%s", name, cmp.Or(meant, "."))})
			ctx.SetHeader("Content-Type", p.ContentType(""))
			ctx.SetStatus(p.Status)
			_ = h.Marshal(ctx.BodyWriter(), "application/json", p)
			return
		}
		next(ctx)
	}
}

// first has a check be made of a request before its body is read, of an operation that takes a large one.
func first(check func(huma.Context) error) map[string]any { return map[string]any{"first": check} }

// beforeBody refuses what is too large, and what its caller may not send, before the body is read.
func (a *API) beforeBody(h huma.API, most int64, first func(huma.Context) error) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		var err error
		if lengthOf(ctx) > most {
			err = wire.TooLarge.With(wire.Problem{Detail: fmt.Sprintf("What was sent is too large: %d KiB are taken here.", most>>10)})
		} else if first != nil {
			err = first(ctx)
		}
		if err != nil {
			p, _ := a.answers.Answerable(ctx.Context(), err).(*wire.Problem)
			ctx.SetHeader("Content-Type", p.ContentType(""))
			ctx.SetHeader("Connection", "close") // the body is not read
			ctx.SetStatus(p.Status)
			_ = h.Marshal(ctx.BodyWriter(), "application/json", p)
			return
		}
		next(ctx)
	}
}

// lengthOf is how long a request says that its body is, 0 if it does not say.
func lengthOf(ctx huma.Context) int64 {
	n, err := strconv.ParseInt(ctx.Header("Content-Length"), 10, 64)
	if err != nil {
		return 0
	}
	return n
}

// bytesFirst refuses files of a maker who has as much as they may.
func (a *API) bytesFirst(ctx huma.Context) error {
	return a.someBytesMore(ctx.Context(), callerOf(ctx.Context()).maker.ID, int(lengthOf(ctx)))
}

// admit lets in who has the right key.
func (a *API) admit(h huma.API, who string) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		key := web.Bearer(ctx.Header("Authorization"))
		c, err := a.identify(ctx.Context(), who, key, ctx.Param("room"))
		if err != nil {
			p, _ := a.answers.Answerable(ctx.Context(), err).(*wire.Problem)
			ctx.SetHeader("Content-Type", p.ContentType(""))
			ctx.SetStatus(p.Status)
			_ = h.Marshal(ctx.BodyWriter(), "application/json", p)
			return
		}
		next(huma.WithValue(ctx, callerKey{}, c))
	}
}

// recognise knows a maker also where anyone is let in.
func (a *API) recognise(ctx huma.Context, next func(huma.Context)) {
	key := web.Bearer(ctx.Header("Authorization"))
	if found, err := a.makers.of(ctx.Context(), key); err == nil {
		ctx = huma.WithValue(ctx, callerKey{}, caller{maker: found})
	}
	next(ctx)
}

// identify finds out who has a key, and refuses who may not call.
func (a *API) identify(ctx context.Context, who, key, in string) (caller, error) {
	switch who {
	case maker:
		found, err := a.makers.of(ctx, key)
		if err == store.ErrNotFound {
			return caller{}, wire.NeedsMakerKey.With(wire.Problem{Detail: "This is for makers. Open the link that you were sent as a maker; if it does not work any more, ask who keeps this service for another one. Programs send the key in the header Authorization: Bearer KEY."})
		}
		return caller{maker: found}, err
	case keeper:
		if a.KeeperKey == "" || subtle.ConstantTimeCompare([]byte(key), []byte(a.KeeperKey)) != 1 {
			return caller{}, wire.NeedsKeeperKey.With(wire.Problem{Detail: "This is for who keeps the service: its key stands in the file keeper.key of the data folder, another one after each start. It is sent in the header Authorization: Bearer KEY."})
		}
		return caller{}, nil
	case seat:
		k, err := web.SeatOf(ctx, a.Store, key, in)
		return caller{seat: k}, err
	}
	return caller{}, nil
}
