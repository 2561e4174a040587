package print_test

import (
	"bytes"
	"compress/zlib"
	"fmt"
	"image"
	"image/color"
	"io"
	"math"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/print"
)

const point = 72 / 25.4 // of a millimetre

// drawn is a picture on a page: its corner from the upper left and its size, in millimetres, and
// whether it lies on its head.
type drawn struct {
	image           string
	left, top, w, h float64
	head            bool
}

var (
	streams = regexp.MustCompile(`(?s)stream\n(.*?)\nendstream`)
	drawnAt = regexp.MustCompile(`[\d.]+ [\d.]+ m [\d.]+ [\d.]+ l S`)
)

// matrix is how PDF turns and moves what is drawn: x' = a·x + c·y + e, y' = b·x + d·y + f.
type matrix [6]float64

// then is what first m and then n does.
func (m matrix) then(n matrix) matrix {
	return matrix{
		m[0]*n[0] + m[1]*n[2], m[0]*n[1] + m[1]*n[3], m[2]*n[0] + m[3]*n[2], m[2]*n[1] + m[3]*n[3],
		m[4]*n[0] + m[5]*n[2] + n[4], m[4]*n[1] + m[5]*n[3] + n[5],
	}
}

// pages reads what is drawn on the pages of a PDF, and how many lines.
func pages(t *testing.T, file []byte, high float64) (all [][]drawn, lines int) {
	for _, s := range streams.FindAllSubmatch(file, -1) {
		r, err := zlib.NewReader(bytes.NewReader(s[1]))
		if err != nil {
			continue
		}
		text, err := io.ReadAll(r)
		if err != nil || !bytes.Contains(text, []byte(" Do")) {
			continue
		}
		lines += len(drawnAt.FindAll(text, -1))
		var page []drawn
		now, kept, said := matrix{1, 0, 0, 1, 0, 0}, []matrix{}, []string{}
		for _, word := range strings.Fields(string(text)) {
			switch word {
			case "q":
				kept = append(kept, now)
			case "Q":
				now, kept = kept[len(kept)-1], kept[:len(kept)-1]
			case "cm":
				var m matrix
				for i := range m {
					m[i], err = strconv.ParseFloat(said[len(said)-6+i], 64)
					require.NoError(t, err)
				}
				now = m.then(now)
			case "Do":
				x, y := min(now[4], now[4]+now[0]), max(now[5], now[5]+now[3])
				require.Zero(t, math.Round(1e3*(math.Abs(now[1])+math.Abs(now[2]))), "a picture lies aslant")
				page = append(page, drawn{said[len(said)-1], x / point, high - y/point, math.Abs(now[0]) / point, math.Abs(now[3]) / point, now[3] < 0})
			}
			said = append(said, word)
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
	_, err := print.Write(&out, cards, picture, o)
	require.NoError(t, err)
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
			all, lines := pages(t, written(t, poker(20), print.Options{Paper: paper, Bleed: bleed}), size[1])
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
	nine, lines := pages(t, written(t, poker(9), print.Options{Marks: true}), 297)
	assert.Len(t, nine, 1, "nine on a page")
	assert.Equal(t, 4*6, lines, "two marks at both ends of each column and row")
}

// folded is where something on the back of a sheet of paper lies as seen from its front, for paper that is turned over its
// long or its short edge and has its back read upright then. Turned over an edge that stands, right and left change; over
// one that lies, up and down.
func folded(d drawn, page [2]float64, edge string) drawn {
	stands := edge == "long" && page[1] > page[0] || edge == "short" && page[1] < page[0]
	if stands {
		d.left = page[0] - d.left - d.w
		return d
	}
	d.top, d.head = page[1]-d.top-d.h, !d.head
	return d
}

// Each card that is cut out has its back behind its front, and upright when it is turned as the leaf of a book, whichever
// way the paper is turned over and lies.
func TestBacksLieUprightBehindTheirFronts(t *testing.T) {
	for _, c := range []struct{ page, card [2]float64 }{{[2]float64{210, 297}, [2]float64{63, 88}}, {[2]float64{297, 210}, [2]float64{88, 63}}} {
		for _, edge := range []string{"long", "short"} {
			cards := poker(13)
			for i := range cards {
				cards[i].Wide, cards[i].High = c.card[0], c.card[1]
			}
			all, _ := pages(t, written(t, cards, print.Options{Backs: edge}), c.page[1])
			require.Len(t, all, 4, "nine on a page that lies so")
			for i := 0; i < len(all); i += 2 {
				require.Len(t, all[i+1], len(all[i]))
				for n, front := range all[i] {
					back := folded(all[i+1][n], c.page, edge)
					assert.InDelta(t, front.left, back.left, 0.02, "%v %s %d", c.page, edge, n)
					assert.InDelta(t, front.top, back.top, 0.02, "%v %s %d", c.page, edge, n)
					assert.False(t, front.head || back.head, "%v %s %d is on its head", c.page, edge, n)
				}
			}
		}
	}
}

func TestPicturesWithTooFewDotsAreTold(t *testing.T) {
	cards := append(poker(3), print.Card{Wide: 5, High: 7, Front: "small", Back: "small", Of: "tiles"})
	for i := range cards[:3] {
		cards[i].Of = "letters"
	}
	soft, err := print.Write(io.Discard, cards, picture, print.Options{})
	require.NoError(t, err)
	assert.Equal(t, []print.Soft{{Deck: "letters", Pictures: 3, Dots: 25}}, soft, "63 pixels on 63 millimetres")
}

// refused is why cards cannot be printed. It is known before any of them is drawn.
func refused(cards []print.Card, o print.Options) error {
	_, err := print.Write(io.Discard, cards, func(string) (image.Image, error) { panic("a card was drawn") }, o)
	return err
}

func TestWhatCannotBePrintedIsSaid(t *testing.T) {
	for want, print1 := range map[string]func() error{
		"there are no cards to print": func() error { return refused(nil, print.Options{}) },
		"paper is a4 or letter, not \"a5\"": func() error {
			return refused(poker(1), print.Options{Paper: "a5"})
		},
		"a card of 300 × 400 millimetres does not go on a page of 210 × 297": func() error {
			return refused(append(poker(1), print.Card{Wide: 300, High: 400, Front: "f"}), print.Options{})
		},
		"there is no picture without a name": func() error {
			_, err := print.Write(io.Discard, []print.Card{{Wide: 63, High: 88}}, picture, print.Options{})
			return err
		},
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
