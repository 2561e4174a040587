package kit

import (
	"archive/zip"
	"bytes"
	"cmp"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"path"
	"slices"
	"strings"
	"unicode/utf8"
)

// Limits of a zip. Its sizes are read off its directory and again while
// unpacking, which may not exceed them either.
const (
	MaxZip      = 256 << 20 // bytes of the zip
	MaxEntries  = 2000
	MaxName     = 400       // bytes of a file's name with its folders
	MaxUnpacked = 768 << 20 // bytes of all files
)

// OpenZip opens a kit that is one zip. The kit.yaml may stand at its top or in
// its only folder.
func OpenZip(text []byte) (fs.FS, error) {
	const file = "the zip"
	r, err := zip.NewReader(bytes.NewReader(text), int64(len(text)))
	if err != nil && r == nil {
		return nil, &Mistake{File: file, Text: "cannot be opened: " + err.Error() + "; zip the kit's folder again"}
	}
	if len(r.File) > MaxEntries {
		return nil, &Mistake{File: file, Text: fmt.Sprintf("has %d entries; it may have %d", len(r.File), MaxEntries)}
	}
	var unpacked uint64
	top, other, named := "", "", ""
	entries := map[string]bool{}
	for _, f := range r.File {
		f.Name = strings.ReplaceAll(f.Name, `\`, "/") // some programs part folders so
		name := strings.TrimSuffix(f.Name, "/")
		if wrong := WrongName(name); wrong != "" {
			return nil, &Mistake{File: file, Text: fmt.Sprintf("the entry %q %s", f.Name, wrong)}
		}
		if entries[name] {
			return nil, &Mistake{File: file, Text: fmt.Sprintf("has the entry %q twice; zip the kit's folder again", f.Name)}
		}
		entries[name] = true
		if f.UncompressedSize64 > MaxFile {
			return nil, &Mistake{File: file, Text: fmt.Sprintf("the entry %q unpacks to more than %d MiB, which is the most a file may have", f.Name, MaxFile>>20)}
		}
		if unpacked += f.UncompressedSize64; unpacked > MaxUnpacked || f.UncompressedSize64 > MaxUnpacked {
			return nil, &Mistake{File: file, Text: fmt.Sprintf("unpacks to more than %d MiB, which is the most it may", MaxUnpacked>>20)}
		}
		named = cmp.Or(named, likeManifest(path.Base(name)))
		if path.Base(name) != manifestFile || strings.Count(name, "/") > 1 || Hidden(name) || strings.HasPrefix(name, "__MACOSX/") {
			continue
		}
		switch {
		case top == "" || strings.Count(name, "/") < strings.Count(top, "/"):
			top, other = name, ""
		case strings.Count(name, "/") == strings.Count(top, "/"):
			other = name
		}
	}
	if other != "" {
		return nil, &Mistake{File: file, Text: fmt.Sprintf("holds two kits, %s and %s; zip one folder alone", path.Dir(top), path.Dir(other))}
	}
	if top == "" {
		return nil, &Mistake{File: file, Text: "holds no kit.yaml at its top or in its only folder" + otherwiseNamed(named)}
	}
	return fs.Sub(r, path.Dir(top))
}

// otherwiseNamed is what is to be done where a kit's file is nearly called kit.yaml.
func otherwiseNamed(file string) string {
	if file == "" {
		return ""
	}
	return "; rename " + file + " to " + manifestFile
}

// likeManifest is a file's name if it was most likely meant for kit.yaml; "" for others.
func likeManifest(file string) string {
	if name := strings.ToLower(file); file != manifestFile && slices.Contains([]string{"kit.yaml", "kit.yml", "kit.yaml.txt", "kit.txt"}, name) {
		return file
	}
	return ""
}

// LikeManifest is a file of a folder that was most likely meant for kit.yaml; "" if there is none.
func LikeManifest(folder fs.FS) string {
	entries, _ := fs.ReadDir(folder, ".")
	for _, e := range entries {
		if file := likeManifest(e.Name()); file != "" {
			return file
		}
	}
	return ""
}

// Zip writes a kit's folder as one zip: its files in the order of their names,
// without times, so that the same folder gives the same bytes. Hidden files
// are left out.
func Zip(folder fs.FS, out io.Writer) error { return ZipWith(folder, nil, out) }

// ZipWith writes a kit's folder as one zip, with other files in place of its own or
// beside them.
func ZipWith(folder fs.FS, others Files, out io.Writer) error {
	names := slices.Collect(maps.Keys(others))
	err := Walk(folder, func(name string) error {
		if _, replaced := others[name]; !replaced {
			names = append(names, name)
		}
		return nil
	})
	if err != nil {
		return err
	}
	return ZipNamed(names, func(name string) ([]byte, error) {
		if text, replaced := others[name]; replaced {
			return text, nil
		}
		return readFile(folder, name, MaxFile)
	}, out)
}

// WrongName says what is wrong with the name of a file in a kit's folder; empty if nothing is.
func WrongName(name string) string {
	switch {
	case len(name) > MaxName:
		return fmt.Sprintf("has a name of more than %d bytes; shorten it or its folders", MaxName)
	case !utf8.ValidString(name):
		return "has a name that is not UTF-8; zip the kit's folder again with another program"
	case !fs.ValidPath(name):
		return "leads out of the kit's folder"
	case strings.ContainsAny(name, "\\:"):
		return "has a name that not every system can have: leave : and \\ out of it"
	}
	return ""
}

// Hidden reports whether a file or a folder that it lies in begins with a dot, as the
// notes of systems and editors do. They are no part of a kit.
func Hidden(name string) bool {
	return slices.ContainsFunc(strings.Split(name, "/"), func(part string) bool { return strings.HasPrefix(part, ".") && part != "." && part != ".." })
}

// Walk calls each for all files of a kit's folder but hidden ones.
func Walk(folder fs.FS, each func(name string) error) error {
	return fs.WalkDir(folder, ".", func(name string, entry fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if Hidden(name) {
			if entry.IsDir() {
				return fs.SkipDir
			}
			return nil
		}
		if !entry.Type().IsRegular() {
			return nil
		}
		if wrong := WrongName(name); wrong != "" {
			return &Mistake{File: name, Text: wrong}
		}
		return each(name)
	})
}

// ReadFile reads a file of a kit's folder, up to the size that one may have.
func ReadFile(folder fs.FS, name string) ([]byte, error) { return readFile(folder, name, MaxFile) }

// ZipNamed writes files as one zip, in the order of their names and without times, so that
// the same files give the same bytes. One of them at a time is held.
func ZipNamed(names []string, file func(name string) ([]byte, error), out io.Writer) error {
	slices.Sort(names)
	w := zip.NewWriter(out)
	for _, name := range names {
		text, err := file(name)
		if err != nil {
			return err
		}
		file, err := w.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate})
		if err != nil {
			return err
		}
		if _, err := file.Write(text); err != nil {
			return err
		}
	}
	return w.Close()
}
