package main

import (
	"bytes"
	"compress/gzip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/performance"
	"github.com/chromedp/chromedp"
	"github.com/gorilla/websocket"

	"damselfly.example/damselfly/internal/wire"
)

var asset = regexp.MustCompile(`(?:src|href)="\.(/assets/[^"]+)"`)

// firstPaint is what the browser gets before the table shows, pictures left out, over
// React and React-Bootstrap alone; both compressed, in bytes.
func firstPaint(b *bench) (ours, reference float64, unit string, err error) {
	get := func(path string) (float64, []byte, error) {
		r, err := http.NewRequestWithContext(b.ctx, http.MethodGet, "http://"+b.address+path, nil)
		if err != nil {
			return 0, nil, err
		}
		r.Header.Set("Accept-Encoding", "gzip") // and so it is not unpacked here
		response, err := http.DefaultClient.Do(r)
		if err != nil {
			return 0, nil, err
		}
		defer response.Body.Close()
		body, err := io.ReadAll(response.Body)
		return float64(len(body)), body, err
	}
	r, err := b.open(shape{}, 4)
	if err != nil {
		return 0, 0, "", err
	}
	page, body, err := get("/room/" + r.id)
	if err != nil {
		return 0, 0, "", err
	}
	if unpacked, err := gzip.NewReader(bytes.NewReader(body)); err == nil {
		if body, err = io.ReadAll(unpacked); err != nil {
			return 0, 0, "", err
		}
	}
	ours = page
	parts := asset.FindAllStringSubmatch(string(body), -1)
	if len(parts) < 2 {
		return 0, 0, "", fmt.Errorf("the page names no script and no style:\n%s", body)
	}
	for _, path := range append(parts, []string{"", "/api/rooms/" + r.id}) {
		size, _, err := get(path[1])
		if err != nil {
			return 0, 0, "", err
		}
		ours += size
	}
	view, err := b.wholeView(r)
	if err != nil {
		return 0, 0, "", err
	}
	ours += float64(packed(view)) // the socket brings it
	reference, err = b.referencePage()
	return ours, reference, "bytes", err
}

// wholeView is what the socket of the first seat brings first.
func (b *bench) wholeView(r openedRoom) ([]byte, error) {
	socket, _, err := websocket.DefaultDialer.Dial("ws://"+b.address+"/api/rooms/"+r.id+"/live", nil)
	if err != nil {
		return nil, err
	}
	defer socket.Close()
	if err := socket.WriteJSON(wire.Hello{Type: "hello", Key: r.keys[0]}); err != nil {
		return nil, err
	}
	return (&person{socket: socket}).until(`{"type":"view"`)
}

func packed(text []byte) int {
	var out bytes.Buffer
	w := gzip.NewWriter(&out)
	_, _ = w.Write(text)
	_ = w.Close()
	return out.Len()
}

// referencePage builds the reference and adds up its files, compressed.
func (b *bench) referencePage() (float64, error) {
	out := filepath.Join(b.folder, "reference")
	source, err := filepath.Abs("bench/reference")
	if err != nil {
		return 0, err
	}
	// Beside the console's packages, so that they are found.
	inside := filepath.Join("console", ".reference")
	if err := os.CopyFS(inside, os.DirFS(source)); err != nil {
		return 0, err
	}
	defer os.RemoveAll(inside)
	build := exec.CommandContext(b.ctx, "npx", "vite", "build", ".reference", "--outDir", out, "--emptyOutDir", "--logLevel", "error")
	build.Dir, build.Stderr = "console", os.Stderr
	if err := build.Run(); err != nil {
		return 0, fmt.Errorf("building the reference: %w", err)
	}
	total := 0
	err = fs.WalkDir(os.DirFS(out), ".", func(name string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() {
			return err
		}
		text, err := os.ReadFile(filepath.Join(out, name))
		total += packed(text)
		return err
	})
	return float64(total), err
}

// The large table of the design: 60 zones, 800 cards in view, six people.
const (
	crowdZones  = 60
	crowdCards  = 13 // in each zone
	crowdPeople = 6
	crowdTime   = 10 * time.Second
)

