package print_test

import (
	"bytes"
	"compress/zlib"
	"fmt"
	"image"
	"image/color"
	"io"
	"regexp"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/print"
)

const point = 72 / 25.4 // of a millimetre

// drawn is a picture on a page: its corner from the upper left and its size, in millimetres.
type drawn struct {
	image           string
	left, top, w, h float64
}

var (
	streams = regexp.MustCompile(`(?s)stream\n(.*?)\nendstream`)
	placed  = regexp.MustCompile(`q ([\d.-]+) 0 0 ([\d.-]+) ([\d.-]+) ([\d.-]+) cm /(\S+) Do Q`)
	drawnAt = regexp.MustCompile(`[\d.]+ [\d.]+ m [\d.]+ [\d.]+ l S`)
)

// pages reads what is drawn on the pages of a PDF, and how many lines.
func pages(t *testing.T, file []byte, paper [2]float64) (all [][]drawn, lines int) {
	for _, s := range streams.FindAllSubmatch(file, -1) {
		r, err := zlib.NewReader(bytes.NewReader(s[1]))
		if err != nil {
			continue
		}
		text, err := io.ReadAll(r)
		if err != nil || !placed.Match(text) {
			continue
		}
		lines += len(drawnAt.FindAll(text, -1))
		var page []drawn
		for _, m := range placed.FindAllSubmatch(text, -1) {
			n := make([]float64, 4)
			for i := range n {
				v, err := strconv.ParseFloat(string(m[i+1]), 64)
				require.NoError(t, err)
				n[i] = v / point
			}
			page = append(page, drawn{image: string(m[5]), left: n[2], top: paper[1] - n[3] - n[1], w: n[0], h: n[1]})
		}
		all = append(all, page)
	}
	return all, lines
}

func picture(name string) (image.Image, error) {
	if name == "" {
		return nil, fmt.Errorf("there is no picture without a name")
	}
	p := image.NewNRGBA(image.Rect(0, 0, 63, 88))
	for i := range p.Pix {
		p.Pix[i] = name[0]
	}
	p.SetNRGBA(0, 0, color.NRGBA{200, 0, 0, 255})
	return p, nil
}

func written(t *testing.T, cards []print.Card, o print.Options) []byte {
	var out bytes.Buffer
	o.At = time.Unix(1, 0)
	require.NoError(t, print.Write(&out, cards, picture, o))
	return out.Bytes()
}

func poker(n int) (cards []print.Card) {
	for i := range n {
		cards = append(cards, print.Card{Wide: 63, High: 88, Front: fmt.Sprint("front ", i), Back: fmt.Sprint("back ", i)})
	}
	return cards
}

func TestCardsAreInTheirRealSizeWhereNoneOverlaps(t *testing.T) {
	for paper, size := range map[string][2]float64{"a4": {210, 297}, "letter": {215.9, 279.4}} {
		for _, bleed := range []float64{0, 3} {
			all, lines := pages(t, written(t, poker(20), print.Options{Paper: paper, Bleed: bleed}), size)
			n := 0
			for _, page := range all {
				n += len(page)
				for i, d := range page {
					assert.InDelta(t, 63+2*bleed, d.w, 0.02)
					assert.InDelta(t, 88+2*bleed, d.h, 0.02)
					for _, other := range page[:i] {
						apart := max(d.left-other.left-other.w, other.left-d.left-d.w, d.top-other.top-other.h, other.top-d.top-d.h)
						assert.Greater(t, apart, -0.02, "%s %g: %v and %v", paper, bleed, d, other)
					}
				}
			}
			assert.Equal(t, 20, n)
			assert.Zero(t, lines)
		}
	}
	nine, lines := pages(t, written(t, poker(9), print.Options{Marks: true}), [2]float64{210, 297})
	assert.Len(t, nine, 1, "nine on a page")
	assert.Equal(t, 4*6, lines, "two marks at both ends of each column and row")
}

