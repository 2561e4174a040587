package api_test

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/gorilla/websocket"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// twinSteps write one action of a kind in Steps. Together they cover every
// action a seat can say; the others are in the twin run of core/sight only.
var twinSteps = map[string]func(r *rapid.T) string{
	"shuffle":  func(r *rapid.T) string { return "shuffle " + anyPlace(r) },
	"cut":      func(r *rapid.T) string { return "cut " + anyPlace(r) },
	"sort":     func(r *rapid.T) string { return "sort " + anyPlace(r) + " by deck" },
	"separate": func(r *rapid.T) string { return "separate " + anyPlace(r) + " by deck" },
	"draw": func(r *rapid.T) string {
		return fmt.Sprintf("draw %d from %s to %s", anyCount(r), anyPlace(r), anyPlace(r))
	},
	"deal": func(r *rapid.T) string {
		return fmt.Sprintf("deal %d from %s to first seat, 1 to every other", anyCount(r), anyPlace(r))
	},
	"top-up":   func(r *rapid.T) string { return fmt.Sprintf("fill every hand to %d from weather", anyCount(r)) },
	"exchange": func(r *rapid.T) string { return "exchange 1 of my hand to " + anyPlace(r) + " for weather" },
	"flip": func(r *rapid.T) string {
		return "flip " + anyPick(r) + rapid.SampledFrom([]string{"", " face up", " face down"}).Draw(r, "face")
	},
	"rotate": func(r *rapid.T) string { return "rotate " + anyPick(r) },
	"move": func(r *rapid.T) string {
		return "move " + anyPick(r) + rapid.SampledFrom([]string{" to ", " under "}).Draw(r, "how") + anyPlace(r)
	},
	"spread":          func(r *rapid.T) string { return "spread " + anyPick(r) + " over sky" },
	"collect":         func(r *rapid.T) string { return "collect sky onto " + anyPlace(r) },
	"gather":          func(r *rapid.T) string { return "gather weather" },
	"everything-home": func(*rapid.T) string { return "everything home" },
	"shuffle-in":      func(r *rapid.T) string { return "shuffle " + anyPlace(r) + " into weather" },
	"peek":            func(r *rapid.T) string { return fmt.Sprintf("peek %d of %s", anyCount(r), anyPlace(r)) },
	"close":           func(r *rapid.T) string { return "close " + anyPlace(r) },
	"show": func(r *rapid.T) string {
		return "show 1 of my hand" + rapid.SampledFrom([]string{"", " to Bo"}).Draw(r, "to")
	},
	"ask": func(r *rapid.T) string {
		return rapid.SampledFrom([]string{"ask Ada for 1", "ask Bo to show 1"}).Draw(r, "ask")
	},
	"agree":      func(*rapid.T) string { return "agree" },
	"decline":    func(*rapid.T) string { return "decline" },
	"withdraw":   func(*rapid.T) string { return "withdraw" },
	"pass":       func(*rapid.T) string { return "pass" },
	"first":      func(*rapid.T) string { return "choose first seat by chance" },
	"turn-round": func(*rapid.T) string { return "reverse turns" },
	"say":        func(*rapid.T) string { return `say "The tide is in."` },
	"undo":       func(*rapid.T) string { return "undo" },
	"run":        func(*rapid.T) string { return "run setup" },
	"all": func(r *rapid.T) string {
		return fmt.Sprintf("shuffle %s\ndraw %d from %s\nflip %s", anyPlace(r), anyCount(r), anyPlace(r), anyPick(r))
	},
}

// unsaid are the actions without words, of pieces that Marsh Post's first part
// does not have, or of the service itself.
var unsaid = []string{"reorder", "change-seat", "door", "end", "keys", "lay-piece", "lay-table", "lay-zone", "take-off", "free", "hand", "hand-on", "lapse", "move-piece", "rename", "roll", "set", "sit", "stack", "swap", "timer", "write"}

func anyPlace(r *rapid.T) string {
	return rapid.SampledFrom([]string{"weather", "sky", "outbox", "my hand", "my dock", "dock of Bo", "hand of Ada"}).Draw(r, "place")
}
func anyCount(r *rapid.T) int { return rapid.IntRange(1, 3).Draw(r, "count") }
func anyPick(r *rapid.T) string {
	which := rapid.SampledFrom([]string{"", "top ", "bottom ", "all of "}).Draw(r, "which")
	if which == "all of " {
		return which + anyPlace(r)
	}
	return fmt.Sprintf("%s%d of %s", which, anyCount(r), anyPlace(r))
}

