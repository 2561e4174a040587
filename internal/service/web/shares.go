package web

import (
	"context"
	"crypto/sha256"
	"fmt"
	"io"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"

	"golang.org/x/sync/semaphore"

	"damselfly.example/damselfly/internal/wire"
)

// What is done for somebody while they keep others waiting is shared out: so much in all, and so much for each.
// Each is the key that was sent, right or wrong, and the address that it came from, each by itself.
const (
	bodiesAtOnce  = 48 // bodies of more than smallBody that are being sent
	bodiesOfKey   = 6
	bodiesOfAddr  = 16
	bytesOfBodies = 1 << 30 // of all of them together, as they say themselves

	// SmallBody is how many bytes a body has that nobody is asked for first.
	SmallBody = 64 << 10 // bytes that nobody is asked for first

	leastSpeed   = 16 << 10         // bytes a second that a line must carry
	slowPatience = 10 * time.Second // for which it may carry less
)

// Shares counts what is under way, in all and for each.
type Shares struct {
	Most int

	mu    sync.Mutex
	all   int
	taken map[string]int
}

// Take takes one share of everything that somebody is, each with how many it may have at once. ok is whether
// there was one; then it is given back by release.
func (s *Shares) Take(each map[string]int) (release func(), ok bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.all >= s.Most {
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

// keyOf and AddressOf are who asks, as shares count them.
func keyOf(authorization string) string {
	key := Bearer(authorization)
	if key == "" {
		return ""
	}
	sum := sha256.Sum256([]byte(key))
	return "key " + string(sum[:8])
}

func AddressOf(remote string) string {
	host, _, err := net.SplitHostPort(remote)
	if err != nil {
		host = remote
	}
	return "address " + host
}

// EachOf is everything that somebody is who asks from an address with a header, each with how much it may have.
func EachOf(remote, authorization string, ofKey, ofAddress int) map[string]int {
	each := map[string]int{AddressOf(remote): ofAddress}
	if key := keyOf(authorization); key != "" {
		each[key] = ofKey
	}
	return each
}

// Busy says that there is no share left for now.
func Busy(status int, what string) *wire.Problem {
	return wire.ServiceIsBusy.With(wire.Problem{Status: status, After: 10, Detail: what + " just now. Try again in a moment."})
}

// Bodies are those that are being sent. Make them with NewBodies.
type Bodies struct {
	sent  *Shares
	bytes *semaphore.Weighted // what is held of them
}

// NewBodies has none sent yet.
func NewBodies() *Bodies {
	return &Bodies{&Shares{Most: bodiesAtOnce}, semaphore.NewWeighted(bytesOfBodies)}
}

// Watch looks at requests before their bodies are read: whether there is a share for one so large. What is
// sent slower than a line must carry is broken off.
func (b *Bodies) Watch(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Body == nil || r.ContentLength >= 0 && r.ContentLength <= SmallBody {
			next.ServeHTTP(w, r)
			return
		}
		release, ok := b.sent.Take(EachOf(r.RemoteAddr, r.Header.Get("Authorization"), bodiesOfKey, bodiesOfAddr))
		if !ok {
			w.Header().Set("Connection", "close") // the body is not read
			WriteProblem(w, Busy(http.StatusTooManyRequests, "Too many files are being sent, by you or by all"))
			return
		}
		defer release()
		r.Body = &watchedBody{body: r.Body, line: http.NewResponseController(w), began: time.Now(), bytes: b.bytes, whole: r.ContentLength}
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
			return n, Busy(http.StatusServiceUnavailable, "Many large files are being sent")
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

// QuickEnough has what is written to a line fail where that carries less than it must.
type QuickEnough struct {
	http.ResponseWriter
	Line *http.ResponseController
}

func (q QuickEnough) Unwrap() http.ResponseWriter { return q.ResponseWriter }

func (q QuickEnough) Write(text []byte) (written int, err error) {
	const piece = 64 << 10
	for len(text) > 0 && err == nil {
		_ = q.Line.SetWriteDeadline(time.Now().Add(slowPatience + piece/leastSpeed*time.Second))
		var n int
		n, err = q.ResponseWriter.Write(text[:min(piece, len(text))])
		written, text = written+n, text[n:]
	}
	return written, err
}

// Turns are those of many, each of whom does one thing at a time; the others wait.
type Turns struct {
	mu    sync.Mutex
	known map[string]*turn
}

type turn struct {
	now     chan struct{}
	waiting int
}

// Wait waits for somebody's turn. done ends it.
func (t *Turns) Wait(ctx context.Context, who string) (done func(), err error) {
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

// Bearer is the key that a header shows. The word before it may be written in any case.
func Bearer(header string) string {
	if word, key, parted := strings.Cut(header, " "); parted && strings.EqualFold(word, "Bearer") {
		return strings.TrimSpace(key)
	}
	return header
}