// longTasks counts the tasks of over 50 ms that a browser has at a large table while
// five others move pointers, drag and play; the reference is the seconds it is watched.
func longTasks(b *bench) (ours, reference float64, unit string, err error) {
	room, err := b.crowd(crowdZones)
	if err != nil {
		return 0, 0, "", err
	}
	page, cancel, err := b.seatedAt(room, crowdZones*crowdCards)
	if err != nil {
		return 0, 0, "", err
	}
	defer cancel()
	_, err = chromedp.Run(page, chromedp.Evaluate[string]("(window.long = 0, window.longest = 0, new PerformanceObserver((l) => { for (const e of l.getEntries()) { window.long++; window.longest = Math.max(window.longest, e.duration) } }).observe({ type: 'longtask' }), '')"))
	if err != nil {
		return 0, 0, "", err
	}
	if err := b.stir(room); err != nil {
		return 0, 0, "", err
	}
	counted, err := chromedp.Run(page, chromedp.Evaluate[[]float64]("[window.long, window.longest]"))
	if err != nil {
		return 0, 0, "", err
	}
	fmt.Fprintf(os.Stderr, "bench: the longest task took %.0f ms\n", counted[1])
	return counted[0], crowdTime.Seconds(), "", nil
}

// consoleFlat is the main thread's time for a change of one card at a table of 780 cards
// in view, against one of 78.
func consoleFlat(b *bench) (ours, reference float64, unit string, err error) {
	if ours, err = b.changeAt(crowdZones); err != nil {
		return 0, 0, "", err
	}
	reference, err = b.changeAt(crowdZones / 10)
	return ours, reference, "ms", err
}

// changeAt is the main thread's time for a change at a table of some zones full of cards,
// in milliseconds, without what a page takes while nothing changes.
func (b *bench) changeAt(zones int) (float64, error) {
	const changes, between = 60, 60 * time.Millisecond
	room, err := b.crowd(zones)
	if err != nil {
		return 0, err
	}
	page, cancel, err := b.seatedAt(room, zones*crowdCards)
	if err != nil {
		return 0, err
	}
	defer cancel()
	if _, err := chromedp.Call(page, performance.Enable, performance.EnableParams{}); err != nil {
		return 0, err
	}
	busy := func(do func() error) (float64, error) {
		before, err := taskTime(page)
		if err != nil {
			return 0, err
		}
		for range changes {
			if err := do(); err != nil {
				return 0, err
			}
			time.Sleep(between)
		}
		after, err := taskTime(page)
		return after - before, err
	}
	other, err := b.dial(room.id, room.keys[1])
	if err != nil {
		return 0, err
	}
	defer other.socket.Close()
	idle, err := busy(func() error { return nil })
	if err != nil {
		return 0, err
	}
	busier, err := busy(func() error {
		return other.act("flip 1 of row3")
	})
	return (busier - idle) / changes * 1e3, err
}

// taskTime is for how long the page's main thread was busy so far, in seconds.
func taskTime(page context.Context) (float64, error) {
	all, err := chromedp.Call(page, performance.GetMetrics, cdp.Empty{})
	if err != nil {
		return 0, err
	}
	for _, m := range all.Metrics {
		if m.Name == "TaskDuration" {
			return m.Value, nil
		}
	}
	return 0, errors.New("the browser does not say how long its tasks took")
}

// seatedAt opens a browser at seat 1 of a room and waits until so many cards are in view.
func (b *bench) seatedAt(room openedRoom, cards int) (page context.Context, cancel context.CancelFunc, err error) {
	page, cancel, err = b.browser()
	if err != nil {
		return nil, nil, err
	}
	seated, err := json.Marshal(wire.Joined{Key: room.keys[0], Room: room.id, Seat: 1, Name: "Player 1"})
	if err == nil {
		err = chromedp.Do(page, chromedp.EmulateViewport(1280, 800), chromedp.Navigate("http://"+b.address+"/"))
	}
	if err == nil {
		_, err = chromedp.Run(page, chromedp.Evaluate[string](fmt.Sprintf("(localStorage.setItem('damselfly seat %s', %q), '')", room.id, seated)))
	}
	if err == nil {
		err = chromedp.Do(page, chromedp.Navigate("http://"+b.address+"/room/"+room.id), chromedp.WaitVisible(chromedp.CSS("[data-mat]")))
	}
	if err == nil {
		err = waitFor(page, fmt.Sprintf("document.querySelectorAll('[data-handle]').length >= %d && [...document.images].every((i) => i.complete)", cards))
	}
	if err != nil {
		cancel()
		return nil, nil, err
	}
	return page, cancel, nil
}

