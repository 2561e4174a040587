package deck

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Stars are marks where they enclose something, and stay stars elsewhere. Here [ ] stand around what is bold, / around what
// is italic; a blank is set as the letter behind it.
func TestStarsThatEncloseNothingStayStars(t *testing.T) {
	for text, want := range map[string]string{
		"**wind** and *tide*":                   "[wind] and/ tide/",
		"Cost 3*. Roll 2*d6 and 3*d8":           "Cost 3*. Roll 2*d6 and 3*d8",
		"a * b":                                 "a * b",
		"5* hotel, 4* inn":                      "5* hotel, 4* inn",
		"** ":                                   "**",
		"****":                                  "****",
		"(****)":                                "(****)",
		"**open":                                "**open",
		"***both*** one":                        "[/both/] one",
		"*wind*s":                               "/wind/s",
		`\*wind*`:                               "*wind*",
		"** bold **":                            "** bold **",
		"これは*強調*です":                             "これは/強調/です",
		"**two\nlines**":                        "[two\nlines]",
		"*:dot:* x":                             "/□/ x",
		"*💧* x":                                 "/□/ x",
		"Roll (*d6* or **d8**), then 2*3 and *": "Roll (/d6/ or[ d8]), then 2*3 and *",
	} {
		all, missing := paragraphs(text, style{}, map[string]string{"dot": "dot.png", "💧": "drop.png"})
		assert.Empty(t, missing)
		assert.Equal(t, want, marked(all), text)
	}
}

// marked writes paragraphs with signs where their style changes.
func marked(all []paragraph) string {
	var out strings.Builder
	was := style{}
	change := func(now style) {
		for _, c := range []struct {
			changes bool
			sign    string
		}{{was.italic && !now.italic, "/"}, {was.bold && !now.bold, "]"}, {!was.bold && now.bold, "["}, {!was.italic && now.italic, "/"}} {
			if c.changes {
				out.WriteString(c.sign)
			}
		}
		was = now
	}
	for i, p := range all {
		if i > 0 {
			out.WriteByte('\n')
		}
		for j, letter := range p.letters {
			change(p.styles[j])
			out.WriteRune(letter)
		}
	}
	change(style{})
	return out.String()
}
