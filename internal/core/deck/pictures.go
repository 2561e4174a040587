package deck

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"image"
	"image/png"
	"runtime"
	"sync"

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
	return p.AddAll(1, func(int) *image.NRGBA { return picture })[0]
}

// AddAll stores n pictures in both sizes, on all cores. picture makes one of them;
// it is called from several goroutines, once for each, and only so many pictures are
// in the making as there are cores.
func (p Pictures) AddAll(n int, picture func(int) *image.NRGBA) []table.Picture {
	made := make([]sizes, n)
	next := make(chan int)
	var workers sync.WaitGroup
	for range min(n, runtime.GOMAXPROCS(0)) {
		workers.Go(func() {
			for i := range next {
				made[i] = inBothSizes(picture(i))
			}
		})
	}
	for i := range n {
		next <- i
	}
	close(next)
	workers.Wait()
	named := make([]table.Picture, n)
	for i, m := range made {
		named[i] = table.Picture{Small: p.keep(m.small), Full: p.keep(m.full)}
	}
	return named
}

// sizes are a picture's files; small is the full one where that is small already.
type sizes struct{ small, full []byte }

func inBothSizes(picture *image.NRGBA) sizes {
	full := encode(picture)
	longest := max(picture.Rect.Dx(), picture.Rect.Dy())
	if longest <= SmallSide {
		return sizes{full, full}
	}
	size := image.Rect(0, 0, max(1, picture.Rect.Dx()*SmallSide/longest), max(1, picture.Rect.Dy()*SmallSide/longest))
	small := image.NewRGBA(size) // x/image scales NRGBA into RGBA many times faster than into NRGBA
	draw.CatmullRom.Scale(small, size, picture, picture.Rect, draw.Src, nil)
	return sizes{encode(small), full}
}

func encode(picture image.Image) []byte {
	var out bytes.Buffer
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&out, picture); err != nil {
		panic(err) // a buffer does not fail, and every picture here can be a PNG
	}
	return out.Bytes()
}

func (p Pictures) keep(file []byte) string {
	sum := sha256.Sum256(file)
	address := hex.EncodeToString(sum[:])
	p[address] = file
	return address
}

// AddCell cuts a cell out of a sheet and stores it.
func (p Pictures) AddCell(from image.Image, g sheet.Grid, cell int) table.Picture {
	return p.Add(sheet.Cut(from, g, cell))
}
