package deck

import (
	"fmt"
	"image"
	"image/color"
	"math"
	"slices"
	"strings"
	"sync"
	"unicode"

	"github.com/rivo/uniseg"
	"golang.org/x/image/draw"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/gobolditalic"
	"golang.org/x/image/font/gofont/goitalic"
	"golang.org/x/image/font/gofont/gomono"
	"golang.org/x/image/font/gofont/gomonobold"
	"golang.org/x/image/font/gofont/gomonobolditalic"
	"golang.org/x/image/font/gofont/gomonoitalic"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/gofont/gosmallcaps"
	"golang.org/x/image/font/gofont/gosmallcapsitalic"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"
)

// style is how letters are drawn.
type style struct {
	family       string
	bold, italic bool
}

// fonts keeps fonts, once read: those that ship, and those of a kit's files.
type fonts struct {
	mutex sync.Mutex
	read  map[style]*opentype.Font
	wrong map[style]error

	measured sync.Map // letterOf → error: why a letter cannot be drawn
}

// letterOf is a letter of a font.
type letterOf struct {
	style  style
	letter rune
}

// isFile reports whether a font is one of the kit's files.
func (s style) isFile() bool { return isFontFile(s.family) }

func isFontFile(name string) bool {
	name = strings.ToLower(name)
	return strings.HasSuffix(name, ".ttf") || strings.HasSuffix(name, ".otf")
}

// font reads a font, or says why it cannot be read.
func (a *Artist) font(s style) (*opentype.Font, error) {
	if s.isFile() {
		s.bold, s.italic = false, false // a file is one font
	}
	f := &a.fonts
	f.mutex.Lock()
	defer f.mutex.Unlock()
	if f.read == nil {
		f.read, f.wrong = map[style]*opentype.Font{}, map[style]error{}
	}
	if f.read[s] != nil || f.wrong[s] != nil {
		return f.read[s], f.wrong[s]
	}
	text := ttf(s)
	if s.isFile() {
		var err error
		if text, err = a.Font(s.family); err != nil {
			f.wrong[s] = err
			return nil, err
		}
	}
	parsed, err := opentype.Parse(text)
	if err != nil {
		f.wrong[s] = fmt.Errorf("%s is no font that can be read (%w); bring a TrueType or OpenType file", s.family, err)
	}
	f.read[s] = parsed
	return parsed, f.wrong[s]
}

// face makes a face of a style that was read. Faces are not shared between goroutines.
func (a *Artist) face(s style, height float64) font.Face {
	parsed, err := a.font(s)
	if err != nil {
		panic(err) // texts are looked over before they are drawn
	}
	face, err := opentype.NewFace(parsed, &opentype.FaceOptions{Size: height, DPI: 72, Hinting: font.HintingNone})
	if err != nil {
		panic(err)
	}
	return face
}

// has reports whether a font draws a letter.
func (a *Artist) has(s style, letter rune) bool {
	parsed, err := a.font(s)
	if err != nil {
		return false
	}
	glyph, err := parsed.GlyphIndex(nil, letter)
	return err == nil && glyph != 0
}

// mostEms is how far a letter may reach from where it stands, in its own heights. Drawing takes memory for
// all that it covers, and a font from outside may say that it covers anything.
const mostEms = 16

// reaches says that a letter of a font of the kit is too large, if it is.
func (a *Artist) reaches(s style, letter rune) error {
	if !s.isFile() {
		return nil
	}
	if known, measured := a.fonts.measured.Load(letterOf{s, letter}); measured {
		wrong, _ := known.(error)
		return wrong
	}
	wrong := a.measure(s, letter)
	a.fonts.measured.Store(letterOf{s, letter}, wrong)
	return wrong
}

