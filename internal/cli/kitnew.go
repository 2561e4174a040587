package cli

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/docs"
	"damselfly.example/damselfly/internal/core/kit/start"
	"damselfly.example/damselfly/internal/core/sheet"
)

// schemaFile stands beside kit.yaml, so that editors complete and check it. It is hidden,
// and so no part of the kit.
const schemaFile = ".kit.schema.json"

func (a *app) kitNew() *cobra.Command {
	var name string
	var seats int
	cmd := &cobra.Command{
		Use:   "new FOLDER [FILE|PICTURES …]",
		Short: "Make a good start for a kit, from sheets, pictures or a table file if given",
		Long: "Make a folder with a kit.yaml to go on from, its lines explained. Sheets that are given have a deck each, a table\n" +
			"file (CSV or spreadsheet) has a deck with a layout. A folder of pictures of one card each, or several such pictures,\n" +
			"are packed to a sheet, and are one deck. Where nothing is given, what lies in the folder already is taken: pictures, table\n" +
			"files and folders of pictures. What is left out (backs, homes, the table) is given sensibly when the kit is made.",
		Example: "  damselfly kit new bogpost birds.png\n  damselfly kit new bogpost pictures/\n  cd art && damselfly kit new .\n  damselfly kit new bogpost letters.csv --name \"Bog Post\" --seats 3",
		Args:    cobra.MinimumNArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			return a.makeKit(args[0], args[1:], name, seats)
		},
	}
	cmd.Flags().StringVar(&name, "name", "", "the kit's name (default: the folder's)")
	cmd.Flags().IntVar(&seats, "seats", 4, "for how many people it is")
	return cmd
}

func (a *app) makeKit(folder string, files []string, name string, seats int) error {
	if stat, err := os.Stat(folder); err == nil && !stat.IsDir() {
		return refused("%s is a file; say first in which folder the kit is to lie: damselfly kit new my-game %s", folder, folder)
	}
	if _, err := os.Stat(filepath.Join(folder, "kit.yaml")); err == nil {
		return refused("%s holds a kit.yaml already; nothing was changed", folder)
	}
	if name == "" {
		name = start.TitleOf(nameOf(folder))
	}
	if len(files) == 0 {
		files = []string{folder}
	}
	lots, err := lotsOf(folder, files)
	if err != nil {
		return err
	}
	begun, err := start.From(lots, func(string) bool { return false })
	if err == nil && len(begun.Faults) > 0 {
		err = begun.Faults[0]
	}
	if err != nil {
		return refused("%w", err)
	}
	for _, l := range begun.Loose { // before anything is written
		_, _, err := plansOf(toPackOf(l, folder, begun.From))
		var odd *sheet.OddError
		if errors.As(err, &odd) {
			return refused("%w: damselfly sheet pack FOLDER --fit, and begin the kit with the sheet", err)
		}
		if err != nil {
			return err
		}
	}
	manifest := append([]byte("# yaml-language-server: $schema="+schemaFile+"\n"), begun.Manifest(name, seats)...)
	if err := writeKit(folder, begun.From); err != nil {
		return err
	}
	notes := begun.Notes
	for _, l := range begun.Loose {
		written, names, err := packSheets(toPackOf(l, folder, nil))
		if err != nil {
			return err
		}
		notes = append(notes, packedNotes(l, folder, begun.From, written, names)...)
	}
	for name, text := range map[string][]byte{schemaFile: docs.KitSchema, "kit.yaml": manifest} {
		if err := writeWhole(filepath.Join(folder, name), text); err != nil {
			return refused("%w", err)
		}
	}
	file := filepath.Join(folder, "kit.yaml")
	said := ""
	for _, note := range notes {
		said += note + "\n"
	}
	return a.done(map[string]any{"file": file, "notes": append([]string{}, notes...)}, "%sMade %s. Look it over with \"damselfly kit check %s\", put it on the shelf with \"damselfly kit put %s\".",
		said, file, folder, folder)
}

// packedNotes say what was packed of loose pictures.
func packedNotes(l start.Loose, folder string, from map[string]string, written []sheet.Packed, names []string) (notes []string) {
	notes = append(notes, fmt.Sprintf("%s: %s packed to %s.", l.Folder, plural(len(l.Files), "picture"), strings.Join(baseNames(names), ", ")))
	for _, packed := range written {
		for _, s := range packed.List.Sources {
			if s.Turned {
				notes = append(notes, fmt.Sprintf("  %s lay on its side and was turned.", s.File))
			}
		}
	}
	if outside, is := from[l.Files[0]]; is && sameFile(filepath.Dir(outside), folder) {
		notes = append(notes, fmt.Sprintf("Pictures of one card each were copied to %s/, and are packed from there; those beside kit.yaml are no longer needed.", l.Folder))
	}
	return notes
}

func baseNames(names []string) (bases []string) {
	for _, name := range names {
		bases = append(bases, filepath.Base(name))
	}
	return bases
}
