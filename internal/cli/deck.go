package cli

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/console"
	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
)

func (a *app) deck() *cobra.Command {
	cmd := &cobra.Command{Use: "deck", Short: "Look at the decks of a kit, export and print them"}
	cmd.AddCommand(a.deckShow(), a.deckExport(), a.deckPrint())
	return cmd
}

func (a *app) deckShow() *cobra.Command {
	var kitName, contact string
	cmd := &cobra.Command{
		Use: "show [DECK]", Short: "List the decks of a kit, or the designs of one with their copies",
		Example: "  damselfly deck show --kit marshpost/\n  damselfly deck show letters --kit marshpost/\n  damselfly deck show letters --kit marshpost/ --sheet letters.png",
		Args:    cobra.MaximumNArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			pictures := drawable{}
			how := named
			switch {
			case contact != "":
				how = kit.Making{Look: pictures.add}
			case a.json && len(args) == 1:
				how = kit.Making{} // a deck as JSON has the addresses of its pictures
			}
			result, err := a.lookKit(kitName, how)
			if err != nil {
				return err
			}
			if len(args) == 0 && contact != "" {
				return usage("name the deck that is to be drawn, such as: damselfly deck show letters --sheet letters.png")
			}
			if len(args) == 0 {
				return a.printDecks(result.Edition.Decks)
			}
			d, err := deckNamed(result.Edition.Decks, args[0])
			if err != nil {
				return err
			}
			if contact != "" {
				return a.showSheet(pictures, d, contact)
			}
			return a.printDesigns(d)
		},
	}
	cmd.Flags().StringVar(&kitName, "kit", ".", "the kit's folder or zip")
	cmd.Flags().StringVar(&contact, "sheet", "", "draw all cards with names and copies on one `picture`, such as letters.png")
	return cmd
}

// clipped is the beginning of a long text.
func clipped(text string, most int) string {
	if runes := []rune(strings.ReplaceAll(text, "\n", " ")); len(runes) > most {
		return string(runes[:most-1]) + "…"
	}
	return text
}

func deckNamed(decks []kit.EditionDeck, key string) (kit.EditionDeck, error) {
	var keys []string
	for _, d := range decks {
		if d.Key == key {
			return d, nil
		}
		keys = append(keys, d.Key)
	}
	return kit.EditionDeck{}, refused("the kit has no deck %q; it has %s", key, strings.Join(keys, ", "))
}

func (a *app) printDecks(decks []kit.EditionDeck) error {
	if a.json {
		return a.printJSON(decks)
	}
	rows := [][]string{}
	for _, d := range decks {
		backs := map[string]bool{}
		for _, design := range d.Designs {
			backs[design.Back.Full] = true
		}
		back := "one"
		if len(backs) > 1 {
			back = "each"
		}
		rows = append(rows, []string{d.Key, fmt.Sprint(len(d.Designs)), fmt.Sprint(d.Cards()), fmt.Sprintf("%g × %g mm", d.Wide, d.High), d.Outline, back, string(d.Home)})
	}
	a.printTable("The kit has no decks.", []string{"deck", "designs", "cards", "size", "outline", "back", "home"}, rows)
	return nil
}

func (a *app) printDesigns(d kit.EditionDeck) error {
	if a.json {
		return a.printJSON(d)
	}
	var fields []string
	for _, design := range d.Designs {
		fields = slices.AppendSeq(fields, maps.Keys(design.Fields))
	}
	slices.Sort(fields)
	fields = slices.Compact(fields)
	head := append([]string{"key", "name", "copies"}, fields...)
	rows := [][]string{}
	for _, c := range d.Copies {
		design := d.Designs[c.Design]
		row := []string{c.Design, design.Name, strconv.Itoa(c.Copies)}
		for _, name := range fields {
			row = append(row, clipped(design.Fields[name], 28))
		}
		rows = append(rows, row)
	}
	a.printTable("The deck has no designs.", head, rows)
	return nil
}

// openKit reads a kit's folder or zip without cutting its sheets.
func openKit(name string) (*kit.Kit, error) {
	folder, err := openFolder(name)
	if err != nil {
		return nil, err
	}
	k, err := kit.Read(folder)
	if err != nil {
		return nil, refused("%w", err)
	}
	k.Fonts = &deck.Fonts{Read: console.Font}
	return k, nil
}
