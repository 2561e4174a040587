package kit

import (
	"bytes"
	"cmp"
	"fmt"
	"io/fs"
	"maps"
	"path"
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"damselfly.example/damselfly/internal/core/sheet"
)

// packed is what the lists beside packed sheets tell about them.
type packed struct {
	sheets map[string]Sheet       // of kit.yaml, and those that were begun when one was full
	lists  map[string]*sheet.List // of those that were packed
	more   map[string][]string    // the sheets that go on where one is full
}

// readLists reads the lists of all packed sheets.
func (m *maker) readLists() {
	m.packed = packed{sheets: maps.Clone(m.kit.Sheets), lists: map[string]*sheet.List{}, more: map[string][]string{}}
	for _, name := range slices.Sorted(maps.Keys(m.kit.Sheets)) {
		s := m.kit.Sheets[name]
		list := m.listOf(name, s.File)
		if list == nil {
			continue
		}
		for i, file := range list.More {
			file = path.Join(path.Dir(s.File), file)
			key := cmp.Or(m.sheetOfFile(file), m.freeSheet(name, i+2))
			m.packed.sheets[key] = cmp.Or(m.packed.sheets[key], Sheet{File: file})
			m.packed.more[name] = append(m.packed.more[name], key)
			m.listOf(key, file)
		}
	}
}

// sheetOfFile is the name of the sheet with that file, empty if there is none.
func (m *maker) sheetOfFile(file string) string {
	for _, name := range slices.Sorted(maps.Keys(m.packed.sheets)) {
		if m.packed.sheets[name].File == file {
			return name
		}
	}
	return ""
}

// freeSheet is a name for a sheet that goes on where another is full.
func (m *maker) freeSheet(first string, n int) string {
	name := fmt.Sprintf("%s-%d", first, n)
	for _, taken := m.packed.sheets[name]; taken; _, taken = m.packed.sheets[name] {
		name += "-more"
	}
	return name
}

// listOf reads and notes the list beside a sheet, nil if there is none.
func (m *maker) listOf(name, file string) *sheet.List {
	beside := sheet.ListOf(file)
	text, err := readFile(m.kit.folder, beside, sheet.MaxList)
	if err != nil {
		return nil // most sheets have none
	}
	list, err := sheet.ReadList(text)
	if err != nil {
		m.mistakes = append(m.mistakes, &Mistake{File: beside, Text: err.Error()})
		return nil
	}
	m.packed.lists[name] = &list
	return &list
}

// parts are the cells that a deck takes, sheet by sheet. Of a sheet that is taken whole, also the
// sheets that go on where it is full.
func (m *maker) parts(d Deck) (all []Part) {
	named := d.parts()
	for _, part := range named {
		all = append(all, part)
		for _, more := range m.packed.more[part.Sheet] {
			if part.Cells == "" && !slices.ContainsFunc(named, func(p Part) bool { return p.Sheet == more }) {
				all = append(all, Part{Sheet: more})
			}
		}
	}
	return all
}

// cellOf is a cell of a sheet.
type cellOf struct {
	sheet string
	cell  int
}

// backs finds the back of each card of a deck, where it takes them from another sheet: by the
// names of the pictures where both were packed, else in the same cell.
func (m *maker) backs(d Deck, at string) func(Design) (cellOf, error) {
	sheets := append([]string{d.Back.Each}, m.packed.more[d.Back.Each]...)
	fronts := m.parts(d)
	packed := func(name string) bool { return m.packed.lists[name] != nil }
	if !slices.ContainsFunc(fronts, func(p Part) bool { return !packed(p.Sheet) }) && !slices.ContainsFunc(sheets, func(s string) bool { return !packed(s) }) {
		return m.backsByName(sheets)
	}
	for _, part := range fronts {
		for _, difference := range sheet.Backs(m.sheets[part.Sheet].report, m.sheets[d.Back.Each].report) {
			m.warn("%s.back: %s", at[2:], difference)
		}
	}
	return func(front Design) (cellOf, error) { return cellOf{d.Back.Each, front.Cell}, nil }
}

// backsByName finds backs by the names of the pictures that were packed, as they are or without
// the word that tells the side: wolf.png and wolf-back.png are one card.
func (m *maker) backsByName(sheets []string) func(Design) (cellOf, error) {
	cells, sideless := map[string]cellOf{}, map[string]cellOf{}
	for _, name := range sheets {
		for _, s := range m.packed.lists[name].Sources {
			cells[stemOf(s.File)], sideless[sidelessOf(s.File)] = cellOf{name, s.Cell}, cellOf{name, s.Cell}
		}
	}
	return func(front Design) (cellOf, error) {
		file := m.fileIn(front.Sheet, front.Cell)
		for _, found := range []struct {
			among map[string]cellOf
			name  string
		}{{cells, stemOf(file)}, {sideless, sidelessOf(file)}} {
			if back, is := found.among[found.name]; is {
				return back, nil
			}
		}
		return cellOf{}, fmt.Errorf("%s has no back: no picture of %s is named like it; name it %s, or %s-back%s, and pack the backs again",
			path.Base(file), m.packed.sheets[sheets[0]].File, path.Base(file), sidelessOf(file), path.Ext(file))
	}
}

// warnOfBacks tells of packed backs that belong to no card.
func (m *maker) warnOfBacks() {
	for _, key := range slices.Sorted(maps.Keys(m.kit.Decks)) {
		each := m.kit.Decks[key].Back.Each
		for _, name := range append([]string{each}, m.packed.more[each]...) {
			list := m.packed.lists[name]
			if each == "" || list == nil || m.sheets[name] == nil {
				continue
			}
			for _, s := range list.Sources {
				if l := m.sheets[name]; !l.used[s.Cell] {
					l.used[s.Cell] = true // it is told here
					m.warn("decks.%s.back: %s, which is packed in %s, is the back of no card", key, path.Base(s.File), m.packed.sheets[name].File)
				}
			}
		}
	}
}

