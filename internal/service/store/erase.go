package store

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"
)

// Erased counts what was taken away for good.
type Erased struct {
	Rooms, Kits, Files, Pictures int
}

// Spans of keeping the house, in milliseconds.
const (
	day         = 24 * 60 * 60 * 1000
	eraseMargin = day // after the time in which something could be brought back, so that nobody meets the erasing
)

// Erase takes away for good what was removed so long ago that it cannot be brought back, as of a time in
// milliseconds since 1970: rooms with their journals, kits with their editions, and then the files and pictures that nothing
// needs. What a room, a bookmark or another edition needs stays. It may be broken off and done again.
func (s *Store) Erase(ctx context.Context, at int64) (erased Erased, err error) {
	before := at - RemovedFor - eraseMargin
	if erased.Rooms, err = s.eraseRooms(ctx, before); err != nil {
		return erased, err
	}
	art, n, err := s.eraseKits(ctx, before)
	erased.Kits = n
	if err != nil {
		return erased, err
	}
	if erased.Files, err = s.eraseFiles(ctx, before); err != nil {
		return erased, err
	}
	erased.Pictures, err = s.erasePictures(ctx, art, at-day)
	return erased, err
}

// atOnce is how many rows are taken away in one statement, so that nobody waits long for it.
const atOnce = 2000

func (s *Store) eraseRooms(ctx context.Context, before int64) (n int, err error) {
	var rooms []string
	if err := s.db.SelectContext(ctx, &rooms, "SELECT id FROM rooms WHERE removed_at < ? ORDER BY removed_at LIMIT 1000", before); err != nil {
		return 0, err
	}
	for _, room := range rooms {
		for _, rows := range []string{"journal WHERE room", "snapshots WHERE room", "seat_keys WHERE room", "holders WHERE room", "used_editions WHERE used_by", "used_pictures WHERE used_by"} { // the room itself last, so that the rest is found again
			if err := s.deleteSome(ctx, "DELETE FROM "+rows+" = ? LIMIT ?", room); err != nil {
				return n, err
			}
		}
		if _, err := s.db.ExecContext(ctx, "DELETE FROM rooms WHERE id = ?", room); err != nil {
			return n, err
		}
		n++
	}
	return n, nil
}

// deleteSome takes rows away, some at a time, until there are none.
func (s *Store) deleteSome(ctx context.Context, statement string, of string) error {
	for {
		done, err := s.db.ExecContext(ctx, statement, of, atOnce)
		if err != nil {
			return err
		}
		if n, err := done.RowsAffected(); err != nil || n < atOnce {
			return err
		}
	}
}

// eraseKits takes kits away that no room and no bookmark needs, and their decks no table either, and returns the pictures that
// their editions needed.
func (s *Store) eraseKits(ctx context.Context, before int64) (art map[string]bool, n int, err error) {
	art = map[string]bool{}
	var kits []string
	const unneeded = `SELECT k.id FROM kits k WHERE k.removed_at < ?
		AND NOT EXISTS (SELECT 1 FROM rooms r WHERE r.kit = k.id)
		AND NOT EXISTS (SELECT 1 FROM bookmarks b WHERE b.kit = k.id)
		AND NOT EXISTS (SELECT 1 FROM used_editions u WHERE u.kit = k.id)`
	err = s.db.SelectContext(ctx, &kits, unneeded+" LIMIT 1000", before)
	if err != nil {
		return nil, 0, err
	}
	for _, kit := range kits {
		var pictures []string
		if err := s.db.SelectContext(ctx, &pictures, "SELECT DISTINCT picture FROM edition_pictures WHERE kit = ?", kit); err != nil {
			return art, n, err
		}
		erased := false
		err = s.within(ctx, func(tx *sqlx.Tx) error {
			var still bool // it may have been brought back meanwhile, by keeping it anew, or be needed
			if err := tx.GetContext(ctx, &still, "SELECT EXISTS ("+unneeded+" AND k.id = ? FOR UPDATE)", before, kit); err != nil || !still {
				return err
			}
			for _, rows := range []string{"edition_files WHERE kit", "edition_pictures WHERE kit", "editions WHERE kit", "kits WHERE id"} {
				if _, err := tx.ExecContext(ctx, "DELETE FROM "+rows+" = ?", kit); err != nil {
					return err
				}
			}
			erased = true
			return nil
		})
		if err != nil {
			return art, n, err
		}
		if erased {
			n++
			for _, picture := range pictures {
				art[picture] = true
			}
		}
	}
	return art, n, nil
}

