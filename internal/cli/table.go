package cli

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/client"
)

func (a *app) look() *cobra.Command {
	var as string
	var follow bool
	var within int
	cmd := &cobra.Command{
		Use:     "look ROOM [PLACE]",
		Short:   "Show the table, or one place of it, as your seat sees it",
		Example: "  damselfly look ROOM\n  damselfly look ROOM moorings/B3 --within 2\n  damselfly look ROOM --as Bo --json\n  damselfly look ROOM --watch",
		Args:    cobra.RangeArgs(1, 2),
		RunE: func(cmd *cobra.Command, args []string) error {
			seat, err := a.seat(args[0], as)
			if err != nil {
				return err
			}
			if len(args) == 2 && within > 0 {
				return a.taken(cmd.Context(), seat, args[1], within)
			}
			if len(args) == 2 {
				p, err := seat.Place(cmd.Context(), client.PlaceID(args[1]))
				if err != nil {
					return err
				}
				if a.json {
					return a.printJSON(p)
				}
				fmt.Fprintf(a.out, "%s: %s  %s\n", p.ID, plural(p.Count, "card"), a.cards(p.Place, p.Faces))
				return nil
			}
			show := func() error {
				look, err := seat.Look(cmd.Context())
				if err != nil {
					return err
				}
				if a.json {
					return a.printJSON(look)
				}
				a.printLook(seat.Joined.Room, look)
				return nil
			}
			if err := show(); err != nil || !follow {
				return err
			}
			return seat.Watch(cmd.Context(), func(m client.Message) {
				if changes, is := m.(client.Changes); is && len(changes.Log) > 0 {
					fmt.Fprintln(a.out)
					_ = show() // a break is told by Watch
				}
			}, a.lost)
		},
	}
	cmd.Flags().StringVar(&as, "as", "", "which of your seats there, by name")
	cmd.Flags().BoolVar(&follow, "watch", false, "show it again whenever it changes")
	cmd.Flags().IntVar(&within, "within", 0, "show which cells within so many steps of the place, a cell, are taken")
	return cmd
}

// taken shows which cells around a cell are taken.
func (a *app) taken(ctx context.Context, seat *client.Seat, cell string, within int) error {
	taken, err := seat.Taken(ctx, client.PlaceID(cell), within)
	if err != nil {
		return err
	}
	if a.json {
		return a.printJSON(asAnswered("taken", taken))
	}
	rows := [][]string{}
	for _, p := range taken {
		rows = append(rows, []string{p.Name, fmt.Sprint(p.Count), a.cards(p.Place, p.Faces)})
	}
	a.printTable("None of these cells is taken.", []string{"cell", "cards", "in view"}, rows)
	return nil
}

func (a *app) lost(err error) {
	fmt.Fprintf(a.err, "The connection is lost; trying again. (%v)\n", err)
}

func (a *app) do() *cobra.Command {
	var as, file, confirm string
	cmd := &cobra.Command{
		Use:   "do ROOM STEPS",
		Short: "Do what Steps say",
		Long: "Do what Steps say, from shuffle and deal to roll and say; docs/steps.md has them all. Several lines are one\n" +
			"action. Where one of them is refused, nothing is done; unless what came before it has shown something, or\n" +
			"chance has decided something: then that stands, and is told.",
		Example: "  damselfly do ROOM \"shuffle weather\"\n  damselfly do ROOM \"draw 2 from weather to my hand\"\n" +
			"  damselfly do ROOM \"move Fog of my hand to sky\" --as Ada\n  damselfly do ROOM --file newday.steps",
		Args: cobra.MinimumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			steps, err := stepsOf(args[1:], file)
			if err != nil {
				return err
			}
			seat, err := a.seat(args[0], as)
			if err != nil {
				return err
			}
			answer, err := seat.Do(cmd.Context(), steps)
			if text, asked := toConfirm(err); asked {
				if confirm != wordFor(text) {
					return refused("these steps would show, give or move cards that only you see:\n\n%s\n\nIf that is what you want, do it again with --confirm %s", text, wordFor(text))
				}
				answer, err = seat.DoConfirmed(cmd.Context(), steps, text)
			}
			if err != nil {
				return a.halfDone(err)
			}
			return a.printAnswer(answer)
		},
	}
	cmd.Flags().StringVar(&as, "as", "", "which of your seats there, by name")
	cmd.Flags().StringVar(&file, "file", "", "read the Steps from a file, - for standard input")
	cmd.Flags().StringVar(&confirm, "confirm", "", "do what cues say about cards that only you see; the word is shown when it is needed")
	return cmd
}

