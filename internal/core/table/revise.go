package table

import (
	"fmt"
	"maps"
	"reflect"
	"slices"
)

// Revise takes another edition of its kit into a table in play. Cards keep their place,
// side, turn and handle, and show the new art where they lie. It is the service's own: the
// room's maker and its host ask the service for it.
//
// What is new comes home to its deck. What is there no more leaves where everybody sees
// it; a card that somebody cannot see stays, marked for who sees it, and leaves when it
// comes into everybody's view: so nobody learns which hidden cards changed.
type Revise struct {
	Number int    // of the edition
	Before *Table // as the edition laid it that is in use
	After  *Table // as the new one lays it, for as many seats
	New    NewCards
}

// NewCards says where the new cards of a deck go at its home.
type NewCards string

// The ways for new cards: on top of its home, underneath, or shuffled in.
const (
	OnTop      NewCards = "top"
	Underneath NewCards = "underneath"
	ShuffledIn NewCards = "shuffled"
)

func (a Revise) plan(d *draft) *Refusal {
	d.circumstances.Held = nil // what somebody drags may change under their hand, too
	d.reviseZones(a)
	d.revisePieces(a)
	d.reviseSettings(a)
	came, left := 0, 0
	before, after, now := byDesign(a.Before), byDesign(a.After), byDesign(d.table)
	for _, key := range slices.Sorted(maps.Keys(unionOf(a.Before.Decks, a.After.Decks))) {
		d.do(PutDeck{Before: d.table.Decks[key], After: d.merged(d.table.Decks[key], a.After.Decks[key], now[key])})
		some, gone := d.reviseCards(a, key, before[key], after[key], now[key])
		came, left = came+some, left+gone
	}
	d.leave()
	text := fmt.Sprintf("edition %d", a.Number)
	if came > 0 {
		text += ", " + counted(came, "new card")
	}
	if left > 0 {
		text += ", " + counted(left, "card") + " gone or to go"
	}
	d.tell("revise", Worded{Text: text})
	return nil
}

// byDesign are the cards of a table by their deck and design, in the order of their ids.
func byDesign(t *Table) map[string]map[string][]CardID {
	all := map[string]map[string][]CardID{}
	for _, id := range slices.Sorted(maps.Keys(t.Cards)) {
		c := t.Cards[id]
		if all[c.Deck] == nil {
			all[c.Deck] = map[string][]CardID{}
		}
		all[c.Deck][c.Design] = append(all[c.Deck][c.Design], id)
	}
	return all
}

// reviseCards brings the new cards of a deck home and marks those that are there no more: the
// cards of each design before and after, and those at the table. It tells how many came, and
// how many go or are marked.
func (d *draft) reviseCards(a Revise, key string, before, after, now map[string][]CardID) (came, left int) {
	var fresh []Minted
	for _, design := range slices.Sorted(maps.Keys(unionOf(before, after))) {
		if more := len(after[design]) - len(before[design]); more > 0 {
			more -= d.stay(now[design], more) // those that were to leave
			for range more {
				fresh = append(fresh, Minted{Deck: key, Design: design, Side: Back})
			}
		} else if more < 0 {
			left += d.letGo(now[design], -more)
		}
	}
	if len(fresh) > 0 {
		d.mint(a, d.table.Decks[key], fresh)
	}
	return len(fresh), left
}

// merged is a deck as it is after a revision: as the new edition has it, with the designs
// of cards that are still there and in it no more.
func (d *draft) merged(now, after *Deck, mine map[string][]CardID) *Deck {
	if now == nil {
		return after
	}
	merged := *now
	if after != nil {
		merged = *after
	}
	merged.Designs = map[string]Design{}
	if after != nil {
		maps.Copy(merged.Designs, after.Designs)
	}
	for key, design := range now.Designs {
		fresh, kept := merged.Designs[key]
		fresh.Revision, design.Former = design.Revision, false
		switch {
		case kept && !reflect.DeepEqual(fresh, design):
			fresh.Revision++
			merged.Designs[key] = fresh
		case kept:
			merged.Designs[key] = fresh
		case len(mine[key]) > 0:
			design.Former = true
			merged.Designs[key] = design
		}
	}
	return &merged
}

