package deck

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/image/draw"
	"golang.org/x/image/vector"
)

// Layout places text and pictures on cards made from a table file. Lengths are
// pixels of the card.
type Layout struct {
	Size  []int             `yaml:"size" json:"size" numbers:"2"` // width and height
	Front []Box             `yaml:"front" json:"front"`
	Back  []Box             `yaml:"back" json:"back,omitempty"`   // none: the deck has one back
	Icons map[string]string `yaml:"icons" json:"icons,omitempty"` // pictures' files by the name that stands in text as :name:
	Fonts []string          `yaml:"fonts" json:"fonts,omitempty"` // files of fonts, for letters that a box's own font lacks
}

// Box is one thing on a side of a card, drawn over those before it: a colour, a
// picture, or text. Text, pictures and colours may hold {field}, which is what the
// row says.
type Box struct {
	At     []float64 `yaml:"at" json:"at" numbers:"4"` // left, top, width, height
	Fill   string    `yaml:"fill" json:"fill,omitempty"`
	Round  float64   `yaml:"round" json:"round,omitempty"` // of the corners of the filled box
	Line   float64   `yaml:"line" json:"line,omitempty"`   // thickness of its outline, in Colour
	Colour string    `yaml:"colour" json:"colour,omitempty"`

	Picture string `yaml:"picture" json:"picture,omitempty"` // a file
	Fit     string `yaml:"fit" json:"fit,omitempty"`         // fit: all of it; fill: all of the box

	Text   string  `yaml:"text" json:"text,omitempty"`
	Font   string  `yaml:"font" json:"font,omitempty"`     // plain, mono, small-caps, or a font file of the kit
	Bold   bool    `yaml:"bold" json:"bold,omitempty"`     //
	Italic bool    `yaml:"italic" json:"italic,omitempty"` //
	Height float64 `yaml:"height" json:"height,omitempty"` // of the letters; shrinks to fit
	Least  float64 `yaml:"least" json:"least,omitempty"`   // what it shrinks to at most; half if left out
	Align  string  `yaml:"align" json:"align,omitempty"`   // left, centre or right
	Down   string  `yaml:"down" json:"down,omitempty"`     // top, middle or bottom
	Lines  float64 `yaml:"lines" json:"lines,omitempty"`   // from line to line, in heights
}

// Limits of a layout.
const (
	MaxSide  = 4096 // pixels of a card's side
	MaxBoxes = 200
)

// Mistakes lists what is wrong in a layout, each with the path of its place, such
// as "front[2].colour".
func (l *Layout) Mistakes() map[string]string {
	all := map[string]string{}
	if len(l.Size) != 2 || min(l.Size[0], l.Size[1]) < 16 || max(l.Size[0], l.Size[1]) > MaxSide {
		all["size"] = fmt.Sprintf("a layout needs a size of 16 to %d pixels: [width, height]", MaxSide)
	}
	if len(l.Front) == 0 || len(l.Front)+len(l.Back) > MaxBoxes {
		all["front"] = fmt.Sprintf("a layout has 1 to %d boxes", MaxBoxes)
	}
	for i, file := range l.Fonts {
		if !isFontFile(file) {
			all[fmt.Sprintf("fonts[%d]", i)] = fmt.Sprintf("%q is no font: name a file that ends with .ttf or .otf", file)
		}
	}
	for side, boxes := range map[string][]Box{"front": l.Front, "back": l.Back} {
		for i, b := range boxes {
			for part, text := range b.mistakes() {
				all[strings.TrimSuffix(fmt.Sprintf("%s[%d].%s", side, i, part), ".")] = text
			}
		}
	}
	return all
}

func (b Box) mistakes() map[string]string {
	all := map[string]string{}
	if len(b.At) != 4 || b.At[2] < 1 || b.At[3] < 1 || slices.Min(b.At) < -MaxSide || slices.Max(b.At) > 2*MaxSide {
		all["at"] = "a box needs at: [left, top, width, height] in pixels"
	}
	for part, colour := range map[string]string{"fill": b.Fill, "colour": b.Colour} {
		if _, err := readColour(colour); colour != "" && !strings.Contains(colour, "{") && err != nil {
			all[part] = err.Error()
		}
	}
	for part, choice := range map[string][]string{
		"fit": {b.Fit, "fit", "fill"}, "font": {b.Font, "plain", "mono", "small-caps", "a file such as fonts/own.ttf"},
		"align": {b.Align, "left", "centre", "right"}, "down": {b.Down, "top", "middle", "bottom"},
	} {
		if choice[0] != "" && !slices.Contains(choice[1:], choice[0]) && (part != "font" || !isFontFile(choice[0])) {
			all[part] = fmt.Sprintf("%q is not one of %s", choice[0], strings.Join(choice[1:], ", "))
		}
	}
	if b.Text != "" && (b.Height < 4 || b.Height > 1000 || b.Least < 0 || b.Least > b.Height || b.Lines < 0 || b.Lines > 5) {
		all["height"] = "text needs a height of 4 to 1000 pixels, and a least that is no more"
	}
	if b.Text == "" && b.Picture == "" && b.Fill == "" && b.Line == 0 {
		all[""] = "a box needs text, a picture, a fill or a line"
	}
	return all
}

