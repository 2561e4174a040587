package api

import (
	"cmp"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base32"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"net"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/crypto/bcrypt"
	"rsc.io/qr"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

type openRoom struct {
	Body wire.OpenRoom
}

type roomShown struct {
	Body wire.Room
}

type roomList struct {
	Body struct {
		Rooms []wire.RoomRow `json:"rooms"`
	}
}

// InRoom is the room in a path. It is exported because only so the library finds
// it where it is embedded.
type InRoom struct {
	Room string `path:"room" maxLength:"16"`
}

func (in InRoom) room() string { return in.Room }

type setPasscode struct {
	InRoom
	Body wire.SetPasscode
}

type setOrigins struct {
	InRoom
	Body wire.SetOrigins
}

type bringDeck struct {
	InRoom
	Body wire.BringDeck
}

type inSeat struct {
	InRoom
	Seat int `path:"seat" minimum:"1" maximum:"12"`
}

type joinRoom struct {
	InRoom
	Body wire.Join
	addr string
}

// Resolve notes where the request comes from.
func (in *joinRoom) Resolve(ctx huma.Context) []error {
	in.addr = ctx.RemoteAddr()
	return nil
}

type roomJoined struct {
	Body wire.Joined
}

func (a *API) roomRoutes(h huma.API) {
	tags := []string{"rooms"}
	route(a, h, maker, huma.Operation{
		OperationID: "open-room", Method: http.MethodPost, Path: "/api/rooms", Summary: "Open a room", Tags: tags,
		DefaultStatus: http.StatusCreated, Errors: []int{404, 422},
	}, a.openRoom)
	route(a, h, maker, huma.Operation{
		OperationID: "list-rooms", Method: http.MethodGet, Path: "/api/rooms", Summary: "List your rooms", Tags: tags,
	}, func(ctx context.Context, in *struct {
		Removed bool `query:"removed" doc:"Those that you removed and can bring back."`
	}) (*roomList, error) {
		var rooms []store.RoomRow
		var err error
		if in.Removed {
			rooms, err = a.Store.RemovedRooms(ctx, callerOf(ctx).maker.ID, time.Now().UnixMilli())
		} else {
			rooms, err = a.Store.Rooms(ctx, callerOf(ctx).maker.ID)
		}
		out := &roomList{}
		out.Body.Rooms = []wire.RoomRow{}
		for _, r := range rooms {
			out.Body.Rooms = append(out.Body.Rooms, wire.RoomRow{
				ID: r.ID, Name: r.Name, Path: roomPath(r.ID), Link: linkTo(ctx, roomPath(r.ID)), OnlyHere: onlyHere(ctx),
				Kit: r.Kit, KitName: r.KitName, Seats: r.Seats, Edition: r.Edition, Newest: r.Newest, Passcode: len(r.Passcode) > 0,
				People: a.Rooms.People(r.ID), Ended: r.Ended, At: r.At, LastAt: r.LastAt, RemovedAt: r.RemovedAt,
			})
		}
		return out, err
	})
	toRoom(a, h, huma.Operation{
		OperationID: "remove-room", Method: http.MethodDelete, Path: "/api/rooms/{room}", Summary: "Take a room away",
		Description: "Who are there are let go; it can be brought back for 30 days.", Errors: []int{404},
	}, func(ctx context.Context, r store.Room, _ *InRoom) error {
		err := a.Store.RemoveRoom(ctx, r.ID, time.Now().UnixMilli())
		if err == nil {
			a.Rooms.Remove(r.ID)
		}
		return err
	})
	route(a, h, maker, huma.Operation{
		OperationID: "restore-room", Method: http.MethodPost, Path: "/api/rooms/{room}/restore", Summary: "Bring a removed room back",
		Tags: tags, DefaultStatus: http.StatusNoContent, Errors: []int{404},
	}, func(ctx context.Context, in *InRoom) (*struct{}, error) {
		err := a.Store.RestoreRoom(ctx, callerOf(ctx).maker.ID, in.Room, time.Now().UnixMilli())
		if err == store.ErrNotFound {
			return nil, &wire.Problem{Status: 404, Code: "no-such-room", Title: "No such room",
				Detail: fmt.Sprintf("You removed no room %q in the last 30 days.", in.Room)}
		}
		return nil, err
	})
	toRoom(a, h, huma.Operation{
		OperationID: "end-room", Method: http.MethodPost, Path: "/api/rooms/{room}/end", Summary: "End the game of a room of yours",
		Description: "Nothing is done there any more, and the seed of its chance is known; who has the link still sees the table.",
		Errors:      []int{404, 409},
	}, func(ctx context.Context, r store.Room, _ *InRoom) error {
		return a.Rooms.ByMaker(ctx, r.ID, table.End{})
	})
	toRoom(a, h, huma.Operation{
		OperationID: "free-seat", Method: http.MethodPost, Path: "/api/rooms/{room}/seats/{seat}/free", Summary: "Free a seat of a room of yours",
		Description: "Its keys end; its cards stay for whoever takes the seat.", Errors: []int{404, 409, 422},
	}, func(ctx context.Context, r store.Room, in *inSeat) error {
		return a.Rooms.ByMaker(ctx, r.ID, table.Free{Seat: table.Seat(in.Seat)})
	})
	toRoom(a, h, huma.Operation{
		OperationID: "make-host", Method: http.MethodPost, Path: "/api/rooms/{room}/seats/{seat}/host", Summary: "Make a seat of a room of yours its host",
		Errors: []int{404, 409, 422},
	}, func(ctx context.Context, r store.Room, in *inSeat) error {
		return a.Rooms.ByMaker(ctx, r.ID, table.Keys{Seat: table.Seat(in.Seat)})
	})
	toRoom(a, h, huma.Operation{
		OperationID: "set-passcode", Method: http.MethodPut, Path: "/api/rooms/{room}/passcode", Summary: "Give a room of yours another passcode, or none",
		Description: "Who sits there stays; who joins from now on is asked for it.", Errors: []int{404, 422},
	}, func(ctx context.Context, r store.Room, in *setPasscode) error {
		hash, err := passcodeHash(in.Body.Passcode)
		if err != nil {
			return err
		}
		return a.Store.SetPasscode(ctx, r.ID, hash)
	})
	toRoom(a, h, huma.Operation{
		OperationID: "set-origins", Method: http.MethodPut, Path: "/api/rooms/{room}/origins", Summary: "Let pages of other addresses ask about a room of yours",
		Description: "They may call this room's part of the API, hold its socket and show its table in a frame. In place of those that were allowed before.",
		Errors:      []int{404, 422},
	}, func(ctx context.Context, r store.Room, in *setOrigins) error {
		origins, err := originsOf(in.Body.Origins)
		if err != nil {
			return err
		}
		return a.Store.SetOrigins(ctx, r.ID, origins)
	})
	revised := "Cards keep their place, side, turn and secrecy, and show the new art where they lie. New cards go to their deck's home. Cards that are gone " +
		"leave where everybody sees them; those that somebody cannot see stay, marked for who sees them, until everybody does. What players moved stays where it is."
	toRoom(a, h, huma.Operation{
		OperationID: "take-edition", Method: http.MethodPost, Path: "/api/rooms/{room}/edition", Summary: "Take another edition of its kit into a room of yours",
		Description: revised, Errors: []int{404, 409, 422},
	}, func(ctx context.Context, r store.Room, in *takeEdition) error {
		return a.revise(ctx, r, room.Who{}, in.Body)
	})
	route(a, h, seat, huma.Operation{
		OperationID: "take-edition-as-host", Method: http.MethodPost, Path: "/api/rooms/{room}/edition/by-host", Summary: "Take another edition of its kit into a room, as its host",
		Description: revised, Tags: tags, DefaultStatus: http.StatusNoContent, Errors: []int{403, 404, 409, 422},
	}, func(ctx context.Context, in *takeEdition) (*struct{}, error) {
		r, err := a.Store.Room(ctx, in.Room)
		if err != nil {
			return nil, noSuchRoom(in.Room, err)
		}
		return nil, a.revise(ctx, r, at(callerOf(ctx).seat), in.Body)
	})
	toRoom(a, h, huma.Operation{
		OperationID: "bring-deck", Method: http.MethodPost, Path: "/api/rooms/{room}/decks", Summary: "Bring a deck of a kit of yours onto the table of a room of yours",
		Description: "It comes as a pile of its own, face down, in the order of its designs.", Errors: []int{404, 409, 422},
	}, func(ctx context.Context, r store.Room, in *bringDeck) error {
		k, err := a.kitNamed(ctx, r.Maker, in.Body.Kit)
		if err != nil {
			return err
		}
		return a.Rooms.BringDeck(ctx, r.ID, table.EditionOf{Kit: k.ID, Number: k.Edition}, in.Body.Deck)
	})
	route(a, h, anyone, huma.Operation{
		OperationID: "show-room-code", Method: http.MethodGet, Path: "/api/rooms/{room}/code", Summary: "The link of a room as a QR code",
		Tags: tags, Errors: []int{404},
		Responses: map[string]*huma.Response{"200": {Description: "A PNG.", Content: map[string]*huma.MediaType{"image/png": {}}}},
	}, func(ctx context.Context, in *InRoom) (*streamed, error) {
		if _, err := a.Store.Room(ctx, in.Room); err != nil {
			return nil, noSuchRoom(in.Room, err)
		}
		code, err := qr.Encode(linkTo(ctx, roomPath(in.Room)), qr.M)
		if err != nil {
			return nil, err
		}
		return &streamed{ContentType: "image/png", Body: func(h huma.Context) { _, _ = h.BodyWriter().Write(code.PNG()) }}, nil
	})
	route(a, h, anyone, huma.Operation{
		OperationID: "show-room", Method: http.MethodGet, Path: "/api/rooms/{room}", Summary: "Who sits where", Tags: tags, Errors: []int{404},
	}, func(ctx context.Context, in *InRoom) (*roomShown, error) {
		r, err := a.Store.Room(ctx, in.Room)
		if err != nil {
			return nil, noSuchRoom(in.Room, err)
		}
		return a.showRoom(ctx, r)
	})
	route(a, h, anyone, huma.Operation{
		OperationID: "join-room", Method: http.MethodPost, Path: "/api/rooms/{room}/join", Summary: "Take a seat, or watch", Tags: tags,
		DefaultStatus: http.StatusCreated, Errors: []int{403, 404, 409, 422, 429},
	}, a.joinRoom)
	route(a, h, seat, huma.Operation{
		OperationID: "hand-seat-on", Method: http.MethodPost, Path: "/api/rooms/{room}/hand-on", Summary: "Hand a seat on to somebody else",
		Description: "The seat's old keys end; the answer is the new one, for whoever gets the seat with its hand and all.", Tags: tags,
		DefaultStatus: http.StatusCreated, Errors: []int{403, 404, 409, 422},
	}, a.handOn)
}

type handOn struct {
	InRoom
	Body wire.HandOn
}

func (a *API) handOn(ctx context.Context, in *handOn) (*roomJoined, error) {
	who := callerOf(ctx).seat
	name, err := goodName(in.Body.Name)
	if err != nil {
		return nil, err
	}
	key, seat := rand.Text(), cmp.Or(in.Body.Seat, who.Seat)
	err = a.Rooms.HandOn(ctx, who.Room, at(who), room.Seating{Seat: seat, Name: name, Salt: rand.Text(), Key: store.Hash(key)})
	return &roomJoined{wire.Joined{Key: key, Room: who.Room, Seat: seat, Name: name}}, err
}

type takeEdition struct {
	InRoom
	Body wire.TakeEdition
}

// revise takes another edition into a room: the newest, or the one that is named.
func (a *API) revise(ctx context.Context, r store.Room, who room.Who, want wire.TakeEdition) error {
	editions, err := a.Store.Editions(ctx, r.Kit)
	if err != nil {
		return err
	}
	if len(editions) == 0 {
		return &wire.Problem{Status: 404, Code: "no-such-edition", Title: "No such edition", Detail: "This room was not opened with a kit that has editions."}
	}
	number := cmp.Or(want.Edition, editions[0].Number)
	if !slices.ContainsFunc(editions, func(e store.EditionRow) bool { return e.Number == number }) {
		return &wire.Problem{Status: 404, Code: "no-such-edition", Title: "No such edition",
			Detail:  fmt.Sprintf("This room's kit has no edition %d; its newest is %d.", number, editions[0].Number),
			Numbers: map[string]int{"asked": number, "newest": editions[0].Number}}
	}
	if number == r.Edition {
		return &wire.Problem{Status: 409, Code: "has-this-edition", Title: "The room has this edition",
			Detail: fmt.Sprintf("This room has edition %d already.", number), Numbers: map[string]int{"edition": number}}
	}
	return a.Rooms.Revise(ctx, r.ID, who, number, table.NewCards(cmp.Or(want.NewCards, string(table.Underneath))))
}

// toRoom registers what a maker does to a room of their own. It is answered with nothing but that it is done.
func toRoom[I any, In interface {
	*I
	room() string
}](a *API, h huma.API, op huma.Operation, do func(context.Context, store.Room, *I) error) {
	op.Tags, op.DefaultStatus = []string{"rooms"}, http.StatusNoContent
	route(a, h, maker, op, func(ctx context.Context, in *I) (*struct{}, error) {
		r, err := a.roomOf(ctx, In(in).room())
		if err != nil {
			return nil, err
		}
		return nil, do(ctx, r, in)
	})
}

// roomOf finds a room of the caller's.
func (a *API) roomOf(ctx context.Context, id string) (store.Room, error) {
	r, err := a.Store.Room(ctx, id)
	if err == nil && r.Maker != callerOf(ctx).maker.ID {
		err = store.ErrNotFound
	}
	if err != nil {
		return r, noSuchRoom(id, err)
	}
	return r, nil
}

func roomPath(room string) string { return "/room/" + room }

func noSuchRoom(id string, err error) error {
	if err != store.ErrNotFound {
		return err
	}
	return &wire.Problem{Status: 404, Code: "no-such-room", Title: "No such room",
		Detail: fmt.Sprintf("There is no room %q here. Check the link you were sent.", id)}
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
		return nil, &wire.Problem{Status: 422, Code: "not-valid", Title: "One of the two", Detail: "Give a kit, with an edition or a deck of it if you like, or a bookmark; not both."}
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
		return nil, &wire.Problem{Status: 422, Code: "too-many-seats", Title: "Too many seats",
			Detail:  fmt.Sprintf("%s is for up to %d seats; you asked for %d.", made.Name, made.Seats, want.Seats),
			Numbers: map[string]int{"most": made.Seats, "asked": want.Seats}}
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
		return made, &wire.Problem{Status: 404, Code: table.NoSuchDeck, Title: "No such deck",
			Detail: fmt.Sprintf("%s has no deck %q; it has%s.", made.Name, key, keys)}
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
		return nil, &wire.Problem{Status: 422, Code: "seats-of-the-bookmark", Title: "The bookmark has its seats",
			Detail: fmt.Sprintf("This bookmark is of a table for %d seats; a room from it has as many.", b.Seats), Numbers: map[string]int{"seats": b.Seats}}
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
		return nil, &wire.Problem{Status: 422, Code: "passcode-too-long", Title: "The passcode is too long",
			Detail:  fmt.Sprintf("A passcode has up to %d bytes, and this one has %d: letters beyond a to z take two to four.", longestPasscode, len(passcode)),
			Numbers: map[string]int{"most": longestPasscode, "has": len(passcode)}}
	}
	if passcode == "" {
		return []byte{}, nil
	}
	return bcrypt.GenerateFromPassword([]byte(passcode), bcrypt.DefaultCost)
}

