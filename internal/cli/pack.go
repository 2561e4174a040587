package cli

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"image"
	"image/png"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/internal/core/sheet"
)

func (a *app) sheetPack() *cobra.Command {
	var p sheet.Packing
	var to string
	cmd := &cobra.Command{
		Use:   "pack FOLDER|FILE…|SHEET",
		Short: "Pack loose pictures to a sheet, or pack a sheet again",
		Long: "Pack loose pictures to one sheet, or several if the cards would become too small. The size of the cards is read off the\n" +
			"pictures; those that lie on their side are turned. A small list is written beside the sheet: the numbers to cut it by, and\n" +
			"what it was packed from. Given such a sheet alone, it is packed again, and only what changed is drawn.",
		Example: "  damselfly sheet pack errands/ --to errands.png\n  damselfly sheet pack errands.png        # again, after a change",
		Args:    cobra.MinimumNArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			files, err := a.packed(args, &p, &to)
			if err != nil {
				return err
			}
			return a.pack(files, p, to)
		},
	}
	flags := cmd.Flags()
	flags.StringVar(&to, "to", "", "the sheet to write (default: named as the folder)")
	flags.IntVar(&p.Columns, "columns", 0, "columns of the sheet (default: chosen to fill well)")
	flags.IntVar(&p.Rows, "rows", 0, "rows of the sheet (default: chosen to fill well)")
	flags.StringVar(&p.Lie, "lie", "", "upright or landscape (default: as most pictures lie)")
	flags.BoolVar(&p.Fit, "fit", false, "fit pictures of another shape into the card, with a rim")
	flags.IntVar(&p.Longest, "longest", 0, fmt.Sprintf("pixels of the sheet's longest side at most (default %d)", sheet.DefaultLongest))
	flags.StringVar(&p.Veil, "veil", "", "picture for the last cell: what others see of a hidden card")
	return cmd
}

// packed finds the pictures to pack: the files given, those of a folder, or those
// that a packed sheet's list names, with what was asked for then.
func (a *app) packed(args []string, p *sheet.Packing, to *string) (files []string, err error) {
	if p.Lie != "" && p.Lie != "upright" && p.Lie != "landscape" {
		return nil, usage("--lie is upright or landscape, not %q", p.Lie)
	}
	if stat, err := os.Stat(args[0]); len(args) == 1 && err == nil && stat.IsDir() {
		if *to == "" {
			*to = strings.TrimRight(args[0], "/") + ".png"
		}
		p.Folder = relative(*to, args[0])
		return pictures(args[0])
	}
	if text, err := os.ReadFile(listOf(args[0])); len(args) == 1 && err == nil && *to == "" {
		list, err := sheet.ReadList(text)
		if err != nil {
			return nil, refused("%s: %w", listOf(args[0]), err)
		}
		*p, *to = list.Packing, args[0]
		beside := filepath.Dir(args[0])
		if p.Folder != "" {
			return pictures(filepath.Join(beside, p.Folder))
		}
		for _, s := range list.Sources {
			if s.Cell != list.Veil {
				files = append(files, filepath.Join(beside, s.File))
			}
		}
		return files, nil
	}
	if *to == "" {
		return nil, usage("say which sheet to write with --to")
	}
	return args, nil
}

// relative is a path as seen from the folder of a file.
func relative(from, path string) string {
	if rel, err := filepath.Rel(filepath.Dir(from), path); err == nil {
		return filepath.ToSlash(rel)
	}
	return filepath.ToSlash(path)
}

// pictures lists the pictures of a folder by name.
func pictures(folder string) (files []string, err error) {
	entries, err := os.ReadDir(folder)
	if err != nil {
		return nil, refused("the folder cannot be read: %w", err)
	}
	for _, e := range entries {
		if isPicture(e.Name()) {
			files = append(files, filepath.Join(folder, e.Name()))
		}
	}
	if len(files) == 0 {
		return nil, refused("%s holds no pictures (PNG, JPEG, GIF or WebP)", folder)
	}
	slices.SortFunc(files, func(a, b string) int { return sheet.CompareNames(filepath.Base(a), filepath.Base(b)) })
	return files, nil
}

