package cli

import (
	"errors"
	"fmt"
	"image"
	"image/png"
	"io/fs"
	"math"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"
	"github.com/spf13/pflag"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/sheet"
)

func (a *app) sheet() *cobra.Command {
	cmd := &cobra.Command{Use: "sheet", Short: "Pack, check, cut and compare sheets of cards"}
	cmd.AddCommand(a.sheetCheck(), a.sheetCut(), a.sheetPack(), a.sheetBlank(), a.sheetCompare())
	return cmd
}

// gridFlags are the options that say how a sheet is cut.
func gridFlags(flags *pflag.FlagSet, g *sheet.Grid) {
	flags.IntVar(&g.Columns, "columns", 0, "columns of the sheet (default: of its list, or guessed)")
	flags.IntVar(&g.Rows, "rows", 0, "rows of the sheet (default: of its list, or guessed)")
	flags.Var(&g.Margin, "margin", "`pixels` around all cells: one number, or left,top,right,bottom")
	flags.Var(&g.Gutter, "gutter", "`pixels` between two cells: one number, or across,down")
	flags.IntVar(&g.Count, "count", 0, "how many cells hold cards (default: as many as have content)")
}

// look reads a sheet and looks it over, with the numbers of its list if there is
// one and none are given.
func look(name string, g sheet.Grid) (picture image.Image, report sheet.Report, guessed bool, err error) {
	file, err := os.ReadFile(name)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, report, false, refused("there is no file %s", name)
	}
	if isFolder(name) {
		return nil, report, false, refused("%s is a folder; name one picture in it, or pack all of them: damselfly sheet pack %s", name, name)
	}
	if err != nil {
		return nil, report, false, refused("the sheet cannot be read: %w", err)
	}
	guessed = g.Columns == 0 || g.Rows == 0
	if text, err := os.ReadFile(sheet.ListOf(name)); g == (sheet.Grid{}) && err == nil {
		list, err := sheet.ReadList(text)
		if err != nil {
			return nil, report, false, refused("%s: %w", sheet.ListOf(name), err)
		}
		g, guessed = list.Grid(), false
	}
	picture, report, err = sheet.Look(file, g)
	if err != nil {
		return nil, report, guessed, refused("%s: %w", name, err)
	}
	return picture, report, guessed, nil
}

func (a *app) sheetCheck() *cobra.Command {
	var g sheet.Grid
	var marked, backs, upright string
	cmd := &cobra.Command{
		Use:   "check FILE",
		Short: "Look a sheet over before it becomes cards",
		Long: "Look a sheet over before it becomes cards: which cells have content, which are empty, and what looks wrong.\n" +
			"Columns and rows are guessed if they are not given. Needs no service. Exits with 3 if there are warnings.",
		Example: "  damselfly sheet check weather.png\n  damselfly sheet check weather.png --columns 4 --rows 4 --marked marked.png\n  damselfly sheet check scan.jpg --upright scan-upright.png",
		Args:    cobra.ExactArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			picture, report, guessed, err := look(args[0], g)
			if err != nil {
				return err
			}
			if upright != "" {
				return a.turnUpright(args[0], picture, report, upright)
			}
			if backs != "" {
				_, back, _, err := look(backs, sheet.Grid{Columns: report.Grid.Columns, Rows: report.Grid.Rows, Margin: report.Grid.Margin, Gutter: report.Grid.Gutter})
				if err != nil {
					return err
				}
				report.Warnings = append(report.Warnings, sheet.Backs(report, back)...)
			}
			if a.json {
				err = a.printJSON(report)
			} else {
				a.printCheck(args[0], report, guessed)
			}
			if err == nil && marked != "" {
				err = writePNG(marked, sheet.Marked(picture, report))
			}
			if report.Askew != 0 && err == nil {
				return refused("the picture lies askew; turn it upright with --upright FILE, and look that over")
			}
			if n := len(report.Problems()); n > 0 && err == nil {
				return refused("%s; look at the cells named above, and at --columns, --rows, --margin and --gutter; --marked draws the cuts", plural(n, "warning"))
			}
			return err
		},
	}
	gridFlags(cmd.Flags(), &g)
	cmd.Flags().StringVar(&marked, "marked", "", "write a PNG with the cuts, empty cells greyed and warnings pinned")
	cmd.Flags().StringVar(&backs, "backs", "", "the sheet of backs that belongs to it")
	cmd.Flags().StringVar(&upright, "upright", "", "write a scan that lies askew turned upright, as a PNG")
	return cmd
}

// turnUpright writes a picture that lies askew turned upright.
func (a *app) turnUpright(name string, picture image.Image, report sheet.Report, to string) error {
	if report.Askew == 0 {
		return refused("%s lies upright, or nobody can tell, so nothing was written", name)
	}
	if err := writePNG(to, sheet.Upright(picture, report.Askew)); err != nil {
		return err
	}
	return a.done(map[string]any{"askew": report.Askew, "file": to}, "%s lay askew by %.1f degrees; %s is upright. Look it over next: damselfly sheet check %s", name, math.Abs(report.Askew), to, to)
}

func writePNG(name string, picture image.Image) error {
	file, err := os.Create(name)
	if err != nil {
		return refused("the picture cannot be written: %w", err)
	}
	if err := png.Encode(file, picture); err != nil {
		_ = file.Close()
		return err
	}
	return file.Close()
}

