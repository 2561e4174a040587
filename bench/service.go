package main

import (
	"bytes"
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing/fstest"
	"time"

	"github.com/gorilla/websocket"
	"golang.org/x/sync/errgroup"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/client/kits"
	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/mariadb"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// bench is a database, and the program that people run before it, in a process of its own: a new one for
// each measure, so that none has another's rooms or garbage.
type bench struct {
	ctx     context.Context
	folder  string
	maria   *mariadb.Server
	store   *store.Store // of the same database, for references and for what no client can ask
	key     string       // of the maker whose rooms these are
	address string       // of the service, without http://
	metrics string       // where it is measured
	service *exec.Cmd
	kits    map[string]bool // that are on the shelf
}

// program is what is measured; make bench builds it.
const program = "bin/damselfly"

// makerName is whose rooms the measures open.
const makerName = "Bench"

func newBench(ctx context.Context) (*bench, error) {
	folder, err := os.MkdirTemp("", "damselfly-bench-")
	if err != nil {
		return nil, err
	}
	b := &bench{ctx: ctx, folder: folder, key: rand.Text(), kits: map[string]bool{}}
	if b.maria, err = mariadb.Start(ctx, filepath.Join(folder, "mariadb"), os.Stderr); err != nil {
		return nil, err
	}
	if b.store, err = store.Open(ctx, b.maria.DSN(mariadb.Database)); err != nil {
		return nil, err
	}
	_, err = b.store.AddMaker(ctx, makerName, b.key, time.Now().UnixMilli())
	return b, err
}

// start runs the service anew, with limits that are in no measure's way.
func (b *bench) start() error {
	b.stop()
	metrics, err := freeAddress()
	if err != nil {
		return err
	}
	most := "1000000"
	service := exec.Command(program, "serve", "--json", "--log", "error", "--listen", "127.0.0.1:0", "--metrics", metrics,
		"--database", b.maria.DSN(mariadb.Database), "--data", filepath.Join(b.folder, "data"),
		"--rooms-per-maker", most, "--kits-per-maker", most, "--mebibytes-per-maker", most, "--acts-per-second", most, "--joins-per-minute", most)
	said, err := os.Create(filepath.Join(b.folder, "service.log"))
	if err != nil {
		return err
	}
	defer said.Close()
	service.Stderr = said
	service.Env = append(os.Environ(), "HOME="+b.folder) // no settings of whoever measures
	out, err := service.StdoutPipe()
	if err != nil {
		return err
	}
	if err := service.Start(); err != nil {
		return fmt.Errorf("%s, which make bench builds: %w", program, err)
	}
	b.service, b.metrics = service, metrics
	var answers struct {
		Address string `json:"address"`
	}
	if err := json.NewDecoder(out).Decode(&answers); err != nil {
		text, _ := os.ReadFile(said.Name())
		return fmt.Errorf("the service did not start: %w: %s", err, text)
	}
	go func() { _, _ = io.Copy(io.Discard, out) }()
	b.address = strings.TrimPrefix(answers.Address, "http://")
	return nil
}

// stop ends the service; at once, if it does not end by itself.
func (b *bench) stop() {
	if b.service == nil {
		return
	}
	_ = b.service.Process.Signal(syscall.SIGTERM)
	patience := time.AfterFunc(20*time.Second, func() { _ = b.service.Process.Kill() })
	_ = b.service.Wait()
	patience.Stop()
	b.service = nil
}

func (b *bench) close() {
	b.stop()
	_ = b.store.Close()
	_ = b.maria.Stop()
	_ = os.RemoveAll(b.folder)
}

func freeAddress() (string, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", err
	}
	return l.Addr().String(), l.Close()
}

// host speaks as the maker of the rooms.
func (b *bench) host() *client.Client { return client.New("http://"+b.address, b.key) }

// shape is a kit of weather cards: so many copies of each design, if any are given, and these zones
// beside those that it has.
type shape struct {
	copies int
	zones  string
}

var copiesGiven = regexp.MustCompile(`(, copies: \d+)?(, fields: \{wind)`)

// kit puts a kit of a shape on the shelf, unless it is there, and says what it is called.
func (b *bench) kit(s shape) (string, error) {
	name := fmt.Sprintf("Weather %d %d", s.copies, len(s.zones))
	if b.kits[name] {
		return name, nil
	}
	files, err := s.files(name)
	if err != nil {
		return "", err
	}
	_, err = kits.PutFolder(b.ctx, b.host(), files, kits.Options{Despite: true})
	b.kits[name] = err == nil
	return name, err
}

// files are those of a kit of a shape.
func (s shape) files(name string) (fstest.MapFS, error) {
	files := fstest.MapFS{}
	for _, file := range []string{"kit.yaml", "weather.png"} {
		text, err := fs.ReadFile(demo.Weather(), file)
		if err != nil {
			return nil, err
		}
		files[file] = &fstest.MapFile{Data: text}
	}
	text := string(files["kit.yaml"].Data)
	text = strings.Replace(text, "name: Marsh Post", "name: "+name, 1)
	text = strings.Replace(text, "seats: 5", "seats: 6", 1)
	text = strings.Replace(text, "  zones:\n", "  zones:\n"+s.zones, 1)
	if s.copies > 0 {
		text = copiesGiven.ReplaceAllString(text, fmt.Sprintf(", copies: %d$2", s.copies))
	}
	files["kit.yaml"].Data = []byte(text)
	return files, nil
}

