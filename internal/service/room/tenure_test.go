package room_test

import (
	"encoding/json"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

func action(text string) wire.Request { return wire.Request{Action: json.RawMessage(text)} }

// Once what was sent behind a change of seats was still done from the old one, and the
// key that was checked a moment before opened the newcomer's hand.
func TestASeatThatWasLeftIsLeft(t *testing.T) {
	h := newHouse(t, room.Options{})
	h.do(2, "draw 2 from weather")
	bo := listen(who(2))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, bo.Listener, wire.Hello{}))
	view := next[wire.Whole](t, bo)
	moved, err := h.rooms.Act(h.ctx, h.id, who(2), action(`{"do":"change-seat","to":3}`))
	require.NoError(t, err)
	<-bo.Gone()

	_, err = h.steps(2, "draw 1 from weather")
	assert.Equal(t, []any{"seat-left", 401}, []any{problem(t, err).Code, problem(t, err).Status}, "the old tenure acts no more")
	_, err = h.rooms.View(h.ctx, h.id, who(2))
	assert.Equal(t, "seat-left", problem(t, err).Code)
	err = h.rooms.Enter(h.ctx, h.id, listen(who(2)).Listener, wire.Hello{})
	assert.Equal(t, "seat-left", problem(t, err).Code)

	key, err := h.store.SeatKey(h.ctx, "key of Bo in "+h.id)
	require.NoError(t, err)
	assert.EqualValues(t, 3, key.Seat, "the key opens the new seat")
	assert.NotZero(t, moved.Told)
	_, err = h.rooms.Act(h.ctx, h.id, room.Who{Seat: key.Seat, Tenure: key.Tenure}, wire.Request{Steps: "draw 1 from weather"})
	require.NoError(t, err)

	cleo, err := h.sit(h.id, 2, "Cleo")
	require.NoError(t, err)
	l := listen(cleo)
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, l.Listener, wire.Hello{Gate: view.Gate, Told: view.Told}))
	fresh := next[wire.Whole](t, l) // not what Bo missed
	for _, line := range fresh.Log {
		assert.Empty(t, line.Cards, "what Bo saw is not the newcomer's to read: %s", line.Text)
	}
	for _, p := range fresh.View.Places {
		if p.ID == "satchel/2" {
			assert.Len(t, p.Cards, 2, "the hand stays with the seat")
		}
	}
}

// The handles of a hand are new with whoever takes the seat. The last message to whoever left
// it once told them, so that they knew a card which the other then played face down.
func TestWhoLeavesASeatIsNotToldItsNewHandles(t *testing.T) {
	h := newHouse(t, room.Options{})
	h.do(2, "draw 2 from weather")
	bo := listen(who(2))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, bo.Listener, wire.Hello{}))
	next[wire.Whole](t, bo)
	require.NoError(t, h.rooms.HandOn(h.ctx, h.id, who(2), room.Seating{Seat: 2, Name: "Zed", Key: store.Hash("zed's")}))
	<-bo.Gone()
	told := 0
	for waiting := bo.pop(); waiting != nil; waiting = bo.pop() {
		m, err := wire.Read(waiting.Text())
		require.NoError(t, err)
		changes, is := m.(wire.Changes)
		if is {
			told++
		}
		for _, p := range changes.Places {
			assert.False(t, p.ID == "satchel/2" && len(p.Cards) > 0, "%+v", p.Cards)
		}
	}
	assert.Positive(t, told, "that it was handed on is told")
}

func TestWhoWatchesIsLetGoWhenNobodyMayWatch(t *testing.T) {
	h := newHouse(t, room.Options{})
	l := listen(who(0))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, l.Listener, wire.Hello{}))
	_, err := h.rooms.Act(h.ctx, h.id, who(1), action(`{"do":"door","spectators":false}`))
	require.NoError(t, err)
	<-l.Gone()
	assert.Equal(t, "no-spectators", problem(t, h.rooms.Enter(h.ctx, h.id, listen(who(0)).Listener, wire.Hello{})).Code)
	assert.Equal(t, "no-spectators", problem(t, h.rooms.Watch(h.ctx, h.id)).Code)
	_, err = h.rooms.View(h.ctx, h.id, who(0))
	assert.Equal(t, "no-spectators", problem(t, err).Code)
}

