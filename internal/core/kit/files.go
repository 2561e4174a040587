package kit

import (
	"bytes"
	"errors"
	"io/fs"
)

// Files is a kit's folder in memory: the bytes of its files by their names.
type Files map[string][]byte

// Open opens a file for reading. There are no folders to open.
func (f Files) Open(name string) (fs.File, error) {
	text, there := f[name]
	if !fs.ValidPath(name) || !there {
		return nil, &fs.PathError{Op: "open", Path: name, Err: fs.ErrNotExist}
	}
	return memoryFile{bytes.NewReader(text)}, nil
}

// memoryFile is an opened file. Nothing is known of it but its bytes.
type memoryFile struct{ *bytes.Reader }

func (memoryFile) Stat() (fs.FileInfo, error) { return nil, errors.ErrUnsupported }
func (memoryFile) Close() error               { return nil }
