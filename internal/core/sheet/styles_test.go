package sheet_test

import (
	"bytes"
	"cmp"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/draw"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"

	"damselfly.example/damselfly/internal/core/sheet"
)

// styles are the ways in which makers draw cards that grids are to be found on.
var styles = []string{"bordered", "bleed", "icons", "text", "photo", "flat", "dark", "hairline", "rounded", "marks"}

// styled is a sheet drawn in one of the styles.
type styled struct {
	sheet.Grid
	style   string
	ground  color.NRGBA
	empty   int               // cells left empty at the end
	quality int               // of JPEG; 0: none
	blank   bool              // the rim of a card looks like the ground
	printed []image.Rectangle // the box of what is printed on each card
	picture image.Image
}

func (s styled) String() string {
	return fmt.Sprintf("%s, %d × %d, margin %v, gutter %v, %d empty, blank %v, jpeg %d, %v, ground %v", s.style, s.Columns, s.Rows, s.Margin, s.Gutter, s.empty, s.blank, s.quality, s.picture.Bounds().Size(), s.ground)
}

// right reports whether a guess cuts the cards out whole: to two pixels, or where a card's rim
// looks like the ground, with all that is printed on it and nothing of its neighbours.
func (s styled) right(guess sheet.Grid) bool {
	if guess.Columns != s.Columns || guess.Rows != s.Rows {
		return false
	}
	size := s.picture.Bounds().Size()
	for cell, printed := range s.printed {
		is, cut := s.Cell(size, cell+1), guess.Cell(size, cell+1)
		if !s.blank {
			for _, off := range []int{is.Min.X - cut.Min.X, is.Min.Y - cut.Min.Y, is.Max.X - cut.Max.X, is.Max.Y - cut.Max.Y} {
				if abs(off) > 2 {
					return false
				}
			}
			continue
		}
		for other, box := range s.printed {
			if other != cell && box.Inset(2).Overlaps(cut) {
				return false
			}
		}
		if !printed.Inset(2).In(cut) {
			return false
		}
	}
	return true
}

// printedOn is the box of what a card shows on the ground.
func printedOn(p *image.NRGBA, cell image.Rectangle, ground color.NRGBA) (box image.Rectangle) {
	for y := cell.Min.Y; y < cell.Max.Y; y++ {
		for x := cell.Min.X; x < cell.Max.X; x++ {
			if p.NRGBAAt(x, y) != ground {
				box = box.Union(image.Rect(x, y, x+1, y+1))
			}
		}
	}
	return box
}

// scale draws the sheet in another size.
func (s *styled) scale(on *image.NRGBA, size image.Point) {
	scaled := image.NewNRGBA(image.Rectangle{Max: size})
	draw.ApproxBiLinear.Scale(scaled, scaled.Rect, on, on.Rect, draw.Src, nil)
	x, y := float64(size.X)/float64(on.Rect.Dx()), float64(size.Y)/float64(on.Rect.Dy())
	for i, b := range s.printed {
		s.printed[i] = image.Rect(int(float64(b.Min.X)*x), int(float64(b.Min.Y)*y), int(float64(b.Max.X)*x), int(float64(b.Max.Y)*y))
	}
	s.picture = scaled
}

// drawing draws cards of one sheet.
type drawing struct {
	*rand.Rand
	on      *image.NRGBA
	letters *opentype.Font // nil: words are drawn as bars
}

// letters is what words are written in.
var letters = sync.OnceValue(func() *opentype.Font {
	read, err := opentype.Parse(goregular.TTF)
	if err != nil {
		panic(err)
	}
	return read
})

var someWords = strings.Fields("the marsh post carries a letter over wet ground when wind turns draw two cards then lose one coin heron lantern reed ferry toll bridge gain any each player may move once discard keep hidden until dusk")

func (d drawing) between(least, most int) int { return least + d.IntN(most-least+1) }

func (d drawing) colour(least, most int) color.NRGBA {
	return color.NRGBA{uint8(d.between(least, most)), uint8(d.between(least, most)), uint8(d.between(least, most)), 255}
}

