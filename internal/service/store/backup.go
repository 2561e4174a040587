package store

import (
	"archive/zip"
	"bufio"
	"context"
	"database/sql"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"
)

// A backup is one zip: backup.json says what it is, and each table is a file of lines, JSON arrays of texts in
// the order of its columns. What is large stands beside it as files of their own, as it is.

// backedUp are the tables of a backup, with the column that is large, and those that name it.
var backedUp = []struct {
	name, large string
	keys        []string
}{
	{name: "makers"}, {name: "maker_keys"}, {name: "kits"}, {name: "editions"}, {name: "edition_files"}, {name: "edition_pictures"},
	{name: "file_parts", large: "bytes", keys: []string{"hash", "part"}}, {name: "maker_files"},
	{name: "pictures", large: "bytes", keys: []string{"address"}}, {name: "smaller"},
	{name: "rooms"}, {name: "journal"}, {name: "snapshots"}, {name: "seat_keys"}, {name: "bookmarks"}, {name: "used_editions"}, {name: "used_pictures"}, {name: "secrets"},
}

// backupFormat is the version of backups' format. 1 was never released.
const backupFormat = 2

// BackupOf is what backup.json says.
type BackupOf struct {
	Format  int    `json:"damselfly_backup"`
	Version string `json:"version"` // of the program
	Schema  int64  `json:"schema"`
	At      int64  `json:"at"` // milliseconds since 1970
}

// tableOf is the first line of a table's file.
type tableOf struct {
	Columns []string `json:"columns"`
	Base64  []string `json:"base64,omitempty"` // columns of bytes
}

// Backup writes all records as they are at one moment, while they are in use.
func (s *Store) Backup(ctx context.Context, out io.Writer, version string) error {
	conn, err := s.db.Connx(ctx)
	if err != nil {
		return err
	}
	defer conn.Close()
	if _, err := conn.ExecContext(ctx, "SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ"); err != nil {
		return err
	}
	if _, err := conn.ExecContext(ctx, "START TRANSACTION WITH CONSISTENT SNAPSHOT"); err != nil {
		return err
	}
	defer conn.ExecContext(context.WithoutCancel(ctx), "ROLLBACK") //nolint:errcheck // it only read
	schema, err := s.Schema(ctx)
	if err != nil {
		return err
	}
	to := zip.NewWriter(out)
	about, err := to.Create("backup.json")
	if err != nil {
		return err
	}
	if err := json.NewEncoder(about).Encode(BackupOf{backupFormat, version, schema, Now()}); err != nil {
		return err
	}
	for _, t := range backedUp {
		if err := writeTable(ctx, conn, to, t.name, t.large, t.keys); err != nil {
			return fmt.Errorf("the table %s: %w", t.name, err)
		}
	}
	return to.Close()
}

func writeTable(ctx context.Context, conn *sqlx.Conn, to *zip.Writer, name, large string, keys []string) error {
	small, err := columnsOf(ctx, conn, name)
	if err != nil {
		return err
	}
	small = slices.DeleteFunc(small, func(c string) bool { return c == large })
	file, err := to.Create("tables/" + name + ".jsonl")
	if err != nil {
		return err
	}
	rows, err := conn.QueryxContext(ctx, "SELECT `"+strings.Join(small, "`, `")+"` FROM "+name)
	if err != nil {
		return err
	}
	defer rows.Close()
	types, err := rows.ColumnTypes()
	if err != nil {
		return err
	}
	head := tableOf{Columns: small}
	binary := make([]bool, len(types))
	for i, t := range types {
		if binary[i] = slices.Contains([]string{"BINARY", "VARBINARY", "BLOB", "MEDIUMBLOB", "LONGBLOB"}, t.DatabaseTypeName()); binary[i] {
			head.Base64 = append(head.Base64, small[i])
		}
	}
	lines := json.NewEncoder(file)
	lines.SetEscapeHTML(false)
	if err := lines.Encode(head); err != nil {
		return err
	}
	for rows.Next() {
		raw := make([]sql.RawBytes, len(small))
		into := make([]any, len(small))
		for i := range raw {
			into[i] = &raw[i]
		}
		if err := rows.Scan(into...); err != nil {
			return err
		}
		line := make([]*string, len(small))
		for i, value := range raw {
			if value == nil {
				continue
			}
			text := string(value)
			if binary[i] {
				text = base64.StdEncoding.EncodeToString(value)
			}
			line[i] = &text
		}
		if err := lines.Encode(line); err != nil {
			return err
		}
	}
	if err := rows.Err(); err != nil || large == "" {
		return err
	}
	_ = rows.Close()
	return writeLarge(ctx, conn, to, name, large, keys)
}

