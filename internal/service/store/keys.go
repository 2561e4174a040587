package store

import "context"

// AddMakerKey keeps a new maker key.
func (s *Store) AddMakerKey(ctx context.Context, key, name string, at int64) error {
	_, err := s.db.ExecContext(ctx, "INSERT INTO maker_keys (hash, name, created_at) VALUES (?, ?, ?)", Hash(key), name, at)
	return err
}

// IsMaker reports whether a key is a maker key that was not revoked.
func (s *Store) IsMaker(ctx context.Context, key string) (bool, error) {
	var n int
	err := s.db.GetContext(ctx, &n, "SELECT COUNT(*) FROM maker_keys WHERE hash = ? AND revoked_at IS NULL", Hash(key))
	return n > 0, err
}

// SeatKey is what a seat key opens.
type SeatKey struct {
	Room string `db:"room"`
	Seat int    `db:"seat"` // 0: spectator
	Name string `db:"name"`
}

// AddSeatKey keeps a new seat key.
func (s *Store) AddSeatKey(ctx context.Context, key string, k SeatKey, at int64) error {
	_, err := s.db.ExecContext(ctx, "INSERT INTO seat_keys (hash, room, seat, name, created_at) VALUES (?, ?, ?, ?, ?)",
		Hash(key), k.Room, k.Seat, k.Name, at)
	return err
}

// DropSeatKeys forgets the keys of a room's seat.
func (s *Store) DropSeatKeys(ctx context.Context, room string, seat int) error {
	_, err := s.db.ExecContext(ctx, "DELETE FROM seat_keys WHERE room = ? AND seat = ?", room, seat)
	return err
}

// MoveSeatKeys has the keys of a room's seat open another seat.
func (s *Store) MoveSeatKeys(ctx context.Context, room string, from, to int) error {
	_, err := s.db.ExecContext(ctx, "UPDATE seat_keys SET seat = ? WHERE room = ? AND seat = ?", to, room, from)
	return err
}

// SeatKey finds what a key opens, or ErrNotFound.
func (s *Store) SeatKey(ctx context.Context, key string) (SeatKey, error) {
	var k SeatKey
	err := s.db.GetContext(ctx, &k, "SELECT room, seat, name FROM seat_keys WHERE hash = ?", Hash(key))
	return k, notFound(err)
}
