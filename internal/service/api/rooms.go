package api

import (
	"cmp"
	"context"
	"crypto/rand"
	"encoding/hex"
	"fmt"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/crypto/bcrypt"

	"damselfly/internal/core/chance"
	"damselfly/internal/core/table"
	"damselfly/internal/service/store"
	"damselfly/internal/wire"
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
	}, func(ctx context.Context, _ *struct{}) (*roomList, error) {
		rooms, err := a.Store.Rooms(ctx, callerOf(ctx).makerKey)
		out := &roomList{}
		out.Body.Rooms = []wire.RoomRow{}
		for _, r := range rooms {
			out.Body.Rooms = append(out.Body.Rooms, wire.RoomRow{ID: r.ID, Name: r.Name, Path: roomPath(r.ID), Seats: r.Seats, Edition: r.Edition, At: r.At})
		}
		return out, err
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
		Description: "The seat's old keys end; the answer is the new one, for who gets the seat with its hand and all.", Tags: tags,
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
	k := store.SeatKey{Room: who.Room, Seat: cmp.Or(in.Body.Seat, who.Seat), Name: name}
	key := rand.Text()
	err = a.Rooms.HandOn(ctx, who.Room, who.Seat, k.Seat, name, rand.Text(), func() error {
		return a.Store.AddSeatKey(ctx, key, k, time.Now().UnixMilli())
	})
	return &roomJoined{wire.Joined{Key: key, Room: k.Room, Seat: k.Seat, Name: name}}, err
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
	key, want := callerOf(ctx).makerKey, in.Body
	k, err := a.kitNamed(ctx, key, want.Kit)
	if err != nil {
		return nil, err
	}
	made, err := a.Store.Edition(ctx, k.ID, k.Edition)
	if err != nil {
		return nil, err
	}
	if want.Seats > made.Seats {
		return nil, &wire.Problem{Status: 422, Code: "too-many-seats", Title: "Too many seats",
			Detail:  fmt.Sprintf("%s is for up to %d seats; you asked for %d.", made.Name, made.Seats, want.Seats),
			Numbers: map[string]int{"most": made.Seats, "asked": want.Seats}}
	}
	record := store.Room{
		Maker: store.Hash(key), Kit: k.ID, Edition: k.Edition, Name: cmp.Or(strings.TrimSpace(want.Name), made.Name),
		Seats: cmp.Or(want.Seats, made.Seats), Spectators: want.Spectators == nil || *want.Spectators,
	}
	if want.Passcode != "" {
		if record.Passcode, err = bcrypt.GenerateFromPassword([]byte(want.Passcode), bcrypt.DefaultCost); err != nil {
			return nil, err
		}
	}
	record, err = a.Rooms.Open(ctx, record, made)
	if err != nil {
		return nil, err
	}
	return a.showRoom(ctx, record)
}

func (a *API) showRoom(ctx context.Context, r store.Room) (*roomShown, error) {
	made, err := a.Store.Edition(ctx, r.Kit, r.Edition)
	if err != nil {
		return nil, err
	}
	front, err := a.Rooms.Front(ctx, r.ID)
	shown := wire.Room{
		ID: r.ID, Name: r.Name, Path: roomPath(r.ID), Kit: made.Name, About: made.About, Edition: r.Edition, Seats: front.Seats,
		Passcode: len(r.Passcode) > 0, Spectators: mayWatch(r, front.Settings), Locked: front.Settings.Locked, Ended: front.Settings.Ended,
		Commitment: chance.Commit(chance.Seed(r.Seed)), At: r.At,
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
	if err := a.checkPasscode(r, in.Body.Passcode, in.addr); err != nil {
		return nil, err
	}
	front, err := a.Rooms.Front(ctx, r.ID)
	if err != nil {
		return nil, err
	}
	if front.Settings.Locked {
		return nil, &wire.Problem{Status: 403, Code: "room-locked", Title: "The room is locked",
			Detail: "The host has locked this room, so nobody new comes in. Ask them to unlock it."}
	}
	k := store.SeatKey{Room: r.ID}
	if in.Body.Watch {
		if !mayWatch(r, front.Settings) {
			return nil, &wire.Problem{Status: 403, Code: "no-spectators", Title: "No spectators",
				Detail: "This room takes no spectators. Choose a seat."}
		}
	} else {
		if k.Name, err = goodName(in.Body.Name); err != nil {
			return nil, err
		}
		if k.Seat, err = a.Rooms.Sit(ctx, r.ID, in.Body.Seat, k.Name, in.Body.Salt); err != nil {
			return nil, err
		}
	}
	key := rand.Text()
	if err := a.Store.AddSeatKey(ctx, key, k, time.Now().UnixMilli()); err != nil {
		return nil, err
	}
	return &roomJoined{wire.Joined{Key: key, Room: r.ID, Seat: k.Seat, Name: k.Name}}, nil
}

// checkPasscode refuses a wrong passcode, and after several any attempt.
func (a *API) checkPasscode(r store.Room, passcode, addr string) error {
	if len(r.Passcode) == 0 {
		return nil
	}
	if host, _, err := net.SplitHostPort(addr); err == nil {
		addr = host
	}
	attempts := a.passcodes.of(r.ID + " " + addr)
	if attempts.Tokens() < 1 {
		return &wire.Problem{Status: 429, Code: "too-many-passcodes", Title: "Too many wrong passcodes",
			Detail:  "There were 10 wrong passcodes in ten minutes. Wait a few minutes, and ask who sent you the link.",
			Numbers: map[string]int{"most": failedPasscodes}}
	}
	if bcrypt.CompareHashAndPassword(r.Passcode, []byte(passcode)) == nil {
		return nil
	}
	attempts.Allow() // uses one up
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
