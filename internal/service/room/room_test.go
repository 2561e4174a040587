package room_test

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"

	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/mariadb/mariadbtest"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

func TestMain(m *testing.M) { mariadbtest.Main(m) }

// house is a store with rooms over it, and one room open.
type house struct {
	t     *testing.T
	ctx   context.Context
	store *store.Store
	rooms *room.Rooms
	made  kit.Edition
	id    string
}

func newHouse(t *testing.T, o room.Options) *house {
	ctx, cancel := context.WithTimeout(context.Background(), 20*time.Minute)
	t.Cleanup(cancel)
	s, err := store.Open(ctx, mariadbtest.DSN(t))
	require.NoError(t, err)
	k, err := kit.Read(demo.Weather())
	require.NoError(t, err)
	result, err := k.Make(kit.Making{})
	require.NoError(t, err)
	h := &house{t: t, ctx: ctx, store: s, made: result.Edition}
	h.rooms = room.New(s, slog.New(slog.DiscardHandler), o)
	t.Cleanup(func() { h.rooms.Close(); _ = s.Close() })
	h.id = h.open()
	return h
}

func (h *house) open() string {
	record, _, err := h.rooms.Open(h.ctx, store.Room{Maker: "m", Name: "Test", Seats: 3, Spectators: true}, h.made, room.Beginning{})
	require.NoError(h.t, err)
	for _, name := range []string{"Ada", "Bo"} {
		_, err := h.sit(record.ID, 0, name)
		require.NoError(h.t, err)
	}
	return record.ID
}

func (h *house) sit(id string, seat table.Seat, name string) (room.Who, error) {
	return h.rooms.Sit(h.ctx, id, room.Seating{Seat: seat, Name: name, Salt: "salt of " + name, Key: store.Hash("key of " + name + " in " + id)})
}

// who sits at a seat of a room that was just opened: the table was laid in entry 1,
// and each seat taken in the next.
func who(seat table.Seat) room.Who {
	if seat == 0 {
		return room.Who{}
	}
	return room.Who{Seat: seat, Tenure: uint64(seat) + 1}
}

func (h *house) steps(seat table.Seat, text string) (wire.Answer, error) {
	return h.rooms.Act(h.ctx, h.id, who(seat), wire.Request{Steps: text})
}

func (h *house) do(seat table.Seat, text string) wire.Answer {
	answer, err := h.steps(seat, text)
	require.NoError(h.t, err, text)
	return answer
}

func (h *house) count(place string) int {
	look, err := h.rooms.View(h.ctx, h.id, who(0))
	require.NoError(h.t, err)
	for _, p := range look.View.Places {
		if string(p.ID) == place {
			return p.Count
		}
	}
	return -1
}

// again ends the rooms and starts them anew over the same store.
func (h *house) again() {
	h.rooms.Close()
	h.rooms = room.New(h.store, slog.New(slog.DiscardHandler), room.Options{})
}

// next reads a listener's next message of a type.
func next[M wire.Message](t *testing.T, l *listener) M {
	for deadline := time.Now().Add(20 * time.Second); ; {
		for m := l.pop(); m != nil; m = l.pop() {
			read, err := wire.Read(m.Text())
			require.NoError(t, err)
			if read, is := read.(M); is {
				return read
			}
		}
		if time.Now().After(deadline) {
			var none M
			require.Fail(t, "no message", "of type %s", wire.KindOf(none))
		}
		time.Sleep(time.Millisecond)
	}
}

// listener reads one message after the other.
type listener struct {
	*room.Listener
	waiting []*room.Message
	missed  bool
}

func listen(who room.Who) *listener { return &listener{Listener: room.NewListener(who, nil)} }

// fill takes over what waits.
func (l *listener) fill() int {
	waiting, missed := l.Take()
	l.waiting, l.missed = append(l.waiting, waiting...), l.missed || missed
	return len(l.waiting)
}

// pop is the next message, nil if none waits.
func (l *listener) pop() *room.Message {
	if l.fill() == 0 {
		return nil
	}
	first := l.waiting[0]
	l.waiting = l.waiting[1:]
	return first
}

