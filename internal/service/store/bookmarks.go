package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"damselfly.example/damselfly/internal/core/table"
)

// Bookmark is a table in use that was kept under a name.
type Bookmark struct {
	ID      string `db:"id"`
	Maker   string `db:"maker"`
	Name    string `db:"name"`
	Kit     string `db:"kit"`
	KitName string `db:"kit_name"`
	Edition int    `db:"edition"`
	Seats   int    `db:"seats"`
	State   []byte `db:"state"` // a table.Table as JSON; lists leave it out
	At      int64  `db:"created_at"`

	Uses table.Uses `db:"-"` // what the state names, where it is kept
}

// AddBookmark keeps a bookmark that was brought. One of a room's table is kept with the entry that tells of it.
func (s *Store) AddBookmark(ctx context.Context, b Bookmark) error {
	return s.within(ctx, func(tx *sqlx.Tx) error { return do(ctx, tx, b.insert()) })
}

func (b Bookmark) insert() []statement {
	insert := statement{"INSERT INTO bookmarks (id, maker, name, kit, edition, seats, state, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
		[]any{b.ID, b.Maker, b.Name, b.Kit, b.Edition, b.Seats, b.State, b.At}}
	return append([]statement{insert}, usesOf(b.ID, b.Uses)...)
}

// Bookmarks lists a maker's bookmarks without their states, the newest first.
func (s *Store) Bookmarks(ctx context.Context, maker string) ([]Bookmark, error) {
	all := []Bookmark{}
	err := s.db.SelectContext(ctx, &all, `
		SELECT b.id, b.maker, b.name, b.kit, COALESCE(k.name, '') AS kit_name, b.edition, b.seats, b.created_at
		FROM bookmarks b LEFT JOIN kits k ON k.id = b.kit WHERE b.maker = ? ORDER BY b.created_at DESC, b.id LIMIT 1000`, maker)
	return all, err
}

// Bookmark finds a maker's bookmark with its state, or ErrNotFound.
func (s *Store) Bookmark(ctx context.Context, maker, id string) (Bookmark, error) {
	var b Bookmark
	err := s.db.GetContext(ctx, &b, `
		SELECT b.id, b.maker, b.name, b.kit, COALESCE(k.name, '') AS kit_name, b.edition, b.seats, b.state, b.created_at
		FROM bookmarks b LEFT JOIN kits k ON k.id = b.kit WHERE b.maker = ? AND b.id = ?`, maker, id)
	return b, notFound(err)
}

// RenameBookmark gives a maker's bookmark another name, or says ErrNotFound.
func (s *Store) RenameBookmark(ctx context.Context, maker, id, name string) error {
	if _, err := s.Bookmark(ctx, maker, id); err != nil {
		return err
	}
	_, err := s.db.ExecContext(ctx, "UPDATE bookmarks SET name = ? WHERE maker = ? AND id = ?", name, maker, id)
	return err
}

// RemoveBookmark takes a maker's bookmark away, or says ErrNotFound. Rooms that began from
// it go on.
func (s *Store) RemoveBookmark(ctx context.Context, maker, id string) error {
	return s.within(ctx, func(tx *sqlx.Tx) error {
		if err := changed(tx.ExecContext(ctx, "DELETE FROM bookmarks WHERE maker = ? AND id = ?", maker, id)); err != nil {
			return err
		}
		return do(ctx, tx, []statement{{"DELETE FROM used_editions WHERE used_by = ?", []any{id}}, {"DELETE FROM used_pictures WHERE used_by = ?", []any{id}}})
	})
}
