package cli

import (
	"bufio"
	"errors"
	"fmt"
	"image"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/client/kits"
	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/service/api"
)

func (a *app) kit() *cobra.Command {
	cmd := &cobra.Command{Use: "kit", Short: "Make kits, and put them on the shelf"}
	cmd.AddCommand(a.kitNew(), a.kitCheck(), a.kitPut(), a.kitWatch(), a.kitList(), a.kitGet(), a.kitCompare(), a.kitRemove(), a.kitRestore())
	return cmd
}

func (a *app) kitPut() *cobra.Command {
	var o kits.Options
	cmd := &cobra.Command{
		Use:   "put FOLDER|ZIP",
		Short: "Put a kit on the shelf, or its next edition",
		Long: "Put a kit on the shelf, or its next edition if one of its name is there. All of it is kept, or nothing.\n" +
			"Files that the service has already are not sent. A kit that looks wrong is not kept, unless\n--despite-warnings is given; before much is sent it is looked over, and you are asked.",
		Example: "  damselfly kit put marshpost/\n  damselfly kit put marshpost/ --note \"One letter redrawn\"\n  damselfly kit put marshpost.zip --json",
		Args:    cobra.ExactArgs(1),
	}
	a.asMaker(cmd, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		folder, err := openFolder(args[0])
		if err != nil {
			return err
		}
		o.Progress = func(name string, text []byte) io.Reader { return a.progress(text, "sending "+name) }
		o.Check = func(bytes int64) (bool, error) { return a.mayPut(args[0], bytes, o.Despite) }
		put, err := kits.PutFolder(cmd.Context(), maker, folder, o)
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
	})
	cmd.Flags().BoolVar(&o.Despite, "despite-warnings", false, "keep the kit although something looks wrong")
	cmd.Flags().StringVar(&o.Note, "note", "", "what is new in this edition")
	cmd.Flags().IntVar(&o.After, "after", 0, "the edition it was made from; if another one was kept meanwhile, nothing is")
	return cmd
}

// muchToSend is from how many bytes on a kit is looked over before it is sent.
const muchToSend = 4 << 20

// mayPut asks whether a kit is put on the shelf although something looks wrong, before much of it is sent and made. Programs
// are answered by the service.
func (a *app) mayPut(name string, bytes int64, despite bool) (bool, error) {
	if a.json || despite || bytes < muchToSend {
		return despite, nil
	}
	result, err := a.lookKit(name, onlyLooked)
	if err != nil || len(result.Warnings) == 0 {
		return false, err
	}
	for _, w := range result.Warnings {
		fmt.Fprintln(a.err, "  "+w)
	}
	fmt.Fprintf(a.err, "The kit has %s. Write yes to put it on the shelf all the same: ", plural(len(result.Warnings), "warning"))
	answer, _ := bufio.NewReader(os.Stdin).ReadString('\n')
	if strings.TrimSpace(answer) != "yes" {
		return false, refused("nothing was sent (--despite-warnings)")
	}
	return true, nil
}

func (a *app) kitGet() *cobra.Command {
	var to string
	cmd := a.asMaker(&cobra.Command{
		Use: "get KIT", Short: "Take a kit away from the shelf as one zip",
		Example: "  damselfly kit get \"Marsh Post\" --to marshpost.zip", Args: cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		zip, err := maker.Kit(cmd.Context(), args[0])
		if err != nil {
			return err
		}
		if to == "" {
			to = deck.KeyFrom(args[0], "kit") + ".zip"
		}
		if err := os.WriteFile(to, zip, 0o644); err != nil {
			return refused("the zip cannot be written: %w", err)
		}
		return a.done(written{to, len(zip)}, "Wrote %s, %d bytes.", to, len(zip))
	})
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
		Use:   "check FOLDER|ZIP",
		Short: "Look a kit over without a service",
		Long: "Look a kit over without a service: everything that is wrong is told at once. Setup and cues are\n" +
			"read on the table with every number of seats.",
		Example: "  damselfly kit check marshpost/",
		Args:    cobra.ExactArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			result, err := a.lookKit(args[0], onlyLooked)
			if err != nil {
				return err
			}
			if a.json {
				if err := a.printJSON(map[string]any{"decks": api.Sizes(result.Edition), "warnings": result.Warnings, "notes": result.Notes}); err != nil {
					return err
				}
			} else {
				for _, note := range result.Notes {
					fmt.Fprintln(a.out, note)
				}
				for _, w := range result.Warnings {
					fmt.Fprintln(a.err, "  "+w)
				}
			}
			if n := len(result.Warnings); n > 0 {
				return refused("%s; nothing was changed", plural(n, "warning"))
			}
			if !a.json {
				if len(result.Edition.Decks) == 0 {
					fmt.Fprintf(a.out, "%s has no decks yet.\n", result.Edition.Name)
					return nil
				}
				fmt.Fprintf(a.out, "%s looks right: %s.\n", result.Edition.Name, decks(api.Sizes(result.Edition)))
			}
			return nil
		},
	}
}

