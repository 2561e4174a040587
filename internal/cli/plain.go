package cli

import (
	"bytes"
	"io"
	"regexp"
	"unicode/utf8"
)

// plain is a writer to a terminal that lets nothing through which people could have
// put into a name or what they say to move the cursor, hide text or turn its direction:
// only texts, and the colours that the command line itself uses.
type plain struct {
	to  io.Writer
	raw *bool // as JSON everything is escaped already
}

// colour begins a text with a colour or weight; what blinks, turns round or hides is
// not among them.
var colour = regexp.MustCompile(`^\x1b\[(?:[0-4]|22|3[0-7]|39|9[0-7]|[34]8;[25](?:;\d{1,3}){1,3})?(?:;(?:[0-4]|22|3[0-7]|39|9[0-7]|[34]8;[25](?:;\d{1,3}){1,3}))*m`)

func (p plain) Write(text []byte) (int, error) {
	if *p.raw {
		return p.to.Write(text)
	}
	var out bytes.Buffer
	for rest := text; len(rest) > 0; {
		if styled := colour.Find(rest); styled != nil {
			out.Write(styled)
			rest = rest[len(styled):]
			continue
		}
		r, size := utf8.DecodeRune(rest)
		if !turnsOrMoves(r) {
			out.Write(rest[:size])
		}
		rest = rest[size:]
	}
	if _, err := p.to.Write(out.Bytes()); err != nil {
		return 0, err
	}
	return len(text), nil
}

// turnsOrMoves reports whether a character controls a terminal, or the direction of
// what follows.
func turnsOrMoves(r rune) bool {
	switch {
	case r == '\n', r == '\t':
		return false
	case r < 0x20, r >= 0x7f && r < 0xa0:
		return true
	case r == 0x200e, r == 0x200f, r == 0x061c, r >= 0x202a && r <= 0x202e, r >= 0x2066 && r <= 0x2069:
		return true
	}
	return false
}
