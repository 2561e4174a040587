package store

import (
	"context"

	"damselfly.example/damselfly/internal/core/table"
)

// SeatKey is what a seat key opens.
type SeatKey struct {
	Room   string     `db:"room"`
	Seat   table.Seat `db:"seat"`   // 0: spectator
	Tenure uint64     `db:"tenure"` // the entry in which the seat was taken
	Name   string     `db:"name"`
}

// spectatorsSpan is how long a spectator's key lasts after it was last used, in
// milliseconds.
const spectatorsSpan = 24 * 60 * 60 * 1000

// UsedSpectatorKey notes that a spectator came, at a time in milliseconds since 1970,
// and forgets the keys of those who have not come for long.
func (s *Store) UsedSpectatorKey(ctx context.Context, room, key string, at int64) error {
	if _, err := s.db.ExecContext(ctx, "UPDATE seat_keys SET created_at = ? WHERE hash = ? AND seat = 0", at, Hash(key)); err != nil {
		return err
	}
	_, err := s.db.ExecContext(ctx, "DELETE FROM seat_keys WHERE room = ? AND seat = 0 AND created_at < ?", room, at-spectatorsSpan)
	return err
}

// AddSeatKey keeps a new seat key; one that is kept already stays as it is.
func (s *Store) AddSeatKey(ctx context.Context, key string, k SeatKey, at int64) error {
	_, err := s.db.ExecContext(ctx, "INSERT IGNORE INTO seat_keys (hash, room, seat, tenure, name, created_at) VALUES (?, ?, ?, ?, ?, ?)",
		Hash(key), k.Room, k.Seat, k.Tenure, k.Name, at)
	return err
}

// SeatKey finds what a key opens, or ErrNotFound.
func (s *Store) SeatKey(ctx context.Context, key string) (SeatKey, error) {
	var k SeatKey
	err := s.db.GetContext(ctx, &k, "SELECT room, seat, tenure, name FROM seat_keys WHERE hash = ?", Hash(key))
	return k, notFound(err)
}
