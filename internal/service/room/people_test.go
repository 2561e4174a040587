package room_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"strconv"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// person is somebody who does anything at all at a room.
type person struct {
	who     room.Who
	name    string
	handles []table.Handle
}

// crowd makes people's choices.
type crowd struct {
	*rand.Rand
	h      *house
	people []*person
	came   map[string]int // what acts came to
}

func (c *crowd) of(all ...string) string { return all[c.IntN(len(all))] }

func (c *crowd) place() string {
	return c.of("weather", "sky", "outbox", "my hand", "my dock", "moorings B2", "moorings", "felt/1", "felt/2", "hand of seat 2")
}

// steps writes anything that can be said.
func (c *crowd) steps() string {
	n := c.IntN(4)
	switch c.IntN(24) {
	case 0:
		return fmt.Sprintf("draw %d from %s", n+1, c.place())
	case 1:
		return fmt.Sprintf("move %s %d of %s to %s", c.of("top", "bottom"), n+1, c.place(), c.place())
	case 2:
		return "shuffle " + c.place()
	case 3:
		return fmt.Sprintf("peek %d of %s", n+1, c.place())
	case 4:
		return "close " + c.place()
	case 5:
		return fmt.Sprintf("ask seat %d for 1", n+1)
	case 6:
		return c.of("agree", "decline", "withdraw", "agree with Fog", "agree with Ice")
	case 7:
		return "undo"
	case 8:
		return c.of("gather weather", "gather weather and shuffle", "gather weather where not in sky")
	case 9:
		return "flip " + c.place()
	case 10:
		return fmt.Sprintf("move 1 of %s to felt at %d %d", c.place(), c.IntN(700), c.IntN(500))
	case 11:
		return "shuffle " + c.place() + "\nmove all of " + c.place() + " to " + c.place()
	case 12:
		return "separate " + c.place() + " by wind"
	case 13:
		return "spread " + strconv.Itoa(n+1) + " of weather over moorings"
	case 14:
		return "collect moorings onto " + c.place()
	case 15:
		return "show 1 of my hand for 1 seconds"
	case 16:
		return "take 1 from " + c.place() + " where wind >= 2 to " + c.place()
	case 17:
		return fmt.Sprintf("deal %d weather to every hand\nchoose first seat by chance", n+1)
	case 18:
		return "move " + c.of("Fog", "Ice", "Storm") + " of " + c.place() + " to " + c.place()
	case 19:
		return "sort " + c.place() + " by name"
	case 20:
		return "exchange 1 of my hand to outbox for weather"
	case 21:
		return "cut " + c.place()
	case 22:
		return "rotate " + c.place() + "\nflip all of " + c.place()
	}
	return c.of("roll wind", "add 1 to day", "pass", "start sandglass", "run setup", "shuffle outbox into weather", "hide all of my hand", "fill every hand to 2 from weather")
}

// action names cards by handles, of now or of once.
func (c *crowd) action(p *person) string {
	cards := "[]"
	if len(p.handles) > 0 {
		var some []table.Handle
		for range 1 + c.IntN(3) {
			some = append(some, p.handles[c.IntN(len(p.handles))])
		}
		text, _ := json.Marshal(some)
		cards = string(text)
	}
	return c.of(
		`{"do":"move","cards":`+cards+`,"to":{"place":"`+c.of("sky", "weather", "outbox", "dock/1", "satchel/2")+`"}}`,
		`{"do":"flip","cards":`+cards+`}`, `{"do":"swap","cards":`+cards+`}`, `{"do":"rotate","cards":`+cards+`}`,
		`{"do":"reorder","place":"weather","top":`+cards+`}`, `{"do":"reorder","place":"weather","under":`+cards+`}`,
		`{"do":"show","cards":`+cards+`}`, `{"do":"change-seat","to":`+strconv.Itoa(1+c.IntN(3))+`}`, `{"do":"free","seat":`+strconv.Itoa(1+c.IntN(3))+`}`,
		`{"do":"keys","seat":`+strconv.Itoa(1+c.IntN(3))+`}`, `{"do":"lay-zone","zone":"outbox","x":`+strconv.Itoa(c.IntN(600))+`}`,
		`{"do":"lay-table","mat":`+c.picture()+`}`, `{"do":"lay-piece","kind":"token","x":50,"y":50,"faces":[`+c.picture()+`,`+c.picture()+`]}`,
	)
}

// picture names one of the pictures that were brought.
func (c *crowd) picture() string {
	text, _ := json.Marshal(c.h.store.Names().Outside(brought(c.IntN(4))))
	return string(text)
}