func (d drawing) fill(r image.Rectangle, c color.NRGBA) { fill(d.on, r, c) }

func (d drawing) disc(x, y, radius int, c color.NRGBA, within image.Rectangle) {
	for py := y - radius; py <= y+radius; py++ {
		for px := x - radius; px <= x+radius; px++ {
			if (px-x)*(px-x)+(py-y)*(py-y) <= radius*radius && image.Pt(px, py).In(within) {
				d.on.SetNRGBA(px, py, c)
			}
		}
	}
}

// write writes lines of words, of a size and as many as they happen to be.
func (d drawing) write(r image.Rectangle, high int, share float64, c color.NRGBA) {
	size := max(6, float64(high*d.between(75, 130))/100)
	face, err := opentype.NewFace(d.letters, &opentype.FaceOptions{Size: size, DPI: 72})
	if err != nil {
		panic(err)
	}
	to := font.Drawer{Dst: d.on, Src: image.NewUniform(c), Face: face}
	for y := float64(r.Min.Y) + size; y+size/4 <= float64(r.Min.Y)+float64(r.Dy())*share; y += 1.3 * size {
		line := ""
		for next := someWords[d.IntN(len(someWords))]; to.MeasureString(line+next).Ceil() <= r.Dx() && d.IntN(20) > 0; next = someWords[d.IntN(len(someWords))] {
			line += next + " "
		}
		to.Dot = fixed.P(r.Min.X, int(y))
		to.DrawString(line)
	}
}

// words draws lines of words, or of what looks like them.
func (d drawing) words(r image.Rectangle, high int, share float64, c color.NRGBA) {
	if d.letters != nil {
		if r.Dy() > 3*high { // it is no title
			share *= 0.4 + 0.6*d.Float64()
		}
		d.write(r, high, share, c)
		return
	}
	last := r.Min.Y + int(float64(r.Dy())*share)
	for y := r.Min.Y; y+high <= last; y += high * 2 {
		end := r.Max.X
		if d.IntN(4) == 0 {
			end -= d.IntN(max(r.Dx()/2, 1))
		}
		for x := r.Min.X; x < end; {
			letters := d.between(2, 8)
			for range letters {
				if x+high/2 >= end {
					break
				}
				d.fill(image.Rect(x, y+d.IntN(high/3+1), x+max(1, high/3), y+high-d.IntN(high/4+1)), c)
				x += high * 2 / 3
			}
			x += high / 2
		}
	}
}

// shapes draws discs and boxes.
func (d drawing) shapes(r image.Rectangle, n, least, most int) {
	for range n {
		x, y, size := r.Min.X+d.IntN(r.Dx()), r.Min.Y+d.IntN(r.Dy()), d.between(4, max(5, r.Dx()/4))
		if d.IntN(2) == 0 {
			d.disc(x, y, size, d.colour(least, most), r)
		} else {
			d.fill(image.Rect(x-size, y-size, x+size, y+size/2).Intersect(r), d.colour(least, most))
		}
	}
}

// photo draws clouds of colour with grain.
func (d drawing) photo(r image.Rectangle, grain float64) {
	type wave struct{ x, y, phase, red, green, blue float64 }
	var waves []wave
	base := [3]float64{d.Float64()*140 + 50, d.Float64()*140 + 50, d.Float64()*140 + 50}
	for range 5 {
		waves = append(waves, wave{d.Float64()*0.08 - 0.04, d.Float64()*0.08 - 0.04, d.Float64() * 7, d.Float64() * 25, d.Float64() * 25, d.Float64() * 25})
	}
	clip := func(v float64) uint8 { return uint8(max(0, min(255, v))) }
	for y := r.Min.Y; y < r.Max.Y; y++ {
		for x := r.Min.X; x < r.Max.X; x++ {
			v := base
			for _, w := range waves {
				s := math.Sin(float64(x)*w.x + float64(y)*w.y + w.phase)
				v[0], v[1], v[2] = v[0]+s*w.red, v[1]+s*w.green, v[2]+s*w.blue
			}
			n := d.NormFloat64() * grain
			d.on.SetNRGBA(x, y, color.NRGBA{clip(v[0] + n), clip(v[1] + n), clip(v[2] + n), 255})
		}
	}
}

