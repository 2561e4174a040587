package cli

import (
	"fmt"
	"image"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/console"
	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/print"
)

func (a *app) sheetBlank() *cobra.Command {
	var b print.Blank
	var card, kitName, of, to string
	cmd := &cobra.Command{
		Use: "blank", Short: "Write a sheet to draw cards into",
		Long: "Write a sheet to draw cards into: numbered cells of the columns, rows and card size that are given, or that a deck of a kit\n" +
			"has. With --bleed there is room around each card that is cut off; --safe is a line within which everything of importance stands.",
		Example: "  damselfly sheet blank --columns 5 --rows 3 --card 750x1050 --bleed 36 --safe 36 --to birds.png\n  damselfly sheet blank --deck letters --kit marshpost/ --to letters-drawn.png",
		Args:    cobra.NoArgs,
		RunE: func(*cobra.Command, []string) error {
			if of != "" {
				if err := a.likeDeck(&b, kitName, of); err != nil {
					return err
				}
			}
			if card != "" {
				if _, err := fmt.Sscanf(card, "%dx%d", &b.Card.X, &b.Card.Y); err != nil {
					return usage("the size of a card is written like 750x1050, in pixels, and not %q", card)
				}
			}
			if b.Columns == 0 || b.Rows == 0 || b.Card == (image.Point{}) {
				return usage("give --columns, --rows and --card, such as --columns 5 --rows 3 --card 750x1050, or a deck with --deck")
			}
			if err := b.Wrong(); err != nil {
				return usage("%w", err)
			}
			if err := mayWrite(to); err != nil {
				return err
			}
			picture, err := b.Draw(&deck.Fonts{Read: console.Font})
			if err != nil {
				return refused("%w", err)
			}
			if err := writePNG(to, picture); err != nil {
				return err
			}
			g, size := b.Grid(), picture.Rect.Size()
			return a.done(map[string]any{"file": to, "width": size.X, "height": size.Y, "grid": g}, "Wrote %s, %d × %d pixels: %s of %d × %d pixels. Draw into its cells; in kit.yaml it is\n  {file: %s, columns: %d, rows: %d, margin: %s, gutter: %s}",
				to, size.X, size.Y, g.InCells(), b.Card.X, b.Card.Y, to, g.Columns, g.Rows, g.Margin, g.Gutter)
		},
	}
	flags := cmd.Flags()
	flags.IntVar(&b.Columns, "columns", 0, "columns of the sheet")
	flags.IntVar(&b.Rows, "rows", 0, "rows of the sheet")
	flags.StringVar(&card, "card", "", "`pixels` of a card, such as 750x1050")
	flags.IntVar(&b.Bleed, "bleed", 0, "`pixels` around each card that are cut off")
	flags.IntVar(&b.Safe, "safe", 0, "`pixels` within its cut where nothing of importance is to stand")
	flags.StringVar(&of, "deck", "", "a deck whose designs fit into it")
	flags.StringVar(&kitName, "kit", ".", "the kit's folder or zip, with --deck")
	flags.StringVar(&to, "to", "blank.png", "file to write")
	return cmd
}

// likeDeck takes from a deck what is not given: as many cells as it has designs, as large as its pictures.
func (a *app) likeDeck(b *print.Blank, kitName, key string) error {
	d, pictures, err := a.drawableDeck(kitName, key)
	if err != nil {
		return err
	}
	first, err := pictures.picture(d.Designs[d.Copies[0].Design].Front.Full)
	if err != nil {
		return refused("%w", err)
	}
	size := first.Bounds().Size()
	plans, err := sheet.Pack{Columns: b.Columns, Rows: b.Rows}.Plan(cellsLike(len(d.Copies), size.Add(image.Pt(2*b.Bleed, 2*b.Bleed))))
	if err != nil {
		return refused("%w", err)
	}
	b.Columns, b.Rows, b.Card = plans[0].List.Columns, plans[0].List.Rows, size
	return nil
}

// cellsLike are as many pictures of one size, to plan a sheet with.
func cellsLike(n int, size image.Point) []sheet.Source {
	all := make([]sheet.Source, n)
	for i := range all {
		all[i] = sheet.Source{File: fmt.Sprint(i), Hash: fmt.Sprint(i), Size: size}
	}
	return all
}