// Once ten kills while joining left ten seats that nobody could open.
func TestJoiningIsDoneOnce(t *testing.T) {
	h := newHouse(t, room.Options{})
	want := room.Seating{Name: "Cleo", Key: store.Hash("cleo's"), ID: "a join that was sent twice"}
	first, err := h.rooms.Sit(h.ctx, h.id, want)
	require.NoError(t, err)
	again, err := h.rooms.Sit(h.ctx, h.id, want)
	require.NoError(t, err)
	assert.Equal(t, first, again)
	h.again()
	again, err = h.rooms.Sit(h.ctx, h.id, want)
	require.NoError(t, err)
	assert.Equal(t, first, again, "also over a restart")
	_, err = h.rooms.Act(h.ctx, h.id, first, action(`{"do":"free","seat":3}`))
	require.NoError(t, err)
	_, err = h.rooms.Sit(h.ctx, h.id, want)
	assert.Equal(t, "seat-left", problem(t, err).Code, "a seat that was left does not come back")
}

func TestAnIDIsForOneRequestForEver(t *testing.T) {
	h := newHouse(t, room.Options{})
	ask := func(id, steps string) (wire.Answer, error) {
		return h.rooms.Act(h.ctx, h.id, who(1), wire.Request{ID: id, Steps: steps})
	}
	first, err := ask("old", "draw 1 from weather")
	require.NoError(t, err)
	for range 300 { // more than are held in memory
		_, err := ask("", "set day to 3")
		require.NoError(t, err)
	}
	for n := range 300 {
		_, err := ask(strings.Repeat("x", n%60+1)+string(rune('a'+n/60)), "set day to 4")
		require.NoError(t, err)
	}
	again, err := ask("old", "draw 1 from weather")
	require.NoError(t, err)
	assert.Equal(t, []any{"before", first.Log}, []any{again.Done, again.Log})
	assert.Equal(t, 21, h.count("weather"))
	_, err = ask("old", "draw 2 from weather")
	assert.Equal(t, "id-used", problem(t, err).Code)

	h.do(1, "move bottom 1 of weather to hand of Bo")
	_, stood := ask("half", "draw 1 from weather\ntake 9 from weather where name = Storm to my hand")
	require.True(t, problem(t, stood).Stands)
	has := h.count("weather")
	_, resent := ask("half", "draw 1 from weather\ntake 9 from weather where name = Storm to my hand")
	assert.Equal(t, problem(t, stood), problem(t, resent), "the same answer")
	assert.Equal(t, has, h.count("weather"), "and nothing drawn again")
	h.again()
	_, resent = ask("half", "draw 1 from weather\ntake 9 from weather where name = Storm to my hand")
	assert.Equal(t, problem(t, stood), problem(t, resent))

	_, err = ask(strings.Repeat("€", 22), "shuffle weather")
	assert.Equal(t, "bad-id", problem(t, err).Code, "66 bytes")
}