// FormerDesigns are those that the deck's edition has no more.
func (d *Deck) FormerDesigns() map[string]Design {
	former := maps.Clone(d.Designs)
	maps.DeleteFunc(former, func(_ string, design Design) bool { return !design.Former })
	if len(former) == 0 {
		return nil
	}
	return former
}

// stay takes the marks off cards that were to leave and that the new edition has again,
// and tells of how many.
func (d *draft) stay(cards []CardID, most int) (stayed int) {
	for _, card := range cards {
		if stayed < most && d.table.Leaving[card] {
			d.do(SetLeaving{Card: card, Before: true})
			stayed++
		}
	}
	return stayed
}

// letGo marks cards that are to leave: first those that everybody sees, then those that
// were minted last. Which of several alike it is says nothing.
func (d *draft) letGo(cards []CardID, count int) (let int) {
	order := slices.Clone(cards)
	slices.SortStableFunc(order, func(a, b CardID) int {
		switch seen, other := d.seenByAll(a), d.seenByAll(b); {
		case seen == other:
			return int(b) - int(a)
		case seen:
			return -1
		}
		return 1
	})
	for _, card := range order {
		if let < count && !d.table.Leaving[card] {
			d.do(SetLeaving{Card: card, After: true})
			let++
		}
	}
	return let
}

// seenByAll reports whether everybody sees the front of a card.
func (d *draft) seenByAll(card CardID) bool {
	c := d.table.Cards[card]
	if c.Side != Front || d.table.Places[c.Place].Sight != Open {
		return false
	}
	p, index := d.table.At(card)
	return d.table.Audience(p, index) == Everyone
}

// leave takes cards away that are to leave and that everybody sees.
func (d *draft) leave() {
	if len(d.table.Leaving) == 0 {
		return
	}
	for _, card := range slices.Sorted(maps.Keys(d.table.Leaving)) {
		if !d.seenByAll(card) {
			continue
		}
		p, index := d.table.At(card)
		leaves := Turned{Chosen: Chosen{Count: 1, From: d.spot(p), Cards: d.witness(nil, []CardID{card})}}
		d.lookShrinks(p, []CardID{card})
		if d.table.Shown[card] != Nobody {
			d.show(card, Nobody, Brief{})
		}
		if last := len(p.Cards) - 1; index != last {
			d.do(Splice{From: p.ID, At: index, To: p.ID, In: last, Cards: []CardID{card}})
		}
		c := *d.table.Cards[card]
		if c.Turn != 0 {
			d.do(SetLie{Card: card, Before: Lie{c.Side, c.Turn}, After: Lie{Side: c.Side}})
		}
		d.do(SetLeaving{Card: card, Before: true})
		d.do(Mint{Place: p.ID, Cards: []Minted{{ID: card, Deck: c.Deck, Design: c.Design, Side: c.Side}}, Gone: true})
		d.clear(p)
		d.tell("leave", leaves)
	}
}

// firstLater is below the ids of all cards that were not there when the table was laid. No
// card ever has the id of another.
const firstLater CardID = 1 << 24

// number gives cards ids that none ever had.
func (d *draft) number(cards []Minted) {
	made := d.table.Made
	for i := range cards {
		made++
		cards[i].ID = firstLater + CardID(made)
	}
	d.do(Count{Before: d.table.Made, After: made})
}

// mint brings new cards to their deck's home.
func (d *draft) mint(a Revise, deck *Deck, cards []Minted) {
	d.number(cards)
	home := d.table.Places[deck.Home]
	if home == nil { // somebody took it off
		home = d.felt(d.table.Settings.Wide/2, d.table.Settings.High/2, deck)
	}
	d.endLook(home.ID)
	d.do(Mint{Place: home.ID, Cards: cards})
	home = d.table.Places[home.ID]
	before := len(home.Cards) - len(cards)
	switch {
	case a.New == ShuffledIn && home.Kind == Pile:
		d.shuffle(home)
	case a.New == Underneath && before > 0:
		d.do(Splice{From: home.ID, At: before, To: home.ID, In: 0, Cards: slices.Clone(home.Cards[before:])})
	}
}