func (a *API) showRoom(ctx context.Context, r store.Room) (*roomShown, error) {
	edition, err := a.Store.EditionNamed(ctx, r.Kit, r.Edition)
	if err != nil {
		return nil, err
	}
	front, err := a.Rooms.Front(ctx, r.ID)
	shown := wire.Room{
		ID: r.ID, Name: r.Name, Path: roomPath(r.ID), Link: linkTo(ctx, roomPath(r.ID)), OnlyHere: onlyHere(ctx), Kit: edition.Name, About: edition.About, Edition: r.Edition, Seats: front.Seats,
		Passcode: len(r.Passcode) > 0, Spectators: mayWatch(r, front.Settings), Locked: front.Settings.Locked, Ended: front.Settings.Ended,
		Commitment: chance.Commit(chance.Seed(r.Seed)), At: r.At,
	}
	if callerOf(ctx).maker.ID == r.Maker {
		shown.Host, shown.Origins = front.Settings.Host, strings.Fields(r.Origins)
	} else if shown.Passcode { // who sits there is for whoever may come in
		for i := range shown.Seats {
			if shown.Seats[i].Name != "" {
				shown.Seats[i].Name = "taken"
			}
		}
	}
	if shown.Ended {
		shown.Seed = hex.EncodeToString(r.Seed)
	}
	return &roomShown{shown}, err
}

