// Package start begins a kit from what its maker has: sheets, pictures of one card each, table files. The command line and the bench
// ask it; what becomes of a file is decided here alone.
package start

import (
	"fmt"
	"image"
	"path"
	"runtime"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/sync/errgroup"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sheet"
)

// Lot is files that lie together.
type Lot struct {
	Folder string // the folder that was named as one whose files belong together, as it is called; "" if files were named
	Said   string // how that, or where else they lie, is said to their maker
	Among  bool   // they lie among others that were not named either
	Stays  bool   // the files are in the kit already, by their names
	Files  []File
}

// File is a file that a kit may be begun from.
type File struct {
	Name    string                      // with its folders, parted by slashes
	Bytes   func() ([]byte, error)      // nil for a folder
	Picture func() (image.Image, error) // where it was decoded already, else nil
}

// Start is what a kit begins with.
type Start struct {
	Title   string   `json:"title" doc:"What a kit of it may be called; empty if nothing says so."`
	Sheets  []Sheet  `json:"sheets"`
	Decks   []Deck   `json:"decks"`
	Layouts []Layout `json:"layouts"`
	Loose   []Loose  `json:"loose"`
	Notes   []string `json:"notes"` // to the maker
	Left    []string `json:"left"`  // of those: what was left out, and what to do about it

	From   map[string]string `json:"-"` // of files that are not in the kit: where they come from, by their names in it
	Faults []error           `json:"-"` // of files that cannot be read; they are taken nonetheless
}

// Sheet is a sheet of cards.
type Sheet struct {
	Key   string     `json:"key"`
	Entry SheetEntry `json:"entry"`
	Like  sheet.Grid `json:"like"` // what it looks like

	Packed bool `json:"-"` // the list beside it says how it is cut
}

// SheetEntry is what is written of a sheet: its grid where it is surely seen.
type SheetEntry struct {
	File    string `json:"file"`
	Columns int    `json:"columns,omitempty"`
	Rows    int    `json:"rows,omitempty"`
	Margin  any    `json:"margin,omitempty"` // a number, or several
	Gutter  any    `json:"gutter,omitempty"`
}

// Deck is a deck of all cards of a sheet, or of the rows of a table file.
type Deck struct {
	Key   string    `json:"key"`
	Entry DeckEntry `json:"entry"`
}

// DeckEntry is what is written of a deck.
type DeckEntry struct {
	Sheet  string `json:"sheet,omitempty"`
	Rows   string `json:"rows,omitempty"`
	Layout string `json:"layout,omitempty"`
}

// Layout is how the rows of a table file are drawn.
type Layout struct {
	Key   string       `json:"key"`
	Entry *deck.Layout `json:"entry"`
}

// Loose is pictures of one card each, which are to be packed to a sheet.
type Loose struct {
	Key    string   `json:"key"`    // of the sheet and of its deck
	Folder string   `json:"folder"` // where they lie in the kit; "" if that is no folder of theirs
	Files  []string `json:"files"`  // in the kit
	Sheet  string   `json:"sheet"`  // the file to which they are packed: named as their folder, where no other is
}

// From begins a kit. Keys that are taken are not given again. The error is that two files would have one name.
func From(lots []Lot, taken func(key string) bool) (Start, error) {
	b := begun{taken: taken, keys: map[string]bool{}, names: map[string]bool{}}
	b.Start = Start{Sheets: []Sheet{}, Decks: []Deck{}, Layouts: []Layout{}, Loose: []Loose{}, Notes: []string{}, Left: []string{}, From: map[string]string{}}
	for _, lot := range lots {
		for _, f := range lot.Files {
			b.names[path.Base(f.Name)], b.names[f.Name] = true, true
		}
	}
	for _, lot := range lots {
		if err := b.take(lot); err != nil {
			return Start{}, err
		}
	}
	if len(b.Sheets) > 0 {
		b.Title = TitleOf(b.Sheets[0].Key)
	}
	return b.Start, nil
}

// begun is a start while it is made.
type begun struct {
	Start

	taken func(key string) bool
	keys  map[string]bool // given here
	names map[string]bool // of all files, in the kit or before they come to it
}

func (b *begun) say(format string, args ...any) {
	b.Notes = append(b.Notes, fmt.Sprintf(format, args...))
}

