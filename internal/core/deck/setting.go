package deck

import (
	"fmt"
	"image"
	"image/color"
	"math"
	"slices"
	"strings"
	"unicode"

	"github.com/go-text/typesetting/di"
	"github.com/go-text/typesetting/font"
	"github.com/go-text/typesetting/font/opentype"
	"github.com/go-text/typesetting/language"
	"github.com/go-text/typesetting/shaping"
	"golang.org/x/image/draw"
	"golang.org/x/image/math/fixed"
	"golang.org/x/image/vector"
)

// setter sets text into lines. It keeps what is costly to make, and one goroutine uses it at a time.
type setter struct {
	shaper   shaping.HarfbuzzShaper
	segments shaping.Segmenter
	wrapper  shaping.LineWrapper
	faces    map[*font.Font]*font.Face
}

// setter lends a setter; it is given back when a text is drawn.
func (a *Artist) setter() (s *setter, back func()) {
	s, is := a.fonts.setters.Get().(*setter)
	if !is {
		s = &setter{faces: map[*font.Font]*font.Face{}}
	}
	return s, func() { a.fonts.setters.Put(s) }
}

// em is how high letters are while they are set, in pixels; lines are broken at that height and drawn
// at any other, because letters are as wide as they are high.
const em = 256

// shaped is a paragraph whose letters have their forms and widths.
type shaped struct {
	paragraph
	direction di.Direction
	runs      []shaping.Output
}

// shape gives the letters of a paragraph their forms: joined, composed, and from right to left where
// they are written so.
func (a *Artist) shape(s *setter, p paragraph) shaped {
	out := shaped{paragraph: p, direction: directionOf(p.letters)}
	plain, err := a.font(style{})
	if err != nil {
		panic(err) // it ships
	}
	all := shaping.Input{Text: p.letters, RunEnd: len(p.letters), Direction: out.direction, Size: fixed.I(em), Language: language.NewLanguage("en")}
	for _, segment := range s.segments.Split(all, only{s.face(plain)}) {
		for from := segment.RunStart; from < segment.RunEnd; {
			to := from + 1
			_, icon := p.icons[from]
			for !icon && to < segment.RunEnd && p.styles[to] == p.styles[from] && p.icons[to] == "" {
				to++
			}
			parsed, err := a.font(p.styles[from])
			if err != nil {
				panic(err) // texts have their fonts before they are set
			}
			run := segment
			run.RunStart, run.RunEnd, run.Face = from, to, s.face(parsed)
			form := s.shaper.Shape(run)
			if icon {
				form.Advance = fixed.I(em)
				form.Glyphs = []shaping.Glyph{{Width: fixed.I(em), Advance: fixed.I(em), XAdvance: fixed.I(em), ClusterIndex: from, RuneCount: 1, GlyphCount: 1}}
			}
			out.runs = append(out.runs, form)
			from = to
		}
	}
	return out
}

func (s *setter) face(f *font.Font) *font.Face {
	if s.faces[f] == nil {
		s.faces[f] = font.NewFace(f)
	}
	return s.faces[f]
}

// only is the one face that segments are found with; which face draws a letter is known already.
type only struct{ face *font.Face }

func (o only) ResolveFace(rune) *font.Face { return o.face }

// directionOf is how a paragraph runs: as its first letter is written.
func directionOf(letters []rune) di.Direction {
	for _, r := range letters {
		switch {
		case unicode.In(r, unicode.Arabic, unicode.Hebrew, unicode.Syriac, unicode.Thaana, unicode.Nko):
			return di.DirectionRTL
		case unicode.IsLetter(r):
			return di.DirectionLTR
		}
	}
	return di.DirectionLTR
}

// setLine is a line of runs from left to right, as wide as it is at the height of an em.
type setLine struct {
	of   *shaped
	runs []shaping.Output
	wide fixed.Int26_6
}

