package deck

import "image"

// share says how much of a source line falls into a line of the smaller picture,
// and into the next.
type share struct {
	to         int
	here, next float32
}

// shares divides n lines among fewer: every smaller line is the mean of what it
// covers.
func shares(n, fewer int) []share {
	all := make([]share, n)
	scale := float32(fewer) / float32(n)
	for i := range all {
		to := i * fewer / n
		over := max(0, float32(i+1)*scale-float32(to+1)) // what reaches into the next line
		if to == fewer-1 {
			over = 0
		}
		all[i] = share{to, scale - over, over}
	}
	return all
}

// shrink scales a picture down: each pixel is the mean of the area it covers,
// weighed by opacity. It does what x/image does for any scale and kernel some eight
// times faster, which is what keeps cutting within its measure.
func shrink(from *image.NRGBA, wide, high int) *image.NRGBA {
	to := image.NewNRGBA(image.Rect(0, 0, wide, high))
	across, down := shares(from.Rect.Dx(), wide), shares(from.Rect.Dy(), high)
	row, now, next := make([]float32, 4*wide+4), make([]float32, 4*wide), make([]float32, 4*wide)
	for y, line := range down {
		shrinkRow(row, from.Pix[y*from.Stride:y*from.Stride+4*len(across)], across)
		for i, v := range row[:4*wide] {
			now[i] += v * line.here
		}
		if line.next > 0 {
			for i, v := range row[:4*wide] {
				next[i] += v * line.next
			}
		}
		if y+1 == len(down) || down[y+1].to != line.to {
			unweigh(to.Pix[line.to*to.Stride:], now)
			now, next = next, now
			clear(next)
		}
	}
	return to
}

// shrinkRow shrinks one line of pixels, its colours weighed by opacity.
func shrinkRow(row []float32, pixels []uint8, across []share) {
	clear(row)
	for x, s := range across {
		p := pixels[4*x : 4*x+4 : 4*x+4]
		r, g, b, a := float32(p[0]), float32(p[1]), float32(p[2]), float32(p[3])
		if p[3] != 255 {
			r, g, b = r*a/255, g*a/255, b*a/255
		}
		at := row[4*s.to : 4*s.to+8 : 4*s.to+8]
		at[0] += r * s.here
		at[1] += g * s.here
		at[2] += b * s.here
		at[3] += a * s.here
		at[4] += r * s.next
		at[5] += g * s.next
		at[6] += b * s.next
		at[7] += a * s.next
	}
}

// unweigh turns colours weighed by opacity into pixels.
func unweigh(pixels []uint8, row []float32) {
	for i := 0; i < len(row); i += 4 {
		a := row[i+3]
		if a < 0.5 {
			continue
		}
		weigh := 255 / a
		for c := range 3 {
			pixels[i+c] = uint8(min(row[i+c]*weigh+0.5, 255))
		}
		pixels[i+3] = uint8(min(a+0.5, 255))
	}
}
