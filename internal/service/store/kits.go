package store

import (
	"bytes"
	"context"
	"crypto/rand"
	"database/sql"
	"encoding/json"
	"fmt"
	"strings"

	"github.com/jmoiron/sqlx"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
)

// Kit is a kit on the shelf with its newest edition.
type Kit struct {
	ID        string `db:"id"`
	Maker     string `db:"maker"`
	MakerName string `db:"maker_name"`
	Name      string `db:"name"`
	Reach     string `db:"reach"` // private, link or listed
	Edition   int    `db:"edition"`
	At        int64  `db:"created_at"` // of that edition, milliseconds since 1970
	RemovedAt *int64 `db:"removed_at"`
	Rooms     int    `db:"rooms"` // that are open with it
	CoverText []byte `db:"cover"` // kit.Cover as JSON
}

// Cover is what lists show of the kit.
func (k Kit) Cover() (c kit.Cover, err error) {
	if len(k.CoverText) == 0 {
		return c, nil
	}
	return c, json.Unmarshal(k.CoverText, &c)
}

// The reaches of a kit: its maker alone, whoever has its link, and everybody.
const (
	Private  = "private"
	WithLink = "link"
	Listed   = "listed"
)

// RemovedFor is for how long what was removed can be brought back, in milliseconds.
const RemovedFor = 30 * 24 * 60 * 60 * 1000

// NewID makes an id that nobody can guess, of letters and digits that are not
// mistaken for each other.
func NewID() string { return strings.ToLower(rand.Text()[:12]) }

// partSize is how much of a file stands in one row, in bytes.
const partSize = 1 << 20

// Put is an edition to be kept.
type Put struct {
	Result *kit.Result
	Files  []File
	Note   string
	After  int // the edition that it was made from; 0: whichever is the newest
}

// BetweenError says that an edition was kept since the one that another was made from.
type BetweenError struct{ Newest int }

func (e *BetweenError) Error() string { return fmt.Sprintf("edition %d was kept meanwhile", e.Newest) }

// PutKit keeps an edition of a maker's kit of that name, all of it or nothing. The very
// same files again are the same edition: fresh is then false. A kit that was removed is
// there again. Where another edition came between, that is a *BetweenError.
func (s *Store) PutKit(ctx context.Context, maker string, put Put, at int64) (k Kit, fresh bool, err error) {
	source := sourceOf(put.Files)
	err = s.within(ctx, func(tx *sqlx.Tx) error {
		k, fresh = Kit{Maker: maker, Name: put.Result.Edition.Name, At: at}, true
		if err := kitRow(ctx, tx, &k); err != nil {
			return err
		}
		var last struct {
			Number int    `db:"number"`
			Source []byte `db:"source"`
			At     int64  `db:"created_at"`
		}
		err := tx.GetContext(ctx, &last, "SELECT number, source, created_at FROM editions WHERE kit = ? ORDER BY number DESC LIMIT 1", k.ID)
		if err != nil && notFound(err) != ErrNotFound {
			return err
		}
		if bytes.Equal(last.Source, source) {
			k.Edition, k.At, fresh = last.Number, last.At, false
			return nil
		}
		if put.After != 0 && put.After != last.Number {
			return &BetweenError{last.Number}
		}
		k.Edition = last.Number + 1
		return putEdition(ctx, tx, k, put, source)
	})
	return k, fresh, err
}

// kitRow finds a maker's kit by its name, making it if it is new. The row stays
// locked, so that two uploads at once become two editions.
func kitRow(ctx context.Context, tx *sqlx.Tx, k *Kit) error {
	_, err := tx.ExecContext(ctx, "INSERT IGNORE INTO kits (id, maker, name, created_at) VALUES (?, ?, ?, ?)", NewID(), k.Maker, k.Name, k.At)
	if err != nil {
		return err
	}
	err = tx.QueryRowxContext(ctx, "SELECT id, reach FROM kits WHERE maker = ? AND name = ? FOR UPDATE", k.Maker, k.Name).Scan(&k.ID, &k.Reach)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, "UPDATE kits SET removed_at = NULL WHERE id = ?", k.ID)
	return err
}

func putEdition(ctx context.Context, tx *sqlx.Tx, k Kit, put Put, source []byte) error {
	if err := addPictures(ctx, tx, put.Result.Pictures); err != nil {
		return err
	}
	if err := addSmaller(ctx, tx, put.Result.Edition); err != nil {
		return err
	}
	edition := put.Result.Edition
	_, err := tx.ExecContext(ctx, "INSERT INTO editions (kit, number, source, made, created_at, note, cover, known) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
		k.ID, k.Edition, source, asJSON(edition), k.At, put.Note, asJSON(edition.Cover()), asJSON(put.Result.Known))
	if err != nil {
		return err
	}
	if err := do(ctx, tx, picturesOf(k.ID, k.Edition, table.UsesOf(edition, put.Result.Known))); err != nil {
		return err
	}
	return addEditionFiles(ctx, tx, k.ID, k.Edition, put.Files)
}

