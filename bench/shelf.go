package main

import (
	"bytes"
	"context"
	"fmt"
	"time"

	"github.com/chromedp/chromedp"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/core/kit"
)

// Sizes of the shelves that are opened.
const (
	longShelf  = 500
	shortShelf = 20
)

// shelfOpens is how long a browser takes from asking for a shelf of 500 kits and as many rooms until it
// lists them, the first hundred of each, against one of 20.
func shelfOpens(b *bench) (ours, reference float64, unit string, err error) {
	long, err := b.shelf(longShelf)
	if err != nil {
		return 0, 0, "", err
	}
	short, err := b.shelf(shortShelf)
	if err != nil {
		return 0, 0, "", err
	}
	page, cancel, err := b.browser()
	if err != nil {
		return 0, 0, "", err
	}
	defer cancel()
	least := [2]time.Duration{time.Hour, time.Hour}
	for range 5 {
		for i, maker := range []*client.Client{long, short} {
			took, err := b.openShelf(page, maker, []int{longShelf, shortShelf}[i])
			if err != nil {
				return 0, 0, "", err
			}
			least[i] = min(least[i], took)
		}
	}
	return least[0].Seconds(), least[1].Seconds(), "s", nil
}

// shelf gives a maker so many kits, and a room with each.
func (b *bench) shelf(n int) (*client.Client, error) {
	maker, err := b.maker()
	if err != nil {
		return nil, err
	}
	for i := range n {
		var zip bytes.Buffer
		if err := kit.Zip(sheetsKit(fmt.Sprintf("Kit %d", i+1), 0, 0), &zip); err != nil {
			return nil, err
		}
		put, err := maker.PutKit(b.ctx, &zip, int64(zip.Len()), true)
		if err != nil {
			return nil, err
		}
		if _, err := maker.OpenRoom(b.ctx, client.OpenRoom{Kit: put.ID, Name: fmt.Sprintf("Room %d", i+1), Seats: 2}); err != nil {
			return nil, err
		}
	}
	return maker, nil
}

// openShelf opens a maker's shelf and says how long that took.
func (b *bench) openShelf(page context.Context, maker *client.Client, n int) (time.Duration, error) {
	err := chromedp.Do(page, chromedp.Navigate("http://"+b.address+"/"))
	if err == nil {
		_, err = chromedp.Run(page, chromedp.Evaluate[string](fmt.Sprintf("(localStorage.setItem('damselfly maker key', %q), '')", maker.Key())))
	}
	if err == nil {
		err = chromedp.Do(page, chromedp.Navigate("about:blank"))
	}
	began := time.Now()
	if err == nil {
		err = chromedp.Do(page, chromedp.Navigate("http://"+b.address+"/"))
	}
	if err != nil {
		return 0, err
	}
	shown := min(n, 100) // of the others it says how many there are
	listed := fmt.Sprintf("document.querySelectorAll('.kit-card').length === %d && document.querySelectorAll('.room-card').length === %d", shown, shown)
	for deadline := time.Now().Add(time.Minute); time.Now().Before(deadline); time.Sleep(5 * time.Millisecond) {
		if is, err := chromedp.Run(page, chromedp.Evaluate[bool](listed)); err != nil || is {
			return time.Since(began), err
		}
	}
	return 0, fmt.Errorf("the shelf never listed %d kits and rooms", n)
}
