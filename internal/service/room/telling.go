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
	workers []chan []func()
	done    sync.WaitGroup
}

func newTelling() *telling {
	t := &telling{workers: make([]chan []func(), runtime.GOMAXPROCS(0))}
	for i := range t.workers {
		t.workers[i] = make(chan []func(), 64)
		t.done.Go(func() {
			for tells := range t.workers[i] {
				for _, tell := range tells {
					tell()
				}
			}
		})
	}
	return t
}

// of is the worker of a room.
func (t *telling) of(room string) int {
	h := fnv.New32a()
	_, _ = h.Write([]byte(room))
	return int(h.Sum32() % uint32(len(t.workers)))
}

// hand gives each worker what it is to tell of one commit.
func (t *telling) hand(shares [][]func()) {
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
