package deck

import (
	"fmt"
	"image"
	"image/color"
	"math"
	"strings"
	"sync"

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

// fonts keeps the fonts that ship, once read. Its zero value is ready.
type fonts struct {
	mutex sync.Mutex
	read  map[style]*opentype.Font
}

// face makes a face of a style. Faces are not shared between goroutines.
func (f *fonts) face(s style, height float64) font.Face {
	f.mutex.Lock()
	defer f.mutex.Unlock()
	if f.read == nil {
		f.read = map[style]*opentype.Font{}
	}
	parsed := f.read[s]
	if parsed == nil {
		var err error
		if parsed, err = opentype.Parse(ttf(s)); err != nil {
			panic(err) // the fonts ship with their package
		}
		f.read[s] = parsed
	}
	face, err := opentype.NewFace(parsed, &opentype.FaceOptions{Size: height, DPI: 72, Hinting: font.HintingNone})
	if err != nil {
		panic(err)
	}
	return face
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
	all := runs(text, style{b.Font, b.Bold, b.Italic}, c.layout.Icons)
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
			problem = fmt.Sprintf("the text %q does not fit, also not %g pixels high", short(strings.ReplaceAll(text, "\n", " ")), least)
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
		for end < len(all) && !all[end].space && !all[end].line {
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
		faces[r.style] = c.artist.fonts.face(r.style, height)
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
				faces[r.style] = c.artist.fonts.face(r.style, height)
			}
			d := font.Drawer{Dst: clip, Src: image.NewUniform(ink), Face: faces[r.style], Dot: fixed.Point26_6{X: fixed.Int26_6(x * 64), Y: fixed.Int26_6(base * 64)}}
			d.DrawString(r.text)
		}
	}
	return nil
}