func problem(t *testing.T, err error) *wire.Problem {
	var p *wire.Problem
	require.ErrorAs(t, err, &p)
	return p
}

func TestWhatWasDoneIsThereAfterARestart(t *testing.T) {
	h := newHouse(t, room.Options{})
	h.do(1, "shuffle weather")
	for range 3 {
		h.do(1, "draw 2 from weather")
	}
	h.do(2, "draw from weather to sky")
	before, err := h.rooms.View(h.ctx, h.id, who(1))
	require.NoError(t, err)
	h.again()
	after, err := h.rooms.View(h.ctx, h.id, who(1))
	require.NoError(t, err)
	require.Len(t, after.View.Places, len(before.View.Places))
	faces := func(v sight.View, word sight.Word) sight.Face { return v.Faces[word] }
	for i, p := range after.View.Places {
		for j := range p.Cards {
			former := before.View.Places[i].Cards[j]
			assert.NotEqual(t, former.Handle, p.Cards[j].Handle, "handles are of one life")
			assert.NotEqual(t, former.Face, p.Cards[j].Face, "and so are the words of faces")
			assert.Equal(t, faces(before.View, former.Face), faces(after.View, p.Cards[j].Face))
			p.Cards[j].Handle, p.Cards[j].Face = former.Handle, former.Face
		}
		for j := range p.Veils {
			assert.Equal(t, faces(before.View, before.View.Places[i].Veils[j].Face), faces(after.View, p.Veils[j].Face))
			p.Veils[j].Face = before.View.Places[i].Veils[j].Face
		}
	}
	before.View.Faces, after.View.Faces = nil, nil
	assert.Equal(t, before.View, after.View)
	lines, err := h.rooms.Log(h.ctx, h.id, who(2), 100)
	require.NoError(t, err)
	assert.Equal(t, "shuffle weather", lines[2].Text)
	assert.Equal(t, "draw 2 from weather to hand of Ada", lines[3].Text)
}

func TestARequestSentTwiceIsDoneOnceAlsoOverARestart(t *testing.T) {
	h := newHouse(t, room.Options{})
	request := wire.Request{ID: "one", Steps: "draw 2 from weather"}
	first, err := h.rooms.Act(h.ctx, h.id, who(1), request)
	require.NoError(t, err)
	assert.Equal(t, "now", first.Done)
	second, err := h.rooms.Act(h.ctx, h.id, who(1), request)
	require.NoError(t, err)
	assert.Equal(t, "before", second.Done)
	assert.Equal(t, first.Log, second.Log)
	h.again()
	third, err := h.rooms.Act(h.ctx, h.id, who(1), request)
	require.NoError(t, err)
	assert.Equal(t, "before", third.Done)
	assert.Equal(t, 20, h.count("weather"))
	_, err = h.rooms.Act(h.ctx, h.id, who(2), request)
	require.NoError(t, err)
	assert.Equal(t, 18, h.count("weather"), "another seat's request of the same id is another request")
}

func TestEveryoneIsToldAndNobodyMoreThanTheyMaySee(t *testing.T) {
	h := newHouse(t, room.Options{})
	ada, bo := listen(who(1)), listen(who(2))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, ada.Listener, wire.Hello{}))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, bo.Listener, wire.Hello{}))
	view := next[wire.Whole](t, bo)
	assert.Equal(t, "Ada", view.View.Seats[0].Name)
	h.do(1, "draw 2 from weather")
	own, other := next[wire.Changes](t, ada), next[wire.Changes](t, bo)
	assert.Contains(t, own.Log[0].Text, "draw 2 from weather to my hand  # Ice, Low sun")
	assert.Equal(t, "draw 2 from weather to hand of Ada", other.Log[0].Text)
	text, err := json.Marshal(other)
	require.NoError(t, err)
	assert.NotContains(t, string(text), "Ice")
}