func waitFor(page context.Context, condition string) error {
	for deadline := time.Now().Add(time.Minute); time.Now().Before(deadline); time.Sleep(100 * time.Millisecond) {
		is, err := chromedp.Run(page, chromedp.Evaluate[bool](condition))
		if err != nil {
			return err
		}
		if is {
			return nil
		}
	}
	return fmt.Errorf("the page never came to: %s", condition)
}

func (b *bench) browser() (context.Context, context.CancelFunc, error) {
	flags := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.NoSandbox, chromedp.DisableGPU,
		chromedp.Flag("disable-quic", true), chromedp.Flag("disable-background-networking", true),
		chromedp.Flag("disable-component-update", true), chromedp.Flag("disable-sync", true), chromedp.WindowSize(1280, 800))
	allocator, cancel := chromedp.NewExecAllocator(b.ctx, flags...)
	page, stop := chromedp.NewContext(allocator)
	return page, func() { stop(); cancel() }, nil
}

// crowd opens a room with many zones full of cards in view.
func (b *bench) crowd(zones int) (openedRoom, error) {
	laid := ""
	for i := range zones {
		laid += fmt.Sprintf("    - {key: row%d, kind: row, at: [%d, %d], size: [108, 70]}\n", i, 100+i%10*115, 40+i/10*110)
	}
	room, err := b.open(shape{copies: 75, zones: laid}, crowdPeople)
	if err != nil {
		return openedRoom{}, err
	}
	first, err := b.dial(room.id, room.keys[0])
	if err != nil {
		return openedRoom{}, err
	}
	defer first.socket.Close()
	for i := range zones {
		if err := first.act(fmt.Sprintf("turn %d of weather face up onto row%d", crowdCards, i)); err != nil {
			return openedRoom{}, err
		}
	}
	return room, nil
}

// stir has all but the first seat point, drag and play for a while.
func (b *bench) stir(room openedRoom) error {
	failures := make(chan error, crowdPeople)
	for seat := 2; seat <= crowdPeople; seat++ {
		p, err := b.dial(room.id, room.keys[seat-1])
		if err != nil {
			return err
		}
		go func() { failures <- play(p.socket, seat) }()
	}
	for seat := 2; seat <= crowdPeople; seat++ {
		if err := <-failures; err != nil {
			return err
		}
	}
	return nil
}

// play points ten times a second and moves a card every third of one.
func play(socket *websocket.Conn, seat int) error {
	defer socket.Close()
	go func() {
		for {
			if _, _, err := socket.ReadMessage(); err != nil {
				return
			}
		}
	}()
	time.Sleep(time.Duration(seat) * 17 * time.Millisecond) // people do not keep step
	tick := time.NewTicker(100 * time.Millisecond)
	defer tick.Stop()
	for n := range int(crowdTime / (100 * time.Millisecond)) {
		<-tick.C
		at := wire.Point{Type: "point", X: float64((n*37 + seat*150) % 1200), Y: float64((n*23 + seat*90) % 700)}
		if err := socket.WriteJSON(at); err != nil {
			return err
		}
		if (n+seat)%3 != 0 {
			continue
		}
		from := (n*7 + seat*11) % crowdZones
		steps := fmt.Sprintf("move top 1 of row%d to row%d", from, (from+17)%crowdZones)
		if err := socket.WriteJSON(wire.Act{Type: "act", Request: wire.Request{ID: fmt.Sprint(seat, "-", n), Steps: steps}}); err != nil {
			return err
		}
	}
	return nil
}
