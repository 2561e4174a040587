package web

import (
	"bytes"
	"context"
	"errors"
	"log/slog"
	"strings"
	"testing"
	"time"

	"github.com/go-sql-driver/mysql"
	"github.com/stretchr/testify/assert"

	"damselfly.example/damselfly/internal/wire"
)

// While the database is gone there is one line of it, and one when it is back; who leaves is no outage.
func TestAnOutageIsLoggedOnce(t *testing.T) {
	var said bytes.Buffer
	a := &Answers{Log: slog.New(slog.NewTextHandler(&said, nil))}
	for range 300 {
		var p *wire.Problem
		assert.ErrorAs(t, a.Answerable(context.Background(), mysql.ErrInvalidConn), &p)
		assert.Equal(t, "database-gone", p.Code)
	}
	assert.Equal(t, 1, strings.Count(said.String(), "\n"), said.String())
	a.Gone.Look(a.Log, true)
	assert.Equal(t, 1, strings.Count(said.String(), "\n"), "it was gone a moment ago")
	a.Gone.last = a.Gone.last.Add(-time.Minute)
	a.Gone.Look(a.Log, true)
	assert.Contains(t, said.String(), "requests_refused=300")
	said.Reset()
	ctx, leave := context.WithCancel(context.Background())
	leave()
	_ = a.Answerable(ctx, errors.Join(context.Canceled))
	assert.Empty(t, said.String())
}
