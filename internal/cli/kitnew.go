package cli

import (
	"bytes"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/docs"
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
		name = titleOf(nameOf(folder))
	}
	k := kitStart{folder: folder, from: map[string]string{}}
	if len(files) == 0 {
		files = []string{folder}
	}
	if err := k.begin(files); err != nil {
		return err
	}
	for _, l := range k.loose { // before anything is written
		_, _, err := plansOf(l.toPack(folder, k.from))
		var odd *sheet.OddError
		if errors.As(err, &odd) {
			return refused("%w: damselfly sheet pack FOLDER --fit, and begin the kit with the sheet", err)
		}
		if err != nil {
			return err
		}
	}
	var out bytes.Buffer
	fmt.Fprintf(&out, "# yaml-language-server: $schema=%s\n# A kit: everything to play one game. docs/kit.md tells all that can stand here.\nkit: 1\nname: %q\nabout: \"\" # a sentence for the shelf\nseats: %d\n", schemaFile, name, seats)
	section(&out, "sheets", "pictures that hold a grid of cards; margin and gutter are pixels", &k.sheets, "  # birds: {file: birds.png, columns: 5, rows: 4}\n")
	section(&out, "layouts", "where the columns of a table file go on a card, in pixels", &k.layouts, "")
	section(&out, "decks", "what each card is and how often it is there; without a back it gets a plain one, without a home a pile", &k.decks, "  # birds: {sheet: birds}\n")
	out.WriteString("\n# The table is laid by itself: the decks' piles, and a hand for each seat. Arrange it in a room or at the bench,\n# and keep it, to have it stand here.\n")
	if err := k.write(folder); err != nil {
		return err
	}
	for _, l := range k.loose {
		written, names, err := packSheets(l.toPack(folder, nil))
		if err != nil {
			return err
		}
		k.say("%s: %s packed to %s.", l.folder, plural(len(l.names), "picture"), strings.Join(baseNames(names), ", "))
		for _, notes := range written {
			for _, s := range notes.List.Sources {
				if s.Turned {
					k.say("  %s lay on its side and was turned.", s.File)
				}
			}
		}
	}
	for name, text := range map[string][]byte{schemaFile: docs.KitSchema, "kit.yaml": out.Bytes()} {
		if err := writeWhole(filepath.Join(folder, name), text); err != nil {
			return refused("%w", err)
		}
	}
	file := filepath.Join(folder, "kit.yaml")
	said := k.said.String()
	return a.done(map[string]any{"file": file, "notes": strings.FieldsFunc(said, func(r rune) bool { return r == '\n' })}, "%sMade %s. Look it over with \"damselfly kit check %s\", put it on the shelf with \"damselfly kit put %s\".",
		said, file, folder, folder)
}

func baseNames(names []string) (bases []string) {
	for _, name := range names {
		bases = append(bases, filepath.Base(name))
	}
	return bases
}

// section writes a part of kit.yaml with what it is for; without anything in it an example
// stands there as a comment.
func section(out *bytes.Buffer, name, about string, lines *bytes.Buffer, example string) {
	switch {
	case lines.Len() > 0:
		fmt.Fprintf(out, "\n# %s%s\n%s:\n%s", strings.ToUpper(about[:1]), about[1:], name, lines.String())
	case example != "":
		fmt.Fprintf(out, "\n# %s%s\n# %s:\n%s", strings.ToUpper(about[:1]), about[1:], name, example)
	}
}

func titleOf(name string) string {
	name = strings.TrimSpace(strings.NewReplacer("-", " ", "_", " ").Replace(name))
	if name == "" || name == "." {
		return "My game"
	}
	first, size := utf8.DecodeRuneInString(name)
	return string(unicode.ToUpper(first)) + name[size:]
}
