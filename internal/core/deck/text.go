package deck

import (
	"fmt"
	"slices"
	"strings"
	"unicode"

	"github.com/go-text/typesetting/di"
	"github.com/go-text/typesetting/language"
	"github.com/go-text/typesetting/segmenter"
	"github.com/go-text/typesetting/shaping"
	"golang.org/x/image/math/fixed"
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
// sign that is meant as it is. Blanks that follow each other are one. missing is the name of an icon that
// there is not, if there is one.
func paragraphs(text string, base style, icons map[string]string) (all []paragraph, missing string) {
	all = []paragraph{{icons: map[int]string{}}}
	signs, missing := signsOf(text, icons)
	marks := marksAmong(signs)
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
	for i, s := range signs {
		switch {
		case marks[i] && s.stars == 2:
			now.bold = !now.bold
		case marks[i]:
			now.italic = !now.italic
		case s.stars > 0:
			for range s.stars {
				put('*', "")
			}
		case s.icon != "":
			put(iconPlace, s.icon)
		case s.letter == '\n':
			all, blank = append(all, paragraph{icons: map[int]string{}}), false
		case s.letter == ' ':
			blank = true
		default:
			put(s.letter, "")
		}
	}
	return all, missing
}

// withFonts gives each letter a font that has it. Marks and signs without a form of their own stay with
// the letter before them, and the signs of one emoji stay together. It says which letters none has, and which emoji
// no font draws as one picture.
func (a *Artist) withFonts(all []paragraph, files []string, said string) (lacking []string, err error) {
	for _, file := range files {
		if _, err := a.font(style{family: file}); err != nil {
			return nil, err
		}
	}
	lacks := func(what []rune) {
		if text := string(what); !slices.Contains(lacking, text) && len(lacking) < mostLacking {
			lacking = append(lacking, text)
		}
	}
	var cut segmenter.Segmenter
	for _, p := range all {
		for _, asked := range p.styles {
			if _, err := a.font(asked); err != nil {
				return nil, err
			}
		}
		cut.Init(p.letters)
		for at := cut.GraphemeIterator(); at.Next(); {
			from, to := at.Grapheme().Offset, at.Grapheme().Offset+len(at.Grapheme().Text)
			if _, icon := p.icons[from]; icon {
				p.styles[from] = style{}
				continue
			}
			cluster := p.letters[from:to]
			if isEmojiOfSeveral(cluster) {
				s, whole := a.emojiFont(cluster, p.styles[from], files)
				for i := range cluster {
					p.styles[from+i] = s
				}
				if !whole {
					lacks(cluster)
				}
				continue
			}
			for i, letter := range cluster {
				if i > 0 && (unicode.In(letter, unicode.Cf, unicode.Variation_Selector) || unicode.In(letter, unicode.Mn, unicode.Mc, unicode.Me) && a.has(p.styles[from+i-1], letter)) {
					p.styles[from+i] = p.styles[from+i-1]
					continue
				}
				s, found := a.fontOf(letter, p.styles[from+i], files, said)
				if p.styles[from+i] = s; !found && !unicode.Is(unicode.Cf, letter) {
					lacks([]rune{letter})
				}
			}
		}
	}
	return lacking, nil
}

// mostLacking is how many different letters are noted that no font has.
const mostLacking = 100

// isEmojiOfSeveral is whether signs that belong together are one picture that is written with several: joined, keycaps,
// flags, and those with a tone of skin.
func isEmojiOfSeveral(cluster []rune) bool {
	return len(cluster) > 1 && slices.ContainsFunc(cluster, func(r rune) bool {
		return r == zeroWidthJoiner || r == 0xfe0f || r == 0x20e3 || r >= 0x1f1e6 && r <= 0x1f1ff || r >= 0x1f3fb && r <= 0x1f3ff || r >= 0xe0020 && r <= 0xe007f
	}) && !unicode.IsLetter(cluster[0])
}

const zeroWidthJoiner = 0x200d

// emojiFont is a font that draws all signs of an emoji as one picture; whole is false if there is none.
func (a *Artist) emojiFont(cluster []rune, asked style, files []string) (font style, whole bool) {
	all := []style{}
	for _, file := range files {
		all = append(all, style{family: file})
	}
	for _, file := range candidates(cluster[0], asked, "") {
		all = append(all, style{family: shipped + file})
	}
	all = append(all, style{family: shipped + emojiFile})
	for _, s := range all {
		if a.has(s, cluster[0]) && a.drawsAsOne(s, cluster) {
			return s, true
		}
	}
	s, _ := a.fontOf(cluster[0], asked, files, "")
	return s, false
}

// drawsAsOne is whether a font has one picture for several signs.
func (a *Artist) drawsAsOne(s style, cluster []rune) bool {
	parsed, err := a.font(s)
	if err != nil {
		return false
	}
	setter, back := a.setter()
	defer back()
	form := setter.shaper.Shape(shaping.Input{
		Text: cluster, RunEnd: len(cluster), Direction: di.DirectionLTR, Face: setter.face(parsed), Size: fixed.I(em), Script: language.Common, Language: language.NewLanguage("en"),
	})
	seen := 0
	for _, g := range form.Glyphs {
		if g.GlyphID == 0 {
			return false
		}
		if g.Advance != 0 || g.Width != 0 {
			seen++
		}
	}
	return seen == 1
}

// lettersOf lists letters as a person can look for them.
func lettersOf(letters []string) string {
	var all []string
	for _, letter := range letters[:min(len(letters), 5)] {
		var numbers []string
		for _, r := range letter {
			numbers = append(numbers, fmt.Sprintf("U+%04X", r))
		}
		all = append(all, fmt.Sprintf("%s (%s)", letter, strings.Join(numbers, " ")))
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
