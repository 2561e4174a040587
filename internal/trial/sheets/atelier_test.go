package sheets

import (
	"context"
	"fmt"
	"image"
	"image/png"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
)

// styles are all styles, in their order.
func styles() []string {
	return slices.Sorted(maps.Keys(mergedStyles()))
}

func mergedStyles() map[string]bool {
	all := map[string]bool{}
	for name := range papers {
		all[name] = true
	}
	for name := range presses {
		all[name] = true
	}
	return all
}

// draw draws a sheet, or takes the one that was kept. A nil screen draws nothing that a browser draws.
func (a atelier) draw(on screen, style string, seed uint64) (*drawn, error) {
	if d := a.kept(style, seed); d != nil {
		return d, nil
	}
	h := handOf(style, seed)
	d := &drawn{Style: style, Seed: seed}
	var picture image.Image
	var err error
	if p := papers[style]; p != nil {
		picture, err = on.shoot(p(h), d)
	} else {
		picture, err = presses[style](h).make(d, a.folder)
	}
	if err != nil {
		return nil, fmt.Errorf("%s %d: %w", style, seed, err)
	}
	d.look(picture, grounded(picture, d))
	if err := a.spoil(h, d, picture); err != nil {
		return nil, err
	}
	return d, a.keep(d)
}

// grounded is the colour that lies around the cards: that of most pixels that are on none. Without any it is one that no card has.
func grounded(p image.Image, d *drawn) (colour [4]uint32) {
	counts := map[[4]uint32]int{}
	size := p.Bounds().Size()
	for y := 0; y < size.Y; y += 3 {
		for x := 0; x < size.X; x += 3 {
			point := box{float64(x) - 1, float64(y) - 1, float64(x) + 2, float64(y) + 2}
			if slices.ContainsFunc(d.Cards, point.meets) {
				continue
			}
			r, g, b, a := p.At(x, y).RGBA()
			counts[[4]uint32{r >> 8, g >> 8, b >> 8, a >> 8}]++
		}
	}
	most := 0
	for c, n := range counts {
		if n > most {
			colour, most = c, n
		}
	}
	if most < 20 { // cards lie side by side
		return [4]uint32{9999, 9999, 9999, 9999}
	}
	return colour
}

// Bounds of what sheets are made to.
const (
	leastCard  = 56.0 // pixels of a card's shorter side
	mostPixels = 9e6
)

// spoil saves a sheet as a sheet comes to us: half of them as they were drawn, the others smaller or larger, blurred, with noise,
// saved with loss. Those that were scanned lie askew.
func (a atelier) spoil(h hand, d *drawn, picture image.Image) error {
	raw := filepath.Join(a.folder, fmt.Sprintf("raw-%s-%d.png", d.Style, d.Seed))
	out, err := os.Create(raw)
	if err != nil {
		return err
	}
	defer os.Remove(raw)
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(out, picture); err != nil {
		return err
	}
	if err := out.Close(); err != nil {
		return err
	}
	size := picture.Bounds().Size()
	var args, how []string
	scan := d.Style == "scan"
	if scan || h.with(0.35) {
		short := min(d.Cards[0][2]-d.Cards[0][0], d.Cards[0][3]-d.Cards[0][1])
		by := pick(h, 0.37, 0.5, 0.62, 0.75, 0.9, 1.15, 1.3, 1.6, 2.1)
		if short*by >= leastCard && float64(size.X*size.Y)*by*by <= mostPixels {
			to := image.Pt(int(float64(size.X)*by+0.5), int(float64(size.Y)*by+0.5))
			args, how = append(args, "-resize", fmt.Sprintf("%dx%d!", to.X, to.Y)), append(how, fmt.Sprintf("× %.2f", by))
			d.scaled(float64(to.X)/float64(size.X), float64(to.Y)/float64(size.Y))
			size = to
		}
	}
	if scan || h.with(0.05) && !clear(picture) {
		degrees := h.real(0.3, 1.5) * pick(h, -1.0, 1.0)
		ground := "white"
		if scan {
			ground = pick(h, "white", "gray90", "black")
		}
		args, how = append(args, "-background", ground, "-rotate", fmt.Sprintf("%.3f", degrees), "+repage"), append(how, "turned")
		d.turned(size, degrees)
	}
	if scan || h.with(0.15) {
		by := h.real(0.3, 0.9)
		args, how = append(args, "-blur", fmt.Sprintf("0x%.2f", by)), append(how, fmt.Sprintf("blur %.2f", by))
	}
	if !clear(picture) && (scan || h.with(0.12)) {
		by := h.real(0.05, 0.35)
		args, how = append(args, "-attenuate", fmt.Sprintf("%.2f", by), "+noise", "Gaussian"), append(how, fmt.Sprintf("noise %.2f", by))
	}
	ending := "png"
	if !clear(picture) && h.with(0.4) {
		quality := h.between(40, 95)
		ending, args, how = "jpg", append(args, "-quality", fmt.Sprint(quality)), append(how, fmt.Sprintf("JPEG %d", quality))
	}
	d.File, d.Spoilt = fmt.Sprintf("%s-%d.%s", d.Style, d.Seed, ending), strings.Join(how, ", ")
	file := filepath.Join(a.folder, d.File)
	if len(args) == 0 {
		return os.Rename(raw, file)
	}
	return run(append(append([]string{raw, "-seed", fmt.Sprint(d.Seed)}, args...), "-depth", "8", file)...)
}

// clear reports whether one looks through a picture somewhere.
func clear(p image.Image) bool {
	opaque, is := p.(interface{ Opaque() bool })
	return is && !opaque.Opaque()
}

// read is the file of a sheet.
func (a atelier) read(d *drawn) ([]byte, error) { return os.ReadFile(filepath.Join(a.folder, d.File)) }

// drawAll draws so many sheets of each style from a seed on, on some screens side by side, and hands each out as soon as it is drawn.
func (a atelier) drawAll(ctx context.Context, screens []screen, of []string, from uint64, each int, done func(*drawn)) error {
	type job struct {
		style string
		seed  uint64
	}
	jobs := make(chan job)
	failed := make(chan error, len(screens))
	for _, s := range screens {
		go func() {
			var first error
			for j := range jobs {
				d, err := a.draw(s, j.style, j.seed)
				if err != nil {
					if first == nil {
						first = err
					}
					continue
				}
				done(d)
			}
			failed <- first
		}()
	}
	for seed := range uint64(each) {
		for _, style := range of {
			if ctx.Err() != nil {
				break
			}
			jobs <- job{style, from + seed}
		}
	}
	close(jobs)
	var err error
	for range screens {
		if e := <-failed; e != nil && err == nil {
			err = e
		}
	}
	return err
}