// lookOf is how all cards of a sheet look: each is drawn by what it returns.
func (d drawing) lookOf(s *styled) func(r image.Rectangle) {
	ink := color.NRGBA{35, 35, 40, 255}
	switch s.style {
	case "bordered":
		border, wide := d.colour(0, 200), d.between(3, 10)
		if d.IntN(4) == 0 {
			border = white
		}
		if border == s.ground {
			s.blank = true
		}
		return func(r image.Rectangle) {
			d.fill(r, border)
			inner := r.Inset(wide)
			d.fill(inner, d.colour(90, 230))
			art := image.Rect(inner.Min.X+4, inner.Min.Y+r.Dy()/7, inner.Max.X-4, inner.Min.Y+r.Dy()/2)
			d.fill(art, d.colour(60, 220))
			d.shapes(art, 12, 30, 230)
			d.words(image.Rect(inner.Min.X+6, inner.Min.Y+4, inner.Max.X-6, art.Min.Y-2), max(6, r.Dy()/16), 1, ink)
			d.words(image.Rect(inner.Min.X+6, art.Max.Y+6, inner.Max.X-6, inner.Max.Y-6), max(4, r.Dy()/30), 0.5+d.Float64()/2, ink)
		}
	case "bleed":
		banner := d.IntN(2) == 0
		return func(r image.Rectangle) {
			d.fill(r, d.colour(40, 230))
			d.shapes(r, 25, 20, 240)
			if banner {
				d.fill(image.Rect(r.Min.X, r.Max.Y-r.Dy()/4, r.Max.X, r.Max.Y-r.Dy()/8), d.colour(200, 250))
				d.words(image.Rect(r.Min.X+6, r.Max.Y-r.Dy()/4+3, r.Max.X-6, r.Max.Y-r.Dy()/8), max(5, r.Dy()/14), 1, ink)
			}
		}
	case "icons":
		paper, wide := color.NRGBA{250, 248, 240, 255}, 0
		if d.IntN(2) == 0 {
			paper = s.ground
			if paper == transparent {
				paper = white
			}
		}
		if d.IntN(3) == 0 {
			wide = d.between(1, 3)
		}
		if paper == s.ground && wide == 0 {
			s.blank = true
		}
		return func(r image.Rectangle) {
			if wide > 0 {
				d.fill(r, ink)
			}
			d.fill(r.Inset(wide), paper)
			c := d.colour(20, 190)
			small := max(3, r.Dx()/14)
			rim := max(6, r.Dx()/12)
			d.disc(r.Min.X+rim+small, r.Min.Y+rim+small, small, c, r)
			d.disc(r.Max.X-rim-small, r.Max.Y-rim-small, small, c, r)
			middle := image.Pt((r.Min.X+r.Max.X)/2, (r.Min.Y+r.Max.Y)/2)
			if d.IntN(2) == 0 {
				d.disc(middle.X, middle.Y, min(r.Dx(), r.Dy())/4, c, r)
			} else {
				size := min(r.Dx(), r.Dy()) / 4
				d.fill(image.Rect(middle.X-size, middle.Y-size, middle.X+size, middle.Y+size), c)
			}
			for range d.IntN(4) {
				d.disc(middle.X, r.Max.Y-rim-small, small/2+1, c, r)
			}
		}
	case "text":
		paper, tint := white, d.IntN(2) == 0
		header := d.colour(60, 200)
		if s.ground == white && !tint {
			s.blank = true
		}
		return func(r image.Rectangle) {
			d.fill(r, paper)
			inner := r.Inset(max(6, r.Dx()/14))
			if tint {
				d.fill(r, color.NRGBA{244, 238, 220, 255})
				d.fill(image.Rect(r.Min.X, r.Min.Y, r.Max.X, r.Min.Y+r.Dy()/8), header)
			}
			d.words(image.Rect(inner.Min.X, inner.Min.Y, inner.Max.X, r.Min.Y+r.Dy()/8), max(5, r.Dy()/18), 1, ink)
			d.words(image.Rect(inner.Min.X, r.Min.Y+r.Dy()/6, inner.Max.X, inner.Max.Y), max(4, r.Dy()/34), 0.6+d.Float64()*0.4, ink)
		}
	case "photo":
		grain := 4 + d.Float64()*14
		return func(r image.Rectangle) { d.photo(r, grain) }
	case "flat":
		return func(r image.Rectangle) {
			d.fill(r, d.colour(30, 235))
			c := d.colour(30, 235)
			if d.IntN(2) == 0 {
				d.disc((r.Min.X+r.Max.X)/2, (r.Min.Y+r.Max.Y)/2, r.Dx()/d.between(3, 5), c, r)
			} else {
				d.fill(r.Inset(r.Dx()/d.between(4, 6)), c)
			}
		}
	case "dark":
		frame := d.IntN(2) == 0
		return func(r image.Rectangle) {
			d.fill(r, color.NRGBA{34, 32, 40, 255})
			inner := r
			if frame {
				d.fill(r, color.NRGBA{52, 50, 62, 255})
				inner = r.Inset(3)
			}
			d.fill(inner, d.colour(28, 70))
			d.shapes(inner, 14, 15, 95)
			d.words(image.Rect(inner.Min.X+8, inner.Max.Y-r.Dy()/4, inner.Max.X-8, inner.Max.Y-8), max(4, r.Dy()/28), 1, color.NRGBA{170, 165, 150, 255})
		}
	case "hairline":
		line, wide := color.NRGBA{150, 150, 150, 255}, d.between(1, 2)
		return func(r image.Rectangle) {
			d.fill(r, line)
			d.fill(r.Inset(wide), white)
			inner := r.Inset(max(6, r.Dx()/12))
			d.words(image.Rect(inner.Min.X, inner.Min.Y, inner.Max.X, r.Min.Y+r.Dy()/7), max(5, r.Dy()/18), 1, ink)
			if d.IntN(2) == 0 {
				d.shapes(image.Rect(inner.Min.X, r.Min.Y+r.Dy()/5, inner.Max.X, r.Max.Y-r.Dy()/3), 6, 40, 220)
			}
			d.words(image.Rect(inner.Min.X, r.Max.Y-r.Dy()/3, inner.Max.X, inner.Max.Y), max(4, r.Dy()/32), d.Float64(), ink)
		}
	case "rounded":
		return func(r image.Rectangle) {
			c, corner := d.colour(60, 230), max(4, r.Dx()/12)
			d.fill(r, c)
			inner := r.Inset(corner)
			d.shapes(inner, 14, 20, 240)
			d.words(image.Rect(inner.Min.X, inner.Max.Y-r.Dy()/4, inner.Max.X, inner.Max.Y), max(4, r.Dy()/28), 1, ink)
			for y := range corner {
				for x := range corner {
					if (corner-x)*(corner-x)+(corner-y)*(corner-y) > corner*corner {
						for _, p := range []image.Point{{r.Min.X + x, r.Min.Y + y}, {r.Max.X - 1 - x, r.Min.Y + y}, {r.Min.X + x, r.Max.Y - 1 - y}, {r.Max.X - 1 - x, r.Max.Y - 1 - y}} {
							d.on.SetNRGBA(p.X, p.Y, s.ground)
						}
					}
				}
			}
		}
	}
	return func(r image.Rectangle) { // marks
		d.fill(r, d.colour(60, 230))
		d.shapes(r, 20, 20, 240)
		d.words(image.Rect(r.Min.X+8, r.Min.Y+8, r.Max.X-8, r.Min.Y+r.Dy()/6), max(5, r.Dy()/20), 1, white)
	}
}

