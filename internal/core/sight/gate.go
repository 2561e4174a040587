// Package sight is the one gate between a table and the people at it.
//
// View, Begin, Changes and Show are the only functions whose results may leave the service,
// with Log, which reads old lines again, and InSight, which names what is in view.
// A Gate keeps the handles by which viewers name cards:
//
//	g := sight.NewGate(t, key, steps.Say, names)
//	view := g.View(t, 2)                        // all that seat 2 may see
//	edits, deeds, refusal := t.Apply(1, action, table.Circumstances{Handles: g.Names(1), Chance: streams})
//	touched := g.Settle(t, edits)               // renew handles; once per entry
//	changes := g.Changes(t, touched, deeds, 2)  // what that showed seat 2
package sight

import (
	"cmp"
	"crypto/sha256"
	"encoding/binary"
	"slices"

	"damselfly.example/damselfly/internal/core/table"
)

// Viewer is who looks: a seat, or 0 for a spectator. The host looks with the
// eyes of their own seat.
type Viewer = table.Seat

// Handle is the name under which viewers speak of a card they have before
// their eyes. It carries no information, and dies when any viewer who had the card
// before their eyes loses it from sight. It is never a CardID.
type Handle = table.Handle

// handleBits is the length of a handle: long enough not to be guessed, and
// always longer than a card's own id.
const handleBits = 50

// Gate knows the handle of every card that somebody has before their eyes. It
// belongs to one table and is not safe for concurrent use.
type Gate struct {
	held  map[table.CardID]held
	cards map[Handle]table.CardID
	tops  map[table.PlaceID]table.CardID // of stacked places
	key   [32]byte
	ended map[table.CardID]uint64 // how many handles of a card have ended
	words words
	told  map[Viewer]map[Word]bool // the faces that were told to everyone, at 0, and to seats beside
	say   func(table.Told) string

	pictures Names
}

type held struct {
	handle   Handle
	audience table.Audience
}

// NewGate opens a gate over a table. key must be fresh and secret: handles are
// made from it, and never from the room's seed, which is disclosed one day.
// say turns a log line into words.
func NewGate(t *table.Table, key [32]byte, say func(table.Told) string, pictures Names) *Gate {
	g := &Gate{
		pictures: pictures,
		held:     map[table.CardID]held{}, cards: map[Handle]table.CardID{}, tops: map[table.PlaceID]table.CardID{},
		key: key, ended: map[table.CardID]uint64{}, say: say,
		words: words{key, map[shown]Word{}, map[Word]bool{}}, told: map[Viewer]map[Word]bool{},
	}
	for _, id := range t.PlaceIDs() {
		g.hold(t, t.Places[id])
	}
	return g
}

// Settle renews handles after an entry: for every card that went where some
// viewer lost sight of it, also for a moment, and for every card of a place
// that got a new order. It returns what the entry touched.
func (g *Gate) Settle(t *table.Table, edits table.Edits) *Touched {
	touched := g.touch(t, edits)
	for _, e := range edits {
		touch := table.TouchOf(e, t)
		switch {
		case touch.Moves:
			to := t.Places[touch.Places[1]]
			if to != nil && touch.Places[0] == to.ID && followed(to) {
				continue // who sees it there sees it still
			}
			if to == nil || to.Sight != table.Open || to.Kind.Stacked() && touched.byID[to.ID].passed {
				g.dropUnlessSeen(to, touch.Cards)
			}
		case touch.Shown != 0:
			g.recheck(t, touch.Shown)
		}
		for _, card := range touch.Gone {
			g.drop(card)
		}
		for _, look := range touch.Looks {
			g.recheckLook(t, look)
		}
	}
	for _, c := range edits.SeatChanges() {
		g.forget(t, c.Seat, touched)
	}
	for _, at := range touched.places {
		p := t.Places[at.id]
		if top, known := g.tops[at.id]; known {
			g.recheck(t, top)
		}
		if p == nil {
			delete(g.tops, at.id)
			continue
		}
		if _, looking := t.Looks[at.id]; looking {
			g.recheckAll(t, p)
		}
		if at.reordered || at.relaid {
			for _, card := range p.Cards {
				g.drop(card)
			}
		}
	}
	for _, m := range touched.moves {
		if m.stirred {
			g.drop(m.card)
		} else {
			g.recheck(t, m.card)
		}
	}
	for _, at := range touched.places {
		if p := t.Places[at.id]; p != nil && at.shows {
			g.hold(t, p)
		}
	}
	return touched
}

