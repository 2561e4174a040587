package deck

import (
	"cmp"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"maps"
	"math"
	"slices"
	"strings"
	"sync"

	"golang.org/x/image/draw"
	"golang.org/x/image/math/f64"
	"golang.org/x/image/vector"
	"rsc.io/qr"
)

// Artist draws cards by layouts. The zero value has no pictures.
type Artist struct {
	// Picture opens a picture by its file, and gives a hash of its bytes. Both
	// are called from several goroutines.
	Picture func(file string) (image.Image, error)
	Hash    func(file string) (string, error)
	Font    func(file string) ([]byte, error) // a font's file
	Shipped *Fonts                            // for letters that the others lack; none if left out

	fonts  fonts
	scaled scaled
}

// Drawn is a side of a card that was drawn, and what did not fit.
type Drawn struct {
	Picture  *image.NRGBA
	Problems []string // such as "box 3: the text does not fit, also not 18 pixels high"
}

// Draw draws one side of a card.
func (a *Artist) Draw(l *Layout, boxes []Box, fields map[string]string) (Drawn, error) {
	c := &canvas{artist: a, layout: l, on: image.NewRGBA(image.Rect(0, 0, l.Size[0], l.Size[1])), values: func(f string) string { return fields[f] }}
	for _, name := range slices.Sorted(maps.Keys(fields)) {
		c.said += fields[name] + " "
	}
	draw.Draw(c.on, c.on.Rect, image.White, image.Point{}, draw.Src)
	for i, b := range boxes {
		problem, err := c.box(b)
		if err != nil {
			return Drawn{}, fmt.Errorf("%s: %w", b.called(i), err)
		}
		if problem != "" {
			c.problems = append(c.problems, fmt.Sprintf("%s: %s", b.called(i), problem))
		}
	}
	return Drawn{&image.NRGBA{Pix: c.on.Pix, Stride: c.on.Stride, Rect: c.on.Rect}, c.problems}, nil // opaque, so the same bytes
}

// called is how messages name a box.
func (b Box) called(i int) string {
	if b.Name != "" {
		return fmt.Sprintf("box %d (%s)", i+1, b.Name)
	}
	return fmt.Sprintf("box %d", i+1)
}

// drawVersion changes when the same layout and row would be drawn otherwise.
const drawVersion = 5

// Mark names all that a side of a card is drawn from: the boxes, what the row says
// in them, and the pictures. The same mark is the same picture.
func (a *Artist) Mark(l *Layout, boxes []Box, fields map[string]string) (string, error) {
	used, pictures := map[string]string{}, map[string]string{}
	needed, empty := map[string]bool{}, map[string]error{}
	for _, b := range boxes {
		for _, field := range b.fields() {
			used[field] = fields[field]
		}
		if file := fillIn(b.Picture, func(f string) string { return fields[f] }); file != "" {
			pictures[file], needed[file] = "", needed[file] || !b.Optional && b.shown(fields)
			if column := emptyIn(b.Picture, fields); column != "" {
				empty[file] = fmt.Errorf("the column %q is empty, so that the picture is missing; name its file there, or write optional: true in the box", column)
			}
		}
	}
	for _, file := range l.Icons {
		pictures[file], needed[file] = "", true
	}
	for _, file := range l.fontFiles(boxes) {
		pictures[file], needed[file] = "", true
	}
	for file := range pictures {
		hash, err := a.Hash(file)
		if err != nil && needed[file] {
			return "", cmp.Or(empty[file], err)
		}
		pictures[file] = hash
	}
	text, err := json.Marshal([]any{drawVersion, l.Size, l.Icons, boxes, used, pictures, a.Shipped != nil})
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:16]), err
}

// canvas is a side of a card being drawn.
type canvas struct {
	artist   *Artist
	layout   *Layout
	on       *image.RGBA
	values   func(field string) string
	said     string // all that the row says: it tells in which language signs are meant
	problems []string
}

