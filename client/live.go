package client

import (
	"context"
	"strings"
	"time"

	"github.com/gorilla/websocket"

	"damselfly.example/damselfly/internal/wire"
)

// Live is a connected socket at a room.
type Live struct{ socket *websocket.Conn }

// quiet is how long a socket may say nothing before it counts as lost; the
// service sends something every 3 seconds.
const quiet = 7 * time.Second

// Connect opens the seat's socket. last is where an earlier one came to, to go on from
// there; or the zero Resumed for a whole view.
func (s *Seat) Connect(ctx context.Context, last Resumed) (*Live, error) {
	address := "ws" + strings.TrimPrefix(s.client.base, "http") + s.path("/live")
	socket, _, err := websocket.DefaultDialer.DialContext(ctx, address, nil)
	if err != nil {
		return nil, err
	}
	hello := wire.Hello{Type: "hello", Key: s.Joined.Key, Gate: last.Gate, Told: last.Told}
	if err := socket.WriteJSON(hello); err != nil {
		_ = socket.Close()
		return nil, err
	}
	return &Live{socket}, nil
}

// Next waits for the next message. An answer that is a problem to the hello
// itself is returned as the error.
func (l *Live) Next() (Message, error) {
	_ = l.socket.SetReadDeadline(time.Now().Add(quiet))
	_, text, err := l.socket.ReadMessage()
	if err != nil {
		return nil, err
	}
	m, err := wire.Read(text)
	if settled, is := m.(Settled); is && settled.ID == "" && settled.Problem != nil {
		return m, settled.Problem
	}
	return m, err
}

// WriteMessage writes a message as the service sends it.
func WriteMessage(m Message) []byte { return wire.Write(m) }

// Do sends Steps with a request id; the answer comes as a message with it.
func (l *Live) Do(id, steps string) error {
	return l.socket.WriteJSON(wire.Act{Type: "act", Request: wire.Request{ID: id, Steps: steps}})
}

// Close ends the socket.
func (l *Live) Close() error { return l.socket.Close() }

// Watch calls heard with every message at the room until the context ends,
// connecting again after a break and going on from where it was. lost is
// called, if not nil, when the connection breaks. It returns an error only
// where trying again would not help.
func (s *Seat) Watch(ctx context.Context, heard func(Message), lost func(error)) error {
	var last Resumed // the gate of the last view, and one more told for each message of changes since
	for pause := 200 * time.Millisecond; ctx.Err() == nil; pause = min(2*pause, 5*time.Second) {
		err := s.follow(ctx, &last, func(m Message) { pause = 200 * time.Millisecond; heard(m) })
		if p, ok := err.(*Problem); ok && p.Status < 500 && p.Status != 429 {
			return p
		}
		if lost != nil && ctx.Err() == nil {
			lost(err)
		}
		select {
		case <-ctx.Done():
		case <-time.After(pause):
		}
	}
	return nil
}

// follow hears messages over one connection and notes how far it came.
func (s *Seat) follow(ctx context.Context, last *Resumed, heard func(Message)) error {
	live, err := s.Connect(ctx, *last)
	if err != nil {
		return err
	}
	stop := context.AfterFunc(ctx, func() { _ = live.Close() })
	defer stop()
	defer live.Close()
	for {
		m, err := live.Next()
		if err != nil {
			return err
		}
		switch m := m.(type) {
		case Whole:
			*last = Resumed{Gate: m.Gate, Told: m.Told}
		case Resumed:
			*last = m
		case Changes:
			last.Told++
		}
		heard(m)
	}
}