// fontFiles are the files of fonts that boxes are drawn with.
func (l *Layout) fontFiles(boxes []Box) []string {
	files := slices.Clone(l.Fonts)
	for _, b := range boxes {
		if isFontFile(b.Font) {
			files = append(files, b.Font)
		}
	}
	return files
}

// readColour reads "#rgb", "#rrggbb" or "#rrggbbaa".
func readColour(text string) (color.NRGBA, error) {
	digits := strings.TrimPrefix(text, "#")
	if len(digits) == 3 {
		digits = string([]byte{digits[0], digits[0], digits[1], digits[1], digits[2], digits[2]})
	}
	if len(digits) == 6 {
		digits += "ff"
	}
	n, err := strconv.ParseUint(digits, 16, 32)
	if err != nil || len(digits) != 8 || !strings.HasPrefix(text, "#") {
		return color.NRGBA{}, fmt.Errorf("%q is no colour; write it as #rrggbb", text)
	}
	return color.NRGBA{uint8(n >> 24), uint8(n >> 16), uint8(n >> 8), uint8(n)}, nil
}

// Fields lists the fields that the boxes of the layout name.
func (l *Layout) Fields() []string {
	used := map[string]bool{}
	for _, b := range append(slices.Clone(l.Front), l.Back...) {
		for _, text := range b.templates() {
			fillIn(text, func(field string) string { used[field] = true; return "" })
		}
	}
	return slices.Sorted(maps.Keys(used))
}

// templates are the parts of a box that may hold {field}.
func (b Box) templates() []string { return []string{b.Text, b.Picture, b.Fill, b.Colour} }

// fillIn puts values into a text for its {fields}. "{{" is a brace.
func fillIn(text string, value func(field string) string) string {
	var out strings.Builder
	for text != "" {
		before, rest, found := strings.Cut(text, "{")
		out.WriteString(before)
		if !found {
			break
		}
		field, after, closed := strings.Cut(rest, "}")
		switch {
		case strings.HasPrefix(rest, "{"):
			out.WriteByte('{')
			text = rest[1:]
			continue
		case !closed:
			out.WriteString("{" + rest)
			return out.String()
		}
		out.WriteString(value(field))
		text = after
	}
	return out.String()
}

// Artist draws cards by layouts. The zero value has no pictures.
type Artist struct {
	// Picture opens a picture by its file, and gives a hash of its bytes. Both
	// are called from several goroutines.
	Picture func(file string) (image.Image, error)
	Hash    func(file string) (string, error)
	Font    func(file string) ([]byte, error) // a font's file

	fonts fonts
}

// Drawn is a side of a card that was drawn, and what did not fit.
type Drawn struct {
	Picture  *image.NRGBA
	Problems []string // such as "box 3: the text does not fit, also not 18 pixels high"
}

// Draw draws one side of a card.
func (a *Artist) Draw(l *Layout, boxes []Box, fields map[string]string) (Drawn, error) {
	c := &canvas{artist: a, layout: l, on: image.NewRGBA(image.Rect(0, 0, l.Size[0], l.Size[1]))}
	draw.Draw(c.on, c.on.Rect, image.White, image.Point{}, draw.Src)
	for i, b := range boxes {
		problem, err := c.box(b, fields)
		if err != nil {
			return Drawn{}, fmt.Errorf("box %d: %w", i+1, err)
		}
		if problem != "" {
			c.problems = append(c.problems, fmt.Sprintf("box %d: %s", i+1, problem))
		}
	}
	return Drawn{&image.NRGBA{Pix: c.on.Pix, Stride: c.on.Stride, Rect: c.on.Rect}, c.problems}, nil // opaque, so the same bytes
}

// drawVersion changes when the same layout and row would be drawn otherwise.
const drawVersion = 2

// Mark names all that a side of a card is drawn from: the boxes, what the row says
// in them, and the pictures. The same mark is the same picture.
func (a *Artist) Mark(l *Layout, boxes []Box, fields map[string]string) (string, error) {
	used, pictures := map[string]string{}, map[string]string{}
	for _, b := range boxes {
		for _, text := range b.templates() {
			fillIn(text, func(field string) string { used[field] = fields[field]; return "" })
		}
		if file := fillIn(b.Picture, func(f string) string { return fields[f] }); file != "" {
			pictures[file] = ""
		}
	}
	for _, file := range l.Icons {
		pictures[file] = ""
	}
	for _, file := range l.fontFiles(boxes) {
		pictures[file] = ""
	}
	for file := range pictures {
		hash, err := a.Hash(file)
		if err != nil {
			return "", err
		}
		pictures[file] = hash
	}
	text, err := json.Marshal([]any{drawVersion, l.Size, l.Icons, boxes, used, pictures})
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:16]), err
}

