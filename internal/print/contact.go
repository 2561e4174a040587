package print

import (
	"fmt"
	"image"
	"math"
	"strings"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
)

// Measures of a contact sheet, in pixels.
const (
	contactCard = 200 // the longer side of a card
	contactRim  = 16
	contactText = 44
	contactMost = 8192 // of a side
)

// Contact draws all cards of a deck on one picture, each with its name and its copies.
func Contact(d kit.EditionDeck, picture func(name string) (image.Image, error), fonts *deck.Fonts) (*image.NRGBA, error) {
	n := len(d.Copies)
	if n == 0 {
		return nil, fmt.Errorf("the deck has no designs")
	}
	scale := contactCard / max(d.Wide, d.High)
	wide, high := math.Round(d.Wide*scale), math.Round(d.High*scale)
	cell := [2]float64{max(wide, 140) + contactRim, high + contactText + contactRim}
	columns := max(1, min(n, int(math.Round(math.Sqrt(float64(n)*1.5*cell[1]/cell[0])))))
	rows := (n + columns - 1) / columns
	if shrink := contactMost / max(float64(columns)*cell[0], float64(rows)*cell[1]); shrink < 1 {
		return nil, fmt.Errorf("the deck has %d designs, which are more than one picture can show; print it", n)
	}
	l := &deck.Layout{Size: []int{int(float64(columns)*cell[0]) + contactRim, int(float64(rows)*cell[1]) + contactRim}}
	l.Front = append(l.Front, deck.Box{At: []float64{0, 0, float64(l.Size[0]), float64(l.Size[1])}, Fill: "#eceff1"})
	for i, c := range d.Copies {
		design := d.Designs[c.Design]
		x, y := contactRim+float64(i%columns)*cell[0], contactRim+float64(i/columns)*cell[1]
		l.Front = append(l.Front,
			deck.Box{At: []float64{x + (cell[0]-contactRim-wide)/2, y, wide, high}, Picture: full(design.Front)},
			deck.Box{At: []float64{x, y + high + 3, cell[0] - contactRim, contactText - 3}, Align: "centre", Height: 15, Least: 8, Lines: 1.15,
				Text: plain.Replace(design.Name) + fmt.Sprintf(" ×%d", c.Copies)})
	}
	drawn, err := (&deck.Artist{Picture: picture, Shipped: fonts}).Draw(l, l.Front, nil)
	return drawn.Picture, err
}

// plain is text without marks.
var plain = strings.NewReplacer(`\`, `\\`, "*", `\*`, ":", `\:`, "{", "{{")
