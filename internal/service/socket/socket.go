// Package socket is how people are told what happens in a room as it happens: over a socket, both ways, or as server-sent events.
package socket

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http"
	"runtime/debug"
	"sync"
	"sync/atomic"
	"time"

	"github.com/gorilla/websocket"
	"github.com/prometheus/client_golang/prometheus"
	"golang.org/x/time/rate"

	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/service/web"
	"damselfly.example/damselfly/internal/wire"
)

// Bounds of a socket.
const (
	maxMessage    = 128 << 10 // bytes from a client
	helloPatience = 15 * time.Second
	writePatience = 15 * time.Second
	pulse         = 3 * time.Second  // how often a client hears something at least
	silence       = 12 * time.Second // after which a client counts as gone; all answer pings, and most send pulses
)

// Close codes beside the standard ones.
const closedBadKey = 4001

// What is written goes around the library's buffer but for a refusal.
var upgrader = websocket.Upgrader{
	ReadBufferSize: 1 << 10, WriteBufferSize: 1 << 10, WriteBufferPool: &sync.Pool{}, CheckOrigin: anyOrigin, HandshakeTimeout: writePatience,
}

// anyOrigin leaves origins to ownOrigin.
func anyOrigin(*http.Request) bool { return true }

// GonePatience is how long somebody waits for records that are known to be gone.
const GonePatience = time.Second

// Hellos of sockets that have not said who they are.
const (
	hellosAtOnce = 2000
	hellosOfAddr = 64
)

// Options are what sockets speak for.
type Options struct {
	Store     *store.Store
	Rooms     *room.Rooms
	Answers   *web.Answers
	OwnOrigin func(*http.Request) bool // whether the page that asks may
	Acts      int                      // of one person a second, in the long run
	People    *prometheus.GaugeVec     // who are connected, by what as
}

// Server serves the sockets and the events of rooms. Make it with New.
type Server struct {
	Options

	greeting   *web.Shares
	otherPages rate.Sometimes // says that their sockets were refused
	acts       *web.Paces     // of people, over whatever they come
	grips      *web.Paces
	points     *web.Paces
	people     atomic.Int64
	sockets    sync.WaitGroup // those that are served
}

// New serves nobody yet.
func New(o Options) *Server {
	pace := func() *web.Paces { return &web.Paces{Each: rate.Limit(o.Acts), AtOnce: 3 * o.Acts} }
	return &Server{
		Options: o, greeting: &web.Shares{Most: hellosAtOnce}, otherPages: rate.Sometimes{Interval: time.Minute},
		acts: pace(), grips: pace(), points: pace(),
	}
}

// Connected is how many people are connected.
func (s *Server) Connected() int { return int(s.people.Load()) }

// Paced refuses one act more of who sits at a room, where they do too many.
func (s *Server) Paced(id string, who room.Who) error {
	if !s.acts.Of(seatPace(id, who)).Allow() {
		return s.TooFast()
	}
	return nil
}

// TooFast says that somebody does too much at once.
func (s *Server) TooFast() *wire.Problem {
	return wire.TooFast.With(wire.Problem{After: 1,
		Detail:  fmt.Sprintf("You sent more than %d actions a second. Wait a moment.", s.Acts),
		Numbers: map[string]int{"actions-a-second": s.Acts}})
}

func (s *Server) named(ctx context.Context) *slog.Logger { return web.Named(ctx, s.Answers.Log) }

