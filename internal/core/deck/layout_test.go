package deck_test

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"image"
	"image/color"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/font/gofont/gomono"

	"damselfly.example/damselfly/internal/core/deck"
)

// artist draws with two pictures: "red.png", whose hash is version, and nothing else.
func artist(version string) *deck.Artist {
	return &deck.Artist{
		Picture: func(file string) (image.Image, error) {
			if file != "red.png" {
				return nil, errors.New(file + ": this file is not in the kit")
			}
			return painted(40, 20, color.NRGBA{250, 0, 0, 255}), nil
		},
		Hash: func(file string) (string, error) { return file + version, nil },
		Font: func(file string) ([]byte, error) {
			switch file {
			case "own.ttf":
				return gomono.TTF, nil
			case "bad.ttf":
				return gomono.TTF[:200], nil
			}
			return nil, errors.New(file + ": this file is not in the kit")
		},
	}
}

// inked counts pixels in a box that are neither white nor the paper's colour.
func inked(p *image.NRGBA, r image.Rectangle) (n int) {
	for y := r.Min.Y; y < r.Max.Y; y++ {
		for x := r.Min.X; x < r.Max.X; x++ {
			if c := p.NRGBAAt(x, y); c.R < 200 && c.G < 200 {
				n++
			}
		}
	}
	return n
}

func drawn(t *testing.T, boxes []deck.Box, fields map[string]string) deck.Drawn {
	l := &deck.Layout{Size: []int{200, 300}, Front: boxes, Icons: map[string]string{"dot": "red.png"}}
	require.Empty(t, l.Mistakes())
	d, err := artist("").Draw(l, l.Front, fields)
	require.NoError(t, err)
	return d
}

// A font of the kit draws; what no font has is told with its letters, once each.
func TestFontsOfTheKitDrawAndMissingLettersAreTold(t *testing.T) {
	box := deck.Box{At: []float64{10, 10, 180, 80}, Text: "iiiiii", Height: 20}
	narrow := drawn(t, []deck.Box{box}, nil)
	box.Font = "own.ttf"
	wide := drawn(t, []deck.Box{box}, nil)
	assert.NotEqual(t, narrow.Picture.Pix, wide.Picture.Pix)
	box.Font, box.Text = "plain", "漁 {who} 漁港 Żółw"
	assert.Equal(t, []string{"box 1: no font here has 漁 (U+6F01), 港 (U+6E2F); put one that has into the kit, and name it in the layout's fonts"},
		drawn(t, []deck.Box{box}, map[string]string{"who": "Ελένη"}).Problems)
	for _, l := range []*deck.Layout{{Fonts: []string{"bad.ttf"}}, {Fonts: []string{"none.otf"}}} {
		l.Size, l.Front = []int{100, 100}, []deck.Box{{At: []float64{0, 0, 90, 90}, Text: "a", Height: 20}}
		_, err := artist("").Draw(l, l.Front, nil)
		assert.ErrorContains(t, err, l.Fonts[0])
	}
	assert.Equal(t, map[string]string{"fonts[0]": `"own.txt" is no font: name a file that ends with .ttf or .otf`},
		(&deck.Layout{Size: []int{100, 100}, Front: []deck.Box{box}, Fonts: []string{"own.txt"}}).Mistakes())
}

// Scripts without spaces break where Unicode lets them, and not before what ends a sentence.
func TestTextWithoutSpacesIsWrapped(t *testing.T) {
	d := drawn(t, []deck.Box{{At: []float64{10, 10, 90, 280}, Text: strings.Repeat("潮が満ちる。", 4), Height: 20, Least: 20}}, nil)
	require.Len(t, d.Problems, 1)
	assert.NotContains(t, d.Problems[0], "does not fit")
	d = drawn(t, []deck.Box{{At: []float64{10, 10, 90, 280}, Text: strings.Repeat("longword", 4), Height: 20, Least: 20}}, nil)
	assert.Contains(t, d.Problems[0], "does not fit", "a word is not parted")
}

// Fonts are bytes from outside: whatever they are, a card is drawn, or what is wrong is said.
func FuzzFont(f *testing.F) {
	f.Add(gomono.TTF[:4000], "a漁")
	f.Add([]byte("OTTO"), "x")
	f.Fuzz(func(t *testing.T, font []byte, text string) {
		a := artist("")
		a.Font = func(string) ([]byte, error) { return font, nil }
		l := &deck.Layout{Size: []int{60, 60}, Front: []deck.Box{{At: []float64{0, 0, 60, 60}, Text: text, Font: "own.ttf", Height: 12}}}
		_, _ = a.Draw(l, l.Front, nil)
	})
}