// mayWatch is what the host said last, or what the room was opened with.
func mayWatch(r store.Room, s table.Settings) bool {
	return s.Spectators == "yes" || s.Spectators == "" && r.Spectators
}

func (a *API) joinRoom(ctx context.Context, in *joinRoom) (*roomJoined, error) {
	r, err := a.Store.Room(ctx, in.Room)
	if err != nil {
		return nil, noSuchRoom(in.Room, err)
	}
	if host, _, err := net.SplitHostPort(in.addr); err == nil {
		in.addr = host
	}
	if !a.paced.joins.of(r.ID + " " + in.addr).Allow() {
		return nil, joinsTooFast()
	}
	if err := a.checkPasscode(ctx, r, in.Body.Passcode, in.addr); err != nil {
		return nil, err
	}
	key := joinKey(r.ID, in.Body.ID)
	if in.Body.Watch {
		return a.watchRoom(ctx, r, key)
	}
	name, err := goodName(in.Body.Name)
	if err != nil {
		return nil, err
	}
	who, err := a.Rooms.Sit(ctx, r.ID, room.Seating{Seat: in.Body.Seat, Name: name, Salt: in.Body.Salt, Key: store.Hash(key), ID: in.Body.ID})
	if err != nil {
		return nil, err
	}
	return &roomJoined{wire.Joined{Key: key, Room: r.ID, Seat: who.Seat, Name: name}}, nil
}

