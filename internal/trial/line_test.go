package trial

import (
	"io"
	"net"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"
)

// line is a connection to the service that can be cut and mended, as a poor one is.
type line struct {
	listener net.Listener
	to       string

	mu    sync.Mutex
	isCut bool
	open  []net.Conn
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
		go func() { _, _ = io.Copy(far, near); _ = far.Close() }()
		go func() { _, _ = io.Copy(near, far); _ = near.Close() }()
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
	l.isCut = false
}