func TestWhoComesBackGetsWhatTheyMissed(t *testing.T) {
	h := newHouse(t, room.Options{})
	bo := listen(who(2))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, bo.Listener, wire.Hello{}))
	view := next[wire.Whole](t, bo)
	h.rooms.Leave(h.id, bo.Listener)
	h.do(1, "draw from weather")
	h.do(2, "draw 2 from weather")
	h.do(2, "flip my hand") // shows seat 2 alone
	h.do(1, "draw from weather to sky")

	back := listen(who(2))
	hello := wire.Hello{Gate: view.Gate, Told: view.Told}
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, back.Listener, hello))
	assert.Equal(t, view.Told, next[wire.Resumed](t, back).Told)
	var texts []string
	for range 4 {
		for _, line := range next[wire.Changes](t, back).Log {
			texts = append(texts, line.Text)
		}
	}
	assert.Equal(t, []string{"draw 1 from weather to hand of Ada", "draw 2 from weather to my hand  # Low sun, Low sun", "draw 1 from weather to sky  # Night frost"}, texts)

	stranger := listen(who(2))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, stranger.Listener, wire.Hello{Gate: "another life", Told: view.Told}))
	assert.NotNil(t, next[wire.Whole](t, stranger).View)
}

func TestASlowListenerGetsAFreshViewAndSlowsNobody(t *testing.T) {
	h := newHouse(t, room.Options{})
	slow := listen(who(2))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, slow.Listener, wire.Hello{}))
	for range 300 {
		h.do(1, "shuffle weather")
	}
	slow.fill()
	slow.waiting = nil
	require.True(t, slow.missed)
	require.NoError(t, h.rooms.Refresh(h.ctx, h.id, slow.Listener))
	assert.NotNil(t, next[wire.Whole](t, slow).View)
}

func TestAPanicInOneRoomLeavesTheOthersAndTheTable(t *testing.T) {
	var broken atomic.Value
	broken.Store("")
	h := newHouse(t, room.Options{BeforeApply: func(id string, a table.Action) {
		if _, flip := a.(table.Flip); flip && id == broken.Load() {
			panic("planted")
		}
	}})
	broken.Store(h.id)
	other := h.open()
	ada := listen(who(1))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, ada.Listener, wire.Hello{}))
	next[wire.Whole](t, ada)
	h.do(1, "draw 3 from weather to sky")
	_, err := h.steps(1, "flip sky")
	assert.Equal(t, "action-failed", problem(t, err).Code)
	assert.NotNil(t, next[wire.Whole](t, ada).View, "its people are brought to the present state without rejoining")
	h.do(1, "draw from weather")
	assert.Equal(t, "draw 1 from weather to my hand", strings.Split(next[wire.Changes](t, ada).Log[0].Text, "  #")[0], "and told what comes then")
	assert.Equal(t, 18, h.count("weather"))
	_, err = h.rooms.Act(h.ctx, other, who(1), wire.Request{Steps: "flip weather"})
	require.NoError(t, err)

	broken.Store("")
	_, err = h.steps(1, "flip sky")
	assert.Equal(t, "action-failed", problem(t, err).Code, "the action that did it is refused from then on")
	h.do(2, "flip sky")
	assert.EqualValues(t, 1, h.rooms.Failures.Load())
}

