package cli

import (
	"cmp"
	"errors"
	"fmt"
	"image"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"sync"

	"github.com/spf13/cobra"
	"golang.org/x/sync/errgroup"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/kit/start"
	"damselfly.example/damselfly/internal/core/sheet"
)

func (a *app) sheetPack() *cobra.Command {
	var p sheet.Packing
	var to string
	cmd := &cobra.Command{
		Use:   "pack FOLDER|FILE…|SHEET",
		Short: "Pack loose pictures to a sheet, or pack a sheet again",
		Long: "Pack loose pictures to one sheet, or to several if they do not all go on one at their own size. The size of the cards is\n" +
			"read off the pictures; those that lie on their side are turned. A small list is written beside the sheet: the numbers to\n" +
			"cut it by, and what it was packed from. Given such a sheet alone, it is packed again, and only what changed is drawn. A\n" +
			"picture that was not packed is never written over.",
		Example: "  damselfly sheet pack errands/ --to errands.png\n  damselfly sheet pack errands.png        # again, after a change",
		Args:    cobra.MinimumNArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			want, err := a.packed(args, p, to)
			if err != nil {
				return err
			}
			return a.pack(want)
		},
	}
	flags := cmd.Flags()
	flags.StringVar(&to, "to", "", "the sheet to write (default: named as the folder)")
	flags.IntVar(&p.Columns, "columns", 0, "columns of the sheet (default: chosen to fill well)")
	flags.IntVar(&p.Rows, "rows", 0, "rows of the sheet (default: chosen to fill well)")
	flags.StringVar(&p.Lie, "lie", "", "upright or landscape (default: as most pictures lie)")
	flags.BoolVar(&p.Fit, "fit", false, "fit pictures of another shape into the card, with a rim")
	flags.IntVar(&p.Longest, "longest", 0, fmt.Sprintf("pixels of the sheet's longest side at most (default %d)", sheet.DefaultLongest))
	flags.StringVar(&p.Veil, "veil", "", "what others see of a hidden card: a `picture` that is no card, and is not packed")
	return cmd
}

// toPack is what is to be packed: pictures, what of a folder is left out, and the sheet to write.
type toPack struct {
	files   []string
	leftOut []string // with the reason
	packing sheet.Packing
	to      string
}

// packed finds the pictures to pack: the files given, those of folders, or those
// that a packed sheet's list names, with what was asked for then.
func (a *app) packed(args []string, p sheet.Packing, to string) (w toPack, err error) {
	if p.Lie != "" && p.Lie != "upright" && p.Lie != "landscape" {
		return w, usage("--lie is upright or landscape, not %q", p.Lie)
	}
	w = toPack{packing: p, to: to}
	folder := isFolder(args[0])
	if len(args) == 1 && folder && to == "" {
		w.to = strings.TrimRight(args[0], "/") + ".png"
	}
	if text, err := os.ReadFile(sheet.ListOf(args[0])); len(args) == 1 && !folder && err == nil && to == "" {
		list, err := sheet.ReadList(text)
		if err != nil {
			return w, refused("%s: %w", sheet.ListOf(args[0]), err)
		}
		return w, w.again(args[0], list)
	}
	for _, arg := range args {
		if _, err := os.Stat(arg); err != nil {
			return w, refused("there is no folder or picture %s", arg)
		}
	}
	if w.to == "" {
		return w, usage("say which sheet to write with --to")
	}
	if !strings.EqualFold(filepath.Ext(w.to), ".png") {
		return w, usage("a packed sheet is written as PNG; name it such as %s.png", strings.TrimSuffix(w.to, filepath.Ext(w.to)))
	}
	if len(args) == 1 && folder {
		w.packing.Folder = relative(w.to, args[0])
	}
	if p.Veil != "" {
		if _, err := os.Stat(p.Veil); err != nil {
			return w, refused("there is no picture %s for the veil", p.Veil)
		}
		w.packing.Veil = relative(w.to, p.Veil)
	}
	for _, arg := range args {
		if !isFolder(arg) {
			if p.Veil == "" || !sameFile(arg, p.Veil) {
				w.files = append(w.files, arg)
			}
		} else if err := w.addFolder(arg); err != nil {
			return w, err
		}
	}
	if len(w.files) == 0 {
		return w, refused("%s holds no pictures (%s)", args[0], sheet.Formats)
	}
	return w, nil
}

func isFolder(name string) bool {
	stat, err := os.Stat(name)
	return err == nil && stat.IsDir()
}

