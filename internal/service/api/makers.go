package api

import (
	"cmp"
	"context"
	"crypto/rand"
	"fmt"
	"net"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"github.com/danielgtaylor/huma/v2"

	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/service/web"
	"damselfly.example/damselfly/internal/wire"
)

type makerList struct {
	Body struct {
		Makers []wire.Maker `json:"makers"`
	}
}

type makerShown struct {
	Body wire.Maker
}

type makerIn struct {
	Body wire.MakerIn
}

// MakerNamed is the maker in a path. It is exported because only so the library finds
// it where it is embedded.
type MakerNamed struct {
	Maker string `path:"maker" doc:"A maker's id or name."`
}

func (a *API) makerRoutes(h huma.API) {
	tags := []string{"makers"}
	route(a, h, maker, huma.Operation{
		OperationID: "show-maker", Method: http.MethodGet, Path: "/api/maker", Summary: "Whose shelf your key opens", Tags: tags,
	}, func(ctx context.Context, _ *struct{}) (*makerShown, error) {
		return &makerShown{shownMaker(callerOf(ctx).maker)}, nil
	})
	route(a, h, keeper, huma.Operation{
		OperationID: "list-makers", Method: http.MethodGet, Path: "/api/makers", Summary: "List the makers", Tags: tags,
	}, func(ctx context.Context, _ *struct{}) (*makerList, error) {
		makers, err := a.Store.Makers(ctx)
		out := &makerList{}
		out.Body.Makers = []wire.Maker{}
		for _, m := range makers {
			out.Body.Makers = append(out.Body.Makers, shownMaker(m))
		}
		return out, err
	})
	route(a, h, keeper, huma.Operation{
		OperationID: "add-maker", Method: http.MethodPost, Path: "/api/makers", Summary: "Add a maker", Tags: tags,
		Description: "The answer has the link by which they come in, once.", DefaultStatus: http.StatusCreated, Errors: []int{409, 422},
	}, func(ctx context.Context, in *struct {
		Body struct {
			Name string `json:"name" maxLength:"80"`
		}
	}) (*makerIn, error) {
		name, err := goodMaker(in.Body.Name)
		if err != nil {
			return nil, err
		}
		key := rand.Text()
		m, err := a.Store.AddMaker(ctx, name, key, time.Now().UnixMilli())
		if err == store.ErrTaken {
			return nil, wire.MakerIsThere.With(wire.Problem{Detail: fmt.Sprintf("There is a maker %q already. Renew their key, or choose another name.", name)})
		}
		return a.comesIn(ctx, m, key, err)
	})
	route(a, h, keeper, huma.Operation{
		OperationID: "renew-maker", Method: http.MethodPost, Path: "/api/makers/{maker}/keys", Summary: "Give a maker another key", Tags: tags,
		Description:   "Their other keys end, unless beside is set. One who was ended is a maker again.",
		DefaultStatus: http.StatusCreated, Errors: []int{404},
	}, func(ctx context.Context, in *struct {
		MakerNamed
		Beside bool `query:"beside" doc:"Keep the other keys."`
	}) (*makerIn, error) {
		m, err := a.makerNamed(ctx, in.Maker)
		if err != nil {
			return nil, err
		}
		key := rand.Text()
		err = a.Store.RenewMaker(ctx, m.ID, key, in.Beside, time.Now().UnixMilli())
		a.makers.forget()
		return a.comesIn(ctx, m, key, err)
	})
	route(a, h, keeper, huma.Operation{
		OperationID: "end-maker", Method: http.MethodDelete, Path: "/api/makers/{maker}/keys", Summary: "End a maker's keys, or one of them", Tags: tags,
		Description: "Their kits and rooms stay.", DefaultStatus: http.StatusNoContent, Errors: []int{404},
	}, func(ctx context.Context, in *struct {
		MakerNamed
		Key string `query:"key" doc:"Which key, by the name that the list gives it; all if left out."`
	}) (*struct{}, error) {
		m, err := a.makerNamed(ctx, in.Maker)
		if err != nil {
			return nil, err
		}
		defer a.makers.forget()
		now := time.Now().UnixMilli()
		if in.Key == "" {
			return nil, a.Store.EndMaker(ctx, m.ID, now)
		}
		i := slices.IndexFunc(m.Keys, func(k store.MakerKey) bool { return strings.EqualFold(k.Label(), in.Key) })
		if i < 0 {
			return nil, wire.NoSuchKey.With(wire.Problem{Detail: fmt.Sprintf("%s has no key %s that opens anything.", m.Name, in.Key)})
		}
		return nil, a.Store.EndMakerKey(ctx, m.ID, m.Keys[i].Hash, now)
	})
}

