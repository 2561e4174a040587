package sheet

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
)

// Orientation tags say how a camera or a program wants its pixels turned
// before they are looked at (EXIF 2.3, tag 0x0112): 1 as they are, 2 mirrored,
// 3 half a turn, 4 upside down, 5 to 8 with columns and rows exchanged.

// orientation reads the tag of a JPEG, PNG or WebP file, 1 if there is none.
func orientation(file []byte) int {
	switch {
	case bytes.HasPrefix(file, []byte{0xff, 0xd8}):
		return tagIn(jpegEXIF(file))
	case bytes.HasPrefix(file, []byte("\x89PNG")) && len(file) > 8:
		return tagIn(chunk(file[8:], "eXIf", 4, 0, binary.BigEndian, 4))
	case bytes.HasPrefix(file, []byte("RIFF")) && len(file) > 12:
		return tagIn(chunk(file[12:], "EXIF", 0, 4, binary.LittleEndian, 0))
	}
	return 1
}

// jpegEXIF finds the EXIF block among the segments before the pixels.
func jpegEXIF(file []byte) []byte {
	for rest := file[2:]; len(rest) > 4 && rest[0] == 0xff && rest[1] != 0xda; {
		length := int(binary.BigEndian.Uint16(rest[2:]))
		if length < 2 || len(rest) < 2+length {
			return nil
		}
		body := rest[4 : 2+length]
		if rest[1] == 0xe1 && bytes.HasPrefix(body, []byte("Exif\x00\x00")) {
			return body[6:]
		}
		rest = rest[2+length:]
	}
	return nil
}

// chunk finds a chunk of a name. nameAt and lengthAt say where the name and the
// length stand in its head of 8 bytes; after says how many bytes follow its body.
func chunk(rest []byte, name string, nameAt, lengthAt int, order binary.ByteOrder, after int) []byte {
	for len(rest) >= 8 {
		length := uint64(order.Uint32(rest[lengthAt:]))
		if length > uint64(len(rest)-8) {
			return nil
		}
		if string(rest[nameAt:nameAt+4]) == name {
			return bytes.TrimPrefix(rest[8:8+length], []byte("Exif\x00\x00"))
		}
		if order == binary.LittleEndian {
			length += length % 2 // RIFF chunks are padded to an even length
		}
		rest = rest[min(8+length+uint64(after), uint64(len(rest))):]
	}
	return nil
}

// tagIn reads the orientation tag of an EXIF block, a TIFF file's first
// directory.
func tagIn(tiff []byte) int {
	if len(tiff) < 8 {
		return 1
	}
	var order binary.ByteOrder = binary.BigEndian
	if tiff[0] == 'I' {
		order = binary.LittleEndian
	}
	at := uint64(order.Uint32(tiff[4:]))
	if at+2 > uint64(len(tiff)) {
		return 1
	}
	for entries := order.Uint16(tiff[at:]); entries > 0; entries-- {
		entry := at + 2
		if at += 12; entry+12 > uint64(len(tiff)) {
			return 1
		}
		if order.Uint16(tiff[entry:]) == 0x0112 {
			if tag := order.Uint16(tiff[entry+8:]); tag >= 1 && tag <= 8 {
				return int(tag)
			}
		}
	}
	return 1
}

// turned gives a picture as its orientation tag says. No pixel is copied.
func turned(p image.Image, tag int) image.Image {
	if tag == 1 {
		return p
	}
	size := p.Bounds().Size()
	if tag >= 5 {
		size.X, size.Y = size.Y, size.X
	}
	return oriented{p, tag, size}
}

type oriented struct {
	image.Image
	tag  int
	size image.Point
}

func (o oriented) Bounds() image.Rectangle { return image.Rectangle{Max: o.size} }

func (o oriented) At(x, y int) color.Color {
	right, bottom := o.size.X-1-x, o.size.Y-1-y
	switch o.tag {
	case 2:
		x = right
	case 3:
		x, y = right, bottom
	case 4:
		y = bottom
	case 5:
		x, y = y, x
	case 6:
		x, y = y, right
	case 7:
		x, y = bottom, right
	case 8:
		x, y = bottom, x
	}
	return o.Image.At(x, y)
}
