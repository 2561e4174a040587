package deck_test

import (
	"image"
	"image/color"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/deck"
)

// shippedFonts are those that "make build" brings.
func shippedFonts(t testing.TB) *deck.Fonts {
	const folder = "../../../console/public/fonts/"
	_, err := os.Stat(folder + "NotoSans-Regular.ttf")
	require.NoError(t, err, "the fonts are not here yet: make build")
	return &deck.Fonts{Read: func(name string) ([]byte, error) { return os.ReadFile(folder + name) }}
}

// written draws text with the fonts that ship.
func written(t *testing.T, box deck.Box, text string) deck.Drawn {
	a := artist("")
	a.Shipped = shippedFonts(t)
	box.Text = "{text}"
	l := &deck.Layout{Size: []int{400, 200}, Front: []deck.Box{box}}
	require.Empty(t, l.Mistakes())
	d, err := a.Draw(l, l.Front, map[string]string{"text": text})
	require.NoError(t, err)
	return d
}

func TestTextOfManyScriptsIsDrawn(t *testing.T) {
	box := deck.Box{At: []float64{10, 10, 380, 180}, Height: 30}
	for script, text := range map[string]string{
		"Polish": "Zażółć gęślą jaźń", "Vietnamese": "Tiếng Việt", "Greek": "Ελλάς, ᾳ̃", "Cyrillic": "Чайка над болотом",
		"Arabic": "الطقس في المستنقع", "Hebrew": "מזג האוויר בביצה", "Devanagari": "दलदल का मौसम", "Thai": "อากาศในบึง",
		"Japanese": "潮が満ちる。", "Chinese": "沼泽的天气", "Korean": "늪의 날씨", "symbols": "→ ☂ ♠ ⚑ ✦", "emoji": "🦆🌧️👩‍🌾",
	} {
		d := written(t, box, text)
		assert.Empty(t, d.Problems, script)
		assert.Positive(t, inked(d.Picture, d.Picture.Rect), script)
	}
	assert.Contains(t, written(t, box, "𓀀").Problems[0], "no font here has 𓀀 (U+13000)", "what nobody can draw is told")
}

// An emoji that is written with several signs is one picture, or it is told that no font has it; an icon may have one as
// its name.
func TestAnEmojiOfSeveralSignsIsOnePicture(t *testing.T) {
	box := deck.Box{At: []float64{10, 10, 380, 180}, Height: 60}
	wide := func(p *image.NRGBA) (right int) {
		for x := range p.Bounds().Dx() {
			if inked(p, image.Rect(x, 0, x+1, p.Bounds().Dy())) > 0 {
				right = x
			}
		}
		return right
	}
	one := wide(written(t, box, "🦆").Picture)
	for _, emoji := range []string{"1️⃣", "👩‍🌾", "👍🏽", "🌧️", "✈️", "👨‍👩‍👧", "🏳️‍🌈", "🇫🇮"} {
		d := written(t, box, emoji)
		assert.Empty(t, d.Problems, emoji)
		assert.Less(t, wide(d.Picture), one*14/10, emoji)
		assert.Positive(t, inked(d.Picture, d.Picture.Rect), emoji)
	}
	told := written(t, box, "🦆\u200d🌧️").Problems // there is no such picture
	require.Len(t, told, 1)
	assert.Contains(t, told[0], "no font here has 🦆\u200d🌧️ (U+1F986 U+200D U+1F327 U+FE0F)")

	a := artist("")
	a.Shipped = shippedFonts(t)
	l := &deck.Layout{Size: []int{400, 200}, Front: []deck.Box{box}, Icons: map[string]string{"1️⃣": "red.png"}}
	l.Front[0].Text = "1️⃣"
	require.Empty(t, l.Mistakes())
	d, err := a.Draw(l, l.Front, nil)
	require.NoError(t, err)
	assert.Empty(t, d.Problems)
	r, g, _, _ := d.Picture.At(40, 40).RGBA()
	assert.True(t, r > 0xf000 && g < 0x1000, "the icon stands there")
}

