package api

import (
	"cmp"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base32"
	"net"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/crypto/bcrypt"

	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/socket"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/service/web"
	"damselfly.example/damselfly/internal/wire"
)

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
	if !a.joins.Of(r.ID + " " + in.addr).Allow() {
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
	attempt, allowed := a.passcodes.Begin(r.ID + " " + addr)
	if !allowed {
		return wire.TooManyPasscodes.With(wire.Problem{After: int(web.AttemptsPause.Seconds()),
			Detail:  "There were 10 wrong passcodes in ten minutes from your address. Ask who sent you the link, wait half a minute, and try again.",
			Numbers: map[string]int{"most": web.FailedPasscodes}})
	}
	select {
	case a.comparing <- struct{}{}:
	case <-ctx.Done():
		attempt.End(true) // it was not even looked at
		return wire.ServiceIsBusy.With(wire.Problem{Detail: "Many people come in at once. Try again in a moment."})
	}
	right := bcrypt.CompareHashAndPassword(r.Passcode, []byte(passcode)) == nil
	<-a.comparing
	if attempt.End(right); right {
		return nil
	}
	detail := "That is not this room's passcode. Ask who sent you the link."
	if passcode == "" {
		detail = "This room has a passcode. Ask who sent you the link."
	}
	return wire.WrongPasscode.With(wire.Problem{Detail: detail})
}

// goodName trims a player's name, or refuses it.
func goodName(name string) (string, error) {
	trimmed, good := table.GoodName(name)
	if !good {
		return "", wire.BadName.With(wire.Problem{Detail: "A name has 1 to 24 letters, digits or signs, but no \" and no #.",
			Numbers: map[string]int{"most": table.MaxName}})
	}
	return trimmed, nil
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
	err = a.Rooms.HandOn(ctx, who.Room, socket.At(who), room.Seating{Seat: seat, Name: name, Salt: rand.Text(), Key: store.Hash(key)})
	return &roomJoined{wire.Joined{Key: key, Room: who.Room, Seat: seat, Name: name}}, err
}