// cropMarks draws the short lines in the margins at which a page is cut.
func (d drawing) cropMarks(s *styled, size image.Point) {
	ink := color.NRGBA{0, 0, 0, 255}
	first, last := s.Cell(size, 1), s.Cell(size, s.Cells())
	for column := range s.Columns {
		r := s.Cell(size, column+1)
		for _, x := range []int{r.Min.X, r.Max.X - 1} {
			d.fill(image.Rect(x, max(first.Min.Y-14, 0), x+1, first.Min.Y-3), ink)
			d.fill(image.Rect(x, last.Max.Y+3, x+1, last.Max.Y+14), ink)
		}
	}
	for row := range s.Rows {
		r := s.Cell(size, row*s.Columns+1)
		for _, y := range []int{r.Min.Y, r.Max.Y - 1} {
			d.fill(image.Rect(max(first.Min.X-14, 0), y, first.Min.X-3, y+1), ink)
			d.fill(image.Rect(last.Max.X+3, y, last.Max.X+14, y+1), ink)
		}
	}
}

// drawStyled draws the sheet of a style that a seed gives: half of them with letters, the others with bars for words.
func drawStyled(t testing.TB, style string, seed uint64) *styled {
	if rand.New(rand.NewPCG(seed, 78)).IntN(2) == 0 {
		return drawSheet(t, style, seed, letters())
	}
	return drawSheet(t, style, seed, nil)
}