// again finds what a sheet was packed from.
func (w *toPack) again(name string, list sheet.List) error {
	w.packing, w.to = list.Packing, name
	beside := filepath.Dir(name)
	gone := func(where string) error {
		return refused("the pictures that %s was packed from are no more at %s; say where they are: damselfly sheet pack FOLDER --to %s", name, where, name)
	}
	if list.Packing.Folder != "" {
		folder := filepath.Join(beside, list.Packing.Folder)
		if !isFolder(folder) {
			return gone(folder)
		}
		return w.addFolder(folder)
	}
	lists := []sheet.List{list}
	for _, file := range list.More {
		if other, err := readList(filepath.Join(beside, file)); err == nil {
			lists = append(lists, other)
		}
	}
	for _, file := range sheet.Files(lists) {
		file = filepath.Join(beside, file)
		if _, err := os.Stat(file); err != nil {
			return gone(file)
		}
		w.files = append(w.files, file)
	}
	return nil
}

// readList reads the list beside a packed sheet.
func readList(name string) (sheet.List, error) {
	text, err := os.ReadFile(sheet.ListOf(name))
	if err != nil {
		return sheet.List{}, err
	}
	return sheet.ReadList(text)
}

// relative is a path as seen from the folder of a file.
func relative(from, path string) string {
	absolute, err := filepath.Abs(path)
	if err == nil {
		from, err = filepath.Abs(from)
	}
	if err == nil {
		if rel, err := filepath.Rel(filepath.Dir(from), absolute); err == nil {
			return filepath.ToSlash(rel)
		}
	}
	return filepath.ToSlash(path)
}

// addFolder adds the pictures of a folder by name. What is no loose picture is left out.
func (w *toPack) addFolder(folder string) error {
	entries, err := os.ReadDir(folder)
	if err != nil {
		return refused("the folder cannot be read: %w", err)
	}
	lying := make([]sheet.InFolder, len(entries))
	for i, e := range entries {
		_, notPacked := os.Stat(sheet.ListOf(filepath.Join(folder, e.Name())))
		lying[i] = sheet.InFolder{Name: e.Name(), Folder: e.IsDir(), Packed: notPacked == nil}
	}
	within := func(file string) string {
		if beside, _ := filepath.Abs(filepath.Dir(file)); sameFile(beside, folder) {
			return filepath.Base(file)
		}
		return ""
	}
	veil := ""
	if w.packing.Veil != "" {
		veil = within(filepath.Join(filepath.Dir(w.to), w.packing.Veil))
	}
	names, leftOut := sheet.Chosen(lying, within(w.to), veil)
	for _, name := range names {
		w.files = append(w.files, filepath.Join(folder, name))
	}
	w.leftOut = append(w.leftOut, leftOut...)
	return nil
}

// source makes a picture's file a source; it is decoded for its size and again only
// if it has to be drawn.
func source(to, name string) (sheet.Source, error) {
	file, err := os.ReadFile(name)
	if err != nil {
		return sheet.Source{}, refused("the picture cannot be read: %w", err)
	}
	open := func() (image.Image, error) {
		file, err := os.ReadFile(name)
		if err != nil {
			return nil, refused("the picture cannot be read: %w", err)
		}
		picture, err := sheet.Read(file)
		if err != nil {
			return nil, refused("%s: %w", name, err)
		}
		return picture, nil
	}
	size, err := sheet.Size(file)
	if err != nil {
		return sheet.Source{}, refused("%s: %w", name, err)
	}
	return sheet.Source{File: relative(to, name), Hash: kit.HashOf(file), Size: size, Open: open}, nil
}

// plansOf says how pictures will lie on sheets, and the sheets' files. Nothing is written.
func plansOf(w toPack) (plans []sheet.Plan, names []string, err error) {
	sources := make([]sheet.Source, len(w.files))
	var all errgroup.Group
	all.SetLimit(runtime.NumCPU())
	for i, name := range w.files {
		all.Go(func() (err error) {
			sources[i], err = source(w.to, name)
			return err
		})
	}
	if err := all.Wait(); err != nil {
		return nil, nil, err
	}
	if plans, err = w.packing.Pack().Plan(sources); err != nil {
		return nil, nil, refused("%w", err)
	}
	names = sheet.Names(w.to, len(plans))
	for _, name := range names {
		if err := mayWrite(name); err != nil {
			return nil, nil, err
		}
	}
	return plans, names, nil
}

// packSheets packs pictures, and writes the sheets with their lists.
func packSheets(w toPack) (written []sheet.Packed, names []string, err error) {
	plans, names, err := plansOf(w)
	if err != nil {
		return nil, nil, err
	}
	former, _ := formerSheets(w.to)
	written = make([]sheet.Packed, len(plans))
	lists := make([]sheet.List, len(plans))
	for i, plan := range plans {
		lists[i] = plan.List
	}
	var all errgroup.Group
	all.SetLimit(runtime.NumCPU())
	for i, list := range w.packing.Noted(lists, names) {
		plan := plans[i]
		plan.List = list
		all.Go(func() (err error) {
			written[i], err = writeSheet(plan, former, names[i])
			return err
		})
	}
	return written, names, all.Wait()
}