// reviseZones merges how zones are laid: what players did to a zone stays, and no change
// lays open what is hidden.
func (d *draft) reviseZones(a Revise) {
	for _, id := range slices.Sorted(maps.Keys(unionOf(a.Before.Places, a.After.Places))) {
		before, after, now := bare(a.Before.Places[id]), bare(a.After.Places[id]), d.table.Places[id]
		switch {
		case before == nil && after != nil && now == nil:
			fresh := *after
			d.do(PutPlace{After: &fresh})
		case before != nil && after == nil && now != nil && len(now.Cards) == 0 && len(d.cells(id)) == 0 && reflect.DeepEqual(bare(now), before):
			if deck := d.homeOf(id); deck != nil && (a.After.Decks[deck.Key] == nil || a.After.Decks[deck.Key].Home == id) {
				continue
			}
			d.endLook(id)
			d.dropAsks(id)
			d.do(PutPlace{Before: bare(now)})
		case before != nil && after != nil && now != nil:
			merged := *bare(now)
			merge(&merged, *before, *after)
			if len(now.Cards) > 0 || len(d.cells(id)) > 0 {
				merged.Kind, merged.Sight, merged.Owner, merged.Grid = now.Kind, now.Sight, now.Owner, now.Grid
			}
			if !reflect.DeepEqual(merged, *bare(now)) {
				d.do(PutPlace{Before: bare(now), After: &merged})
				d.recell(d.table.Places[id])
			}
		}
	}
}

func unionOf[K comparable, V any](a, b map[K]V) map[K]V {
	all := maps.Clone(a)
	if all == nil {
		all = map[K]V{}
	}
	maps.Copy(all, b)
	return all
}

// bare is a place without its cards.
func bare(p *Place) *Place {
	if p == nil {
		return nil
	}
	alone := *p
	alone.Cards = nil
	return &alone
}

// merge changes the fields that differ between two editions, where they are as the former
// one had them.
func merge[T any](now *T, before, after T) {
	n, b, a := reflect.ValueOf(now).Elem(), reflect.ValueOf(before), reflect.ValueOf(after)
	for i := range n.NumField() {
		if reflect.DeepEqual(n.Field(i).Interface(), b.Field(i).Interface()) {
			n.Field(i).Set(a.Field(i))
		}
	}
}

// revisePieces merges pieces, and how they were laid.
func (d *draft) revisePieces(a Revise) {
	for _, id := range slices.Sorted(maps.Keys(unionOf(a.Before.Laid, a.After.Laid))) {
		before, after, now := a.Before.Laid[id], a.After.Laid[id], d.table.Pieces[id]
		switch {
		case reflect.DeepEqual(before, after):
			continue
		case before == nil && now == nil:
			fresh := *after
			d.do(PutPiece{After: &fresh})
		case after == nil && now != nil && reflect.DeepEqual(now, before):
			d.do(PutPiece{Before: now})
		case before != nil && after != nil && now != nil && now.Kind == after.Kind:
			merged := *now
			merge(&merged, *before, *after)
			if !reflect.DeepEqual(merged, *now) {
				d.do(PutPiece{Before: now, After: &merged})
			}
		default:
			continue // somebody made another thing of it
		}
		d.do(PutLaid{Before: d.table.Laid[id], After: after})
	}
}

// reviseSettings merges what belongs to the table as a whole, but for who may do what.
func (d *draft) reviseSettings(a Revise) {
	now := d.table.Settings
	before, after := a.Before.Settings, a.After.Settings
	after.Name = before.Name // a room has its own
	merged := now
	merge(&merged, before, after)
	merged.Host, merged.Locked, merged.Spectators, merged.Ended, merged.Arrange = now.Host, now.Locked, now.Spectators, now.Ended, now.Arrange
	if merged != now {
		d.do(PutSettings{Before: now, After: merged})
		d.pullIn()
	}
}
