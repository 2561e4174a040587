package room

import (
	"context"
	"slices"
	"time"
)

// How often a service that shares the records says that it lives, and how long it waits to be heard.
const (
	holdEvery  = 700 * time.Millisecond
	holdWithin = 2 * time.Second
)

// hold says that this service lives, until the rooms end, and drops those that came to another service meanwhile, as they
// do when this one stood still.
func (r *Rooms) hold() {
	for {
		select {
		case <-r.ending:
			return
		case <-time.After(holdEvery):
		}
		before := r.liveRooms()
		ctx, cancel := context.WithTimeout(context.Background(), holdWithin)
		held, err := r.store.Live(ctx)
		cancel()
		if err != nil {
			r.log.Warn("saying that this service lives", "error", err)
			continue
		}
		for _, live := range before {
			if !slices.Contains(held, live.ID) {
				r.log.Warn("the room came to another service", "room", live.ID)
				r.drop(live)
			}
		}
	}
}

func (r *Rooms) liveRooms() (all []*Room) {
	r.mu.Lock()
	defer r.mu.Unlock()
	for _, live := range r.live {
		all = append(all, live)
	}
	return all
}

// free lets others have the rooms of this service, when everything of them is kept.
func (r *Rooms) free() {
	if !r.store.Shares() {
		return
	}
	ctx, cancel := context.WithTimeout(context.Background(), holdWithin)
	defer cancel()
	if err := r.store.Leave(ctx); err != nil {
		r.log.Warn("freeing the rooms", "error", err)
	}
}

// Holds reports whether a room is loaded here.
func (r *Rooms) Holds(room string) bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	return r.live[room] != nil
}
