package deck

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"image"
	"image/png"
	"runtime"
	"sync"

	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/core/table"
)

// SmallSide is the longest side of the smaller picture of a card, in pixels.
const SmallSide = 320

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
	made := make([][2]encoded, n)
	next := make(chan int)
	var workers sync.WaitGroup
	for range min(n, runtime.GOMAXPROCS(0)) {
		workers.Go(func() {
			var e encoder
			for i := range next {
				made[i] = e.inBothSizes(picture(i))
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
		p[m[0].address], p[m[1].address] = m[0].file, m[1].file
		named[i] = table.Picture{Small: m[0].address, Full: m[1].address}
	}
	return named
}

// encoded is a picture's file under the hash of its bytes.
type encoded struct {
	address string
	file    []byte
}

// encoder makes PNG files, one after the other, and keeps its buffers for the next.
type encoder struct {
	buffer *png.EncoderBuffer
	out    bytes.Buffer
}

// Get and Put make the encoder its own pool of buffers, of one.
func (e *encoder) Get() *png.EncoderBuffer  { return e.buffer }
func (e *encoder) Put(b *png.EncoderBuffer) { e.buffer = b }

func (e *encoder) encode(picture image.Image) encoded {
	e.out.Reset()
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed, BufferPool: e}).Encode(&e.out, picture); err != nil {
		panic(err) // a buffer does not fail, and every picture here can be a PNG
	}
	sum := sha256.Sum256(e.out.Bytes())
	return encoded{hex.EncodeToString(sum[:]), bytes.Clone(e.out.Bytes())}
}

// inBothSizes encodes a picture small and full, which are one where it is small
// already.
func (e *encoder) inBothSizes(picture *image.NRGBA) [2]encoded {
	full, small := e.encode(picture), Smaller(picture, SmallSide)
	if small == picture {
		return [2]encoded{full, full}
	}
	return [2]encoded{e.encode(small), full}
}

// Smaller is a picture whose longest side has at most so many pixels: itself if it is small
// already.
func Smaller(picture *image.NRGBA, most int) *image.NRGBA {
	longest := max(picture.Rect.Dx(), picture.Rect.Dy())
	if longest <= most {
		return picture
	}
	return shrink(picture, max(1, picture.Rect.Dx()*most/longest), max(1, picture.Rect.Dy()*most/longest))
}

// AddCell cuts a cell out of a sheet and stores it.
func (p Pictures) AddCell(from image.Image, g sheet.Grid, cell int) table.Picture {
	return p.Add(sheet.Cut(from, g, cell))
}
