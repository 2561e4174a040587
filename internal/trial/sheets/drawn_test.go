// Package sheets draws sheets of cards as makers make them, and has grids read off them. Browsers draw the one half, from HTML
// and SVG; the other is put together by ImageMagick. Nothing of it is shared with the tests of core/sheet, from whose sheets much
// was learnt: what is reached here is reached on what others made.
package sheets

import (
	"encoding/json"
	"fmt"
	"hash/fnv"
	"image"
	"image/png"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"

	"damselfly.example/damselfly/internal/core/sheet"
)

// box is a part of a picture, in pixels that need not be whole: left, top, right, bottom.
type box [4]float64

func (b box) inset(by float64) box { return box{b[0] + by, b[1] + by, b[2] - by, b[3] - by} }

// within reports whether all of it lies in another.
func (b box) within(other box) bool {
	return b[0] >= other[0] && b[1] >= other[1] && b[2] <= other[2] && b[3] <= other[3]
}

func (b box) meets(other box) bool {
	return b[0] < other[2] && other[0] < b[2] && b[1] < other[3] && other[1] < b[3]
}

// near reports whether no side is further than some pixels from that of another.
func (b box) near(other box, pixels float64) bool {
	for side := range b {
		if math.Abs(b[side]-other[side]) > pixels {
			return false
		}
	}
	return true
}

// drawn is a sheet, and where its cards truly are.
type drawn struct {
	Style         string
	Seed          uint64
	Columns, Rows int
	Cards         []box   // in their order
	Shown         []box   // of each, what is not of the ground's colour
	Outside       []box   // words and pictures that are no card's
	Round         bool    // the corners of cards are of the ground's colour, so that it is no mistake to cut beside them
	Shade         float64 // how far shadows reach beyond cards
	Turned        float64 // degrees, as a scan lies
	File          string  // its name, in the folder of all
	Spoilt        string  // by what
	size          image.Point
}

func (d *drawn) String() string {
	return fmt.Sprintf("%s %d, %d × %d, %s, turned %.2f", d.Style, d.Seed, d.Columns, d.Rows, d.Spoilt, d.Turned)
}

// skewed is from how many degrees on a sheet counts as turned.
const skewed = 0.25

// fuzzy is how many pixels off cuts may be: edges between whole pixels are one or two wide.
const fuzzy = 2.5

// right reports whether a grid cuts each card out: to its edges where they are to be seen, else with all that it shows and nothing
// that another shows, and no words beside the cards.
func (d *drawn) right(g sheet.Grid) bool { return d.wrong(g) == "" }

// wrong says what is wrong with a grid, "" if nothing is.
func (d *drawn) wrong(g sheet.Grid) string {
	if g.Columns != d.Columns || g.Rows != d.Rows {
		return "other columns and rows"
	}
	for i, card := range d.Cards {
		short, long := min(card[2]-card[0], card[3]-card[1]), max(card[2]-card[0], card[3]-card[1])
		slack := max(fuzzy, short/60) + math.Sin(math.Abs(d.Turned)*math.Pi/180)*long
		r := g.Cell(d.size, i+1)
		cut := box{float64(r.Min.X), float64(r.Min.Y), float64(r.Max.X), float64(r.Max.Y)}
		if !d.Round && d.Shown[i].near(card, max(fuzzy, short/60)) {
			if !card.inset(slack).within(cut) || !cut.within(card.inset(-slack-d.Shade)) {
				return fmt.Sprintf("card %d is %.0f, and cut at %.0f", i+1, card, cut)
			}
			continue
		}
		if !d.Shown[i].inset(slack).within(cut) {
			return fmt.Sprintf("card %d shows %.0f, and is cut at %.0f", i+1, d.Shown[i], cut)
		}
		for other, shown := range d.Shown {
			if other != i && shown.inset(slack).meets(cut) {
				return fmt.Sprintf("card %d, which shows %.0f, is cut in two at %.0f", other+1, shown, cut)
			}
		}
		for _, words := range d.Outside {
			if words.inset(slack).meets(cut) {
				return fmt.Sprintf("words at %.0f are taken in at %.0f", words, cut)
			}
		}
	}
	return ""
}

// offered reports whether the right grid is among the three that are offered.
func (d *drawn) offered(r sheet.Report) bool {
	return slices.ContainsFunc(r.Guesses[:min(3, len(r.Guesses))], func(g sheet.Guessed) bool { return d.right(g.Grid) })
}