// Within are the lots of files that are in a kit already: those at its top, and those of each folder.
func Within(names []string, file func(name string) File) []Lot {
	var lots []Lot
	at := map[string]int{}
	for _, name := range names {
		folder := path.Dir(name)
		if _, is := at[folder]; !is {
			lot := Lot{Folder: path.Base(folder), Said: folder, Stays: true, Among: true}
			if folder == "." {
				lot = Lot{Said: "what was named", Stays: true}
			}
			at[folder], lots = len(lots), append(lots, lot)
		}
		lot := &lots[at[folder]]
		lot.Files = append(lot.Files, file(name))
	}
	return lots
}

// Takes reports whether a kit is begun from a file, by its name; among says that others lie there that were not named either.
func Takes(name string, among bool) bool {
	return sheet.IsPicture(name) || IsTable(name) && !(among && isAside(name))
}

// IsTable reports whether a file's name is that of a table file.
func IsTable(name string) bool {
	return slices.Contains([]string{".csv", ".tsv", ".txt", ".xlsx"}, strings.ToLower(path.Ext(name)))
}

// isAside reports whether what is written as a table file is most likely none where it lies among others: notes, or the mark that
// a spreadsheet is open.
func isAside(name string) bool {
	return strings.EqualFold(path.Ext(name), ".txt") || strings.HasPrefix(path.Base(name), "~$")
}

// take takes files that lie together, by name.
func (b *begun) take(lot Lot) error {
	files := slices.Clone(lot.Files)
	slices.SortStableFunc(files, func(a, b File) int { return sheet.CompareNames(a.Name, b.Name) })
	lists := map[string]File{}
	for _, f := range files {
		if strings.HasSuffix(f.Name, sheet.ListSuffix) && f.Bytes != nil {
			lists[f.Name] = f
		}
	}
	var pictures []picture
	var leftOut []string
	for _, f := range files {
		switch base := path.Base(f.Name); {
		case strings.HasPrefix(base, ".") || strings.HasSuffix(base, sheet.ListSuffix):
		case f.Bytes == nil || !Takes(f.Name, lot.Among):
			leftOut = append(leftOut, base)
		case sheet.IsPicture(f.Name) && isPacked(lists[sheet.ListOf(f.Name)]):
			if err := b.addPacked(f, lists[sheet.ListOf(f.Name)], lot); err != nil {
				return err
			}
		case sheet.IsPicture(f.Name):
			pictures = append(pictures, picture{File: f})
		default:
			if err := b.addTable(f, lot); err != nil {
				return err
			}
		}
	}
	b.leaveOut(leftOut, lot)
	b.look(pictures, spread(len(pictures), lookedAt))
	if areLoose(pictures, lot) {
		return b.addLoose(pictures, lot)
	}
	all := make([]int, len(pictures))
	for i := range all {
		all[i] = i
	}
	b.look(pictures, all)
	for _, p := range pictures {
		if err := b.addSheet(p, lot); err != nil {
			return err
		}
	}
	return nil
}

// leaveOut says what is left out, and of what is nearly a table or a picture how to save it.
func (b *begun) leaveOut(files []string, lot Lot) {
	said := len(b.Left)
	var others []string
	for _, file := range files {
		if advice := kit.SaveAs(file); advice != "" {
			b.Left = append(b.Left, advice)
		} else {
			others = append(others, file)
		}
	}
	if len(others) > 0 {
		b.Left = append(b.Left, fmt.Sprintf("Left out of %s: %s.", lot.Said, strings.Join(others, ", ")))
	}
	b.Notes = append(b.Notes, b.Left[said:]...)
}

// picture is a picture that may have been looked at.
type picture struct {
	File

	size   image.Point
	report *sheet.Report // nil before, and where it cannot be read
	failed bool
}

// lookedAt is how many pictures of a lot are looked at to tell sheets from single cards.
const lookedAt = 7

// spread is up to n indices, spread evenly over as many as there are.
func spread(among, n int) (some []int) {
	for i := range min(among, n) {
		some = append(some, i*among/min(among, n))
	}
	return some
}