// isPicture tells from a file's name whether it is a picture that can be read.
func isPicture(name string) bool {
	return slices.Contains([]string{".png", ".jpg", ".jpeg", ".gif", ".webp"}, strings.ToLower(filepath.Ext(name)))
}

// source makes a picture's file a source; it is decoded for its size and again only
// if it has to be drawn.
func source(to, name string) (sheet.Source, error) {
	file, err := os.ReadFile(name)
	if err != nil {
		return sheet.Source{}, refused("the picture cannot be read: %w", err)
	}
	open := func() (image.Image, error) {
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
	sum := sha256.Sum256(file)
	return sheet.Source{File: relative(to, name), Hash: hex.EncodeToString(sum[:]), Size: size, Open: open}, nil
}

func (a *app) pack(files []string, p sheet.Packing, to string) error {
	var sources []sheet.Source
	for _, name := range files {
		s, err := source(to, name)
		if err != nil {
			return err
		}
		sources = append(sources, s)
	}
	pack := sheet.Pack{Columns: p.Columns, Rows: p.Rows, Lie: p.Lie, Fit: p.Fit, Longest: p.Longest}
	if p.Veil != "" {
		veil, err := source(to, p.Veil)
		if err != nil {
			return err
		}
		pack.Veil = &veil
	}
	sheets, err := pack.Sheets(sources, former(to)...)
	var odd *sheet.OddError
	if errors.As(err, &odd) {
		return refused("%w (--fit)", err)
	}
	if err != nil {
		return refused("%w", err)
	}
	for i, one := range sheets {
		one.List.Packing = p
		if err := a.keepPacked(one, sheetName(to, i)); err != nil {
			return err
		}
	}
	return nil
}

// sheetName is the file of one of several sheets: errands.png, errands-2.png.
func sheetName(to string, i int) string {
	if i == 0 {
		return to
	}
	return fmt.Sprintf("%s-%d%s", strings.TrimSuffix(to, filepath.Ext(to)), i+1, filepath.Ext(to))
}

// former reads sheets that were packed before, as far as they are there.
func former(to string) (all []sheet.Packed) {
	for i := 0; ; i++ {
		name := sheetName(to, i)
		text, err := os.ReadFile(listOf(name))
		if err != nil {
			return all
		}
		list, err := sheet.ReadList(text)
		if err != nil {
			return all
		}
		file, err := os.ReadFile(name)
		if err != nil {
			return all
		}
		picture, err := sheet.Read(file)
		if err != nil {
			return all
		}
		all = append(all, sheet.Packed{List: list, Sheet: sheet.NRGBA(picture)})
	}
}

// keepPacked writes a sheet and its list.
func (a *app) keepPacked(packed sheet.Packed, name string) error {
	var out bytes.Buffer
	if err := png.Encode(&out, packed.Sheet); err != nil {
		return err
	}
	text, err := packed.List.Write()
	if err != nil {
		return err
	}
	for file, bytes := range map[string][]byte{name: out.Bytes(), listOf(name): text} {
		if err := os.WriteFile(file, bytes, 0o644); err != nil {
			var path *fs.PathError
			if errors.As(err, &path) {
				return refused("the sheet cannot be written: %w", err)
			}
			return err
		}
	}
	l := packed.List
	if a.json {
		return a.printJSON(map[string]any{"sheet": name, "drawn": packed.Drawn, "list": l})
	}
	fmt.Fprintf(a.out, "%s: %s, %d columns × %d rows, cards of %d × %d pixels", name, plural(l.Count, "card"), l.Columns, l.Rows, l.Card[0], l.Card[1])
	if l.Scale < 1 {
		fmt.Fprintf(a.out, " (scaled to %.0f %%)", l.Scale*100)
	}
	fmt.Fprintf(a.out, "; %d drawn, %d as they were.\n", packed.Drawn, len(l.Sources)-packed.Drawn)
	for _, s := range l.Sources {
		if s.Turned {
			fmt.Fprintf(a.out, "  cell %d: %s lay on its side and was turned\n", s.Cell, s.File)
		}
	}
	return nil
}