// What a room begins with is kept with the room, or there is no room: the seat, and a shuffle with what who sits there adds
// to chance. Nobody takes back that the table was laid.
func TestARoomBeginsWhole(t *testing.T) {
	h := newHouse(t, room.Options{})
	record := store.Room{Maker: "m", Name: "Whole", Seats: 3, Spectators: true}
	begin := room.Beginning{Sits: &room.Seating{Name: "Ada", Salt: "reeds", Key: store.Hash("hers")}, Shuffle: "weather"}
	opened, ada, err := h.rooms.Open(h.ctx, record, h.made, begin)
	require.NoError(t, err)
	assert.Equal(t, room.Who{Seat: 1, Tenure: 2}, ada)
	key, err := h.store.SeatKey(h.ctx, "hers")
	require.NoError(t, err)
	assert.Equal(t, store.SeatKey{Room: opened.ID, Seat: 1, Tenure: 2, Name: "Ada"}, key)
	h.id = opened.ID
	act := func(request wire.Request) error { _, err := h.rooms.Act(h.ctx, h.id, ada, request); return err }
	require.Error(t, act(wire.Request{Action: json.RawMessage(`{"do":"undo"}`)}))
	_ = act(wire.Request{Action: json.RawMessage(`{"do":"undo","anyone":true}`)})
	require.NoError(t, act(wire.Request{Steps: "draw 2 from weather"}))
	assert.Equal(t, 20, h.count("weather"))
	lines, err := h.rooms.Log(h.ctx, h.id, ada, 10)
	require.NoError(t, err)
	for i, line := range lines {
		assert.EqualValues(t, i+1, line.Number)
	}
	assert.Contains(t, lines[1].Text, "shuffle weather")

	rooms, err := h.store.Rooms(h.ctx, "m")
	require.NoError(t, err)
	_, _, err = h.rooms.Open(h.ctx, record, h.made, begin) // a key that opens a seat already
	require.Error(t, err)
	_, _, err = h.rooms.Open(h.ctx, record, h.made, room.Beginning{Shuffle: "nowhere"})
	assert.Equal(t, "no-such-place", problem(t, err).Code)
	after, err := h.store.Rooms(h.ctx, "m")
	require.NoError(t, err)
	assert.Len(t, after, len(rooms), "nothing is there half")
}

// A bookmark is kept in the commit that tells of it: where the one cannot be, the other is not.
func TestABookmarkThatCannotBeKeptIsNotTold(t *testing.T) {
	h := newHouse(t, room.Options{BeforeKeep: func(e *store.Entry) {
		if e.Bookmark != nil && e.Bookmark.Name == "lost" {
			e.Bookmark.ID = strings.Repeat("too long", 100)
		}
	}})
	h.do(1, "draw 3 from weather to sky")
	_, err := h.rooms.Bookmark(h.ctx, h.id, "lost")
	require.Error(t, err)
	kept, err := h.rooms.Bookmark(h.ctx, h.id, "kept")
	require.NoError(t, err)
	all, err := h.store.Bookmarks(h.ctx, "m")
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.Equal(t, kept.ID, all[0].ID)
	h.do(1, "draw from weather")
	lines, err := h.rooms.Log(h.ctx, h.id, who(1), 10)
	require.NoError(t, err)
	told := ""
	for _, line := range lines {
		told += line.Text + "\n"
	}
	assert.Contains(t, told, "the bookmark kept")
	assert.NotContains(t, told, "lost")
}

func TestARoomThatKeepsFailingRests(t *testing.T) {
	rested := make(chan struct{})
	h := newHouse(t, room.Options{
		Rest: time.Hour,
		Pause: func(d time.Duration) {
			if d == time.Hour {
				<-rested
			}
		},
		BeforeApply: func(_ string, a table.Action) {
			if _, flip := a.(table.Flip); flip {
				panic("planted")
			}
		},
	})
	for _, side := range []string{"sky", "weather", "outbox", "my dock", "my hand"} {
		_, err := h.steps(1, "flip "+side)
		assert.Equal(t, "action-failed", problem(t, err).Code)
	}
	_, err := h.steps(1, "shuffle weather")
	assert.Equal(t, "room-rests", problem(t, err).Code)
	close(rested)
	require.Eventually(t, func() bool { _, err := h.steps(1, "shuffle weather"); return err == nil }, 20*time.Second, 5*time.Millisecond)
}

func TestWhatSomebodyDragsIsTheirsUntilTheyLetGo(t *testing.T) {
	h := newHouse(t, room.Options{})
	h.do(1, "draw from weather to sky")
	bo := listen(who(2))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, bo.Listener, wire.Hello{}))
	var card table.Handle
	for _, p := range next[wire.Whole](t, bo).View.Places {
		if p.ID == "sky" {
			card = p.Cards[0].Handle
		}
	}
	h.rooms.Grip(h.id, who(1), []table.Handle{card})
	assert.Equal(t, []table.Handle{card}, next[wire.Gripping](t, bo).Cards)
	_, err := h.steps(2, "move 1 of sky to my hand")
	assert.Equal(t, "held-by-another", problem(t, err).Code)
	assert.Equal(t, "Ada is holding a card of these just now.", problem(t, err).Detail)
	_, err = h.steps(2, "shuffle sky")
	assert.Equal(t, "held-by-another", problem(t, err).Code)
	h.do(2, "draw from weather")
	h.rooms.Grip(h.id, who(1), nil)
	assert.Empty(t, next[wire.Gripping](t, bo).Cards)
	h.do(2, "move 1 of sky to my hand")
	assert.Equal(t, 20, h.count("weather"))
}

