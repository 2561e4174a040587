package api

import (
	"context"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// Who may call a route.
const (
	anyone = "anyone"
	maker  = "maker"
	seat   = "seat" // of the room in the path
)

// caller is who calls, as the key they sent says.
type caller struct {
	makerKey string
	seat     store.SeatKey
}

type callerKey struct{}

// callerOf is the caller of a route that is not for anyone.
func callerOf(ctx context.Context) caller {
	c, _ := ctx.Value(callerKey{}).(caller)
	return c
}

// route registers an operation with who may call it.
func route[I, O any](a *API, h huma.API, who string, op huma.Operation, handle func(context.Context, *I) (*O, error)) {
	op.Metadata = map[string]any{"who": who}
	if who != anyone {
		op.Security = []map[string][]string{{who: {}}}
		op.Middlewares = append(op.Middlewares, a.admit(h, who))
		op.Errors = append(op.Errors, http.StatusUnauthorized)
	}
	if op.MaxBodyBytes == 0 {
		op.MaxBodyBytes = maxBody
	}
	huma.Register(h, op, func(ctx context.Context, in *I) (*O, error) {
		out, err := handle(ctx, in)
		if err != nil {
			return nil, a.answerable(err)
		}
		return out, nil
	})
}

// admit lets in who has the right key.
func (a *API) admit(h huma.API, who string) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		key := strings.TrimPrefix(ctx.Header("Authorization"), "Bearer ")
		c, err := a.identify(ctx.Context(), who, key, ctx.Param("room"))
		if err != nil {
			p, _ := a.answerable(err).(*wire.Problem)
			ctx.SetHeader("Content-Type", p.ContentType(""))
			ctx.SetStatus(p.Status)
			_ = h.Marshal(ctx.BodyWriter(), "application/json", p)
			return
		}
		next(huma.WithValue(ctx, callerKey{}, c))
	}
}

// at is where a key lets its holder sit.
func at(k store.SeatKey) room.Who { return room.Who{Seat: k.Seat, Tenure: k.Tenure} }

// identify finds out who has a key, and refuses who may not call.
func (a *API) identify(ctx context.Context, who, key, in string) (caller, error) {
	switch who {
	case maker:
		is, err := a.makers.is(ctx, key)
		if err != nil {
			return caller{}, err
		}
		if !is {
			return caller{}, &wire.Problem{Status: 401, Code: "needs-maker-key", Title: "Needs a maker key",
				Detail: "This needs a maker key in the header Authorization: Bearer KEY. The first one stands in the file maker.key of the service's data folder."}
		}
		return caller{makerKey: key}, nil
	case seat:
		k, err := a.Store.SeatKey(ctx, key)
		if err == store.ErrNotFound || err == nil && k.Room != in {
			return caller{}, &wire.Problem{Status: 401, Code: "needs-seat-key", Title: "Needs a seat key",
				Detail: "This needs the key of a seat in this room, in the header Authorization: Bearer KEY. Joining the room gives one."}
		}
		return caller{seat: k}, err
	}
	return caller{}, nil
}

// makerCache spares the database a question for each request.
type makerCache struct {
	store *store.Store
	mu    sync.Mutex
	until map[string]time.Time
}

const makerCacheSpan = 10 * time.Second

func (m *makerCache) is(ctx context.Context, key string) (bool, error) {
	if key == "" {
		return false, nil
	}
	m.mu.Lock()
	known := time.Now().Before(m.until[key])
	m.mu.Unlock()
	if known {
		return true, nil
	}
	is, err := m.store.IsMaker(ctx, key)
	if is {
		m.mu.Lock()
		defer m.mu.Unlock()
		if len(m.until) > 1000 || m.until == nil {
			m.until = map[string]time.Time{}
		}
		m.until[key] = time.Now().Add(makerCacheSpan)
	}
	return is, err
}
