package deck

import (
	"fmt"
	"image/color"
	"maps"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/image/colornames"
)

// Layout places text and pictures on cards made from a table file. Lengths are
// pixels of the card.
type Layout struct {
	BasedOn string            `yaml:"based-on" json:"based_on,omitempty"` // another layout: what is not given here is as there, and boxes of the same name are in place of its own
	Size    []int             `yaml:"size" json:"size" numbers:"2"`       // width and height
	Front   []Box             `yaml:"front" json:"front"`
	Back    []Box             `yaml:"back" json:"back,omitempty"`   // none: the deck has one back
	Icons   map[string]string `yaml:"icons" json:"icons,omitempty"` // pictures' files by the name that stands in text as :name:
	Fonts   []string          `yaml:"fonts" json:"fonts,omitempty"` // files of fonts, for letters that a box's own font lacks
}

// Box is one thing on a side of a card, drawn over those before it: a colour, a
// picture, a QR code, or text. Text, pictures and colours may hold {field}, which is
// what the row says.
type Box struct {
	Name   string    `yaml:"name" json:"name,omitempty"`   // by which a layout that is based on this one replaces it
	At     []float64 `yaml:"at" json:"at" numbers:"4"`     // left, top, width, height
	If     string    `yaml:"if" json:"if,omitempty"`       // only where this field says something; "not FIELD", or "FIELD = WORDS"
	Turn   float64   `yaml:"turn" json:"turn,omitempty"`   // degrees clockwise that what is in it is turned
	Fill   string    `yaml:"fill" json:"fill,omitempty"`   // a colour
	Round  float64   `yaml:"round" json:"round,omitempty"` // of the corners of the filled box
	Line   float64   `yaml:"line" json:"line,omitempty"`   // thickness of its outline, in Colour
	Colour string    `yaml:"colour" json:"colour,omitempty"`

	Opacity *float64 `yaml:"opacity" json:"opacity,omitempty"` // from 0, nothing is seen, to 1

	Picture  string `yaml:"picture" json:"picture,omitempty"`   // a file
	Fit      string `yaml:"fit" json:"fit,omitempty"`           // fit: all of it; fill: all of the box
	Optional bool   `yaml:"optional" json:"optional,omitempty"` // the picture's file may be missing

	QR string `yaml:"qr" json:"qr,omitempty"` // what the code says, such as a link

	Text    string  `yaml:"text" json:"text,omitempty"`
	Font    string  `yaml:"font" json:"font,omitempty"`       // plain, mono, small-caps, or a font file of the kit
	Bold    bool    `yaml:"bold" json:"bold,omitempty"`       //
	Italic  bool    `yaml:"italic" json:"italic,omitempty"`   //
	Height  float64 `yaml:"height" json:"height,omitempty"`   // of the letters; shrinks to fit
	Least   float64 `yaml:"least" json:"least,omitempty"`     // what it shrinks to at most; half if left out
	Align   string  `yaml:"align" json:"align,omitempty"`     // left, centre or right
	Down    string  `yaml:"down" json:"down,omitempty"`       // top, middle or bottom
	Lines   float64 `yaml:"lines" json:"lines,omitempty"`     // from line to line, in heights
	Outline *Edge   `yaml:"outline" json:"outline,omitempty"` // a line round the letters
	Shadow  *Edge   `yaml:"shadow" json:"shadow,omitempty"`   // below and to the right of them
}

// Edge is what lies round letters or behind them.
type Edge struct {
	Colour string  `yaml:"colour" json:"colour"`
	Wide   float64 `yaml:"wide" json:"wide"` // pixels
}

// Limits of a layout.
const (
	MaxSide  = 4096 // pixels of a card's side
	MaxBoxes = 200
	maxEdge  = 24 // pixels round letters
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
			for part, text := range b.mistakes(l.Size) {
				all[strings.TrimSuffix(fmt.Sprintf("%s[%d].%s", side, i, part), ".")] = text
			}
		}
	}
	return all
}

func (b Box) mistakes(card []int) map[string]string {
	all := map[string]string{}
	if len(b.At) != 4 || b.At[2] < 1 || b.At[3] < 1 || slices.Min(b.At) < -MaxSide || slices.Max(b.At) > 2*MaxSide {
		all["at"] = "a box needs at: [left, top, width, height] in pixels"
	} else if len(card) == 2 && (b.At[0] >= float64(card[0]) || b.At[1] >= float64(card[1]) || b.At[0]+b.At[2] <= 0 || b.At[1]+b.At[3] <= 0) {
		all["at"] = fmt.Sprintf("the box lies beside the card, which is %d × %d pixels", card[0], card[1])
	}
	colours := map[string]string{"fill": b.Fill, "colour": b.Colour}
	for part, e := range map[string]*Edge{"outline": b.Outline, "shadow": b.Shadow} {
		if e == nil {
			continue
		}
		colours[part] = e.Colour
		if e.Colour == "" || e.Wide <= 0 || e.Wide > maxEdge {
			all[part] = fmt.Sprintf("it needs a colour, and how wide it is: {colour: \"#ffffff\", wide: 3}, at most %d pixels", maxEdge)
		}
	}
	for part, colour := range colours {
		if _, err := readColour(colour); colour != "" && !strings.Contains(colour, "{") && err != nil {
			all[part] = err.Error()
		}
	}
	for part, choice := range map[string][]string{
		"fit": {b.Fit, "fit", "fill"}, "font": {b.Font, "plain", "mono", "small-caps", "a file such as fonts/own.ttf"},
		"align": {b.Align, "left", "centre", "right"}, "down": {b.Down, "top", "middle", "bottom"},
	} {
		if choice[0] != "" && choice[0] != "center" && !slices.Contains(choice[1:], choice[0]) && (part != "font" || !isFontFile(choice[0])) {
			all[part] = fmt.Sprintf("%q is not one of %s", choice[0], strings.Join(choice[1:], ", "))
		}
	}
	if b.Text != "" && (b.Height < 4 || b.Height > 1000 || b.Least < 0 || b.Least > b.Height || b.Lines < 0 || b.Lines > 5) {
		all["height"] = "text needs a height, such as 40 (4 to 1000 pixels), and a least that is no more"
	}
	if b.Turn < -360 || b.Turn > 360 {
		all["turn"] = "turn is in degrees, from -360 to 360"
	}
	if b.Opacity != nil && (*b.Opacity < 0 || *b.Opacity > 1) {
		all["opacity"] = "opacity is from 0, nothing is seen, to 1"
	}
	if b.Text == "" && b.Picture == "" && b.Fill == "" && b.Line == 0 && b.QR == "" {
		all[""] = "a box needs text, a picture, a qr, a fill or a line"
	}
	return all
}

