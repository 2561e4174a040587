package deck_test

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"runtime"
	"runtime/debug"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/sheet"
)

// Reading and cutting a sheet holds the decoded sheet and a quarter of it more, beside
// the pictures that come of it.
func TestCuttingHoldsLittleMoreThanTheDecodedSheet(t *testing.T) {
	const side = 3000
	picture := painted(side, side, color.NRGBA{90, 140, 120, 255})
	for i := 0; i < len(picture.Pix); i += 4 * 97 {
		picture.Pix[i] = uint8(i)
	}
	var asPNG, asJPEG bytes.Buffer
	require.NoError(t, png.Encode(&asPNG, picture))
	require.NoError(t, jpeg.Encode(&asJPEG, picture, nil))
	picture = nil
	const decoded = 4.0 // bytes a pixel, red, green, blue and opacity
	for name, file := range map[string][]byte{"PNG": asPNG.Bytes(), "JPEG": asJPEG.Bytes()} {
		t.Run(name, func(t *testing.T) {
			defer debug.SetGCPercent(debug.SetGCPercent(2)) // so that the heap is what is held, and no garbage
			made := 0
			before, most := heap(), watched(func() {
				p, err := sheet.Read(file)
				require.NoError(t, err)
				g := sheet.Grid{Columns: 9, Rows: 6}
				pictures := deck.Pictures{}
				pictures.AddAll(g.Cells(), func(i int) *image.NRGBA { return sheet.Cut(p, g, i+1) })
				runtime.KeepAlive(p)
				for _, file := range pictures {
					made += len(file)
				}
			})
			held := float64(int(most)-int(before)-made) / (side * side)
			t.Logf("%s: %.2f bytes a pixel held, %.0f decoded", name, held, decoded)
			assert.LessOrEqual(t, held, 1.25*decoded)
		})
	}
}

func heap() uint64 {
	runtime.GC()
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	return m.HeapAlloc
}

// watched is the most that the heap held while something was done.
func watched(do func()) (most uint64) {
	done, stopped := make(chan struct{}), make(chan struct{})
	go func() {
		defer close(stopped)
		var m runtime.MemStats
		for {
			runtime.ReadMemStats(&m)
			most = max(most, m.HeapAlloc)
			select {
			case <-done:
				return
			case <-time.After(5 * time.Millisecond):
			}
		}
	}()
	do()
	close(done)
	<-stopped
	return most
}