func (a *Artist) measure(s style, letter rune) error {
	parsed, err := a.font(s)
	if err != nil {
		return err
	}
	glyph, err := parsed.GlyphIndex(nil, letter)
	if err != nil {
		return fmt.Errorf("%s cannot be read (%w); bring it anew", s.family, err)
	}
	em := fixed.I(64)
	covers, advance, err := parsed.GlyphBounds(nil, glyph, em, font.HintingNone)
	if err != nil {
		return fmt.Errorf("%s cannot be read (%w); bring it anew", s.family, err)
	}
	for _, edge := range []fixed.Int26_6{covers.Min.X, covers.Min.Y, covers.Max.X, covers.Max.Y, advance} {
		if most := mostEms * em; edge > most || edge < -most {
			return fmt.Errorf("the letter %s of %s is more than %d times as large as letters are; bring another font", lettersOf([]rune{letter}), s.family, mostEms)
		}
	}
	return nil
}

func ttf(s style) []byte {
	weight := map[[2]bool]int{{false, false}: 0, {true, false}: 1, {false, true}: 2, {true, true}: 3}[[2]bool{s.bold, s.italic}]
	switch s.family {
	case "mono":
		return [][]byte{gomono.TTF, gomonobold.TTF, gomonoitalic.TTF, gomonobolditalic.TTF}[weight]
	case "small-caps": // there is no bold of it
		return [][]byte{gosmallcaps.TTF, gosmallcaps.TTF, gosmallcapsitalic.TTF, gosmallcapsitalic.TTF}[weight]
	}
	return [][]byte{goregular.TTF, gobold.TTF, goitalic.TTF, gobolditalic.TTF}[weight]
}

// run is a piece of text of one style, or an icon. Runs that belong to one word
// are not parted; space says that a line may break before it.
type run struct {
	text  string
	style style
	icon  string
	space bool
	joint bool // a line may break before it, though nothing stands between
	line  bool // a new line begins here
}

