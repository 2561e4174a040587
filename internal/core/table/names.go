package table

import (
	"regexp"
	"slices"
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

// posing are names that would be taken for somebody or something else.
var posing = []string{"table", "the table", "host", "spectator", "everyone", "nobody", "you", "me", "my", "felt", "first seat", "taken", "free"}

var seatNumber = regexp.MustCompile(`^seat ?\d*$`)

// lookalikes are letters of other scripts that look like Latin ones.
var lookalikes = strings.NewReplacer("а", "a", "е", "e", "о", "o", "р", "p", "с", "c", "у", "y", "х", "x", "і", "i", "ј", "j", "ѕ", "s", "ӏ", "l",
	"α", "a", "ο", "o", "ν", "v", "ρ", "p", "τ", "t", "υ", "u", "κ", "k", "ι", "i")

// looks is what a name looks like: without regard to case, width, spaces within, marks
// and letters of other scripts that look the same.
func looks(name string) string {
	plain := strings.Map(func(r rune) rune {
		if unicode.Is(unicode.Mn, r) {
			return -1
		}
		return unicode.ToLower(r)
	}, norm.NFKD.String(name))
	return strings.Join(strings.Fields(lookalikes.Replace(plain)), " ")
}

// called refuses a name that is another player's, or would be taken for it, or for the
// table's own.
func (d *draft) called(seat Seat, name string) *Refusal {
	like := looks(name)
	for _, other := range d.table.Chairs {
		if other.Seat != seat && other.Name != "" && looks(other.Name) == like {
			return refuse(SeatTaken, "%s sits at seat %d already; choose another name.", other.Name, other.Seat).with("seat", int(other.Seat))
		}
	}
	if slices.Contains(posing, like) || seatNumber.MatchString(like) {
		return refuse(OutOfBounds, "%q would be taken for something else at the table; choose another name.", name)
	}
	return nil
}

// Printable is a text of several lines without what would move a terminal's cursor, or turn the direction
// of what follows.
func Printable(text string) string { return printable(text, true) }

// printable is a text without what would move a terminal's cursor, or turn the
// direction of what follows. Lines stay, where there may be several.
func printable(text string, lines bool) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r == '\n' && lines, r == '\t' && lines:
			return r
		case unicode.IsControl(r), r == 0x200e, r == 0x200f, r == 0x061c, r >= 0x202a && r <= 0x202e, r >= 0x2066 && r <= 0x2069:
			return -1
		}
		return r
	}, text)
}