func TestTheTwinRunCoversEveryAction(t *testing.T) {
	covered := append(slices.Collect(maps.Keys(twinSteps)), unsaid...)
	slices.Sort(covered)
	assert.Equal(t, table.ActionWords(), covered)
}

type twinMove struct {
	seat int
	text string
}

// A fixed clock and fixed handles, so that two runs can be compared byte for
// byte.
func twinOptions() room.Options {
	return room.Options{
		Now:     func() time.Time { return time.UnixMilli(1_700_000_000_000) },
		GateKey: func() [32]byte { return [32]byte{7} },
	}
}

// twinRoom opens a room in which two cards have exchanged their designs.
func (w *world) twinRoom(r *rapid.T, made kit.Edition, id string, one, other table.CardID) [3]wire.Joined {
	edits := made.Lay(3)
	for _, e := range edits {
		if mint, ok := e.(table.Mint); ok && one != other {
			cards := mint.Cards
			cards[one-1].Design, cards[other-1].Design = cards[other-1].Design, cards[one-1].Design
		}
	}
	text, err := json.Marshal(edits)
	require.NoError(r, err)
	record := store.Room{ID: id, Maker: w.maker.ID, Seats: 3, Spectators: true, Passcode: []byte{}, Seed: make([]byte, 32)}
	require.NoError(r, w.store.AddRoom(context.Background(), record, store.Entry{Room: id, Number: 1, Edits: text, Deeds: []byte("[]")}))
	var joined [3]wire.Joined
	for i, name := range []string{"Ada", "Bo", "Cleo"} {
		who, err := w.rooms.Sit(context.Background(), id, room.Seating{Seat: table.Seat(i + 1), Name: name, Salt: "salt", Key: store.Hash(id + name)})
		require.NoError(r, err)
		joined[i] = wire.Joined{Key: id + name, Room: id, Seat: who.Seat, Name: name}
	}
	return joined
}

// listen collects every byte a seat's socket brings, until done answers.
func listen(r *rapid.T, socket *websocket.Conn, until string) (all []string) {
	for {
		require.NoError(r, socket.SetReadDeadline(time.Now().Add(20*time.Second)))
		_, text, err := socket.ReadMessage()
		require.NoError(r, err)
		all = append(all, string(text))
		if strings.Contains(string(text), until) {
			return all
		}
	}
}

// run plays a script and returns all that the viewer's socket brought.
func (w *world) run(r *rapid.T, made kit.Edition, id string, viewer int, script []twinMove, one, other table.CardID) []string {
	joined := w.twinRoom(r, made, id, one, other)
	socket := w.dial(joined[viewer-1])
	defer socket.Close()
	all := listen(r, socket, `"type":"view"`)
	for n, move := range script {
		request := wire.Request{ID: fmt.Sprint("twin", n), Steps: move.text}
		if move.seat == viewer {
			require.NoError(r, socket.WriteJSON(wire.Act{Type: "act", Request: request}))
			all = append(all, listen(r, socket, `"id":"`+request.ID+`"`)...)
			continue
		}
		_, _ = w.rooms.Act(context.Background(), id, at(joined[move.seat-1]), request)
	}
	require.NoError(r, socket.WriteJSON(wire.Act{Type: "act", Request: wire.Request{ID: "end", Steps: "end"}}))
	return append(all, listen(r, socket, `"id":"end"`)...)
}

func TestTheBytesOfASocketDoNotDependOnCardsNeverSeen(t *testing.T) {
	w := newWorld(t, twinOptions())
	w.room()
	kits, err := w.store.Kits(context.Background(), w.maker.ID)
	require.NoError(t, err)
	made, err := w.store.Edition(context.Background(), kits[0].ID, 1)
	require.NoError(t, err)
	laid := &table.Table{}
	laid.Fold(made.Lay(3))
	kinds := slices.Sorted(maps.Keys(twinSteps))
	compared := 0
	rapid.Check(t, func(r *rapid.T) {
		viewer := rapid.IntRange(1, 3).Draw(r, "viewer")
		var script []twinMove
		for range rapid.IntRange(1, 10).Draw(r, "actions") {
			kind := rapid.SampledFrom(kinds).Draw(r, "kind")
			script = append(script, twinMove{rapid.IntRange(1, 3).Draw(r, "seat"), twinSteps[kind](r)})
		}
		first := w.run(r, made, store.NewID(), viewer, script, 1, 1)
		received := strings.Join(first, "\n")
		var unseen []table.CardID
		for id := table.CardID(1); int(id) <= len(laid.Cards); id++ {
			if !strings.Contains(received, laid.Design(id).Name) && !strings.Contains(received, laid.Design(id).Front.Full) {
				unseen = append(unseen, id)
			}
		}
		if len(unseen) < 2 {
			return
		}
		one, other := unseen[0], unseen[len(unseen)-1]
		second := w.run(r, made, store.NewID(), viewer, script, one, other)
		require.Equal(r, first, second, "exchanging cards %d and %d shows to seat %d", one, other, viewer)
		compared++
	})
	t.Logf("%d runs compared", compared)
	assert.Greater(t, compared, 20, "too few runs left two cards unseen to mean anything")
}

