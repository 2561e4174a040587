package client

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"time"
)

// What takes long is no fault, and a line that is dead says nothing either. So where an answer has not begun after a
// while, the service is asked for a sign of life beside it.
const (
	waitsFirst = 2 * time.Second
	signOfLife = 5 * time.Second // may take as long as this
)

var errSilent = errors.New("nothing came from there for seconds; the line seems to be dead")

// brokeOff reports whether a line broke, so that another may be better: where a sign of life was waited for, none is.
func brokeOff(err error) bool {
	var broken *url.Error
	return errors.As(err, &broken) && !errors.Is(err, errSilent)
}

// do sends a request, and gives up where nothing answers any more before its answer begins. What is large is sent for as
// long as it takes: a line that is full of it gives no sign of life in time.
func (c *Client) do(ctx context.Context, end context.CancelCauseFunc, r *http.Request) (*http.Response, error) {
	if r.Header.Get("Expect") == "" {
		begun := make(chan struct{})
		defer close(begun)
		go c.watch(ctx, end, begun)
	}
	response, err := c.http.Do(r.WithContext(ctx))
	if err != nil && errors.Is(context.Cause(ctx), errSilent) {
		return nil, &url.Error{Op: r.Method, URL: c.base, Err: errSilent}
	}
	return response, err
}

// watch ends a request whose service gives no sign of life, until an answer has begun.
func (c *Client) watch(ctx context.Context, end context.CancelCauseFunc, begun <-chan struct{}) {
	for {
		select {
		case <-begun:
			return
		case <-ctx.Done():
			return
		case <-time.After(waitsFirst):
		}
		if !c.lives(ctx) {
			end(errSilent)
			return
		}
	}
}

// lives reports whether anything answers, or says that nothing does: who is refused at once needs no watch.
func (c *Client) lives(ctx context.Context) bool {
	ctx, cancel := context.WithTimeout(ctx, signOfLife)
	defer cancel()
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, c.base+"/healthz", nil)
	if err != nil {
		return true
	}
	response, err := c.http.Do(r)
	if err == nil {
		_ = response.Body.Close()
	}
	return err == nil || !errors.Is(ctx.Err(), context.DeadlineExceeded)
}
