// Package deck turns the cells of sheets into designs with pictures.
package deck

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"image"
	"image/png"

	"golang.org/x/image/draw"

	"damselfly/internal/core/sheet"
	"damselfly/internal/core/table"
)

// SmallSide is the longest side of the smaller picture of a card, in pixels.
const SmallSide = 360

// Pictures are encoded PNG files by the SHA-256 of their bytes. The same art
// in two places is one picture.
type Pictures map[string][]byte

// Add stores a picture in full and in the smaller size.
func (p Pictures) Add(picture *image.NRGBA) table.Picture {
	full := p.encode(picture)
	longest := max(picture.Rect.Dx(), picture.Rect.Dy())
	if longest <= SmallSide {
		return table.Picture{Small: full, Full: full}
	}
	size := image.Rect(0, 0, max(1, picture.Rect.Dx()*SmallSide/longest), max(1, picture.Rect.Dy()*SmallSide/longest))
	small := image.NewNRGBA(size)
	draw.CatmullRom.Scale(small, size, picture, picture.Rect, draw.Src, nil)
	return table.Picture{Small: p.encode(small), Full: full}
}

func (p Pictures) encode(picture image.Image) string {
	var out bytes.Buffer
	if err := png.Encode(&out, picture); err != nil {
		panic(err) // a buffer does not fail, and every picture here can be a PNG
	}
	sum := sha256.Sum256(out.Bytes())
	address := hex.EncodeToString(sum[:])
	p[address] = out.Bytes()
	return address
}

// AddCell cuts a cell out of a sheet and stores it.
func (p Pictures) AddCell(from *image.NRGBA, g sheet.Grid, cell int) table.Picture {
	return p.Add(sheet.Cut(from, g, cell))
}