// writeLarge writes what is large of a table's rows, each as a file of its own.
func writeLarge(ctx context.Context, conn *sqlx.Conn, to *zip.Writer, name, large string, keys []string) error {
	rows, err := conn.QueryxContext(ctx, "SELECT `"+strings.Join(keys, "`, `")+"`, "+large+" FROM "+name)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		raw := make([]sql.RawBytes, len(keys)+1)
		into := make([]any, len(raw))
		for i := range raw {
			into[i] = &raw[i]
		}
		if err := rows.Scan(into...); err != nil {
			return err
		}
		path := []string{name}
		for _, key := range raw[:len(keys)] {
			path = append(path, string(key))
		}
		file, err := to.CreateHeader(&zip.FileHeader{Name: strings.Join(path, "/"), Method: zip.Store}) // pictures are packed already
		if err != nil {
			return err
		}
		if _, err := file.Write(raw[len(keys)]); err != nil {
			return err
		}
	}
	return rows.Err()
}

func columnsOf(ctx context.Context, conn sqlx.QueryerContext, name string) (columns []string, err error) {
	err = sqlx.SelectContext(ctx, conn, &columns, "SELECT column_name FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = ? ORDER BY ordinal_position", name)
	return columns, err
}

// RestoreError says why a backup cannot be restored, in words for the keeper.
type RestoreError struct{ Text string }

func (e *RestoreError) Error() string { return e.Text }

func notRestored(format string, args ...any) error {
	return &RestoreError{fmt.Sprintf(format, args...)}
}

// ReadBackup tells what a backup is, and refuses one that this service cannot restore.
func (s *Store) ReadBackup(ctx context.Context, from *zip.Reader) (BackupOf, error) {
	var about BackupOf
	file, err := from.Open("backup.json")
	if err != nil {
		return about, notRestored("this is no backup of Damselfly: it holds no backup.json")
	}
	defer file.Close()
	if err := json.NewDecoder(io.LimitReader(file, 1<<16)).Decode(&about); err != nil || about.Format == 0 {
		return about, notRestored("this is no backup of Damselfly: its backup.json cannot be read")
	}
	schema, err := s.Schema(ctx)
	switch {
	case err != nil:
		return about, err
	case about.Format < backupFormat:
		return about, notRestored("the backup was made by an unreleased Damselfly; that one restores it")
	case about.Format > backupFormat:
		return about, notRestored("the backup is of format %d, and this service reads format %d; a newer Damselfly restores it", about.Format, backupFormat)
	case about.Schema != schema:
		return about, notRestored("the backup was made with schema %d (Damselfly %s), and this service has schema %d; restore it with that Damselfly, and upgrade then", about.Schema, about.Version, schema)
	}
	return about, nil
}

// Restore puts all records of a backup in the place of those that are here: beside them first, then in one step,
// so that what fails leaves everything as it was.
func (s *Store) Restore(ctx context.Context, from *zip.Reader) error {
	if _, err := s.ReadBackup(ctx, from); err != nil {
		return err
	}
	if err := s.dropAside(ctx); err != nil { // of a try that was broken off
		return err
	}
	files := map[string]*zip.File{}
	for _, f := range from.File {
		files[f.Name] = f
	}
	var renames []string
	for _, t := range backedUp {
		if _, err := s.db.ExecContext(ctx, "CREATE TABLE restored_"+t.name+" LIKE "+t.name); err != nil {
			return err
		}
		if err := s.readTable(ctx, files, t.name, t.large, t.keys); err != nil {
			return errors.Join(fmt.Errorf("the table %s: %w", t.name, err), s.dropAside(context.WithoutCancel(ctx)))
		}
		renames = append(renames, t.name+" TO former_"+t.name, "restored_"+t.name+" TO "+t.name)
	}
	if _, err := s.db.ExecContext(ctx, "RENAME TABLE "+strings.Join(renames, ", ")); err != nil {
		return errors.Join(err, s.dropAside(context.WithoutCancel(ctx)))
	}
	return errors.Join(s.readNames(ctx), s.dropAside(context.WithoutCancel(ctx)))
}

