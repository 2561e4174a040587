package cli

import (
	"os"
	"path/filepath"
	"slices"
	"strings"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/kit/start"
	"damselfly.example/damselfly/internal/core/sheet"
)

// lotsOf are the files from which a kit is begun. Of its own folder all that lies there is taken.
func lotsOf(kitFolder string, args []string) ([]start.Lot, error) {
	var lots []start.Lot
	named := start.Lot{Said: "what was named"}
	for _, arg := range args {
		switch {
		case arg == kitFolder || sameFile(arg, kitFolder):
			within, err := lotsWithin(kitFolder)
			if err != nil {
				return nil, err
			}
			lots = append(lots, within...)
		case isFolder(arg):
			lot, err := lotOf(arg, arg)
			if err != nil {
				return nil, err
			}
			if !slices.ContainsFunc(lot.Files, taken) {
				return nil, refused("%s holds no pictures (%s) and no table files", arg, sheet.Formats)
			}
			lots = append(lots, lot)
		case kit.SaveAs(arg) != "":
			return nil, refused("%s", strings.TrimSuffix(kit.SaveAs(arg), "."))
		case !start.Takes(arg, false):
			return nil, refused("%s is no picture (%s) and no table file (CSV or spreadsheet)", arg, sheet.Formats)
		default:
			named.Files = append(named.Files, fileAt(arg, arg))
			if list := sheet.ListOf(arg); sheet.IsPicture(arg) && exists(list) { // how a packed sheet is cut, and what is on it
				named.Files = append(named.Files, fileAt(list, list))
			}
		}
	}
	return append(lots, named), nil
}

func exists(name string) bool {
	_, err := os.Stat(name)
	return err == nil
}

// taken reports whether a kit is begun from a file of a folder.
func taken(f start.File) bool { return f.Bytes != nil && start.Takes(f.Name, true) }

// lotsWithin is what lies in the kit's folder: pictures and table files, and folders of pictures, which stay where they are.
func lotsWithin(kitFolder string) ([]start.Lot, error) {
	if !isFolder(kitFolder) {
		return nil, nil
	}
	all, err := lotOf(kitFolder, kitFolder)
	if err != nil {
		return nil, err
	}
	lots := []start.Lot{{Said: "the kit's folder", Among: true}}
	for _, f := range all.Files {
		if f.Bytes == nil && !strings.HasPrefix(filepath.Base(f.Name), ".") {
			within, err := lotOf(f.Name, filepath.Base(f.Name))
			if err == nil && slices.ContainsFunc(within.Files, isPicture) {
				within.Stays = true
				lots = append(lots, within)
				continue
			}
		}
		lots[0].Files = append(lots[0].Files, f)
	}
	return lots, nil
}

func isPicture(f start.File) bool { return f.Bytes != nil && sheet.IsPicture(f.Name) }

// lotOf is what lies in a folder, by names that begin with prefix.
func lotOf(folder, prefix string) (start.Lot, error) {
	entries, err := os.ReadDir(folder)
	if err != nil {
		return start.Lot{}, refused("the folder cannot be read: %w", err)
	}
	lot := start.Lot{Folder: nameOf(folder), Said: folder, Among: true}
	for _, e := range entries {
		f := fileAt(filepath.ToSlash(filepath.Join(prefix, e.Name())), filepath.Join(folder, e.Name()))
		if e.IsDir() {
			f.Bytes = nil
		}
		lot.Files = append(lot.Files, f)
	}
	return lot, nil
}

func fileAt(name, at string) start.File {
	return start.File{Name: filepath.ToSlash(name), Bytes: func() ([]byte, error) {
		text, err := os.ReadFile(at)
		if err != nil {
			return nil, refused("%w", err)
		}
		return text, nil
	}}
}

// nameOf is what a folder is called, also where it is given as ".".
func nameOf(folder string) string {
	whole, _ := filepath.Abs(folder)
	return filepath.Base(whole)
}

// toPackOf is what is to be packed of loose pictures: from where they lie now, or from the kit's folder.
func toPackOf(l start.Loose, kitFolder string, from map[string]string) toPack {
	w := toPack{to: filepath.Join(kitFolder, l.Sheet), packing: sheet.Packing{Folder: l.Folder}}
	for _, name := range l.Files {
		file := filepath.Join(kitFolder, name)
		if outside, is := from[name]; is {
			file = outside
		}
		w.files = append(w.files, file)
	}
	return w
}

// writeKit writes the files of a kit that was begun, but for those that lie there already.
func writeKit(folder string, from map[string]string) error {
	at := func(name string) string { return filepath.Join(folder, filepath.FromSlash(name)) }
	there := map[string]bool{}
	for name, from := range from {
		if _, err := os.Stat(at(name)); err != nil {
			continue
		}
		if there[name] = sameFile(from, at(name)); !there[name] {
			return refused("%s is there already, and is not %s; move one of them away", at(name), from)
		}
	}
	for name, from := range from {
		if there[name] {
			continue
		}
		to := at(name)
		text, err := os.ReadFile(from)
		if err != nil {
			return refused("%w", err)
		}
		if err := os.MkdirAll(filepath.Dir(to), 0o755); err != nil {
			return refused("%w", err)
		}
		if err := os.WriteFile(to, text, 0o644); err != nil {
			return refused("%w", err)
		}
	}
	return os.MkdirAll(folder, 0o755)
}

func sameFile(one, other string) bool {
	a, errA := os.Stat(one)
	b, errB := os.Stat(other)
	return errA == nil && errB == nil && os.SameFile(a, b)
}
