package main

import (
	"bytes"
	"context"
	"crypto/rand"
	"encoding/json"
	"fmt"
	"image"
	"image/png"
	"io"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"testing/fstest"
	"time"

	"github.com/chromedp/chromedp"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/client/kits"
	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/wire"
)

// maker adds a maker and speaks as them.
func (b *bench) maker() (*client.Client, error) {
	key := rand.Text()
	_, err := b.store.AddMaker(b.ctx, "bench "+key[:6], key, time.Now().UnixMilli())
	return client.New("http://"+b.address, key), err
}

// artSheet is a sheet of 6 × 4 cards with art of its own.
func artSheet(seed uint32) []byte {
	picture := image.NewNRGBA(image.Rect(0, 0, 1800, 1600))
	for i := 0; i < len(picture.Pix); i += 4 {
		x, y := i/4%1800, i/4/1800
		soft := uint8((uint32(x*x)/700+uint32(y*y)/900)>>3) + uint8(x/300*31+y/400*57)
		seed = seed*1664525 + 1013904223
		picture.Pix[i], picture.Pix[i+1], picture.Pix[i+2], picture.Pix[i+3] = soft+uint8(seed>>30), soft^uint8(seed>>29&3), 255-soft, 255
	}
	var out bytes.Buffer
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&out, picture); err != nil {
		panic(err)
	}
	return out.Bytes()
}

// sheetsKit is a kit of that many sheets, each a deck.
func sheetsKit(name string, sheets int, seed uint32) fstest.MapFS {
	text := fmt.Sprintf("kit: 1\nname: %s\nseats: 2\nsheets:\n", name)
	decks := "decks:\n"
	files := fstest.MapFS{}
	for n := range sheets {
		text += fmt.Sprintf("  s%d: {file: s%d.png, columns: 6, rows: 4}\n", n, n)
		decks += fmt.Sprintf("  s%d: {sheet: s%d}\n", n, n)
		files[fmt.Sprintf("s%d.png", n)] = &fstest.MapFile{Data: artSheet(seed + uint32(n)*7919)}
	}
	files["kit.yaml"] = &fstest.MapFile{Data: []byte(text + decks)}
	return files
}

// again is keeping a kit of 30 sheets of which one changed, against keeping that sheet
// alone.
func again(b *bench) (ours, reference float64, unit string, err error) {
	maker, err := b.maker()
	if err != nil {
		return 0, 0, "", err
	}
	put := func(folder fs.FS) float64 {
		began := time.Now()
		if _, failed := kits.PutFolder(b.ctx, maker, folder, kits.Options{Despite: true}); failed != nil {
			err = failed
		}
		return time.Since(began).Seconds()
	}
	whole := sheetsKit("thirty", 30, 1)
	put(whole)
	var times [2][]float64
	for turn := range uint32(3) {
		whole["s7.png"] = &fstest.MapFile{Data: artSheet(900_000 + turn)}
		times[0] = append(times[0], put(whole))
		times[1] = append(times[1], put(sheetsKit(fmt.Sprint("one ", turn), 1, 800_000+turn)))
	}
	return middle(times[0]), middle(times[1]), "s", err
}

func middle(all []float64) float64 { return slices.Sorted(slices.Values(all))[len(all)/2] }

// revise is the time from a picture that is saved in a watched folder to the new picture in
// two browsers at the room, against putting the same kit alone.
func revise(b *bench) (ours, reference float64, unit string, err error) {
	maker, err := b.maker()
	if err != nil {
		return 0, 0, "", err
	}
	folder := filepath.Join(b.folder, "revised")
	if err := os.CopyFS(folder, demo.Kit()); err != nil {
		return 0, 0, "", err
	}
	if _, err := kits.PutFolder(b.ctx, maker, os.DirFS(folder), kits.Options{}); err != nil {
		return 0, 0, "", err
	}
	room, err := maker.OpenRoom(b.ctx, client.OpenRoom{Kit: "Marsh Post", Seats: 2})
	if err != nil {
		return 0, 0, "", err
	}
	pages, done, err := b.atTable(maker, room.ID)
	defer done()
	if err != nil {
		return 0, 0, "", err
	}
	watch := exec.CommandContext(b.ctx, "bin/damselfly", "kit", "watch", folder, "--room", room.ID, "--key", maker.Key(), "--server", "http://"+b.address)
	watch.Cancel = func() error { return watch.Process.Signal(os.Interrupt) }
	watch.Stdout, watch.Stderr = io.Discard, os.Stderr
	if err := watch.Start(); err != nil {
		return 0, 0, "", err
	}
	defer func() { _ = watch.Process.Signal(os.Interrupt); _ = watch.Wait() }()
	time.Sleep(2 * time.Second)
	var times [2][]float64
	for turn := range 3 {
		was, err := topOf(pages[0])
		if err != nil {
			return 0, 0, "", err
		}
		text, err := tinted(uint8(turn + 1))
		if err != nil {
			return 0, 0, "", err
		}
		began := time.Now()
		if err := os.WriteFile(filepath.Join(folder, "weather.png"), text, 0o600); err != nil {
			return 0, 0, "", err
		}
		for _, page := range pages {
			if err := shows(page, was); err != nil {
				return 0, 0, "", err
			}
		}
		times[0] = append(times[0], time.Since(began).Seconds())
		other := fstest.MapFS{}
		err = kit.Walk(os.DirFS(folder), func(name string) error {
			text, err := os.ReadFile(filepath.Join(folder, name))
			other[name] = &fstest.MapFile{Data: text}
			return err
		})
		if err != nil {
			return 0, 0, "", err
		}
		if other["weather.png"].Data, err = tinted(uint8(turn + 51)); err != nil {
			return 0, 0, "", err
		}
		other["kit.yaml"].Data = bytes.Replace(other["kit.yaml"].Data, []byte("name: Marsh Post"), []byte("name: Alone"), 1)
		if turn == 0 { // so that it is an edition of a kit that is known, too
			if _, err := kits.PutFolder(b.ctx, maker, other, kits.Options{Despite: true}); err != nil {
				return 0, 0, "", err
			}
			if other["weather.png"].Data, err = tinted(91); err != nil {
				return 0, 0, "", err
			}
		}
		began = time.Now()
		if _, err := kits.PutFolder(b.ctx, maker, other, kits.Options{Despite: true}); err != nil {
			return 0, 0, "", err
		}
		times[1] = append(times[1], time.Since(began).Seconds())
	}
	return middle(times[0]), middle(times[1]), "s", nil
}

