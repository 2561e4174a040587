// Package print lays cards out on paper in their real size, as a PDF, for the kitchen table.
//
//	err := print.Write(out, cards, picture, print.Options{Paper: "a4", Backs: "long"})
package print

import (
	"bytes"
	"cmp"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"io"
	"math"
	"slices"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/draw"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
)

// Options say how cards are printed. The zero value is A4, without bleed, marks and backs.
type Options struct {
	Paper string    // a4 or letter
	Bleed float64   // millimetres of art beyond the cut
	Marks bool      // lines that show where to cut
	Backs string    // long or short: on the pages after their fronts, for paper that is turned over that edge; or none
	Small bool      // pictures are packed as photographs are: the file is a fraction as large
	At    time.Time // noted in the file
}

// Card is one card to be printed.
type Card struct {
	Wide, High  float64 // millimetres
	Front, Back string  // names of pictures
	Of          string  // its deck's name
}

// papers are their widths and heights in millimetres, upright.
var papers = map[string][2]float64{"a4": {210, 297}, "letter": {215.9, 279.4}}

// Limits of what is printed.
const (
	MaxBleed = 5   // millimetres
	sharp    = 200 // dots per inch from which on paper looks sharp
)

// rim is what printers leave white, in millimetres; marks stand in it.
const rim = 8

// Cards are those of a deck, each as often as it is there: all of them, or those that look otherwise
// than in a former edition of the deck.
func Cards(d kit.EditionDeck, former *kit.EditionDeck) (cards []Card) {
	for _, c := range d.Copies {
		design := d.Designs[c.Design]
		n := c.Copies
		if former != nil {
			if was, is := former.Designs[c.Design]; is && was.Front == design.Front && was.Back == design.Back {
				n -= copiesOf(*former, c.Design) // those are on the table already
			}
		}
		for range n {
			cards = append(cards, Card{Wide: d.Wide, High: d.High, Front: full(design.Front), Back: full(design.Back), Of: d.Key})
		}
	}
	return cards
}

func copiesOf(d kit.EditionDeck, design string) int {
	for _, c := range d.Copies {
		if c.Design == design {
			return c.Copies
		}
	}
	return 0
}

func full(p table.Picture) string { return cmp.Or(p.Full, p.Small) }

// Wrong says what is wrong with the options; nil if nothing is.
func (o Options) Wrong() error {
	switch {
	case papers[cmp.Or(o.Paper, "a4")] == [2]float64{}:
		return fmt.Errorf("paper is a4 or letter, not %q", o.Paper)
	case !slices.Contains([]string{"", "none", "long", "short"}, o.Backs):
		return fmt.Errorf("backs are mirrored for turning over the long or the short edge, or there are none; not %q", o.Backs)
	case o.Bleed < 0 || o.Bleed > MaxBleed || math.IsNaN(o.Bleed):
		return fmt.Errorf("bleed is from 0 to %d millimetres, not %g", MaxBleed, o.Bleed)
	}
	return nil
}

// Refuse says why cards cannot be printed, before any is drawn; nil if they can.
func (o Options) Refuse(cards []Card) error {
	if err := o.Wrong(); err != nil {
		return err
	}
	if len(cards) == 0 {
		return fmt.Errorf("there are no cards to print")
	}
	for _, c := range cards {
		if _, err := o.form(c); err != nil {
			return err
		}
	}
	return nil
}

// Soft is pictures of a deck that have fewer dots than paper shows.
type Soft struct {
	Deck     string `json:"deck"`
	Pictures int    `json:"pictures"`
	Dots     int    `json:"dpi"` // per inch, of the one that has fewest
}