// toConfirm is the text of cues that has to be confirmed, if that is the problem.
func toConfirm(err error) (string, bool) {
	var problem *client.Problem
	if !errors.As(err, &problem) || problem.Code != "needs-confirming" || len(problem.Details) == 0 {
		return "", false
	}
	return problem.Details[0], true
}

// wordFor is a short word that stands for a text, so that only what was read is
// confirmed.
func wordFor(text string) string {
	sum := sha256.Sum256([]byte(text))
	return hex.EncodeToString(sum[:3])
}

// halfDone prints what was done before a step that was refused, where it stands.
func (a *app) halfDone(err error) error {
	var problem *client.Problem
	if a.json || !errors.As(err, &problem) || !problem.Stands {
		return err
	}
	for _, line := range problem.Log {
		fmt.Fprintln(a.out, line.Text)
	}
	where := ""
	switch {
	case problem.Cue != "":
		where = fmt.Sprintf(" (%s, line %d)", problem.Cue, problem.Line)
	case problem.Line > 0:
		where = fmt.Sprintf(" (line %d)", problem.Line)
	}
	return refused("%s%s What came before it is done and stands.", problem.Detail, where)
}

func stepsOf(words []string, file string) (string, error) {
	switch {
	case file == "" && len(words) == 0:
		return "", usage("name the room and say what to do there, such as: damselfly do ROOM \"draw 2 from weather\"; or name a file of Steps with --file")
	case file != "" && len(words) > 0:
		return "", usage("give Steps or --file, not both")
	case file == "-":
		text, err := io.ReadAll(os.Stdin)
		return string(text), err
	case file != "":
		text, err := os.ReadFile(file)
		if err != nil {
			return "", refused("the Steps cannot be read: %w", err)
		}
		return string(text), nil
	}
	return strings.Join(words, " "), nil
}

func (a *app) watch() *cobra.Command {
	var as string
	cmd := &cobra.Command{
		Use:     "watch ROOM",
		Short:   "Follow a room's log live",
		Long:    "Follow a room's log live, until Ctrl-C. With --json every message of the socket is printed, one a line.",
		Example: "  damselfly watch ROOM\n  damselfly watch ROOM --json | your-program",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			seat, err := a.seat(args[0], as)
			if err != nil {
				return err
			}
			return seat.Watch(cmd.Context(), func(m client.Message) {
				if a.json {
					fmt.Fprintln(a.out, string(client.WriteMessage(m)))
					return
				}
				switch m := m.(type) {
				case client.Whole:
					a.printLines(m.Log)
				case client.Changes:
					a.printLines(m.Log)
				case client.Notice:
					fmt.Fprintln(a.err, m.Text)
				}
			}, a.lost)
		},
	}
	cmd.Flags().StringVar(&as, "as", "", "which of your seats there, by name")
	return cmd
}

func (a *app) log() *cobra.Command {
	var as string
	var last int
	cmd := &cobra.Command{
		Use:     "log ROOM",
		Short:   "Show who did what",
		Example: "  damselfly log ROOM\n  damselfly log ROOM --last 200 --json",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			seat, err := a.seat(args[0], as)
			if err != nil {
				return err
			}
			lines, err := seat.Log(cmd.Context(), last)
			if err != nil {
				return err
			}
			if a.json {
				return a.printJSON(asAnswered("lines", lines))
			}
			a.printLines(lines)
			return nil
		},
	}
	cmd.Flags().StringVar(&as, "as", "", "which of your seats there, by name")
	cmd.Flags().IntVar(&last, "last", 50, "how many lines, counted from the end, at most 200")
	return cmd
}
