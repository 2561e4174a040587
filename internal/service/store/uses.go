package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
)

// What an edition, a room's journal or a bookmark names must be kept with it. It stands in rows, which are written in the commit
// that names it; so what nothing needs is found by joins.

// usesOf are the statements that note what a room or a bookmark names.
func usesOf(by string, u table.Uses) []statement {
	var all []statement
	for some := range slices.Chunk(u.Editions, usesAtOnce) {
		values := make([]any, 0, 3*len(some))
		for _, e := range some {
			values = append(values, by, e.Kit, e.Number)
		}
		all = append(all, statement{"INSERT IGNORE INTO used_editions (used_by, kit, number) VALUES " + rowsOf(3, len(some)), values})
	}
	for some := range slices.Chunk(u.Pictures, usesAtOnce) {
		values := make([]any, 0, 2*len(some))
		for _, p := range some {
			values = append(values, by, p)
		}
		all = append(all, statement{"INSERT IGNORE INTO used_pictures (used_by, picture) VALUES " + rowsOf(2, len(some)), values})
	}
	return all
}

// picturesOf are the statements that note the pictures of an edition.
func picturesOf(kitID string, number int, u table.Uses) []statement {
	var all []statement
	for some := range slices.Chunk(u.Pictures, usesAtOnce) {
		values := make([]any, 0, 3*len(some))
		for _, p := range some {
			values = append(values, kitID, number, p)
		}
		all = append(all, statement{"INSERT IGNORE INTO edition_pictures (kit, number, picture) VALUES " + rowsOf(3, len(some)), values})
	}
	return all
}

// usesAtOnce is how many rows one statement writes at most.
const usesAtOnce = 500

// rowsOf are the marks of values of several rows.
func rowsOf(columns, rows int) string {
	row := ", (" + strings.Repeat(", ?", columns)[2:] + ")"
	return strings.Repeat(row, rows)[2:]
}

// noteUses notes what all there is names: the migration that began to note it. Doing it again changes nothing.
func noteUses(ctx context.Context, db *sql.DB) error {
	for _, of := range []struct {
		query string
		uses  func(text []byte) (table.Uses, error)
		note  func(key string, number int, u table.Uses) []statement
	}{
		{"SELECT kit, number, made FROM editions", usesIn[kit.Edition], picturesOf},
		{"SELECT kit, number, known FROM editions", usesIn[kit.Known], picturesOf},
		{"SELECT id, 0, state FROM bookmarks", usesIn[table.Table], func(id string, _ int, u table.Uses) []statement { return usesOf(id, u) }},
		{"SELECT room, entry, edits FROM journal", usesIn[table.Edits], func(room string, _ int, u table.Uses) []statement { return usesOf(room, u) }},
	} {
		rows, err := db.QueryContext(ctx, of.query)
		if err != nil {
			return err
		}
		defer rows.Close()
		for rows.Next() {
			var key string
			var number int
			var text []byte
			if err := rows.Scan(&key, &number, &text); err != nil {
				return err
			}
			uses, err := of.uses(text)
			if err != nil {
				return fmt.Errorf("%s %d: %w", key, number, err)
			}
			for _, one := range of.note(key, number, uses) {
				if _, err := db.ExecContext(ctx, one.text, one.values...); err != nil {
					return err
				}
			}
		}
		if err := rows.Err(); err != nil {
			return err
		}
	}
	return nil
}

func usesIn[T any](text []byte) (table.Uses, error) {
	var v T
	err := json.Unmarshal(text, &v)
	return table.UsesOf(v), err
}
