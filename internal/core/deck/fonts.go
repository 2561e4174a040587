package deck

import (
	"bytes"
	"fmt"
	"strings"
	"sync"
	"unicode"

	"github.com/go-text/typesetting/font"
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
)

// style is how letters are drawn.
type style struct {
	family       string // plain (or empty), mono, small-caps, a file of the kit, or one that ships
	bold, italic bool
}

// fonts keeps fonts, once read: those that ship, and those of a kit's files.
type fonts struct {
	mutex sync.Mutex
	read  map[style]*font.Font
	wrong map[style]error

	setters sync.Pool // of *setter
}

// Fonts are those that ship beside the program, for letters that no other font has. Each is read when it is
// first needed. Safe for concurrent use.
type Fonts struct {
	Read func(name string) ([]byte, error)

	mutex  sync.Mutex
	parsed map[string]*font.Font
	wrong  map[string]error
}

func (f *Fonts) font(name string) (*font.Font, error) {
	if f == nil {
		return nil, fmt.Errorf("%s is not there", name)
	}
	f.mutex.Lock()
	defer f.mutex.Unlock()
	if f.parsed[name] != nil || f.wrong[name] != nil {
		return f.parsed[name], f.wrong[name]
	}
	if f.parsed == nil {
		f.parsed, f.wrong = map[string]*font.Font{}, map[string]error{}
	}
	text, err := f.Read(name)
	if err == nil {
		f.parsed[name], err = parse(name, text)
	}
	f.wrong[name] = err
	return f.parsed[name], err
}

// isFile reports whether a font is one of the kit's files.
func (s style) isFile() bool { return isFontFile(s.family) && !strings.HasPrefix(s.family, shipped) }

func isFontFile(name string) bool {
	name = strings.ToLower(name)
	return strings.HasSuffix(name, ".ttf") || strings.HasSuffix(name, ".otf")
}

// shipped is what the family of a font begins with that ships beside the program.
const shipped = "shipped/"

// others are the fonts that ship for letters that the plain one lacks, by what they are for.
var others = []struct {
	of            *unicode.RangeTable // nil: for all letters that are in none of the other tables
	regular, bold string
}{
	{unicode.Arabic, "NotoSansArabic-Regular.ttf", "NotoSansArabic-Bold.ttf"},
	{unicode.Hebrew, "NotoSansHebrew-Regular.ttf", "NotoSansHebrew-Bold.ttf"},
	{unicode.Devanagari, "NotoSansDevanagari-Regular.ttf", "NotoSansDevanagari-Bold.ttf"},
	{unicode.Thai, "NotoSansThai-Regular.ttf", "NotoSansThai-Bold.ttf"},
	{unicode.Hangul, fontKR, boldOf(fontKR)},
	{unicode.Hiragana, fontJP, boldOf(fontJP)},
	{unicode.Katakana, fontJP, boldOf(fontJP)},
	{nil, "NotoSans-Regular.ttf", "NotoSans-Bold.ttf"},
	{nil, "NotoSansSymbols-Regular.ttf", ""},
	{nil, "NotoSansSymbols2-Regular.ttf", ""},
	{nil, emojiFile, ""},
	{nil, fontJP, boldOf(fontJP)}, // signs of East Asia that belong to no script
}

// The fonts of East Asia have the same letters in other forms.
const (
	fontJP = "NotoSansJP-Regular.otf"
	fontKR = "NotoSansKR-Regular.otf"
	fontSC = "NotoSansSC-Regular.otf"
)

func boldOf(font string) string { return strings.Replace(font, "Regular", "Bold", 1) }

// eastAsian are the fonts for Chinese letters, in the order in which they are asked: what else a card
// says tells in which language they are meant.
func eastAsian(said string) []string {
	in := func(tables ...*unicode.RangeTable) bool {
		return strings.ContainsFunc(said, func(r rune) bool { return unicode.In(r, tables...) })
	}
	switch {
	case in(unicode.Hiragana, unicode.Katakana):
		return []string{fontJP, fontSC}
	case in(unicode.Hangul):
		return []string{fontKR, fontSC}
	}
	return []string{fontSC, fontJP}
}

// emojiFile is the font that ships for emoji.
const emojiFile = "NotoEmoji-Regular.ttf"

// candidates are the fonts that ship which may have a letter, bold ones first if it is to be bold.
func candidates(letter rune, asked style, said string) (files []string) {
	if unicode.Is(unicode.Han, letter) {
		for _, file := range eastAsian(said) {
			if asked.bold {
				files = append(files, boldOf(file))
			}
			files = append(files, file)
		}
		return files
	}
	ofScript := false
	for _, o := range others {
		if o.of != nil && !unicode.Is(o.of, letter) || o.of == nil && ofScript {
			continue
		}
		ofScript = ofScript || o.of != nil
		if asked.bold && o.bold != "" {
			files = append(files, o.bold)
		}
		files = append(files, o.regular)
	}
	return files
}

// font reads a font, or says why it cannot be read.
func (a *Artist) font(s style) (*font.Font, error) {
	if name, ships := strings.CutPrefix(s.family, shipped); ships {
		return a.Shipped.font(name)
	}
	if isFontFile(s.family) {
		s.bold, s.italic = false, false // a file is one font
	}
	f := &a.fonts
	f.mutex.Lock()
	defer f.mutex.Unlock()
	if f.read == nil {
		f.read, f.wrong = map[style]*font.Font{}, map[style]error{}
	}
	if f.read[s] != nil || f.wrong[s] != nil {
		return f.read[s], f.wrong[s]
	}
	text, err := ttf(s), error(nil)
	if s.isFile() {
		text, err = a.Font(s.family)
	}
	if err == nil {
		f.read[s], err = parse(s.family, text)
	}
	f.wrong[s] = err
	return f.read[s], err
}

func parse(name string, text []byte) (parsed *font.Font, err error) {
	defer func() { // bytes from outside
		if cause := recover(); cause != nil {
			parsed, err = nil, fmt.Errorf("%s is damaged (%v); bring it anew", name, cause)
		}
	}()
	face, err := font.ParseTTF(bytes.NewReader(text))
	if err != nil {
		return nil, fmt.Errorf("%s is no font that can be read (%w); bring a TrueType or OpenType file", name, err)
	}
	if face.Upem() == 0 {
		return nil, fmt.Errorf("%s is no font that can be read: it says no size; bring a TrueType or OpenType file", name)
	}
	listed(face.Font)
	return face.Font, nil
}

// has reports whether a font draws a letter.
func (a *Artist) has(s style, letter rune) bool {
	parsed, err := a.font(s)
	if err != nil {
		return false
	}
	glyph, has := parsed.NominalGlyph(letter)
	return has && glyph != 0
}

// fontOf is the first font that has a letter: the one asked for, those of the layout, the plain one, and
// those that ship for other scripts.
func (a *Artist) fontOf(letter rune, asked style, files []string, said string) (font style, found bool) {
	if letter < unicode.MaxASCII && !asked.isFile() || a.has(asked, letter) {
		return asked, true
	}
	plain := style{bold: asked.bold, italic: asked.italic}
	all := []style{}
	for _, file := range files {
		all = append(all, style{family: file})
	}
	all = append(all, plain)
	for _, file := range candidates(letter, asked, said) {
		all = append(all, style{family: shipped + file})
	}
	for _, s := range all {
		if a.has(s, letter) {
			return s, true
		}
	}
	return asked, false
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