// What is bold takes more ink, in every script.
func TestBoldIsBoldInEveryScript(t *testing.T) {
	box := deck.Box{At: []float64{10, 10, 380, 180}, Height: 60}
	for script, text := range map[string]string{
		"Latin": "Ebbe", "Greek": "Ελλάς", "Arabic": "الطقس", "Hebrew": "מזג", "Devanagari": "दलदल", "Thai": "อากาศ",
		"kana": "しおがみちる。", "Japanese": "潮が満ちる", "Chinese": "沼泽的天气", "Korean": "늪의 날씨", "signs": "「」。、",
	} {
		plain, bold := written(t, box, text).Picture, written(t, box, "**"+text+"**").Picture
		assert.Greater(t, inked(bold, bold.Rect)*100, inked(plain, plain.Rect)*106, script)
	}
}

// ends says where the ink of a picture begins and ends, from left to right.
func ends(p *image.NRGBA) (first, last int) {
	first = -1
	for x := range p.Rect.Dx() {
		if inked(p, image.Rect(x, 0, x+1, p.Rect.Dy())) > 0 {
			if last = x; first < 0 {
				first = x
			}
		}
	}
	return first, last
}

// What is written from right to left begins on the right, its letters are joined, and words of
// another script within it run their own way.
func TestTextFromRightToLeft(t *testing.T) {
	box := deck.Box{At: []float64{0, 0, 400, 60}, Height: 30}
	_, last := ends(written(t, box, "ببب").Picture)
	assert.Greater(t, last, 380)
	first, _ := ends(written(t, box, "bbb").Picture)
	assert.Less(t, first, 20)
	box.Align = "left"
	first, _ = ends(written(t, box, "ببب").Picture)
	assert.Less(t, first, 20, "unless it is said otherwise")

	for _, letter := range "بتثجحخسشصضعغفقكلني" {
		three := strings.Repeat(string(letter), 3)
		joinedFirst, joinedLast := ends(written(t, box, three).Picture)
		partedFirst, partedLast := ends(written(t, box, strings.Join(strings.Split(three, ""), "\u200c")).Picture)
		assert.Less(t, joinedLast-joinedFirst, partedLast-partedFirst, "joined letters take less room than those that stand alone: %c", letter)
	}

	// The icon comes first and so stands on the right; in a line of Latin letters on the left.
	icon := func(text string) int {
		a := artist("")
		a.Shipped = shippedFonts(t)
		l := &deck.Layout{Size: []int{400, 60}, Icons: map[string]string{"dot": "red.png"}, Front: []deck.Box{{At: []float64{0, 0, 400, 60}, Height: 30, Text: text}}}
		d, err := a.Draw(l, l.Front, nil)
		require.NoError(t, err)
		for x := range 400 {
			if c := d.Picture.NRGBAAt(x, 18); c.R > 200 && c.G < 40 {
				return x
			}
		}
		return -1
	}
	assert.Greater(t, icon("بب :dot: بب"), 300)
	assert.Less(t, icon(":dot: bb بب"), 20)
}

func TestABoxIsDrawnOnlyWhereItsConditionHolds(t *testing.T) {
	for condition, want := range map[string]bool{
		"cost": true, "{cost}": true, "not cost": false, "curse": false, "not curse": true, "kind = spell": true, "kind = Trap": false, "not kind=trap": true, "other": false,
	} {
		d := drawn(t, []deck.Box{{At: []float64{0, 0, 50, 50}, Fill: "black", If: condition}}, map[string]string{"cost": "3", "curse": " ", "kind": "Spell"})
		assert.Equal(t, want, inked(d.Picture, d.Picture.Rect) > 0, condition)
	}
	l := &deck.Layout{Front: []deck.Box{{If: "not kind = trap", Fill: "{ink}"}}}
	assert.Equal(t, []string{"ink", "kind"}, l.Fields())
}

