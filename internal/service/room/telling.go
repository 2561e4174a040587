package room

import (
	"hash/fnv"
	"runtime"
	"sync"
)

// telling is what is done once something is kept: people are told, by workers beside the
// journal, so that the next commit runs meanwhile. What is told of one room is told by
// one of them, in its order.
type telling struct {
	workers []chan []func(*wakes)
	done    sync.WaitGroup
}

func newTelling() *telling {
	t := &telling{workers: make([]chan []func(*wakes), runtime.GOMAXPROCS(0))}
	for i := range t.workers {
		t.workers[i] = make(chan []func(*wakes), 64)
		t.done.Go(func() {
			var w wakes
			for tells := range t.workers[i] {
				for _, tell := range tells {
					tell(&w)
				}
				w.all()
			}
		})
	}
	return t
}

// wakes are the listeners that something waits for. They are woken once for all that a
// commit brought them.
type wakes []*Listener

func (w *wakes) send(l *Listener, m *Message) {
	if l.put(m, queueLength) {
		*w = append(*w, l)
	}
}

func (w *wakes) all() {
	for i, l := range *w {
		l.wake()
		(*w)[i] = nil
	}
	*w = (*w)[:0]
}

// of is the worker of a room.
func (t *telling) of(room string) int {
	h := fnv.New32a()
	_, _ = h.Write([]byte(room))
	return int(h.Sum32() % uint32(len(t.workers)))
}

// hand gives each worker what it is to tell of one commit.
func (t *telling) hand(shares [][]func(*wakes)) {
	for i, tells := range shares {
		if len(tells) > 0 {
			t.workers[i] <- tells
		}
	}
}

// close waits until all is told.
func (t *telling) close() {
	for _, w := range t.workers {
		close(w)
	}
	t.done.Wait()
}