// dropUnlessSeen drops the handles of cards that came to a place, though
// perhaps not to stay, where not everybody who had them in sight could follow.
func (g *Gate) dropUnlessSeen(to *table.Place, cards []table.CardID) {
	for _, card := range cards {
		h, known := g.held[card]
		if !known {
			continue
		}
		follows := to != nil && to.Sight == table.OwnerOnly && h.audience == table.Only(to.Owner)
		if !follows {
			g.drop(card)
		}
	}
}

// recheck drops the handle of a card that not everybody sees who saw it.
func (g *Gate) recheck(t *table.Table, card table.CardID) {
	h, known := g.held[card]
	if !known {
		return
	}
	now := table.Nobody
	if p, index := t.At(card); p != nil && index >= 0 {
		now = t.Audience(p, index)
	}
	if !now.Covers(h.audience) {
		g.drop(card)
		return
	}
	g.held[card] = held{h.handle, now}
}

func (g *Gate) drop(card table.CardID) {
	if h, known := g.held[card]; known {
		delete(g.held, card)
		delete(g.cards, h.handle)
		g.ended[card]++
	}
}

// recheckAll rechecks all cards of a place that changed while somebody looks
// into it: what came on top hides what was in sight.
func (g *Gate) recheckAll(t *table.Table, p *table.Place) {
	for i, card := range p.Cards {
		if h, known := g.held[card]; known && !t.Audience(p, i).Covers(h.audience) {
			g.drop(card)
		}
	}
}

// recheckLook rechecks the cards that a look was or is at.
func (g *Gate) recheckLook(t *table.Table, look table.Look) {
	cards := look.Cards
	if p := t.Places[look.Place]; cards == nil && p != nil {
		cards = p.Cards[max(len(p.Cards)-look.Count, 0):]
	}
	for _, card := range cards {
		g.recheck(t, card)
	}
}

// forget ends the handles that a seat had and not everybody, and what was told to it:
// who sits there now is somebody else, or nobody. The others who saw those cards are
// shown new ones.
func (g *Gate) forget(t *table.Table, seat Viewer, touched *Touched) {
	delete(g.told, seat)
	for card, h := range g.held {
		if h.audience == table.Everyone || !h.audience.Includes(seat) {
			continue
		}
		g.drop(card)
		if c := t.Cards[card]; c != nil {
			at := touched.at(c.Place)
			at.show(false)
			at.anew = true
			at.sawMore |= h.audience
		}
	}
	slices.SortFunc(touched.places, func(a, b *touchedPlace) int { return cmp.Compare(a.id, b.id) })
}

// followed reports whether everybody who has a card of a place before their eyes
// sees its front, so that a new order there parts nobody from a card.
func followed(p *table.Place) bool { return p.Sight == table.OwnerOnly && !p.Kind.Stacked() }

// hold gives a handle to every card of a place that somebody has before their
// eyes and that has none.
func (g *Gate) hold(t *table.Table, p *table.Place) {
	if p.Kind.Stacked() {
		delete(g.tops, p.ID)
	}
	for i := t.InView(p); i < len(p.Cards); i++ {
		audience := t.Audience(p, i)
		card := p.Cards[i]
		if audience == table.Nobody {
			continue
		}
		if p.Kind.Stacked() && i == len(p.Cards)-1 {
			g.tops[p.ID] = card
		}
		if _, known := g.held[card]; known {
			continue
		}
		handle := g.handle(card)
		g.held[card] = held{handle, audience}
		g.cards[handle] = card
	}
}

// handle makes a new name for a card, from the card and from how many it has had, so
// that it tells nothing of what happened to other cards.
func (g *Gate) handle(card table.CardID) Handle {
	for {
		text := binary.BigEndian.AppendUint64(g.key[:len(g.key):len(g.key)], uint64(card))
		sum := sha256.Sum256(binary.BigEndian.AppendUint64(text, g.ended[card]))
		handle := Handle(binary.BigEndian.Uint64(sum[:])>>(64-handleBits) | 1<<(handleBits-1))
		if g.cards[handle] == 0 {
			return handle
		}
		g.ended[card]++
	}
}

// Names finds the cards that a viewer means by handles. A handle the viewer does not
// hold is no card, which an action then refuses.
func (g *Gate) Names(viewer Viewer) func(Handle) table.CardID {
	return func(handle Handle) table.CardID {
		card := g.cards[handle]
		if h, known := g.held[card]; known && h.audience.Includes(viewer) {
			return card
		}
		return 0
	}
}

// InSight are the handles of those cards that a viewer has before their eyes.
func (g *Gate) InSight(cards []table.CardID, viewer Viewer) []Handle {
	var seen []Handle
	for _, card := range cards {
		if h, known := g.held[card]; known && h.audience.Includes(viewer) {
			seen = append(seen, h.handle)
		}
	}
	return seen
}
