package api

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"runtime/debug"
	"sync"
	"time"

	"github.com/gorilla/websocket"

	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
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

// live is the socket of one person at a room: first their hello, then requests
// one way, and the other way the view, changes and answers. The request's own goroutine,
// with all that it holds on to, ends at once.
func (a *API) live(w http.ResponseWriter, r *http.Request) {
	if !a.ownOrigin(r) {
		a.otherPages.Do(func() { // whoever likes can have sockets refused as fast as they ask
			a.named(r.Context()).Warn("a socket of another page was refused; behind a proxy, see --trust-proxy and --public-address", "origin", r.Header.Get("Origin"), "host", r.Host, "from", r.RemoteAddr)
		})
		writeProblem(w, &wire.Problem{Status: 403, Code: "other-origin", Title: "A page of another address",
			Detail: "This socket is for pages of " + r.Host + ", and of addresses that the room's maker allows. If the service stands behind a proxy, its keeper says so with --trust-proxy or --public-address."})
		return
	}
	release, ok := a.greeting.take(map[string]int{addressOf(r.RemoteAddr): hellosOfAddr})
	if !ok {
		writeProblem(w, busyWith(http.StatusTooManyRequests, "Too many sockets that have not said who they are are open"))
		return
	}
	socket, err := upgrader.Upgrade(w, r, nil)
	if err != nil {
		release()
		return // the upgrader has answered
	}
	of := aboutOf(r) // and no more of the request is held on to
	a.serve(socket, of, func() {
		p := func() *person { defer release(); return a.meet(socket, of) }()
		if p != nil {
			a.serve(socket, of, p.stay) // on a small stack, for however long
			return
		}
		_ = socket.Close()
	})
}

// serve does something for a socket beside everything else.
func (a *API) serve(socket *websocket.Conn, of about, what func()) {
	a.sockets.Go(func() {
		defer func() {
			if cause := recover(); cause != nil {
				a.named(noting(context.Background(), of)).Error("a socket failed", "cause", cause, "stack", string(debug.Stack()))
				_ = socket.Close()
			}
		}()
		what()
	})
}

// Wait waits until all sockets have ended, which they do when the rooms close.
func (a *API) Wait(ctx context.Context) error {
	ended := make(chan struct{})
	go func() { a.sockets.Wait(); close(ended) }()
	select {
	case <-ended:
		return nil
	case <-ctx.Done():
		return ctx.Err()
	}
}

// meet lets somebody into a room; nil if they may not.
func (a *API) meet(socket *websocket.Conn, of about) *person {
	socket.SetReadLimit(maxMessage)
	ctx, id := noting(context.Background(), of), of.room
	text, err := firstMessage(socket)
	if err != nil {
		return nil // they left, or said nothing, before they said who they are
	}
	hello, who, err := a.hello(text, id)
	if err != nil {
		a.turnAway(ctx, socket, err)
		return nil
	}
	p := &person{api: a, room: id, who: at(who), socket: socket}
	p.listener = room.NewListener(p.who, p.wake)
	p.listener.Key = string(store.Hash(hello.Key))
	p.begin()
	ctx, cancel := context.WithTimeout(ctx, helloPatience)
	defer cancel()
	if err := a.Rooms.Enter(ctx, id, p.listener, hello); err != nil {
		p.finish()
		a.turnAway(ctx, socket, err)
		return nil
	}
	if who.Seat == 0 {
		if err := a.Store.UsedSpectatorKey(ctx, id, hello.Key, time.Now().UnixMilli()); err != nil {
			a.named(ctx).Warn("noting that a spectator came", "error", err)
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
	here := p.api.people.WithLabelValues(as)
	here.Inc()
	defer here.Dec()
	p.api.peopleNow.Add(1)
	defer p.api.peopleNow.Add(-1)
	p.read(ctx)
	p.api.Rooms.Leave(p.room, p.listener)
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
func (a *API) hello(text []byte, id string) (wire.Hello, store.SeatKey, error) {
	var hello wire.Hello
	if err := json.Unmarshal(text, &hello); err != nil || hello.Type != "hello" {
		return hello, store.SeatKey{}, notJSON(text, `{"type":"hello","key":"…"}`)
	}
	ctx, cancel := context.WithTimeout(context.Background(), helloPatience)
	defer cancel()
	who, err := a.identify(ctx, seat, hello.Key, id)
	return hello, who.seat, err
}

// notJSON answers a message that cannot be read, with how one looks.
func notJSON(text []byte, example string) *wire.Problem {
	if len(text) > 40 {
		text = append(text[:40:40], "…"...)
	}
	return typed(&wire.Problem{Status: 400, Code: "not-understood", Title: "Not understood",
		Detail: fmt.Sprintf("This message is not understood: %q. Send JSON such as %s.", text, example)})
}

// turnAway says why somebody is not let in.
func (a *API) turnAway(ctx context.Context, socket *websocket.Conn, err error) {
	p, ok := a.answerable(ctx, err).(*wire.Problem)
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
	acts, grips, points := p.api.paced.acts.of(of), p.api.paced.grips.of(of), p.api.paced.points.of(of)
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
				p.api.Rooms.Grip(p.room, p.who, g.Cards)
			}
			continue
		}
		if err == nil && act.Type == "point" {
			var at wire.Point
			if json.Unmarshal(text, &at) == nil && points.Allow() {
				p.api.Rooms.Point(p.room, p.who, at)
			}
			continue
		}
		if err != nil || act.Type != "act" {
			p.answer(wire.Settled{ID: act.ID, Problem: notJSON(text, `{"type":"act","id":"1","steps":"draw 2 from weather"}`)})
			continue
		}
		if !acts.Allow() {
			p.answer(wire.Settled{ID: act.ID, Problem: p.api.tooFast()})
			continue
		}
		p.api.Rooms.ActLive(ctx, p.room, p.who, act.Request, func(answer wire.Answer, err error) {
			m := wire.Settled{ID: act.ID, Answer: &answer}
			if err != nil {
				m.Answer = nil
				m.Problem, _ = p.api.answerable(noting(ctx, about{request: act.ID, room: p.room}), err).(*wire.Problem)
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
