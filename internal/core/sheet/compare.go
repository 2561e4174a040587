package sheet

import (
	"bytes"
	"damselfly.example/damselfly/internal/core/sheet/pixels"
	"image"
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

// What differs where a picture was saved anew: the noise of JPEG, smoothed edges.
const (
	anewShade = 40.0
	anewShare = 0.005
	anewMean  = 4.0
)

// nearlySame reports whether two pictures look the same, though their pixels are not.
func nearlySame(a, b *image.NRGBA) bool {
	if a.Rect.Size() != b.Rect.Size() {
		return false
	}
	one, other := pixels.Colouring(a), pixels.Colouring(b)
	far, sum, n := 0, 0.0, 0
	for y := range a.Rect.Dy() {
		for x := range a.Rect.Dx() {
			apart := pixels.ApartBy(one(x, y), other(x, y))
			if sum, n = sum+apart, n+1; apart > anewShade {
				far++
			}
		}
	}
	return float64(far) <= anewShare*float64(n) && sum <= anewMean*float64(n)
}