func TestAPictureMayBeMissing(t *testing.T) {
	box := deck.Box{At: []float64{0, 0, 50, 50}, Picture: "{art}.png", Optional: true}
	assert.Zero(t, inked(drawn(t, []deck.Box{box}, map[string]string{"art": "none"}).Picture, image.Rect(0, 0, 50, 50)))
	l := &deck.Layout{Size: []int{100, 100}, Front: []deck.Box{box}}
	a := artist("")
	a.Hash = func(file string) (string, error) { return "", os.ErrNotExist }
	_, err := a.Mark(l, l.Front, map[string]string{"art": "none"})
	require.NoError(t, err)
	l.Front[0].Optional = false
	_, err = a.Mark(l, l.Front, map[string]string{"art": "none"})
	require.Error(t, err)
	l.Front[0].If = "art"
	_, err = a.Mark(l, l.Front, nil)
	require.NoError(t, err, "nothing needs it where the box is not drawn")
}

func TestABoxIsTurnedAndSeenThrough(t *testing.T) {
	half := 0.5
	d := drawn(t, []deck.Box{{At: []float64{50, 100, 40, 120}, Fill: "#000000", Opacity: &half}}, nil)
	assert.InDelta(t, 128, d.Picture.NRGBAAt(60, 150).R, 2)

	// A quarter turn: the left half of what lies is the upper half of what stands.
	d = drawn(t, []deck.Box{{At: []float64{50, 100, 40, 120}, Picture: "red.png", Fit: "fill", Turn: 90}}, nil)
	assert.Equal(t, color.NRGBA{250, 0, 0, 255}, d.Picture.NRGBAAt(70, 110))
	upright := drawn(t, []deck.Box{{At: []float64{0, 0, 120, 40}, Text: "iW", Height: 30}}, nil).Picture
	turned := drawn(t, []deck.Box{{At: []float64{50, 100, 40, 120}, Text: "iW", Height: 30, Turn: 90}}, nil).Picture
	for y := range 40 {
		for x := range 120 {
			require.InDelta(t, upright.NRGBAAt(x, y).R, turned.NRGBAAt(50+39-y, 100+x).R, 2, "%d, %d", x, y)
		}
	}
	d = drawn(t, []deck.Box{{At: []float64{50, 100, 100, 20}, Fill: "black", Turn: 45}}, nil)
	assert.Less(t, d.Picture.NRGBAAt(70, 80).R, uint8(80), "up to the left")
	assert.Equal(t, uint8(255), d.Picture.NRGBAAt(130, 80).R)
}

func TestLettersHaveOutlineAndShadow(t *testing.T) {
	box := deck.Box{At: []float64{10, 10, 180, 80}, Text: "Reed", Height: 40, Colour: "white", Outline: &deck.Edge{Colour: "black", Wide: 3}}
	plain := drawn(t, []deck.Box{{At: box.At, Text: "Reed", Height: 40, Colour: "white"}}, nil)
	assert.Zero(t, inked(plain.Picture, plain.Picture.Rect), "white on white")
	lined := drawn(t, []deck.Box{box}, nil)
	assert.Positive(t, inked(lined.Picture, lined.Picture.Rect))
	box.Outline, box.Shadow = nil, &deck.Edge{Colour: "black", Wide: 4}
	assert.Positive(t, inked(drawn(t, []deck.Box{box}, nil).Picture, lined.Picture.Rect))
	box.Shadow.Wide = 100
	assert.Contains(t, (&deck.Layout{Size: []int{200, 200}, Front: []deck.Box{box}}).Mistakes(), "front[0].shadow")
}

