package cli

import (
	"bytes"
	"fmt"
	"image"
	"os"
	"path/filepath"
	"regexp"
	"runtime"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/sync/errgroup"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sheet"
)

// kitStart is a kit that is begun from what its maker has: sheets, loose pictures, table files.
type kitStart struct {
	folder                 string            // the kit's
	from                   map[string]string // where the files of the kit lay before, by their names in it
	loose                  []loosePictures
	sheets, decks, layouts bytes.Buffer // the parts of kit.yaml
	said                   bytes.Buffer // to the maker
	keys                   []string
}

// loosePictures are pictures of one card each, which are packed to a sheet named as their folder.
type loosePictures struct {
	folder string   // in the kit
	names  []string // of their files in it
}

func (k *kitStart) say(format string, args ...any) { fmt.Fprintf(&k.said, format+"\n", args...) }

// begin begins the kit from files and folders. Of its own folder all that lies there is taken.
func (k *kitStart) begin(args []string) error {
	var files []string
	for _, arg := range args {
		switch {
		case arg == k.folder || sameFile(arg, k.folder):
			if err := k.beginWithin(); err != nil {
				return err
			}
		case isFolder(arg):
			if err := k.takeFolder(arg); err != nil {
				return err
			}
		default:
			files = append(files, arg)
		}
	}
	return k.take(files, "", named)
}

// nameOf is what a folder is called, also where it is given as ".".
func nameOf(folder string) string {
	whole, _ := filepath.Abs(folder)
	return filepath.Base(whole)
}

// looseWithin is the folder of the kit for pictures of one card each that lie beside kit.yaml.
const looseWithin = "cards"

// beginWithin begins the kit from what lies in its folder: pictures, table files and folders of pictures.
func (k *kitStart) beginWithin() error {
	files, folders, others, err := lyingIn(k.folder)
	if err != nil && !os.IsNotExist(err) {
		return refused("the folder cannot be read: %w", err)
	}
	if len(others) > 0 {
		k.say("Not taken as cards: %s.", strings.Join(others, ", "))
	}
	loose := looseWithin
	for n := 2; isFolder(filepath.Join(k.folder, loose)); n++ {
		loose = fmt.Sprintf("%s-%d", looseWithin, n)
	}
	before := len(k.loose)
	if err := k.take(files, loose, besideKit); err != nil {
		return err
	}
	if len(k.loose) > before {
		k.say("Pictures of one card each were copied to %s/, and are packed from there; those beside kit.yaml are no longer needed.", k.loose[before].folder)
	}
	for _, folder := range folders {
		if err := k.takeFolder(filepath.Join(k.folder, folder)); err != nil {
			return err
		}
	}
	return nil
}

// lyingIn is what lies in a folder, by name: pictures and table files with their paths, and the names of folders of pictures and of
// all else that is not hidden.
func lyingIn(folder string) (files, folders, others []string, err error) {
	entries, err := os.ReadDir(folder)
	for _, e := range entries {
		switch name := e.Name(); {
		case strings.HasPrefix(name, "."):
		case e.IsDir() && holdsPictures(filepath.Join(folder, name)):
			folders = append(folders, name)
		case !e.IsDir() && (sheet.IsPicture(name) || isTable(name) && !isAside(name)):
			files = append(files, filepath.Join(folder, name))
		default:
			others = append(others, name)
		}
	}
	slices.SortFunc(files, sheet.CompareNames)
	return files, folders, others, err
}

func holdsPictures(folder string) bool {
	entries, _ := os.ReadDir(folder)
	return slices.ContainsFunc(entries, func(e os.DirEntry) bool {
		return !e.IsDir() && !strings.HasPrefix(e.Name(), ".") && sheet.IsPicture(e.Name())
	})
}

// takeFolder takes the pictures and table files of a folder.
func (k *kitStart) takeFolder(folder string) error {
	files, folders, others, err := lyingIn(folder)
	if err != nil {
		return refused("the folder cannot be read: %w", err)
	}
	if len(files) == 0 {
		return refused("%s holds no pictures (%s) and no table files", folder, sheet.Formats)
	}
	if leftOut := slices.Sorted(slices.Values(append(folders, others...))); len(leftOut) > 0 {
		k.say("Left out of %s: %s.", folder, strings.Join(leftOut, ", "))
	}
	return k.take(files, nameOf(folder), inFolder)
}

// isAside reports whether what is written as a table file is most likely none where it lies among pictures: notes, or the mark that
// a spreadsheet is open.
func isAside(name string) bool {
	return strings.EqualFold(filepath.Ext(name), ".txt") || strings.HasPrefix(name, "~$")
}

// seen is a file that was looked at.
type seen struct {
	file   string
	text   []byte       // of a table file
	report sheet.Report // of a picture
}

// place is where files lie that a kit is begun from.
type place int

