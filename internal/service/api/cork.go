package api

import (
	"net"
	"sync"
)

// maxCorked is how many bytes wait at most to be sent together.
const maxCorked = 64 << 10

// Corking makes connections that can hold back what is written to them, so that
// messages that wait for one person together are sent together. It saves the
// operating system's time, of which most of a message's costs consist.
func Corking(l net.Listener) net.Listener { return corking{l} }

type corking struct{ net.Listener }

func (l corking) Accept() (net.Conn, error) {
	c, err := l.Listener.Accept()
	if err != nil {
		return nil, err
	}
	return &corkable{Conn: c}, nil
}

// corkable holds back what is written while it is corked. One goroutine corks it and
// writes messages; the library's own answers to pings and closes come from another.
type corkable struct {
	net.Conn
	mu     sync.Mutex
	corked bool
	held   []byte
}

func (c *corkable) Write(b []byte) (int, error) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if !c.corked {
		return c.Conn.Write(b)
	}
	c.held = append(c.held, b...)
	if len(c.held) > maxCorked {
		if err := c.flush(); err != nil {
			return 0, err
		}
	}
	return len(b), nil
}

func (c *corkable) flush() error {
	if len(c.held) == 0 {
		return nil
	}
	_, err := c.Conn.Write(c.held)
	c.held = c.held[:0]
	return err
}

func (c *corkable) cork(on bool) error {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.corked = on
	return c.flush()
}

// together runs writes on a connection and sends what they wrote at once.
func together(conn net.Conn, write func() error) error {
	c, ok := conn.(*corkable)
	if !ok {
		return write()
	}
	if err := c.cork(true); err != nil {
		return err
	}
	err := write()
	if flushed := c.cork(false); err == nil {
		err = flushed
	}
	return err
}
