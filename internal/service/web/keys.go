package web

import (
	"context"
	"errors"

	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// SeatOf finds the seat that a key opens in a room, or refuses.
func SeatOf(ctx context.Context, records *store.Store, key, room string) (store.SeatKey, error) {
	k, err := records.SeatKey(ctx, key)
	if errors.Is(err, store.ErrNotFound) || err == nil && k.Room != room {
		return store.SeatKey{}, wire.NeedsSeatKey.With(wire.Problem{Detail: "This is for who sits in this room or watches it. Open the room's link to come in. Programs send the key that joining gave in the header Authorization: Bearer KEY."})
	}
	return k, err
}