func (a *API) watchRoom(ctx context.Context, r store.Room, key string) (*roomJoined, error) {
	if err := a.Rooms.Watch(ctx, r.ID); err != nil {
		return nil, err
	}
	if err := a.Store.AddSeatKey(ctx, key, store.SeatKey{Room: r.ID}, time.Now().UnixMilli()); err != nil {
		return nil, err
	}
	return &roomJoined{wire.Joined{Key: key, Room: r.ID}}, nil
}

// joinKey is a new key. Of a join that has an id it follows from the id, which only
// who joins knows, so that sending it again gives the same key.
func joinKey(room, id string) string {
	if id == "" {
		return rand.Text()
	}
	sum := sha256.Sum256([]byte("damselfly seat key 1\n" + room + "\n" + id))
	return base32.StdEncoding.EncodeToString(sum[:])[:26]
}

// checkPasscode refuses a wrong passcode, and after several any attempt. An attempt
// counts from its beginning, so that many at once are no more than one after the
// other; the right one does not count. Comparing is slow, so few are compared at once.
func (a *API) checkPasscode(ctx context.Context, r store.Room, passcode, addr string) error {
	if len(r.Passcode) == 0 {
		return nil
	}
	attempt, allowed := a.passcodes.begin(r.ID + " " + addr)
	if !allowed {
		return &wire.Problem{Status: 429, Code: "too-many-passcodes", Title: "Too many wrong passcodes", After: int(attemptsPause.Seconds()),
			Detail:  "There were 10 wrong passcodes in ten minutes from your address. Ask who sent you the link, wait half a minute, and try again.",
			Numbers: map[string]int{"most": failedPasscodes}}
	}
	select {
	case a.comparing <- struct{}{}:
	case <-ctx.Done():
		attempt.end(true) // it was not even looked at
		return &wire.Problem{Status: 503, Code: "service-is-busy", Title: "The service is busy", Detail: "Many people come in at once. Try again in a moment."}
	}
	right := bcrypt.CompareHashAndPassword(r.Passcode, []byte(passcode)) == nil
	<-a.comparing
	if attempt.end(right); right {
		return nil
	}
	detail := "That is not this room's passcode. Ask who sent you the link."
	if passcode == "" {
		detail = "This room has a passcode. Ask who sent you the link."
	}
	return &wire.Problem{Status: 403, Code: "wrong-passcode", Title: "Wrong passcode", Detail: detail}
}

// goodName trims a player's name, or refuses it.
func goodName(name string) (string, error) {
	trimmed, good := table.GoodName(name)
	if !good {
		return "", &wire.Problem{Status: 422, Code: "bad-name", Title: "Choose another name",
			Detail:  "A name has 1 to 24 letters, digits or signs, but no \" and no #.",
			Numbers: map[string]int{"most": table.MaxName}}
	}
	return trimmed, nil
}
