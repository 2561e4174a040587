package deck

import (
	"fmt"
	"slices"
	"strings"
	"unicode"
)

// paragraph is text up to a line break: each letter with its style, and the icons that stand in it.
type paragraph struct {
	letters []rune
	styles  []style
	icons   map[int]string // files, by where a letter holds their place
}

// iconPlace stands in a paragraph's letters for an icon: a sign that belongs to the word beside it, and
// to no script.
const iconPlace = '□'

// paragraphs reads text with marks: **bold**, *italic*, :icon:, a line break, and a backslash before a
// sign that is meant as it is. Blanks that follow each other are one.
func paragraphs(text string, base style, icons map[string]string) []paragraph {
	all := []paragraph{{icons: map[int]string{}}}
	now, blank := base, false
	put := func(letter rune, icon string) {
		p := &all[len(all)-1]
		if blank && len(p.letters) > 0 {
			p.letters, p.styles = append(p.letters, ' '), append(p.styles, now)
		}
		blank = false
		if icon != "" {
			p.icons[len(p.letters)] = icon
		}
		p.letters, p.styles = append(p.letters, letter), append(p.styles, now)
	}
	for rest := []rune(text); len(rest) > 0; {
		switch {
		case rest[0] == '\\' && len(rest) > 1:
			put(rest[1], "")
			rest = rest[2:]
		case rest[0] == '*' && len(rest) > 1 && rest[1] == '*':
			now.bold, rest = !now.bold, rest[2:]
		case rest[0] == '*':
			now.italic, rest = !now.italic, rest[1:]
		case rest[0] == ':' && iconAt(rest, icons) != "":
			name := iconAt(rest, icons)
			put(iconPlace, icons[name])
			rest = rest[len([]rune(name))+2:]
		case rest[0] == '\n':
			all, blank, rest = append(all, paragraph{icons: map[int]string{}}), false, rest[1:]
		case rest[0] == ' ' || rest[0] == '\t' || rest[0] == '\r':
			blank, rest = true, rest[1:]
		default:
			if !unicode.IsControl(rest[0]) {
				put(rest[0], "")
			}
			rest = rest[1:]
		}
	}
	return all
}

// iconAt is the name of the icon that a text begins with, as :name:.
func iconAt(text []rune, icons map[string]string) string {
	end := slices.Index(text[1:], ':')
	if end < 0 {
		return ""
	}
	name := string(text[1 : end+1])
	if _, known := icons[name]; known {
		return name
	}
	return ""
}

// withFonts gives each letter a font that has it. Marks and signs without a form of their own stay with
// the letter before them. It says which letters none has.
func (a *Artist) withFonts(all []paragraph, files []string, said string) (lacking []rune, err error) {
	for _, file := range files {
		if _, err := a.font(style{family: file}); err != nil {
			return nil, err
		}
	}
	for _, p := range all {
		for i, letter := range p.letters {
			asked := p.styles[i]
			if _, err := a.font(asked); err != nil {
				return nil, err
			}
			if _, icon := p.icons[i]; icon {
				p.styles[i] = style{}
				continue
			}
			if i > 0 && unicode.In(letter, unicode.Mn, unicode.Mc, unicode.Me, unicode.Cf, unicode.Variation_Selector) {
				p.styles[i] = p.styles[i-1]
				continue
			}
			s, found := a.fontOf(letter, asked, files, said)
			if p.styles[i] = s; !found && !slices.Contains(lacking, letter) && !unicode.Is(unicode.Cf, letter) {
				lacking = append(lacking, letter)
			}
		}
	}
	return lacking, nil
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