// comesIn is a maker's new key and the link that brings it.
func (a *API) comesIn(ctx context.Context, m store.Maker, key string, err error) (*makerIn, error) {
	link := linkTo(ctx, "/#maker="+key)
	return &makerIn{wire.MakerIn{ID: m.ID, Name: m.Name, Key: key, Link: link}}, err
}

func shownMaker(m store.Maker) wire.Maker {
	shown := wire.Maker{ID: m.ID, Name: m.Name, At: m.At, Ended: m.EndedAt != nil}
	for _, k := range m.Keys {
		shown.Keys = append(shown.Keys, wire.MakerKey{Name: k.Label(), At: k.At, UsedAt: k.UsedAt})
	}
	return shown
}

// makerNamed finds a maker by id or name.
func (a *API) makerNamed(ctx context.Context, name string) (store.Maker, error) {
	makers, err := a.Store.Makers(ctx)
	if err != nil {
		return store.Maker{}, err
	}
	i := slices.IndexFunc(makers, func(m store.Maker) bool { return m.ID == name || strings.EqualFold(m.Name, name) })
	if i < 0 {
		return store.Maker{}, wire.NoSuchMaker.With(wire.Problem{Detail: fmt.Sprintf("There is no maker %q here.", name)})
	}
	return makers[i], nil
}

const longestMaker = 40

// goodMaker trims a maker's name, or refuses it.
func goodMaker(name string) (string, error) {
	name = strings.TrimSpace(name)
	if n := utf8.RuneCountInString(name); n == 0 || n > longestMaker || strings.ContainsFunc(name, func(r rune) bool { return r < ' ' || r == '/' }) {
		return "", wire.BadMakerName.With(wire.Problem{Detail: fmt.Sprintf("A maker's name has 1 to %d letters, digits or signs, but no /.", longestMaker),
			Numbers: map[string]int{"most": longestMaker}})
	}
	return name, nil
}

// makerCache spares the database a question for each request.
type makerCache struct {
	store *store.Store
	mu    sync.Mutex
	known map[string]knownMaker
}

type knownMaker struct {
	maker store.Maker
	until time.Time
}

const makerCacheSpan = 10 * time.Second

// of is whose key it is, or store.ErrNotFound.
func (m *makerCache) of(ctx context.Context, key string) (store.Maker, error) {
	if key == "" {
		return store.Maker{}, store.ErrNotFound
	}
	m.mu.Lock()
	known := m.known[key]
	m.mu.Unlock()
	if time.Now().Before(known.until) && !m.store.Shares() { // another service may have ended it
		return known.maker, nil
	}
	found, err := m.store.MakerOf(ctx, key)
	if err == nil {
		err = m.store.UsedMakerKey(ctx, key, time.Now().UnixMilli())
	}
	if err == nil {
		m.mu.Lock()
		defer m.mu.Unlock()
		if len(m.known) > 1000 || m.known == nil {
			m.known = map[string]knownMaker{}
		}
		m.known[key] = knownMaker{found, time.Now().Add(makerCacheSpan)}
	}
	return found, err
}

// forget has every key looked up anew, because one ended.
func (m *makerCache) forget() {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.known = nil
}

type addressKey struct{}

// address notes under which address the service is asked, for links that are sent on:
// the one that the keeper gave, or that of the request.
func (a *API) address(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		address := cmp.Or(strings.TrimSuffix(a.Public, "/"), web.SchemeOf(r)+"://"+r.Host) + a.Path
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), addressKey{}, address)))
	})
}

// linkTo is the whole link to a page of the console.
func linkTo(ctx context.Context, path string) string {
	address, _ := ctx.Value(addressKey{}).(string)
	return address + path
}

// onlyHere reports whether links lead to this machine itself, where nobody else opens them.
func onlyHere(ctx context.Context) bool {
	address, err := url.Parse(linkTo(ctx, ""))
	if err != nil {
		return false
	}
	host := address.Hostname()
	return host == "localhost" || net.ParseIP(host).IsLoopback()
}