// look finds what cards show: what is far from the colour of the ground.
func (d *drawn) look(p image.Image, ground [4]uint32) {
	shows := func(x, y int) bool {
		r, g, b, a := p.At(x, y).RGBA()
		far := 0
		for i, c := range [4]uint32{r >> 8, g >> 8, b >> 8, a >> 8} {
			far = max(far, int(c)-int(ground[i]), int(ground[i])-int(c))
		}
		return far > 20
	}
	corners := 0
	for _, card := range d.Cards {
		shown := box{card[2], card[3], card[0], card[1]}
		for y := int(card[1] + 0.5); y < int(card[3]+0.5); y++ {
			for x := int(card[0] + 0.5); x < int(card[2]+0.5); x++ {
				if shows(x, y) {
					shown = box{min(shown[0], float64(x)), min(shown[1], float64(y)), max(shown[2], float64(x+1)), max(shown[3], float64(y+1))}
				}
			}
		}
		if shown[0] >= shown[2] {
			shown = card
		}
		d.Shown = append(d.Shown, shown)
		in := card.inset(max(1, (card[2]-card[0])/50))
		for _, x := range []float64{in[0], in[2] - 1} {
			for _, y := range []float64{in[1], in[3] - 1} {
				if !shows(int(x), int(y)) {
					corners++
				}
			}
		}
	}
	d.Round = corners > 3*len(d.Cards)
}

// scaled moves all boxes to a picture of another size.
func (d *drawn) scaled(x, y float64) {
	d.Shade *= x
	for _, all := range [][]box{d.Cards, d.Shown, d.Outside} {
		for i, b := range all {
			all[i] = box{b[0] * x, b[1] * y, b[2] * x, b[3] * y}
		}
	}
}

// turned moves all boxes to where they lie once the picture, of a size, was turned, and grew by that.
func (d *drawn) turned(size image.Point, degrees float64) {
	d.Turned = degrees
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	w, h := float64(size.X), float64(size.Y)
	grownX, grownY := math.Abs(w*cos)+math.Abs(h*sin), math.Abs(w*sin)+math.Abs(h*cos)
	for _, all := range [][]box{d.Cards, d.Shown, d.Outside} {
		for i, b := range all {
			x, y := (b[0]+b[2])/2-w/2, (b[1]+b[3])/2-h/2
			toX, toY := x*cos-y*sin+grownX/2, x*sin+y*cos+grownY/2
			halfX, halfY := (b[2]-b[0])/2, (b[3]-b[1])/2
			all[i] = box{toX - halfX, toY - halfY, toX + halfX, toY + halfY}
		}
	}
}

// hand is whose chance draws one sheet.
type hand struct{ *rand.Rand }

// handOf is the hand that draws a sheet of a style.
func handOf(style string, seed uint64) hand {
	return hand{rand.New(rand.NewPCG(hashed(style), seed))}
}

func hashed(text string) uint64 {
	h := fnv.New64a()
	_, _ = h.Write([]byte(text))
	return h.Sum64()
}

// part is which of the five parts a style belongs to: what is learnt on the others is reported on it.
func part(style string) int { return int(hashed(style) % 5) }

func (h hand) between(least, most int) int { return least + h.IntN(most-least+1) }

func (h hand) real(least, most float64) float64 { return least + h.Float64()*(most-least) }

func (h hand) with(chance float64) bool { return h.Float64() < chance }

func pick[T any](h hand, of ...T) T { return of[h.IntN(len(of))] }

// atelier is a folder in which sheets are drawn, and kept for the next time.
type atelier struct{ folder string }

// kept is a sheet that was drawn before, nil if it was not.
func (a atelier) kept(style string, seed uint64) *drawn {
	text, err := os.ReadFile(a.noteOf(style, seed))
	var d drawn
	if err != nil || json.Unmarshal(text, &d) != nil {
		return nil
	}
	return &d
}

func (a atelier) keep(d *drawn) error {
	text, err := json.Marshal(d)
	if err != nil {
		return err
	}
	return os.WriteFile(a.noteOf(d.Style, d.Seed), text, 0o644)
}

func (a atelier) noteOf(style string, seed uint64) string {
	return filepath.Join(a.folder, fmt.Sprintf("%s-%d.json", style, seed))
}

// decoded reads a PNG file.
func decoded(file string) (image.Image, error) {
	in, err := os.Open(file)
	if err != nil {
		return nil, err
	}
	defer in.Close()
	return png.Decode(in)
}
