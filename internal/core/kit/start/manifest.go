package start

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/sheet"
)

// Manifest is a kit.yaml to go on from, its lines explained. The decks of loose pictures stand in it, though their sheets are
// still to be packed.
func (s Start) Manifest(name string, seats int) []byte {
	var sheets, layouts, decks, out strings.Builder
	for _, l := range s.Loose {
		from := l.Folder + "/"
		fmt.Fprintf(&sheets, "  %s: {file: %s} # packed from the pictures in %s; pack it again when they change: damselfly sheet pack %s\n",
			l.Key, InYAML(l.Sheet), InYAML(from), InYAML(l.Sheet))
		fmt.Fprintf(&decks, "  %s: {sheet: %s}\n", l.Key, l.Key)
	}
	for _, one := range s.Sheets {
		fmt.Fprintf(&sheets, "  %s: %s\n", one.Key, one.inYAML())
	}
	for _, d := range s.Decks {
		switch {
		case d.Entry.Sheet != "":
			fmt.Fprintf(&decks, "  %s: {sheet: %s}\n", d.Key, d.Entry.Sheet)
		case d.Entry.Layout != "":
			fmt.Fprintf(&decks, "  %s: {rows: %s, layout: %s}\n", d.Key, InYAML(d.Entry.Rows), d.Entry.Layout)
		default:
			fmt.Fprintf(&decks, "  %s: {rows: %s}\n", d.Key, InYAML(d.Entry.Rows))
		}
	}
	for _, l := range s.Layouts {
		fmt.Fprintf(&layouts, "  %s:\n    size: [%d, %d]\n    front:\n", l.Key, l.Entry.Size[0], l.Entry.Size[1])
		for _, b := range l.Entry.Front {
			fmt.Fprintf(&layouts, "      - {at: [%g, %g, %g, %g], %s}\n", b.At[0], b.At[1], b.At[2], b.At[3], inBox(b))
		}
	}
	fmt.Fprintf(&out, "# A kit: everything to play one game. docs/kit.md tells all that can stand here.\nkit: 1\nname: %q\nabout: \"\" # a sentence for the shelf\nseats: %d\n", name, seats)
	section(&out, "sheets", "Pictures that hold a grid of cards; margin and gutter are pixels", sheets.String(), "  # birds: {file: birds.png, columns: 5, rows: 4}\n")
	section(&out, "layouts", "Where the columns of a table file go on a card, in pixels", layouts.String(), "")
	section(&out, "decks", "What each card is and how often it is there; without a back it gets a plain one, without a home a pile", decks.String(), "  # birds: {sheet: birds}\n")
	out.WriteString("\n# The table is laid by itself: the decks' piles, and a hand for each seat. Arrange it in a room or at the bench,\n# and keep it, to have it stand here.\n")
	return []byte(out.String())
}

// section writes a part of kit.yaml with what it is for; without anything in it an example
// stands there as a comment.
func section(out *strings.Builder, name, about, lines, example string) {
	switch {
	case lines != "":
		fmt.Fprintf(out, "\n# %s\n%s:\n%s", about, name, lines)
	case example != "":
		fmt.Fprintf(out, "\n# %s\n# %s:\n%s", about, name, example)
	}
}

// inYAML is a sheet as it stands in kit.yaml: with its grid, or with the question for it.
func (s Sheet) inYAML() string {
	g := s.Like
	switch {
	case s.Packed:
		return fmt.Sprintf("{file: %s} # cut as the list beside it says", InYAML(s.Entry.File))
	case s.Entry.Columns > 0:
		return fmt.Sprintf("{file: %s, columns: %d, rows: %d%s}", InYAML(s.Entry.File), g.Columns, g.Rows, spacing(g))
	case g.Columns > 0:
		return fmt.Sprintf("{file: %s} # how many cards lie on it? Such as columns: %d, rows: %d%s", InYAML(s.Entry.File), g.Columns, g.Rows, spacing(g))
	}
	return fmt.Sprintf("{file: %s} # how many cards lie on it?", InYAML(s.Entry.File))
}

func spacing(g sheet.Grid) (text string) {
	if g.Margin != (sheet.Margin{}) {
		text += ", margin: " + listed(g.Margin.String())
	}
	if g.Gutter != (sheet.Gutter{}) {
		text += ", gutter: " + listed(g.Gutter.String())
	}
	return text
}

// listed puts several numbers into brackets.
func listed(numbers string) string {
	if strings.Contains(numbers, ",") {
		return "[" + numbers + "]"
	}
	return numbers
}

var plainInYAML = regexp.MustCompile(`^[\pL\pM\d][\pL\pM\d ._/-]*$`)

// InYAML is a file's name as it stands in kit.yaml.
func InYAML(name string) string {
	if plainInYAML.MatchString(name) {
		return name
	}
	return strconv.Quote(name)
}

// inBox is what is in a box of a layout that was begun, as it stands in kit.yaml.
func inBox(b deck.Box) string {
	switch {
	case b.Text != "":
		bold := ""
		if b.Bold {
			bold = ", bold: true"
		}
		return fmt.Sprintf("text: %q, height: %g%s, align: %s, down: %s", b.Text, b.Height, bold, b.Align, b.Down)
	case b.Line > 0:
		return fmt.Sprintf("line: %g, colour: %q, round: %g", b.Line, b.Colour, b.Round)
	}
	return fmt.Sprintf("fill: %q", b.Fill)
}