// A back lies where its front shows through, whichever way the paper is turned over.
func TestBacksLieBehindTheirFronts(t *testing.T) {
	a4 := [2]float64{210, 297}
	for edge, mirrored := range map[string]func(drawn) drawn{
		"long":  func(d drawn) drawn { d.left = a4[0] - d.left - d.w; return d },
		"short": func(d drawn) drawn { d.top = a4[1] - d.top - d.h; return d },
	} {
		all, _ := pages(t, written(t, poker(12), print.Options{Backs: edge}), a4)
		require.Len(t, all, 4)
		for i := 0; i < 4; i += 2 {
			require.Len(t, all[i+1], len(all[i]))
			for n, front := range all[i] {
				back, want := all[i+1][n], mirrored(front)
				assert.InDelta(t, want.left, back.left, 0.02, "%s %d", edge, n)
				assert.InDelta(t, want.top, back.top, 0.02, "%s %d", edge, n)
			}
		}
	}
}

func TestWhatCannotBePrintedIsSaid(t *testing.T) {
	for want, print1 := range map[string]func() error{
		"there are no cards to print": func() error { return print.Write(io.Discard, nil, picture, print.Options{}) },
		"paper is a4 or letter, not \"a5\"": func() error {
			return print.Write(io.Discard, poker(1), picture, print.Options{Paper: "a5"})
		},
		"a card of 300 × 400 millimetres does not go on a page of 210 × 297": func() error {
			return print.Write(io.Discard, []print.Card{{Wide: 300, High: 400, Front: "f"}}, picture, print.Options{})
		},
		"there is no picture without a name": func() error {
			return print.Write(io.Discard, []print.Card{{Wide: 63, High: 88}}, picture, print.Options{})
		},
		"these are 2001 cards; 2000 are printed at once": func() error { return print.Write(io.Discard, poker(2001), picture, print.Options{}) },
	} {
		assert.EqualError(t, print1(), want)
	}
}

func TestOnlyWhatChangedIsPrinted(t *testing.T) {
	art := func(name string) table.Picture { return table.Picture{Full: name} }
	deck := func(fog string, copies int) kit.EditionDeck {
		return kit.EditionDeck{
			Deck:   table.Deck{Wide: 63, High: 88, Designs: map[string]table.Design{"fog": {Front: art(fog), Back: art("b")}, "calm": {Front: art("calm"), Back: art("b")}}},
			Copies: []kit.Copies{{Design: "fog", Copies: 2}, {Design: "calm", Copies: copies}},
		}
	}
	former := deck("fog", 3)
	assert.Empty(t, print.Cards(deck("fog", 3), &former))
	assert.Len(t, print.Cards(deck("fog", 5), &former), 2, "two more of what was there")
	changed := print.Cards(deck("denser fog", 1), &former)
	require.Len(t, changed, 2)
	assert.Equal(t, "denser fog", changed[0].Front)
	assert.Len(t, print.Cards(deck("fog", 3), nil), 5)
}

func TestAContactSheetHasEveryDesign(t *testing.T) {
	d := kit.EditionDeck{Deck: table.Deck{Wide: 63, High: 88, Designs: map[string]table.Design{}}}
	for i := range 30 {
		key := fmt.Sprint("card-", i)
		d.Designs[key] = table.Design{Key: key, Name: fmt.Sprintf("Card: *%d* {x}", i), Front: table.Picture{Full: "p"}}
		d.Copies = append(d.Copies, kit.Copies{Design: key, Copies: i})
	}
	seen := 0
	p, err := print.Contact(d, func(name string) (image.Image, error) { seen++; return picture(name) }, nil)
	require.NoError(t, err)
	assert.Equal(t, 30, seen)
	assert.Less(t, max(p.Rect.Dx(), p.Rect.Dy()), 2500)
	_, err = print.Contact(kit.EditionDeck{}, picture, nil)
	assert.EqualError(t, err, "the deck has no designs")
}
