package room

import (
	"sync"

	"damselfly.example/damselfly/internal/wire"
)

// Message is an encoded message on its way to one or many listeners, with room before it
// for a transport's head.
type Message struct {
	all   []byte
	once  sync.Once
	frame []byte // a part of all
}

// headRoom is how long a head may be.
const headRoom = 10

func encode(m wire.Message) *Message {
	return &Message{all: wire.Append(make([]byte, headRoom), m)}
}

// Text is the message without a head.
func (m *Message) Text() []byte { return m.all[headRoom:] }

// Framed is the message behind the head that a transport puts before texts of its length.
// It is made when it is first asked for, once for all who get it.
func (m *Message) Framed(head func(length int) []byte) []byte {
	m.once.Do(func() {
		h := head(len(m.Text()))
		m.frame = m.all[headRoom-len(h):]
		copy(m.frame, h)
	})
	return m.frame
}

// Listener is one connected person's list of messages that wait. A slow one never slows
// the room: when too many wait, what it missed is replaced by a fresh view.
type Listener struct {
	Who
	Key  string // tells apart by whose key they came, so that one key is not a crowd
	wake func() // something waits, or the room has let the listener go
	gone chan struct{}
	once sync.Once

	mu     sync.Mutex
	queue  []*Message
	missed missing
}

// missing is whether messages were dropped, so that a fresh view is due.
type missing int

const (
	nothingMissed missing = iota
	someMissed
	askedAnew // for a fresh view
)

// queueLength is how many messages may wait for one listener.
const queueLength = 256

// NewListener makes the list of a person at a seat, or of a spectator at 0. wake is called
// when something waits there; it must not wait itself, and may be nil.
func NewListener(who Who, wake func()) *Listener {
	if wake == nil {
		wake = func() {}
	}
	return &Listener{Who: who, wake: wake, gone: make(chan struct{})}
}

// Take returns all that waits. missed reports that messages were dropped since it was last
// asked; then a fresh view is due (Rooms.Refresh).
func (l *Listener) Take() (waiting []*Message, missed bool) {
	l.mu.Lock()
	defer l.mu.Unlock()
	waiting, missed = l.queue, l.missed == someMissed
	if l.queue = nil; missed {
		l.missed = askedAnew
	}
	return waiting, missed
}

// Gone is closed when the room has let the listener go.
func (l *Listener) Gone() <-chan struct{} { return l.gone }

func (l *Listener) end() {
	l.once.Do(func() { close(l.gone) })
	l.wake()
}

// send never waits, and sends nothing to whoever was let go.
func (l *Listener) send(m *Message) {
	if l.put(m, queueLength) {
		l.wake()
	}
}

// sendView sends a whole view, from which everything goes on.
func (l *Listener) sendView(m *Message) {
	l.mu.Lock()
	l.missed = nothingMissed
	l.mu.Unlock()
	l.send(m)
}

// sendIfIdle sends what may as well be lost: only while little waits.
func (l *Listener) sendIfIdle(m *Message) {
	l.mu.Lock()
	busy := len(l.queue) >= queueLength/4
	l.mu.Unlock()
	if !busy {
		l.send(m)
	}
}

// put adds a message and reports whether it was the first that waits. Once one has found
// no room nothing more is added before a whole view, because it would not fit what the
// reader knows.
func (l *Listener) put(m *Message, most int) (first bool) {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.missed != nothingMissed {
		return false
	}
	select {
	case <-l.gone: // what comes later is not theirs to see
		return false
	default:
	}
	if len(l.queue) >= most {
		l.missed = someMissed
		return true
	}
	l.queue = append(l.queue, m)
	return len(l.queue) == 1
}
