package deck

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"image"
	"io"
	"math"
	"slices"

	"github.com/fyne-io/oksvg"
	"github.com/srwiley/rasterx"
	"golang.org/x/image/math/fixed"
)

// Limits of an icon that is an SVG.
const (
	maxSVG      = 512 << 10 // bytes
	sideOfSVG   = 512       // pixels of its longer side, once drawn
	mostOfLines = 1_000_000 // that its shapes come to
	mostFilled  = 400       // shapes, each of which is filled over the whole picture
)

// ReadSVG draws an icon that is an SVG: plain shapes in plain colours.
func ReadSVG(text []byte) (picture image.Image, err error) {
	if len(text) > maxSVG {
		return nil, fmt.Errorf("the SVG has more than %d KiB; icons have less. Export it as a PNG", maxSVG>>10)
	}
	defer func() { // bytes from outside
		if cause := recover(); cause != nil {
			picture, err = nil, fmt.Errorf("this SVG cannot be drawn (%v); export it as a PNG", cause)
		}
	}()
	if err := plainShapes(text); err != nil {
		return nil, err
	}
	icon, err := oksvg.ReadIconStream(bytes.NewReader(text), oksvg.IgnoreErrorMode)
	if err != nil {
		return nil, fmt.Errorf("this is no SVG that can be read (%w); export it as a PNG", err)
	}
	wide, high := icon.ViewBox.W, icon.ViewBox.H
	if !(wide > 0 && high > 0 && wide < 1e5 && high < 1e5) || max(wide, high)/min(wide, high) > 64 {
		return nil, fmt.Errorf("this SVG says no size that an icon can have; export it as a PNG")
	}
	scale := sideOfSVG / max(wide, high)
	w, h := max(1, int(math.Round(wide*scale))), max(1, int(math.Round(high*scale)))
	icon.SetTarget(0, 0, float64(w), float64(h))
	on := image.NewRGBA(image.Rect(0, 0, w, h))
	icon.Draw(rasterx.NewDasher(w, h, &bounded{ScannerGV: rasterx.NewScannerGV(w, h, on, on.Rect)}), 1)
	return on, nil
}

// noShapes are elements of an SVG that icons cannot have: what would not be drawn, and what points to other
// elements, because it may point to itself.
var noShapes = []string{"use", "symbol", "image", "pattern", "clipPath", "mask", "filter", "text", "script", "foreignObject"}

// plainShapes refuses an SVG that has such elements, or too many.
func plainShapes(text []byte) error {
	tokens := xml.NewDecoder(bytes.NewReader(text))
	tokens.CharsetReader = func(_ string, in io.Reader) (io.Reader, error) { return in, nil }
	depth, n := 0, 0
	for {
		token, err := tokens.Token()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return fmt.Errorf("this is no SVG that can be read (%w); export it as a PNG", err)
		}
		switch t := token.(type) {
		case xml.StartElement:
			depth, n = depth+1, n+1
			if slices.Contains(noShapes, t.Name.Local) {
				return fmt.Errorf("the SVG has <%s>, and icons are plain shapes; export it as a PNG", t.Name.Local)
			}
			if depth > 40 || n > 10_000 {
				return fmt.Errorf("the SVG has too many parts for an icon; export it as a PNG")
			}
		case xml.EndElement:
			depth--
		}
	}
}

// bounded is a scanner that takes no more lines than an icon has, and none that lead far out: filling
// takes time for all that lines cross.
type bounded struct {
	*rasterx.ScannerGV
	lines, filled int
}

func (b *bounded) Draw() {
	if b.filled++; b.filled > mostFilled {
		panic("it has too many shapes for an icon")
	}
	b.ScannerGV.Draw()
}

func (b *bounded) Start(a fixed.Point26_6) { b.ScannerGV.Start(near(a)) }

func (b *bounded) Line(to fixed.Point26_6) {
	if b.lines++; b.lines > mostOfLines {
		panic("it has too many shapes for an icon")
	}
	b.ScannerGV.Line(near(to))
}

func near(p fixed.Point26_6) fixed.Point26_6 {
	const far = fixed.Int26_6(8 * sideOfSVG * 64)
	return fixed.Point26_6{X: min(max(p.X, -far), far), Y: min(max(p.Y, -far), far)}
}