// drawSheet draws the sheet of a style that a seed gives, with words in some letters.
func drawSheet(t testing.TB, style string, seed uint64, letters *opentype.Font) *styled {
	d := drawing{Rand: rand.New(rand.NewPCG(seed, uint64(len(style)*31+int(style[0])))), letters: letters}
	s := &styled{style: style}
	s.Columns, s.Rows = d.between(2, 9), d.between(2, 7)
	switch d.IntN(8) {
	case 0:
		s.Columns = 1
	case 1:
		s.Rows = 1
	}
	short, long := d.between(90, 190), 0
	long = short * d.between(130, 150) / 100
	if d.IntN(5) == 0 {
		long = short
	}
	if odd := rand.New(rand.NewPCG(seed, 77)); odd.IntN(10) == 0 { // strips, dominoes, tarot cards, tiles that are nearly square
		long = short * (105 + odd.IntN(136)) / 100
	}
	wide, high := short, long
	if d.IntN(3) == 0 {
		wide, high = long, short
	}
	grounds := []color.NRGBA{white, white, white, dark, grey, {214, 198, 170, 255}}
	s.ground = grounds[d.IntN(len(grounds))]
	switch style {
	case "rounded":
		s.ground = transparent
	case "hairline", "marks":
		s.ground = white
	case "dark":
		s.ground = color.NRGBA{12, 12, 14, 255}
	}
	if d.IntN(2) == 0 {
		s.Margin = sheet.Around(d.between(6, 40))
		if d.IntN(2) == 0 {
			s.Margin = sheet.Margin{d.between(6, 60), d.between(6, 60), d.between(6, 60), d.between(6, 60)}
		}
	}
	if d.IntN(2) == 0 {
		s.Gutter = sheet.Between(d.between(3, 24))
		if d.IntN(3) == 0 {
			s.Gutter = sheet.Gutter{d.between(3, 24), d.between(3, 24)}
		}
	}
	if style == "marks" {
		s.Margin = sheet.Around(d.between(24, 60))
	}
	if style == "rounded" {
		s.Gutter = sheet.Between(d.between(4, 20))
	}
	if s.Rows > 1 && s.Columns > 1 && d.IntN(3) == 0 {
		s.empty = d.between(1, s.Columns-1)
	}
	size := image.Pt(s.Margin[0]+s.Margin[2]+s.Columns*wide+(s.Columns-1)*s.Gutter[0], s.Margin[1]+s.Margin[3]+s.Rows*high+(s.Rows-1)*s.Gutter[1])
	d.on = image.NewNRGBA(image.Rectangle{Max: size})
	d.fill(d.on.Rect, s.ground)
	card := d.lookOf(s)
	for cell := 1; cell <= s.Cells()-s.empty; cell++ {
		card(s.Cell(size, cell))
		s.printed = append(s.printed, printedOn(d.on, s.Cell(size, cell), s.ground))
	}
	if style == "marks" {
		d.cropMarks(s, size)
	}
	s.picture = d.on
	if s.Gutter == (sheet.Gutter{}) && s.Margin == (sheet.Margin{}) && d.IntN(3) == 0 { // cells that are no whole pixels
		s.scale(d.on, size.Add(image.Pt(d.IntN(s.Columns), d.IntN(s.Rows))))
	}
	if s.ground != transparent && d.IntN(4) == 0 {
		s.quality = 60
		var out bytes.Buffer
		require.NoError(t, jpeg.Encode(&out, s.picture, &jpeg.Options{Quality: s.quality}))
		decoded, err := sheet.Read(out.Bytes())
		require.NoError(t, err)
		s.picture = decoded
	}
	return s
}