// runs reads text with marks: **bold**, *italic*, :icon:, a line break, and a
// backslash before a sign that is meant as it is.
func runs(text string, base style, icons map[string]string) []run {
	var all []run
	now, space, newLine := base, false, true
	var word strings.Builder
	flush := func(icon string) {
		if word.Len() > 0 || icon != "" {
			all = append(all, run{text: word.String(), style: now, icon: icon, space: space, line: newLine})
			word.Reset()
			space, newLine = false, false
		}
	}
	for rest := text; rest != ""; {
		switch {
		case strings.HasPrefix(rest, `\`) && len(rest) > 1:
			word.WriteByte(rest[1])
			rest = rest[2:]
		case strings.HasPrefix(rest, "**"):
			flush("")
			now.bold, rest = !now.bold, rest[2:]
		case strings.HasPrefix(rest, "*"):
			flush("")
			now.italic, rest = !now.italic, rest[1:]
		case strings.HasPrefix(rest, ":") && iconAt(rest, icons) != "":
			flush("")
			name := iconAt(rest, icons)
			flush(icons[name])
			rest = rest[len(name)+2:]
		case rest[0] == '\n':
			flush("")
			if newLine { // an empty line
				all = append(all, run{style: now, line: true})
			}
			newLine, space, rest = true, false, rest[1:]
		case rest[0] == ' ' || rest[0] == '\t' || rest[0] == '\r':
			flush("")
			space, rest = true, rest[1:]
		default:
			word.WriteByte(rest[0])
			rest = rest[1:]
		}
	}
	flush("")
	return all
}

// drawable parts runs so that each is of letters that its font has: the font that is asked for, those
// of the layout, or the plain one. It says which letters none has.
func (a *Artist) drawable(all []run, files []string) (parted []run, problem string, err error) {
	for _, file := range files {
		if _, err := a.font(style{family: file}); err != nil {
			return nil, "", err
		}
	}
	var lacking, leftwards []rune
	for _, r := range all {
		if _, err := a.font(r.style); err != nil {
			return nil, "", err
		}
		if r.icon != "" || r.text == "" {
			parted = append(parted, r)
			continue
		}
		for _, piece := range pieces(r) {
			now := piece
			now.text = ""
			for _, letter := range piece.text {
				s, found := a.fontOf(letter, piece.style, files)
				if err := a.reaches(s, letter); err != nil {
					return nil, "", err
				}
				if !found && !slices.Contains(lacking, letter) {
					lacking = append(lacking, letter)
				}
				if unicode.In(letter, unicode.Arabic, unicode.Hebrew) {
					leftwards = append(leftwards, letter)
				}
				if s != now.style && now.text != "" {
					parted = append(parted, now)
					now = run{}
				}
				now.style = s
				now.text += string(letter)
			}
			parted = append(parted, now)
		}
	}
	if len(lacking) > 0 {
		problem = fmt.Sprintf("no font here has %s; put one that has into the kit, and name it in the layout's fonts", lettersOf(lacking))
	}
	if len(leftwards) > 0 {
		problem = joined(problem, "letters that are written from right to left are not joined and ordered yet; bring such text as a picture")
	}
	return parted, problem, nil
}

// fontOf is the first font that has a letter.
func (a *Artist) fontOf(letter rune, asked style, files []string) (font style, found bool) {
	if letter < unicode.MaxASCII && !asked.isFile() || a.has(asked, letter) {
		return asked, true
	}
	for _, file := range files {
		if s := (style{family: file}); a.has(s, letter) {
			return s, true
		}
	}
	plain := style{bold: asked.bold, italic: asked.italic}
	if a.has(plain, letter) {
		return plain, true
	}
	return asked, false
}

// pieces parts a run where Unicode lets a line break between two letters of scripts that are
// written without spaces.
func pieces(r run) (all []run) {
	rest, state := r.text, -1
	for rest != "" {
		var segment string
		segment, rest, _, state = uniseg.FirstLineSegmentInString(rest, state)
		one := run{text: segment, style: r.style}
		if len(all) == 0 {
			one.space, one.line, one.joint = r.space, r.line, r.joint
		} else if last := &all[len(all)-1]; !spaceless(last.text) && !spaceless(segment) {
			last.text += segment // as a word that is not parted
			continue
		} else {
			one.joint = true
		}
		all = append(all, one)
	}
	return all
}

// spaceless reports whether text has letters of a script without spaces between words.
func spaceless(text string) bool {
	return strings.ContainsFunc(text, func(letter rune) bool {
		return unicode.In(letter, unicode.Han, unicode.Hiragana, unicode.Katakana, unicode.Thai, unicode.Lao, unicode.Khmer, unicode.Myanmar)
	})
}

// lettersOf lists letters as a person can look for them.
func lettersOf(letters []rune) string {
	var all []string
	for _, letter := range letters[:min(len(letters), 5)] {
		all = append(all, fmt.Sprintf("%c (U+%04X)", letter, letter))
	}
	if more := len(letters) - len(all); more > 0 {
		all = append(all, fmt.Sprintf("%d more", more))
	}
	return strings.Join(all, ", ")
}

func joined(one, other string) string {
	if one == "" {
		return other
	}
	return one + "; " + other
}

// iconAt is the name of the icon that a text begins with, as :name:.
func iconAt(text string, icons map[string]string) string {
	name, _, closed := strings.Cut(text[1:], ":")
	if _, known := icons[name]; closed && known {
		return name
	}
	return ""
}

// setLine is a line of runs with their left edges.
type setLine struct {
	runs []run
	at   []fixed.Int26_6
	wide fixed.Int26_6
}

// text draws text into a box, as high as it is to be or smaller so that it fits.
func (c *canvas) text(text string, b Box, ink color.NRGBA) (problem string, err error) {
	defer func() { // a font from outside may be damaged where it is first drawn from
		if cause := recover(); cause != nil {
			if len(c.layout.fontFiles([]Box{b})) == 0 {
				panic(cause)
			}
			err = fmt.Errorf("a font of the layout is damaged (%v); bring it anew", cause)
		}
	}()
	all, problem, err := c.artist.drawable(runs(text, style{b.Font, b.Bold, b.Italic}, c.layout.Icons), c.layout.Fonts)
	if err != nil {
		return "", err
	}
	least := b.Least
	if least == 0 {
		least = b.Height / 2
	}
	height := b.Height
	var lines []setLine
	for {
		var fits bool
		if lines, fits = c.set(all, b, height); fits {
			break
		}
		if height <= least {
			problem = joined(problem, fmt.Sprintf("the text %q does not fit, also not %g pixels high", short(strings.ReplaceAll(text, "\n", " ")), least))
			break
		}
		height = max(height*0.94, least)
	}
	return problem, c.drawLines(lines, b, height, ink)
}

func (b Box) lineHeight(height float64) float64 {
	if b.Lines > 0 {
		return height * b.Lines
	}
	return height * 1.25
}

// set breaks runs into lines of a box, and says whether they fit into it.
func (c *canvas) set(all []run, b Box, height float64) (lines []setLine, fits bool) {
	faces := map[style]font.Face{}
	room := fixed.Int26_6(b.At[2] * 64)
	fits = true
	for i := 0; i < len(all); {
		end := i + 1 // of the word: runs without a space between
		for end < len(all) && !all[end].space && !all[end].line && !all[end].joint {
			end++
		}
		wide, offsets := fixed.Int26_6(0), make([]fixed.Int26_6, 0, end-i)
		for _, r := range all[i:end] {
			offsets = append(offsets, wide)
			wide += c.measure(r, height, faces)
		}
		blank := fixed.Int26_6(0)
		if len(lines) > 0 && all[i].space {
			blank = c.measure(run{text: " ", style: all[i].style}, height, faces)
		}
		if last := len(lines) - 1; last < 0 || all[i].line || lines[last].wide+blank+wide > room {
			lines, blank = append(lines, setLine{}), 0
		}
		line := &lines[len(lines)-1]
		for k, r := range all[i:end] {
			line.runs, line.at = append(line.runs, r), append(line.at, line.wide+blank+offsets[k])
		}
		if line.wide += blank + wide; line.wide > room {
			fits = false
		}
		i = end
	}
	return lines, fits && float64(len(lines)-1)*b.lineHeight(height)+height*1.2 <= b.At[3]+0.5
}

func (c *canvas) measure(r run, height float64, faces map[style]font.Face) fixed.Int26_6 {
	if r.icon != "" {
		return fixed.Int26_6(height * 64)
	}
	if faces[r.style] == nil {
		faces[r.style] = c.artist.face(r.style, height)
	}
	return font.MeasureString(faces[r.style], r.text)
}

func (c *canvas) drawLines(lines []setLine, b Box, height float64, ink color.NRGBA) error {
	faces := map[style]font.Face{}
	clip := c.on.SubImage(image.Rect(int(b.At[0]), int(b.At[1]), int(math.Ceil(b.At[0]+b.At[2])), int(math.Ceil(b.At[1]+b.At[3])))).(*image.RGBA)
	tall := float64(len(lines)-1)*b.lineHeight(height) + height*1.2
	top := b.At[1]
	switch b.Down {
	case "middle":
		top += max(0, b.At[3]-tall) / 2
	case "bottom":
		top += max(0, b.At[3]-tall)
	}
	for n, line := range lines {
		base := top + height*0.95 + float64(n)*b.lineHeight(height)
		left := b.At[0]
		switch b.Align {
		case "centre":
			left += (b.At[2] - float64(line.wide)/64) / 2
		case "right":
			left += b.At[2] - float64(line.wide)/64
		}
		for i, r := range line.runs {
			x := left + float64(line.at[i])/64
			if r.icon != "" {
				icon, err := c.artist.Picture(r.icon)
				if err != nil {
					return err
				}
				to := image.Rect(int(x+height*0.05), int(base-height*0.82), int(x+height*0.95), int(base+height*0.08))
				draw.CatmullRom.Scale(clip, to, icon, icon.Bounds(), draw.Over, nil)
				continue
			}
			if faces[r.style] == nil {
				faces[r.style] = c.artist.face(r.style, height)
			}
			d := font.Drawer{Dst: clip, Src: image.NewUniform(ink), Face: faces[r.style], Dot: fixed.Point26_6{X: fixed.Int26_6(x * 64), Y: fixed.Int26_6(base * 64)}}
			d.DrawString(r.text)
		}
	}
	return nil
}