// fileIn is the picture that was packed into a cell.
func (m *maker) fileIn(sheet string, cell int) string {
	if list := m.packed.lists[sheet]; list != nil {
		for _, s := range list.Sources {
			if s.Cell == cell {
				return s.File
			}
		}
	}
	return fmt.Sprintf("cell %d of %s", cell, m.packed.sheets[sheet].File)
}

// stemOf is the name of a picture's file without its folder and ending.
func stemOf(file string) string {
	return strings.ToLower(strings.TrimSuffix(path.Base(file), path.Ext(file)))
}

// sidelessOf is that without a first or last word that tells which side of a card it is.
func sidelessOf(file string) string {
	stem := stemOf(file)
	for _, side := range []string{"front", "back", "fronts", "backs", "f", "b"} {
		for _, parted := range []string{"-", "_", " "} {
			if short, is := strings.CutSuffix(stem, parted+side); is && short != "" {
				return short
			}
			if short, is := strings.CutPrefix(stem, side+parted); is && short != "" && len(side) > 1 {
				return short
			}
		}
	}
	return stem
}

// nameOf is what a card is called after its picture: errands/feed-the-heron.png gives
// "Feed the heron".
func nameOf(file string) string {
	base := strings.TrimSuffix(path.Base(file), path.Ext(file))
	name := strings.TrimSpace(strings.NewReplacer("-", " ", "_", " ").Replace(base))
	first, size := utf8.DecodeRuneInString(name)
	return string(unicode.ToUpper(first)) + name[size:]
}

// WalkWanted calls each for the files of a kit's folder that an edition needs: all but hidden ones,
// and the loose pictures that packed sheets were packed from, unless something else speaks of them.
func WalkWanted(folder fs.FS, each func(name string) error) error {
	var names []string
	sources := map[string]bool{}
	var texts [][]byte // what may speak of a picture
	err := Walk(folder, func(name string) error {
		names = append(names, name)
		switch {
		case strings.HasSuffix(name, sheet.ListSuffix):
			text, err := readFile(folder, name, sheet.MaxList)
			if err != nil {
				return err
			}
			if list, err := sheet.ReadList(text); err == nil {
				for _, s := range list.Sources {
					sources[path.Join(path.Dir(name), s.File)] = true
				}
			}
		case name == manifestFile || slices.Contains([]string{".csv", ".tsv", ".txt", ".md"}, strings.ToLower(path.Ext(name))):
			text, err := readFile(folder, name, MaxFile)
			if err != nil {
				return err
			}
			texts = append(texts, text)
		case strings.EqualFold(path.Ext(name), ".xlsx"): // what stands in it is not read for this
			texts = append(texts, nil)
		}
		return nil
	})
	if err != nil {
		return err
	}
	for _, name := range names {
		if sources[name] && !spokenOf(name, texts) {
			continue
		}
		if err := each(name); err != nil {
			return err
		}
	}
	return nil
}

// Weigh refuses a folder that is too large to be kept, and says what is largest in it.
func Weigh(folder fs.FS) error {
	type file struct {
		name string
		size int64
	}
	var all []file
	var sum int64
	err := WalkWanted(folder, func(name string) error {
		stat, err := fs.Stat(folder, name)
		if err == nil {
			all, sum = append(all, file{name, stat.Size()}), sum+stat.Size()
		}
		return nil // what cannot be read is told where it is read
	})
	if err != nil {
		return err
	}
	slices.SortFunc(all, func(a, b file) int { return cmp.Or(cmp.Compare(b.size, a.size), cmp.Compare(a.name, b.name)) })
	var largest []string
	for _, f := range all[:min(3, len(all))] {
		largest = append(largest, fmt.Sprintf("%s with %.1f MiB", f.name, float64(f.size)/(1<<20)))
	}
	switch {
	case len(all) > MaxEntries:
		return &Mistake{File: "the folder", Text: fmt.Sprintf("has %d files; a kit has at most %d", len(all), MaxEntries)}
	case sum > MaxUnpacked:
		return &Mistake{File: "the folder", Text: fmt.Sprintf("has %d MiB; a kit has at most %d. The largest are %s", sum>>20, MaxUnpacked>>20, strings.Join(largest, ", "))}
	case len(all) > 0 && all[0].size > MaxFile:
		return &Mistake{File: all[0].name, Text: fmt.Sprintf("has %d MiB; a file has at most %d", all[0].size>>20, MaxFile>>20)}
	}
	return nil
}

var inBraces = regexp.MustCompile(`([\w./ -]*)\{\w[^{}]*\}([\w./ -]*)`)

// spokenOf reports whether texts may speak of a file: by its name, or by a
// pattern such as icons/{kind}.png that it fits. A text that is nil may speak of any.
func spokenOf(name string, texts [][]byte) bool {
	for _, text := range texts {
		if text == nil || bytes.Contains(text, []byte(path.Base(name))) {
			return true
		}
		for _, pattern := range inBraces.FindAllSubmatch(text, -1) {
			before, after := strings.TrimSpace(string(pattern[1])), strings.TrimSpace(string(pattern[2]))
			if strings.Contains(before+after, ".") && strings.HasPrefix(name, before) && strings.HasSuffix(name, after) {
				return true
			}
		}
	}
	return false
}
