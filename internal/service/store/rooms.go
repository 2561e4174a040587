package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"github.com/jmoiron/sqlx"

	"damselfly.example/damselfly/internal/core/table"
)

// Room is the record of a room. What lies on its table stands in its journal.
type Room struct {
	ID         string `db:"id"`
	Maker      string `db:"maker"`
	Kit        string `db:"kit"`
	Edition    int    `db:"edition"`
	Name       string `db:"name"`
	Seats      int    `db:"seats"`
	Spectators bool   `db:"spectators"`
	Passcode   []byte `db:"passcode"` // slow hash; empty: none
	Seed       []byte `db:"seed"`
	At         int64  `db:"created_at"`
	Ended      bool   `db:"ended"`   // the game has
	Origins    string `db:"origins"` // addresses of pages that may ask about it, with a space between them
}

// roomColumns are the columns of a Room.
const roomColumns = "id, maker, kit, edition, name, seats, spectators, passcode, seed, created_at, ended, origins"

// Entry is one entry of a room's journal.
type Entry struct {
	Room    string     `db:"room"`
	Number  int64      `db:"entry"` // from 1
	At      int64      `db:"at"`    // milliseconds since 1970
	Actor   table.Seat `db:"actor"`
	Tenure  uint64     `db:"tenure"`  // of the actor
	Request string     `db:"request"` // the id the actor gave, or empty
	Asked   []byte     `db:"asked"`   // a hash of what was asked for under that id
	Refusal []byte     `db:"refusal"` // a table.Refusal as JSON, where only a part was done
	Edits   []byte     `db:"edits"`   // table.Edits as JSON
	Deeds   []byte     `db:"deeds"`   // []table.Deed as JSON
	Told    int64      `db:"told"`    // log lines before this entry

	Keys  []KeyChange `db:"-"` // what becomes of keys, in the same commit
	Ended bool        `db:"-"` // the game has, with this entry

	Edition int `db:"-"` // of its kit, that the room has from this entry on; 0: the same

	Bookmark *Bookmark `db:"-"` // that is kept with it

	Uses table.Uses `db:"-"` // what its edits name that the room's entries before did not
}

// entryColumns are the columns of an Entry.
const entryColumns = "room, entry, at, actor, tenure, COALESCE(request, '') AS request, asked, refusal, edits, deeds, told"

// KeyChange is what an entry does to the keys of a seat: it ends them, has them open
// another seat, or adds one. With the entry it is kept or not kept.
type KeyChange struct {
	Seat   table.Seat // 0: of spectators
	To     table.Seat // the seat that they open from now on; 0: none
	Tenure uint64     // of whoever sits there then
	Add    []byte     // the hash of a new key to Seat, in place of the others
	Name   string
}

// AddRoom keeps a new room with the first entry of its journal.
func (s *Store) AddRoom(ctx context.Context, r Room, first ...Entry) error {
	return s.within(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.NamedExecContext(ctx, `
			INSERT INTO rooms (id, maker, kit, edition, name, seats, spectators, passcode, seed, created_at, origins)
			VALUES (:id, :maker, :kit, :edition, :name, :seats, :spectators, :passcode, :seed, :created_at, :origins)`, r)
		if err != nil {
			return err
		}
		return do(ctx, tx, statementsOf(first))
	})
}

// Room finds a room, or ErrNotFound.
func (s *Store) Room(ctx context.Context, id string) (Room, error) {
	var r Room
	err := s.db.GetContext(ctx, &r, "SELECT "+roomColumns+" FROM rooms WHERE id = ? AND removed_at IS NULL", id)
	return r, notFound(err)
}

// RoomRow is a room in its maker's list.
type RoomRow struct {
	Room
	KitName string `db:"kit_name"`
	Newest  int    `db:"newest"`  // edition of its kit
	LastAt  int64  `db:"last_at"` // when something was last done, milliseconds since 1970

	RemovedAt *int64 `db:"removed_at"`
}

