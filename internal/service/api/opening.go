package api

import (
	"cmp"
	"context"
	"crypto/rand"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"golang.org/x/crypto/bcrypt"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

type openRoom struct {
	Body wire.OpenRoom
}

func (a *API) openRoom(ctx context.Context, in *openRoom) (*roomShown, error) {
	maker, want := callerOf(ctx).maker.ID, in.Body
	if err := a.oneRoomMore(ctx, maker); err != nil {
		return nil, err
	}
	if want.As != "" {
		name, err := goodName(want.As)
		if err != nil {
			return nil, err
		}
		want.As = name
	}
	if want.Bookmark != "" && (want.Kit != "" || want.Deck != "" || want.Edition != 0) {
		return nil, wire.NotValid.With(wire.Problem{Title: "One of the two", Detail: "Give a kit, with an edition or a deck of it if you like, or a bookmark; not both."})
	}
	if want.Bookmark != "" {
		return a.openBookmark(ctx, want)
	}
	k, err := a.kitNamed(ctx, maker, want.Kit)
	if err != nil {
		return nil, err
	}
	edition := cmp.Or(want.Edition, k.Edition)
	made, err := a.Store.Edition(ctx, k.ID, edition)
	if err == store.ErrNotFound {
		return nil, noSuchEdition(k, edition)
	}
	if err != nil {
		return nil, err
	}
	seats, name := made.Seats, made.Name
	if want.Deck != "" {
		if made, err = deckAlone(made, want.Deck); err != nil {
			return nil, err
		}
		seats, name = 1, want.Deck+" of "+name
	}
	if want.Seats > made.Seats {
		return nil, wire.TooManySeats.With(wire.Problem{Detail: fmt.Sprintf("%s is for up to %d seats; you asked for %d.", made.Name, made.Seats, want.Seats),
			Numbers: map[string]int{"most": made.Seats, "asked": want.Seats}})
	}
	record, err := opening(want, store.Room{Maker: maker, Kit: k.ID, Edition: edition, Name: name, Seats: cmp.Or(want.Seats, seats)})
	if err != nil {
		return nil, err
	}
	begin, key := beginning(want)
	record, who, err := a.Rooms.Open(ctx, record, made, begin)
	if err != nil {
		return nil, err
	}
	return a.opened(ctx, record, who, key, want)
}

// beginning is what is done in a room as it opens, and the key of the seat that is taken then, if one is.
func beginning(want wire.OpenRoom) (begin room.Beginning, key string) {
	begin.Shuffle = table.PlaceID(want.Deck)
	if want.As != "" {
		key = rand.Text()
		begin.Sits = &room.Seating{Name: want.As, Salt: rand.Text(), Key: store.Hash(key)}
	}
	return begin, key
}

// opened is a room that was opened, with the seat that was taken there at once.
func (a *API) opened(ctx context.Context, record store.Room, who room.Who, key string, want wire.OpenRoom) (*roomShown, error) {
	shown, err := a.showRoom(ctx, record)
	if err == nil && key != "" {
		shown.Body.Seat = &wire.Joined{Key: key, Room: record.ID, Seat: who.Seat, Name: want.As}
	}
	return shown, err
}

// deckAlone is a table with one deck of a kit in a pile of its key, and a hand for each seat.
func deckAlone(made kit.Edition, key string) (kit.Edition, error) {
	i := slices.IndexFunc(made.Decks, func(d kit.EditionDeck) bool { return d.Key == key })
	if i < 0 {
		keys := ""
		for _, d := range made.Decks {
			keys += " " + d.Key
		}
		return made, wire.NoSuchDeck.With(wire.Problem{Detail: fmt.Sprintf("%s has no deck %q; it has%s.", made.Name, key, keys)})
	}
	d, hand := made.Decks[i], "hand"
	if key == hand { // the pile has that name
		hand = "held"
	}
	d.Home = table.PlaceID(key)
	return kit.Edition{Name: made.Name, Seats: made.Seats, Decks: []kit.EditionDeck{d}, Table: kit.Table{Size: []float64{600, 300}, Zones: []kit.Zone{
		{Key: key, Kind: "pile", At: []float64{300, 150}, Arrival: "back"},
		{Key: hand, Kind: "hand", Each: "seat"},
	}}}, nil
}

// openBookmark opens a room that begins as a bookmark has its table.
func (a *API) openBookmark(ctx context.Context, want wire.OpenRoom) (*roomShown, error) {
	b, err := a.Store.Bookmark(ctx, callerOf(ctx).maker.ID, want.Bookmark)
	if err != nil {
		return nil, noSuchBookmark(want.Bookmark, err)
	}
	if want.Seats != 0 && want.Seats != b.Seats {
		return nil, wire.SeatsOfTheBookmark.With(wire.Problem{Detail: fmt.Sprintf("This bookmark is of a table for %d seats; a room from it has as many.", b.Seats), Numbers: map[string]int{"seats": b.Seats}})
	}
	record, err := opening(want, store.Room{Maker: b.Maker, Kit: b.Kit, Edition: b.Edition, Name: b.Name, Seats: b.Seats})
	if err != nil {
		return nil, err
	}
	with := &table.Table{}
	if err := json.Unmarshal(b.State, with); err != nil {
		return nil, err
	}
	begin, key := beginning(want)
	record, who, err := a.Rooms.OpenFrom(ctx, record, with, begin)
	if err != nil {
		return nil, err
	}
	return a.opened(ctx, record, who, key, want)
}

// opening is a room as it is wanted.
func opening(want wire.OpenRoom, record store.Room) (_ store.Room, err error) {
	if record.Name, err = goodTitle(cmp.Or(strings.TrimSpace(want.Name), record.Name)); err != nil {
		return record, err
	}
	record.Spectators = want.Spectators == nil || *want.Spectators
	if record.Origins, err = originsOf(want.Origins); err != nil {
		return record, err
	}
	record.Passcode, err = passcodeHash(want.Passcode)
	return record, err
}

// passcodeHash is how a passcode is kept; empty if there is none.
func passcodeHash(passcode string) ([]byte, error) {
	if len(passcode) > longestPasscode {
		return nil, wire.PasscodeTooLong.With(wire.Problem{Detail: fmt.Sprintf("A passcode has up to %d bytes, and this one has %d: letters beyond a to z take two to four.", longestPasscode, len(passcode)),
			Numbers: map[string]int{"most": longestPasscode, "has": len(passcode)}})
	}
	if passcode == "" {
		return []byte{}, nil
	}
	return bcrypt.GenerateFromPassword([]byte(passcode), bcrypt.DefaultCost)
}