// look finds the sizes of all pictures and looks some of them over, where that was not done.
func (b *begun) look(pictures []picture, some []int) {
	faults := make([]error, len(pictures))
	var looking errgroup.Group
	looking.SetLimit(runtime.NumCPU())
	for i := range pictures {
		p, whole := &pictures[i], slices.Contains(some, i)
		if p.report != nil || p.failed || !whole && p.size != (image.Point{}) {
			continue
		}
		looking.Go(func() error {
			faults[i] = p.see(whole)
			p.failed = faults[i] != nil
			return nil
		})
	}
	_ = looking.Wait() // what failed stands in faults
	for _, fault := range faults {
		if fault != nil {
			b.Faults = append(b.Faults, fault)
		}
	}
}

// see finds a picture's size, or all that is to be seen of it.
func (p *picture) see(whole bool) error {
	named := func(err error) error { return fmt.Errorf("%s: %w", p.Name, err) }
	if whole && p.Picture != nil {
		shown, err := p.Picture()
		if err != nil {
			return named(err)
		}
		return p.lookOver(shown)
	}
	text, err := p.Bytes()
	if err != nil {
		return err
	}
	if p.size, err = sheet.Size(text); err != nil {
		return named(err)
	}
	if !whole {
		return nil
	}
	shown, err := sheet.Read(text)
	if err != nil {
		return named(err)
	}
	return p.lookOver(shown)
}

func (p *picture) lookOver(shown image.Image) error {
	report, err := sheet.LookOver(shown, sheet.Grid{})
	if err != nil {
		return fmt.Errorf("%s: %w", p.Name, err)
	}
	p.size, p.report = shown.Bounds().Size(), &report
	return nil
}

// areLoose reports whether pictures are single cards, and no sheets: of those in a folder of their own most do not look like a
// grid; of others, among which backs and boards may be, most look like one card and all are of one size.
func areLoose(pictures []picture, lot Lot) bool {
	seen, single, sure := 0, 0, 0
	oneSize := true
	for _, p := range pictures {
		first := pictures[0].size
		oneSize = oneSize && (p.size == first || p.size == image.Pt(first.Y, first.X))
		switch {
		case p.report == nil:
			continue
		case p.report.Guesses[0].Cells() == 1:
			single++
		case p.report.Sure:
			sure++
		}
		seen++
	}
	if lot.Folder != "" {
		return len(pictures) > 1 && 2*sure < seen
	}
	return len(pictures) > 1 && oneSize && 2*single > seen
}

// FreeSheets are the keys and files of n sheets of one packing, made of a name: all of them are free.
func FreeSheets(name string, n int, taken func(key string) bool) (keys, files []string) {
	anyTaken := func(first string) bool {
		return slices.ContainsFunc(sheet.Names(first, n), taken)
	}
	first := deck.FreeKey(name, looseFolder, anyTaken)
	for _, key := range sheet.Names(first, n) {
		keys, files = append(keys, key), append(files, key+".png")
	}
	return keys, files
}

// place says by which name a file lies in the kit, and notes where it comes from.
func (b *begun) place(file, name string, lot Lot) (string, error) {
	if lot.Stays {
		return file, nil
	}
	if other, twice := b.From[name]; twice && other != file {
		return "", fmt.Errorf("%s and %s would both be %s in the kit; give one of them another name", other, file, name)
	}
	b.From[name] = file
	return name, nil
}

// key is a key that is free for a sheet, its deck and its layout, made of a name.
func (b *begun) key(name, instead string) string {
	key := deck.FreeKey(name, instead, func(key string) bool { return b.keys[key] || b.taken(key) })
	b.keys[key] = true
	return key
}

// keyOfFile is a key that is free, made of a file's name.
func (b *begun) keyOfFile(name, instead string) string {
	base := path.Base(name)
	return b.key(strings.TrimSuffix(base, path.Ext(base)), instead)
}

// looseFolder is the folder of the kit for pictures of one card each that had none.
const looseFolder = "cards"

func (b *begun) addLoose(pictures []picture, lot Lot) error {
	l := Loose{Key: b.key(lot.Folder, looseFolder)}
	switch {
	case !lot.Stays:
		l.Folder = l.Key
	case lot.Folder != "":
		l.Folder = path.Dir(pictures[0].Name)
	}
	l.Sheet = l.Folder + ".png"
	if l.Folder == "" || b.names[l.Sheet] {
		l.Sheet = l.Key + ".png"
	}
	for _, p := range pictures {
		name, err := b.place(p.Name, l.Folder+"/"+path.Base(p.Name), lot)
		if err != nil {
			return err
		}
		l.Files = append(l.Files, name)
	}
	b.Loose = append(b.Loose, l)
	return nil
}