func TestPointersArePassedOnAndDroppedWhereThereIsMuchToDo(t *testing.T) {
	h := newHouse(t, room.Options{})
	ada, bo := listen(who(1)), listen(who(2))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, ada.Listener, wire.Hello{}))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, bo.Listener, wire.Hello{}))
	h.rooms.Point(h.id, who(1), wire.Point{X: 120, Y: 80})
	at := next[wire.Pointing](t, bo)
	assert.Equal(t, []any{table.Seat(1), 120.0, 80.0, false}, []any{at.Seat, at.X, at.Y, at.Away})
	h.rooms.Point(h.id, who(1), wire.Point{X: -5, Y: 80})
	assert.True(t, next[wire.Pointing](t, bo).Away, "beside the table is away")
	for range 1000 {
		h.rooms.Point(h.id, who(1), wire.Point{X: 1, Y: 1})
	}
	require.Eventually(t, func() bool { _, err := h.steps(1, "draw from weather to sky"); return err == nil }, 20*time.Second, time.Millisecond, "the mailbox stays full")
	next[wire.Changes](t, bo)
	bo.fill()
	assert.False(t, bo.missed, "pointers pushed nothing else out")
	next[wire.Changes](t, ada)
}

// A search in vain says what is not there; before this it was told to nobody.
func TestASearchInVainIsToldToo(t *testing.T) {
	h := newHouse(t, room.Options{})
	bo := listen(who(2))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, bo.Listener, wire.Hello{}))
	next[wire.Whole](t, bo)
	h.do(1, "move bottom 1 of weather to hand of Bo") // so that it is not known by itself how many there are
	next[wire.Changes](t, bo)
	_, err := h.steps(1, "take 2 from weather where name = Storm to my hand")
	assert.Equal(t, "weather has 1 card that fits, you asked for 2.", problem(t, err).Detail)
	told := next[wire.Changes](t, bo).Log[0]
	assert.Equal(t, "# searches the 21 cards of weather and takes nothing", told.Text)
	assert.EqualValues(t, 1, told.Seat)

	// Nor can a later step that is refused hide that one searched: what it found stands.
	_, err = h.steps(1, "take 1 from weather where name = Storm to my hand\ndraw 999 from weather")
	p := problem(t, err)
	assert.Equal(t, []any{"too-few-cards", 409, true, 2, 2}, []any{p.Code, p.Status, p.Stands, p.Step, p.Line})
	assert.Equal(t, "move Storm of weather to my hand", p.Log[0].Text)
	assert.Equal(t, "move 1 of weather to hand of Ada", next[wire.Changes](t, bo).Log[0].Text)
}

func TestALookEndsWhenItsSeatLosesTheConnection(t *testing.T) {
	h := newHouse(t, room.Options{})
	ada := listen(who(1))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, ada.Listener, wire.Hello{}))
	next[wire.Whole](t, ada)
	h.do(1, "peek 3 of weather")
	_, err := h.steps(2, "draw from weather")
	assert.Equal(t, "being-looked-at", problem(t, err).Code)
	h.rooms.Leave(h.id, ada.Listener)
	h.do(2, "draw from weather")
}

func TestATimerEndsByTheServicesClock(t *testing.T) {
	var skip atomic.Int64
	h := newHouse(t, room.Options{Now: func() time.Time { return time.Now().Add(time.Duration(skip.Load())) }})
	ada := listen(who(1))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, ada.Listener, wire.Hello{}))
	next[wire.Whole](t, ada)
	h.do(1, "start sandglass")
	next[wire.Changes](t, ada)
	skip.Store(int64(200 * time.Second))
	rung := next[wire.Changes](t, ada)
	assert.Equal(t, "# the time of sandglass is up", rung.Log[0].Text)
	assert.Zero(t, rung.Pieces[0].Ends)
}