// box draws one box and says what did not fit.
func (c *canvas) box(b Box) (problem string, err error) {
	switch {
	case !b.shownBy(c.values):
		return "", nil
	case b.Turn == 0 && b.Opacity == nil:
		return c.flat(b)
	}
	turned, place := b.unturned()
	layer := &canvas{artist: c.artist, layout: c.layout, values: c.values, said: c.said, on: image.NewRGBA(image.Rect(0, 0, int(math.Ceil(turned.At[2])), int(math.Ceil(turned.At[3]))))}
	if problem, err = layer.flat(turned); err != nil {
		return "", err
	}
	how := &draw.Options{}
	if b.Opacity != nil {
		how.SrcMask, how.SrcMaskP = image.NewUniform(color.Alpha{uint8(math.Round(*b.Opacity * 255))}), image.Point{}
	}
	interpolator := draw.Interpolator(draw.BiLinear)
	if math.Mod(b.Turn, 90) == 0 {
		interpolator = draw.NearestNeighbor // pixels stay pixels
	}
	interpolator.Transform(c.on, place, layer.on, layer.on.Rect, draw.Over, how)
	return problem, nil
}

// unturned is a turned box as it lies before it is turned, at 0, 0, and what brings it to its place.
// A quarter turn fills the box: its text runs along the other side.
func (b Box) unturned() (lying Box, place f64.Aff3) {
	wide, high := b.At[2], b.At[3]
	if math.Mod(math.Abs(b.Turn), 180) == 90 {
		wide, high = high, wide
	}
	lying = b
	lying.At = []float64{0, 0, wide, high}
	sin, cos := math.Sincos(b.Turn * math.Pi / 180)
	if math.Mod(b.Turn, 90) == 0 {
		sin, cos = math.Round(sin), math.Round(cos)
	}
	x, y := b.At[0]+b.At[2]/2, b.At[1]+b.At[3]/2
	return lying, f64.Aff3{cos, -sin, x - cos*wide/2 + sin*high/2, sin, cos, y - sin*wide/2 - cos*high/2}
}

// flat draws a box as it lies.
func (c *canvas) flat(b Box) (problem string, err error) {
	at := image.Rect(int(b.At[0]), int(b.At[1]), int(b.At[0]+b.At[2]), int(b.At[1]+b.At[3]))
	if fill := fillIn(b.Fill, c.values); fill != "" {
		colour, err := readColour(fill)
		if err != nil {
			return "", err
		}
		c.fill(b, colour)
	}
	ink := color.NRGBA{33, 37, 41, 255}
	if colour := fillIn(b.Colour, c.values); colour != "" {
		if ink, err = readColour(colour); err != nil {
			return "", err
		}
	}
	if b.Line > 0 {
		c.outline(b, ink)
	}
	if file := fillIn(b.Picture, c.values); file != "" {
		picture, err := c.artist.Picture(file)
		switch {
		case err == nil:
			c.picture(file, picture, at, b.Fit == "fill")
		case !b.Optional:
			return "", err
		}
	}
	if said := fillIn(b.QR, c.values); said != "" {
		if err := c.qr(said, at, ink); err != nil {
			return "", err
		}
	}
	if text := fillIn(b.Text, c.values); strings.TrimSpace(text) != "" {
		return c.text(text, b, ink)
	}
	return "", nil
}

// qr draws a QR code, as large as whole pixels of it fit into the box.
func (c *canvas) qr(said string, at image.Rectangle, ink color.NRGBA) error {
	code, err := qr.Encode(said, qr.M)
	if err != nil {
		return fmt.Errorf("%q is too long for a QR code", short(said))
	}
	side := min(at.Dx(), at.Dy()) / code.Size
	if side == 0 {
		return fmt.Errorf("the QR code needs a box of at least %d × %d pixels", code.Size, code.Size)
	}
	corner := at.Min.Add(image.Pt(at.Dx()-side*code.Size, at.Dy()-side*code.Size).Div(2))
	for y := range code.Size {
		for x := range code.Size {
			if code.Black(x, y) {
				draw.Draw(c.on, image.Rect(x*side, y*side, (x+1)*side, (y+1)*side).Add(corner), image.NewUniform(ink), image.Point{}, draw.Over)
			}
		}
	}
	return nil
}