// eraseFiles takes files away that no edition of their maker names, and that were sent long ago.
func (s *Store) eraseFiles(ctx context.Context, before int64) (n int, err error) {
	var files []struct {
		Maker string `db:"maker"`
		Hash  string `db:"hash"`
	}
	err = s.db.SelectContext(ctx, &files, `
		SELECT f.maker, f.hash FROM maker_files f WHERE f.created_at < ?
			AND NOT EXISTS (SELECT 1 FROM edition_files e JOIN kits k ON k.id = e.kit WHERE e.hash = f.hash AND k.maker = f.maker)
		LIMIT 5000`, before)
	if err != nil {
		return 0, err
	}
	for _, f := range files {
		err := s.within(ctx, func(tx *sqlx.Tx) error {
			if _, err := tx.ExecContext(ctx, "DELETE FROM maker_files WHERE maker = ? AND hash = ?", f.Maker, f.Hash); err != nil {
				return err
			}
			// Whoever sends the same file now has noted it before looking whether it is here; this waits for them.
			_, err := tx.ExecContext(ctx, "DELETE FROM file_parts WHERE hash = ? AND NOT EXISTS (SELECT 1 FROM maker_files WHERE hash = ?) AND NOT EXISTS (SELECT 1 FROM edition_files WHERE hash = ?)", f.Hash, f.Hash, f.Hash)
			return err
		})
		if err != nil {
			return n, err
		}
		n++
	}
	return n, nil
}

// erasePictures takes pictures away that were those of erased editions, if nothing else needs them, and nobody put
// them since a time.
func (s *Store) erasePictures(ctx context.Context, art map[string]bool, since int64) (n int, err error) {
	for picture := range art {
		gone := false
		err := s.within(ctx, func(tx *sqlx.Tx) error {
			done, err := tx.ExecContext(ctx, `DELETE FROM pictures WHERE address = ? AND kept_at < ?
				AND NOT EXISTS (SELECT 1 FROM edition_pictures WHERE picture = ?)
				AND NOT EXISTS (SELECT 1 FROM used_pictures WHERE picture = ?)`, picture, since, picture, picture)
			if changed(done, err) == ErrNotFound {
				return nil
			}
			if err != nil {
				return err
			}
			gone = true
			_, err = tx.ExecContext(ctx, "DELETE FROM smaller WHERE full = ?", picture)
			return err
		})
		if err != nil {
			return n, err
		}
		if gone {
			n++
		}
	}
	return n, nil
}

// Unused lists rooms in which nothing was done for some days, the longest ago first.
func (s *Store) Unused(ctx context.Context, days int, at int64) ([]RoomRow, error) {
	rows, err := s.rooms(ctx, `r.removed_at IS NULL AND r.created_at < ?
		AND NOT EXISTS (SELECT 1 FROM journal j WHERE j.room = r.id AND j.at >= ?)`, at-int64(days)*day, at-int64(days)*day)
	return rows, err
}

// RemoveUnused removes those rooms. Their makers can bring them back for a while.
func (s *Store) RemoveUnused(ctx context.Context, days int, at int64) ([]RoomRow, error) {
	rows, err := s.Unused(ctx, days, at)
	for _, r := range rows {
		if err := s.RemoveRoom(ctx, r.ID, at); err != nil {
			return nil, err
		}
	}
	return rows, err
}

// Now is a time as records have it.
func Now() int64 { return time.Now().UnixMilli() }
