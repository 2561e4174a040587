package main

import (
	"bytes"
	"fmt"
	"image"
	"image/draw"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"

	"golang.org/x/sync/errgroup"
)

// loosePictures writes 60 pictures of 750 × 1050 pixels into a folder.
func loosePictures(folder string) error {
	whole, err := png.Decode(bytes.NewReader(largeSheet()))
	if err != nil {
		return err
	}
	for n := range 60 {
		card := image.NewNRGBA(image.Rect(0, 0, 750, 1050))
		draw.Draw(card, card.Rect, whole, image.Pt(n%10*330, n/10*500), draw.Src)
		var out bytes.Buffer
		if err := png.Encode(&out, card); err != nil {
			return err
		}
		if err := os.WriteFile(filepath.Join(folder, fmt.Sprintf("card-%02d.png", n)), out.Bytes(), 0o600); err != nil {
			return err
		}
	}
	return nil
}

// pack is packing those by the command line, against decoding them and encoding the same pixels, on
// all cores.
func pack(*bench) (ours, reference float64, unit string, err error) {
	folder, err := os.MkdirTemp("", "damselfly-pack-")
	if err != nil {
		return 0, 0, "", err
	}
	defer os.RemoveAll(folder)
	if err := loosePictures(folder); err != nil {
		return 0, 0, "", err
	}
	turn := 0
	ours, reference = best(3, func() {
		turn++
		to := filepath.Join(os.TempDir(), filepath.Base(folder)+fmt.Sprint(turn)+".png") // packed for the first time, each time
		out, failed := exec.Command("bin/damselfly", "sheet", "pack", folder, "--to", to).CombinedOutput()
		if failed != nil {
			err = fmt.Errorf("%w: %s", failed, out)
		}
		written, _ := filepath.Glob(filepath.Join(os.TempDir(), filepath.Base(folder)+fmt.Sprint(turn)+"*"))
		for _, name := range written {
			_ = os.Remove(name)
		}
	}, func() {
		var all errgroup.Group
		all.SetLimit(runtime.GOMAXPROCS(0))
		for n := range 60 {
			all.Go(func() error {
				text, err := os.ReadFile(filepath.Join(folder, fmt.Sprintf("card-%02d.png", n)))
				if err != nil {
					return err
				}
				card, err := png.Decode(bytes.NewReader(text))
				if err != nil {
					return err
				}
				var out bytes.Buffer
				return (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&out, card)
			})
		}
		if failed := all.Wait(); failed != nil {
			err = failed
		}
	})
	return ours, reference, "s", err
}