// behind draws what lies behind letters: their shadow, and the line round them.
func (b Box) behind(on *image.RGBA, letters *image.Alpha, values func(string) string) error {
	draws := func(e *Edge, mask *image.Alpha, by image.Point) error {
		colour, err := readColour(fillIn(e.Colour, values))
		if err == nil {
			draw.DrawMask(on, on.Rect.Add(by), image.NewUniform(colour), image.Point{}, mask, image.Point{}, draw.Over)
		}
		return err
	}
	solid := letters
	if b.Outline != nil {
		solid = grown(letters, b.Outline.Wide)
	}
	if b.Shadow != nil {
		if err := draws(b.Shadow, solid, image.Pt(int(math.Round(b.Shadow.Wide)), int(math.Round(b.Shadow.Wide)))); err != nil {
			return err
		}
	}
	if b.Outline != nil {
		return draws(b.Outline, solid, image.Point{})
	}
	return nil
}

// grown is a mask that reaches further by so many pixels on all sides.
func grown(mask *image.Alpha, by float64) *image.Alpha {
	out := image.NewAlpha(mask.Rect)
	reach := int(math.Ceil(by))
	for dy := -reach; dy <= reach; dy++ {
		half := int(math.Round(math.Sqrt(max(0, by*by-float64(dy*dy)))))
		for y := max(0, -dy); y < mask.Rect.Dy() && y+dy < mask.Rect.Dy(); y++ {
			from, to := mask.Pix[(y+dy)*mask.Stride:(y+dy)*mask.Stride+mask.Rect.Dx()], out.Pix[y*out.Stride:y*out.Stride+mask.Rect.Dx()]
			for x, a := range from {
				if a == 0 {
					continue
				}
				for at := max(0, x-half); at <= min(len(to)-1, x+half); at++ {
					to[at] = max(to[at], a)
				}
			}
		}
	}
	return out
}

// picture draws all of a picture into a box, or as much of it as fills the box.
func (c *canvas) picture(file string, p image.Image, at image.Rectangle, fill bool) {
	from, size := p.Bounds(), p.Bounds().Size()
	across, down := float64(at.Dx())/float64(size.X), float64(at.Dy())/float64(size.Y)
	scale, to := min(across, down), at
	if fill {
		scale = max(across, down)
		seen := image.Pt(int(math.Round(float64(at.Dx())/scale)), int(math.Round(float64(at.Dy())/scale)))
		from.Min = from.Min.Add(size.Sub(seen).Div(2))
		from.Max = from.Min.Add(seen)
		from = from.Intersect(p.Bounds())
	} else {
		shown := image.Pt(int(math.Round(float64(size.X)*scale)), int(math.Round(float64(size.Y)*scale)))
		to = image.Rectangle{Max: shown}.Add(at.Min.Add(at.Size().Sub(shown).Div(2)))
	}
	draw.Draw(c.on, to, c.artist.scaled.of(file, p, from, to.Size()), image.Point{}, draw.Over)
}

// scaled keeps pictures at the sizes in which they are drawn: the same icon stands on many cards.
type scaled struct {
	mutex  sync.Mutex
	known  map[scaledTo]*image.RGBA
	pixels int
}

type scaledTo struct {
	file string
	size image.Point
	from image.Rectangle
}

// mostScaled is how many pixels are kept of scaled pictures.
const mostScaled = 16_000_000

func (s *scaled) of(file string, p image.Image, from image.Rectangle, size image.Point) *image.RGBA {
	as := scaledTo{file, size, from}
	s.mutex.Lock()
	known := s.known[as]
	s.mutex.Unlock()
	if known != nil {
		return known
	}
	made := image.NewRGBA(image.Rectangle{Max: size})
	draw.CatmullRom.Scale(made, made.Rect, p, from, draw.Src, nil)
	s.mutex.Lock()
	defer s.mutex.Unlock()
	if s.known == nil {
		s.known = map[scaledTo]*image.RGBA{}
	}
	if s.pixels += size.X * size.Y; s.pixels <= mostScaled {
		s.known[as] = made
	}
	return made
}

// fill fills a box, with round corners.
func (c *canvas) fill(b Box, colour color.NRGBA) {
	c.shape(b, b.Round, colour, func(r *vector.Rasterizer, x, y float64) {
		roundedPath(r, b.At[0]-x, b.At[1]-y, b.At[2], b.At[3], b.Round, false)
	}, func(whole image.Rectangle) []image.Rectangle { return []image.Rectangle{whole} })
}

