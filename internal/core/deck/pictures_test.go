package deck_test

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"image"
	"image/color"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/sheet"
)

func painted(wide, high int, c color.NRGBA) *image.NRGBA {
	p := image.NewNRGBA(image.Rect(0, 0, wide, high))
	for i := 0; i < len(p.Pix); i += 4 {
		p.Pix[i], p.Pix[i+1], p.Pix[i+2], p.Pix[i+3] = c.R, c.G, c.B, c.A
	}
	return p
}

func TestAPictureIsNamedByItsContentAndStoredOnce(t *testing.T) {
	pictures := deck.Pictures{}
	one := pictures.Add(painted(100, 140, color.NRGBA{200, 10, 10, 255}))
	again := pictures.Add(painted(100, 140, color.NRGBA{200, 10, 10, 255}))
	other := pictures.Add(painted(100, 140, color.NRGBA{10, 10, 200, 255}))
	assert.Equal(t, one, again)
	assert.NotEqual(t, one, other)
	assert.Equal(t, one.Small, one.Full, "a small picture needs no smaller one")
	assert.Len(t, pictures, 2)
	for address, bytes := range pictures {
		sum := sha256.Sum256(bytes)
		assert.Equal(t, hex.EncodeToString(sum[:]), address)
	}
}

func TestALargePictureIsKeptInTwoSizesWithItsTransparency(t *testing.T) {
	pictures := deck.Pictures{}
	p := pictures.Add(painted(1000, 1400, color.NRGBA{200, 10, 10, 0}))
	full, err := png.Decode(bytes.NewReader(pictures[p.Full]))
	require.NoError(t, err)
	assert.Equal(t, image.Pt(1000, 1400), full.Bounds().Size())
	small, err := png.Decode(bytes.NewReader(pictures[p.Small]))
	require.NoError(t, err)
	assert.Equal(t, image.Pt(228, 320), small.Bounds().Size())
	_, _, _, alpha := small.At(100, 100).RGBA()
	assert.Zero(t, alpha)
}

func TestTheSameArtInTwoSheetsIsOnePicture(t *testing.T) {
	pictures := deck.Pictures{}
	upright := painted(120, 80, color.NRGBA{9, 99, 9, 255})
	first := pictures.AddCell(upright, sheet.Grid{Columns: 3, Rows: 2}, 5)
	second := pictures.AddCell(painted(80, 80, color.NRGBA{9, 99, 9, 255}), sheet.Grid{Columns: 2, Rows: 2}, 1)
	assert.Equal(t, first, second)
}

func decodePNG(t *testing.T, file []byte) image.Image {
	picture, err := png.Decode(bytes.NewReader(file))
	require.NoError(t, err)
	return picture
}