// dropAside drops the tables of a restoring: those that were not taken, and those that were in their place.
func (s *Store) dropAside(ctx context.Context) error {
	for _, t := range backedUp {
		if _, err := s.db.ExecContext(ctx, "DROP TABLE IF EXISTS restored_"+t.name+", former_"+t.name); err != nil {
			return err
		}
	}
	return nil
}

// Bounds of what is put into a table at once.
const (
	restoredRows  = 500
	restoredBytes = 4 << 20
)

func (s *Store) readTable(ctx context.Context, files map[string]*zip.File, name, large string, keys []string) error {
	file := files["tables/"+name+".jsonl"]
	if file == nil {
		return notRestored("the backup lacks it")
	}
	in, err := file.Open()
	if err != nil {
		return err
	}
	defer in.Close()
	lines := json.NewDecoder(bufio.NewReaderSize(in, 1<<16))
	var head tableOf
	if err := lines.Decode(&head); err != nil {
		return notRestored("its file cannot be read (%s)", err)
	}
	there, err := columnsOf(ctx, s.db, name)
	if err != nil {
		return err
	}
	for _, c := range head.Columns {
		if !slices.Contains(there, c) {
			return notRestored("it has a column %q that is not known", c)
		}
	}
	columns := head.Columns
	if large != "" {
		columns = append(slices.Clone(columns), large)
	}
	mark := "(?" + strings.Repeat(", ?", len(columns)-1) + ")"
	insert := "INSERT INTO restored_" + name + " (`" + strings.Join(columns, "`, `") + "`) VALUES "
	var marks []string
	var values []any
	size := 0
	put := func() error {
		if len(marks) == 0 {
			return nil
		}
		_, err := s.db.ExecContext(ctx, insert+strings.Join(marks, ", "), values...)
		marks, values, size = nil, nil, 0
		return err
	}
	for {
		var line []*string
		err := lines.Decode(&line)
		if errors.Is(err, io.EOF) {
			return put()
		}
		if err != nil || len(line) != len(head.Columns) {
			return notRestored("its file is damaged")
		}
		path := []string{name}
		for i, value := range line {
			switch {
			case value == nil:
				values = append(values, nil)
				continue
			case slices.Contains(head.Base64, head.Columns[i]):
				bytes, err := base64.StdEncoding.DecodeString(*value)
				if err != nil {
					return notRestored("its file is damaged")
				}
				values = append(values, bytes)
			default:
				values = append(values, *value)
			}
			size += len(*value)
		}
		if large != "" {
			for _, key := range keys {
				if value := line[slices.Index(head.Columns, key)]; value != nil {
					path = append(path, *value)
				}
			}
			bytes, err := readEntry(files[strings.Join(path, "/")])
			if err != nil {
				return err
			}
			values, size = append(values, bytes), size+len(bytes)
		}
		if marks = append(marks, mark); len(marks) >= restoredRows || size >= restoredBytes {
			if err := put(); err != nil {
				return err
			}
		}
	}
}

func readEntry(file *zip.File) ([]byte, error) {
	if file == nil {
		return nil, notRestored("a file that it names is not in the backup")
	}
	in, err := file.Open()
	if err != nil {
		return nil, err
	}
	defer in.Close()
	return io.ReadAll(in)
}

// Schema is the number of the database's schema.
func (s *Store) Schema(ctx context.Context) (schema int64, err error) {
	err = s.db.GetContext(ctx, &schema, "SELECT MAX(version_id) FROM goose_db_version WHERE is_applied = 1")
	return schema, err
}
