package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"regexp"
	"runtime"
	"slices"
	"strconv"
	"sync"
	"time"

	"github.com/gorilla/websocket"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table/tabletest"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
)

// latencyTail is the 99th percentile of the time from an action to its answer,
// durable, over 100 rooms of 6 seats at half of full load, against its own median.
func latencyTail(b *bench) (ours, reference float64, unit string, err error) {
	const rooms, seats = 100, 6
	ids, acting := make([]string, rooms), make([]*person, rooms)
	for i := range ids {
		r, err := b.open(shape{}, seats)
		if err != nil {
			return 0, 0, "", err
		}
		people, hangUp, err := b.dialAll(r)
		if err != nil {
			return 0, 0, "", err
		}
		defer hangUp()
		ids[i], acting[i] = r.id, people[0]
		for _, p := range people[1:] {
			go p.listen()
		}
	}
	const full = 3 * time.Second
	done, err := drive(acting, full, 0)
	if err != nil {
		return 0, 0, "", err
	}
	between := time.Duration(float64(full) * rooms / (float64(len(done)) / 2)) // of two actions of one room, at half of that
	took, err := drive(acting, 2*full, between)
	if err != nil {
		return 0, 0, "", err
	}
	slices.Sort(took)
	floor, err := b.bareTail(ids[0], len(took), 2*full)
	if err != nil {
		return 0, 0, "", err
	}
	fmt.Printf("floor latency-tail %.1f ms: the 99th percentile of bare commits of as many rows in the same time; %d acts a second\n", floor*1e3, len(took)/int(2*full/time.Second))
	return took[len(took)*99/100].Seconds() * 1e3, median(took) * 1e3, "ms", nil
}

// bareTail is the 99th percentile, in seconds, of commits of a few rows each, so many rows
// in a span, by one loop that does nothing else.
func (b *bench) bareTail(id string, rows int, span time.Duration) (float64, error) {
	const each = 8
	entries, err := b.store.LastEntries(b.ctx, id, 1)
	if err != nil {
		return 0, err
	}
	var took []time.Duration
	batch, bare := make([]store.Entry, each), store.NewID()
	start, between := time.Now(), span*each/time.Duration(rows)
	for n := 0; n < rows; n += each {
		due := start.Add(between * time.Duration(n/each))
		time.Sleep(time.Until(due))
		for i := range batch {
			batch[i] = entries[0]
			batch[i].Room, batch[i].Request, batch[i].Number = bare, "", int64(n+i+1)
		}
		if err := b.store.Append(b.ctx, batch); err != nil {
			return 0, err
		}
		took = append(took, time.Since(due))
	}
	slices.Sort(took)
	return took[len(took)*99/100].Seconds(), nil
}

// drive acts in all rooms at once for a while, each action some time after the last one
// began, or as soon as that is done, and returns what each took. An action that is late
// counts from when it should have begun.
func drive(acting []*person, span, between time.Duration) ([]time.Duration, error) {
	var mu sync.Mutex
	var all []time.Duration
	var failed error
	var drivers sync.WaitGroup
	start := time.Now()
	for i, p := range acting {
		drivers.Go(func() {
			var own []time.Duration
			due := start.Add(between * time.Duration(i) / time.Duration(len(acting)))
			for n := 0; time.Since(start) < span; n++ {
				if between == 0 {
					due = time.Now()
				}
				time.Sleep(time.Until(due))
				if err := p.act(turn(n)); err != nil {
					mu.Lock()
					failed = err
					mu.Unlock()
					return
				}
				own = append(own, time.Since(due))
				due = due.Add(between)
			}
			mu.Lock()
			all = append(all, own...)
			mu.Unlock()
		})
	}
	drivers.Wait()
	return all, failed
}

