package kit

import (
	"bytes"
	"io/fs"
	"path"
	"time"
)

// Files is a kit's folder in memory: the bytes of its files by their names.
type Files map[string][]byte

// Open opens a file for reading. There are no folders to open.
func (f Files) Open(name string) (fs.File, error) {
	text, there := f[name]
	if !fs.ValidPath(name) || !there {
		return nil, &fs.PathError{Op: "open", Path: name, Err: fs.ErrNotExist}
	}
	return &memoryFile{bytes.NewReader(text), path.Base(name)}, nil
}

// memoryFile is an opened file, and what is known of it.
type memoryFile struct {
	*bytes.Reader
	name string
}

func (m *memoryFile) Stat() (fs.FileInfo, error) { return m, nil }
func (m *memoryFile) Close() error               { return nil }
func (m *memoryFile) Name() string               { return m.name }
func (m *memoryFile) Mode() fs.FileMode          { return 0o444 }
func (m *memoryFile) ModTime() time.Time         { return time.Time{} }
func (m *memoryFile) IsDir() bool                { return false }
func (m *memoryFile) Sys() any                   { return nil }