const (
	named     place = iota // each was named
	inFolder               // their folder was named
	besideKit              // in the kit's folder, where nothing was named
)

// take takes files that lie together; loose pictures among them get a folder of the kit, named as theirs.
func (k *kitStart) take(files []string, folder string, lie place) error {
	all := make([]seen, len(files))
	var looking errgroup.Group
	looking.SetLimit(runtime.NumCPU())
	for i, file := range files {
		looking.Go(func() error {
			text, err := os.ReadFile(file)
			if err != nil {
				return refused("%w", err)
			}
			all[i].file = file
			if isTable(file) {
				all[i].text = text
				return nil
			}
			if _, all[i].report, err = sheet.Look(text, sheet.Grid{}); err != nil {
				return refused("%s: %w", file, err)
			}
			return nil
		})
	}
	if err := looking.Wait(); err != nil {
		return err
	}
	var pictures []seen
	for _, s := range all {
		if !isTable(s.file) {
			pictures = append(pictures, s)
		} else if err := k.addTable(s.file, s.text); err != nil {
			return err
		}
	}
	if areLoose(pictures, lie) {
		return k.addLoose(pictures, folder)
	}
	for _, p := range pictures {
		if err := k.addSheet(p); err != nil {
			return err
		}
	}
	return nil
}

// areLoose reports whether pictures are single cards, and no sheets: most of those in a folder do not look like a grid, or most of
// those that were named look like one card, and all are of one size. Beside a kit.yaml both is asked: backs and boards lie there, too.
func areLoose(pictures []seen, lie place) bool {
	single, sure := 0, 0
	var size image.Point
	oneSize := true
	for _, p := range pictures {
		now := image.Pt(min(p.report.Width, p.report.Height), max(p.report.Width, p.report.Height))
		oneSize = oneSize && (size == now || size == image.Point{})
		size = now
		if p.report.Guesses[0].Cells() == 1 {
			single++
		} else if p.report.Sure {
			sure++
		}
	}
	switch lie {
	case inFolder:
		return len(pictures) > 1 && 2*sure < len(pictures)
	case besideKit:
		return len(pictures) > 1 && 2*sure < len(pictures) && oneSize
	}
	return len(pictures) > 2 && oneSize && 2*single > len(pictures)
}

// add adds a file to the kit.
func (k *kitStart) add(name, file string) error {
	if other, twice := k.from[name]; twice {
		return refused("%s and %s would both be %s in the kit; give one of them another name", other, file, name)
	}
	k.from[name] = file
	return nil
}

// key is a key that is free, made of a name.
func (k *kitStart) key(name, instead string) string {
	key := deck.FreeKey(name, instead, func(key string) bool { return slices.Contains(k.keys, key) })
	k.keys = append(k.keys, key)
	return key
}

// keyOfFile is a key that is free, made of a file's name.
func (k *kitStart) keyOfFile(base, instead string) string {
	return k.key(strings.TrimSuffix(base, filepath.Ext(base)), instead)
}

// holds reports whether loose pictures lie in a folder of the kit already, and nothing else is packed to the sheet that is named as it.
func (k *kitStart) holds(folder string, pictures []seen) bool {
	_, taken := k.from[folder+".png"]
	twice := slices.ContainsFunc(k.loose, func(l loosePictures) bool { return l.folder == folder })
	return !taken && !twice && sameFile(filepath.Dir(pictures[0].file), filepath.Join(k.folder, folder))
}

func (k *kitStart) addLoose(pictures []seen, folder string) error {
	key := k.key(folder, "cards")
	l := loosePictures{folder: key}
	if k.holds(folder, pictures) {
		l.folder = folder
	}
	for _, p := range pictures {
		base := filepath.Base(p.file)
		if err := k.add(l.folder+"/"+base, p.file); err != nil {
			return err
		}
		l.names = append(l.names, base)
	}
	k.loose = append(k.loose, l)
	fmt.Fprintf(&k.sheets, "  %s: {file: %s} # packed from the pictures in %s; pack it again when they change: damselfly sheet pack %s\n", key, inYAML(l.folder+".png"), inYAML(l.folder+"/"), inYAML(l.folder+".png"))
	fmt.Fprintf(&k.decks, "  %s: {sheet: %s}\n", key, key)
	return nil
}

// toPack is what is to be packed: from where the pictures lie now, or from the kit's folder.
func (l loosePictures) toPack(kitFolder string, from map[string]string) toPack {
	folder := filepath.Join(kitFolder, l.folder)
	w := toPack{to: folder + ".png", packing: sheet.Packing{Folder: l.folder}}
	for _, name := range l.names {
		file := filepath.Join(folder, name)
		if from != nil {
			file = from[l.folder+"/"+name]
		}
		w.files = append(w.files, file)
	}
	return w
}

