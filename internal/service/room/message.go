package room

import (
	"sync"

	"damselfly.example/damselfly/internal/wire"
)

// Message is an encoded message on its way to one or many listeners.
type Message struct {
	Text  []byte
	once  sync.Once
	ready any
}

func encode(m wire.Message) *Message {
	return &Message{Text: wire.Write(m)}
}

// Prepared returns what make made of the text when it was first asked for, so
// that a transport frames a message once for all who get it.
func (m *Message) Prepared(make func([]byte) any) any {
	m.once.Do(func() { m.ready = make(m.Text) })
	return m.ready
}

// Listener is one connected person's queue of messages. A slow one never slows
// the room: when its queue is full, what it missed is replaced by a fresh view.
type Listener struct {
	Who
	Key   string // tells apart by whose key they came, so that one key is not a crowd
	queue chan *Message
	gone  chan struct{}
	once  sync.Once

	mu     sync.Mutex
	missed bool
}

// queueLength is how many messages may wait for one listener.
const queueLength = 256

// NewListener makes the queue of a person at a seat, or of a spectator at 0.
func NewListener(who Who) *Listener {
	return &Listener{Who: who, queue: make(chan *Message, queueLength), gone: make(chan struct{})}
}

// Messages is the queue to read. Call Missed when it has run empty.
func (l *Listener) Messages() <-chan *Message { return l.queue }

// Gone is closed when the room has let the listener go.
func (l *Listener) Gone() <-chan struct{} { return l.gone }

func (l *Listener) end() { l.once.Do(func() { close(l.gone) }) }

// Missed reports whether messages were dropped since it was last asked; then a
// fresh view is due (Room.Refresh).
func (l *Listener) Missed() bool {
	l.mu.Lock()
	defer l.mu.Unlock()
	missed := l.missed
	l.missed = false
	return missed
}

// sendIfIdle sends what may as well be lost: only while the queue is short.
func (l *Listener) sendIfIdle(m *Message) {
	if len(l.queue) < queueLength/4 {
		l.send(m)
	}
}

// send never waits, and sends nothing to whoever was let go. After an overflow nothing more is queued until the reader
// has noticed, because it would not fit what the reader knows.
func (l *Listener) send(m *Message) {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.missed {
		return
	}
	select {
	case <-l.gone: // what comes later is not theirs to see
		return
	default:
	}
	select {
	case l.queue <- m:
	default:
		l.missed = true
	}
}
