package main

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"golang.org/x/sync/errgroup"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/client/kits"
)

// What the four rooms at their worst do.
const (
	manyCopies   = 417     // of each of 12 designs: some 5,000 cards
	looksThrough = 400_000 // cards, as many as an act may
	newcomers    = 40
)

// neighbour is the 99th percentile of 200 acts in a quiet room beside four rooms at their worst, against
// alone: one looks through as many cards as an act may, one brings 5,000 cards home, one takes
// editions, and to one 40 people come at once.
func neighbour(b *bench) (ours, reference float64, unit string, err error) {
	quiet, err := b.open(shape{}, 2)
	if err != nil {
		return 0, 0, "", err
	}
	people, hangUp, err := b.dialAll(quiet)
	if err != nil {
		return 0, 0, "", err
	}
	defer hangUp()
	go people[1].listen()
	tail := func() (float64, error) {
		took, err := times(200, 40*time.Millisecond, func() error { return people[0].act("shuffle weather") })
		if err != nil {
			return 0, err
		}
		slices.Sort(took)
		return took[len(took)*99/100].Seconds() * 1e3, nil
	}
	if reference, err = tail(); err != nil {
		return 0, 0, "", err
	}
	doings, done, err := b.worst()
	defer done()
	if err != nil {
		return 0, 0, "", err
	}
	ctx, stop := context.WithCancel(b.ctx)
	defer stop()
	var rooms errgroup.Group
	var mu sync.Mutex
	counts := make([]int, len(doings))
	for i, do := range doings {
		rooms.Go(func() error {
			for ctx.Err() == nil {
				if err := do(); err != nil {
					return err
				}
				mu.Lock()
				counts[i]++
				mu.Unlock()
			}
			return nil
		})
	}
	ours, err = tail()
	stop()
	if failed := rooms.Wait(); err == nil {
		err = failed
	}
	fmt.Printf("beside neighbour: %d searches, %d times home, %d editions, %d times %d people\n", counts[0], counts[1], counts[2], counts[3], newcomers)
	return ours, reference, "ms", err
}

// worst opens four rooms and says what each does over and over.
func (b *bench) worst() (doings []func() error, done func(), err error) {
	many := shape{copies: manyCopies}
	kit, err := b.kit(many)
	if err != nil {
		return nil, func() {}, err
	}
	second, err := many.files(kit)
	if err == nil {
		second["weather.png"].Data, err = tinted(7)
	}
	if err == nil {
		_, err = kits.PutFolder(b.ctx, b.host(), second, kits.Options{Despite: true})
	}
	if err != nil {
		return nil, func() {}, err
	}
	var all []*person
	done = func() {
		for _, p := range all {
			_ = p.socket.Close()
		}
	}
	var rooms [4]openedRoom
	for i := range rooms {
		if rooms[i], err = b.openWith(kit, 2); err != nil {
			return nil, done, err
		}
		p, err := b.dial(rooms[i].id, rooms[i].keys[0])
		if err != nil {
			return nil, done, err
		}
		all = append(all, p)
	}
	go all[2].listen()
	go all[3].listen()
	search := strings.TrimSpace(strings.Repeat("rotate 1 of weather where name = Ice\n", looksThrough/(12*manyCopies)/2)) // a line looks twice
	host, edition := b.host(), 2
	return []func() error{
		func() error { return all[0].act(search) },
		func() error {
			if err := all[1].act("turn all of weather face up onto sky"); err != nil {
				return err
			}
			return all[1].act("everything home")
		},
		func() error {
			edition = 3 - edition
			return host.TakeEdition(b.ctx, rooms[2].id, client.TakeEdition{Edition: edition})
		},
		func() error {
			var coming errgroup.Group
			people := make([]*person, newcomers)
			for i := range newcomers {
				coming.Go(func() error {
					joined, err := client.New("http://"+b.address, "").Join(b.ctx, rooms[3].id, client.Join{Watch: true})
					if err == nil {
						people[i], err = b.dial(rooms[3].id, joined.Key)
					}
					return err
				})
			}
			err := coming.Wait()
			for _, p := range people {
				if p != nil {
					_ = p.socket.Close()
				}
			}
			time.Sleep(300 * time.Millisecond) // until the room has seen them go
			return err
		},
	}, done, nil
}