// tinted is the weather sheet with another tint.
func tinted(by uint8) ([]byte, error) {
	text, err := fs.ReadFile(demo.Kit(), "weather.png")
	if err != nil {
		return nil, err
	}
	picture, err := png.Decode(bytes.NewReader(text))
	if err != nil {
		return nil, err
	}
	tint := image.NewNRGBA(picture.Bounds())
	for y := range tint.Rect.Dy() {
		for x := range tint.Rect.Dx() {
			tint.Set(x, y, picture.At(x, y))
		}
	}
	for i := 0; i < len(tint.Pix); i += 4 {
		tint.Pix[i] ^= by
	}
	var out bytes.Buffer
	err = (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&out, tint)
	return out.Bytes(), err
}

// atTable seats two browsers at a room with a weather in view.
func (b *bench) atTable(maker *client.Client, room string) (pages []context.Context, done func(), err error) {
	var cancels []context.CancelFunc
	done = func() {
		for _, cancel := range cancels {
			cancel()
		}
	}
	for i := range 2 {
		joined, err := maker.Join(b.ctx, room, client.Join{Name: fmt.Sprint("Player ", i+1)})
		if err != nil {
			return nil, done, err
		}
		if i == 0 {
			if _, err := maker.At(joined).Do(b.ctx, "turn 1 of weather face up onto sky"); err != nil {
				return nil, done, err
			}
		}
		page, cancel, err := b.sitting(wire.Joined(joined))
		if err != nil {
			return nil, done, err
		}
		pages, cancels = append(pages, page), append(cancels, cancel)
	}
	return pages, done, nil
}

// sitting opens a browser at a seat.
func (b *bench) sitting(joined wire.Joined) (context.Context, context.CancelFunc, error) {
	page, cancel, err := b.browser()
	if err != nil {
		return nil, nil, err
	}
	seated, err := json.Marshal(joined)
	if err == nil {
		err = chromedp.Do(page, chromedp.Navigate("http://"+b.address+"/"))
	}
	if err == nil {
		_, err = chromedp.Run(page, chromedp.Evaluate[string](fmt.Sprintf("(localStorage.setItem('damselfly seat %s', %q), '')", joined.Room, seated)))
	}
	if err == nil {
		err = chromedp.Do(page, chromedp.Navigate("http://"+b.address+"/room/"+joined.Room), chromedp.WaitVisible(chromedp.CSS("[data-place=\"sky\"] .card-face")))
	}
	if err != nil {
		cancel()
		return nil, nil, err
	}
	return page, cancel, nil
}

const topCard = "document.querySelector('[data-place=\"sky\"] .card-face')"

func topOf(page context.Context) (string, error) {
	return chromedp.Run(page, chromedp.Evaluate[string](topCard+".getAttribute('src')"))
}

// shows waits until the card has another picture, and that is there.
func shows(page context.Context, was string) error {
	for deadline := time.Now().Add(time.Minute); time.Now().Before(deadline); time.Sleep(10 * time.Millisecond) {
		is, err := chromedp.Run(page, chromedp.Evaluate[bool](fmt.Sprintf("((c) => c && c.getAttribute('src') !== %q && c.complete && c.naturalWidth > 0)(%s)", was, topCard)))
		if err != nil || is {
			return err
		}
	}
	return fmt.Errorf("the new picture never came")
}
