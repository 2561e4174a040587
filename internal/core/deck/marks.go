package deck

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"
	"unicode"

	"damselfly.example/damselfly/internal/core/table"
)

// sign is one thing that stands in a text: a letter, a blank, a line break, an icon, or one star or two, which may be a mark.
type sign struct {
	letter rune
	icon   string // its file
	stars  int    // 1 or 2
}

func (s sign) blank() bool { return s.letter == ' ' || s.letter == '\n' }

// word is whether a sign is a letter or a digit of a script that has blanks between its words.
func (s sign) word() bool {
	return (unicode.IsLetter(s.letter) || unicode.IsDigit(s.letter)) &&
		!unicode.In(s.letter, unicode.Han, unicode.Hiragana, unicode.Katakana, unicode.Thai, unicode.Lao, unicode.Khmer, unicode.Myanmar)
}

// signsOf parts a text into what stands in it. A backslash stands before a sign that is meant as it is. missing is the
// first name that looks like an icon's and is none.
func signsOf(text string, icons map[string]string) (signs []sign, missing string) {
	var emoji []string // names that stand in the text as they are, the longest first
	for name := range icons {
		if name != "" && strings.Trim(name, wordSigns) != "" && !strings.ContainsAny(name, " \n:*\\") {
			emoji = append(emoji, name)
		}
	}
	slices.SortFunc(emoji, func(a, b string) int { return cmp.Or(len(b)-len(a), cmp.Compare(a, b)) })
	for text != "" {
		letter, rest := cutLetter(text)
		if i := slices.IndexFunc(emoji, func(name string) bool { return strings.HasPrefix(text, name) }); i >= 0 {
			signs, text = append(signs, sign{icon: icons[emoji[i]]}), strings.TrimPrefix(text[len(emoji[i]):], "\ufe0f")
			continue
		}
		switch letter {
		case '\\':
			if rest == "" {
				signs = append(signs, sign{letter: letter})
				break
			}
			letter, rest = cutLetter(rest)
			signs = append(signs, sign{letter: letter})
		case '*':
			stars := 1
			if strings.HasPrefix(rest, "*") {
				stars, rest = 2, rest[1:]
			}
			signs = append(signs, sign{stars: stars})
		case ':':
			name, after, closed := strings.Cut(rest[:min(len(rest), maxIconName)], ":")
			file, known := icons[name]
			if closed && known {
				signs, rest = append(signs, sign{icon: file}), rest[len(rest[:min(len(rest), maxIconName)])-len(after):]
				break
			}
			if before := len(signs) - 1; missing == "" && closed && iconLike(name) && (before < 0 || !signs[before].word()) {
				missing = name
			}
			signs = append(signs, sign{letter: ':'})
		case '\t', '\r':
			signs = append(signs, sign{letter: ' '})
		default:
			if letter == '\n' || !unicode.IsControl(letter) {
				signs = append(signs, sign{letter: letter})
			}
		}
		text = rest
	}
	return signs, missing
}

// maxIconName is how long the name of an icon and the colon behind it are at most, in bytes.
const maxIconName = 200

const wordSigns = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_"

// iconLike is whether a text between two colons was meant for an icon: not the minutes of 10:30:00.
func iconLike(name string) bool {
	return len(name) > 1 && strings.Trim(name, wordSigns) == "" && strings.Trim(name[:1], wordSigns[:52]) == ""
}

func cutLetter(text string) (letter rune, rest string) {
	for i, r := range text {
		if i > 0 {
			return letter, text[i:]
		}
		letter = r
	}
	return letter, ""
}

// marksAmong says which stars are marks: those that open, and those that close again what is open. Stars open before a sign,
// and not behind a letter or a digit, as in 2*d6; they close behind a sign. All others are drawn as stars.
func marksAmong(signs []sign) []bool {
	type run struct {
		from, to      int // stars that stand together
		opens, closes bool
	}
	var runs []run
	last := [3]int{-1, -1, -1} // the last run in which one star, or two, may close
	for i := 0; i < len(signs); i++ {
		if signs[i].stars == 0 {
			continue
		}
		r := run{from: i, to: i + 1}
		for r.to < len(signs) && signs[r.to].stars > 0 {
			r.to++
		}
		r.closes = i > 0 && !signs[i-1].blank()
		r.opens = r.to < len(signs) && !signs[r.to].blank() && (i == 0 || !signs[i-1].word())
		for _, s := range signs[r.from:r.to] {
			if r.closes {
				last[s.stars] = len(runs)
			}
		}
		runs, i = append(runs, r), r.to
	}
	marks := make([]bool, len(signs))
	open := [3]int{-1, -1, -1} // in which run
	for k, r := range runs {
		for i := r.from; i < r.to; i++ {
			n := signs[i].stars
			switch {
			case r.closes && open[n] >= 0 && open[n] < k:
				marks[i], open[n] = true, -1
			case r.opens && open[n] < 0 && last[n] > k:
				marks[i], open[n] = true, k
			}
		}
	}
	return marks
}

// noIcon says that a text has an icon which its layout has not. Where a layout names none, colons are signs as others.
func noIcon(name string, icons map[string]string) string {
	if name == "" || len(icons) == 0 {
		return ""
	}
	names := slices.Sorted(maps.Keys(icons))
	meant := table.DidYouMean(name, names)
	if meant == "" {
		meant = "; the layout has " + strings.Join(names[:min(len(names), 8)], ", ")
	}
	return fmt.Sprintf("there is no icon :%s:%s", name, meant)
}
