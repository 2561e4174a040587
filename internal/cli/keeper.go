package cli

import (
	"bufio"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/client"
)

// keeping are the commands of who keeps the service.
func (a *app) keeping() []*cobra.Command {
	return []*cobra.Command{a.status(), a.backup(), a.restore()}
}

func (a *app) status() *cobra.Command {
	return a.asKeeper(&cobra.Command{
		Use: "status", Short: "How the service is: rooms, people, actions, sizes, versions, as who keeps it",
		Example: "  damselfly status", Args: cobra.NoArgs,
	}, func(cmd *cobra.Command, keeper *client.Client, _ []string) error {
		s, err := keeper.Status(cmd.Context())
		if err != nil {
			return err
		}
		if a.json {
			return a.printJSON(s)
		}
		saving := "yes"
		if !s.Saving {
			saving = "no: the database does not answer, and is tried again"
		}
		lines := [][2]string{
			{"saving", saving},
			{"rooms", fmt.Sprintf("%d, %d of them loaded", s.Rooms, s.RoomsLive)},
			{"people", fmt.Sprint(s.People)},
			{"actions", fmt.Sprintf("%.1f a second in the last minute, a commit takes %.1f ms", s.ActionsASecond, s.CommitMillis)},
			{"makers", fmt.Sprintf("%d, with %s", s.Makers, plural(s.Kits, "kit"))},
			{"journals", fmt.Sprintf("about %d entries, %s", s.Entries, bytesOf(s.JournalBytes))},
			{"pictures and files", bytesOf(s.ArtBytes)},
		}
		if s.DiskFree != nil {
			left := bytesOf(*s.DiskFree)
			if s.DiskShort {
				left += ": that is little; when it is full, nothing can be saved"
			}
			lines = append(lines, [2]string{"disk left", left})
		}
		lines = append(lines,
			[2]string{"running since", time.UnixMilli(s.Since).Format("2 January 15:04")},
			[2]string{"versions", fmt.Sprintf("Damselfly %s, schema %d, database %s", s.Version, s.Schema, s.Database)})
		for _, line := range lines {
			fmt.Fprintf(a.out, "%-20s %s\n", line[0], line[1])
		}
		return nil
	})
}

// bytesOf writes a size as people say it.
func bytesOf(n int64) string {
	switch {
	case n >= 1<<30:
		return fmt.Sprintf("%.1f GiB", float64(n)/(1<<30))
	case n >= 1<<20:
		return fmt.Sprintf("%.1f MiB", float64(n)/(1<<20))
	}
	return fmt.Sprintf("%.0f KiB", float64(n)/(1<<10))
}

