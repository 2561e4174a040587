package cli

import (
	"bytes"
	"fmt"
	"io/fs"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/wire"
)

func (a *app) kit() *cobra.Command {
	cmd := &cobra.Command{Use: "kit", Short: "Put kits on the shelf"}
	cmd.AddCommand(a.kitPut(), a.kitGet(), a.kitCheck(), a.kitList())
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

func (a *app) kitGet() *cobra.Command {
	var to string
	cmd := &cobra.Command{
		Use: "get KIT", Short: "Take a kit away from the shelf as one zip",
		Example: "  damselfly kit get \"Marsh Post\" --to marshpost.zip", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			maker, err := a.maker()
			if err != nil {
				return err
			}
			zip, err := maker.Kit(cmd.Context(), args[0])
			if err != nil {
				return err
			}
			if to == "" {
				to = deck.KeyFrom(args[0]) + ".zip"
			}
			if err := os.WriteFile(to, zip, 0o644); err != nil {
				return refused("the zip cannot be written: %w", err)
			}
			fmt.Fprintf(a.out, "Wrote %s, %d bytes.\n", to, len(zip))
			return nil
		},
	}
	cmd.Flags().StringVar(&to, "to", "", "file to write (default: named as the kit)")
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
			result, err := a.checkKit(args[0])
			if err != nil {
				return err
			}
			if a.json {
				return a.printJSON(map[string]any{"decks": wire.Sizes(result.Edition), "warnings": result.Warnings})
			}
			for _, w := range result.Warnings {
				fmt.Fprintln(a.err, "  "+w)
			}
			if n := len(result.Warnings); n > 0 {
				return refused("%s; nothing was changed", plural(n, "warning"))
			}
			fmt.Fprintf(a.out, "%s looks right: %s.\n", result.Edition.Name, decks(wire.Sizes(result.Edition)))
			return nil
		},
	}
}

func (a *app) checkKit(name string) (*kit.Result, error) {
	k, err := openKit(name)
	if err != nil {
		return nil, err
	}
	result, err := k.Make(kit.Making{Progress: a.stepwise("making " + name)})
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