// found counts what came of looking sheets over whose grid was not given.
type found struct {
	right, unsure     int // the grid that is taken is right, and sure or not
	offered, lost     int // it is wrong and said to be unsure, and the right one is among the three that are offered or not
	noted, silent, of int // it is wrong and sure, and a note has the right numbers or not; of so many sheets
}

func (f found) with(other found) found {
	return found{f.right + other.right, f.unsure + other.unsure, f.offered + other.offered, f.lost + other.lost, f.noted + other.noted, f.silent + other.silent, f.of + other.of}
}

// offered reports whether the right grid is among the three that are offered.
func (s styled) offered(r sheet.Report) bool {
	return slices.ContainsFunc(r.Guesses[:min(3, len(r.Guesses))], func(g sheet.Guessed) bool { return s.right(g.Grid) })
}

// notes reports whether a note names the right grid, or its margin and gutter.
func (s styled) notes(r sheet.Report) bool {
	for _, g := range r.Guesses[1:] {
		if text := (sheet.Grid{Columns: g.Columns, Rows: g.Rows}).Words(); s.right(g.Grid) && slices.ContainsFunc(r.Notes, func(note string) bool { return strings.Contains(note, text) }) {
			return true
		}
	}
	for _, note := range r.Notes {
		var g sheet.Grid
		_, numbers, is := strings.Cut(note, "give margin ")
		margin, gutter, _ := strings.Cut(numbers, " and gutter ")
		if is && g.Margin.Set(margin) == nil && g.Gutter.Set(gutter) == nil {
			g.Columns, g.Rows = r.Grid.Columns, r.Grid.Rows
			return s.right(g)
		}
	}
	return false
}

// The grid is found, or said to be unsure, on sheets in ten styles that nobody tuned by hand: with
// margins and gutters of many widths, rows that are filled in part, one row or column alone, cells
// of no whole pixels, and JPEG. What is reached stands in docs/measures.md.
func TestGridsOfTenStylesAreFound(t *testing.T) {
	const each = 40
	var mu sync.Mutex
	var all found
	t.Cleanup(func() {
		t.Logf("of %d sheets %d right and sure, %d right and unsure, %d wrong and unsure with the right grid among the three that are offered, %d without it, %d wrong with a note that gives the right numbers, %d wrong and silent", all.of, all.right, all.unsure, all.offered, all.lost, all.noted, all.silent)
		assert.GreaterOrEqual(t, all.right*100, all.of*90)
		assert.Zero(t, all.silent)
		assert.Zero(t, all.lost)
	})
	for _, style := range styles {
		t.Run(style, func(t *testing.T) {
			t.Parallel()
			var here found
			for seed := range uint64(each) {
				s := drawStyled(t, style, 7000+seed)
				report, err := sheet.LookOver(s.picture, sheet.Grid{})
				require.NoError(t, err)
				told := len(report.Problems()) > 0
				here.of++
				switch {
				case s.right(report.Grid) && !told:
					here.right++
				case s.right(report.Grid):
					here.unsure++
				case told && s.offered(report):
					here.offered++
				case told:
					here.lost++
					t.Logf("%v: seed %d is read as %+v", s, 7000+seed, report.Guesses)
				case s.notes(report):
					here.noted++
				default:
					here.silent++
					t.Logf("%v: seed %d is read as %+v", s, 7000+seed, report.Guesses[0])
				}
			}
			t.Logf("%+v", here)
			mu.Lock()
			defer mu.Unlock()
			all = all.with(here)
		})
	}
}