func (s *Store) rooms(ctx context.Context, where string, values ...any) ([]RoomRow, error) {
	rows := []RoomRow{}
	err := s.db.SelectContext(ctx, &rows, `
		SELECT r.id, r.maker, r.kit, r.edition, r.name, r.seats, r.spectators, r.passcode, r.seed, r.created_at, r.ended, r.origins, r.removed_at, COALESCE(k.name, '') AS kit_name,
			COALESCE((SELECT MAX(number) FROM editions e WHERE e.kit = r.kit), r.edition) AS newest,
			COALESCE((SELECT j.at FROM journal j WHERE j.room = r.id ORDER BY j.entry DESC LIMIT 1), r.created_at) AS last_at
		FROM rooms r LEFT JOIN kits k ON k.id = r.kit WHERE `+where+" ORDER BY r.created_at DESC, r.id LIMIT 1000", values...)
	return rows, err
}

// Rooms lists a maker's rooms, the newest first.
func (s *Store) Rooms(ctx context.Context, maker string) ([]RoomRow, error) {
	return s.rooms(ctx, "r.maker = ? AND r.removed_at IS NULL", maker)
}

// RemovedRooms lists the rooms that a maker removed and can bring back.
func (s *Store) RemovedRooms(ctx context.Context, maker string, at int64) ([]RoomRow, error) {
	return s.rooms(ctx, "r.maker = ? AND r.removed_at > ?", maker, at-RemovedFor)
}

// SetPasscode has a room ask for another passcode, by its slow hash; empty for none.
func (s *Store) SetPasscode(ctx context.Context, id string, hash []byte) error {
	_, err := s.db.ExecContext(ctx, "UPDATE rooms SET passcode = ? WHERE id = ?", hash, id)
	return err
}

// SetOrigins has pages of other addresses ask about a room, with a space between them.
func (s *Store) SetOrigins(ctx context.Context, id, origins string) error {
	_, err := s.db.ExecContext(ctx, "UPDATE rooms SET origins = ? WHERE id = ?", origins, id)
	return err
}

// Origins are the addresses of pages that may ask about a room, or ErrNotFound.
func (s *Store) Origins(ctx context.Context, id string) ([]string, error) {
	var origins string
	err := s.db.GetContext(ctx, &origins, "SELECT origins FROM rooms WHERE id = ? AND removed_at IS NULL", id)
	return strings.Fields(origins), notFound(err)
}

// RemoveRoom takes a room away. Its journal stays.
func (s *Store) RemoveRoom(ctx context.Context, id string, at int64) error {
	_, err := s.db.ExecContext(ctx, "UPDATE rooms SET removed_at = ? WHERE id = ? AND removed_at IS NULL", at, id)
	return err
}

// RestoreRoom brings a room back that its maker removed not too long ago, or says ErrNotFound.
func (s *Store) RestoreRoom(ctx context.Context, maker, id string, at int64) error {
	return changed(s.db.ExecContext(ctx, "UPDATE rooms SET removed_at = NULL WHERE id = ? AND maker = ? AND removed_at > ?", id, maker, at-RemovedFor))
}

// ErrStale is returned for entries whose numbers are taken by other ones:
// somebody else writes this journal.
var ErrStale = errors.New("the journal went on without this service")

// Append keeps entries of any rooms in one commit, all of them or none. Doing
// it again after an error whose outcome is not known is safe.
func (s *Store) Append(ctx context.Context, entries []Entry) error {
	err := s.append(ctx, entries)
	if isDuplicate(err) {
		return s.kept(ctx, entries)
	}
	return err
}

func (s *Store) append(ctx context.Context, entries []Entry) error {
	if s.Shares() {
		return s.appendShared(ctx, entries)
	}
	all := statementsOf(entries)
	if len(all) == 1 {
		_, err := s.db.ExecContext(ctx, all[0].text, all[0].values...)
		return err
	}
	return s.within(ctx, func(tx *sqlx.Tx) error { return do(ctx, tx, all) })
}

// do does statements one after another.
func do(ctx context.Context, tx *sqlx.Tx, all []statement) error {
	for _, one := range all {
		if _, err := tx.ExecContext(ctx, one.text, one.values...); err != nil {
			return err
		}
	}
	return nil
}

// statement is one of SQL, with its values.
type statement struct {
	text   string
	values []any
}

