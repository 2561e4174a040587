package api

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
	a := &API{Options: Options{Log: slog.New(slog.NewTextHandler(&said, nil))}}
	for range 300 {
		var p *wire.Problem
		assert.ErrorAs(t, a.answerable(context.Background(), mysql.ErrInvalidConn), &p)
		assert.Equal(t, "database-gone", p.Code)
	}
	assert.Equal(t, 1, strings.Count(said.String(), "\n"), said.String())
	a.gone.look(a.Log, true)
	assert.Equal(t, 1, strings.Count(said.String(), "\n"), "it was gone a moment ago")
	a.gone.last = a.gone.last.Add(-time.Minute)
	a.gone.look(a.Log, true)
	assert.Contains(t, said.String(), "requests_refused=300")
	said.Reset()
	ctx, leave := context.WithCancel(context.Background())
	leave()
	_ = a.answerable(ctx, errors.Join(context.Canceled))
	assert.Empty(t, said.String())
}
