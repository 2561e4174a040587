package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/gorilla/websocket"

	"damselfly.example/damselfly/console"
	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service"
	"damselfly.example/damselfly/internal/service/api"
	"damselfly.example/damselfly/internal/service/mariadb"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// bench is a service in this process, with a database of its own.
type bench struct {
	ctx     context.Context
	folder  string
	maria   *mariadb.Server
	store   *store.Store
	rooms   *room.Rooms
	server  *http.Server
	address string
	made    kit.Edition
}

// idleAfter is after how long rooms of former measures are put away.
const idleAfter = 15 * time.Second

func newBench(ctx context.Context) (*bench, error) {
	folder, err := os.MkdirTemp("", "damselfly-bench-")
	if err != nil {
		return nil, err
	}
	service.Tune(ctx)
	b := &bench{ctx: ctx, folder: folder}
	if b.maria, err = mariadb.Start(ctx, filepath.Join(folder, "mariadb"), os.Stderr); err != nil {
		return nil, err
	}
	if b.store, err = store.Open(ctx, b.maria.DSN("damselfly")); err != nil {
		return nil, err
	}
	log := slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelWarn}))
	b.rooms = room.New(b.store, log, room.Options{IdleAfter: idleAfter})
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, err
	}
	b.address = listener.Addr().String()
	b.server = &http.Server{Handler: api.New(api.Options{Store: b.store, Rooms: b.rooms, Log: log, Console: console.Files()})}
	go func() { _ = b.server.Serve(listener) }()
	k, err := kit.Read(demo.Weather())
	if err != nil {
		return nil, err
	}
	result, err := k.Make(kit.Making{})
	if err != nil {
		return nil, err
	}
	b.made = result.Edition
	return b, nil
}

func (b *bench) close() {
	b.rooms.Close()
	_ = b.server.Close()
	_ = b.store.Close()
	_ = b.maria.Stop()
	_ = os.RemoveAll(b.folder)
}

// open opens a room with all its seats taken.
func (b *bench) open(seats int) (string, error) {
	made := b.made
	made.Seats = seats
	record, err := b.rooms.Open(b.ctx, store.Room{Maker: "bench", Name: "bench", Seats: seats, Spectators: true}, made)
	if err != nil {
		return "", err
	}
	for seat := table.Seat(1); int(seat) <= seats; seat++ {
		name := fmt.Sprint("Player ", seat)
		if _, err := b.rooms.Sit(b.ctx, record.ID, room.Seating{Seat: seat, Name: name, Salt: "salt", Key: store.Hash(keyOf(record.ID, seat))}); err != nil {
			return "", err
		}
	}
	return record.ID, nil
}

// whoAt is who sits at a seat of a room that open opened: its first entry laid the
// table, and each seat was taken in the next.
func whoAt(seat table.Seat) room.Who { return room.Who{Seat: seat, Tenure: uint64(seat) + 1} }

func keyOf(room string, seat table.Seat) string { return fmt.Sprint(room, " ", seat) }

// dial connects a seat and waits for its first view.
func (b *bench) dial(room string, seat table.Seat) (*websocket.Conn, error) {
	socket, _, err := websocket.DefaultDialer.Dial("ws://"+b.address+"/api/rooms/"+room+"/live", nil)
	if err != nil {
		return nil, err
	}
	if err := socket.WriteJSON(wire.Hello{Type: "hello", Key: keyOf(room, seat)}); err != nil {
		return nil, err
	}
	return socket, readUntil(socket, `"type":"view"`)
}

// dialAll connects all seats of a room.
func (b *bench) dialAll(room string, seats int) (sockets []*websocket.Conn, hangUp func(), err error) {
	hangUp = func() {
		for _, socket := range sockets {
			_ = socket.Close()
		}
	}
	for seat := 1; seat <= seats; seat++ {
		socket, err := b.dial(room, table.Seat(seat))
		if err != nil {
			hangUp()
			return nil, nil, err
		}
		sockets = append(sockets, socket)
	}
	return sockets, hangUp, nil
}

// readUntil reads messages up to one with a text in it.
func readUntil(socket *websocket.Conn, text string) error {
	for {
		_ = socket.SetReadDeadline(time.Now().Add(30 * time.Second))
		_, message, err := socket.ReadMessage()
		if err != nil {
			return err
		}
		if bytes.Contains(message, []byte(text)) {
			return nil
		}
	}
}

// turn is what a player does over and over: cards go through hands, which
// others may not see into, and come back.
func turn(n int) wire.Request {
	if n%2 == 0 {
		return wire.Request{Steps: "draw from weather to my hand"}
	}
	return wire.Request{Steps: "move all of my hand under weather"}
}