// statementsOf are those that keep entries, and what comes with them.
func statementsOf(entries []Entry) []statement {
	all := []statement{insertEntries(entries)}
	for _, e := range entries {
		if e.Ended {
			all = append(all, statement{"UPDATE rooms SET ended = TRUE WHERE id = ?", []any{e.Room}})
		}
		if e.Edition != 0 {
			all = append(all, statement{"UPDATE rooms SET edition = ? WHERE id = ?", []any{e.Edition, e.Room}})
		}
		if e.Bookmark != nil {
			all = append(all, e.Bookmark.insert()...)
		}
		all = append(all, usesOf(e.Room, e.Uses)...)
		for _, change := range e.Keys {
			all = append(all, changeKeys(e, change)...)
		}
	}
	return all
}

func changeKeys(e Entry, c KeyChange) []statement {
	if c.To != 0 {
		return []statement{{"UPDATE seat_keys SET seat = ?, tenure = ? WHERE room = ? AND seat = ?", []any{c.To, c.Tenure, e.Room, c.Seat}}}
	}
	all := []statement{{"DELETE FROM seat_keys WHERE room = ? AND seat = ?", []any{e.Room, c.Seat}}}
	if c.Add != nil {
		all = append(all, statement{"INSERT INTO seat_keys (hash, room, seat, tenure, name, created_at) VALUES (?, ?, ?, ?, ?, ?)",
			[]any{c.Add, e.Room, c.Seat, c.Tenure, c.Name, e.At}})
	}
	return all
}

func insertEntries(entries []Entry) statement {
	var b strings.Builder
	b.WriteString("INSERT INTO journal (room, entry, at, actor, tenure, request, asked, refusal, edits, deeds, told) VALUES ")
	values := make([]any, 0, 11*len(entries))
	for i, e := range entries {
		if i > 0 {
			b.WriteByte(',')
		}
		b.WriteString("(?,?,?,?,?,NULLIF(?,''),?,?,?,?,?)")
		values = append(values, e.Room, e.Number, e.At, e.Actor, e.Tenure, e.Request, e.Asked, e.Refusal, e.Edits, e.Deeds, e.Told)
	}
	return statement{b.String(), values}
}

// kept reports whether the entries stand in the journal as they are.
func (s *Store) kept(ctx context.Context, entries []Entry) error {
	for _, e := range entries {
		var n int
		err := s.db.GetContext(ctx, &n, `
			SELECT COUNT(*) FROM journal WHERE room = ? AND entry = ? AND at = ? AND COALESCE(request, '') = ? AND edits = ?`,
			e.Room, e.Number, e.At, e.Request, e.Edits)
		if err != nil {
			return err
		}
		if n == 0 {
			return fmt.Errorf("room %s, entry %d: %w", e.Room, e.Number, ErrStale)
		}
	}
	return nil
}

// Entries reads a room's journal after an entry, at most limit entries.
func (s *Store) Entries(ctx context.Context, room string, after int64, limit int) ([]Entry, error) {
	var entries []Entry
	err := s.db.SelectContext(ctx, &entries, "SELECT "+entryColumns+" FROM journal WHERE room = ? AND entry > ? ORDER BY entry LIMIT ?", room, after, limit)
	return entries, err
}

// EntriesOfLines reads the entries whose deeds are the log's lines after a number, at most limit entries.
func (s *Store) EntriesOfLines(ctx context.Context, room string, after int64, limit int) ([]Entry, error) {
	var first int64 // the entry in which that line stands
	err := s.db.GetContext(ctx, &first, "SELECT COALESCE(MAX(entry), 0) FROM journal WHERE room = ? AND told <= ?", room, after)
	if err != nil {
		return nil, err
	}
	return s.Entries(ctx, room, first-1, limit)
}

// LastEntries reads the end of a room's journal, oldest first.
func (s *Store) LastEntries(ctx context.Context, room string, limit int) ([]Entry, error) {
	var entries []Entry
	err := s.db.SelectContext(ctx, &entries, `
		SELECT room, entry, at, actor, tenure, request, asked, refusal, edits, deeds, told
		FROM (SELECT `+entryColumns+` FROM journal WHERE room = ? ORDER BY entry DESC LIMIT ?) newest ORDER BY entry`, room, limit)
	return entries, err
}

// Entry reads one entry of a room's journal, or ErrNotFound.
func (s *Store) Entry(ctx context.Context, room string, number int64) (Entry, error) {
	var e Entry
	err := s.db.GetContext(ctx, &e, "SELECT "+entryColumns+" FROM journal WHERE room = ? AND entry = ?", room, number)
	return e, notFound(err)
}