// On is a layout that is based on another: what it does not give is as there. Its boxes stand in place
// of those with the same name, and after the others.
func (l Layout) On(base Layout) Layout {
	if l.Size == nil {
		l.Size = base.Size
	}
	icons := maps.Clone(base.Icons)
	if icons == nil {
		icons = map[string]string{}
	}
	maps.Copy(icons, l.Icons)
	if len(icons) > 0 {
		l.Icons = icons
	}
	l.Fonts = append(slices.Clone(l.Fonts), base.Fonts...)
	l.Front, l.Back = boxesOn(l.Front, base.Front), boxesOn(l.Back, base.Back)
	return l
}

func boxesOn(own, base []Box) []Box {
	all := slices.Clone(base)
	for _, b := range own {
		if i := slices.IndexFunc(all, func(o Box) bool { return b.Name != "" && o.Name == b.Name }); i >= 0 {
			all[i] = b
		} else {
			all = append(all, b)
		}
	}
	return all
}

// condition is what a box asks of a row: that a field says something, or just that.
type condition struct {
	field, words string
	not          bool
}

func (b Box) condition() condition {
	c := condition{field: strings.TrimSpace(b.If)}
	c.field, c.not = strings.CutPrefix(c.field, "not ")
	field, words, _ := strings.Cut(c.field, "=")
	unbraced := strings.TrimSuffix(strings.TrimPrefix(strings.TrimSpace(field), "{"), "}")
	return condition{strings.TrimSpace(unbraced), strings.TrimSpace(words), c.not}
}

// shownBy reports whether a box is drawn for what a row says.
func (b Box) shownBy(value func(field string) string) bool {
	if b.If == "" {
		return true
	}
	c := b.condition()
	said := strings.TrimSpace(value(c.field))
	if c.words != "" {
		return strings.EqualFold(said, c.words) != c.not
	}
	return (said != "") != c.not
}

func (b Box) shown(fields map[string]string) bool {
	return b.shownBy(func(f string) string { return fields[f] })
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

// readColour reads "#rgb", "#rrggbb", "#rrggbbaa", or a colour by its name, such as "teal".
func readColour(text string) (color.NRGBA, error) {
	if named, known := colornames.Map[strings.ToLower(strings.TrimSpace(text))]; known {
		return color.NRGBA(named), nil // they are all opaque
	}
	digits := strings.TrimPrefix(text, "#")
	if len(digits) == 3 {
		digits = string([]byte{digits[0], digits[0], digits[1], digits[1], digits[2], digits[2]})
	}
	if len(digits) == 6 {
		digits += "ff"
	}
	n, err := strconv.ParseUint(digits, 16, 32)
	if err != nil || len(digits) != 8 || !strings.HasPrefix(text, "#") {
		return color.NRGBA{}, fmt.Errorf("%q is no colour; write it as #rrggbb, or by its name, such as teal", text)
	}
	return color.NRGBA{uint8(n >> 24), uint8(n >> 16), uint8(n >> 8), uint8(n)}, nil
}

// What a row says beside its columns, unless it has columns of these names.
const (
	FieldRow    = "row"    // its number in the file
	FieldCopies = "copies" // how many copies there are
	FieldKey    = "key"
)

// Fields lists the fields that the boxes of the layout name.
func (l *Layout) Fields() []string {
	used := map[string]bool{}
	for _, b := range append(slices.Clone(l.Front), l.Back...) {
		for _, field := range b.fields() {
			used[field] = true
		}
	}
	return slices.Sorted(maps.Keys(used))
}

// fields are those that a box names.
func (b Box) fields() (all []string) {
	parts := []string{b.Text, b.Picture, b.Fill, b.Colour, b.QR}
	for _, e := range []*Edge{b.Outline, b.Shadow} {
		if e != nil {
			parts = append(parts, e.Colour)
		}
	}
	for _, text := range parts {
		fillIn(text, func(field string) string { all = append(all, field); return "" })
	}
	if b.If != "" {
		all = append(all, b.condition().field)
	}
	return all
}

// FillIn puts values into a text for its {fields}. "{{" is a brace.
func FillIn(text string, value func(field string) string) string { return fillIn(text, value) }

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

// emptyIn is the first column in braces that says nothing.
func emptyIn(text string, fields map[string]string) (column string) {
	fillIn(text, func(field string) string {
		if column == "" && fields[field] == "" {
			column = field
		}
		return ""
	})
	return column
}
