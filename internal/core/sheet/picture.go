// Package sheet packs loose pictures into sheets of cards, looks sheets over and
// cuts them: one picture holding a grid of cards, cells numbered from 1, row by
// row.
//
//	picture, err := sheet.Read(bytes)
//	grid := sheet.Guess(picture, sheet.Grid{})[0].Grid
//	report := sheet.Check(picture, grid)
//	card := sheet.Cut(picture, grid, 7)
package sheet

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	_ "image/gif"  // formats that Read knows
	_ "image/jpeg" //
	_ "image/png"  //
	"path"
	"slices"
	"strings"

	_ "golang.org/x/image/bmp"
	_ "golang.org/x/image/tiff"
	_ "golang.org/x/image/webp"
)

// MaxPixels is the largest picture that is decoded, in pixels. The size is
// read off the header first, so that a larger one costs nothing.
const MaxPixels = 8192 * 8192

// maxLength is how many pixels a picture's side has at most. Looking for cuts takes memory for each
// line, so that a line of millions of pixels costs more than a square of them.
const maxLength = 1 << 15

// Formats are the pictures that Read knows, in words.
const Formats = "PNG, JPEG, GIF, WebP, TIFF or BMP"

// Endings are those of the names of pictures that are read.
var Endings = []string{".png", ".jpg", ".jpeg", ".gif", ".webp", ".tif", ".tiff", ".bmp"}

// IsPicture tells from a file's name whether it is such a picture.
func IsPicture(name string) bool {
	return slices.Contains(Endings, strings.ToLower(path.Ext(name)))
}

// Read decodes a PNG, JPEG, GIF (its first frame), WebP, TIFF or BMP picture, turned as
// its orientation tag says, with its upper left corner at 0, 0. The pixels stay
// as they were decoded, so that reading takes no more memory than decoding.
// Errors say what is wrong with the file in words for its maker.
func Read(file []byte) (image.Image, error) {
	config, format, err := image.DecodeConfig(bytes.NewReader(file))
	if err != nil {
		if len(file) == 0 {
			return nil, fmt.Errorf("the file is empty")
		}
		return nil, fmt.Errorf("this is no %s picture, or it is damaged at its beginning (%w)", Formats, err)
	}
	if config.Width < 1 || config.Height < 1 {
		return nil, fmt.Errorf("the picture says it is %d × %d pixels", config.Width, config.Height)
	}
	if longest := max(config.Width, config.Height); longest > maxLength {
		return nil, fmt.Errorf("the picture is %d × %d pixels; a side has at most %d", config.Width, config.Height, maxLength)
	}
	most, such := MaxPixels, "8192 × 8192"
	switch config.ColorModel { // twice the bytes
	case color.RGBA64Model, color.NRGBA64Model, color.Gray16Model:
		most, such = MaxPixels/2, "8192 × 4096 at 16 bits a colour; export it with 8"
	}
	if config.Width > most/config.Height {
		return nil, fmt.Errorf("the picture is %d × %d pixels; at most %d million pixels are taken, such as %s",
			config.Width, config.Height, most/1_000_000, such)
	}
	decoded, _, err := image.Decode(bytes.NewReader(file))
	if err != nil {
		return nil, fmt.Errorf("the %s picture is cut short or damaged (%w); export it again", format, err)
	}
	picture := plain(decoded)
	if whole := image.Rect(0, 0, config.Width, config.Height); picture.Bounds() != whole {
		picture = framed{picture, whole} // a GIF's first frame may fill a part of it
	}
	return turned(picture, orientation(file)), nil
}

// Size is the size of a picture file as it is to be looked at, read off its header.
func Size(file []byte) (image.Point, error) {
	config, _, err := image.DecodeConfig(bytes.NewReader(file))
	if err != nil {
		_, err = Read(file) // says it in words
		return image.Point{}, err
	}
	if orientation(file) >= 5 {
		return image.Pt(config.Height, config.Width), nil
	}
	return image.Pt(config.Width, config.Height), nil
}

// plain gives an opaque RGBA picture as NRGBA, which has the same bytes then.
func plain(p image.Image) image.Image {
	if rgba, ok := p.(*image.RGBA); ok && rgba.Opaque() {
		return &image.NRGBA{Pix: rgba.Pix, Stride: rgba.Stride, Rect: rgba.Rect}
	}
	return p
}

// savedWithLoss reports whether what lies beside an edge on a picture may be smeared.
func savedWithLoss(p image.Image) bool {
	switch p := p.(type) {
	case *image.YCbCr, *image.NYCbCrA:
		return true
	case oriented:
		return savedWithLoss(p.Image)
	}
	return false
}

// framed is a picture within a larger, transparent one.
type framed struct {
	image.Image
	whole image.Rectangle
}

func (f framed) Bounds() image.Rectangle { return f.whole }

func (f framed) At(x, y int) color.Color {
	if !image.Pt(x, y).In(f.Image.Bounds()) {
		return color.NRGBA{}
	}
	return f.Image.At(x, y)
}
