package sheet_test

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/sheet"
)

// exif is an EXIF block that holds nothing but an orientation.
func exif(order binary.ByteOrder, tag uint16) []byte {
	var b bytes.Buffer
	b.WriteString(map[bool]string{true: "II", false: "MM"}[order == binary.LittleEndian])
	for _, value := range []any{uint16(42), uint32(8), uint16(1), uint16(0x0112), uint16(3), uint32(1), tag, uint16(0), uint32(0)} {
		_ = binary.Write(&b, order, value)
	}
	return b.Bytes()
}

// cornered is wider than high, with its upper left corner red.
func cornered() *image.NRGBA {
	p := image.NewNRGBA(image.Rect(0, 0, 64, 32))
	fill(p, p.Rect, grey)
	fill(p, image.Rect(0, 0, 16, 16), color.NRGBA{250, 0, 0, 255})
	return p
}

func TestOrientationTagsAreObeyed(t *testing.T) {
	corners := map[uint16]image.Point{1: {2, 2}, 2: {61, 2}, 3: {61, 29}, 4: {2, 29}, 5: {2, 2}, 6: {29, 2}, 7: {29, 61}, 8: {2, 61}}
	for tag, corner := range corners {
		for name, file := range map[string][]byte{
			"JPEG, little": withJPEGTag(t, exif(binary.LittleEndian, tag)), "JPEG, big": withJPEGTag(t, exif(binary.BigEndian, tag)),
			"PNG": withPNGTag(t, exif(binary.BigEndian, tag)),
		} {
			t.Run(fmt.Sprint(name, " ", tag), func(t *testing.T) {
				picture, err := sheet.Read(file)
				require.NoError(t, err)
				want := image.Pt(64, 32)
				if tag >= 5 {
					want = image.Pt(32, 64)
				}
				require.Equal(t, want, picture.Bounds().Size())
				r, g, _, _ := picture.At(corner.X, corner.Y).RGBA()
				assert.True(t, r > 0xd000 && g < 0x4000, "the red corner is at %v", corner)
				assert.Equal(t, picture.Bounds().Size(), sheet.NRGBA(picture).Rect.Size())
			})
		}
	}
}

func withJPEGTag(t *testing.T, block []byte) []byte {
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, cornered(), &jpeg.Options{Quality: 95}))
	return taggedJPEG(out.Bytes(), block)
}

// taggedJPEG puts a tag into a JPEG file.
func taggedJPEG(file, block []byte) []byte {
	block = append([]byte("Exif\x00\x00"), block...)
	head := append([]byte{0xff, 0xd8, 0xff, 0xe1, 0, byte(len(block) + 2)}, block...)
	return append(head, file[2:]...)
}

func withPNGTag(t *testing.T, block []byte) []byte {
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, cornered()))
	const head = 8 + 25 // the signature and IHDR
	body := append([]byte("eXIf"), block...)
	chunk := binary.BigEndian.AppendUint32(nil, uint32(len(block)))
	chunk = binary.BigEndian.AppendUint32(append(chunk, body...), crc32.ChecksumIEEE(body))
	return append(append(bytes.Clone(out.Bytes()[:head]), chunk...), out.Bytes()[head:]...)
}

// What JPEG smears is looked through on pictures that are turned, too.
func TestATurnedJPEGIsReadLikeOneThatIsNot(t *testing.T) {
	s := drawSheet(t, "bleed", 1231, nil) // its gutters are smeared
	size := s.picture.Bounds().Size()
	saved := func(at func(x, y int) (int, int)) []byte {
		on := image.NewNRGBA(image.Rectangle{Max: size})
		for y := range size.Y {
			for x := range size.X {
				fromX, fromY := at(x, y)
				on.Set(x, y, s.picture.At(fromX, fromY))
			}
		}
		var out bytes.Buffer
		require.NoError(t, jpeg.Encode(&out, on, &jpeg.Options{Quality: 60}))
		return out.Bytes()
	}
	same := func(x, y int) (int, int) { return x, y }
	around := func(x, y int) (int, int) { return size.X - 1 - x, size.Y - 1 - y }
	for how, file := range map[string][]byte{
		"as it lies": saved(same),
		"turned":     taggedJPEG(saved(around), exif(binary.BigEndian, 3)),
	} {
		_, report, err := sheet.Look(file, sheet.Grid{})
		require.NoError(t, err)
		assert.True(t, s.right(report.Grid), "%s: %v is read as %v", how, s, report.Guesses)
	}
}

func TestAGIFsFirstFrameLiesWhereItBelongs(t *testing.T) {
	frame := image.NewPaletted(image.Rect(10, 20, 30, 40), color.Palette{color.Black, color.White})
	var out bytes.Buffer
	require.NoError(t, gif.EncodeAll(&out, &gif.GIF{Image: []*image.Paletted{frame, frame}, Delay: []int{1, 1}, Config: image.Config{Width: 50, Height: 60, ColorModel: frame.Palette}}))
	picture, err := sheet.Read(out.Bytes())
	require.NoError(t, err)
	assert.Equal(t, image.Pt(50, 60), picture.Bounds().Size())
	_, _, _, inside := picture.At(15, 25).RGBA()
	_, _, _, outside := picture.At(5, 5).RGBA()
	assert.Equal(t, []uint32{0xffff, 0}, []uint32{inside, outside})
	assert.Equal(t, color.NRGBA{0, 0, 0, 255}, sheet.NRGBA(picture).NRGBAAt(15, 25))
}
