package web

import (
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// plainKind is the kind of a problem that comes from the HTTP library itself.
func plainKind(status int) *wire.Kind {
	for _, k := range []*wire.Kind{wire.Unreadable, wire.NotFound, wire.NotAcceptable, wire.TooSlow, wire.TooLarge, wire.WrongType, wire.NotValid} {
		if k.Status == status {
			return k
		}
	}
	return wire.Internal
}

// newProblem shapes the library's errors as the service's own.
func newProblem(status int, message string, errs ...error) huma.StatusError {
	var details []string
	for _, err := range errs {
		if err != nil {
			details = append(details, plainly(err))
		}
	}
	if len(details) > 0 && strings.HasPrefix(details[0], noJSON) {
		status = http.StatusBadRequest // also where the library reads it later
	}
	p := plainKind(status).With(wire.Problem{Status: status, Detail: ofRequest(message), Details: details})
	if status >= 500 {
		p.Detail, p.Details = "The service failed on this request; please report it.", nil
	} else if len(p.Details) > 0 {
		p.Detail = wire.Sentence(strings.Join(p.Details, "; "))
	}
	return p
}

// Answers are what clients are told of errors.
type Answers struct {
	Log  *slog.Logger
	Gone Outage // of the database
}

// Answerable makes of any error one that a client may be told.
func (a *Answers) Answerable(ctx context.Context, err error) error {
	if err == nil {
		return nil
	}
	if same, is := err.(huma.StatusError); is && same.GetStatus() == http.StatusNotModified {
		return err
	}
	var p *wire.Problem
	if errors.As(err, &p) {
		return p
	}
	if errors.Is(err, store.ErrNotFound) {
		return wire.NotFound.With(wire.Problem{Detail: "There is no such room or kit here."})
	}
	if store.Heals(err) {
		if !errors.Is(ctx.Err(), context.Canceled) { // who asked has left; the answer reaches nobody
			a.Gone.Found(Named(ctx, a.Log), err)
		}
		return wire.DatabaseGone.With(wire.Problem{Detail: "The service cannot reach its records right now and keeps trying. Nothing was lost; try again in a moment."})
	}
	Named(ctx, a.Log).Error("answering a request", "error", err)
	return wire.Internal.With(wire.Problem{Detail: "The service failed on this request. Nothing was changed; try again, and report it if it stays so."})
}

// WriteProblem answers outside of the REST routes.
func WriteProblem(w http.ResponseWriter, p *wire.Problem) {
	w.Header().Set("Content-Type", p.ContentType(""))
	for name, values := range p.GetHeaders() {
		w.Header()[name] = values
	}
	if p.Status == http.StatusServiceUnavailable && w.Header().Get("Retry-After") == "" {
		w.Header().Set("Retry-After", "1")
	}
	w.WriteHeader(p.Status)
	_ = json.NewEncoder(w).Encode(p)
}