func TestTextIsWrappedShrunkAndAligned(t *testing.T) {
	verse := strings.Repeat("seven letters ", 9)
	box := deck.Box{At: []float64{20, 50, 160, 200}, Text: "{verse}", Height: 40, Least: 8}
	d := drawn(t, []deck.Box{box}, map[string]string{"verse": verse})
	assert.Empty(t, d.Problems)
	assert.Positive(t, inked(d.Picture, image.Rect(20, 50, 180, 250)))
	assert.Zero(t, inked(d.Picture, image.Rect(0, 0, 200, 48))+inked(d.Picture, image.Rect(0, 252, 200, 300)), "nothing outside its box")

	box.Least = 38
	d = drawn(t, []deck.Box{box}, map[string]string{"verse": verse})
	assert.Equal(t, []string{`box 1: the text "seven letters seven letters se…" does not fit, also not 38 pixels high`}, d.Problems)

	for align, side := range map[string]image.Rectangle{"left": image.Rect(0, 0, 60, 300), "right": image.Rect(140, 0, 200, 300)} {
		d = drawn(t, []deck.Box{{At: []float64{0, 0, 200, 300}, Text: "ink", Height: 30, Align: align, Down: "middle"}}, nil)
		assert.Equal(t, inked(d.Picture, d.Picture.Rect), inked(d.Picture, side), align)
		assert.Zero(t, inked(d.Picture, image.Rect(0, 0, 200, 120)), "it stands in the middle")
	}
}

func TestTextHasBoldItalicIconsAndEscapes(t *testing.T) {
	box := deck.Box{At: []float64{0, 0, 200, 60}, Text: "{text}", Height: 30}
	ink := func(text string) int {
		d := drawn(t, []deck.Box{box}, map[string]string{"text": text})
		return inked(d.Picture, d.Picture.Rect)
	}
	assert.Greater(t, ink("**wind**"), ink("wind"))
	assert.NotEqual(t, ink("*wind*"), ink("wind"))
	assert.Greater(t, ink(`\*wind`), ink("*wind*"), "a sign behind a backslash is drawn")
	d := drawn(t, []deck.Box{box}, map[string]string{"text": ":dot: of :other:"})
	r, g, _, _ := d.Picture.At(15, 18).RGBA()
	assert.True(t, r > 0xf000 && g < 0x1000, "the icon stands in the text")
}

// An icon that there is not is told, with those that are like it; a time of day is none.
func TestIconsThatThereAreNotAreTold(t *testing.T) {
	box := deck.Box{At: []float64{0, 0, 200, 60}, Text: "{text}", Height: 12}
	for text, want := range map[string][]string{
		"gain :dott:":              {`box 1: there is no icon :dott:; did you mean "dot"?`},
		"gain :lighthouse: now":    {`box 1: there is no icon :lighthouse:; the layout has dot`},
		"at 10:30:45, or a:dott:b": nil,
		"Effect: gain 2: draw":     nil,
		`\:dott:`:                  nil,
	} {
		assert.Equal(t, want, drawn(t, []deck.Box{box}, map[string]string{"text": text}).Problems, text)
	}
}

func TestPicturesFitOrFillAndColoursComeFromFields(t *testing.T) {
	at := []float64{0, 0, 100, 100}
	fit := drawn(t, []deck.Box{{At: at, Fill: "{ink}"}, {At: at, Picture: "{art}.png"}}, map[string]string{"ink": "#0000ff", "art": "red"})
	assert.Equal(t, color.NRGBA{0, 0, 255, 255}, fit.Picture.NRGBAAt(50, 10), "a wide picture leaves a rim above")
	assert.Equal(t, color.NRGBA{250, 0, 0, 255}, fit.Picture.NRGBAAt(50, 50))
	fill := drawn(t, []deck.Box{{At: at, Picture: "red.png", Fit: "fill"}}, nil)
	assert.Equal(t, color.NRGBA{250, 0, 0, 255}, fill.Picture.NRGBAAt(50, 10))

	l := &deck.Layout{Size: []int{100, 100}, Front: []deck.Box{{At: at, Picture: "{art}.png"}}}
	_, err := artist("").Draw(l, l.Front, map[string]string{"art": "blue"})
	assert.EqualError(t, err, "box 1: blue.png: this file is not in the kit")
	l.Front = []deck.Box{{At: at, Fill: "{ink}"}}
	_, err = artist("").Draw(l, l.Front, map[string]string{"ink": "bog"})
	assert.EqualError(t, err, `box 1: "bog" is no colour; write it as #rrggbb, or by its name, such as teal`)
}

