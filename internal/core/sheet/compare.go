package sheet

import (
	"bytes"
	"image"

	"damselfly.example/damselfly/internal/core/sheet/pixels"
)

// Difference is what became of one card between two sheets.
type Difference struct {
	What   string `json:"what" enum:"changed,saved anew,moved,added,removed"`
	Before int    `json:"before,omitempty" doc:"The cell in the former sheet."`
	After  int    `json:"after,omitempty" doc:"The cell in the newer sheet."`
}

// Compare says which cards differ between two sheets. The same picture in another
// cell has moved; what is left over is changed where both sheets have something in the
// cell, or saved anew if nobody would see a difference, and added or removed where only one has.
func Compare(before, after image.Image, was, is Grid) []Difference {
	old, new := contents(before, was), contents(after, is)
	var all []Difference
	for cell := 1; cell <= is.Cells(); cell++ { // what stayed
		if old[cell] != nil && new[cell] != nil && samePicture(old[cell], new[cell]) {
			delete(old, cell)
			delete(new, cell)
		}
	}
	for to := 1; to <= is.Cells(); to++ {
		for from := 1; from <= was.Cells() && new[to] != nil; from++ {
			if old[from] != nil && samePicture(old[from], new[to]) {
				all = append(all, Difference{"moved", from, to})
				delete(old, from)
				delete(new, to)
			}
		}
	}
	for cell := 1; cell <= max(was.Cells(), is.Cells()); cell++ {
		switch {
		case old[cell] != nil && new[cell] != nil:
			what := "changed"
			if nearlySame(old[cell], new[cell]) {
				what = "saved anew"
			}
			all = append(all, Difference{what, cell, cell})
		case new[cell] != nil:
			all = append(all, Difference{What: "added", After: cell})
		case old[cell] != nil:
			all = append(all, Difference{What: "removed", Before: cell})
		}
	}
	return all
}

// contents are the pictures of the cells that are not empty.
func contents(sheet image.Image, g Grid) map[int]*image.NRGBA {
	at, size := pixels.Colouring(sheet), sheet.Bounds().Size()
	cells := map[int]*image.NRGBA{}
	for cell := 1; cell <= g.Cells(); cell++ {
		if !empty(at, g.Cell(size, cell)) {
			cells[cell] = Cut(sheet, g, cell)
		}
	}
	return cells
}

// SavedAnew reports whether two pictures look the same everywhere: one is the other as it was saved again, if not the very same.
func SavedAnew(a, b image.Image) bool {
	return nearlySame(NRGBA(a), NRGBA(b))
}

func samePicture(a, b *image.NRGBA) bool {
	if a.Rect.Size() != b.Rect.Size() {
		return false
	}
	for y := range a.Rect.Dy() {
		if !bytes.Equal(a.Pix[y*a.Stride:y*a.Stride+4*a.Rect.Dx()], b.Pix[y*b.Stride:y*b.Stride+4*b.Rect.Dx()]) {
			return false
		}
	}
	return true
}

// How much two pictures differ at most where one is the other saved anew. What compression changes is nearly nothing over a few
// pixels together, while a digit that became another one is not: as JPEG of quality 40 leaves up to 11 of light over 4 × 4
// pixels and 10 of colour over 8 × 8, a digit of 8 pixels' height changes 19 and more.
const (
	lightWindow, lightMost   = 4, 15 // pixels; light or cover, 0 to 255
	colourWindow, colourMost = 8, 16
)

// nearlySame reports whether two pictures look the same everywhere, though their pixels are not.
func nearlySame(a, b *image.NRGBA) bool {
	if a.Rect.Size() != b.Rect.Size() {
		return false
	}
	size := a.Rect.Size()
	var sums [4]sumsOver // of light, cover, and two of colour: what lies left of and above each pixel
	for i := range sums {
		sums[i] = sumsOver{size.X + 1, make([]int32, (size.X+1)*(size.Y+1))}
	}
	for y := range size.Y {
		for x := range size.X {
			one, other := seenAs(a, x, y), seenAs(b, x, y)
			for i := range sums {
				sums[i].add(x, y, one[i]-other[i])
			}
		}
	}
	for i, s := range sums {
		window, most := lightWindow, lightMost
		if i >= 2 {
			window, most = colourWindow, colourMost
		}
		if s.most(size, window) > most {
			return false
		}
	}
	return true
}

// seenAs is a pixel's light on white, its cover, and its colour as far as it is bluer and redder than grey.
func seenAs(p *image.NRGBA, x, y int) [4]int32 {
	pixel := p.Pix[p.PixOffset(p.Rect.Min.X+x, p.Rect.Min.Y+y):]
	cover := int32(pixel[3])
	on := func(c uint8) int32 { return 255 - (255-int32(c))*cover/255 }
	red, green, blue := on(pixel[0]), on(pixel[1]), on(pixel[2])
	light := (299*red + 587*green + 114*blue) / 1000
	return [4]int32{light, cover, (blue - light) * 564 / 1000, (red - light) * 713 / 1000}
}

// sumsOver are sums over all pixels to the left of and above one.
type sumsOver struct {
	wide int
	of   []int32
}

func (s sumsOver) add(x, y int, value int32) {
	s.of[(y+1)*s.wide+x+1] = value + s.of[(y+1)*s.wide+x] + s.of[y*s.wide+x+1] - s.of[y*s.wide+x]
}

// most is the greatest mean over a window anywhere, without its sign.
func (s sumsOver) most(size image.Point, window int) (most int) {
	wide, high := min(window, size.X), min(window, size.Y)
	for y := high; y <= size.Y; y++ {
		for x := wide; x <= size.X; x++ {
			sum := int(s.of[y*s.wide+x] - s.of[(y-high)*s.wide+x] - s.of[y*s.wide+x-wide] + s.of[(y-high)*s.wide+x-wide])
			most = max(most, max(sum, -sum)/(wide*high))
		}
	}
	return most
}
