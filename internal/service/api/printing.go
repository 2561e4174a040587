package api

import (
	"bytes"
	"context"
	"damselfly.example/damselfly/internal/service/web"
	"fmt"
	"image"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/print"
	"damselfly.example/damselfly/internal/wire"
)

// printKit is what of a kit is printed, and how.
type printKit struct {
	OfEdition
	Deck   string  `query:"deck" maxLength:"40" doc:"A deck's key; all decks if left out."`
	Paper  string  `query:"paper" enum:"a4,letter" default:"a4"`
	Backs  string  `query:"backs" enum:"none,long,short" default:"none" doc:"Backs on the pages after their fronts, mirrored for paper that is turned over this edge."`
	Bleed  float64 `query:"bleed" minimum:"0" maximum:"5" doc:"Millimetres of art beyond the cut."`
	Marks  bool    `query:"marks" doc:"Show where to cut."`
	Former int     `query:"changed-since" minimum:"0" doc:"Only what looks otherwise than in this edition."`

	asker map[string]int // as shares count them
}

// Resolve notes who asks.
func (in *printKit) Resolve(ctx huma.Context) []error {
	in.asker = web.EachOf(ctx.RemoteAddr(), ctx.Header("Authorization"), printsOfEach, printsOfEach)
	return nil
}

// Limits of what is printed at the service, which holds the file in memory.
const (
	mostPrinted = 300  // different pictures
	mostCards   = 2000 // of one file
	printedSide = 1400 // pixels of a picture's longer side
)

func (a *API) printKit(ctx context.Context, in *printKit) (*streamed, error) {
	k, number, err := a.editionSeen(ctx, in.OfEdition)
	if err != nil {
		return nil, err
	}
	edition, err := a.Store.Edition(ctx, k.ID, number)
	if err != nil {
		return nil, err
	}
	var former kit.Edition
	if in.Former > 0 {
		if _, _, err = a.editionSeen(ctx, OfEdition{in.OfKit, in.Former}); err != nil {
			return nil, err
		}
		if former, err = a.Store.Edition(ctx, k.ID, in.Former); err != nil {
			return nil, err
		}
	}
	var cards []print.Card
	var keys []string
	for _, d := range edition.Decks {
		keys = append(keys, d.Key)
		if in.Deck != "" && d.Key != in.Deck {
			continue
		}
		before := &kit.EditionDeck{}
		if i := slices.IndexFunc(former.Decks, func(o kit.EditionDeck) bool { return o.Key == d.Key }); i >= 0 {
			before = &former.Decks[i]
		}
		if in.Former == 0 {
			before = nil
		}
		cards = append(cards, print.Cards(d, before)...)
	}
	if in.Deck != "" && !slices.Contains(keys, in.Deck) {
		return nil, wire.NoSuchDeck.With(wire.Problem{Detail: fmt.Sprintf("%s has no deck %q; it has %s.", k.Name, in.Deck, strings.Join(keys, ", "))})
	}
	if err := printable(cards, in); err != nil {
		return nil, err
	}
	release, ok := a.printing.Take(in.asker)
	if !ok {
		return nil, web.Busy(503, "You have cards printed already, or many do")
	}
	defer release()
	done, err := a.prints.Wait(ctx, "print") // so that makers' sheets never wait for prints
	if err != nil {
		return nil, err
	}
	defer done()
	var file bytes.Buffer
	options := print.Options{Paper: in.Paper, Backs: in.Backs, Bleed: in.Bleed, Marks: in.Marks, Small: true, At: time.Now()}
	if _, err := print.Write(&file, cards, a.printed(ctx), options); err != nil {
		if ctx.Err() != nil {
			return nil, err
		}
		return nil, wire.NotPrinted.With(wire.Problem{Detail: err.Error()})
	}
	name := fmt.Sprintf("%s-%d.pdf", k.ID, number)
	return &streamed{
		ContentType: "application/pdf", Disposition: fmt.Sprintf("attachment; filename=%q", name), Policy: "sandbox; default-src 'none'",
		Body: func(h huma.Context) { _, _ = h.BodyWriter().Write(file.Bytes()) },
	}, nil
}

// printable refuses what is too much for one file, or nothing.
func printable(cards []print.Card, in *printKit) error {
	pictures := map[string]bool{}
	for _, c := range cards {
		pictures[c.Front] = true
		if in.Backs == "long" || in.Backs == "short" {
			pictures[c.Back] = true
		}
	}
	switch {
	case len(cards) > mostCards:
		return wire.TooMuchToPrint.With(wire.Problem{Detail: fmt.Sprintf("These are %d cards; one file has %d at most. Print deck by deck, or take the kit away and use \"damselfly deck print\".", len(cards), mostCards),
			Numbers: map[string]int{"cards": len(cards), "most": mostCards}})
	case len(cards) == 0 && in.Former > 0:
		return wire.NothingToPrint.With(wire.Problem{Detail: fmt.Sprintf("Every card looks as in edition %d.", in.Former)})
	case len(pictures) > mostPrinted:
		return wire.TooMuchToPrint.With(wire.Problem{Detail: fmt.Sprintf("These are %d different pictures; one file has %d at most. Print deck by deck, or take the kit away and use \"damselfly deck print\".", len(pictures), mostPrinted),
			Numbers: map[string]int{"pictures": len(pictures), "most": mostPrinted}})
	}
	return nil
}

// printed opens pictures that are kept, no larger than paper shows.
func (a *API) printed(ctx context.Context) func(string) (image.Image, error) {
	return func(name string) (image.Image, error) {
		text, err := a.Store.Picture(ctx, name)
		if err != nil {
			return nil, err
		}
		picture, err := sheet.Read(text)
		if err != nil {
			return nil, err
		}
		return deck.Smaller(sheet.NRGBA(picture), printedSide), nil
	}
}
