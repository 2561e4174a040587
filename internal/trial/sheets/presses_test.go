package sheets

import (
	"fmt"
	"image"
	"os"
	"os/exec"
	"path/filepath"
	"strings"

	"golang.org/x/image/font/gofont/goitalic"
)

// press is what ImageMagick puts a sheet together from: pictures of one size, in rows.
type press struct {
	columns, rows, cards int
	wide, high           int
	across, down         int
	around               [4]int
	ground               string
	card                 func() []string // what draws one of the size
}

// presses are the styles that ImageMagick makes.
var presses = map[string]func(h hand) *press{
	"plasma": func(h hand) *press {
		p := h.press(0.7)
		p.card = func() []string { return []string{p.of(), "plasma:" + h.named() + "-" + h.named()} }
		return p
	},
	"plasma-framed": func(h hand) *press {
		p, frame, wide := h.press(0.7), h.named(), h.between(3, 9)
		p.card = func() []string {
			return []string{"-size", fmt.Sprintf("%dx%d", p.wide-2*wide, p.high-2*wide), "plasma:" + h.named() + "-" + h.named(), "-bordercolor", frame, "-border", fmt.Sprint(wide)}
		}
		return p
	},
	"faded": func(h hand) *press {
		p := h.press(pick(h, 0.7, 1))
		p.card = func() []string {
			return []string{p.of(), pick(h, "gradient:", "radial-gradient:") + h.named() + "-" + h.named()}
		}
		return p
	},
	"captioned": func(h hand) *press {
		p, paper := h.press(0.7), pick(h, "ivory", "white", "lavender", "honeydew")
		p.card = func() []string {
			inner := fmt.Sprintf("%dx%d", p.wide*8/10, p.high*8/10)
			return []string{"-background", paper, "-fill", "gray15", "-size", inner, "-pointsize", fmt.Sprint(max(8, p.wide/11)), "caption:" + h.name() + ". " + h.says(2), "-gravity", "center", "-extent", fmt.Sprintf("%dx%d", p.wide, p.high), "-gravity", "northwest", "-bordercolor", "gray40", "-shave", "1x1", "-border", "1"}
		}
		return p
	},
	"weave": func(h hand) *press {
		p := h.press(0.7)
		p.card = func() []string {
			return []string{p.of(), "pattern:" + pick(h, "checkerboard", "crosshatch45", "bricks", "fishscales", "hexagons", "leftshingle", "octagons"), "+level-colors", h.named() + "," + h.named()}
		}
		return p
	},
	"drawn-shapes": func(h hand) *press {
		p, paper := h.press(0.7), pick(h, "white", "ivory", "azure")
		p.ground = paper
		p.card = func() []string {
			args := []string{p.of(), "xc:" + paper, "-fill", "none", "-stroke", "gray25", "-draw", fmt.Sprintf("rectangle 0,0 %d,%d", p.wide-1, p.high-1)}
			for range h.between(2, 6) {
				x, y, r := h.between(10, p.wide-10), h.between(10, p.high-10), h.between(4, p.wide/4)
				args = append(args, "-fill", h.named(), "-draw", fmt.Sprintf(pick(h, "circle %d,%d %d,%d", "rectangle %d,%d %d,%d"), x, y, min(x+r, p.wide-4), min(y+r/2, p.high-4)))
			}
			return args
		}
		return p
	},
	"dithered": func(h hand) *press {
		p := h.press(0.7)
		p.card = func() []string {
			return []string{p.of(), "plasma:", "-colorspace", "gray", "-ordered-dither", "o4x4", "-bordercolor", "black", "-shave", "2x2", "-border", "2"}
		}
		return p
	},
	"polaroid": func(h hand) *press {
		p := h.press(0.85)
		p.ground = pick(h, "gray70", "burlywood", "gray30")
		p.across, p.down = h.between(6, 20), h.between(6, 20)
		p.card = func() []string {
			return []string{"-size", fmt.Sprintf("%dx%d", p.wide-16, p.high-40), "plasma:" + h.named() + "-" + h.named(), "-background", "white", "-gravity", "north", "-splice", "0x8", "-gravity", "north", "-extent", fmt.Sprintf("%dx%d", p.wide, p.high), "-gravity", "northwest"}
		}
		return p
	},
	"inked": func(h hand) *press {
		p := h.press(0.7)
		p.ground = "white"
		p.card = func() []string {
			return []string{p.of(), "plasma:", "-colorspace", "gray", "-threshold", fmt.Sprintf("%d%%", h.between(35, 65)), "-shave", "4x4", "-bordercolor", "white", "-border", "2", "-bordercolor", "black", "-border", "2"}
		}
		return p
	},
	"scan": func(h hand) *press {
		p, paper := h.press(0.7), pick(h, "ivory", "white", "cornsilk")
		p.ground, p.across, p.down = pick(h, "gray96", "gray80", "gray25"), h.between(8, 30), h.between(8, 30)
		p.around = [4]int{h.between(20, 60), h.between(20, 60), h.between(20, 60), h.between(20, 60)}
		p.card = func() []string {
			return []string{"-size", fmt.Sprintf("%dx%d", p.wide-12, p.high/2), "plasma:" + h.named() + "-" + h.named(), "-background", paper, "-gravity", "north", "-splice", "0x6", "-extent", fmt.Sprintf("%dx%d", p.wide, p.high), "-gravity", "northwest", "-fill", "gray20", "-pointsize", fmt.Sprint(max(8, p.wide/12)), "-draw", fmt.Sprintf("text 8,%d '%s'", p.high*7/10, h.name()), "-bordercolor", "gray35", "-shave", "2x2", "-border", "2"}
		}
		return p
	},
}