// An entry that cannot be kept stopped all rooms once, for ever.
func TestAnEntryThatCannotBeKeptStopsNobodyElse(t *testing.T) {
	var spoil atomic.Bool
	h := newHouse(t, room.Options{BeforeKeep: func(e *store.Entry) {
		if spoil.Swap(false) {
			e.Request = strings.Repeat("x", 65) // longer than its column
		}
	}})
	other := h.open()
	bo := listen(who(2))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, bo.Listener, wire.Hello{}))
	next[wire.Whole](t, bo)
	for range 10 { // it is no failure that makes a room rest
		spoil.Store(true)
		results := make(chan error, 2)
		answer := func(_ wire.Answer, err error) { results <- err }
		h.rooms.ActLive(h.ctx, h.id, who(1), wire.Request{Steps: "draw 1 from weather"}, answer)
		h.rooms.ActLive(h.ctx, h.id, who(2), wire.Request{Steps: "flip sky"}, func(wire.Answer, error) {}) // refused, and told nobody
		h.rooms.ActLive(h.ctx, h.id, who(2), wire.Request{Steps: `say "I follow"`}, answer)
		assert.Equal(t, "not-kept", problem(t, <-results).Code)
		if err := <-results; err != nil { // what rests on it is no fault of its own
			assert.Equal(t, "not-saving", problem(t, err).Code)
		}
		next[wire.Whole](t, bo) // in place of what was never told
	}
	assert.True(t, h.rooms.Saving())
	assert.Zero(t, h.rooms.Failures.Load())
	spoil.Store(true)
	_, err := h.rooms.Act(h.ctx, h.id, who(1), action(`{"do":"free","seat":2}`))
	assert.Equal(t, "not-kept", problem(t, err).Code)
	<-bo.Gone() // who was to leave comes back, and sits there still
	bo = listen(who(2))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, bo.Listener, wire.Hello{}))
	next[wire.Whole](t, bo)
	_, err = h.rooms.Act(h.ctx, other, who(1), wire.Request{Steps: "draw 1 from weather"})
	require.NoError(t, err)
	assert.Equal(t, 22, h.count("weather"), "the table is as it was kept")
	h.do(1, "draw 1 from weather")
}

func TestStepsOfACueAreConfirmedBeforeTheyShowWhatOnlyThePresserSees(t *testing.T) {
	h := newHouse(t, room.Options{})
	h.do(1, "draw 2 from weather")
	_, err := h.rooms.Act(h.ctx, h.id, who(1), action(`{"do":"lay-piece","kind":"cue","name":"Reveal","text":"move all of my hand to sky"}`))
	require.NoError(t, err)
	run := wire.Request{Steps: "run Reveal"}
	_, err = h.rooms.Act(h.ctx, h.id, who(1), run)
	p := problem(t, err)
	assert.Equal(t, []any{"needs-confirming", 409, []string{"move all of my hand to sky"}}, []any{p.Code, p.Status, p.Details})
	run.Confirm = "move 1 of my hand to sky"
	_, err = h.rooms.Act(h.ctx, h.id, who(1), run)
	assert.Equal(t, "needs-confirming", problem(t, err).Code, "that is not what it says now")
	run.Confirm = p.Details[0]
	_, err = h.rooms.Act(h.ctx, h.id, who(1), run)
	require.NoError(t, err)
	assert.Equal(t, 2, h.count("sky"))
}

// A grip on a card that nobody else sees is told to nobody, and stands in nobody's way.
func TestAGripInsideAHandIsNobodysBusiness(t *testing.T) {
	h := newHouse(t, room.Options{})
	h.do(1, "draw 2 from weather")
	ada, bo := listen(who(1)), listen(who(2))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, ada.Listener, wire.Hello{}))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, bo.Listener, wire.Hello{}))
	var card table.Handle
	for _, p := range next[wire.Whole](t, ada).View.Places {
		if p.ID == "satchel/1" {
			card = p.Cards[0].Handle
		}
	}
	next[wire.Whole](t, bo)
	h.rooms.Grip(h.id, who(1), []table.Handle{card})
	h.do(2, "gather weather")
	for {
		waiting := bo.pop()
		if waiting == nil {
			time.Sleep(time.Millisecond)
			continue
		}
		read, err := wire.Read(waiting.Text())
		require.NoError(t, err)
		assert.NotEqual(t, "grip", wire.KindOf(read))
		if wire.KindOf(read) == "changes" {
			break
		}
	}
}

// A number that others' private acts moved told how often somebody sorted their hand.
func TestNobodysNumberTellsOfAnothersHand(t *testing.T) {
	h := newHouse(t, room.Options{})
	h.do(2, "draw 3 from weather")
	h.do(2, "show 1 of my hand to Ada")
	told := func(seat table.Seat) uint64 {
		look, err := h.rooms.View(h.ctx, h.id, who(seat))
		require.NoError(t, err)
		return look.Told
	}
	before := []uint64{told(0), told(1)}
	for _, steps := range []string{"sort my hand by name", "shuffle my hand", "cut my hand at 1", "move bottom 1 of my hand to my hand"} {
		h.do(2, steps)
	}
	assert.Equal(t, before, []uint64{told(0), told(1)})
}
