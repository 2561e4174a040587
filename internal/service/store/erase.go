package store

import (
	"context"
	"regexp"
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
		for _, table := range []string{"journal", "snapshots", "seat_keys", "holders"} { // the room itself last, so that the rest is found again
			if err := s.deleteSome(ctx, "DELETE FROM "+table+" WHERE room = ? LIMIT ?", room); err != nil {
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

// address is how pictures are named in editions, journals and bookmarks.
var address = regexp.MustCompile(`[0-9a-f]{64}`)

// eraseKits takes kits away that no room and no bookmark needs, and returns the pictures that their editions named.
func (s *Store) eraseKits(ctx context.Context, before int64) (art map[string]bool, n int, err error) {
	art = map[string]bool{}
	var kits []string
	err = s.db.SelectContext(ctx, &kits, `
		SELECT k.id FROM kits k WHERE k.removed_at < ?
			AND NOT EXISTS (SELECT 1 FROM rooms r WHERE r.kit = k.id)
			AND NOT EXISTS (SELECT 1 FROM bookmarks b WHERE b.kit = k.id)
		LIMIT 1000`, before)
	if err != nil {
		return nil, 0, err
	}
	for _, kit := range kits {
		needed, err := s.deckIsBrought(ctx, kit)
		if err != nil {
			return art, n, err
		}
		if needed {
			continue
		}
		if err := s.addressesIn(ctx, art, "SELECT made, known FROM editions WHERE kit = ?", kit); err != nil {
			return art, n, err
		}
		erased := false
		err = s.within(ctx, func(tx *sqlx.Tx) error {
			var still bool // it may have been brought back meanwhile, by keeping it anew
			if err := tx.GetContext(ctx, &still, "SELECT EXISTS (SELECT 1 FROM kits WHERE id = ? AND removed_at < ? FOR UPDATE)", kit, before); err != nil || !still {
				return err
			}
			for _, statement := range []string{"DELETE FROM edition_files WHERE kit = ?", "DELETE FROM editions WHERE kit = ?", "DELETE FROM kits WHERE id = ?"} {
				if _, err := tx.ExecContext(ctx, statement, kit); err != nil {
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
		}
	}
	return art, n, nil
}

// deckIsBrought reports whether a deck of a kit lies on a table that began with another kit.
func (s *Store) deckIsBrought(ctx context.Context, kit string) (is bool, err error) {
	for _, query := range []string{
		"SELECT EXISTS (SELECT 1 FROM journal WHERE edits LIKE CONCAT('%\"', ?, '\"%'))",
		"SELECT EXISTS (SELECT 1 FROM bookmarks WHERE state LIKE CONCAT('%\"', ?, '\"%'))",
	} {
		if err := s.db.GetContext(ctx, &is, query, kit); err != nil || is {
			return is, err
		}
	}
	return false, nil
}

// addressesIn adds the names of pictures that stand in texts.
func (s *Store) addressesIn(ctx context.Context, all map[string]bool, query string, values ...any) error {
	rows, err := s.db.QueryxContext(ctx, query, values...)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		texts, err := rows.SliceScan()
		if err != nil {
			return err
		}
		for _, text := range texts {
			bytes, _ := text.([]byte)
			for _, name := range address.FindAll(bytes, -1) {
				all[string(name)] = true
			}
		}
	}
	return rows.Err()
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

// erasePictures takes pictures away that were those of erased editions, if nothing else names them, and nobody put
// them since a time.
func (s *Store) erasePictures(ctx context.Context, art map[string]bool, since int64) (n int, err error) {
	if len(art) == 0 {
		return 0, nil
	}
	needed := map[string]bool{}
	for _, query := range []string{
		"SELECT made, known FROM editions", "SELECT state FROM bookmarks", "SELECT edits FROM journal", "SELECT state FROM snapshots",
	} {
		if err := s.addressesIn(ctx, needed, query); err != nil {
			return 0, err
		}
	}
	for name := range art {
		if needed[name] {
			continue
		}
		done, err := s.db.ExecContext(ctx, "DELETE FROM pictures WHERE address = ? AND kept_at < ?", name, since)
		if err != nil {
			return n, err
		}
		if gone, err := done.RowsAffected(); err == nil && gone > 0 {
			n++
			if _, err := s.db.ExecContext(ctx, "DELETE FROM smaller WHERE full = ?", name); err != nil {
				return n, err
			}
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