// What is given is not guessed, and the rest is found by it.
func TestWhatIsGivenIsNotGuessed(t *testing.T) {
	s := drawStyled(t, "bordered", 7003)
	for _, given := range []sheet.Grid{{Columns: s.Columns}, {Rows: s.Rows}, {Columns: s.Columns + 1}, {Margin: sheet.Around(9)}, {Gutter: sheet.Gutter{3, 1}}} {
		g := sheet.Guess(s.picture, given)[0].Grid
		if given.Columns > 0 {
			assert.Equal(t, given.Columns, g.Columns)
		}
		if given.Margin != (sheet.Margin{}) {
			assert.Equal(t, given.Margin, g.Margin)
		}
		if given.Gutter != (sheet.Gutter{}) {
			assert.Equal(t, given.Gutter, g.Gutter)
		}
		if given.Rows > 0 {
			assert.Equal(t, given.Rows, g.Rows)
		}
	}
}

// Sheets that were read wrongly once: each names what was not seen.
func TestWhatWasReadWronglyOnceIsReadRightly(t *testing.T) {
	for what, s := range map[string]*styled{
		"a gutter of three pixels between cards of one paper": drawSheet(t, "icons", 504, nil),
		"gutters of a colour that is nowhere else":            drawSheet(t, "flat", 508, nil),
		"the same in JPEG":                                          drawSheet(t, "bordered", 517, nil),
		"gutters beside many other blanks":                          drawSheet(t, "hairline", 1223, nil),
		"a margin that JPEG colours beside the cards":               drawSheet(t, "bleed", 3031, nil),
		"a border as bright as the margin beside it":                drawSheet(t, "bordered", 1222, nil),
		"corners of pictures that look like marks of cuts":          drawSheet(t, "icons", 1202, nil),
		"the same with a margin and more room":                      drawSheet(t, "icons", 9000, nil),
		"text that reaches further on one card than on the other":   drawSheet(t, "text", 1233, nil),
		"hairlines, of which every other might be a card's own":     drawSheet(t, "hairline", 1231, nil),
		"a banner that goes on from card to card":                   drawSheet(t, "text", 3005, nil),
		"gutters of three pixels that JPEG smears":                  drawSheet(t, "bleed", 1231, nil),
		"icons among which small cells would be blank":              drawStyled(t, "icons", 80023),
		"cards whose thirds are alike":                              drawStyled(t, "flat", 80000),
		"a margin into which the cards' colours run":                drawStyled(t, "bleed", 90038),
		"the same, with thin gutters":                               drawStyled(t, "photo", 90007),
		"cream cards on white in JPEG":                              drawStyled(t, "icons", 7021),
		"the same, without a margin":                                drawStyled(t, "icons", 90094),
		"a last row that ends blank":                                drawStyled(t, "text", 7004),
		"icons in corners that are no marks, for they are not grey": drawStyled(t, "icons", 7014),
	} {
		t.Run(what, func(t *testing.T) {
			report, err := sheet.LookOver(s.picture, sheet.Grid{})
			require.NoError(t, err)
			assert.True(t, s.right(report.Grid), "%v: read as %v", s, report.Guesses)
		})
	}
}

