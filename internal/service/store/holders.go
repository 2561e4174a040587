package store

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"slices"

	"github.com/jmoiron/sqlx"
)

// Where several services share the records, a room is held by one of them at a time: what
// another one would append to its journal is refused. A service says again and again that it lives; the
// rooms of one that has not for leaseTime are free to whoever asks for them first. Times are the database's.

// leaseTime is how long a service holds its rooms without a sign of life, in milliseconds.
const leaseTime = 3000

// ErrHeld is returned for what only the service that holds a room may do.
var ErrHeld = errors.New("another service holds this room")

// now is the database's clock, in milliseconds since 1970, in SQL.
const now = "CAST(UNIX_TIMESTAMP(NOW(3)) * 1000 AS SIGNED)"

// Share has this service share the records with others, which reach it at an address. Without it, the
// service is alone and holds every room.
func (s *Store) Share(ctx context.Context, address string) error {
	id := rand.Text()
	_, err := s.db.ExecContext(ctx, "INSERT INTO services (id, address, until) VALUES (?, ?, "+now+" + ?)", id, address, leaseTime)
	if err == nil {
		s.service = id
	}
	return err
}

// Shares reports whether other services may be there.
func (s *Store) Shares() bool { return s.service != "" }

// Service is the name of this service among those that share the records. Only they know it.
func (s *Store) Service() string { return s.service }

// IsService reports whether a service of this name shares the records, and lives.
func (s *Store) IsService(ctx context.Context, id string) (is bool, err error) {
	err = s.db.GetContext(ctx, &is, "SELECT EXISTS (SELECT 1 FROM services WHERE id = ? AND until > "+now+")", id)
	return is, err
}

// holder is who holds a room.
type holder struct {
	Service string `db:"service"`
	Address string `db:"address"`
	Lives   bool   `db:"lives"`
}

const holderOf = "SELECT h.service, COALESCE(s.address, '') AS address, COALESCE(s.until > " + now + ", FALSE) AS lives FROM holders h LEFT JOIN services s ON s.id = h.service WHERE h.room = ?"

// HeldAt is the address of the other service that holds a room; empty where none does.
func (s *Store) HeldAt(ctx context.Context, room string) (string, error) {
	var h holder
	err := s.db.GetContext(ctx, &h, holderOf, room)
	if notFound(err) == ErrNotFound || err == nil && (!h.Lives || h.Service == s.service) {
		return "", nil
	}
	return h.Address, err
}

// Hold takes a room for this service. It returns ErrHeld while another one that lives holds it, and ErrNotFound if there is no
// such room. What the former holder has under way is kept before, or never.
func (s *Store) Hold(ctx context.Context, room string) error {
	if !s.Shares() {
		return nil
	}
	return s.within(ctx, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "INSERT IGNORE INTO holders (room, service, epoch) SELECT id, ?, 1 FROM rooms WHERE id = ?", s.service, room); err != nil {
			return err
		}
		var h holder
		if err := tx.GetContext(ctx, &h, holderOf+" FOR UPDATE", room); err != nil {
			return notFound(err)
		}
		if h.Service == s.service {
			return nil
		}
		if h.Lives {
			return fmt.Errorf("room %s: %w", room, ErrHeld)
		}
		_, err := tx.ExecContext(ctx, "UPDATE holders SET service = ?, epoch = epoch + 1 WHERE room = ?", s.service, room)
		return err
	})
}

// stillHolds refuses entries of rooms that came to another service, and says that this one lives. No room can come to another one
// before the transaction ends.
func (s *Store) stillHolds(ctx context.Context, tx *sqlx.Tx, entries []Entry) error {
	rooms := map[string]bool{}
	for _, e := range entries {
		rooms[e.Room] = true
	}
	names := make([]string, 0, len(rooms))
	for name := range rooms {
		names = append(names, name)
	}
	slices.Sort(names)
	query, values, err := sqlx.In("SELECT room FROM holders WHERE room IN (?) AND service = ? LOCK IN SHARE MODE", names, s.service)
	if err != nil {
		return err
	}
	var held []string
	if err := tx.SelectContext(ctx, &held, query, values...); err != nil {
		return err
	}
	if len(held) < len(names) {
		return ErrHeld
	}
	_, err = tx.ExecContext(ctx, livesOn, leaseTime, s.service)
	return err
}

// livesOn has a service hold its rooms for longer.
const livesOn = "UPDATE services SET until = GREATEST(until + 1, " + now + " + ?) WHERE id = ?"

// Live says that this service lives, and returns the rooms that it holds.
func (s *Store) Live(ctx context.Context) (rooms []string, err error) {
	result, err := s.db.ExecContext(ctx, livesOn, leaseTime, s.service)
	if err != nil {
		return nil, err
	}
	if n, err := result.RowsAffected(); err != nil || n == 0 {
		return nil, errors.Join(errors.New("this service is no more among those that share the records"), err)
	}
	err = s.db.SelectContext(ctx, &rooms, "SELECT room FROM holders WHERE service = ?", s.service)
	return rooms, err
}

// Alone reports whether no other service that shares the records lives.
func (s *Store) Alone(ctx context.Context) (alone bool, err error) {
	err = s.db.GetContext(ctx, &alone, "SELECT NOT EXISTS (SELECT 1 FROM services WHERE id <> ? AND until > "+now+")", s.service)
	return alone, err
}

// Leave frees all rooms of this service, when everything of them is kept.
func (s *Store) Leave(ctx context.Context) error {
	return s.within(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "DELETE FROM holders WHERE service = ?", s.service)
		if err == nil {
			_, err = tx.ExecContext(ctx, "DELETE FROM services WHERE id = ? OR until < "+now+" - 86400000", s.service)
		}
		return err
	})
}
