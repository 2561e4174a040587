package store

import (
	"bytes"
	"context"
	"crypto/rand"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
)

// Kit is a kit on the shelf with its newest edition.
type Kit struct {
	ID      string `db:"id"`
	Name    string `db:"name"`
	Edition int    `db:"edition"`
	At      int64  `db:"created_at"` // of that edition, milliseconds since 1970
}

// NewID makes an id that nobody can guess, of letters and digits that are not
// mistaken for each other.
func NewID() string { return strings.ToLower(rand.Text()[:12]) }

// partSize is how much of a zip stands in one row, in bytes.
const partSize = 1 << 20

// PutKit keeps an edition of a maker's kit of that name, all of it or nothing.
// The same zip again is the same edition: fresh is then false.
func (s *Store) PutKit(ctx context.Context, maker string, result *kit.Result, zip []byte, at int64) (k Kit, fresh bool, err error) {
	made, err := json.Marshal(result.Edition)
	if err != nil {
		return Kit{}, false, err
	}
	source := Hash(string(zip))
	err = s.within(ctx, func(tx *sqlx.Tx) error {
		k, fresh = Kit{Name: result.Edition.Name, At: at}, true
		var err error
		if k.ID, err = kitID(ctx, tx, maker, k.Name, at); err != nil {
			return err
		}
		var last struct {
			Number int    `db:"number"`
			Source []byte `db:"source"`
		}
		err = tx.GetContext(ctx, &last, "SELECT number, source FROM editions WHERE kit = ? ORDER BY number DESC LIMIT 1", k.ID)
		if err != nil && notFound(err) != ErrNotFound {
			return err
		}
		if bytes.Equal(last.Source, source) {
			k.Edition, fresh = last.Number, false
			return nil
		}
		k.Edition = last.Number + 1
		return putEdition(ctx, tx, k, result, made, source, zip)
	})
	return k, fresh, err
}

// kitID finds the id of a maker's kit, making one if it is new. The row stays
// locked, so that two uploads at once become two editions.
func kitID(ctx context.Context, tx *sqlx.Tx, maker, name string, at int64) (id string, err error) {
	_, err = tx.ExecContext(ctx, "INSERT IGNORE INTO kits (id, maker, name, created_at) VALUES (?, ?, ?, ?)",
		NewID(), maker, name, at)
	if err != nil {
		return "", err
	}
	err = tx.GetContext(ctx, &id, "SELECT id FROM kits WHERE maker = ? AND name = ? FOR UPDATE", maker, name)
	return id, err
}

func putEdition(ctx context.Context, tx *sqlx.Tx, k Kit, result *kit.Result, made, source, zip []byte) error {
	if err := addPictures(ctx, tx, result.Pictures); err != nil {
		return err
	}
	if err := addSmaller(ctx, tx, result.Edition); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, "INSERT INTO editions (kit, number, source, made, created_at) VALUES (?, ?, ?, ?, ?)",
		k.ID, k.Edition, source, made, k.At)
	if err != nil {
		return err
	}
	part := 0
	for chunk := range slices.Chunk(zip, partSize) {
		_, err := tx.ExecContext(ctx, "INSERT INTO edition_parts (kit, number, part, bytes) VALUES (?, ?, ?, ?)",
			k.ID, k.Edition, part, chunk)
		if err != nil {
			return fmt.Errorf("keeping the kit's files: %w", err)
		}
		part++
	}
	return nil
}

// Kits lists a maker's kits by name.
func (s *Store) Kits(ctx context.Context, maker string) ([]Kit, error) {
	kits := []Kit{}
	err := s.db.SelectContext(ctx, &kits, `
		SELECT k.id, k.name, e.number AS edition, e.created_at
		FROM kits k JOIN editions e ON e.kit = k.id
		WHERE k.maker = ? AND e.number = (SELECT MAX(number) FROM editions WHERE kit = k.id)
		ORDER BY k.name`, maker)
	return kits, err
}

// Edition returns what an edition of a kit laid, or ErrNotFound.
func (s *Store) Edition(ctx context.Context, kitID string, number int) (kit.Edition, error) {
	var made kit.Edition
	var text []byte
	err := s.db.GetContext(ctx, &text, "SELECT made FROM editions WHERE kit = ? AND number = ?", kitID, number)
	if err != nil {
		return made, notFound(err)
	}
	return made, json.Unmarshal(text, &made)
}

// Named is what people outside see of an edition.
type Named struct {
	Name  string `db:"name"`
	About string `db:"about"`
}

// EditionNamed finds the name of an edition and what it says about itself, without reading
// the rest of it.
func (s *Store) EditionNamed(ctx context.Context, kitID string, number int) (Named, error) {
	var named Named
	err := s.db.GetContext(ctx, &named, `
		SELECT JSON_VALUE(made, '$.name') AS name, COALESCE(JSON_VALUE(made, '$.about'), '') AS about
		FROM editions WHERE kit = ? AND number = ?`, kitID, number)
	return named, notFound(err)
}

// NewestEdition returns what the newest edition of a kit laid, or ErrNotFound.
func (s *Store) NewestEdition(ctx context.Context, kitID string) (kit.Edition, error) {
	var made kit.Edition
	var text []byte
	err := s.db.GetContext(ctx, &text, "SELECT made FROM editions WHERE kit = ? ORDER BY number DESC LIMIT 1", kitID)
	if err != nil {
		return made, notFound(err)
	}
	return made, json.Unmarshal(text, &made)
}

// Zip returns the files of the newest edition of a kit as they were put.
func (s *Store) Zip(ctx context.Context, kitID string) ([]byte, error) {
	var parts [][]byte
	err := s.db.SelectContext(ctx, &parts, `
		SELECT bytes FROM edition_parts
		WHERE kit = ? AND number = (SELECT MAX(number) FROM editions WHERE kit = ?) ORDER BY part`, kitID, kitID)
	if err != nil {
		return nil, err
	}
	if len(parts) == 0 {
		return nil, ErrNotFound
	}
	return bytes.Join(parts, nil), nil
}

// Drawn returns what the newest edition of a maker's kit drew from rows and
// layouts, none if there is no such kit.
func (s *Store) Drawn(ctx context.Context, maker, name string) (map[string]table.Picture, error) {
	var text []byte
	err := s.db.GetContext(ctx, &text, `
		SELECT e.made FROM kits k JOIN editions e ON e.kit = k.id
		WHERE k.maker = ? AND k.name = ? ORDER BY e.number DESC LIMIT 1`, maker, name)
	if err != nil {
		if notFound(err) == ErrNotFound {
			return nil, nil
		}
		return nil, err
	}
	var made kit.Edition
	err = json.Unmarshal(text, &made)
	return made.Drawn, err
}
