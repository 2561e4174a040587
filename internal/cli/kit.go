package cli

import (
	"bytes"
	"fmt"
	"io"
	"io/fs"
	"os"
	"strings"

	"github.com/schollz/progressbar/v3"
	"github.com/spf13/cobra"
	"golang.org/x/term"

	"damselfly/client"
	"damselfly/internal/core/kit"
	"damselfly/internal/core/sheet"
	"damselfly/internal/wire"
)

func (a *app) sheet() *cobra.Command {
	cmd := &cobra.Command{Use: "sheet", Short: "Look at sheets of cards"}
	var g sheet.Grid
	check := &cobra.Command{
		Use:   "check FILE",
		Short: "Look a sheet over before it becomes cards",
		Long: "Look a sheet over before it becomes cards: which cells have content, which are empty, and what looks wrong.\n" +
			"Columns and rows are guessed if they are not given. Needs no service. Exits with 3 if there are warnings.",
		Example: "  damselfly sheet check weather.png\n  damselfly sheet check weather.png --columns 4 --rows 4 --json",
		Args:    cobra.ExactArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			file, err := os.ReadFile(args[0])
			if err != nil {
				return refused("the sheet cannot be read: %w", err)
			}
			_, check, err := sheet.Look(file, g)
			if err != nil {
				return refused("%s: %w", args[0], err)
			}
			if a.json {
				err = a.printJSON(check)
			} else {
				a.printCheck(args[0], check, g.Columns == 0)
			}
			if n := len(check.Problems()); n > 0 && err == nil {
				return refused("%s; look at the cells named above, and at --columns and --rows", plural(n, "warning"))
			}
			return err
		},
	}
	check.Flags().IntVar(&g.Columns, "columns", 0, "columns of the sheet (default: guessed)")
	check.Flags().IntVar(&g.Rows, "rows", 0, "rows of the sheet (default: guessed)")
	check.Flags().IntVar(&g.Margin, "margin", 0, "pixels around all cells")
	check.Flags().IntVar(&g.Gutter, "gutter", 0, "pixels between two cells")
	cmd.AddCommand(check)
	return cmd
}

func (a *app) kit() *cobra.Command {
	cmd := &cobra.Command{Use: "kit", Short: "Put kits on the shelf"}
	cmd.AddCommand(a.kitPut(), a.kitCheck(), a.kitList())
	return cmd
}

func (a *app) kitPut() *cobra.Command {
	var despite bool
	cmd := &cobra.Command{
		Use:   "put FOLDER|ZIP",
		Short: "Put a kit on the shelf, or its next edition",
		Long: "Put a kit on the shelf, or its next edition if one of its name is there. All of it is kept, or nothing.\n" +
			"A kit that looks wrong is not kept, unless --despite-warnings is given.",
		Example: "  damselfly kit put marshpost/\n  damselfly kit put marshpost.zip --json",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			zip, err := readKit(args[0])
			if err != nil {
				return err
			}
			maker, err := a.maker()
			if err != nil {
				return err
			}
			put, err := maker.PutKit(cmd.Context(), a.progress(zip, "putting "+args[0]), int64(len(zip)), despite)
			if p, ok := err.(*client.Problem); ok && !a.json && len(p.Details) > 1 {
				for _, detail := range p.Details {
					fmt.Fprintln(a.err, "  "+detail)
				}
				return refused("%s%s", p.Title, hint(p.Code))
			}
			if err != nil {
				return err
			}
			if a.json {
				return a.printJSON(put)
			}
			a.printPut(put)
			return nil
		},
	}
	cmd.Flags().BoolVar(&despite, "despite-warnings", false, "keep the kit although something looks wrong")
	return cmd
}

func hint(code string) string {
	if code == "kit-looks-wrong" {
		return " (--despite-warnings)"
	}
	return ""
}

func (a *app) kitCheck() *cobra.Command {
	return &cobra.Command{
		Use:     "check FOLDER|ZIP",
		Short:   "Look a kit over without a service",
		Example: "  damselfly kit check marshpost/",
		Args:    cobra.ExactArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			result, err := checkKit(args[0])
			if err != nil {
				return err
			}
			if a.json {
				return a.printJSON(map[string]any{"decks": wire.Sizes(result.Made), "warnings": result.Warnings})
			}
			for _, w := range result.Warnings {
				fmt.Fprintln(a.err, "  "+w)
			}
			if n := len(result.Warnings); n > 0 {
				return refused("%s; nothing was changed", plural(n, "warning"))
			}
			fmt.Fprintf(a.out, "%s looks right: %s.\n", result.Made.Name, decks(wire.Sizes(result.Made)))
			return nil
		},
	}
}

func checkKit(name string) (*kit.Result, error) {
	zip, err := readKit(name)
	if err != nil {
		return nil, err
	}
	folder, err := kit.OpenZip(zip)
	if err != nil {
		return nil, refused("%w", err)
	}
	k, err := kit.Read(folder)
	if err != nil {
		return nil, refused("%w", err)
	}
	result, err := k.Make(kit.Making{})
	if err != nil {
		return nil, refused("%w", err)
	}
	return result, nil
}

func (a *app) kitList() *cobra.Command {
	return &cobra.Command{
		Use: "list", Short: "List your kits", Example: "  damselfly kit list", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			maker, err := a.maker()
			if err != nil {
				return err
			}
			kits, err := maker.Kits(cmd.Context())
			if err != nil {
				return err
			}
			if a.json {
				return a.printJSON(kits)
			}
			rows := [][]string{}
			for _, k := range kits {
				rows = append(rows, []string{k.Name, fmt.Sprint(k.Edition), when(k.At), k.ID})
			}
			a.printTable("You have no kits yet. Put one with \"damselfly kit put FOLDER\".", []string{"kit", "edition", "put", "id"}, rows)
			return nil
		},
	}
}

// readKit reads a zip, or zips a folder.
func readKit(name string) ([]byte, error) {
	stat, err := os.Stat(name)
	if err != nil {
		return nil, refused("the kit cannot be read: %w", err)
	}
	if !stat.IsDir() {
		return os.ReadFile(name)
	}
	if _, err := fs.Stat(os.DirFS(name), "kit.yaml"); err != nil {
		return nil, refused("%s holds no kit.yaml; the format is described in docs/kit.md", strings.TrimSuffix(name, "/"))
	}
	var zip bytes.Buffer
	if err := kit.Zip(os.DirFS(name), &zip); err != nil {
		return nil, refused("%w", err)
	}
	return zip.Bytes(), nil
}

// progress shows how much of an upload was read, if there is somebody to see it.
func (a *app) progress(text []byte, what string) io.Reader {
	file, ok := a.err.(*os.File)
	if !ok || a.json || !term.IsTerminal(int(file.Fd())) {
		return bytes.NewReader(text)
	}
	bar := progressbar.NewOptions(len(text), progressbar.OptionSetWriter(a.err), progressbar.OptionSetDescription(what),
		progressbar.OptionShowBytes(true), progressbar.OptionSetWidth(24), progressbar.OptionOnCompletion(func() { fmt.Fprintln(a.err) }))
	reader := progressbar.NewReader(bytes.NewReader(text), bar)
	return &reader
}
