// Package steps is the small language in which actions are written and the
// log speaks: one step a line, words instead of nesting.
//
//	shuffle weather
//	draw 2 from weather to my hand
//	move "Spring tide" from my hand to sky
//	flip top of weather
//
// Read turns text into an action, Say turns what happened back into text. The
// grammar stands in docs/steps.md.
package steps

import (
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Error is a mistake in a text: where it is, and what was expected there.
type Error struct {
	Line   int    `json:"line"`   // from 1
	Column int    `json:"column"` // from 1, in characters
	Text   string `json:"text"`
}

func (e *Error) Error() string {
	return fmt.Sprintf("line %d, column %d: %s", e.Line, e.Column, e.Text)
}

// word is one word of a line: bare, or quoted so that it may hold spaces.
type word struct {
	text   string
	quoted bool
	column int
}

// is reports whether the word is one of the language's own.
func (w word) is(keywords ...string) bool {
	for _, k := range keywords {
		if !w.quoted && strings.EqualFold(w.text, k) {
			return true
		}
	}
	return false
}

// signs are words by themselves, with or without space around them.
const signs = ",()=≠!<>≤≥"

// split cuts a line into words. A # begins a comment, a comma separates.
func split(line string, number int) ([]word, error) {
	var words []word
	column := 0
	for rest := line; rest != ""; {
		r, size := utf8.DecodeRuneInString(rest)
		column++
		switch {
		case r == '#':
			return words, nil
		case unicode.IsSpace(r):
			rest = rest[size:]
		case strings.ContainsRune(signs, r):
			sign := rest[:size]
			if next := rest[size:]; strings.HasPrefix(next, "=") && strings.ContainsRune("<>!", r) {
				sign += "="
			}
			words = append(words, word{text: sign, column: column})
			column += utf8.RuneCountInString(sign) - 1
			rest = rest[len(sign):]
		case r == '"':
			text, after, closed := strings.Cut(rest[1:], `"`)
			if !closed {
				return nil, &Error{number, column, `the quote opened here is not closed; end the name with "`}
			}
			words = append(words, word{text, true, column})
			column += utf8.RuneCountInString(text) + 1
			rest = after
		default:
			end := strings.IndexFunc(rest, func(r rune) bool { return unicode.IsSpace(r) || strings.ContainsRune(signs+`"#`, r) })
			if end < 0 {
				end = len(rest)
			}
			words = append(words, word{rest[:end], false, column})
			column += utf8.RuneCountInString(rest[:end]) - 1
			rest = rest[end:]
		}
	}
	return words, nil
}

// keywords are the words that a name must be quoted to use.
type keywords map[string]bool

// quote writes a name so that Read takes it for one.
func (k keywords) quote(name string) string {
	bare := name != "" && !k[strings.ToLower(name)] && !unicode.IsDigit(rune(name[0])) &&
		strings.IndexFunc(name, func(r rune) bool { return unicode.IsSpace(r) || strings.ContainsRune(signs+`"#`, r) }) < 0
	if bare {
		return name
	}
	return `"` + strings.ReplaceAll(name, `"`, "'") + `"`
}
