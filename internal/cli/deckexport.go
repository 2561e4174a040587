package cli

import (
	"image"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/sheet"
)

func (a *app) deckExport() *cobra.Command {
	var kitName, to string
	cmd := &cobra.Command{
		Use: "export DECK", Short: "Write a deck as a table file or as a sheet of its finished cards",
		Long: "Write a deck as a table file, one row a card: the very file it was made from, or for other decks a new one. A name that\n" +
			"ends with .xlsx gives a spreadsheet. One that ends with .png gives a sheet of the finished cards, each once, with a list of\n" +
			"what is where beside it, and their back, or a sheet of their backs.",
		Example: "  damselfly deck export letters --kit marshpost/ --to letters.csv\n  damselfly deck export letters --kit marshpost/ --to letters.png",
		Args:    cobra.ExactArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			if to == "" {
				to = args[0] + ".csv"
			}
			if strings.EqualFold(filepath.Ext(to), ".png") {
				return a.exportSheet(kitName, args[0], to)
			}
			return a.exportRows(kitName, args[0], to)
		},
	}
	cmd.Flags().StringVar(&kitName, "kit", ".", "the kit's folder or zip")
	cmd.Flags().StringVar(&to, "to", "", "file to write, .csv, .xlsx or .png (default: DECK.csv)")
	return cmd
}

func (a *app) exportRows(kitName, key, to string) error {
	rows, err := a.exported(kitName, key)
	if err != nil {
		return err
	}
	text := rows.WriteCSV()
	if strings.EqualFold(filepath.Ext(to), ".xlsx") {
		if text, err = rows.WriteSpreadsheet(); err != nil {
			return err
		}
	}
	if err := os.WriteFile(to, text, 0o644); err != nil {
		return refused("the table file cannot be written: %w", err)
	}
	return a.done(written{to, len(text)}, "Wrote %s, %s.", to, plural(len(rows.Cells), "row"))
}

// exported are the rows of a deck.
func (a *app) exported(kitName, key string) (*deck.Rows, error) {
	k, err := openKit(kitName)
	if err != nil {
		return nil, err
	}
	if file := k.Decks[key].Rows; file != "" {
		rows, err := k.TableFile(file)
		if err != nil {
			return nil, refused("%w", err)
		}
		return rows, nil
	}
	result, err := a.lookKit(kitName, named)
	if err != nil {
		return nil, err
	}
	d, err := deckNamed(result.Edition.Decks, key)
	if err != nil {
		return nil, err
	}
	return d.Rows(), nil
}

// exportSheet writes the fronts of a deck as a sheet, and its backs as another, or as one picture where they are alike.
func (a *app) exportSheet(kitName, key, to string) error {
	d, pictures, err := a.drawableDeck(kitName, key)
	if err != nil {
		return err
	}
	var fronts, backs []sheet.Source
	alike := map[string]bool{}
	for _, c := range d.Copies {
		design := d.Designs[c.Design]
		for _, side := range []struct {
			all  *[]sheet.Source
			name string
		}{{&fronts, design.Front.Full}, {&backs, design.Back.Full}} {
			picture, err := pictures.picture(side.name)
			if err != nil {
				return refused("%w", err)
			}
			*side.all = append(*side.all, sheet.Source{
				File: c.Design + ".png", Hash: side.name, Size: picture.Bounds().Size(), Open: func() (image.Image, error) { return picture, nil },
			})
		}
		alike[design.Back.Full] = true
	}
	backsTo := strings.TrimSuffix(to, filepath.Ext(to)) + "-backs" + filepath.Ext(to)
	if len(alike) == 1 {
		backs = backs[:1]
	}
	var files []string
	for _, one := range []struct {
		to   string
		from []sheet.Source
	}{{to, fronts}, {backsTo, backs}} {
		names, err := writeSheets(one.from, one.to)
		if err != nil {
			return err
		}
		files = append(files, names...)
	}
	return a.done(map[string]any{"files": files, "cards": len(fronts)}, "Wrote %s: %s, and %s.", strings.Join(files, ", "), plural(len(fronts), "card"), plural(len(backs), "back"))
}

// writeSheets packs pictures to a sheet, or to several where one does not hold them.
func writeSheets(from []sheet.Source, to string) (names []string, err error) {
	packing := sheet.Packing{Fit: true}
	plans, err := packing.Pack().Plan(from)
	if err != nil {
		return nil, refused("%w", err)
	}
	names = sheet.Names(to, len(plans))
	lists := make([]sheet.List, len(plans))
	for i, plan := range plans {
		if err := mayWrite(names[i]); err != nil {
			return nil, err
		}
		lists[i] = plan.List
	}
	for i, list := range packing.Noted(lists, names) {
		plans[i].List = list
		if _, err := writeSheet(plans[i], nil, names[i]); err != nil {
			return nil, err
		}
	}
	return names, nil
}
