package demo

import (
	"image"
	"image/color"
	"math"
	"strings"
)

func sine(x float64) float64 { return math.Sin(x) }

// drawLetterBack draws what is on the back of all letters: a sealed envelope.
func drawLetterBack() image.Image {
	b := newBrush(uprightWide, uprightHigh)
	b.all(color.NRGBA{222, 200, 164, 255})
	shade := color.NRGBA{200, 174, 134, 255}
	b.shape(shade, 0, 0, b.wide/2, b.high*0.55, b.wide, 0)
	b.line(0, 0, b.wide/2, b.high*0.55, 4, wood)
	b.line(b.wide, 0, b.wide/2, b.high*0.55, 4, wood)
	b.line(0, b.high, b.wide*0.36, b.high*0.42, 3, shade)
	b.line(b.wide, b.high, b.wide*0.64, b.high*0.42, 3, shade)
	b.disc(b.wide/2, b.high*0.55, 44, brick)
	b.disc(b.wide/2, b.high*0.55, 34, color.NRGBA{196, 100, 80, 255})
	scaled(b, motifs()["boat"], b.wide/2-25, b.high*0.55-27, 0.5)
	b.frame(wood)
	return b.on
}

// drawErrandBack draws what is on the back of all errands.
func drawErrandBack() image.Image {
	b := newBrush(uprightWide, uprightHigh)
	b.all(color.NRGBA{72, 96, 84, 255})
	b.waves(color.NRGBA{98, 124, 108, 255}, 48)
	b.oval(b.wide/2, b.high/2, 104, 104, paper)
	scaled(b, motifs()["lantern"], b.wide/2-80, b.high/2-80, 1.6)
	b.frame(paper)
	return b.on
}

// errand is a small task of the post.
type errand struct {
	name  string
	motif string
	lies  bool // its picture lies on its side, as it was scanned
}

var errands = []errand{
	{"Caulk the skiff", "boat", false}, {"Trim the lamps", "lantern", false}, {"Count the herons", "heron", false},
	{"Mend the jetty", "reeds", true}, {"Wake the lockkeeper", "moon", false}, {"Chase the otter", "otter", false},
	{"Cut new reeds", "reeds", false}, {"Light the far buoy", "lantern", false}, {"Ferry the doctor", "boat", false},
	{"Feed the heron", "heron", true}, {"Sound the channel", "otter", false}, {"Borrow a sail", "boat", false},
	{"Wait for the moon", "moon", false}, {"Sort the sacks", "lantern", false}, {"Read the tide board", "reeds", false},
}

func (e errand) file() string { return strings.ReplaceAll(strings.ToLower(e.name), " ", "-") }

func drawErrand(i int, e errand) image.Image {
	b := newBrush(uprightWide, uprightHigh)
	ground := grounds[i%4]
	b.all(ground)
	b.fill(0, 360, b.wide, b.high, color.NRGBA{ground.R - 50, ground.G - 46, ground.B - 50, 255})
	b.oval(b.wide/2, 220, 138, 138, paper)
	scaled(b, motifs()[e.motif], 60, 96, 2.4)
	b.frame(ink)
	height := 38.0
	b.fill(20, 396, b.wide-20, 470, paper)
	for newBrush(1, 1).write(e.name, 0, 0, height, ink) > b.wide/2-34 {
		height--
	}
	b.write(e.name, b.wide/2, 433+height*0.35, height, ink)
	if !e.lies {
		return b.on
	}
	side := image.NewRGBA(image.Rect(0, 0, uprightHigh, uprightWide))
	for y := range uprightHigh {
		for x := range uprightWide {
			side.SetRGBA(y, uprightWide-1-x, b.on.RGBAAt(x, y)) // a quarter against the clock
		}
	}
	return side
}

// drawPlainBack draws a back of one colour with a motif in its middle.
func drawPlainBack(wide, high int, c color.NRGBA, name string) image.Image {
	b := newBrush(wide, high)
	b.all(c)
	b.oval(b.wide/2, b.high/2, b.high*0.36, b.high*0.36, paper)
	scaled(b, motifs()[name], b.wide/2-b.high*0.25, b.high*0.25, b.high*0.005)
	return b.on
}