// canvas is a side of a card being drawn.
type canvas struct {
	artist   *Artist
	layout   *Layout
	on       *image.RGBA
	problems []string
}

// box draws one box and says what did not fit.
func (c *canvas) box(b Box, fields map[string]string) (problem string, err error) {
	at := image.Rect(int(b.At[0]), int(b.At[1]), int(b.At[0]+b.At[2]), int(b.At[1]+b.At[3]))
	value := func(field string) string { return fields[field] }
	if fill := fillIn(b.Fill, value); fill != "" {
		colour, err := readColour(fill)
		if err != nil {
			return "", err
		}
		c.fill(b, colour)
	}
	ink := color.NRGBA{33, 37, 41, 255}
	if colour := fillIn(b.Colour, value); colour != "" {
		if ink, err = readColour(colour); err != nil {
			return "", err
		}
	}
	if b.Line > 0 {
		c.outline(b, ink)
	}
	if file := fillIn(b.Picture, value); file != "" {
		picture, err := c.artist.Picture(file)
		if err != nil {
			return "", err
		}
		c.picture(picture, at, b.Fit == "fill")
	}
	if text := fillIn(b.Text, value); strings.TrimSpace(text) != "" {
		return c.text(text, b, ink)
	}
	return "", nil
}

// picture draws all of a picture into a box, or as much of it as fills the box.
func (c *canvas) picture(p image.Image, at image.Rectangle, fill bool) {
	from, size := p.Bounds(), p.Bounds().Size()
	across, down := float64(at.Dx())/float64(size.X), float64(at.Dy())/float64(size.Y)
	scale := min(across, down)
	if fill {
		scale = max(across, down)
		seen := image.Pt(int(math.Round(float64(at.Dx())/scale)), int(math.Round(float64(at.Dy())/scale)))
		from.Min = from.Min.Add(size.Sub(seen).Div(2))
		from.Max = from.Min.Add(seen)
		draw.CatmullRom.Scale(c.on, at, p, from.Intersect(p.Bounds()), draw.Over, nil)
		return
	}
	shown := image.Pt(int(math.Round(float64(size.X)*scale)), int(math.Round(float64(size.Y)*scale)))
	to := image.Rectangle{Max: shown}.Add(at.Min.Add(at.Size().Sub(shown).Div(2)))
	draw.CatmullRom.Scale(c.on, to, p, from, draw.Over, nil)
}

// fill fills a box, with round corners.
func (c *canvas) fill(b Box, colour color.NRGBA) {
	r := vector.NewRasterizer(c.layout.Size[0], c.layout.Size[1])
	roundedPath(r, b.At[0], b.At[1], b.At[2], b.At[3], b.Round, false)
	r.Draw(c.on, c.on.Rect, image.NewUniform(colour), image.Point{})
}

// outline draws the line round a box, inside it.
func (c *canvas) outline(b Box, colour color.NRGBA) {
	r := vector.NewRasterizer(c.layout.Size[0], c.layout.Size[1])
	roundedPath(r, b.At[0], b.At[1], b.At[2], b.At[3], b.Round, false)
	roundedPath(r, b.At[0]+b.Line, b.At[1]+b.Line, b.At[2]-2*b.Line, b.At[3]-2*b.Line, b.Round-b.Line, true) // the other way round: a hole
	r.Draw(c.on, c.on.Rect, image.NewUniform(colour), image.Point{})
}

// roundedPath adds a rectangle with round corners to what is to be filled.
func roundedPath(r *vector.Rasterizer, x, y, wide, high, round float64, hole bool) {
	if wide <= 0 || high <= 0 {
		return
	}
	round = min(max(round, 0), wide/2, high/2)
	var points [][2]float64
	for corner, middle := range [][2]float64{{x + wide - round, y + round}, {x + wide - round, y + high - round}, {x + round, y + high - round}, {x + round, y + round}} {
		for step := range 9 {
			angle := (float64(corner)-1)*math.Pi/2 + float64(step)*math.Pi/16
			points = append(points, [2]float64{middle[0] + round*math.Cos(angle), middle[1] + round*math.Sin(angle)})
		}
	}
	if hole {
		slices.Reverse(points)
	}
	r.MoveTo(float32(points[0][0]), float32(points[0][1]))
	for _, p := range points[1:] {
		r.LineTo(float32(p[0]), float32(p[1]))
	}
	r.ClosePath()
}
