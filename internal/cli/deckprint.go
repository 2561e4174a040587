package cli

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/png"
	"time"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/console"
	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/print"
)

func (a *app) deckPrint() *cobra.Command {
	var kitName, to, since, only string
	var o print.Options
	cmd := &cobra.Command{
		Use: "print [DECK…]", Short: "Write decks as a PDF in real size, to be printed and cut",
		Long: "Write decks, or all of a kit, as a PDF: each card in its real size, as often as it is there. Print it without scaling. With\n" +
			"--backs each page is followed by its backs, mirrored for paper that is turned over its long or its short edge. With\n" +
			"--changed-since only what looks otherwise than in an older kit's folder or zip is printed, and what there is more of.",
		Example: "  damselfly deck print letters --kit marshpost/ --to letters.pdf\n  damselfly deck print --kit marshpost/ --paper letter --bleed 3 --marks --backs long",
		RunE: func(_ *cobra.Command, args []string) error {
			if err := o.Wrong(); err != nil {
				return usage("%w", err)
			}
			pictures := drawable{}
			now, err := a.lookKit(kitName, kit.Making{Look: pictures.add})
			if err != nil {
				return err
			}
			var before *kit.Result
			if since != "" {
				if before, err = a.lookKit(since, onlyLooked); err != nil {
					return err
				}
			}
			decks := now.Edition.Decks
			if len(args) > 0 {
				decks = nil
				for _, key := range args {
					d, err := deckNamed(now.Edition.Decks, key)
					if err != nil {
						return err
					}
					decks = append(decks, d)
				}
			}
			var cards []print.Card
			for _, d := range decks {
				cards = append(cards, print.Cards(d, formerDeck(before, d.Key))...)
			}
			if len(cards) == 0 && since != "" {
				return a.done(map[string]any{"cards": 0}, "Nothing to print: every card looks as it did.")
			}
			if only != "" {
				if cards, err = chosen(cards, only); err != nil {
					return err
				}
			}
			if err := o.Refuse(cards); err != nil {
				return refused("%w", err)
			}
			o.At = time.Now()
			var out bytes.Buffer
			soft, err := print.Write(&out, cards, pictures.picture, o)
			if err != nil {
				return refused("%w", err)
			}
			if err := writeWhole(to, out.Bytes()); err != nil {
				return refused("the PDF cannot be written: %w", err)
			}
			for _, s := range soft {
				fmt.Fprintf(a.err, "%s: %s of fewer than 200 dots per inch; the coarsest has %d and will look soft. Use larger pictures.\n", s.Deck, plural(s.Pictures, "picture"), s.Dots)
			}
			return a.done(map[string]any{"file": to, "bytes": out.Len(), "cards": len(cards), "soft": append([]print.Soft{}, soft...)},
				"Wrote %s, %s in real size. Print it without scaling (100 %%).", to, plural(len(cards), "card"))
		},
	}
	flags := cmd.Flags()
	flags.StringVar(&kitName, "kit", ".", "the kit's folder or zip")
	flags.StringVar(&to, "to", "cards.pdf", "file to write")
	flags.StringVar(&o.Paper, "paper", "a4", "a4 or letter")
	flags.Float64Var(&o.Bleed, "bleed", 0, "`millimetres` of art beyond the cut")
	flags.BoolVar(&o.Marks, "marks", false, "show where to cut")
	flags.StringVar(&o.Backs, "backs", "none", "long or short: backs too, for paper turned over that edge; or none")
	flags.StringVar(&only, "cards", "", "only these of all that would be printed, counted from 1, such as 1-200 or `1-9,14`")
	flags.StringVar(&since, "changed-since", "", "an older `kit`'s folder or zip: print only what changed")
	return cmd
}

// chosen are the cards of a list that are asked for, such as 1-200 or 1-9,14.
func chosen(cards []print.Card, asked string) ([]print.Card, error) {
	spans, wrong := sheet.Spans(asked)
	if spans == nil {
		return nil, usage("cards are written like 1-200 or 1-9,14, and not %q", wrong)
	}
	var some []print.Card
	for _, span := range spans {
		if span[1] > len(cards) {
			return nil, usage("there are %s to print, so that %d is none", plural(len(cards), "card"), span[1])
		}
		some = append(some, cards[span[0]-1:span[1]]...)
	}
	return some, nil
}

// drawableDeck is a deck of a kit that was looked over, and the pictures that can be made of it.
func (a *app) drawableDeck(kitName, key string) (kit.EditionDeck, drawable, error) {
	pictures := drawable{}
	result, err := a.lookKit(kitName, kit.Making{Look: pictures.add})
	if err != nil {
		return kit.EditionDeck{}, nil, err
	}
	d, err := deckNamed(result.Edition.Decks, key)
	if err == nil && len(d.Copies) == 0 {
		err = refused("the deck %s has no cards", key)
	}
	return d, pictures, err
}

// formerDeck is a deck of an older kit, if there is one.
func formerDeck(before *kit.Result, key string) *kit.EditionDeck {
	if before == nil {
		return nil
	}
	for i := range before.Edition.Decks {
		if before.Edition.Decks[i].Key == key {
			return &before.Edition.Decks[i]
		}
	}
	return &kit.EditionDeck{}
}

// drawable are the pictures that a kit which was looked over can make, by their names.
type drawable map[string]func() *image.NRGBA

func (d drawable) add(name string, picture func() *image.NRGBA) { d[name] = picture }

// picture makes one.
func (d drawable) picture(name string) (image.Image, error) {
	if make, is := d[name]; is {
		if p := make(); p != nil {
			return p, nil
		}
	}
	return nil, errors.New("a picture of the kit cannot be read any more")
}

// showSheet writes all cards of a deck on one picture.
func (a *app) showSheet(pictures drawable, d kit.EditionDeck, to string) error {
	picture, err := print.Contact(d, pictures.picture, &deck.Fonts{Read: console.Font})
	if err != nil {
		return refused("%w", err)
	}
	var out bytes.Buffer
	if err := png.Encode(&out, picture); err != nil {
		return err
	}
	if err := writeWhole(to, out.Bytes()); err != nil {
		return refused("the picture cannot be written: %w", err)
	}
	return a.done(written{to, out.Len()}, "Wrote %s, %s of %s.", to, plural(len(d.Copies), "design"), d.Key)
}
