package socket

import (
	"context"
	"net"
	"sync"
	"time"

	"github.com/gorilla/websocket"

	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// person is somebody connected to a room. One goroutine reads; another writes, and is
// there only while something is to be written.
type person struct {
	server   *Server
	room     string
	who      room.Who
	socket   *websocket.Conn
	listener *room.Listener
	beat     *time.Timer // sends something now and then

	mu      sync.Mutex
	answers [][]byte // to requests, as frames
	control []byte   // frames of pings, pongs and the end
	writing bool
	again   bool // something came while it was written
	ended   bool
	writer  sync.WaitGroup
}

// Bounds of what waits to be written to a person beside what the room shows.
const (
	maxAnswers = 64
	maxControl = 4 << 10 // bytes
)

// begin answers pings and closes, and sends a pulse, until finish.
func (p *person) begin() {
	p.socket.SetPingHandler(func(data string) error {
		p.say(frame(websocket.PongMessage, []byte(data)))
		return nil
	})
	p.socket.SetCloseHandler(func(code int, _ string) error {
		p.say(frame(websocket.CloseMessage, websocket.FormatCloseMessage(code, "")))
		return nil
	})
	living := textFrame(wire.Write(wire.Pulse{}))
	living = append(living, frame(websocket.PingMessage, nil)...)
	p.mu.Lock()
	defer p.mu.Unlock()
	p.beat = time.AfterFunc(pulse, func() {
		p.say(living)
		p.mu.Lock()
		defer p.mu.Unlock()
		if !p.ended {
			p.beat.Reset(pulse)
		}
	})
}

// finish waits until nothing is written any more.
func (p *person) finish() {
	p.mu.Lock()
	p.ended = true
	p.beat.Stop()
	p.mu.Unlock()
	p.writer.Wait()
}

// say sends frames that concern the connection only.
func (p *person) say(frames []byte) {
	p.mu.Lock()
	if len(p.control) < maxControl { // a person who does not read gets no more of them
		p.control = append(p.control, frames...)
	}
	p.mu.Unlock()
	p.wake()
}

// answer sends an answer, after what it rests on. A person with so many unread answers
// does not read any more, and is let go; they ask again with the same id when they are back.
func (p *person) answer(m wire.Settled) {
	text := textFrame(wire.Write(m))
	p.mu.Lock()
	full := len(p.answers) >= maxAnswers
	if !full {
		p.answers = append(p.answers, text)
	}
	p.mu.Unlock()
	if full {
		_ = p.socket.NetConn().Close()
		return
	}
	p.wake()
}

// wake has what waits written.
func (p *person) wake() {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.again = true
	if !p.writing && !p.ended {
		p.writing = true
		p.writer.Go(p.write)
	}
}

// write writes until nothing waits. What the room shows goes before answers, because it
// is what they rest on.
func (p *person) write() {
	for p.more() {
		p.mu.Lock()
		answers, control := p.answers, p.control
		p.answers, p.control = nil, nil
		p.mu.Unlock()
		gone := isClosed(p.listener.Gone())
		waiting, missed := p.listener.Take()
		frames := make(net.Buffers, 0, len(waiting)+len(answers)+2)
		for _, m := range waiting {
			frames = append(frames, m.Framed(textHead))
		}
		frames = append(frames, answers...)
		if len(control) > 0 {
			frames = append(frames, control)
		}
		if gone {
			frames = append(frames, frame(websocket.CloseMessage, websocket.FormatCloseMessage(websocket.CloseServiceRestart, "come back in a moment")))
		}
		err := p.send(frames)
		if err == nil && missed && !gone {
			err = p.server.Rooms.Refresh(context.Background(), p.room, p.listener)
		}
		if err != nil || gone {
			_ = p.socket.NetConn().Close() // its reader ends
		}
	}
}

// more reports whether something came since it was last asked; if not, writing ends.
func (p *person) more() bool {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.writing, p.again = p.again, false
	return p.writing
}

// together holds frames that are written in one piece, so that the system is called once.
var together = sync.Pool{New: func() any { return new([]byte) }}

func (p *person) send(frames net.Buffers) error {
	if len(frames) == 0 {
		return nil
	}
	conn := p.socket.NetConn()
	_ = conn.SetWriteDeadline(time.Now().Add(writePatience))
	if len(frames) == 1 {
		_, err := conn.Write(frames[0])
		return err
	}
	all, _ := together.Get().(*[]byte)
	for _, f := range frames {
		*all = append(*all, f...)
	}
	_, err := conn.Write(*all)
	if *all = (*all)[:0]; cap(*all) < 1<<20 {
		together.Put(all)
	}
	return err
}

func isClosed(c <-chan struct{}) bool {
	select {
	case <-c:
		return true
	default:
		return false
	}
}
