package store

import (
	"context"
	"encoding/hex"
	"errors"
	"slices"

	"github.com/jmoiron/sqlx"
)

// Maker is a named person with a shelf.
type Maker struct {
	ID      string     `db:"id"`
	Name    string     `db:"name"`
	At      int64      `db:"created_at"` // milliseconds since 1970
	EndedAt *int64     `db:"ended_at"`
	Keys    []MakerKey `db:"-"` // those that open something
}

// MakerKey is what is known of a key: not the key.
type MakerKey struct {
	Maker  string `db:"maker"`
	Hash   []byte `db:"hash"`
	At     int64  `db:"created_at"` // milliseconds since 1970
	UsedAt *int64 `db:"used_at"`
}

// Label names a key to people: the beginning of its hash, 8 hexadecimal digits.
func (k MakerKey) Label() string { return hex.EncodeToString(k.Hash[:4]) }

// ErrTaken is returned where a name is somebody's already.
var ErrTaken = errors.New("taken")

// AddMaker keeps a new maker with a first key, or says ErrTaken.
func (s *Store) AddMaker(ctx context.Context, name, key string, at int64) (Maker, error) {
	m := Maker{ID: NewID(), Name: name, At: at}
	err := s.within(ctx, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "INSERT INTO makers (id, name, created_at) VALUES (?, ?, ?)", m.ID, name, at); err != nil {
			return err
		}
		return addMakerKey(ctx, tx, m.ID, key, at)
	})
	if isDuplicate(err) {
		err = ErrTaken
	}
	return m, err
}

func addMakerKey(ctx context.Context, db sqlx.ExecerContext, maker, key string, at int64) error {
	_, err := db.ExecContext(ctx, "INSERT INTO maker_keys (hash, maker, created_at) VALUES (?, ?, ?)", Hash(key), maker, at)
	return err
}

// MakerOf finds whose maker key it is, or ErrNotFound.
func (s *Store) MakerOf(ctx context.Context, key string) (Maker, error) {
	var m Maker
	err := s.db.GetContext(ctx, &m, `
		SELECT m.id, m.name, m.created_at, m.ended_at FROM maker_keys k JOIN makers m ON m.id = k.maker
		WHERE k.hash = ? AND k.ended_at IS NULL AND m.ended_at IS NULL`, Hash(key))
	return m, notFound(err)
}

// keyUseSpan is how exactly it is known when a key was last used, in milliseconds.
const keyUseSpan = 60 * 60 * 1000

// UsedMakerKey notes that a key opened something.
func (s *Store) UsedMakerKey(ctx context.Context, key string, at int64) error {
	_, err := s.db.ExecContext(ctx, "UPDATE maker_keys SET used_at = ? WHERE hash = ? AND COALESCE(used_at, 0) < ?", at, Hash(key), at-keyUseSpan)
	return err
}

// Makers lists all makers by name, each with the keys that open their shelf.
func (s *Store) Makers(ctx context.Context) ([]Maker, error) {
	makers, keys := []Maker{}, []MakerKey{}
	if err := s.db.SelectContext(ctx, &makers, "SELECT id, name, created_at, ended_at FROM makers ORDER BY name"); err != nil {
		return nil, err
	}
	err := s.db.SelectContext(ctx, &keys, "SELECT maker, hash, created_at, used_at FROM maker_keys WHERE ended_at IS NULL ORDER BY created_at, hash")
	for _, k := range keys {
		if i := slices.IndexFunc(makers, func(m Maker) bool { return m.ID == k.Maker }); i >= 0 {
			makers[i].Keys = append(makers[i].Keys, k)
		}
	}
	return makers, err
}

// RenewMaker gives a maker another key; unless beside, the others end. One who was ended
// is a maker again.
func (s *Store) RenewMaker(ctx context.Context, maker, key string, beside bool, at int64) error {
	return s.within(ctx, func(tx *sqlx.Tx) error {
		if !beside {
			if err := endKeys(ctx, tx, maker, at); err != nil {
				return err
			}
		}
		if _, err := tx.ExecContext(ctx, "UPDATE makers SET ended_at = NULL WHERE id = ?", maker); err != nil {
			return err
		}
		return addMakerKey(ctx, tx, maker, key, at)
	})
}

func endKeys(ctx context.Context, tx *sqlx.Tx, maker string, at int64) error {
	_, err := tx.ExecContext(ctx, "UPDATE maker_keys SET ended_at = ? WHERE maker = ? AND ended_at IS NULL", at, maker)
	return err
}

// EndMaker ends a maker's keys. Their kits and rooms stay.
func (s *Store) EndMaker(ctx context.Context, maker string, at int64) error {
	return s.within(ctx, func(tx *sqlx.Tx) error {
		if err := endKeys(ctx, tx, maker, at); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "UPDATE makers SET ended_at = ? WHERE id = ?", at, maker)
		return err
	})
}

// EndMakerKey ends one key of a maker, or says ErrNotFound.
func (s *Store) EndMakerKey(ctx context.Context, maker string, hash []byte, at int64) error {
	return changed(s.db.ExecContext(ctx, "UPDATE maker_keys SET ended_at = ? WHERE maker = ? AND hash = ? AND ended_at IS NULL", at, maker, hash))
}

// CountKits counts a maker's kits that were not removed, and reports whether one of them has a name.
func (s *Store) CountKits(ctx context.Context, maker, name string) (n int, has bool, err error) {
	var row struct {
		N   int  `db:"n"`
		Has bool `db:"has"`
	}
	err = s.db.GetContext(ctx, &row, "SELECT COUNT(*) AS n, COALESCE(SUM(name = ?), 0) > 0 AS has FROM kits WHERE maker = ? AND removed_at IS NULL", name, maker)
	return row.N, row.Has, err
}

// CountRooms counts a maker's rooms that were not removed.
func (s *Store) CountRooms(ctx context.Context, maker string) (n int, err error) {
	err = s.db.GetContext(ctx, &n, "SELECT COUNT(*) FROM rooms WHERE maker = ? AND removed_at IS NULL", maker)
	return n, err
}

// BytesOf is how large a maker's files are together, in bytes.
func (s *Store) BytesOf(ctx context.Context, maker string) (n int64, err error) {
	err = s.db.GetContext(ctx, &n, "SELECT COALESCE(SUM(size), 0) FROM maker_files WHERE maker = ?", maker)
	return n, err
}