// isPacked reports whether what lies beside a picture is the list of a packed sheet.
func isPacked(list File) bool {
	if list.Bytes == nil {
		return false
	}
	text, err := list.Bytes()
	if err == nil {
		_, err = sheet.ReadList(text)
	}
	return err == nil
}

// addPacked adds a sheet that was packed: its list says how it is cut, and what its cards are called.
func (b *begun) addPacked(f, list File, lot Lot) error {
	name, err := b.place(f.Name, path.Base(f.Name), lot)
	if err == nil {
		_, err = b.place(list.Name, path.Base(list.Name), lot)
	}
	if err != nil {
		return err
	}
	key := b.keyOfFile(name, "sheet")
	b.Sheets = append(b.Sheets, Sheet{Key: key, Entry: SheetEntry{File: name}, Packed: true})
	b.Decks = append(b.Decks, Deck{key, DeckEntry{Sheet: key}})
	b.say("%s was packed; it is cut as the list beside it says.", name)
	return nil
}

func (b *begun) addSheet(p picture, lot Lot) error {
	name, err := b.place(p.Name, path.Base(p.Name), lot)
	if err != nil {
		return err
	}
	s := Sheet{Key: b.keyOfFile(name, "sheet"), Entry: SheetEntry{File: name}}
	b.Decks = append(b.Decks, Deck{s.Key, DeckEntry{Sheet: s.Key}})
	if p.report != nil {
		s.Like = p.report.Grid
		b.sayLook(name, p.report)
	}
	if p.report != nil && p.report.Sure {
		g := s.Like
		s.Entry.Columns, s.Entry.Rows = g.Columns, g.Rows
		if g.Margin != (sheet.Margin{}) {
			s.Entry.Margin = g.Margin.Written()
		}
		if g.Gutter != (sheet.Gutter{}) {
			s.Entry.Gutter = g.Gutter.Written()
		}
	}
	b.Sheets = append(b.Sheets, s)
	return nil
}

// sayLook says what a sheet looks like.
func (b *begun) sayLook(name string, r *sheet.Report) {
	if r.Sure {
		b.say("%s looks like %s: %d cards.", name, r.Grid.Words(), r.Content())
	} else {
		b.say("%s: say in kit.yaml how it is cut: how many columns and rows it has, and what margin and gutter.", name)
	}
	for _, w := range slices.Concat(r.Warnings, r.Notes) {
		b.say("  %s", w)
	}
}

// addTable adds a deck for a table file, or one for each table of a spreadsheet.
func (b *begun) addTable(f File, lot Lot) error {
	name, err := b.place(f.Name, path.Base(f.Name), lot)
	if err != nil {
		return err
	}
	text, err := f.Bytes()
	if err != nil {
		b.Faults = append(b.Faults, err)
	}
	var tabs []string
	if strings.EqualFold(path.Ext(name), ".xlsx") && err == nil {
		tabs, _ = deck.Tabs(text) // what is wrong with it is said when it is read
	}
	if len(tabs) < 2 {
		b.addRows(b.keyOfFile(name, looseFolder), name, f.Name, text)
		return nil
	}
	for _, tab := range tabs {
		b.addRows(b.key(tab, looseFolder), name+"#"+tab, f.Name, text)
	}
	return nil
}

// addRows adds a deck of rows, with a layout unless a column names each card's picture.
func (b *begun) addRows(key, rows, file string, text []byte) {
	d := Deck{key, DeckEntry{Rows: rows}}
	read, err := kit.ReadRows(rows, text)
	switch {
	case err != nil:
		b.Faults = append(b.Faults, fmt.Errorf("%s: %w", file, err))
	case read.Column(deck.ColumnFront) < 0:
		d.Entry.Layout = key
		b.Layouts = append(b.Layouts, Layout{key, deck.Begin(read)})
	}
	b.Decks = append(b.Decks, d)
}

// TitleOf is what a kit may be called after a folder or a key: bog-post gives "Bog post".
func TitleOf(name string) string {
	name = strings.TrimSpace(strings.NewReplacer("-", " ", "_", " ").Replace(name))
	if name == "" || name == "." {
		return "My game"
	}
	first, size := utf8.DecodeRuneInString(name)
	return string(unicode.ToUpper(first)) + name[size:]
}