// fanout is deliveries a second (an entry to one who listens) in 100 rooms of 6 seats,
// hands hidden and entries journaled, against bare sockets to which one loop pushes as
// many frames of 1,000 bytes.
func fanout(b *bench) (ours, reference float64, unit string, err error) {
	const rooms, seats, acting, span = 100, 6, 3, 5 * time.Second
	var received atomic.Int64
	var readers sync.WaitGroup
	var sockets []*websocket.Conn
	ids := make([]string, rooms)
	for i := range ids {
		if ids[i], err = b.open(seats); err != nil {
			return 0, 0, "", err
		}
		for seat := table.Seat(1); int(seat) <= seats; seat++ {
			socket, err := b.dial(ids[i], seat)
			if err != nil {
				return 0, 0, "", err
			}
			sockets = append(sockets, socket)
			readers.Go(func() { countMessages(socket, &received) })
		}
	}
	time.Sleep(300 * time.Millisecond)
	received.Store(0)
	start := time.Now()
	var players sync.WaitGroup
	failed := make(chan error, 4*rooms)
	for i := range rooms * acting { // several people act at once
		players.Go(func() {
			for n := 0; time.Since(start) < span; n++ {
				if _, err := b.rooms.Act(b.ctx, ids[i%rooms], whoAt(table.Seat(i/rooms+1)), turn(n)); err != nil {
					failed <- err
					return
				}
			}
		})
	}
	players.Wait()
	elapsed := time.Since(start)
	count := received.Load()
	for _, socket := range sockets {
		_ = socket.Close()
	}
	readers.Wait()
	if len(failed) > 0 {
		return 0, 0, "", <-failed
	}
	ours = float64(count) / elapsed.Seconds()
	reference, err = barePush(len(sockets), int(count), 1000)
	return ours, reference, "deliveries/s", err
}

func countMessages(socket *websocket.Conn, received *atomic.Int64) {
	_ = socket.SetReadDeadline(time.Now().Add(2 * time.Minute))
	for {
		_, r, err := socket.NextReader()
		if err != nil {
			return
		}
		if _, err := io.Copy(io.Discard, r); err != nil {
			return
		}
		received.Add(1)
	}
}

// barePush pushes count messages of a size over bare sockets of the same
// library by one loop, and returns messages received a second.
func barePush(sockets, count, size int) (float64, error) {
	near, far, stop, err := bareSockets(sockets)
	if err != nil {
		return 0, err
	}
	defer stop()
	var received atomic.Int64
	var readers sync.WaitGroup
	for _, socket := range near {
		readers.Go(func() { countMessages(socket, &received) })
	}
	message := []byte(strings.Repeat("x", size))
	start := time.Now()
	for i := range count {
		if err := far[i%sockets].WriteMessage(websocket.TextMessage, message); err != nil {
			return 0, err
		}
	}
	for deadline := time.Now().Add(time.Minute); received.Load() < int64(count); time.Sleep(200 * time.Microsecond) {
		if time.Now().After(deadline) {
			return 0, errors.New("the bare sockets lost messages")
		}
	}
	elapsed := time.Since(start)
	for i := range near {
		_, _ = near[i].Close(), far[i].Close()
	}
	readers.Wait()
	return float64(count) / elapsed.Seconds(), nil
}

// journaled is durable actions a second over 1,000 rooms, against the same
// rows inserted in batches of 128 by one loop.
func journaled(b *bench) (ours, reference float64, unit string, err error) {
	const rooms, each = 1000, 12
	ids := make([]string, rooms)
	var openers sync.WaitGroup
	failed := make(chan error, 4*rooms)
	for worker := range 8 {
		openers.Go(func() {
			for i := worker; i < rooms; i += 8 {
				id, err := b.open(2)
				if err != nil {
					failed <- err
					return
				}
				ids[i] = id
			}
		})
	}
	openers.Wait()
	if len(failed) > 0 {
		return 0, 0, "", <-failed
	}
	start := time.Now()
	var players sync.WaitGroup
	for _, id := range ids {
		players.Go(func() {
			for n := range each {
				if _, err := b.rooms.Act(b.ctx, id, whoAt(1), turn(n)); err != nil {
					failed <- err
					return
				}
			}
		})
	}
	players.Wait()
	ours = float64(rooms*each) / time.Since(start).Seconds()
	if len(failed) > 0 {
		return 0, 0, "", <-failed
	}
	var rows []store.Entry
	for _, id := range ids {
		reference := store.NewID()
		entries, err := b.store.LastEntries(b.ctx, id, each)
		if err != nil {
			return 0, 0, "", err
		}
		for _, e := range entries {
			e.Room = reference
			rows = append(rows, e)
		}
	}
	start = time.Now()
	for i := 0; i < len(rows); i += 128 {
		if err := b.store.Append(b.ctx, rows[i:min(i+128, len(rows))]); err != nil {
			return 0, 0, "", err
		}
	}
	return ours, float64(len(rows)) / time.Since(start).Seconds(), "entries/s", nil
}