// Write writes cards as a PDF: as many on a page as there is room for, in their order, those of one
// size together. picture gives a picture by its name. What will look soft is told.
func Write(out io.Writer, cards []Card, picture func(name string) (image.Image, error), o Options) ([]Soft, error) {
	if err := o.Refuse(cards); err != nil {
		return nil, err
	}
	p := &printer{pdf: fpdf.New("P", "mm", "A4", ""), options: o, picture: picture, there: map[string]bool{}}
	p.pdf.SetAutoPageBreak(false, 0)
	p.pdf.SetCreationDate(o.At)
	p.pdf.SetModificationDate(o.At)
	p.pdf.SetProducer("Damselfly", true)
	p.pdf.SetCatalogSort(true)
	for begin := 0; begin < len(cards); {
		end := begin + 1
		for end < len(cards) && cards[end].Wide == cards[begin].Wide && cards[end].High == cards[begin].High {
			end++
		}
		f, err := o.form(cards[begin])
		if err != nil {
			return nil, err
		}
		for some := range slices.Chunk(cards[begin:end], f.columns*f.rows) {
			if err := p.page(f, some); err != nil {
				return nil, err
			}
		}
		begin = end
	}
	if err := p.pdf.Error(); err != nil {
		return nil, err
	}
	return p.soft, p.pdf.Output(out)
}

// printer writes pages.
type printer struct {
	pdf     *fpdf.Fpdf
	options Options
	picture func(name string) (image.Image, error)
	there   map[string]bool // pictures that the file has already
	soft    []Soft
}

// form is how cards of one size lie on a page.
type form struct {
	page          [2]float64 // its width and height
	wide, high    float64    // of a card
	columns, rows int
	left, top     float64 // of the first card
	apart         float64 // between two
}

// form finds the way round on which most cards fit.
func (o Options) form(c Card) (best form, err error) {
	paper := papers[cmp.Or(o.Paper, "a4")]
	for _, page := range [][2]float64{paper, {paper[1], paper[0]}} {
		f := form{page: page, wide: c.Wide, high: c.High, apart: 2 * o.Bleed}
		f.columns = int((page[0] - 2*rim + 1e-6) / (f.wide + f.apart))
		f.rows = int((page[1] - 2*rim + 1e-6) / (f.high + f.apart))
		if f.columns*f.rows > best.columns*best.rows {
			best = f
		}
	}
	if best.columns == 0 {
		return best, fmt.Errorf("a card of %g × %g millimetres does not go on a page of %g × %g", c.Wide, c.High, paper[0], paper[1])
	}
	best.left = (best.page[0] - float64(best.columns)*(best.wide+best.apart) + best.apart) / 2
	best.top = (best.page[1] - float64(best.rows)*(best.high+best.apart) + best.apart) / 2
	return best, nil
}

// place is the upper left corner of a card.
func (f form) place(i int) (x, y float64) {
	return f.left + float64(i%f.columns)*(f.wide+f.apart), f.top + float64(i/f.columns)*(f.high+f.apart)
}

// page writes a page of fronts, and one of their backs if they are wanted.
func (p *printer) page(f form, cards []Card) error {
	p.begin(f)
	for i, c := range cards {
		x, y := f.place(i)
		if err := p.draw(c.Of, c.Front, f, x, y); err != nil {
			return err
		}
	}
	p.marks(f)
	if p.options.Backs == "" || p.options.Backs == "none" {
		return nil
	}
	p.begin(f)
	// Paper that is turned as one turns a leaf of a book has its backs in mirrored columns. Turned over its upper edge, it has
	// them in mirrored rows and on their heads: a card that is cut out is turned as a leaf, whatever its paper was.
	leaf := (p.options.Backs == "long") == (f.page[0] < f.page[1])
	for i, c := range cards {
		x, y := f.place(i)
		if leaf {
			x = f.page[0] - x - f.wide
		} else {
			y = f.page[1] - y - f.high
			p.pdf.TransformBegin()
			p.pdf.TransformRotate(180, x+f.wide/2, y+f.high/2)
		}
		err := p.draw(c.Of, c.Back, f, x, y)
		if !leaf {
			p.pdf.TransformEnd()
		}
		if err != nil {
			return err
		}
	}
	p.marks(f)
	return nil
}