// What a card is drawn from is known, so only what changed is drawn again.
func TestTheMarkChangesWithWhatIsDrawnAndNothingElse(t *testing.T) {
	l := &deck.Layout{Size: []int{100, 100}, Front: []deck.Box{{At: []float64{0, 0, 50, 50}, Text: "{title}", Height: 20}, {At: []float64{0, 50, 50, 50}, Picture: "red.png"}}}
	mark := func(a *deck.Artist, fields map[string]string) string {
		m, err := a.Mark(l, l.Front, fields)
		require.NoError(t, err)
		return m
	}
	first := mark(artist("1"), map[string]string{"title": "Fog", "copies": "1"})
	assert.Equal(t, first, mark(artist("1"), map[string]string{"title": "Fog", "copies": "3"}))
	assert.NotEqual(t, first, mark(artist("1"), map[string]string{"title": "Calm"}))
	assert.NotEqual(t, first, mark(artist("2"), map[string]string{"title": "Fog"}), "the picture is another")
	l.Front[0].Bold = true
	assert.NotEqual(t, first, mark(artist("1"), map[string]string{"title": "Fog"}))
}

func TestMistakesInLayoutsNameTheirPlace(t *testing.T) {
	l := &deck.Layout{Size: []int{4, 4}, Front: []deck.Box{
		{At: []float64{0, 0, 10, 10}},
		{At: []float64{0, 0}, Text: "x", Height: 20, Colour: "reddish", Align: "middle"},
		{At: []float64{0, 0, 10, 10}, Text: "x"},
	}}
	mistakes := l.Mistakes()
	for _, at := range []string{"size", "front[0]", "front[1].at", "front[1].colour", "front[1].align", "front[2].height"} {
		assert.Contains(t, mistakes, at)
	}
	assert.Len(t, mistakes, 6, fmt.Sprint(mistakes))
}

func TestShrinkingKeepsColourAndOpacity(t *testing.T) {
	pictures := deck.Pictures{}
	half := painted(1000, 500, color.NRGBA{200, 100, 50, 128})
	p := pictures.Add(half)
	small := decodePNG(t, pictures[p.Small])
	assert.Equal(t, image.Pt(320, 160), small.Bounds().Size())
	got := color.NRGBAModel.Convert(small.At(159, 80)).(color.NRGBA)
	assert.InDelta(t, 200, got.R, 2)
	assert.InDelta(t, 50, got.B, 2)
	assert.InDelta(t, 128, got.A, 1)
}

func FuzzDrawText(f *testing.F) {
	for _, seed := range []string{"**bold** *italic* :dot: {title}", "a\n\nb \\* \\", "::::", "{{x}} {unclosed", "ß\u0301\u200d\x00 " + strings.Repeat("w", 300)} {
		f.Add(seed, 20.0, 40.0)
	}
	f.Fuzz(func(t *testing.T, text string, height, wide float64) {
		l := &deck.Layout{
			Size: []int{64, 64}, Icons: map[string]string{"dot": "red.png"},
			Front: []deck.Box{{At: []float64{0, 0, wide, 40}, Text: text, Height: height, Align: "centre", Down: "middle"}},
		}
		if len(l.Mistakes()) > 0 || len(text) > 500 {
			return
		}
		_, err := artist("").Draw(l, l.Front, map[string]string{"title": text})
		require.NoError(t, err)
	})
}

// A font may say that its letters are as large as houses: drawing one would take all memory there is.
func TestLettersAsLargeAsHousesAreRefused(t *testing.T) {
	huge := bytes.Clone(gomono.TTF)
	head := bytes.Index(huge, []byte("head"))
	at := binary.BigEndian.Uint32(huge[head+8:])
	binary.BigEndian.PutUint16(huge[at+18:], 16) // units of a letter's height, of which it has 2048
	a := artist("")
	a.Font = func(string) ([]byte, error) { return huge, nil }
	l := &deck.Layout{Size: []int{100, 100}, Front: []deck.Box{{At: []float64{0, 0, 90, 90}, Text: "W", Height: 1000, Font: "own.ttf"}}}
	for range 2 {
		_, err := a.Draw(l, l.Front, nil)
		assert.EqualError(t, err, "box 1: own.ttf: a letter is more than 16 times as large as letters are; bring another font")
	}
}