// probe writes a request of somebody who wants to learn more than the table shows.
func probe(r *rapid.T) string {
	name := func() string {
		return `"` + rapid.SampledFrom([]string{"Ice", "Low sun", "Storm", "Fog", "Drizzle", "Spring tide"}).Draw(r, "name") + `"`
	}
	lines := rapid.SliceOfN(rapid.Custom(func(*rapid.T) string {
		return rapid.SampledFrom([]string{
			"shuffle weather", "draw 1 from weather", "draw 2 from weather to sky", "peek 2 of weather", "close weather", "roll wind", "draw 40 from weather",
			"gather weather where in hand of Bo", "gather weather", "move 2 by chance of weather to outbox", "move 1 of nowhere to sky", "choose first seat by chance",
			"take 1 from weather where name = " + name() + " to sky", "take 3 from weather where name = " + name() + " to my hand", "separate outbox by name",
			"move " + name() + " of my hand to sky", "move " + name() + " of sky to my hand", "move 1 of sky under weather", "sort my hand by name", "set day to 99",
		}).Draw(r, "line")
	}), 1, 4).Draw(r, "lines")
	return strings.Join(lines, "\n")
}

// asks sends a request over a socket and returns all that came until its answer.
func asks(r *rapid.T, socket *websocket.Conn, id, steps string) string {
	require.NoError(r, socket.WriteJSON(wire.Act{Type: "act", Request: wire.Request{ID: id, Steps: steps}}))
	return strings.Join(listen(r, socket, `"id":"`+id+`"`), "\n")
}

// The first property of what is refused, on real sockets: if what comes back tells two
// worlds apart, everybody was told in both.
func TestNothingIsLearntOverASocketByWhatIsRefused(t *testing.T) {
	w := newWorld(t, twinOptions())
	w.room()
	kits, err := w.store.Kits(context.Background(), w.maker.ID)
	require.NoError(t, err)
	made, err := w.store.Edition(context.Background(), kits[0].ID, 1)
	require.NoError(t, err)
	asked, apart := 0, 0
	rapid.Check(t, func(r *rapid.T) {
		one := table.CardID(rapid.IntRange(1, 22).Draw(r, "one"))
		other := table.CardID(rapid.IntRange(1, 22).Draw(r, "other"))
		id := fmt.Sprint("p", time.Now().UnixNano()%1e12)
		var sockets [2]*websocket.Conn
		rooms := [2]string{id + "a", id + "b"}
		for i, exchanged := range []table.CardID{one, other} {
			joined := w.twinRoom(r, made, rooms[i], one, exchanged)
			_, _ = w.rooms.Act(context.Background(), rooms[i], at(joined[1]), wire.Request{Steps: "draw 3 from weather"})
			sockets[i] = w.dial(joined[0])
			defer sockets[i].Close()
			listen(r, sockets[i], `"type":"here"`)
		}
		lines := func(room string) int {
			log, err := w.rooms.Log(context.Background(), room, at(wire.Joined{Seat: 2}), 200)
			require.NoError(r, err)
			return len(log)
		}
		for n := range 14 {
			steps, before := probe(r), lines(rooms[0])
			asked++
			a, b := asks(r, sockets[0], fmt.Sprint("p", n), steps), asks(r, sockets[1], fmt.Sprint("p", n), steps)
			if a == b {
				require.Equal(r, lines(rooms[0]), lines(rooms[1]))
				continue
			}
			apart++
			for _, room := range rooms {
				require.Greater(r, lines(room), before, "%s told\n%s\nand\n%s\nand nobody else was told", steps, a, b)
			}
			return
		}
	})
	t.Logf("%d requests, %d told two worlds apart, and told everybody", asked, apart)
}