func (p *printer) begin(f form) {
	way := "P"
	if f.page[0] > f.page[1] {
		way = "L"
	}
	p.pdf.AddPageFormat(way, fpdf.SizeType{Wd: min(f.page[0], f.page[1]), Ht: max(f.page[0], f.page[1])})
}

// draw draws a picture of a deck where a card lies, with its bleed.
func (p *printer) draw(of, name string, f form, x, y float64) error {
	bleed := p.options.Bleed
	key := fmt.Sprintf("%s %g %g", name, f.wide, f.high)
	if !p.there[key] {
		one, err := p.picture(name)
		if err != nil {
			return err
		}
		p.noteDots(of, one.Bounds().Size(), f)
		var file bytes.Buffer
		kind := fpdf.ImageOptions{ImageType: "PNG"}
		whole := bled(one, bleed/f.wide, bleed/f.high)
		if p.options.Small {
			kind.ImageType = "JPG"
			err = jpeg.Encode(&file, whole, &jpeg.Options{Quality: 94})
		} else {
			err = (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&file, whole)
		}
		if err != nil {
			return err
		}
		p.pdf.RegisterImageOptionsReader(key, kind, &file)
		p.there[key] = true
	}
	p.pdf.ImageOptions(key, x-bleed, y-bleed, f.wide+2*bleed, f.high+2*bleed, false, fpdf.ImageOptions{}, 0, "")
	return p.pdf.Error()
}

// noteDots notes a picture that has too few dots for its card.
func (p *printer) noteDots(of string, size image.Point, f form) {
	const inch = 25.4
	dots := int(math.Round(min(float64(size.X)/f.wide, float64(size.Y)/f.high) * inch))
	if dots >= sharp {
		return
	}
	i := slices.IndexFunc(p.soft, func(s Soft) bool { return s.Deck == of })
	if i < 0 {
		p.soft = append(p.soft, Soft{Deck: of, Dots: dots})
		i = len(p.soft) - 1
	}
	p.soft[i].Pictures++
	p.soft[i].Dots = min(p.soft[i].Dots, dots)
}

// bled is a picture on white, with its outermost pixels drawn out by shares of its width and height.
func bled(p image.Image, across, down float64) *image.RGBA {
	size := p.Bounds().Size()
	x, y := int(math.Round(across*float64(size.X))), int(math.Round(down*float64(size.Y)))
	on := image.NewRGBA(image.Rect(-x, -y, size.X+x, size.Y+y))
	draw.Draw(on, on.Rect, image.White, image.Point{}, draw.Src)
	inner := image.Rectangle{Max: size}
	draw.Draw(on, inner, p, p.Bounds().Min, draw.Over)
	at := func(x, y int) color.RGBA { return on.RGBAAt(min(max(x, 0), size.X-1), min(max(y, 0), size.Y-1)) }
	for py := on.Rect.Min.Y; py < on.Rect.Max.Y; py++ {
		for px := on.Rect.Min.X; px < on.Rect.Max.X; px++ {
			if !image.Pt(px, py).In(inner) {
				on.SetRGBA(px, py, at(px, py))
			}
		}
	}
	on.Rect = on.Rect.Sub(on.Rect.Min)
	return on
}

// marks draws where to cut, in the rim of the page.
func (p *printer) marks(f form) {
	if !p.options.Marks {
		return
	}
	const long, off = 5, 1.5
	p.pdf.SetLineWidth(0.1)
	top, left := f.top-p.options.Bleed, f.left-p.options.Bleed
	bottom, right := f.page[1]-top, f.page[0]-left
	for c := range f.columns {
		for _, x := range []float64{0, f.wide} {
			x += f.left + float64(c)*(f.wide+f.apart)
			p.pdf.Line(x, top-off-long, x, top-off)
			p.pdf.Line(x, bottom+off, x, bottom+off+long)
		}
	}
	for r := range f.rows {
		for _, y := range []float64{0, f.high} {
			y += f.top + float64(r)*(f.high+f.apart)
			p.pdf.Line(left-off-long, y, left-off, y)
			p.pdf.Line(right+off, y, right+off+long, y)
		}
	}
}
