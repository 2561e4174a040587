package cli

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/service"
)

func (a *app) makers() *cobra.Command {
	cmd := &cobra.Command{
		Use: "maker", Short: "Add, list, renew and end makers, as who keeps the service",
		Long: "Add, list, renew and end makers: the people who put kits on the shelf and open rooms.\n" +
			"This is for who keeps the service: it takes the keeper's key from the data folder (--data).",
	}
	cmd.AddCommand(a.makerAdd(), a.makerList(), a.makerRenew(), a.makerEnd())
	return cmd
}

// keeper is the service as its keeper sees it.
func (a *app) keeper() (*client.Client, error) {
	file := filepath.Join(a.data, service.KeeperFile)
	text, err := os.ReadFile(file)
	if err != nil {
		return nil, refused("there is no keeper's key: name the data folder of a service that runs on this machine with --data (looked in %s)", file)
	}
	return client.New(a.server, strings.TrimSpace(string(text))), nil
}

func (a *app) makerAdd() *cobra.Command {
	return a.asKeeper(&cobra.Command{
		Use: "add NAME", Short: "Add a maker, and get the link by which they come in",
		Example: "  damselfly maker add \"Ada Reed\"", Args: cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, keeper *client.Client, args []string) error {
		in, err := keeper.AddMaker(cmd.Context(), args[0])
		if err != nil {
			return err
		}
		return a.printMakerIn(in)
	})
}

func (a *app) makerRenew() *cobra.Command {
	var beside bool
	cmd := a.asKeeper(&cobra.Command{
		Use: "renew MAKER", Short: "Give a maker another key; the others end",
		Long: "Give a maker another key; the others end, unless --beside is given. One who was ended is a maker again.\n" +
			"Where the data folder's own key was theirs, or is lost, the new one is written there.",
		Example: "  damselfly maker renew keeper\n  damselfly maker renew \"Ada Reed\" --beside", Args: cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, keeper *client.Client, args []string) error {
		opens := a.whoseKey(cmd.Context())
		in, err := keeper.RenewMaker(cmd.Context(), args[0], beside)
		if err != nil {
			return err
		}
		if !beside && (opens == "" || opens == in.ID) {
			if err := os.WriteFile(filepath.Join(a.data, service.KeyFile), []byte(in.Key+"\n"), 0o600); err != nil {
				return fmt.Errorf("the key was renewed, but cannot be written to the data folder: %w", err)
			}
		}
		return a.printMakerIn(in)
	})
	cmd.Flags().BoolVar(&beside, "beside", false, "keep the other keys")
	return cmd
}

// whoseKey is the id of the maker whose key stands in the data folder, or empty.
func (a *app) whoseKey(ctx context.Context) string {
	text, err := os.ReadFile(filepath.Join(a.data, service.KeyFile))
	if err != nil {
		return ""
	}
	m, err := client.New(a.server, strings.TrimSpace(string(text))).Maker(ctx)
	if err != nil {
		return ""
	}
	return m.ID
}

func (a *app) printMakerIn(in client.MakerIn) error {
	if a.json {
		return a.printJSON(in)
	}
	fmt.Fprintf(a.out, "%s comes in by this link, which nobody else should see:\n\n  %s\n\nFor the command line: --key %s\n", in.Name, in.Link, in.Key)
	return nil
}

func (a *app) makerList() *cobra.Command {
	return a.asKeeper(&cobra.Command{
		Use: "list", Short: "List the makers and their keys", Example: "  damselfly maker list", Args: cobra.NoArgs,
	}, func(cmd *cobra.Command, keeper *client.Client, _ []string) error {
		makers, err := keeper.Makers(cmd.Context())
		if err != nil {
			return err
		}
		if a.json {
			return a.printJSON(asAnswered("makers", makers))
		}
		var rows [][]string
		for _, m := range makers {
			if len(m.Keys) == 0 {
				rows = append(rows, []string{m.Name, when(m.At), "ended", "", ""})
			}
			for _, k := range m.Keys {
				used := "never"
				if k.UsedAt != nil {
					used = when(*k.UsedAt)
				}
				rows = append(rows, []string{m.Name, when(m.At), k.Name, when(k.At), used})
			}
		}
		a.printTable("There are no makers.", []string{"maker", "since", "key", "made", "last used"}, rows)
		return nil
	})
}

func (a *app) makerEnd() *cobra.Command {
	var key string
	cmd := a.asKeeper(&cobra.Command{
		Use: "end MAKER", Short: "End a maker's keys, or one of them; their kits and rooms stay",
		Example: "  damselfly maker end \"Ada Reed\"\n  damselfly maker end \"Ada Reed\" --named 4f1c22ab", Args: cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, keeper *client.Client, args []string) error {
		if err := keeper.EndMaker(cmd.Context(), args[0], key); err != nil {
			return err
		}
		if key != "" {
			return a.done(map[string]string{"maker": args[0], "ended": key}, "The key %s of %s opens nothing any more.", key, args[0])
		}
		return a.done(map[string]string{"maker": args[0], "ended": "all"},
			"No key of %s opens anything any more. Their kits and rooms stay; \"damselfly maker renew\" lets them in again.", args[0])
	})
	cmd.Flags().StringVar(&key, "named", "", "only this key, by the name that \"maker list\" gives it")
	return cmd
}