// inks are colours by name, as ImageMagick knows them.
var inks = strings.Fields("firebrick steelblue olivedrab goldenrod sienna teal orchid slategray darkgreen tomato khaki navy plum peru seagreen indianred lightskyblue maroon thistle tan")

func (h hand) named() string { return pick(h, inks...) }

func (h hand) press(shape float64) *press {
	short := h.between(90, 190)
	p := &press{columns: h.between(2, 6), rows: h.between(2, 4), wide: short, high: int(float64(short) / shape), ground: pick(h, "white", "white", "black", "gray60", "transparent", "wheat")}
	if h.with(0.2) {
		p.wide, p.high = p.high, p.wide
	}
	if h.with(0.45) {
		p.across, p.down = h.between(3, 22), h.between(3, 22)
	}
	if h.with(0.4) {
		p.around = [4]int{h.between(4, 50), h.between(4, 50), h.between(4, 50), h.between(4, 50)}
	}
	p.cards = p.columns * p.rows
	if h.with(0.25) {
		p.cards -= h.between(1, p.columns-1)
	}
	return p
}

func (p *press) of() string { return fmt.Sprintf("-size%dx%d", p.wide, p.high) }

// make runs ImageMagick: the sheet's picture, and where its cards are.
func (p *press) make(d *drawn, folder string) (image.Image, error) {
	size := image.Pt(p.around[0]+p.around[2]+p.columns*p.wide+(p.columns-1)*p.across, p.around[1]+p.around[3]+p.rows*p.high+(p.rows-1)*p.down)
	letters := filepath.Join(folder, "letters.ttf") // ImageMagick has none of its own
	if err := os.WriteFile(letters, goitalic.TTF, 0o644); err != nil {
		return nil, err
	}
	args := []string{"-font", letters, "-seed", fmt.Sprint(d.Seed), "-size", fmt.Sprintf("%dx%d", size.X, size.Y), "xc:" + p.ground}
	for i := range p.cards {
		x, y := p.around[0]+i%p.columns*(p.wide+p.across), p.around[1]+i/p.columns*(p.high+p.down)
		args = append(args, "(", "-seed", fmt.Sprint(d.Seed*100+uint64(i)))
		for _, arg := range p.card() {
			if rest, is := strings.CutPrefix(arg, "-size"); is && rest != "" {
				args = append(args, "-size", rest)
				continue
			}
			args = append(args, arg)
		}
		args = append(args, "+repage", ")", "-geometry", fmt.Sprintf("+%d+%d", x, y), "-composite")
		d.Cards = append(d.Cards, box{float64(x), float64(y), float64(x + p.wide), float64(y + p.high)})
	}
	d.Columns, d.Rows = p.columns, p.rows
	file := filepath.Join(folder, fmt.Sprintf("raw-%s-%d.png", d.Style, d.Seed))
	defer os.Remove(file)
	if err := run(append(args, "-depth", "8", file)...); err != nil {
		return nil, err
	}
	return decoded(file)
}

func run(args ...string) error {
	if out, err := exec.Command("convert", args...).CombinedOutput(); err != nil {
		return fmt.Errorf("convert %q: %w: %s", args, err, out)
	}
	return nil
}