// Live is the socket of one person at a room: first their hello, then requests
// one way, and the other way the view, changes and answers. The request's own goroutine,
// with all that it holds on to, ends at once.
func (s *Server) Live(w http.ResponseWriter, r *http.Request) {
	if !s.OwnOrigin(r) {
		s.otherPages.Do(func() { // whoever likes can have sockets refused as fast as they ask
			s.named(r.Context()).Warn("a socket of another page was refused; behind a proxy, see --trust-proxy and --public-address", "origin", r.Header.Get("Origin"), "host", r.Host, "from", r.RemoteAddr)
		})
		web.WriteProblem(w, wire.OtherOrigin.With(wire.Problem{Detail: "This socket is for pages of " + r.Host + ", and of addresses that the room's maker allows. If the service stands behind a proxy, its keeper says so with --trust-proxy or --public-address."}))
		return
	}
	release, ok := s.greeting.Take(map[string]int{web.AddressOf(r.RemoteAddr): hellosOfAddr})
	if !ok {
		web.WriteProblem(w, web.Busy(http.StatusTooManyRequests, "Too many sockets that have not said who they are are open"))
		return
	}
	socket, err := upgrader.Upgrade(w, r, nil)
	if err != nil {
		release()
		return // the upgrader has answered
	}
	of := web.AboutOf(r) // and no more of the request is held on to
	s.serve(socket, of, func() {
		p := func() *person { defer release(); return s.meet(socket, of) }()
		if p != nil {
			s.serve(socket, of, p.stay) // on a small stack, for however long
			return
		}
		_ = socket.Close()
	})
}

// serve does something for a socket beside everything else.
func (s *Server) serve(socket *websocket.Conn, of web.About, what func()) {
	s.sockets.Go(func() {
		defer func() {
			if cause := recover(); cause != nil {
				s.named(web.Noting(context.Background(), of)).Error("a socket failed", "cause", cause, "stack", string(debug.Stack()))
				_ = socket.Close()
			}
		}()
		what()
	})
}

// Wait waits until all sockets have ended, which they do when the rooms close.
func (s *Server) Wait(ctx context.Context) error {
	ended := make(chan struct{})
	go func() { s.sockets.Wait(); close(ended) }()
	select {
	case <-ended:
		return nil
	case <-ctx.Done():
		return ctx.Err()
	}
}

// meet lets somebody into a room; nil if they may not.
func (s *Server) meet(socket *websocket.Conn, of web.About) *person {
	socket.SetReadLimit(maxMessage)
	ctx, id := web.Noting(context.Background(), of), of.Room
	text, err := firstMessage(socket)
	if err != nil {
		return nil // they left, or said nothing, before they said who they are
	}
	hello, who, err := s.hello(text, id)
	if err != nil {
		s.turnAway(ctx, socket, err)
		return nil
	}
	p := &person{server: s, room: id, who: At(who), socket: socket}
	p.listener = room.NewListener(p.who, p.wake)
	p.listener.Key = string(store.Hash(hello.Key))
	p.begin()
	ctx, cancel := context.WithTimeout(ctx, helloPatience)
	defer cancel()
	if err := s.Rooms.Enter(ctx, id, p.listener, hello); err != nil {
		p.finish()
		s.turnAway(ctx, socket, err)
		return nil
	}
	if who.Seat == 0 {
		if err := s.Store.UsedSpectatorKey(ctx, id, hello.Key, time.Now().UnixMilli()); err != nil {
			s.named(ctx).Warn("noting that a spectator came", "error", err)
		}
	}
	return p
}

// stay hears a person to the end.
func (p *person) stay() {
	defer p.socket.Close()
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	as := "player"
	if p.who.Seat == 0 {
		as = "spectator"
	}
	here := p.server.People.WithLabelValues(as)
	here.Inc()
	defer here.Dec()
	p.server.people.Add(1)
	defer p.server.people.Add(-1)
	p.read(ctx)
	p.server.Rooms.Leave(p.room, p.listener)
	<-p.listener.Gone()
	p.finish()
}

// firstMessage waits a while for what somebody says first.
func firstMessage(socket *websocket.Conn) ([]byte, error) {
	_ = socket.SetReadDeadline(time.Now().Add(helloPatience))
	_, text, err := socket.ReadMessage()
	return text, err
}

