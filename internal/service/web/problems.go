package web

import (
	"cmp"
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

// codes of problems that come from the HTTP library itself.
var codes = map[int]string{
	400: "not-understood", 404: "not-found", 406: "not-acceptable", 408: "too-slow", 413: "too-large", 415: "wrong-type", 422: "not-valid",
}

// PlainCodes are the codes of problems that come from the HTTP library itself, by their status.
func PlainCodes() map[int]string { return codes }

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
	p := &wire.Problem{Status: status, Title: http.StatusText(status), Detail: ofRequest(message), Code: cmp.Or(codes[status], "internal"), Details: details}
	if status >= 500 {
		p.Detail, p.Details = "The service failed on this request; please report it.", nil
	} else if len(p.Details) > 0 {
		p.Detail = wire.Sentence(strings.Join(p.Details, "; "))
	}
	return Typed(p)
}

// Typed gives a problem its type, which is made of its code.
func Typed(p *wire.Problem) *wire.Problem {
	p.Type = "/docs/problems.html#" + p.Code
	if p.Title == "" {
		p.Title = http.StatusText(p.Status)
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
		return Typed(p)
	}
	if errors.Is(err, store.ErrNotFound) {
		return Typed(&wire.Problem{Status: 404, Code: "not-found", Title: "Not found", Detail: "There is no such room or kit here."})
	}
	if store.Heals(err) {
		if !errors.Is(ctx.Err(), context.Canceled) { // who asked has left; the answer reaches nobody
			a.Gone.Found(Named(a.Log, ctx), err)
		}
		return Typed(&wire.Problem{Status: 503, Code: "database-gone", Title: "The database does not answer",
			Detail: "The service cannot reach its records right now and keeps trying. Nothing was lost; try again in a moment."})
	}
	Named(a.Log, ctx).Error("answering a request", "error", err)
	return Typed(&wire.Problem{Status: 500, Code: "internal", Title: "The service failed",
		Detail: "The service failed on this request. Nothing was changed; try again, and report it if it stays so."})
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
	_ = json.NewEncoder(w).Encode(Typed(p))
}
