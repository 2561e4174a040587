package api

import (
	"cmp"
	"context"
	"encoding/hex"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"rsc.io/qr"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/socket"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

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
			return nil, wire.NoSuchRoom.With(wire.Problem{Detail: fmt.Sprintf("You removed no room %q in the last 30 days.", in.Room)})
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
		return nil, a.revise(ctx, r, socket.At(callerOf(ctx).seat), in.Body)
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
		return wire.NoSuchEdition.With(wire.Problem{Detail: "This room was not opened with a kit that has editions."})
	}
	number := cmp.Or(want.Edition, editions[0].Number)
	if !slices.ContainsFunc(editions, func(e store.EditionRow) bool { return e.Number == number }) {
		return wire.NoSuchEdition.With(wire.Problem{Detail: fmt.Sprintf("This room's kit has no edition %d; its newest is %d.", number, editions[0].Number),
			Numbers: map[string]int{"asked": number, "newest": editions[0].Number}})
	}
	if number == r.Edition {
		return wire.HasThisEdition.With(wire.Problem{Detail: fmt.Sprintf("This room has edition %d already.", number), Numbers: map[string]int{"edition": number}})
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
	return wire.NoSuchRoom.With(wire.Problem{Detail: fmt.Sprintf("There is no room %q here. Check the link you were sent.", id)})
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