// loading is opening a room with a journal of 10,000 entries, against reading those
// rows with one query.
func loading(b *bench) (ours, reference float64, unit string, err error) {
	const entries, every = 10_000, 256 // a snapshot every so many, as rooms make them
	r, err := b.open(shape{}, 4)
	if err != nil {
		return 0, 0, "", err
	}
	id := r.id
	b.stop() // only loading is measured, in this process, where it can be done again and again
	t, last, _, err := b.store.Table(b.ctx, id)
	if err != nil {
		return 0, 0, "", err
	}
	var batch []store.Entry
	told := int64(0)
	for n := last + 1; n <= entries; n++ {
		action, err := steps.Read(turn(int(n)), t, 1)
		if err != nil {
			return 0, 0, "", err
		}
		edits, deeds, refusal := t.Apply(1, action, tabletest.With(chance.Derive(chance.Seed{}, uint64(n), ""), n))
		if refusal != nil {
			return 0, 0, "", fmt.Errorf("entry %d: %s", n, refusal.Text)
		}
		entry := store.Entry{Room: id, Number: n, At: n, Actor: 1, Request: fmt.Sprint(n), Told: told}
		if entry.Edits, err = json.Marshal(edits); err != nil {
			return 0, 0, "", err
		}
		if entry.Deeds, err = json.Marshal(deeds); err != nil {
			return 0, 0, "", err
		}
		told += int64(len(deeds))
		if batch = append(batch, entry); len(batch) == 128 || n == entries || n%every == 0 {
			if err := b.store.Append(b.ctx, batch); err != nil {
				return 0, 0, "", err
			}
			batch = nil
		}
		if n == entries/every*every {
			if err := b.store.Snapshot(b.ctx, id); err != nil {
				return 0, 0, "", err
			}
		}
	}
	var failed error
	opened, read := best(7, func() {
		rooms := room.New(b.store, slog.New(slog.DiscardHandler), room.Options{})
		if _, err := rooms.View(b.ctx, id, room.Who{Seat: 1, Tenure: 2}); err != nil {
			failed = err
		}
		rooms.Close()
	}, func() {
		if rows, err := b.store.Entries(b.ctx, id, 0, entries); err != nil || len(rows) != entries {
			failed = fmt.Errorf("read %d rows: %w", len(rows), err)
		}
	})
	return opened * 1e3, read * 1e3, "ms", failed
}

// roomMemory is the bytes of an idle loaded room of 200 cards with 4 seats connected,
// against the bytes of as many bare sockets' one end.
func roomMemory(b *bench) (ours, reference float64, unit string, err error) {
	const rooms, seats, copies = 200, 4, 17
	before := inUse()
	near, far, stop, err := bareSockets(rooms * seats)
	if err != nil {
		return 0, 0, "", err
	}
	end := (inUse() - before) / 2 // of the two ends of each, one
	for i := range near {
		_, _ = near[i].Close(), far[i].Close()
	}
	stop()

	first, err := b.open(shape{copies: copies}, seats) // what all rooms share is there by then
	if err != nil {
		return 0, 0, "", err
	}
	_, hangUp, err := b.dialAll(first)
	if err != nil {
		return 0, 0, "", err
	}
	defer hangUp()
	empty, err := b.serviceInUse()
	if err != nil {
		return 0, 0, "", err
	}
	for range rooms {
		r, err := b.open(shape{copies: copies}, seats)
		if err != nil {
			return 0, 0, "", err
		}
		people, hangUp, err := b.dialAll(r)
		if err != nil {
			return 0, 0, "", err
		}
		defer hangUp()
		for _, p := range people {
			go p.listen()
		}
	}
	full, err := b.serviceInUse()
	return (full - empty) / rooms, end / rooms, "bytes", err
}

// inUse is the memory in use after all that can go has gone.
func inUse() float64 {
	runtime.GC()
	time.Sleep(200 * time.Millisecond)
	runtime.GC()
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	return float64(m.HeapAlloc + m.StackInuse)
}

var inUseLine = regexp.MustCompile(`(?m)^go_memstats_(?:heap_alloc|stack_inuse)_bytes (\S+)$`)

// serviceInUse is the same of the service.
func (b *bench) serviceInUse() (total float64, err error) {
	var text []byte
	for _, path := range []string{"/debug/pprof/heap?gc=1", "/debug/pprof/heap?gc=1", "/metrics"} {
		time.Sleep(200 * time.Millisecond)
		response, err := http.Get("http://" + b.metrics + path)
		if err != nil {
			return 0, err
		}
		text, err = io.ReadAll(response.Body)
		_ = response.Body.Close()
		if err != nil || response.StatusCode != http.StatusOK {
			return 0, fmt.Errorf("%s: %s: %w", path, response.Status, err)
		}
	}
	found := inUseLine.FindAllSubmatch(text, -1)
	if len(found) != 2 {
		return 0, errors.New("the metrics do not say how much memory is in use")
	}
	for _, one := range found {
		bytes, err := strconv.ParseFloat(string(one[1]), 64)
		if err != nil {
			return 0, err
		}
		total += bytes
	}
	return total, nil
}

// bareSockets connects sockets of the same library that do nothing.
func bareSockets(n int) (near, far []*websocket.Conn, stop func(), err error) {
	var upgrader websocket.Upgrader
	served := make(chan *websocket.Conn)
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, nil, nil, err
	}
	server := &http.Server{Handler: http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if socket, err := upgrader.Upgrade(w, r, nil); err == nil {
			served <- socket
		}
	})}
	go func() { _ = server.Serve(listener) }()
	for range n {
		socket, _, err := websocket.DefaultDialer.Dial("ws://"+listener.Addr().String(), nil)
		if err != nil {
			return nil, nil, nil, err
		}
		near, far = append(near, socket), append(far, <-served)
	}
	return near, far, func() { _ = server.Close() }, nil
}