func (k *kitStart) addSheet(p seen) error {
	base := filepath.Base(p.file)
	if err := k.add(base, p.file); err != nil {
		return err
	}
	key, g := k.keyOfFile(base, "sheet"), p.report.Grid
	fmt.Fprintf(&k.decks, "  %s: {sheet: %s}\n", key, key)
	if !p.report.Sure {
		fmt.Fprintf(&k.sheets, "  %s: {file: %s} # how many cards lie on it? Such as columns: %d, rows: %d%s\n", key, inYAML(base), g.Columns, g.Rows, spacing(g))
		k.say("%s: say in kit.yaml how it is cut: how many columns and rows it has, and what margin and gutter.", base)
	} else {
		fmt.Fprintf(&k.sheets, "  %s: {file: %s, columns: %d, rows: %d%s}\n", key, inYAML(base), g.Columns, g.Rows, spacing(g))
		k.say("%s looks like %s: %d cards.", base, g.Words(), p.report.Content())
	}
	for _, w := range slices.Concat(p.report.Warnings, p.report.Notes) {
		k.say("  %s", w)
	}
	return nil
}

func (k *kitStart) addTable(file string, text []byte) error {
	base := filepath.Base(file)
	if err := k.add(base, file); err != nil {
		return err
	}
	var tabs []string
	if strings.EqualFold(filepath.Ext(base), ".xlsx") {
		tabs, _ = deck.Tabs(text) // what is wrong with it is said when it is read
	}
	begin := func(rows, key string) error {
		if err := k.beginRows(key, rows, text); err != nil {
			return refused("%s: %w", file, err)
		}
		return nil
	}
	if len(tabs) < 2 {
		return begin(base, k.keyOfFile(base, "cards"))
	}
	for _, tab := range tabs { // a table, a deck
		if err := begin(base+"#"+tab, k.key(tab, "cards")); err != nil {
			return err
		}
	}
	return nil
}

// write writes the kit's files, but for those that lie there already.
func (k *kitStart) write(folder string) error {
	at := func(name string) string { return filepath.Join(folder, filepath.FromSlash(name)) }
	there := map[string]bool{}
	for name, from := range k.from {
		if _, err := os.Stat(at(name)); err != nil {
			continue
		}
		if there[name] = sameFile(from, at(name)); !there[name] {
			return refused("%s is there already, and is not %s; move one of them away", at(name), from)
		}
	}
	for name, from := range k.from {
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

func spacing(g sheet.Grid) (text string) {
	if g.Margin != (sheet.Margin{}) {
		text += ", margin: " + listed(g.Margin.String())
	}
	if g.Gutter != (sheet.Gutter{}) {
		text += ", gutter: " + listed(g.Gutter.String())
	}
	return text
}

// listed puts several numbers into brackets.
func listed(numbers string) string {
	if strings.Contains(numbers, ",") {
		return "[" + numbers + "]"
	}
	return numbers
}

func isTable(file string) bool {
	return slices.Contains([]string{".csv", ".tsv", ".txt", ".xlsx"}, strings.ToLower(filepath.Ext(file)))
}

var plainInYAML = regexp.MustCompile(`^[\pL\pM\d][\pL\pM\d ._/-]*$`)

// inYAML is a file's name as it stands in kit.yaml.
func inYAML(name string) string {
	if plainInYAML.MatchString(name) {
		return name
	}
	return strconv.Quote(name)
}

// beginRows begins a deck of a table file, or of one of its tables, with a layout.
func (k *kitStart) beginRows(key, file string, text []byte) error {
	rows, err := kit.ReadRows(file, text)
	if err != nil {
		return err
	}
	fmt.Fprintf(&k.decks, "  %s: {rows: %s, layout: %s}\n", key, inYAML(file), key)
	begun := deck.Begin(rows)
	fmt.Fprintf(&k.layouts, "  %s:\n    size: [%d, %d]\n    front:\n", key, begun.Size[0], begun.Size[1])
	for _, b := range begun.Front {
		fmt.Fprintf(&k.layouts, "      - {at: [%g, %g, %g, %g], %s}\n", b.At[0], b.At[1], b.At[2], b.At[3], inBox(b))
	}
	return nil
}

// inBox is what is in a box of a layout that was begun, as it stands in kit.yaml.
func inBox(b deck.Box) string {
	switch {
	case b.Text != "":
		bold := ""
		if b.Bold {
			bold = ", bold: true"
		}
		return fmt.Sprintf("text: %q, height: %g%s, align: %s, down: %s", b.Text, b.Height, bold, b.Align, b.Down)
	case b.Line > 0:
		return fmt.Sprintf("line: %g, colour: %q, round: %g", b.Line, b.Colour, b.Round)
	}
	return fmt.Sprintf("fill: %q", b.Fill)
}
