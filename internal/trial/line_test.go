package trial

import (
	"io"
	"net"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/demo"
)

// line is a connection to the service that can be cut and mended, as a poor one is.
type line struct {
	listener net.Listener
	to       string

	mu       sync.Mutex
	isCut    bool
	isSilent bool
	open     []net.Conn
}

func lineTo(t *testing.T, address string) *line {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	l := &line{listener: listener, to: address}
	t.Cleanup(func() { _ = listener.Close(); l.cut() })
	go l.run()
	return l
}

func (l *line) url() string { return "http://" + l.listener.Addr().String() }

func (l *line) run() {
	for {
		near, err := l.listener.Accept()
		if err != nil {
			return
		}
		far, err := net.Dial("tcp", l.to)
		l.mu.Lock()
		if err != nil || l.isCut {
			_ = near.Close()
			if far != nil {
				_ = far.Close()
			}
			l.mu.Unlock()
			continue
		}
		l.open = append(l.open, near, far)
		l.mu.Unlock()
		go func() { _, _ = io.Copy(far, hushed{near, l}); _ = far.Close() }()
		go func() { _, _ = io.Copy(near, hushed{far, l}); _ = near.Close() }()
	}
}

// cut ends all connections and takes no new ones.
func (l *line) cut() {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.isCut = true
	for _, c := range l.open {
		_ = c.Close()
	}
	l.open = nil
}

func (l *line) mend() {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.isCut, l.isSilent = false, false
}

// hush has nothing come through any more, while all connections stay: nobody is told that they are gone.
func (l *line) hush() {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.isSilent = true
}

// hushed is one end of a connection, of which nothing is heard while the line is silent, nor afterwards of what
// was said meanwhile.
type hushed struct {
	net.Conn
	line *line
}

func (h hushed) Read(to []byte) (int, error) {
	for {
		n, err := h.Conn.Read(to)
		h.line.mu.Lock()
		silent := h.line.isSilent
		h.line.mu.Unlock()
		if err != nil || !silent {
			return n, err
		}
	}
}

// A line that goes silent, as behind a proxy that hangs, is found by whoever listens, and left for another.
func TestALineThatGoesSilentIsLeft(t *testing.T) {
	t.Parallel()
	s := start(t)
	room := s.roomOf(demo.Weather())
	poor := lineTo(t, s.address)
	b := browsers(t, 1)[0]
	b.sit(poor.url()+room.Path, "Ada")
	bo := client.New(poor.url(), "")
	joined, err := bo.Join(t.Context(), room.ID, client.Join{Name: "Bo"})
	require.NoError(t, err)
	lost, heard := make(chan time.Duration, 9), make(chan bool, 999)
	var silentSince atomic.Int64
	go func() {
		_ = bo.At(joined).Watch(t.Context(), func(client.Message) {
			select {
			case heard <- true:
			default:
			}
		}, func(error) { lost <- time.Since(time.UnixMilli(silentSince.Load())) })
	}()
	<-heard
	time.Sleep(4 * time.Second) // longer than a pulse
	assert.Empty(t, lost, "a line that lives is not lost")
	silentSince.Store(time.Now().UnixMilli())
	poor.hush()
	b.reads("The connection is lost.")
	t.Logf("the browser saw it after %v", time.Since(time.UnixMilli(silentSince.Load())))
	t.Logf("the Go client saw it after %v", <-lost)
	poor.cut()
	poor.mend()
	b.sees("", "document.querySelector('.connection').textContent")
	b.says("roll wind")
	for len(heard) > 0 {
		<-heard
	}
	require.Eventually(t, func() bool { return len(heard) > 0 }, 20*time.Second, 50*time.Millisecond)
}