func TestAQRCodeIsDrawn(t *testing.T) {
	d := drawn(t, []deck.Box{{At: []float64{10, 10, 100, 100}, QR: "https://table.example/{who}"}}, map[string]string{"who": "reed"})
	assert.Greater(t, inked(d.Picture, image.Rect(10, 10, 110, 110)), 2000)
	assert.Equal(t, inked(d.Picture, d.Picture.Rect), inked(d.Picture, image.Rect(10, 10, 110, 110)))
	l := &deck.Layout{Size: []int{100, 100}, Front: []deck.Box{{At: []float64{0, 0, 20, 20}, QR: "https://table.example/"}}}
	_, err := artist("").Draw(l, l.Front, nil)
	assert.ErrorContains(t, err, "the QR code needs a box of at least")
}

func TestALayoutIsBasedOnAnother(t *testing.T) {
	base := deck.Layout{Size: []int{100, 140}, Fonts: []string{"a.ttf"}, Icons: map[string]string{"dot": "red.png"}, Front: []deck.Box{{Name: "paper", Fill: "white"}, {Name: "title", Text: "{title}"}}}
	own := deck.Layout{BasedOn: "base", Icons: map[string]string{"ring": "ring.png"}, Front: []deck.Box{{Name: "paper", Fill: "teal"}, {Text: "more"}}}.On(base)
	assert.Equal(t, base.Size, own.Size)
	assert.Equal(t, []deck.Box{{Name: "paper", Fill: "teal"}, {Name: "title", Text: "{title}"}, {Text: "more"}}, own.Front)
	assert.Equal(t, map[string]string{"dot": "red.png", "ring": "ring.png"}, own.Icons)
	assert.Len(t, base.Front, 2)
	assert.Equal(t, "white", base.Front[0].Fill)
}

func TestIconsMayBeSVG(t *testing.T) {
	p, err := deck.ReadSVG([]byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 20 10"><rect x="0" y="0" width="10" height="10" fill="#ff0000"/></svg>`))
	require.NoError(t, err)
	assert.Equal(t, image.Rect(0, 0, 512, 256), p.Bounds())
	r, _, _, a := p.At(100, 100).RGBA()
	assert.Equal(t, []uint32{0xffff, 0xffff}, []uint32{r, a})
	_, _, _, a = p.At(400, 100).RGBA()
	assert.Zero(t, a)
	for _, bad := range []string{"", "<svg>", "no svg", `<svg viewBox="0 0 0 5"/>`, `<svg viewBox="0 0 1 1000"/>`,
		`<svg viewBox="0 0 20 10"><g id="a"><use href="#a"/></g></svg>`} {
		_, err := deck.ReadSVG([]byte(bad))
		assert.ErrorContains(t, err, "export it as a PNG", bad)
	}
}

func FuzzReadSVG(f *testing.F) {
	f.Add([]byte(`<svg viewBox="0 0 20 10"><path d="M0 0L1e9 1e9C1 2 3 4 5 6z" stroke="red" stroke-dasharray="0.001"/></svg>`))
	f.Add([]byte(`<svg viewBox="0 0 20 10"><defs><g id="a"><use href="#a"/></g></defs><use href="#a"/><circle r="5" transform="scale(1e9)"/></svg>`))
	f.Fuzz(func(t *testing.T, text []byte) {
		p, err := deck.ReadSVG(text)
		if err == nil {
			assert.LessOrEqual(t, max(p.Bounds().Dx(), p.Bounds().Dy()), 512)
		}
	})
}

// A line that breaks anywhere else than in a wrapped text of the same words is none.
func TestWordsOfSpacelessScriptsBreakWhereTheyMay(t *testing.T) {
	box := deck.Box{At: []float64{10, 10, 130, 180}, Height: 20, Least: 20}
	assert.Empty(t, written(t, box, strings.Repeat("潮が満ちる。", 4)).Problems)
	assert.Empty(t, written(t, box, strings.Repeat("늪의 날씨 ", 6)).Problems)
	assert.NotEmpty(t, written(t, box, strings.Repeat("longword", 4)).Problems)
}