// openedRoom is a room with all its seats taken.
type openedRoom struct {
	id   string
	keys []string // of each seat
}

// open opens a room with a kit of a shape.
func (b *bench) open(s shape, seats int) (openedRoom, error) {
	name, err := b.kit(s)
	if err != nil {
		return openedRoom{}, err
	}
	return b.openWith(name, seats)
}

// openWith opens a room with a kit that is on the shelf.
func (b *bench) openWith(kit string, seats int) (openedRoom, error) {
	record, err := b.host().OpenRoom(b.ctx, client.OpenRoom{Kit: kit, Seats: seats})
	if err != nil {
		return openedRoom{}, err
	}
	r := openedRoom{id: record.ID}
	for seat := 1; seat <= seats; seat++ {
		joined, err := client.New("http://"+b.address, "").Join(b.ctx, record.ID, client.Join{Name: fmt.Sprint("Player ", seat), Seat: table.Seat(seat)})
		if err != nil {
			return openedRoom{}, err
		}
		r.keys = append(r.keys, joined.Key)
	}
	return r, nil
}

// person is somebody at a room, by a socket.
type person struct {
	socket *websocket.Conn
	acts   int
	heard  *atomic.Int64 // changes that they were told, if they are counted
}

// dial connects somebody by the key of a seat, and waits for their first view.
func (b *bench) dial(room, key string) (*person, error) {
	socket, _, err := websocket.DefaultDialer.Dial("ws://"+b.address+"/api/rooms/"+room+"/live", nil)
	if err != nil {
		return nil, err
	}
	p := &person{socket: socket}
	if err := socket.WriteJSON(wire.Hello{Type: "hello", Key: key}); err != nil {
		return nil, err
	}
	_, err = p.until(`{"type":"view"`)
	return p, err
}

// dialAll connects all seats of a room.
func (b *bench) dialAll(r openedRoom) (all []*person, hangUp func(), err error) {
	hangUp = func() {
		for _, p := range all {
			_ = p.socket.Close()
		}
	}
	for _, key := range r.keys {
		p, err := b.dial(r.id, key)
		if err != nil {
			hangUp()
			return nil, nil, err
		}
		all = append(all, p)
	}
	return all, hangUp, nil
}

// silence is for how long a socket may say nothing.
const silence = 30 * time.Second

// until reads messages up to one that begins with a text, and returns that.
func (p *person) until(begins string) ([]byte, error) {
	for {
		_ = p.socket.SetReadDeadline(time.Now().Add(silence))
		_, message, err := p.socket.ReadMessage()
		if err != nil {
			return nil, err
		}
		if p.heard != nil && bytes.HasPrefix(message, []byte(`{"type":"changes"`)) {
			p.heard.Add(1)
		}
		if bytes.HasPrefix(message, []byte(begins)) {
			return message, nil
		}
	}
}

// act does Steps and waits until they are done.
func (p *person) act(steps string) error {
	p.acts++
	if err := p.socket.WriteJSON(wire.Act{Type: "act", Request: wire.Request{ID: fmt.Sprint(p.acts), Steps: steps}}); err != nil {
		return err
	}
	text, err := p.until(`{"type":"answer"`)
	if err != nil {
		return err
	}
	var answer wire.Settled
	if err := json.Unmarshal(text, &answer); err != nil {
		return err
	}
	if answer.Problem != nil {
		return fmt.Errorf("%.40s: %w", steps, answer.Problem)
	}
	return nil
}

// listen reads what they are told until the socket ends.
func (p *person) listen() {
	for {
		if _, err := p.until("never"); err != nil {
			return
		}
	}
}

// turn is what a player does over and over: cards go through hands, which
// others may not see into, and come back.
func turn(n int) string {
	if n%2 == 0 {
		return "draw from weather to my hand"
	}
	return "move all of my hand under weather"
}