func (a *app) sheetCut() *cobra.Command {
	var g sheet.Grid
	var to string
	var despite bool
	cmd := &cobra.Command{
		Use:   "cut FILE",
		Short: "Cut a sheet to a picture of each card",
		Long: "Cut a sheet to a picture of each card with content, named by its cell. A sheet that looks wrong is not cut,\n" +
			"unless --despite-warnings is given.",
		Example: "  damselfly sheet cut weather.png --to cards/",
		Args:    cobra.ExactArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			picture, report, guessed, err := look(args[0], g)
			if err != nil {
				return err
			}
			if problems := report.Problems(); len(problems) > 0 && !despite {
				if !a.json {
					a.printCheck(args[0], report, guessed)
				}
				return refused("%s, so nothing was cut; give the right --columns, --rows, --margin and --gutter, or cut --despite-warnings", plural(len(problems), "warning"))
			}
			if to == "" {
				to = strings.TrimSuffix(args[0], filepath.Ext(args[0]))
			}
			if err := os.MkdirAll(to, 0o755); err != nil {
				return refused("the folder cannot be made: %w", err)
			}
			step := a.stepwise("cutting")
			files := []string{}
			for _, c := range report.Cells {
				if c.Empty || c.Beyond {
					continue
				}
				name := filepath.Join(to, fmt.Sprintf("cell-%02d.png", c.Number))
				if step != nil {
					step(name, c.Number, len(report.Cells))
				}
				if err := writePNG(name, sheet.Cut(picture, report.Grid, c.Number)); err != nil {
					return err
				}
				files = append(files, name)
			}
			for _, note := range report.Notes {
				fmt.Fprintln(a.err, note)
			}
			return a.done(map[string]any{"grid": report.Grid, "files": files, "notes": report.Notes},
				"Cut %s from %s into %s.", plural(len(files), "card"), report.Grid.Words(), to)
		},
	}
	gridFlags(cmd.Flags(), &g)
	cmd.Flags().StringVar(&to, "to", "", "folder for the cards (default: named as the sheet)")
	cmd.Flags().BoolVar(&despite, "despite-warnings", false, "cut although something looks wrong")
	return cmd
}

func (a *app) sheetCompare() *cobra.Command {
	var before, after sheet.Grid
	cmd := &cobra.Command{
		Use:     "compare BEFORE AFTER",
		Short:   "Say which cards differ between two sheets",
		Example: "  damselfly sheet compare letters-old.png letters.png",
		Args:    cobra.ExactArgs(2),
		RunE: func(_ *cobra.Command, args []string) error {
			old, was, _, err := look(args[0], before)
			if err != nil {
				return err
			}
			newer, is, _, err := look(args[1], after)
			if err != nil {
				return err
			}
			differences := sheet.Compare(old, newer, was.Grid, is.Grid)
			if a.json {
				return a.printJSON(map[string]any{"differences": differences})
			}
			rows := [][]string{}
			for _, d := range differences {
				rows = append(rows, []string{d.What, cellOrNone(d.Before), cellOrNone(d.After)})
			}
			a.printTable("The cards are the same.", []string{"card", "cell before", "cell after"}, rows)
			return nil
		},
	}
	gridFlags(cmd.Flags(), &after)
	cmd.Flags().IntVar(&before.Columns, "before-columns", 0, "columns of the former sheet (default: of its list, or guessed)")
	cmd.Flags().IntVar(&before.Rows, "before-rows", 0, "rows of the former sheet (default: of its list, or guessed)")
	cmd.Flags().Var(&before.Margin, "before-margin", "`pixels` around all cells of the former sheet: one number, or left,top,right,bottom")
	cmd.Flags().Var(&before.Gutter, "before-gutter", "`pixels` between two cells of the former sheet: one number, or across,down")
	return cmd
}

func cellOrNone(cell int) string {
	if cell == 0 {
		return "–"
	}
	return fmt.Sprint(cell)
}

func (a *app) card() *cobra.Command {
	cmd := &cobra.Command{Use: "card", Short: "Draw cards by a kit's layouts"}
	var kitName, to, side string
	drawCmd := &cobra.Command{
		Use:     "draw DECK CARD",
		Short:   "Draw one card of a deck from its row and layout to a PNG",
		Long:    "Draw one card of a deck from its row and layout to a PNG. CARD is a card's key, its name, or its row in the table file.",
		Example: "  damselfly card draw letters \"A spare key\" --kit marshpost/ --to key.png",
		Args:    cobra.ExactArgs(2),
		RunE: func(_ *cobra.Command, args []string) error {
			k, err := openKit(kitName)
			if err != nil {
				return err
			}
			drawn, err := k.DrawCard(args[0], args[1], side)
			if err != nil {
				return refused("%w", err)
			}
			if to == "" {
				to = deck.KeyFrom(args[1], "sheet") + ".png"
			}
			if err := writePNG(to, drawn.Picture); err != nil {
				return err
			}
			if !a.json {
				for _, problem := range drawn.Problems {
					fmt.Fprintln(a.err, "  "+problem)
				}
			}
			size := drawn.Picture.Rect.Size()
			if err := a.done(map[string]any{"file": to, "width": size.X, "height": size.Y, "warnings": drawn.Problems}, "Drew %s, %d × %d pixels.", to, size.X, size.Y); err != nil {
				return err
			}
			if len(drawn.Problems) > 0 {
				return refused("%s", plural(len(drawn.Problems), "warning"))
			}
			return nil
		},
	}
	drawCmd.Flags().StringVar(&kitName, "kit", ".", "the kit's folder or zip")
	drawCmd.Flags().StringVar(&to, "to", "", "file to write (default: named as the card)")
	drawCmd.Flags().StringVar(&side, "side", "front", "front or back")
	cmd.AddCommand(drawCmd)
	return cmd
}
