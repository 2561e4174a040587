package api

import (
	"context"
	"crypto/sha256"
	"fmt"
	"io"
	"net"
	"net/http"
	"sync"
	"time"

	"golang.org/x/sync/semaphore"

	"damselfly.example/damselfly/internal/wire"
)

// What is done for somebody while they keep others waiting is shared out: so much in all, and so much for each.
// Each is the key that was sent, right or wrong, and the address that it came from, each by itself.
const (
	givenAtOnce = 12 // files that are taken away; the largest has 96 MiB
	givenToKey  = 3
	givenToAddr = 6

	bodiesAtOnce  = 48 // bodies of more than smallBody that are being sent
	bodiesOfKey   = 6
	bodiesOfAddr  = 16
	bytesOfBodies = 1 << 30 // of all of them together, as they say themselves

	hellosAtOnce = 2000 // sockets that have not said who they are
	hellosOfAddr = 64

	printsOfEach = 1

	smallBody = 64 << 10 // bytes that nobody is asked for first

	leastSpeed   = 16 << 10         // bytes a second that a line must carry
	slowPatience = 10 * time.Second // for which it may carry less
)

// shares counts what is under way, in all and for each.
type shares struct {
	most int

	mu    sync.Mutex
	all   int
	taken map[string]int
}

// take takes one share of everything that somebody is, each with how many it may have at once. ok is whether
// there was one; then it is given back by release.
func (s *shares) take(each map[string]int) (release func(), ok bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.all >= s.most {
		return nil, false
	}
	for who, most := range each {
		if s.taken[who] >= most {
			return nil, false
		}
	}
	if s.taken == nil {
		s.taken = map[string]int{}
	}
	s.all++
	for who := range each {
		s.taken[who]++
	}
	return func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		s.all--
		for who := range each {
			if s.taken[who]--; s.taken[who] == 0 {
				delete(s.taken, who)
			}
		}
	}, true
}

// keyOf and addressOf are who asks, as shares count them.
func keyOf(authorization string) string {
	key := bearer(authorization)
	if key == "" {
		return ""
	}
	sum := sha256.Sum256([]byte(key))
	return "key " + string(sum[:8])
}

func addressOf(remote string) string {
	host, _, err := net.SplitHostPort(remote)
	if err != nil {
		host = remote
	}
	return "address " + host
}

// eachOf is everything that somebody is who asks from an address with a header, each with how much it may have.
func eachOf(remote, authorization string, ofKey, ofAddress int) map[string]int {
	each := map[string]int{addressOf(remote): ofAddress}
	if key := keyOf(authorization); key != "" {
		each[key] = ofKey
	}
	return each
}

// busy says that there is no share left for now.
func busyWith(status int, what string) *wire.Problem {
	return typed(&wire.Problem{Status: status, Code: "service-is-busy", Title: "The service is busy", After: 10, Detail: what + " just now. Try again in a moment."})
}

// bodies looks at requests before their bodies are read: whether there is a share for one so large. What is
// sent slower than a line must carry is broken off.
func (a *API) bodies(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Body == nil || r.ContentLength >= 0 && r.ContentLength <= smallBody {
			next.ServeHTTP(w, r)
			return
		}
		release, ok := a.sent.take(eachOf(r.RemoteAddr, r.Header.Get("Authorization"), bodiesOfKey, bodiesOfAddr))
		if !ok {
			w.Header().Set("Connection", "close") // the body is not read
			writeProblem(w, busyWith(http.StatusTooManyRequests, "Too many files are being sent, by you or by all"))
			return
		}
		defer release()
		r.Body = &watchedBody{body: r.Body, line: http.NewResponseController(w), began: time.Now(), bytes: a.sentBytes, whole: r.ContentLength}
		defer r.Body.Close()
		next.ServeHTTP(w, r)
	})
}

// watchedBody is a body that must come at some speed, and of which there is not too much in all.
type watchedBody struct {
	body  io.ReadCloser
	line  *http.ResponseController
	began time.Time
	read  int64
	held  int64
	whole int64 // -1 if it does not say
	bytes *semaphore.Weighted
}

// errSlow is that a body came too slowly.
var errSlow = fmt.Errorf("the body came slower than %d KiB a second", leastSpeed>>10)

func (b *watchedBody) Read(to []byte) (int, error) {
	if waited := time.Since(b.began); waited > slowPatience && float64(b.read) < leastSpeed*(waited-slowPatience).Seconds() {
		return 0, errSlow
	}
	_ = b.line.SetReadDeadline(time.Now().Add(slowPatience))
	n, err := b.body.Read(to)
	b.read += int64(n)
	if over := b.read - b.held; over > 0 { // in steps, so that who announces much and sends little holds little
		step := max(over, 1<<20)
		if !b.bytes.TryAcquire(step) {
			return n, busyWith(http.StatusServiceUnavailable, "Many large files are being sent")
		}
		b.held += step
	}
	if err != nil {
		_ = b.line.SetReadDeadline(time.Time{}) // what the line is listened to for from then on has its own
	}
	return n, err
}

func (b *watchedBody) Close() error {
	if b.held > 0 {
		b.bytes.Release(b.held)
		b.held = 0
	}
	return b.body.Close()
}

// quickEnough has what is written to a line fail where that carries less than it must.
type quickEnough struct {
	http.ResponseWriter
	line *http.ResponseController
}

func (q quickEnough) Unwrap() http.ResponseWriter { return q.ResponseWriter }

func (q quickEnough) Write(text []byte) (written int, err error) {
	const piece = 64 << 10
	for len(text) > 0 && err == nil {
		_ = q.line.SetWriteDeadline(time.Now().Add(slowPatience + piece/leastSpeed*time.Second))
		var n int
		n, err = q.ResponseWriter.Write(text[:min(piece, len(text))])
		written, text = written+n, text[n:]
	}
	return written, err
}

// turns are those of many, each of whom does one thing at a time; the others wait.
type turns struct {
	mu    sync.Mutex
	known map[string]*turn
}

type turn struct {
	now     chan struct{}
	waiting int
}

// wait waits for somebody's turn. done ends it.
func (t *turns) wait(ctx context.Context, who string) (done func(), err error) {
	t.mu.Lock()
	if t.known == nil {
		t.known = map[string]*turn{}
	}
	mine := t.known[who]
	if mine == nil {
		mine = &turn{now: make(chan struct{}, 1)}
		t.known[who] = mine
	}
	mine.waiting++
	t.mu.Unlock()
	leave := func() {
		t.mu.Lock()
		defer t.mu.Unlock()
		if mine.waiting--; mine.waiting == 0 {
			delete(t.known, who)
		}
	}
	select {
	case mine.now <- struct{}{}:
		return func() { <-mine.now; leave() }, nil
	case <-ctx.Done():
		leave()
		return nil, ctx.Err()
	}
}