// Asked is a request that was done: who asked, under what id, and the entry it made.
type Asked struct {
	Actor   table.Seat `db:"actor"`
	Tenure  uint64     `db:"tenure"`
	Request string     `db:"request"`
	Number  int64      `db:"entry"`
}

// AllAsked lists all requests with an id that a room ever did.
func (s *Store) AllAsked(ctx context.Context, room string) ([]Asked, error) {
	var all []Asked
	err := s.db.SelectContext(ctx, &all, "SELECT actor, tenure, request, entry FROM journal FORCE INDEX (once) WHERE room = ? AND request IS NOT NULL", room)
	return all, err
}

// Table rebuilds a room's table from its newest snapshot and the journal after
// it, and returns the number of the last entry and the log lines told by then.
func (s *Store) Table(ctx context.Context, room string) (t *table.Table, last, told int64, err error) {
	t, last, err = s.snapshot(ctx, room)
	if err != nil {
		return nil, 0, 0, err
	}
	for {
		entries, err := s.Entries(ctx, room, last, 1000)
		if err != nil {
			return nil, 0, 0, err
		}
		for _, e := range entries {
			if e.Number != last+1 {
				return nil, 0, 0, fmt.Errorf("room %s: the journal goes from entry %d to %d", room, last, e.Number)
			}
			var edits table.Edits
			if err := json.Unmarshal(e.Edits, &edits); err != nil {
				return nil, 0, 0, fmt.Errorf("room %s, entry %d: %w", room, e.Number, err)
			}
			t.Fold(edits)
			last = e.Number
		}
		if len(entries) < 1000 {
			told, err = s.told(ctx, room, last)
			return t, last, told, err
		}
	}
}

// told counts the log lines up to and with an entry.
func (s *Store) told(ctx context.Context, room string, entry int64) (int64, error) {
	e, err := s.Entry(ctx, room, entry)
	if err != nil {
		return 0, err
	}
	var deeds []table.Deed
	err = json.Unmarshal(e.Deeds, &deeds)
	return e.Told + int64(len(deeds)), err
}

func (s *Store) snapshot(ctx context.Context, room string) (*table.Table, int64, error) {
	var row struct {
		Entry int64  `db:"entry"`
		State []byte `db:"state"`
	}
	t := &table.Table{}
	err := s.db.GetContext(ctx, &row, "SELECT entry, state FROM snapshots WHERE room = ? ORDER BY entry DESC LIMIT 1", room)
	if notFound(err) == ErrNotFound {
		return t, 0, nil
	}
	if err != nil {
		return nil, 0, err
	}
	if err := json.Unmarshal(row.State, t); err != nil {
		return nil, 0, fmt.Errorf("room %s, snapshot %d: %w", room, row.Entry, err)
	}
	return t, row.Entry, nil
}

// Snapshot rebuilds a room's table from the records and keeps it, so that the
// next load reads less. It needs nothing of the live room.
func (s *Store) Snapshot(ctx context.Context, room string) error {
	t, last, _, err := s.Table(ctx, room)
	if err != nil {
		return err
	}
	state, err := json.Marshal(t)
	if err != nil {
		return err
	}
	if _, err = s.db.ExecContext(ctx, "INSERT IGNORE INTO snapshots (room, entry, state) VALUES (?, ?, ?)", room, last, state); err != nil {
		return err
	}
	return s.prune(ctx, room)
}

// keptSnapshots is how many snapshots of a room stay: the newest, and the one before it.
// The journal has all of it.
const keptSnapshots = 2

func (s *Store) prune(ctx context.Context, room string) error {
	var oldest int64
	err := s.db.GetContext(ctx, &oldest, "SELECT entry FROM snapshots WHERE room = ? ORDER BY entry DESC LIMIT 1 OFFSET ?", room, keptSnapshots-1)
	if notFound(err) == ErrNotFound {
		return nil
	}
	if err != nil {
		return err
	}
	_, err = s.db.ExecContext(ctx, "DELETE FROM snapshots WHERE room = ? AND entry < ?", room, oldest)
	return err
}

// Snapshots counts the snapshots of a room.
func (s *Store) Snapshots(ctx context.Context, room string) (n int, err error) {
	err = s.db.GetContext(ctx, &n, "SELECT COUNT(*) FROM snapshots WHERE room = ?", room)
	return n, err
}