// set breaks paragraphs into lines that have so much room.
func (s *setter) set(all []shaped, room fixed.Int26_6) (lines []setLine) {
	for i := range all {
		p := &all[i]
		if len(p.letters) == 0 {
			lines = append(lines, setLine{of: p})
			continue
		}
		wrapped, _ := s.wrapper.WrapParagraphF(shaping.WrapConfig{Direction: p.direction, BreakPolicy: shaping.Never}, room, p.letters, shaping.NewSliceIterator(copied(p.runs)))
		for _, one := range wrapped {
			line := setLine{of: p, runs: slices.Clone(one)}
			slices.SortFunc(line.runs, func(a, b shaping.Output) int { return int(a.VisualIndex) - int(b.VisualIndex) })
			for _, r := range line.runs {
				line.wide += r.Advance
			}
			lines = append(lines, line)
		}
	}
	return lines
}

// copied are runs whose glyphs may be changed: breaking lines takes the blanks at their ends away.
func copied(runs []shaping.Output) []shaping.Output {
	own := slices.Clone(runs)
	for i := range own {
		own[i].Glyphs = slices.Clone(own[i].Glyphs)
	}
	return own
}

// text draws text into a box, as high as it is to be or smaller so that it fits.
func (c *canvas) text(text string, b Box, ink color.NRGBA) (problem string, err error) {
	files := c.layout.fontFiles([]Box{b})
	defer func() { // a font from outside may be damaged where it is first drawn from
		if cause := recover(); cause != nil {
			if len(files) == 0 {
				panic(cause)
			}
			err = fmt.Errorf("a font of the layout is damaged (%v); bring it anew", cause)
		}
	}()
	all, missing := paragraphs(text, style{b.Font, b.Bold, b.Italic}, c.layout.Icons)
	problem = noIcon(missing, c.layout.Icons)
	lacking, err := c.artist.withFonts(all, c.layout.Fonts, c.said+text)
	if err != nil {
		return "", err
	}
	if len(lacking) > 0 {
		problem = joined(problem, fmt.Sprintf("no font here has %s; put one that has into the kit, and name it in the layout's fonts", lettersOf(lacking)))
	}
	s, back := c.artist.setter()
	forms := make([]shaped, len(all))
	for i, p := range all {
		forms[i] = c.artist.shape(s, p)
	}
	least := b.Least
	if least == 0 {
		least = b.Height / 2
	}
	height := b.Height
	var lines []setLine
	for {
		room := fixed.Int26_6(b.At[2] * 64 * em / height)
		lines = s.set(forms, room)
		if b.holds(lines, room, height) {
			break
		}
		if height <= least {
			problem = joined(problem, fmt.Sprintf("the text %q does not fit, also not %g pixels high", short(strings.ReplaceAll(text, "\n", " ")), least))
			break
		}
		height = max(height*0.94, least)
	}
	err = c.drawLines(lines, b, height, ink)
	back() // not where it failed: it may be damaged then
	return problem, err
}

// holds reports whether lines fit into a box.
func (b Box) holds(lines []setLine, room fixed.Int26_6, height float64) bool {
	for _, line := range lines {
		if line.wide > room {
			return false
		}
	}
	return float64(len(lines)-1)*b.lineHeight(height)+height*1.2 <= b.At[3]+0.5
}

func (b Box) lineHeight(height float64) float64 {
	if b.Lines > 0 {
		return height * b.Lines
	}
	return height * 1.25
}

