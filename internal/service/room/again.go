package room

import (
	"context"
	"crypto/sha256"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"time"

	"damselfly.example/damselfly/internal/core/play"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// asked are the requests that a room ever did, so that each is done once, whenever it
// is sent again. Of each it knows a short hash of who asked under what id, and the
// entry; the newest entries whole.
type asked struct {
	entries map[uint64]int64 // by askedKey
	newest  map[int64]store.Entry
	order   []int64
}

// newestLength is how many entries are held to be answered from memory.
const newestLength = 256

// askedKey hashes who asked under what id; an id of the service's own names nobody.
func askedKey(who Who, id string) uint64 {
	sum := sha256.Sum256(fmt.Appendf(nil, "%d %d %s", who.Seat, who.Tenure, id))
	return binary.BigEndian.Uint64(sum[:])
}

// allAsked reads the requests of a room from the journal.
func (r *Rooms) allAsked(ctx context.Context, room string) (asked, error) {
	a := asked{entries: map[uint64]int64{}, newest: map[int64]store.Entry{}}
	all, err := r.store.AllAsked(ctx, room)
	for _, one := range all {
		a.entries[askedKey(whoAsked(one.Actor, one.Tenure, one.Request), one.Request)] = one.Number
	}
	return a, err
}

// whoAsked is nobody for what the service itself did once, such as joining.
func whoAsked(actor table.Seat, tenure uint64, request string) Who {
	if len(request) > len(joinPrefix) && request[:len(joinPrefix)] == joinPrefix {
		return Who{}
	}
	return Who{Seat: actor, Tenure: tenure}
}

func (a *asked) remember(e store.Entry) {
	if e.Request == "" {
		return
	}
	a.entries[askedKey(whoAsked(e.Actor, e.Tenure, e.Request), e.Request)] = e.Number
	e.Edits, e.Keys = nil, nil
	a.newest[e.Number] = e
	if a.order = append(a.order, e.Number); len(a.order) > newestLength {
		delete(a.newest, a.order[0])
		a.order = a.order[1:]
	}
}

// hash tells what is asked for under an id.
func (a *act) hash() []byte {
	sum := sha256.Sum256(fmt.Appendf(nil, "%s\n%s", a.request.Action, a.request.Steps))
	return sum[:16]
}

// askedBefore finds the entry of a request that was done already. The error is that it
// cannot be found out now.
func (s *state) askedBefore(who Who, id string) (store.Entry, bool, error) {
	number, known := s.asked.entries[askedKey(who, id)]
	if !known {
		return store.Entry{}, false, nil
	}
	if e, newest := s.asked.newest[number]; newest {
		return e, e.Request == id, nil
	}
	ctx, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	e, err := s.room.rooms.store.Entry(ctx, s.room.ID, number)
	if err != nil {
		return e, false, notSaving()
	}
	return e, e.Request == id, nil
}

// answeredBefore answers a request that was done already with what it was answered
// then, and refuses another one under its id.
func (s *state) answeredBefore(a *act) bool {
	if a.request.ID == "" || a.action != nil {
		return false
	}
	e, before, err := s.askedBefore(a.who, a.request.ID)
	if err != nil {
		s.answer(a, err)
		return true
	}
	if !before {
		return false
	}
	if e.Asked != nil && string(e.Asked) != string(a.hash()) {
		s.answer(a, wire.IdUsed.With(wire.Problem{Detail: "Something else was done under this id already. Give each request an id of its own."}))
		return true
	}
	var problem error
	if e.Refusal != nil {
		p := &wire.Problem{}
		if json.Unmarshal(e.Refusal, p) == nil {
			problem = p
		}
	}
	answer := wire.Answer{Told: s.told.Count(play.Viewer(a.who.Seat)), Done: "before", Log: s.again(e, a.who)}
	s.afterOr(func() { a.answer(answer, problem) }, func(error) { a.answer(wire.Answer{}, notSaving()) })
	return true
}

// again are the lines of an entry that was kept before, as somebody may read them.
func (s *state) again(e store.Entry, who Who) []wire.LogLine {
	var deeds []table.Deed
	if err := json.Unmarshal(e.Deeds, &deeds); err != nil {
		return nil
	}
	return s.linesOf(e, deeds, who)
}
