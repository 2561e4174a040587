package kit

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"strings"

	"golang.org/x/text/unicode/norm"

	"damselfly.example/damselfly/internal/core/table"
)

// spelt is a kit's folder in which letters with marks are found however a system writes them: as one, or as a
// letter and a mark.
type spelt struct{ fs.FS }

func (s spelt) Open(name string) (fs.File, error) {
	file, err := s.FS.Open(name)
	if !errors.Is(err, fs.ErrNotExist) {
		return file, err
	}
	for _, other := range []string{norm.NFC.String(name), norm.NFD.String(name)} {
		if other == name {
			continue
		}
		if found, failed := s.FS.Open(other); failed == nil {
			return found, nil
		}
	}
	return file, err
}

// Hash is the hash of a file, where the folder knows it.
func (s spelt) Hash(name string) (string, bool) {
	hashed, is := s.FS.(Hashed)
	if !is {
		return "", false
	}
	for _, other := range []string{name, norm.NFC.String(name), norm.NFD.String(name)} {
		if hash, known := hashed.Hash(other); known {
			return hash, true
		}
	}
	return "", false
}

// likeFile says which file of a folder may be meant by a name that is not there.
func likeFile(folder fs.FS, name string) string {
	if s, is := folder.(spelt); is {
		folder = s.FS
	}
	var names []string
	if files, is := folder.(Files); is {
		for other := range files {
			names = append(names, other)
		}
	} else if entries, err := fs.ReadDir(folder, path.Dir(name)); err == nil && len(entries) < 3000 {
		for _, e := range entries {
			names = append(names, path.Join(path.Dir(name), e.Name()))
		}
	}
	lower := map[string]string{}
	var all []string
	for _, other := range names {
		if strings.EqualFold(other, name) {
			return fmt.Sprintf("; there is %s, and capitals count", other)
		}
		if path.Ext(other) == path.Ext(name) {
			lower[strings.ToLower(other)] = other
			all = append(all, strings.ToLower(other))
		}
	}
	near := table.DidYouMean(name, all)
	for small, other := range lower {
		near = strings.ReplaceAll(near, fmt.Sprintf("%q", small), fmt.Sprintf("%q", other))
	}
	if table.LettersApart(strings.ToLower(name), strings.Trim(strings.TrimSuffix(strings.TrimPrefix(near, "; did you mean "), "?"), `"`)) > 3 {
		return ""
	}
	return near
}

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