// Where some edges do not show in a picture that was saved with loss, and no even margin says where they are, the same margin all
// around is offered, too, and so are the cells as they were before they were widened.
func TestWhereEdgesAreSmearedOthersAreOffered(t *testing.T) {
	for _, s := range []*styled{drawStyled(t, "flat", 80004), drawStyled(t, "icons", 80063), drawStyled(t, "icons", 90084)} {
		report, err := sheet.LookOver(s.picture, sheet.Grid{})
		require.NoError(t, err)
		assert.NotEmpty(t, report.Warnings, "%v: read as %v", s, report.Guesses)
		assert.True(t, s.offered(report), "%v: read as %v", s, report.Guesses)
		sum := 0.0
		for _, g := range report.Guesses {
			sum += g.Confidence
		}
		assert.LessOrEqual(t, sum, 1.03, "they are shares of all chances")
	}
	for _, s := range []*styled{drawStyled(t, "icons", 80039), drawStyled(t, "text", 80087)} {
		report, err := sheet.LookOver(s.picture, sheet.Grid{})
		require.NoError(t, err)
		assert.True(t, slices.IsSortedFunc(report.Guesses[1:], func(a, b sheet.Guessed) int { return cmp.Compare(b.Confidence, a.Confidence) }), "the likelier are offered first, also those that leave rims out: %v", report.Guesses)
	}
	even := drawStyled(t, "marks", 90033)
	report, err := sheet.LookOver(even.picture, sheet.Grid{})
	require.NoError(t, err)
	assert.Empty(t, report.Warnings, "a margin that is the same on all sides is no chance")
	assert.True(t, even.right(report.Grid))
}

// Where some edges do not show in a picture that was saved with loss, it is said that cuts may lie beside them, whether they do or not.
func TestEdgesThatAreSmearedAreTold(t *testing.T) {
	for _, s := range []*styled{drawStyled(t, "text", 80065), drawStyled(t, "flat", 80004)} {
		report, err := sheet.LookOver(s.picture, sheet.Grid{})
		require.NoError(t, err)
		assert.Equal(t, []int{s.Columns, s.Rows}, []int{report.Grid.Columns, report.Grid.Rows})
		assert.Contains(t, strings.Join(report.Warnings, " "), "where cells begin and end is guessed, and not surely", "%v", s)
		assert.Less(t, report.Guesses[0].Confidence, sheet.Sure)
	}
}

// The demo's own sheets are found, or said to be unsure with the right grid among the three that are offered: among them are hexagons
// with nothing around them, and stamps beside round permits.
func TestTheDemosSheetsAreFoundOrOffered(t *testing.T) {
	for file, is := range map[string]sheet.Grid{
		"weather": {Columns: 4, Rows: 4}, "tiles": {Columns: 6, Rows: 3}, "stamps-permits": {Columns: 6, Rows: 6},
		"couriers-rested": {Columns: 3, Rows: 2}, "couriers-tired": {Columns: 3, Rows: 2}, "errands": {Columns: 5, Rows: 3},
	} {
		bytes, err := os.ReadFile("../../../demo/marshpost/" + file + ".png")
		require.NoError(t, err)
		_, report, err := sheet.Look(bytes, sheet.Grid{})
		require.NoError(t, err)
		same := func(g sheet.Guessed) bool { return g.Columns == is.Columns && g.Rows == is.Rows }
		offered := slices.ContainsFunc(report.Guesses[:min(3, len(report.Guesses))], same)
		assert.True(t, same(report.Guesses[0]) || len(report.Problems()) > 0 && offered, "%s is read as %+v", file, report.Guesses)
	}
}

// Rims that may be the cards' own or the sheet's stay on the cards, and a note says what would leave them out.
func TestRimsThatMayBeTheSheetsAreNoted(t *testing.T) {
	for _, s := range []*styled{drawSheet(t, "dark", 1223, nil), drawSheet(t, "bordered", 31033, nil), drawSheet(t, "hairline", 7033, nil)} {
		report, err := sheet.LookOver(s.picture, sheet.Grid{})
		require.NoError(t, err)
		assert.True(t, s.right(report.Grid) || s.notes(report), "%v: read as %v, with the notes %q", s, report.Grid, report.Notes)
		assert.Empty(t, report.Problems(), "a note stops nothing")

		given := s.Grid
		report, err = sheet.LookOver(s.picture, given)
		require.NoError(t, err)
		for _, note := range report.Notes {
			assert.NotContains(t, note, "gutter", "%v: they were left out", s)
		}
	}
}
