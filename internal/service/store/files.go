package store

import (
	"bytes"
	"context"
	"io/fs"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"

	"damselfly.example/damselfly/internal/core/kit"
)

// File is a file of an edition.
type File struct {
	Name string `db:"name"`
	Hash string `db:"hash"` // SHA-256, hexadecimal
	Size int64  `db:"size"` // bytes
}

// AddFile keeps a file of a maker's and returns its hash.
func (s *Store) AddFile(ctx context.Context, maker string, text []byte, at int64) (hash string, err error) {
	hash = kit.HashOf(text)
	return hash, s.within(ctx, func(tx *sqlx.Tx) error {
		if err := addMakerFile(ctx, tx, maker, File{Hash: hash, Size: int64(len(text))}, at); err != nil {
			return err
		}
		var there bool // asked after it is noted: what nobody has noted may be erased
		if err := tx.GetContext(ctx, &there, "SELECT EXISTS (SELECT 1 FROM file_parts WHERE hash = ? AND part = 0 LOCK IN SHARE MODE)", hash); err != nil {
			return err
		}
		if !there {
			part := 0
			for chunk := range slices.Chunk(text, partSize) {
				if _, err := tx.ExecContext(ctx, "INSERT IGNORE INTO file_parts (hash, part, bytes) VALUES (?, ?, ?)", hash, part, chunk); err != nil {
					return err
				}
				part++
			}
			if len(text) == 0 {
				if _, err := tx.ExecContext(ctx, "INSERT IGNORE INTO file_parts (hash, part, bytes) VALUES (?, 0, '')", hash); err != nil {
					return err
				}
			}
		}
		return nil
	})
}

func addMakerFile(ctx context.Context, tx *sqlx.Tx, maker string, f File, at int64) error {
	_, err := tx.ExecContext(ctx, "INSERT IGNORE INTO maker_files (maker, hash, size, created_at) VALUES (?, ?, ?, ?)", maker, f.Hash, f.Size, at)
	return err
}

// AddMakerFiles notes that a maker has some files that are kept here, such as those of a kit
// that they copy.
func (s *Store) AddMakerFiles(ctx context.Context, maker string, files []File, at int64) error {
	return s.within(ctx, func(tx *sqlx.Tx) error {
		for _, f := range files {
			if err := addMakerFile(ctx, tx, maker, f, at); err != nil {
				return err
			}
		}
		return nil
	})
}

// MakerFiles tells which of some files a maker has here already, with their sizes. What
// others have is nobody else's to know.
func (s *Store) MakerFiles(ctx context.Context, maker string, hashes []string) (map[string]int64, error) {
	known := map[string]int64{}
	for some := range slices.Chunk(hashes, 500) {
		query, values, err := sqlx.In("SELECT hash, size FROM maker_files WHERE maker = ? AND hash IN (?)", maker, some)
		if err != nil {
			return nil, err
		}
		var rows []File
		if err := s.db.SelectContext(ctx, &rows, query, values...); err != nil {
			return nil, err
		}
		for _, r := range rows {
			known[r.Hash] = r.Size
		}
	}
	return known, nil
}

// FilesOf lists the files of an edition by name, or says ErrNotFound.
func (s *Store) FilesOf(ctx context.Context, kit string, number int) ([]File, error) {
	var files []File
	err := s.db.SelectContext(ctx, &files, "SELECT name, hash, size FROM edition_files WHERE kit = ? AND number = ? ORDER BY name", kit, number)
	if err == nil && len(files) == 0 {
		err = ErrNotFound
	}
	return files, err
}

// FileBytes reads a whole file, or says ErrNotFound.
func (s *Store) FileBytes(ctx context.Context, hash string) ([]byte, error) {
	var parts [][]byte
	if err := s.db.SelectContext(ctx, &parts, "SELECT bytes FROM file_parts WHERE hash = ? ORDER BY part", hash); err != nil {
		return nil, err
	}
	if len(parts) == 0 {
		return nil, ErrNotFound
	}
	return bytes.Join(parts, nil), nil
}

// Folder is the files of an edition as a folder. Each is read when it is opened.
type Folder struct {
	store *Store
	ctx   context.Context //nolint:containedctx // a folder is read within one request
	files map[string]File
}

// Folder makes a folder of files that are kept here.
func (s *Store) Folder(ctx context.Context, files []File) *Folder {
	f := &Folder{store: s, ctx: ctx, files: map[string]File{}}
	for _, file := range files {
		f.files[file.Name] = file
	}
	return f
}

// Hash is the hash of a file, known without reading it.
func (f *Folder) Hash(name string) (string, bool) {
	file, is := f.files[name]
	return file.Hash, is
}

// Names lists all files.
func (f *Folder) Names() []string {
	names := make([]string, 0, len(f.files))
	for name := range f.files {
		names = append(names, name)
	}
	slices.Sort(names)
	return names
}

// ReadFile reads a file.
func (f *Folder) ReadFile(name string) ([]byte, error) {
	file, is := f.files[name]
	if !is {
		return nil, &fs.PathError{Op: "open", Path: name, Err: fs.ErrNotExist}
	}
	return f.store.FileBytes(f.ctx, file.Hash)
}

// Open reads a file.
func (f *Folder) Open(name string) (fs.File, error) {
	text, err := f.ReadFile(name)
	if err != nil {
		return nil, err
	}
	return kit.Files{name: text}.Open(name)
}

// sourceOf is a hash over the names and hashes of files, which is the same for the very
// same files.
func sourceOf(files []File) []byte {
	sorted := slices.SortedFunc(slices.Values(files), func(a, b File) int { return strings.Compare(a.Name, b.Name) })
	var all strings.Builder
	for _, f := range sorted {
		all.WriteString(f.Name + "\x00" + f.Hash + "\n")
	}
	return Hash(all.String())
}

// AddFolder keeps all files of a folder and lists them. Hidden ones are left out.
func (s *Store) AddFolder(ctx context.Context, maker string, folder fs.FS, at int64) (files []File, err error) {
	err = kit.Walk(folder, func(name string) error {
		text, err := kit.ReadFile(folder, name)
		if err != nil {
			return err
		}
		hash, err := s.AddFile(ctx, maker, text, at)
		files = append(files, File{Name: name, Hash: hash, Size: int64(len(text))})
		return err
	})
	return files, err
}

func addEditionFiles(ctx context.Context, tx *sqlx.Tx, kit string, number int, files []File) error {
	for some := range slices.Chunk(files, 500) {
		values := make([]any, 0, 5*len(some))
		for _, f := range some {
			values = append(values, kit, number, f.Name, f.Hash, f.Size)
		}
		rows := strings.Repeat(", (?, ?, ?, ?, ?)", len(some))[2:]
		if _, err := tx.ExecContext(ctx, "INSERT INTO edition_files (kit, number, name, hash, size) VALUES "+rows, values...); err != nil {
			return err
		}
	}
	return nil
}
