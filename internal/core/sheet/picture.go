// Package sheet looks sheets of cards over and cuts them: one picture holding
// a grid of cards, cells numbered from 1, row by row.
//
//	picture, err := sheet.Read(bytes)
//	grid := sheet.Guess(picture)[0].Grid
//	report := sheet.Check(picture, grid)
//	card := sheet.Cut(picture, grid, 7)
package sheet

import (
	"bytes"
	"fmt"
	"image"
	"image/draw"
	_ "image/gif"  // formats that Read knows
	_ "image/jpeg" //
	_ "image/png"  //

	_ "golang.org/x/image/webp"
)

// MaxPixels is the largest picture that is decoded, in pixels. The size is
// read off the header first, so that a larger one costs nothing.
const MaxPixels = 8192 * 8192

// Read decodes a PNG, JPEG, GIF (its first frame) or WebP picture. Errors say
// what is wrong with the file in words for its maker.
func Read(file []byte) (*image.NRGBA, error) {
	config, format, err := image.DecodeConfig(bytes.NewReader(file))
	if err != nil {
		if len(file) == 0 {
			return nil, fmt.Errorf("the file is empty")
		}
		return nil, fmt.Errorf("this is no PNG, JPEG, GIF or WebP picture, or it is damaged at its beginning (%w)", err)
	}
	if config.Width < 1 || config.Height < 1 {
		return nil, fmt.Errorf("the picture says it is %d × %d pixels", config.Width, config.Height)
	}
	if config.Width > MaxPixels/config.Height {
		return nil, fmt.Errorf("the picture is %d × %d pixels; at most %d million pixels are taken, such as 8192 × 8192",
			config.Width, config.Height, MaxPixels/1_000_000)
	}
	decoded, _, err := image.Decode(bytes.NewReader(file))
	if err != nil {
		return nil, fmt.Errorf("the %s picture is cut short or damaged (%w); export it again", format, err)
	}
	if picture, ok := decoded.(*image.NRGBA); ok && picture.Rect.Min == (image.Point{}) {
		return picture, nil
	}
	picture := image.NewNRGBA(image.Rect(0, 0, config.Width, config.Height))
	draw.Draw(picture, picture.Rect, decoded, decoded.Bounds().Min, draw.Src)
	return picture, nil
}
