package cli

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/docs"
	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sheet"
)

// schemaFile stands beside kit.yaml, so that editors complete and check it. It is hidden,
// and so no part of the kit.
const schemaFile = ".kit.schema.json"

func (a *app) kitNew() *cobra.Command {
	var name string
	var seats int
	cmd := &cobra.Command{
		Use:   "new FOLDER [FILE …]",
		Short: "Make a good start for a kit, from sheets, pictures or a table file if given",
		Long: "Make a folder with a kit.yaml to go on from, its lines explained. Pictures that are given become sheets\n" +
			"with a deck each, a table file (CSV or spreadsheet) a deck with a layout. What is left out (backs, homes,\n" +
			"the table) is given sensibly when the kit is made.",
		Example: "  damselfly kit new bogpost birds.png\n  damselfly kit new bogpost letters.csv --name \"Bog Post\" --seats 3",
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
	if _, err := os.Stat(filepath.Join(folder, "kit.yaml")); err == nil {
		return refused("%s holds a kit.yaml already; nothing was changed", folder)
	}
	if name == "" {
		name = titleOf(filepath.Base(filepath.Clean(folder)))
	}
	var sheets, decks, layouts, said bytes.Buffer
	taken := map[string][]byte{}
	var keys []string
	for _, file := range files {
		text, err := os.ReadFile(file)
		if err != nil {
			return refused("%w", err)
		}
		base := filepath.Base(file)
		if _, twice := taken[base]; twice {
			return refused("two files are called %s; give one of them another name", base)
		}
		key := freeKey(deck.KeyFrom(strings.TrimSuffix(base, filepath.Ext(base)), "sheet"), keys)
		keys = append(keys, key)
		taken[base] = text
		if isTable(base) {
			if err := startRows(&decks, &layouts, key, base, text); err != nil {
				return refused("%s: %w", file, err)
			}
			continue
		}
		_, report, err := sheet.Look(text, sheet.Grid{})
		if err != nil {
			return refused("%s: %w", file, err)
		}
		g := report.Grid
		fmt.Fprintf(&decks, "  %s: {sheet: %s}\n", key, key)
		if report.Guesses[0].Confidence < sheet.Sure {
			fmt.Fprintf(&sheets, "  %s: {file: %s} # how many cards lie on it? Such as columns: %d, rows: %d%s\n", key, base, g.Columns, g.Rows, spacing(g))
			fmt.Fprintf(&said, "%s: say in kit.yaml how many columns and rows it has.\n", base)
		} else {
			fmt.Fprintf(&sheets, "  %s: {file: %s, columns: %d, rows: %d%s}\n", key, base, g.Columns, g.Rows, spacing(g))
			fmt.Fprintf(&said, "%s looks like %d columns × %d rows, %d cards.\n", base, g.Columns, g.Rows, report.Content())
		}
		for _, w := range report.Warnings {
			fmt.Fprintf(&said, "  %s\n", w)
		}
	}
	var out bytes.Buffer
	fmt.Fprintf(&out, "# yaml-language-server: $schema=%s\n# A kit: everything to play one game. docs/kit.md tells all that can stand here.\nkit: 1\nname: %q\nabout: \"\" # a sentence for the shelf\nseats: %d\n", schemaFile, name, seats)
	section(&out, "sheets", "pictures that hold a grid of cards; margin and gutter are pixels", &sheets, "  # birds: {file: birds.png, columns: 5, rows: 4}\n")
	section(&out, "layouts", "where the columns of a table file go on a card, in pixels", &layouts, "")
	section(&out, "decks", "what each card is and how often it is there; without a back it gets a plain one, without a home a pile", &decks, "  # birds: {sheet: birds}\n")
	out.WriteString("\n# The table is laid by itself: the decks' piles, and a hand for each seat. Arrange it in a room or at the bench,\n# and keep it, to have it stand here.\n")
	taken["kit.yaml"] = out.Bytes()
	taken[schemaFile] = docs.KitSchema
	if err := os.MkdirAll(folder, 0o755); err != nil {
		return refused("%w", err)
	}
	for base, text := range taken {
		to := filepath.Join(folder, base)
		if _, err := os.Stat(to); err == nil && slices.ContainsFunc(files, func(f string) bool { return sameFile(f, to) }) {
			continue // it lies there already
		}
		if err := os.WriteFile(to, text, 0o644); err != nil {
			return refused("%w", err)
		}
	}
	file := filepath.Join(folder, "kit.yaml")
	return a.done(map[string]any{"file": file, "notes": strings.Split(strings.TrimSpace(said.String()), "\n")}, "%sMade %s. Look it over with \"damselfly kit check %s\", put it on the shelf with \"damselfly kit put %s\".",
		said.String(), file, folder, folder)
}

func sameFile(one, other string) bool {
	a, errA := os.Stat(one)
	b, errB := os.Stat(other)
	return errA == nil && errB == nil && os.SameFile(a, b)
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

func titleOf(name string) string {
	name = strings.TrimSpace(strings.NewReplacer("-", " ", "_", " ").Replace(name))
	if name == "" || name == "." {
		return "My game"
	}
	return strings.ToUpper(name[:1]) + name[1:]
}

func freeKey(like string, taken []string) string {
	key := like
	for n := 2; slices.Contains(taken, key); n++ {
		key = fmt.Sprintf("%s-%d", like, n)
	}
	return key
}

// startRows begins a deck of a table file with a layout: its first column large, the others
// under it.
func startRows(decks, layouts *bytes.Buffer, key, file string, text []byte) error {
	if name, tab := kit.TabOf(file); tab == "" && strings.EqualFold(filepath.Ext(name), ".xlsx") {
		if tabs, err := deck.Tabs(text); err == nil && len(tabs) > 1 { // a table, a deck
			var keys []string
			for _, tab := range tabs {
				of := freeKey(deck.KeyFrom(tab, key), keys)
				if err := startRows(decks, layouts, of, file+"#"+tab, text); err != nil {
					return err
				}
				keys = append(keys, of)
			}
			return nil
		}
	}
	rows, err := kit.ReadRows(file, text)
	if err != nil {
		return err
	}
	if strings.Contains(file, "#") {
		file = strconv.Quote(file)
	}
	fmt.Fprintf(decks, "  %s: {rows: %s, layout: %s}\n", key, file, key)
	fmt.Fprintf(layouts, "  %s:\n    size: [630, 880]\n    front:\n      - {at: [0, 0, 630, 880], fill: \"#f6f2e6\"}\n      - {at: [20, 20, 590, 840], line: 4, colour: \"#47736b\", round: 24}\n", key)
	y := 60
	for i, column := range rows.Header {
		if slices.Contains([]string{deck.ColumnKey, deck.ColumnCopies}, strings.ToLower(column)) || y > 700 {
			continue
		}
		high, size, bold := 110, 40, ""
		if i == 0 || y == 60 {
			high, size, bold = 160, 64, ", bold: true"
		}
		fmt.Fprintf(layouts, "      - {at: [60, %d, 510, %d], text: \"{%s}\", height: %d%s, align: centre, down: middle}\n", y, high, column, size, bold)
		y += high + 20
	}
	return nil
}
