package cli

import (
	"context"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/fsnotify/fsnotify"
	"github.com/spf13/cobra"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/client/kits"
	"damselfly.example/damselfly/internal/core/sheet"
)

// A save is under way until nothing has changed for so long. Half a picture does not open, and is tried
// again when more of it comes; half a table of rows looks like a whole one.
const (
	savedPicture = 25 * time.Millisecond
	saved        = 120 * time.Millisecond
)

func (a *app) kitWatch() *cobra.Command {
	var room string
	var o kits.Options
	want := client.TakeEdition{}
	cmd := &cobra.Command{
		Use:   "watch FOLDER [--room ROOM]",
		Short: "Keep each change of a folder as an edition, and take it into a room",
		Long: "Keep each change of a kit's folder as its next edition, until Ctrl-C, and take it into a room where people\n" +
			"play. What is wrong with a change is told here, and nothing is kept until it is mended.",
		Example: "  damselfly kit watch marshpost/ --room ROOM\n  damselfly kit watch marshpost/",
		Args:    cobra.ExactArgs(1),
	}
	a.asMaker(cmd, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		if _, err := openFolder(args[0]); err != nil {
			return err
		}
		changes, err := changesOf(cmd.Context(), args[0])
		if err != nil {
			return refused("%s cannot be watched: %w", args[0], err)
		}
		w := &watching{app: a, maker: maker, folder: args[0], put: o, take: want}
		if room != "" {
			w.room = roomID(room)
		}
		fmt.Fprintf(a.err, "Watching %s (Ctrl-C ends it).\n", args[0])
		wrong := w.keep(cmd.Context())
		for {
			var late <-chan time.Time
			if wrong != nil {
				late = time.After(saved)
			}
			select {
			case _, open := <-changes:
				if !open {
					return nil
				}
				wrong = w.keep(cmd.Context())
			case <-late: // it was no save that is under way
				w.tell(wrong)
				wrong = nil
			}
		}
	})
	cmd.Flags().StringVar(&room, "room", "", "take each edition into this room (its link or id)")
	cmd.Flags().BoolVar(&o.Despite, "despite-warnings", false, "keep editions although something looks wrong")
	cmd.Flags().StringVar(&want.NewCards, "new-cards", "", "where new cards go at their deck's home: top, underneath or shuffled (default: underneath)")
	return cmd
}

// watching is a folder whose changes become editions.
type watching struct {
	app    *app
	maker  *client.Client
	folder string
	room   string
	put    kits.Options
	take   client.TakeEdition
}

// keep makes the folder as it is the next edition, and takes it into the room. It returns why it cannot.
func (w *watching) keep(ctx context.Context) error {
	put, err := kits.PutFolder(ctx, w.maker, os.DirFS(w.folder), w.put)
	if err != nil {
		return err
	}
	if put.Fresh {
		w.app.line(put, "%s  edition %d of %s", time.Now().Format("15:04:05"), put.Edition, put.Name)
	}
	if w.room == "" {
		return nil
	}
	w.take.Edition = put.Edition
	err = w.maker.TakeEdition(ctx, w.room, w.take)
	if p, is := err.(*client.Problem); is && p.Code == "has-this-edition" {
		return nil
	}
	if err == nil {
		w.app.line(map[string]any{"taken": put.Edition, "room": w.room}, "%s  taken into the room", time.Now().Format("15:04:05"))
	}
	return err
}

// tell says what is wrong, and that it goes on.
func (w *watching) tell(err error) {
	if w.app.json {
		w.app.printFailure(err, exitRefused)
		return
	}
	fmt.Fprintf(w.app.err, "%s  not kept: %s\n", time.Now().Format("15:04:05"), err)
	if p, is := err.(*client.Problem); is && len(p.Details) > 1 {
		for _, detail := range p.Details {
			fmt.Fprintln(w.app.err, "    "+detail)
		}
	}
}

// changesOf tells when something in a folder, or in those in it, has changed and is at rest.
func changesOf(ctx context.Context, folder string) (<-chan struct{}, error) {
	watcher, err := fsnotify.NewWatcher()
	if err != nil {
		return nil, err
	}
	add := func(root string) error {
		return filepath.WalkDir(root, func(path string, entry fs.DirEntry, err error) error {
			if err != nil || !entry.IsDir() {
				return err
			}
			if path != root && strings.HasPrefix(entry.Name(), ".") {
				return fs.SkipDir
			}
			return watcher.Add(path)
		})
	}
	if err := add(folder); err != nil {
		_ = watcher.Close()
		return nil, err
	}
	changes := make(chan struct{})
	go func() {
		defer close(changes)
		defer watcher.Close()
		var rest <-chan time.Time
		var restsAt time.Time
		for {
			select {
			case <-ctx.Done():
				return
			case event, open := <-watcher.Events:
				if !open {
					return
				}
				if strings.HasPrefix(filepath.Base(event.Name), ".") {
					continue // what editors write beside
				}
				if stat, err := os.Stat(event.Name); err == nil && stat.IsDir() {
					_ = add(event.Name)
				}
				restsAt = later(restsAt, time.Now().Add(restOf(event.Name)))
				rest = time.After(time.Until(restsAt))
			case <-watcher.Errors:
				rest = time.After(saved) // events were lost: look at all of it
			case <-rest:
				rest = nil
				select {
				case changes <- struct{}{}:
				case <-ctx.Done():
					return
				}
			}
		}
	}()
	return changes, nil
}

func later(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}

// restOf is for how long a file has to be at rest.
func restOf(name string) time.Duration {
	if sheet.IsPicture(name) {
		return savedPicture
	}
	return saved
}