// drawLines draws lines of text into their box: icons as they are, letters in the ink, with what
// lies round and behind them.
func (c *canvas) drawLines(lines []setLine, b Box, height float64, ink color.NRGBA) error {
	over := height / 5 // marks above and below letters stand out of their line
	side := 0.0        // and what lies round them, of it
	for _, e := range []*Edge{b.Outline, b.Shadow} {
		if e != nil {
			side = max(side, e.Wide)
		}
	}
	box := image.Rect(int(b.At[0]-side), int(b.At[1]-over), int(math.Ceil(b.At[0]+b.At[2]+side)), int(math.Ceil(b.At[1]+b.At[3]+over))).Intersect(c.on.Rect)
	if box.Empty() {
		return nil
	}
	clip := c.on.SubImage(box).(*image.RGBA)
	letters := vector.NewRasterizer(box.Dx(), box.Dy())
	tall := float64(len(lines)-1)*b.lineHeight(height) + height*1.2
	top := b.At[1]
	switch b.Down {
	case "middle":
		top += max(0, b.At[3]-tall) / 2
	case "bottom":
		top += max(0, b.At[3]-tall)
	}
	var icons []func() error
	for n, line := range lines {
		base := top + height*0.95 + float64(n)*b.lineHeight(height)
		pen := line.left(b, height)
		for _, run := range line.runs {
			if file := line.of.icons[run.Runes.Offset]; file != "" {
				to := image.Rect(int(pen+height*0.05), int(base-height*0.82), int(pen+height*0.95), int(base+height*0.08))
				icons = append(icons, func() error {
					icon, err := c.artist.Picture(file)
					if err == nil {
						draw.Draw(clip, to, c.artist.scaled.of(file, icon, icon.Bounds(), to.Size()), image.Point{}, draw.Over)
					}
					return err
				})
				pen += height
				continue
			}
			kit := line.of.styles[run.Runes.Offset].isFile()
			for _, g := range run.Glyphs {
				at := [2]float64{pen + inPixels(g.XOffset, height) - float64(box.Min.X), base - inPixels(g.YOffset, height) - float64(box.Min.Y)}
				if err := addGlyph(letters, run.Face, g.GlyphID, at, height, kit); err != nil {
					return fmt.Errorf("%s: %w", line.of.styles[run.Runes.Offset].family, err)
				}
				pen += inPixels(g.Advance, height)
			}
		}
	}
	mask := image.NewAlpha(image.Rectangle{Max: box.Size()})
	letters.DrawOp = draw.Src
	letters.Draw(mask, mask.Rect, image.Opaque, image.Point{})
	if err := b.behind(clip, mask, c.values); err != nil {
		return err
	}
	draw.DrawMask(clip, box, image.NewUniform(ink), image.Point{}, mask, image.Point{}, draw.Over)
	for _, icon := range icons {
		if err := icon(); err != nil {
			return err
		}
	}
	return nil
}

// inPixels is a length at the height of an em, at another height.
func inPixels(length fixed.Int26_6, height float64) float64 {
	return float64(length) / 64 * height / em
}

// left is where a line begins: where it is to, and if nothing is said, where its script begins.
func (l setLine) left(b Box, height float64) float64 {
	free := b.At[2] - inPixels(l.wide, height)
	align := b.Align
	if align == "" && l.of.direction == di.DirectionRTL {
		align = "right"
	}
	switch align {
	case "centre", "center":
		return b.At[0] + free/2
	case "right":
		return b.At[0] + free
	}
	return b.At[0]
}

// mostEms is how far a letter may reach from where it stands, in its own heights. A font from outside
// may say that it covers anything, and drawing takes time for all that it covers.
const mostEms = 16

// addGlyph adds the outline of a glyph to what is to be filled.
func addGlyph(r *vector.Rasterizer, face *font.Face, glyph font.GID, at [2]float64, height float64, foreign bool) error {
	outline, drawn := face.GlyphDataOutline(glyph)
	if !drawn {
		return nil
	}
	scale := height / float64(face.Upem())
	if foreign {
		for _, s := range outline.Segments {
			for _, p := range s.ArgsSlice() {
				if far := float32(face.Upem()) * mostEms; p.X > far || p.Y > far || p.X < -far || p.Y < -far || p.X != p.X || p.Y != p.Y {
					return fmt.Errorf("a letter is more than %d times as large as letters are; bring another font", mostEms)
				}
			}
		}
	}
	point := func(p opentype.SegmentPoint) (x, y float32) {
		return float32(at[0] + float64(p.X)*scale), float32(at[1] - float64(p.Y)*scale)
	}
	for i, s := range outline.Segments {
		ax, ay := point(s.Args[0])
		bx, by := point(s.Args[1])
		cx, cy := point(s.Args[2])
		switch s.Op {
		case opentype.SegmentOpMoveTo:
			if i > 0 {
				r.ClosePath()
			}
			r.MoveTo(ax, ay)
		case opentype.SegmentOpLineTo:
			r.LineTo(ax, ay)
		case opentype.SegmentOpQuadTo:
			r.QuadTo(ax, ay, bx, by)
		case opentype.SegmentOpCubeTo:
			r.CubeTo(ax, ay, bx, by, cx, cy)
		}
	}
	if len(outline.Segments) > 0 {
		r.ClosePath()
	}
	return nil
}