// brought is the picture that was brought under a number.
func brought(n int) table.Picture {
	address := strings.Repeat(strconv.Itoa(n), 64)
	return table.Picture{Small: address, Full: address}
}

// does has somebody do something, and reports whether it was an act.
func (c *crowd) does() {
	h, p := c.h, c.people[c.IntN(len(c.people))]
	if p.who.Seat == 0 {
		who, err := h.rooms.Sit(h.ctx, h.id, room.Seating{Name: p.name, Key: store.Hash(p.name + strconv.Itoa(c.Int()))})
		if err == nil {
			p.who = who
		}
		return
	}
	var err error
	switch c.IntN(12) {
	case 0:
		var look wire.Look
		if look, err = h.rooms.View(h.ctx, h.id, p.who); err == nil {
			if len(p.handles) > 60 {
				p.handles = nil
			}
			for _, place := range look.View.Places {
				for _, card := range place.Cards {
					p.handles = append(p.handles, card.Handle)
				}
			}
		}
	case 1, 2:
		if len(p.handles) > 0 {
			h.rooms.Grip(h.id, p.who, p.handles[c.IntN(len(p.handles)):])
		}
	case 3:
		l := listen(p.who)
		l.Key = p.name
		if h.rooms.Enter(h.ctx, h.id, l.Listener, wire.Hello{}) == nil {
			h.rooms.Leave(h.id, l.Listener)
		}
	case 4, 5:
		_, err = h.rooms.Act(h.ctx, h.id, p.who, wire.Request{Action: json.RawMessage(c.action(p))})
	default:
		_, err = h.rooms.Act(h.ctx, h.id, p.who, wire.Request{Steps: c.steps(), ID: c.of("", "", strconv.Itoa(c.IntN(2000)))})
	}
	c.came[""]++
	var answer *wire.Problem
	if err != nil {
		c.came[""]--
		require.ErrorAs(h.t, err, &answer)
		c.came[answer.Code]++
		require.NotEqual(h.t, 500, answer.Status, "%s", answer.Detail)
		if answer.Code == "seat-left" {
			p.who = room.Who{}
		}
	}
}

// Panics were once found by hand: a grip and a shuffle that emptied a pile, an ask whose
// card had left, a look whose top card another had gripped. DAMSELFLY_ACTS says how many
// acts are played.
func TestWhateverPeopleDoARoomGoesOn(t *testing.T) {
	acts, err := strconv.Atoi(os.Getenv("DAMSELFLY_ACTS"))
	if err != nil {
		acts = 20000
	}
	var mu sync.Mutex
	noted := map[any]bool{} // what entries of all rooms said that they name
	h := newHouse(t, room.Options{BeforeKeep: func(e *store.Entry) {
		mu.Lock()
		defer mu.Unlock()
		for _, edition := range e.Uses.Editions {
			noted[edition] = true
		}
		for _, picture := range e.Uses.Pictures {
			noted[e.Room+picture] = true
		}
	}})
	for n := range 4 {
		p := brought(n)
		require.NoError(t, h.store.BringPicture(h.ctx, p, deck.Pictures{p.Full: []byte{1}}))
	}
	came := map[string]int{}
	var c *crowd
	for n := range acts {
		if n%2000 == 0 { // another room, and other people
			c = &crowd{Rand: rand.New(rand.NewPCG(uint64(n), 25)), h: h, came: came}
			h.id = h.open()
			c.people = []*person{{who: who(1), name: "Ada"}, {who: who(2), name: "Bo"}, {name: "Cleo"}, {name: "Dov"}}
		}
		c.does()
	}
	t.Logf("what came of them: %v", came)
	assert.Greater(t, came[""], acts/4, "people mostly do what can be done")
	assert.Zero(t, h.rooms.Failures.Load(), "a room failed")

	// What a journal names is noted with it, so that it is not erased while it is needed.
	entries, err := h.store.Entries(h.ctx, h.id, 1, 100_000)
	require.NoError(t, err)
	mu.Lock()
	defer mu.Unlock()
	named := 0
	for _, e := range entries {
		var edits table.Edits
		require.NoError(t, json.Unmarshal(e.Edits, &edits))
		for _, picture := range table.UsesOf(edits).Pictures {
			named++
			require.True(t, noted[h.id+picture], "entry %d names %s, which is not noted", e.Number, picture)
		}
	}
	assert.Positive(t, named, "pictures are named")
}