// lookKit looks a kit over, and how says whether pictures are made.
func (a *app) lookKit(name string, how kit.Making) (*kit.Result, error) {
	if isFolder(name) {
		if err := kit.Weigh(os.DirFS(name)); err != nil {
			return nil, refused("%w", err)
		}
	}
	k, err := openKit(name)
	if err != nil {
		return nil, err
	}
	how.Progress = a.stepwise("looking over " + name)
	result, err := k.Make(how)
	if err != nil {
		return nil, refused("%w", err)
	}
	return result, nil
}

// named lists what a kit has, and draws nothing.
var named = kit.Making{Named: true}

// onlyLooked finds all that is wrong with a kit.
var onlyLooked = kit.Making{Look: func(string, func() *image.NRGBA) {}}

func (a *app) kitList() *cobra.Command {
	return a.asMaker(&cobra.Command{
		Use: "list [KIT]", Short: "List your kits, or the editions of one",
		Example: "  damselfly kit list\n  damselfly kit list \"Marsh Post\"", Args: cobra.MaximumNArgs(1),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		if len(args) == 1 {
			return a.listEditions(cmd, maker, args[0])
		}
		kits, err := maker.Kits(cmd.Context())
		if err != nil {
			return err
		}
		if a.json {
			return a.printJSON(asAnswered("kits", kits))
		}
		rows := [][]string{}
		for _, k := range kits {
			rows = append(rows, []string{k.Name, fmt.Sprint(k.Edition), when(k.At), fmt.Sprint(k.Cards), k.Reach, k.ID})
		}
		a.printTable("You have no kits yet. Put one with \"damselfly kit put FOLDER\".", []string{"kit", "edition", "put", "cards", "found by", "id"}, rows)
		return nil
	})
}

func (a *app) listEditions(cmd *cobra.Command, maker *client.Client, name string) error {
	page, err := maker.KitPage(cmd.Context(), name)
	if err != nil {
		return err
	}
	if a.json {
		return a.printJSON(page)
	}
	rows := [][]string{}
	for _, e := range page.Editions {
		rows = append(rows, []string{fmt.Sprint(e.Number), when(e.At), e.Note})
	}
	a.printTable("", []string{"edition", "put", "note"}, rows)
	return nil
}

func (a *app) kitRemove() *cobra.Command {
	return a.asMaker(&cobra.Command{
		Use: "remove KIT", Short: "Take a kit off your shelf; it can be brought back for 30 days",
		Example: "  damselfly kit remove \"Marsh Post\"", Args: cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		page, err := maker.KitPage(cmd.Context(), args[0])
		if err != nil {
			return err
		}
		if err := maker.RemoveKit(cmd.Context(), page.ID); err != nil {
			return err
		}
		return a.done(removed{page.ID}, "%s is off your shelf. Its rooms go on. For 30 days: damselfly kit restore %s", page.Name, page.ID)
	})
}

func (a *app) kitRestore() *cobra.Command {
	return a.asMaker(&cobra.Command{
		Use: "restore ID", Short: "Bring a removed kit back, by its id", Example: "  damselfly kit restore KIT", Args: cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		if err := maker.RestoreKit(cmd.Context(), args[0]); err != nil {
			return err
		}
		page, err := maker.KitPage(cmd.Context(), args[0])
		if err != nil {
			return err
		}
		return a.done(page, "%s is on your shelf again.", page.Name)
	})
}

// openFolder opens a kit's folder, or the zip of one.
func openFolder(name string) (fs.FS, error) {
	stat, err := os.Stat(name)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, refused("there is no folder or zip %s", name)
	}
	if err != nil {
		return nil, refused("the kit cannot be read: %w", err)
	}
	if !stat.IsDir() && strings.HasPrefix(strings.ToLower(filepath.Ext(name)), ".y") {
		return nil, refused("%s is a file of a kit; name the folder in which it lies: %s", name, filepath.Dir(name))
	}
	if !stat.IsDir() {
		text, err := os.ReadFile(name)
		if err != nil {
			return nil, refused("the kit cannot be read: %w", err)
		}
		folder, err := kit.OpenZip(text)
		if err != nil {
			return nil, refused("%w", err)
		}
		return folder, nil
	}
	if _, err := fs.Stat(os.DirFS(name), "kit.yaml"); err != nil {
		if file := kit.LikeManifest(os.DirFS(name)); file != "" {
			return nil, refused("%s holds no kit.yaml; rename %s to kit.yaml", strings.TrimSuffix(name, "/"), file)
		}
		return nil, refused("%s holds no kit.yaml; \"damselfly kit new\" makes one, and the format is described in docs/kit.md", strings.TrimSuffix(name, "/"))
	}
	return os.DirFS(name), nil
}
