package cli

import (
	"context"
	"fmt"
	"image"
	"maps"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/core/compared"
	"damselfly.example/damselfly/internal/core/sheet"
)

func (a *app) kitCompare() *cobra.Command {
	return a.asMaker(&cobra.Command{
		Use: "compare KIT FROM [TO]", Short: "Tell what differs between two editions; TO is the newest if left out",
		Long: "Tell what differs between two editions of a kit; TO is the newest if left out. The pictures of cards that differ are\n" +
			"fetched and compared: a card that looks the same was only saved anew, another was drawn anew.",
		Example: "  damselfly kit compare \"Marsh Post\" 1\n  damselfly kit compare \"Marsh Post\" 1 2 --json", Args: cobra.RangeArgs(2, 3),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		var numbers [2]int
		for i, text := range args[1:] {
			n, err := strconv.Atoi(text)
			if err != nil || n < 1 {
				return usage("editions are numbered from 1; %q is no edition", text)
			}
			numbers[i] = n
		}
		c, err := maker.Compare(cmd.Context(), args[0], numbers[0], numbers[1])
		if err != nil {
			return err
		}
		saved, err := a.savedAnew(cmd.Context(), maker, c)
		if err != nil {
			return err
		}
		told := comparison{c, saved}
		if a.json {
			return a.printJSON(told)
		}
		a.printComparison(told)
		return nil
	})
}

// comparison is what differs, and which of the cards that differ in their pictures look the same, as DECK/KEY.
type comparison struct {
	client.Comparison
	SavedAnew []string `json:"savedAnew,omitempty"`
}

// redrawn reports whether a card has other pictures than before.
func redrawn(one compared.DesignChange) bool {
	return one.Before.Front != one.After.Front || one.Before.Back != one.After.Back
}

// savedAnew finds the cards whose pictures are others and look the same. A picture that two cards have is compared once.
func (a *app) savedAnew(ctx context.Context, maker *client.Client, c client.Comparison) (cards []string, err error) {
	all := map[string]compared.DesignChange{}
	for _, d := range c.Decks {
		for _, one := range d.Changed {
			if redrawn(one) {
				all[d.Key+"/"+one.After.Key] = one
			}
		}
	}
	known := map[[2]string]bool{}
	alike := func(before, after string) (bool, error) {
		pair := [2]string{before, after}
		if same, is := known[pair]; is || before == after {
			return same || before == after, nil
		}
		if before == "" || after == "" {
			return false, nil
		}
		known[pair], err = looksTheSame(ctx, maker, pair)
		return known[pair], err
	}
	step, done := a.stepwise("comparing"), 0
	for _, card := range slices.Sorted(maps.Keys(all)) {
		if done++; step != nil {
			step(card, done, len(all))
		}
		one := all[card]
		front, err := alike(one.Before.Front.Full, one.After.Front.Full)
		if err != nil {
			return nil, err
		}
		back, err := alike(one.Before.Back.Full, one.After.Back.Full)
		if err != nil {
			return nil, err
		}
		if front && back {
			cards = append(cards, card)
		}
	}
	return cards, nil
}

// looksTheSame fetches two pictures and compares them.
func looksTheSame(ctx context.Context, maker *client.Client, names [2]string) (bool, error) {
	var pictures [2]image.Image
	for i, name := range names {
		file, err := maker.Picture(ctx, name)
		if err != nil {
			return false, fmt.Errorf("fetching a picture: %w", err)
		}
		if pictures[i], err = sheet.Read(file); err != nil {
			return false, err
		}
	}
	return sheet.SavedAnew(pictures[0], pictures[1]), nil
}

func (a *app) printComparison(c comparison) {
	if c.Empty() {
		fmt.Fprintln(a.out, "Nothing differs.")
		return
	}
	for _, d := range c.Decks {
		switch d.Change {
		case compared.Added:
			fmt.Fprintf(a.out, "%s: a new deck\n", d.Key)
		case compared.Removed:
			fmt.Fprintf(a.out, "%s: is gone\n", d.Key)
		default:
			fmt.Fprintf(a.out, "%s:\n", d.Key)
		}
		for _, one := range d.Changed {
			what := []string{}
			switch {
			case slices.Contains(c.SavedAnew, d.Key+"/"+one.After.Key):
				what = append(what, "saved anew")
			case redrawn(one):
				what = append(what, "drawn anew")
			}
			if one.Before.Copies != one.After.Copies {
				what = append(what, fmt.Sprintf("copies %d → %d", one.Before.Copies, one.After.Copies))
			}
			if one.Before.Name != one.After.Name {
				what = append(what, "was called "+one.Before.Name)
			}
			for _, w := range one.Words {
				what = append(what, fmt.Sprintf("%s: %q → %q", w.Field, w.Before, w.After))
			}
			fmt.Fprintf(a.out, "  changed  %s: %s\n", one.After.Name, strings.Join(what, ", "))
		}
		for _, one := range d.Added {
			fmt.Fprintf(a.out, "  new      %s\n", one.Name)
		}
		for _, one := range d.Removed {
			fmt.Fprintf(a.out, "  gone     %s\n", one.Name)
		}
		for _, one := range d.Moved {
			fmt.Fprintf(a.out, "  moved    %s, from %s\n", one.Design.Name, one.From)
		}
		if len(d.Of) > 0 {
			fmt.Fprintf(a.out, "  changed  %s\n", strings.Join(d.Of, ", "))
		}
	}
	for title, things := range map[string][]compared.ThingChange{"zone": c.Zones, "piece": c.Pieces} {
		for _, thing := range things {
			fmt.Fprintf(a.out, "%s %s: %s\n", title, thing.Key, map[string]string{compared.Added: "new", compared.Removed: "gone", compared.Changed: "changed"}[thing.Change])
		}
	}
	if len(c.Table) > 0 {
		fmt.Fprintf(a.out, "of the table: %s\n", strings.Join(c.Table, ", "))
	}
	if len(c.Kit) > 0 {
		fmt.Fprintf(a.out, "of the kit: %s\n", strings.Join(c.Kit, ", "))
	}
}