// latency is the median time from an action sent to the last of 6 seats told,
// durable, on an idle service, against one single-row commit and one bare
// socket round trip.
func latency(b *bench) (ours, reference float64, unit string, err error) {
	const seats, times = 6, 200
	id, err := b.open(seats)
	if err != nil {
		return 0, 0, "", err
	}
	sockets, hangUp, err := b.dialAll(id, seats)
	if err != nil {
		return 0, 0, "", err
	}
	defer hangUp()
	var took []time.Duration
	for n := range times {
		request := wire.Request{ID: fmt.Sprint(n), Steps: "shuffle weather"}
		start := time.Now()
		if err := sockets[n%seats].WriteJSON(wire.Act{Type: "act", Request: request}); err != nil {
			return 0, 0, "", err
		}
		for _, socket := range sockets {
			if err := readUntil(socket, `"type":"changes"`); err != nil {
				return 0, 0, "", err
			}
		}
		took = append(took, time.Since(start))
		time.Sleep(60 * time.Millisecond) // an idle service, and within the pace of a person
	}
	entries, err := b.store.LastEntries(b.ctx, id, 1)
	if err != nil {
		return 0, 0, "", err
	}
	commit, err := b.singleCommits(entries[0], times)
	if err != nil {
		return 0, 0, "", err
	}
	trip, err := roundTrip(times)
	return median(took) * 1e3, (commit + trip) * 1e3, "ms", err
}

// flood is the time of another's act while one person sends points and grips as fast as
// their socket takes them, against the same act in quiet.
func flood(b *bench) (ours, reference float64, unit string, err error) {
	const seats, times = 3, 100
	id, err := b.open(seats)
	if err != nil {
		return 0, 0, "", err
	}
	sockets, hangUp, err := b.dialAll(id, seats)
	if err != nil {
		return 0, 0, "", err
	}
	defer hangUp()
	go drain(sockets[1])
	acts := func() (float64, error) {
		var took []time.Duration
		for n := range times {
			start := time.Now()
			act := wire.Act{Type: "act", Request: wire.Request{ID: fmt.Sprint(start.UnixNano(), n), Steps: "shuffle weather"}}
			if err := sockets[0].WriteJSON(act); err != nil {
				return 0, err
			}
			if err := readUntil(sockets[0], `"id":"`+act.ID+`"`); err != nil {
				return 0, err
			}
			took = append(took, time.Since(start))
			time.Sleep(60 * time.Millisecond)
		}
		return median(took), nil
	}
	quiet, err := acts()
	if err != nil {
		return 0, 0, "", err
	}
	stop := make(chan struct{})
	go func() {
		for n := 0; ; n++ {
			select {
			case <-stop:
				return
			default:
			}
			if sockets[2].WriteJSON(wire.Point{Type: "point", X: float64(n % 500), Y: 100}) != nil || sockets[2].WriteJSON(wire.Grip{Type: "grip"}) != nil {
				return
			}
			if n%20 == 0 {
				time.Sleep(time.Millisecond) // some 40,000 a second at most
			}
		}
	}()
	go drain(sockets[2])
	flooded, err := acts()
	close(stop)
	return flooded * 1e3, quiet * 1e3, "ms", err
}

// drain reads a socket until it ends.
func drain(socket *websocket.Conn) {
	for {
		if _, _, err := socket.NextReader(); err != nil {
			return
		}
	}
}

// singleCommits is the median time of a commit of one row, in seconds.
func (b *bench) singleCommits(e store.Entry, times int) (float64, error) {
	var took []time.Duration
	e.Room, e.Request = "single", ""
	for n := range times {
		e.Number = int64(n + 1)
		start := time.Now()
		if err := b.store.Append(b.ctx, []store.Entry{e}); err != nil {
			return 0, err
		}
		took = append(took, time.Since(start))
		time.Sleep(10 * time.Millisecond)
	}
	return median(took), nil
}

// roundTrip is the median time of a message to a bare socket and back, in seconds.
func roundTrip(times int) (float64, error) {
	var upgrader websocket.Upgrader
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	server := &http.Server{Handler: http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		socket, err := upgrader.Upgrade(w, r, nil)
		if err != nil {
			return
		}
		for {
			kind, message, err := socket.ReadMessage()
			if err != nil || socket.WriteMessage(kind, message) != nil {
				return
			}
		}
	})}
	go func() { _ = server.Serve(listener) }()
	defer server.Close()
	socket, _, err := websocket.DefaultDialer.Dial("ws://"+listener.Addr().String(), nil)
	if err != nil {
		return 0, err
	}
	defer socket.Close()
	message, err := json.Marshal(wire.Act{Type: "act", Request: wire.Request{ID: "1", Steps: "shuffle weather"}})
	if err != nil {
		return 0, err
	}
	var took []time.Duration
	for range times {
		start := time.Now()
		if err := socket.WriteMessage(websocket.TextMessage, message); err != nil {
			return 0, err
		}
		if _, _, err := socket.ReadMessage(); err != nil {
			return 0, err
		}
		took = append(took, time.Since(start))
		time.Sleep(10 * time.Millisecond)
	}
	return median(took), nil
}