// hello checks the first message.
func (s *Server) hello(text []byte, id string) (wire.Hello, store.SeatKey, error) {
	var hello wire.Hello
	if err := json.Unmarshal(text, &hello); err != nil || hello.Type != "hello" {
		return hello, store.SeatKey{}, notJSON(text, `{"type":"hello","key":"…"}`)
	}
	ctx, cancel := context.WithTimeout(context.Background(), helloPatience)
	defer cancel()
	who, err := web.SeatOf(ctx, s.Store, hello.Key, id)
	return hello, who, err
}

// At is where a key lets its holder sit.
func At(k store.SeatKey) room.Who { return room.Who{Seat: k.Seat, Tenure: k.Tenure} }

// notJSON answers a message that cannot be read, with how one looks.
func notJSON(text []byte, example string) *wire.Problem {
	if len(text) > 40 {
		text = append(text[:40:40], "…"...)
	}
	return wire.Unreadable.With(wire.Problem{Detail: fmt.Sprintf("This message is not understood: %q. Send JSON such as %s.", text, example)})
}

// turnAway says why somebody is not let in.
func (s *Server) turnAway(ctx context.Context, socket *websocket.Conn, err error) {
	p, ok := s.Answers.Answerable(ctx, err).(*wire.Problem)
	if !ok || p.Status == 500 {
		return
	}
	_ = socket.SetWriteDeadline(time.Now().Add(writePatience))
	_ = socket.WriteMessage(websocket.TextMessage, wire.Write(wire.Settled{Problem: p}))
	code := websocket.CloseTryAgainLater
	if p.Status < 500 {
		code = closedBadKey
	}
	_ = socket.WriteControl(websocket.CloseMessage, websocket.FormatCloseMessage(code, p.Code), time.Now().Add(writePatience))
}

// read takes requests until the socket ends.
func (p *person) read(ctx context.Context) {
	heard := func(string) error { return p.socket.SetReadDeadline(time.Now().Add(silence)) }
	p.socket.SetPongHandler(heard)
	_ = heard("")
	of := p.pace()
	acts, grips, points := p.server.acts.Of(of), p.server.grips.Of(of), p.server.points.Of(of)
	for {
		_, text, err := p.socket.ReadMessage()
		if err != nil {
			return
		}
		_ = heard("")
		var act wire.Act
		err = json.Unmarshal(text, &act)
		if err == nil && act.Type == "pulse" {
			continue // they live
		}
		if err == nil && act.Type == "grip" {
			var g wire.Grip
			if json.Unmarshal(text, &g) == nil && grips.Allow() {
				p.server.Rooms.Grip(p.room, p.who, g.Cards)
			}
			continue
		}
		if err == nil && act.Type == "point" {
			var at wire.Point
			if json.Unmarshal(text, &at) == nil && points.Allow() {
				p.server.Rooms.Point(p.room, p.who, at)
			}
			continue
		}
		if err != nil || act.Type != "act" {
			p.answer(wire.Settled{ID: act.ID, Problem: notJSON(text, `{"type":"act","id":"1","steps":"draw 2 from weather"}`)})
			continue
		}
		if !acts.Allow() {
			p.answer(wire.Settled{ID: act.ID, Problem: p.server.TooFast()})
			continue
		}
		p.server.Rooms.ActLive(ctx, p.room, p.who, act.Request, func(answer wire.Answer, err error) {
			m := wire.Settled{ID: act.ID, Answer: &answer}
			if err != nil {
				m.Answer = nil
				m.Problem, _ = p.server.Answers.Answerable(web.Noting(ctx, web.About{Request: act.ID, Room: p.room}), err).(*wire.Problem)
			}
			p.answer(m)
		})
	}
}

// pace names whose pace it is: a seat's, however many windows it has; of whoever watches
// their key's.
func (p *person) pace() string {
	if p.who.Seat > 0 {
		return seatPace(p.room, p.who)
	}
	return p.room + " " + p.listener.Key
}

func seatPace(id string, who room.Who) string { return fmt.Sprint(id, " ", who.Seat, " ", who.Tenure) }