// outline draws the line round a box, inside it.
func (c *canvas) outline(b Box, colour color.NRGBA) {
	line := int(math.Ceil(b.Line))
	c.shape(b, max(b.Round, b.Line), colour, func(r *vector.Rasterizer, x, y float64) {
		roundedPath(r, b.At[0]-x, b.At[1]-y, b.At[2], b.At[3], b.Round, false)
		roundedPath(r, b.At[0]+b.Line-x, b.At[1]+b.Line-y, b.At[2]-2*b.Line, b.At[3]-2*b.Line, b.Round-b.Line, true) // the other way round: a hole
	}, func(w image.Rectangle) []image.Rectangle {
		if b.Line != math.Trunc(b.Line) || 2*line >= min(w.Dx(), w.Dy()) {
			return nil
		}
		return []image.Rectangle{
			{w.Min, image.Pt(w.Max.X, w.Min.Y+line)}, {image.Pt(w.Min.X, w.Max.Y-line), w.Max},
			{image.Pt(w.Min.X, w.Min.Y+line), image.Pt(w.Min.X+line, w.Max.Y-line)}, {image.Pt(w.Max.X-line, w.Min.Y+line), image.Pt(w.Max.X, w.Max.Y-line)},
		}
	})
}

// shape draws what lies in a box: its corners along a path, which is costly, and between them, where the box
// lies on whole pixels, plain rectangles.
func (c *canvas) shape(b Box, corner float64, colour color.NRGBA, path func(r *vector.Rasterizer, x, y float64), straight func(whole image.Rectangle) []image.Rectangle) {
	whole := image.Rect(int(math.Floor(b.At[0])), int(math.Floor(b.At[1])), int(math.Ceil(b.At[0]+b.At[2])), int(math.Ceil(b.At[1]+b.At[3])))
	side := int(math.Ceil(corner))
	onPixels := !slices.ContainsFunc(b.At, func(v float64) bool { return v != math.Trunc(v) })
	plain := straight(whole)
	if !onPixels || plain == nil || 2*side > min(whole.Dx(), whole.Dy()) {
		c.along(whole, colour, path)
		return
	}
	var corners []image.Rectangle
	if side > 0 {
		square := image.Rect(0, 0, side, side)
		for _, at := range []image.Point{whole.Min, {whole.Max.X - side, whole.Min.Y}, {whole.Min.X, whole.Max.Y - side}, whole.Max.Sub(square.Max)} {
			corners = append(corners, square.Add(at))
		}
	}
	for _, r := range plain {
		for _, part := range without(r, corners) {
			draw.Draw(c.on, part, image.NewUniform(colour), image.Point{}, draw.Over)
		}
	}
	for _, r := range corners {
		c.along(r, colour, path)
	}
}

// along fills what a path encloses within a rectangle.
func (c *canvas) along(within image.Rectangle, colour color.NRGBA, path func(r *vector.Rasterizer, x, y float64)) {
	within = within.Intersect(c.on.Rect)
	if within.Empty() {
		return
	}
	r := vector.NewRasterizer(within.Dx(), within.Dy())
	path(r, float64(within.Min.X), float64(within.Min.Y))
	r.Draw(c.on, within, image.NewUniform(colour), image.Point{})
}

// without are the parts of a rectangle that lie in none of others.
func without(r image.Rectangle, others []image.Rectangle) []image.Rectangle {
	parts := []image.Rectangle{r}
	for _, o := range others {
		var left []image.Rectangle
		for _, p := range parts {
			cut := p.Intersect(o)
			if cut.Empty() {
				left = append(left, p)
				continue
			}
			for _, rest := range []image.Rectangle{
				image.Rect(p.Min.X, p.Min.Y, p.Max.X, cut.Min.Y), image.Rect(p.Min.X, cut.Max.Y, p.Max.X, p.Max.Y),
				{image.Pt(p.Min.X, cut.Min.Y), image.Pt(cut.Min.X, cut.Max.Y)}, {image.Pt(cut.Max.X, cut.Min.Y), image.Pt(p.Max.X, cut.Max.Y)},
			} {
				if rest.Dx() > 0 && rest.Dy() > 0 {
					left = append(left, rest)
				}
			}
		}
		parts = left
	}
	return parts
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
