package web

import (
	"bytes"
	"context"
	"errors"
	"log/slog"
	"net/http/httptest"
	"testing"

	"github.com/go-chi/chi/v5/middleware"
	"github.com/stretchr/testify/assert"
)

// Lines of the log about a request have its id, and the room that it is about.
func TestTheLogTellsOfRequestAndRoom(t *testing.T) {
	var out bytes.Buffer
	a := &Answers{Log: slog.New(slog.NewJSONHandler(&out, nil))}
	r := httptest.NewRequest("GET", "/api/rooms/marsh/view", nil)
	r = r.WithContext(context.WithValue(r.Context(), middleware.RequestIDKey, "a-1"))
	_ = a.Answerable(Noting(r.Context(), AboutOf(r)), errors.New("a wave"))
	assert.Contains(t, out.String(), `"id":"a-1","room":"marsh","error":"a wave"`)
}