// fanout is deliveries a second (an entry to one who listens) in 100 rooms of 6 seats,
// hands hidden and entries journaled, against bare sockets to which one loop pushes as
// many frames of 1,000 bytes.
func fanout(b *bench) (ours, reference float64, unit string, err error) {
	const rooms, seats, acting, span = 100, 6, 3, 5 * time.Second
	var heard atomic.Int64
	var people []*person
	for range rooms {
		r, err := b.open(shape{}, seats)
		if err != nil {
			return 0, 0, "", err
		}
		all, hangUp, err := b.dialAll(r)
		if err != nil {
			return 0, 0, "", err
		}
		defer hangUp()
		people = append(people, all...)
	}
	time.Sleep(300 * time.Millisecond)
	start := time.Now()
	var players sync.WaitGroup
	failed := make(chan error, len(people))
	for i, p := range people {
		p.heard = &heard
		if i%seats >= acting {
			go p.listen()
			continue
		}
		players.Go(func() { // several people of a room act at once
			for n := 0; time.Since(start) < span; n++ {
				if err := p.act(turn(n)); err != nil {
					failed <- err
					return
				}
			}
		})
	}
	players.Wait()
	count, elapsed := heard.Load(), time.Since(start)
	if len(failed) > 0 {
		return 0, 0, "", <-failed
	}
	for _, p := range people {
		_ = p.socket.Close()
	}
	ours = float64(count) / elapsed.Seconds()
	reference, err = barePush(len(people), int(count), 1000)
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

// journaled is durable actions a second over 1,000 rooms with somebody at each, against the
// same rows inserted in batches of 128 by one loop.
func journaled(b *bench) (ours, reference float64, unit string, err error) {
	const rooms, each = 1000, 12
	opened, people := make([]openedRoom, rooms), make([]*person, rooms)
	kit, err := b.kit(shape{}) // sent once, and not by all at once
	if err != nil {
		return 0, 0, "", err
	}
	var openers errgroup.Group
	for worker := range 8 {
		openers.Go(func() error {
			for i := worker; i < rooms; i += 8 {
				r, err := b.openWith(kit, 1)
				if err != nil {
					return err
				}
				opened[i] = r
			}
			return nil
		})
	}
	if err := openers.Wait(); err != nil {
		return 0, 0, "", err
	}
	var comers errgroup.Group // all within seconds: a line on which nobody answers is taken for lost
	comers.SetLimit(32)
	for i, r := range opened {
		comers.Go(func() (err error) {
			people[i], err = b.dial(r.id, r.keys[0])
			return err
		})
	}
	defer func() {
		for _, p := range people {
			if p != nil {
				_ = p.socket.Close()
			}
		}
	}()
	if err := comers.Wait(); err != nil {
		return 0, 0, "", err
	}
	start := time.Now()
	var players errgroup.Group
	for _, p := range people {
		players.Go(func() error {
			for n := range each {
				if err := p.act(turn(n)); err != nil {
					return err
				}
			}
			return nil
		})
	}
	if err := players.Wait(); err != nil {
		return 0, 0, "", err
	}
	ours = float64(rooms*each) / time.Since(start).Seconds()
	var rows []store.Entry
	for _, r := range opened {
		reference := store.NewID()
		entries, err := b.store.LastEntries(b.ctx, r.id, each)
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
	r, err := b.open(shape{}, seats)
	if err != nil {
		return 0, 0, "", err
	}
	people, hangUp, err := b.dialAll(r)
	if err != nil {
		return 0, 0, "", err
	}
	defer hangUp()
	var took []time.Duration
	for n := range times {
		request := wire.Request{ID: fmt.Sprint(n), Steps: "shuffle weather"}
		start := time.Now()
		if err := people[n%seats].socket.WriteJSON(wire.Act{Type: "act", Request: request}); err != nil {
			return 0, 0, "", err
		}
		for _, p := range people {
			if _, err := p.until(`{"type":"changes"`); err != nil {
				return 0, 0, "", err
			}
		}
		took = append(took, time.Since(start))
		time.Sleep(60 * time.Millisecond) // an idle service, and within the pace of a person
	}
	entries, err := b.store.LastEntries(b.ctx, r.id, 1)
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

// times does something so often, with pauses, and returns how long each took.
func times(n int, pause time.Duration, do func() error) ([]time.Duration, error) {
	var took []time.Duration
	for range n {
		start := time.Now()
		if err := do(); err != nil {
			return nil, err
		}
		took = append(took, time.Since(start))
		time.Sleep(pause)
	}
	return took, nil
}

// flood is the time of another's act while one person sends points and grips as fast as
// their socket takes them, against the same act in quiet.
func flood(b *bench) (ours, reference float64, unit string, err error) {
	const seats, each = 3, 100
	r, err := b.open(shape{}, seats)
	if err != nil {
		return 0, 0, "", err
	}
	people, hangUp, err := b.dialAll(r)
	if err != nil {
		return 0, 0, "", err
	}
	defer hangUp()
	go people[1].listen()
	acts := func() (float64, error) {
		took, err := times(each, 60*time.Millisecond, func() error { return people[0].act("shuffle weather") })
		if err != nil {
			return 0, err
		}
		return median(took), nil
	}
	quiet, err := acts()
	if err != nil {
		return 0, 0, "", err
	}
	stop, flooding := make(chan struct{}), people[2].socket
	go func() {
		for n := 0; ; n++ {
			select {
			case <-stop:
				return
			default:
			}
			if flooding.WriteJSON(wire.Point{Type: "point", X: float64(n % 500), Y: 100}) != nil || flooding.WriteJSON(wire.Grip{Type: "grip"}) != nil {
				return
			}
			if n%20 == 0 {
				time.Sleep(time.Millisecond) // some 40,000 a second at most
			}
		}
	}()
	go people[2].listen()
	flooded, err := acts()
	close(stop)
	return flooded * 1e3, quiet * 1e3, "ms", err
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
