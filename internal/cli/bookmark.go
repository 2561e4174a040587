package cli

import (
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/core/deck"
)

func (a *app) bookmark() *cobra.Command {
	cmd := &cobra.Command{Use: "bookmark", Short: "Keep tables in use, for rooms to begin from"}
	add := a.asMaker(&cobra.Command{
		Use: "add ROOM [NAME]", Short: "Keep a room's table under a name; everybody there is told",
		Example: "  damselfly bookmark add ROOM \"Before the storm\"", Args: cobra.RangeArgs(1, 2),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		name := ""
		if len(args) > 1 {
			name = args[1]
		}
		b, err := maker.AddBookmark(cmd.Context(), roomID(args[0]), name)
		if err != nil {
			return err
		}
		if a.json {
			return a.printJSON(b)
		}
		fmt.Fprintf(a.out, "The table is kept as %q. Open a room from it: damselfly room open --bookmark %s\n", b.Name, b.ID)
		return nil
	})
	list := a.asMaker(&cobra.Command{
		Use: "list", Short: "List your bookmarks", Example: "  damselfly bookmark list", Args: cobra.NoArgs,
	}, func(cmd *cobra.Command, maker *client.Client, _ []string) error {
		all, err := maker.Bookmarks(cmd.Context())
		if err != nil {
			return err
		}
		if a.json {
			return a.printJSON(asAnswered("bookmarks", all))
		}
		rows := [][]string{}
		for _, b := range all {
			rows = append(rows, []string{b.ID, b.Name, fmt.Sprintf("%s, edition %d", b.KitName, b.Edition), fmt.Sprint(b.Seats), when(b.At)})
		}
		a.printTable("You have no bookmarks yet. Make one with \"damselfly bookmark add ROOM\".", []string{"bookmark", "name", "kit", "seats", "made"}, rows)
		return nil
	})
	rename := a.asMaker(&cobra.Command{
		Use: "rename BOOKMARK NAME", Short: "Rename a bookmark", Example: "  damselfly bookmark rename BOOKMARK Thursday", Args: cobra.ExactArgs(2),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		if err := maker.RenameBookmark(cmd.Context(), args[0], args[1]); err != nil {
			return err
		}
		return a.done(map[string]string{"id": args[0], "name": args[1]}, "It is called %q now.", args[1])
	})
	remove := a.asMaker(&cobra.Command{
		Use: "remove BOOKMARK", Short: "Take a bookmark away; rooms that began from it go on", Example: "  damselfly bookmark remove BOOKMARK", Args: cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		if err := maker.RemoveBookmark(cmd.Context(), args[0]); err != nil {
			return err
		}
		return a.done(removed{args[0]}, "The bookmark is gone.")
	})
	var to string
	get := a.asMaker(&cobra.Command{
		Use: "get BOOKMARK", Short: "Take a bookmark away as one file, with its kit", Example: "  damselfly bookmark get BOOKMARK --to storm.zip", Args: cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		file, err := maker.Bookmark(cmd.Context(), args[0])
		if err != nil {
			return err
		}
		if to == "" {
			to = "bookmark-" + deck.KeyFrom(args[0], "table") + ".zip"
		}
		if err := os.WriteFile(to, file, 0o600); err != nil {
			return refused("the file cannot be written: %w", err)
		}
		return a.done(written{to, len(file)}, "Wrote %s, %d bytes.", to, len(file))
	})
	get.Flags().StringVar(&to, "to", "", "file to write (default: named as the bookmark)")
	put := a.asMaker(&cobra.Command{
		Use: "put FILE", Short: "Bring a bookmark that was taken away, with its kit", Example: "  damselfly bookmark put storm.zip", Args: cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		file, err := os.ReadFile(args[0])
		if err != nil {
			return refused("the bookmark cannot be read: %w", err)
		}
		b, err := maker.BringBookmark(cmd.Context(), file)
		if err != nil {
			return err
		}
		if a.json {
			return a.printJSON(b)
		}
		fmt.Fprintf(a.out, "%q is here, of %s, edition %d. Open a room from it: damselfly room open --bookmark %s\n", b.Name, b.KitName, b.Edition, b.ID)
		return nil
	})
	cmd.AddCommand(add, list, rename, remove, get, put)
	return cmd
}