func (a *app) pack(w toPack) error {
	_, before := formerSheets(w.to)
	written, names, err := packSheets(w)
	var odd *sheet.OddError
	if errors.As(err, &odd) {
		return refused("%w (--fit)", err)
	}
	if err != nil {
		return err
	}
	if err := a.sayPacked(written, names); err != nil {
		return err
	}
	if w.packing.Veil != "" {
		fmt.Fprintf(a.err, "%s stays a picture of its own. Name it in the deck: veil: {file: %s}\n", w.packing.Veil, start.InYAML(w.packing.Veil))
	}
	for _, name := range before {
		if !slices.Contains(names, name) && mayWrite(name) == nil {
			_, _ = os.Remove(name), os.Remove(sheet.ListOf(name))
			fmt.Fprintf(a.err, "%s is needed no more, and was removed.\n", name)
		}
	}
	if len(w.leftOut) > 0 {
		fmt.Fprintf(a.err, "Left out: %s.\n", strings.Join(w.leftOut, ", "))
	}
	return nil
}

// mayWrite refuses to write over a picture that was not packed, or was changed since.
func mayWrite(name string) error {
	file, err := os.ReadFile(name)
	if err != nil {
		return nil // it is not there; what else is wrong is said when it is written
	}
	list, err := readList(name)
	if err != nil {
		return refused("%w", sheet.MayWrite(name, nil, ""))
	}
	if err := sheet.MayWrite(name, &list, kit.HashOf(file)); err != nil {
		return refused("%w", err)
	}
	return nil
}

// formerSheets are the sheets that were packed before, and their files.
func formerSheets(to string) (former []sheet.Former, names []string) {
	names = []string{to}
	if first, err := readList(to); err == nil {
		for _, file := range first.More {
			names = append(names, filepath.Join(filepath.Dir(to), file))
		}
	}
	for _, name := range names {
		list, err := readList(name)
		if err != nil {
			continue
		}
		former = append(former, sheet.Former{List: list, Open: sync.OnceValues(func() (image.Image, error) {
			file, err := os.ReadFile(name)
			if err != nil {
				return nil, err
			}
			return sheet.Read(file)
		})})
	}
	return former, names
}

// writeSheet draws a sheet and writes it with its list.
func writeSheet(plan sheet.Plan, former []sheet.Former, name string) (sheet.Packed, error) {
	packed, err := plan.Draw(former...)
	if err != nil {
		return packed, err
	}
	picture, err := packed.PNG()
	if err != nil {
		return packed, err
	}
	packed.Sheet = nil
	packed.List.Hash = kit.HashOf(picture)
	text, err := packed.List.Write()
	if err != nil {
		return packed, err
	}
	if err = writeWhole(name, picture); err == nil {
		err = writeWhole(sheet.ListOf(name), text)
	}
	if err != nil {
		return packed, refused("the sheet cannot be written: %w", err)
	}
	return packed, nil
}

// writeWhole writes a file so that it is there whole or as it was.
func writeWhole(name string, text []byte) error {
	beside := name + ".part"
	if err := os.WriteFile(beside, text, 0o644); err != nil {
		return err
	}
	return os.Rename(beside, name)
}

// packedSheet is a sheet that was packed, for programs.
type packedSheet struct {
	Sheet string     `json:"sheet"`
	Drawn int        `json:"drawn"`
	List  sheet.List `json:"list"`
}

func (a *app) sayPacked(all []sheet.Packed, names []string) error {
	if a.json {
		sheets := []packedSheet{}
		for i, packed := range all {
			sheets = append(sheets, packedSheet{names[i], packed.Drawn, packed.List})
		}
		return a.printJSON(sheets)
	}
	for i, packed := range all {
		a.printPacked(packed, names[i])
	}
	return nil
}

func (a *app) printPacked(packed sheet.Packed, name string) {
	l := packed.List
	fmt.Fprintf(a.out, "%s: %s, %s, cards of %d × %d pixels", name, plural(l.Count, "card"), l.Grid().InCells(), l.Card[0], l.Card[1])
	fmt.Fprintf(a.out, "; %d drawn, %d as they were.\n", packed.Drawn, len(l.Sources)-packed.Drawn)
	if l.Scale < 1 {
		fmt.Fprintf(a.out, "  the cards are scaled to %.0f %%, so that the sheet has at most %d pixels a side (--longest, --columns, --rows)\n", l.Scale*100, cmp.Or(l.Packing.Longest, sheet.DefaultLongest))
	}
	for _, s := range l.Sources {
		if s.Turned {
			fmt.Fprintf(a.out, "  cell %d: %s lay on its side and was turned\n", s.Cell, s.File)
		}
	}
}