func TestAFreedSeatTakesItsKeysAndItsPeopleAlong(t *testing.T) {
	h := newHouse(t, room.Options{})
	bo := listen(who(2))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, bo.Listener, wire.Hello{}))
	free := func(seat table.Seat, which string) error {
		_, err := h.rooms.Act(h.ctx, h.id, who(seat), wire.Request{Action: json.RawMessage(`{"do":"free","seat":` + which + `}`)})
		return err
	}
	assert.Equal(t, "belongs-to-another-seat", problem(t, free(2, "1")).Code, "only the host frees others")
	require.NoError(t, free(1, "2"))
	<-bo.Gone()
	_, err := h.store.SeatKey(h.ctx, "key of Bo in "+h.id)
	assert.ErrorIs(t, err, store.ErrNotFound)
	_, err = h.sit(h.id, 2, "Cleo")
	require.NoError(t, err)
}

func TestUndoReachesBackOverARestart(t *testing.T) {
	h := newHouse(t, room.Options{})
	h.do(1, "draw 2 from weather")
	h.do(1, "set day to 5")
	h.do(1, "undo")
	h.again()
	h.do(1, "undo")
	assert.Equal(t, 22, h.count("weather"))
	_, err := h.steps(1, "undo")
	assert.Equal(t, "nothing-to-undo", problem(t, err).Code)
}

func TestAnIdleRoomIsPutAwayAndComesBack(t *testing.T) {
	h := newHouse(t, room.Options{IdleAfter: 40 * time.Millisecond})
	h.do(1, "draw from weather")
	require.Eventually(t, func() bool { return h.rooms.Live() == 0 }, 20*time.Second, 10*time.Millisecond)
	h.do(1, "draw from weather")
	assert.Equal(t, 20, h.count("weather"))
}

func TestWhileTheDatabaseIsGoneNothingIsShownAndActionsAreRefused(t *testing.T) {
	h := newHouse(t, room.Options{Patience: 100 * time.Millisecond})
	ada := listen(who(1))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, ada.Listener, wire.Hello{}))
	next[wire.Whole](t, ada)
	require.NoError(t, h.store.Close())
	ctx, cancel := context.WithTimeout(h.ctx, 500*time.Millisecond)
	defer cancel()
	_, err := h.rooms.Act(ctx, h.id, who(1), wire.Request{Steps: "draw from weather"})
	assert.Equal(t, "not-saving", problem(t, err).Code)
	assert.Equal(t, "not-saving", next[wire.Notice](t, ada).Code)
	_, err = h.steps(1, "draw from weather")
	assert.Equal(t, "not-saving", problem(t, err).Code)
	assert.False(t, h.rooms.Saving())
	ada.fill()
	assert.Empty(t, ada.waiting, "something unconfirmed was shown")
}

func TestAnswersSayWhatIsWrong(t *testing.T) {
	h := newHouse(t, room.Options{})
	for name, c := range map[string]struct {
		seat    table.Seat
		request wire.Request
		status  int
		code    string
		detail  string
	}{
		"watching":   {0, wire.Request{Steps: "shuffle sky"}, 403, "needs-a-seat", "You are watching. Take a seat to act."},
		"steps":      {1, wire.Request{Steps: "shufle sky"}, 400, "not-understood", `there is no step "shufle"; did you mean "shuffle"?`},
		"empty":      {1, wire.Request{}, 400, "not-understood", `give either an "action" or "steps"`},
		"sit":        {1, wire.Request{Action: json.RawMessage(`{"do":"sit","seat":3,"name":"Zed"}`)}, 400, "not-understood", "this action is the service's own; a seat is taken by joining the room"},
		"old handle": {1, wire.Request{Action: json.RawMessage(`{"do":"flip","cards":["1"]}`)}, 404, "no-such-card", "A card you named is not there any more, or was named twice."},
		"pile short": {1, wire.Request{Steps: "draw 30 from weather"}, 409, "too-few-cards", "weather has 22 cards, you asked for 30."},
		"not theirs": {1, wire.Request{Steps: "move 1 of hand of Bo to sky"}, 403, "belongs-to-another-seat", "The satchel of Bo is theirs alone; ask Bo to give you a card."},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := h.rooms.Act(h.ctx, h.id, who(c.seat), c.request)
			p := problem(t, err)
			assert.Equal(t, c.status, p.Status)
			assert.Equal(t, c.code, p.Code)
			assert.Contains(t, p.Detail, c.detail)
		})
	}
	_, err := h.rooms.Act(h.ctx, "nowhere", who(1), wire.Request{Steps: "shuffle sky"})
	assert.ErrorIs(t, err, store.ErrNotFound)
	_, err = h.sit(h.id, 0, "ada")
	assert.Equal(t, "seat-taken", problem(t, err).Code)
}