// asJSON writes what is always possible to write.
func asJSON(v any) []byte {
	text, err := json.Marshal(v)
	if err != nil {
		panic(err)
	}
	return text
}

// kitColumns are those of a Kit, of kits k, their makers m and their newest editions e.
const kitColumns = `
	SELECT k.id, k.maker, m.name AS maker_name, k.name, k.reach, k.removed_at, e.number AS edition, e.created_at, e.cover,
		(SELECT COUNT(*) FROM rooms r WHERE r.maker = k.maker AND r.kit = k.id AND r.removed_at IS NULL) AS rooms
	FROM kits k JOIN editions e ON e.kit = k.id JOIN makers m ON m.id = k.maker
	WHERE e.number = (SELECT MAX(number) FROM editions WHERE kit = k.id) AND `

func (s *Store) kits(ctx context.Context, where string, values ...any) ([]Kit, error) {
	kits := []Kit{}
	err := s.db.SelectContext(ctx, &kits, kitColumns+where+" ORDER BY k.name, k.id LIMIT 1000", values...)
	return kits, err
}

// Kits lists a maker's kits by name.
func (s *Store) Kits(ctx context.Context, maker string) ([]Kit, error) {
	return s.kits(ctx, "k.maker = ? AND k.removed_at IS NULL", maker)
}

// RemovedKits lists the kits that a maker removed and can bring back.
func (s *Store) RemovedKits(ctx context.Context, maker string, at int64) ([]Kit, error) {
	return s.kits(ctx, "k.maker = ? AND k.removed_at > ?", maker, at-RemovedFor)
}

// ListedKits lists the kits that are there for everybody.
func (s *Store) ListedKits(ctx context.Context) ([]Kit, error) {
	return s.kits(ctx, "k.reach = ? AND k.removed_at IS NULL AND m.ended_at IS NULL", Listed)
}

// Kit finds a kit that was not removed, or ErrNotFound.
func (s *Store) Kit(ctx context.Context, id string) (Kit, error) {
	kits, err := s.kits(ctx, "k.id = ? AND k.removed_at IS NULL", id)
	if err == nil && len(kits) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return Kit{}, err
	}
	return kits[0], nil
}

// SetReach says who finds a kit.
func (s *Store) SetReach(ctx context.Context, id, reach string) error {
	_, err := s.db.ExecContext(ctx, "UPDATE kits SET reach = ? WHERE id = ?", reach, id)
	return err
}

// RemoveKit takes a kit off the shelf. Its editions stay, as rooms and bookmarks need them.
func (s *Store) RemoveKit(ctx context.Context, id string, at int64) error {
	_, err := s.db.ExecContext(ctx, "UPDATE kits SET removed_at = ? WHERE id = ? AND removed_at IS NULL", at, id)
	return err
}

// RestoreKit brings a kit back that its maker removed not too long ago, or says ErrNotFound.
func (s *Store) RestoreKit(ctx context.Context, maker, id string, at int64) error {
	return changed(s.db.ExecContext(ctx, "UPDATE kits SET removed_at = NULL WHERE id = ? AND maker = ? AND removed_at > ?", id, maker, at-RemovedFor))
}

// changed says ErrNotFound where a statement found no row to change.
func changed(done sql.Result, err error) error {
	if err != nil {
		return err
	}
	if n, err := done.RowsAffected(); err != nil || n > 0 {
		return err
	}
	return ErrNotFound
}

// EditionRow is an edition in a kit's list.
type EditionRow struct {
	Number int    `db:"number"`
	At     int64  `db:"created_at"`
	Note   string `db:"note"`
}

// Editions lists the editions of a kit, the newest first.
func (s *Store) Editions(ctx context.Context, kitID string) ([]EditionRow, error) {
	rows := []EditionRow{}
	err := s.db.SelectContext(ctx, &rows, "SELECT number, created_at, note FROM editions WHERE kit = ? ORDER BY number DESC LIMIT 1000", kitID)
	return rows, err
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

// KnownOf returns what an edition made of which files.
func (s *Store) KnownOf(ctx context.Context, kitID string, number int) (known kit.Known, err error) {
	var text []byte
	if err := s.db.GetContext(ctx, &text, "SELECT known FROM editions WHERE kit = ? AND number = ?", kitID, number); err != nil {
		return known, notFound(err)
	}
	return known, json.Unmarshal(text, &known)
}

// Known returns what the newest edition of a maker's kit made of which files, nothing if
// there is no such kit.
func (s *Store) Known(ctx context.Context, maker, name string) (known kit.Known, err error) {
	var text []byte
	err = s.db.GetContext(ctx, &text, `
		SELECT e.known FROM kits k JOIN editions e ON e.kit = k.id
		WHERE k.maker = ? AND k.name = ? AND (k.removed_at IS NULL OR k.removed_at > ?) ORDER BY e.number DESC LIMIT 1`, maker, name, Now()-RemovedFor)
	if notFound(err) == ErrNotFound {
		return known, nil
	}
	if err != nil {
		return known, err
	}
	return known, json.Unmarshal(text, &known)
}
