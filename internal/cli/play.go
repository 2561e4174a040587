package cli

import (
	"fmt"
	"os"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
)

// quick makes a command that does one thing at a room, said in Steps.
func (a *app) quick(use, short, long, example string, args cobra.PositionalArgs, words func(args []string) string) *cobra.Command {
	var as string
	cmd := &cobra.Command{
		Use: use, Short: short, Long: long, Example: example, Args: args,
		RunE: func(cmd *cobra.Command, args []string) error {
			seat, err := a.seat(args[0], as)
			if err != nil {
				return err
			}
			answer, err := seat.Do(cmd.Context(), words(args[1:]))
			if err != nil {
				return a.halfDone(err)
			}
			return a.printAnswer(answer)
		},
	}
	cmd.Flags().StringVar(&as, "as", "", "which of your seats there, by name")
	return cmd
}

func (a *app) printAnswer(answer client.Answer) error {
	if a.json {
		return a.printJSON(answer)
	}
	for _, line := range answer.Log {
		fmt.Fprintln(a.out, line.Text)
	}
	if len(answer.Log) == 0 {
		fmt.Fprintln(a.out, "Done; the others saw nothing of it.")
	}
	return nil
}

func (a *app) undo() *cobra.Command {
	return a.quick("undo ROOM", "Take your last action back", "Take your last action back, while nobody later touched the same things. What was seen stays seen.",
		"  damselfly undo ROOM", cobra.ExactArgs(1), func([]string) string { return "undo" })
}

func (a *app) peek() *cobra.Command {
	var as string
	var hold bool
	cmd := &cobra.Command{
		Use: "peek ROOM PLACE [COUNT]", Short: "Look at the top cards of a place",
		Long: "Look at the top cards of a place, or at all of them, and close it again. Everyone is told that you look; nobody else learns\n" +
			"the cards. With --hold you go on looking, to reorder them: nobody else can change the place until you close it with\n" +
			"damselfly do ROOM \"close PLACE\".",
		Example: "  damselfly peek ROOM weather 3\n  damselfly peek ROOM weather 3 --hold", Args: cobra.RangeArgs(2, 3),
		RunE: func(cmd *cobra.Command, args []string) error {
			seat, err := a.seat(args[0], as)
			if err != nil {
				return err
			}
			words := "peek " + args[1]
			if len(args) == 3 {
				words = "peek " + args[2] + " of " + args[1]
			}
			answer, err := seat.Do(cmd.Context(), words)
			if err != nil {
				return a.halfDone(err)
			}
			if !hold {
				if _, err := seat.Do(cmd.Context(), "close "+args[1]); err != nil {
					return a.halfDone(err)
				}
			}
			return a.printAnswer(answer)
		},
	}
	cmd.Flags().StringVar(&as, "as", "", "which of your seats there, by name")
	cmd.Flags().BoolVar(&hold, "hold", false, "go on looking, until you close it")
	return cmd
}

func (a *app) ask() *cobra.Command {
	return a.quick("ask ROOM PLAYER [COUNT]", "Ask a player for cards of their hand",
		"Ask a player for cards of their hand. They agree, and may choose which, or decline: damselfly answer ROOM.",
		"  damselfly ask ROOM Bo\n  damselfly ask ROOM \"seat 2\" 2", cobra.RangeArgs(2, 3), func(args []string) string {
			who, count := args[0], "1"
			if !strings.HasPrefix(who, "seat ") {
				who = strconv.Quote(who)
			}
			if len(args) == 2 {
				count = args[1]
			}
			return "ask " + who + " for " + count
		})
}

func (a *app) answer() *cobra.Command {
	return a.quick("answer ROOM agree|decline [CARD...]", "Answer the latest ask to you",
		"Answer the latest ask to you. Name the cards to give, or chance chooses them.",
		"  damselfly answer ROOM agree Fog\n  damselfly answer ROOM decline", cobra.MinimumNArgs(2), func(args []string) string {
			if len(args) == 1 {
				return args[0]
			}
			quoted := make([]string, 0, len(args)-1)
			for _, card := range args[1:] {
				quoted = append(quoted, strconv.Quote(card))
			}
			return args[0] + " with " + strings.Join(quoted, ", ")
		})
}

// where tells where a deck's cards are.
func (a *app) where() *cobra.Command {
	var as string
	cmd := &cobra.Command{
		Use: "where ROOM DECK", Short: "Tell where the cards of a deck are, as far as you see", Example: "  damselfly where ROOM weather",
		Args: cobra.ExactArgs(2),
		RunE: func(cmd *cobra.Command, args []string) error {
			seat, err := a.seat(args[0], as)
			if err != nil {
				return err
			}
			found, err := seat.Where(cmd.Context(), args[1])
			if err != nil {
				return err
			}
			if a.json {
				return a.printJSON(asAnswered("found", found))
			}
			rows := [][]string{}
			for _, f := range found {
				count := fmt.Sprint(f.Count)
				if f.Hidden {
					count += " in view, more beneath"
				}
				rows = append(rows, []string{string(f.Place), count, strings.Join(f.Cards, ", ")})
			}
			a.printTable("You see no cards of that deck.", []string{"place", "cards", "of which you see"}, rows)
			return nil
		},
	}
	cmd.Flags().StringVar(&as, "as", "", "which of your seats there, by name")
	return cmd
}

func (a *app) steps() *cobra.Command {
	cmd := &cobra.Command{Use: "steps", Short: "Look over Steps before they are done"}
	var folder string
	var seats int
	check := &cobra.Command{
		Use:   "check FILE --kit FOLDER|ZIP",
		Short: "Read Steps against a kit's table",
		Long: "Read Steps against a kit's table as it is laid, with all seats taken, and say where they are not understood.\n" +
			"Nothing is done, and no service is needed.",
		Example: "  damselfly steps check newday.steps --kit marshpost/",
		Args:    cobra.ExactArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			text, err := os.ReadFile(args[0])
			if err != nil {
				return refused("the Steps cannot be read: %w", err)
			}
			if folder == "" {
				return usage("name the kit whose table they are for, with --kit")
			}
			result, err := a.lookKit(folder, named)
			if err != nil {
				return err
			}
			action, err := steps.Read(string(text), seated(result.Edition, seats), 1)
			if err != nil {
				return refused("%s, %w", args[0], err)
			}
			count := 1
			if all, ok := action.(table.All); ok {
				count = len(all.Actions)
			}
			if a.json {
				return a.printJSON(map[string]any{"steps": count})
			}
			fmt.Fprintf(a.out, "%s understood.\n", plural(count, "step"))
			return nil
		},
	}
	check.Flags().StringVar(&folder, "kit", "", "the kit's folder or zip")
	check.Flags().IntVar(&seats, "seats", 0, "for how many seats (default: as many as the kit has)")
	cmd.AddCommand(check)
	return cmd
}

// seated is a kit's table with every seat taken and a first seat chosen.
func seated(made kit.Edition, seats int) *table.Table {
	if seats < 1 || seats > made.Seats {
		seats = made.Seats
	}
	t := &table.Table{}
	t.Fold(made.Lay(seats))
	for i := range t.Chairs {
		t.Chairs[i].Name = fmt.Sprint("player ", i+1)
	}
	t.Marker.First = 1
	return t
}