// A room that rests once slept on through the end of the service.
func TestARoomThatRestsDoesNotHoldUpTheEnd(t *testing.T) {
	h := newHouse(t, room.Options{Rest: time.Hour, BeforeApply: func(_ string, a table.Action) {
		if _, flip := a.(table.Flip); flip {
			panic("planted")
		}
	}})
	for _, side := range []string{"sky", "weather", "outbox", "my dock", "my hand"} {
		_, _ = h.steps(1, "flip "+side)
	}
	_, err := h.steps(1, "shuffle weather")
	require.Equal(t, "room-rests", problem(t, err).Code)
	closed := make(chan struct{})
	go func() { h.rooms.Close(); close(closed) }()
	select {
	case <-closed:
	case <-time.After(30 * time.Second):
		require.Fail(t, "the rooms do not end")
	}
}

// People learn that the database is gone before they act, and that it is back.
func TestPeopleAreToldThatTheDatabaseIsGoneBeforeTheyAct(t *testing.T) {
	h := newHouse(t, room.Options{})
	ada := listen(who(1))
	require.NoError(t, h.rooms.Enter(h.ctx, h.id, ada.Listener, wire.Hello{}))
	next[wire.Whole](t, ada)
	require.NoError(t, h.store.Close())
	assert.Equal(t, "not-saving", next[wire.Notice](t, ada).Code)
	assert.False(t, h.rooms.Saving())
}

// A deck of 5,000 designs once stood in the journal, and in each snapshot, of every room.
func TestADeckOfAnEditionIsKeptAsItsName(t *testing.T) {
	h := newHouse(t, room.Options{})
	k, err := kit.Read(demo.Weather())
	require.NoError(t, err)
	result, err := k.Make(kit.Making{})
	require.NoError(t, err)
	put, _, err := h.store.PutKit(h.ctx, "m", store.Put{Result: result, Files: []store.File{{Name: "kit.yaml", Hash: "h"}}}, 1)
	require.NoError(t, err)
	record, _, err := h.rooms.Open(h.ctx, store.Room{Maker: "m", Kit: put.ID, Edition: put.Edition, Name: "Of a kit", Seats: 3, Spectators: true}, result.Edition, room.Beginning{})
	require.NoError(t, err)
	h.id = record.ID
	_, err = h.sit(h.id, 1, "Ada")
	require.NoError(t, err)
	h.do(1, "turn 5 of weather face up to sky")
	require.NoError(t, h.store.Snapshot(h.ctx, h.id))
	entries, err := h.store.Entries(h.ctx, h.id, 0, 1)
	require.NoError(t, err)
	assert.NotContains(t, string(entries[0].Edits), "Spring tide")
	names := func() (all []string) {
		look, err := h.rooms.View(h.ctx, h.id, who(1))
		require.NoError(t, err)
		for _, c := range look.View.Place("sky").Cards {
			all = append(all, look.View.Faces[c.Face].Name)
		}
		return all
	}
	before := names()
	assert.Len(t, before, 5)
	assert.NotContains(t, before, "")
	h.again() // from the snapshot
	assert.Equal(t, before, names())
	h.do(1, fmt.Sprintf("take 1 from sky where name = %q to my hand", before[0])) // the designs are there to search by
}