func (a *app) backup() *cobra.Command {
	keep := 0
	cmd := a.asKeeper(&cobra.Command{
		Use: "backup FILE", Short: "Write all records of the service to one file, while it is in use",
		Long: "Write all records of a running service to one file, as they are at one moment: makers, kits, pictures, rooms with their\n" +
			"journals, seats and bookmarks. Whoever has the file has all of that, hidden cards too: keep it safe.",
		Example: "  damselfly backup /var/backups/damselfly-monday.zip\n  damselfly backup /var/backups/damselfly --keep 14", Args: cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, keeper *client.Client, args []string) error {
		folder := args[0]
		if keep < 0 {
			return usage("--keep takes how many backups stay, such as 14, not %d", keep)
		}
		if keep > 0 { // a folder, in which each is named by its time
			if err := os.MkdirAll(folder, 0o700); err != nil {
				return refused("the folder cannot be made: %w", err)
			}
			args[0] = filepath.Join(folder, time.Now().UTC().Format(backupName))
		}
		if _, err := os.Stat(args[0]); err == nil {
			return refused("%s is there already; choose another name, or move it away", args[0])
		}
		part := args[0] + ".part"
		file, err := os.OpenFile(part, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
		if err != nil {
			return refused("the backup cannot be written: %w", err)
		}
		began := time.Now()
		err = keeper.Backup(cmd.Context(), file)
		if err == nil {
			err = file.Sync()
		}
		if failed := file.Close(); err == nil {
			err = failed
		}
		if err == nil {
			err = os.Rename(part, args[0])
		}
		if err != nil {
			_ = os.Remove(part)
			return fmt.Errorf("nothing was backed up: %w", err)
		}
		stat, err := os.Stat(args[0])
		if err != nil {
			return err
		}
		if keep > 0 {
			if err := keepNewest(folder, keep); err != nil {
				return refused("the backup is written, and older ones cannot be removed: %w", err)
			}
		}
		return a.done(written{args[0], int(stat.Size())}, "Wrote %s, %s, in %.1f seconds.", args[0], bytesOf(stat.Size()), time.Since(began).Seconds())
	})
	cmd.Flags().IntVar(&keep, "keep", 0, "take FILE for a folder, and keep so many of its newest backups")
	return cmd
}

// backupName is how a backup is called in a folder of them, by its time (UTC).
const backupName = "damselfly-2006-01-02-150405.zip"

// keepNewest removes the oldest backups of a folder, and nothing else that lies there.
func keepNewest(folder string, keep int) error {
	entries, err := os.ReadDir(folder) // in the order of their names, which is that of their times
	if err != nil {
		return err
	}
	var backups []string
	for _, e := range entries {
		if _, err := time.Parse(backupName, e.Name()); err == nil && e.Type().IsRegular() {
			backups = append(backups, e.Name())
		}
	}
	for _, name := range backups[:max(0, len(backups)-keep)] {
		if err := os.Remove(filepath.Join(folder, name)); err != nil {
			return err
		}
	}
	return nil
}

func (a *app) restore() *cobra.Command {
	var sure bool
	cmd := a.asKeeper(&cobra.Command{
		Use: "restore FILE", Short: "Put a backup in the place of all records of the service, while it runs",
		Long: "Put a backup in the place of all records of a running service: everything that is there now is gone then, so that\n" +
			"it is asked first (or give --yes). It happens in one step: what fails leaves everything as it was. People at rooms come back by\n" +
			"themselves. Makers' keys are those of the backup.",
		Example: "  damselfly restore /var/backups/damselfly-monday.zip", Args: cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, keeper *client.Client, args []string) error {
		file, err := os.Open(args[0])
		if err != nil {
			return refused("the backup cannot be read: %w", err)
		}
		defer file.Close()
		stat, err := file.Stat()
		if err != nil {
			return err
		}
		now, err := keeper.Status(cmd.Context())
		if err != nil {
			return err
		}
		if now.Kits+now.Rooms > 0 && !sure {
			fmt.Fprintf(a.err, "The service has %s and %s, which will be gone. Back them up first, if anybody needs them.\nWrite yes to restore all the same: ", plural(now.Kits, "kit"), plural(now.Rooms, "room"))
			answer, _ := bufio.NewReader(os.Stdin).ReadString('\n')
			if strings.TrimSpace(answer) != "yes" {
				return refused("nothing was restored")
			}
		}
		began := time.Now()
		if err := keeper.Restore(cmd.Context(), file, stat.Size()); err != nil {
			return err
		}
		then, err := keeper.Status(cmd.Context())
		if err != nil {
			return err
		}
		if err := a.done(then, "Restored %s and %s in %.1f seconds.", plural(then.Kits, "kit"), plural(then.Rooms, "room"), time.Since(began).Seconds()); err != nil {
			return err
		}
		if a.whoseKey(cmd.Context()) == "" {
			fmt.Fprintln(a.err, "The maker key in the data folder opens nothing there: \"damselfly maker renew NAME\" gives another one.")
		}
		return nil
	})
	cmd.Flags().BoolVar(&sure, "yes", false, "do not ask")
	return cmd
}

func (a *app) roomUnused() *cobra.Command {
	var days int
	cmd := a.asKeeper(&cobra.Command{
		Use: "unused", Short: "List rooms in which nothing was done for long, of all makers, as who keeps the service",
		Long:    "List the rooms that \"damselfly serve --keep-rooms DAYS\" would remove. Their makers can bring them back for 30 days.",
		Example: "  damselfly room unused --days 90", Args: cobra.NoArgs,
	}, func(cmd *cobra.Command, keeper *client.Client, _ []string) error {
		rooms, err := keeper.UnusedRooms(cmd.Context(), days)
		if err != nil {
			return err
		}
		if a.json {
			return a.printJSON(asAnswered("rooms", rooms))
		}
		rows := [][]string{}
		for _, r := range rooms {
			rows = append(rows, []string{r.ID, r.Name, r.Kit, when(r.LastAt)})
		}
		a.printTable(fmt.Sprintf("Something was done in every room within %s.", plural(days, "day")), []string{"room", "name", "kit", "last act"}, rows)
		return nil
	})
	cmd.Flags().IntVar(&days, "days", 90, "for how many days nothing was done")
	return cmd
}
