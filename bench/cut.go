package main

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"sync"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/sheet"
)

// cutGrid is the sheet that is cut: 54 cards of 480 × 660 pixels.
var cutGrid = sheet.Grid{Columns: 9, Rows: 6}

// largeSheet draws a sheet with art that neither repeats nor compresses to
// nothing: soft shapes with a little grain, as scans and paintings have.
func largeSheet() []byte {
	picture := image.NewNRGBA(image.Rect(0, 0, 9*480, 6*660))
	grain := uint32(1)
	for y := range picture.Rect.Dy() {
		for x := range picture.Rect.Dx() {
			grain = grain*1664525 + 1013904223
			cell := uint8(x/480*37 + y/660*91)
			soft := uint8((x*x/900 + y*y/700) >> 4)
			picture.SetNRGBA(x, y, color.NRGBA{cell + soft + uint8(grain>>30), soft ^ cell>>1, 255 - soft + uint8(grain>>29&3), 255})
		}
	}
	var out bytes.Buffer
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&out, picture); err != nil {
		panic(err)
	}
	return out.Bytes()
}

// cutOurs is reading a sheet and cutting it to pictures in two sizes.
func cutOurs(file []byte) error {
	picture, err := sheet.Read(file)
	if err != nil {
		return err
	}
	pictures := deck.Pictures{}
	pictures.AddAll(cutGrid.Cells(), func(i int) *image.NRGBA { return sheet.Cut(picture, cutGrid, i+1) })
	if len(pictures) != 2*cutGrid.Cells() {
		return fmt.Errorf("made %d pictures of %d", len(pictures), 2*cutGrid.Cells())
	}
	return nil
}

// cut is that, against decoding the sheet and encoding its 54 pictures on all cores.
func cut(*bench) (ours, reference float64, unit string, err error) {
	file := largeSheet()
	ours, reference = best(5, func() { err = cutOurs(file) }, func() {
		decoded, _ := png.Decode(bytes.NewReader(file))
		whole := decoded.(interface {
			SubImage(image.Rectangle) image.Image
		})
		cells := make(chan int)
		var workers sync.WaitGroup
		for range runtime.GOMAXPROCS(0) {
			workers.Go(func() {
				for cell := range cells {
					var out bytes.Buffer
					_ = (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&out, whole.SubImage(cutGrid.Cell(decoded.Bounds().Size(), cell)))
				}
			})
		}
		for cell := 1; cell <= cutGrid.Cells(); cell++ {
			cells <- cell
		}
		close(cells)
		workers.Wait()
	})
	return ours, reference, "s", err
}

// gridFound is finding how that sheet is cut, against decoding it.
func gridFound(*bench) (ours, reference float64, unit string, err error) {
	file := largeSheet()
	picture, err := sheet.Read(file)
	if err != nil {
		return 0, 0, "", err
	}
	ours, reference = best(5, func() { sheet.Guess(picture, sheet.Grid{}) }, func() { _, _ = sheet.Read(file) })
	return ours, reference, "s", nil
}

// cutPeer is that, against ImageMagick cropping the same sheet to 54 PNG files.
func cutPeer(*bench) (ours, reference float64, unit string, err error) {
	convert, err := exec.LookPath("convert")
	if err != nil {
		return 0, 0, "", fmt.Errorf("ImageMagick is not there (Debian's package imagemagick): %w", err)
	}
	file := largeSheet()
	folder, err := os.MkdirTemp("", "damselfly-cut-")
	if err != nil {
		return 0, 0, "", err
	}
	defer os.RemoveAll(folder)
	name := filepath.Join(folder, "sheet.png")
	if err := os.WriteFile(name, file, 0o600); err != nil {
		return 0, 0, "", err
	}
	ours, reference = best(3, func() { err = cutOurs(file) }, func() {
		crop := "480x660"
		if out, failed := exec.Command(convert, name, "-crop", crop, "+repage", filepath.Join(folder, "card-%02d.png")).CombinedOutput(); failed != nil {
			err = fmt.Errorf("%w: %s", failed, out)
		}
	})
	return ours, reference, "s", err
}
