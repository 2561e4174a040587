package demo

import (
	"image"
	"image/color"
	"image/draw"
)

// Size of one weather card in pixels; the sheet is 4 × 4 of them.
const (
	wide = 352
	high = 252
)

// sort is what one weather card shows: its name and its air, from bottom to top.
type sort struct {
	name       string
	water, air color.NRGBA
	draw       func(*brush)
}

var weather = []sort{
	{"Calm", color.NRGBA{126, 178, 184, 255}, color.NRGBA{214, 232, 230, 255}, func(b *brush) { b.disc(250, 70, 30, sun); b.reeds(60, 6) }},
	{"Light breeze", color.NRGBA{110, 168, 178, 255}, color.NRGBA{205, 228, 232, 255}, func(b *brush) { b.cloud(110, 70, 1); b.ripples(3); b.reeds(250, 5) }},
	{"Fresh wind", color.NRGBA{88, 148, 164, 255}, color.NRGBA{190, 214, 222, 255}, func(b *brush) { b.cloud(90, 60, 1.1); b.cloud(230, 84, 0.8); b.ripples(6) }},
	{"Fog", color.NRGBA{158, 172, 174, 255}, color.NRGBA{206, 212, 212, 255}, func(b *brush) { b.bands(5, foam) }},
	{"Drizzle", color.NRGBA{112, 146, 158, 255}, color.NRGBA{184, 198, 204, 255}, func(b *brush) { b.cloud(170, 62, 1.5); b.rain(14, 10) }},
	{"Downpour", color.NRGBA{80, 116, 134, 255}, color.NRGBA{150, 168, 178, 255}, func(b *brush) { b.cloud(100, 58, 1.3); b.cloud(240, 64, 1.3); b.rain(34, 22) }},
	{"Storm", color.NRGBA{56, 82, 104, 255}, color.NRGBA{104, 116, 130, 255}, func(b *brush) { b.cloud(170, 60, 1.8); b.bolt(); b.ripples(7) }},
	{"Spring tide", color.NRGBA{70, 138, 150, 255}, color.NRGBA{220, 226, 206, 255}, func(b *brush) { b.disc(90, 74, 26, foam); b.flood(-34); b.ripples(4) }},
	{"Neap tide", color.NRGBA{150, 172, 150, 255}, color.NRGBA{228, 226, 204, 255}, func(b *brush) { b.flood(26); b.reeds(80, 7); b.reeds(230, 7) }},
	{"Night frost", color.NRGBA{72, 96, 128, 255}, color.NRGBA{46, 62, 92, 255}, func(b *brush) { b.disc(262, 66, 22, cloud); b.stars() }},
	{"Low sun", color.NRGBA{196, 138, 98, 255}, color.NRGBA{246, 214, 168, 255}, func(b *brush) { b.disc(176, 150, 46, sun); b.ripples(3) }},
	{"Ice", color.NRGBA{196, 216, 226, 255}, color.NRGBA{224, 234, 240, 255}, func(b *brush) { b.floes() }},
}

// DrawWeather draws the sheet of the weather deck: twelve designs, the empty
// cells 13 and 16, the veil in cell 14 and the back in cell 15.
func DrawWeather() image.Image {
	sheet := image.NewRGBA(image.Rect(0, 0, 4*wide, 4*high))
	draw.Draw(sheet, sheet.Rect, image.White, image.Point{}, draw.Src)
	for i, s := range weather {
		b := newBrush(wide, high)
		b.fill(0, 0, wide, high, s.air)
		b.fill(0, 160, wide, high, s.water)
		s.draw(b)
		b.frame(ink)
		b.label(s.name)
		place(sheet, b, i)
	}
	back := newBrush(wide, high)
	back.fill(0, 0, wide, high, color.NRGBA{38, 84, 92, 255})
	back.waves(color.NRGBA{90, 146, 150, 255}, 40)
	back.frame(paper)
	place(sheet, back, 14)
	veil := newBrush(wide, high)
	veil.fill(0, 0, wide, high, color.NRGBA{92, 104, 108, 255})
	veil.bands(7, color.NRGBA{122, 134, 138, 255})
	veil.frame(paper)
	place(sheet, veil, 13)
	return sheet
}

func place(sheet draw.Image, b *brush, cell int) {
	at := image.Pt(cell%4*wide, cell/4*high)
	draw.Draw(sheet, image.Rectangle{at, at.Add(image.Pt(wide, high))}, b.on, image.Point{}, draw.Src)
}

func (b *brush) cloud(x, y, size float64) {
	for _, part := range [][3]float64{{-34, 8, 20}, {-12, -4, 26}, {16, -2, 24}, {38, 10, 17}} {
		b.disc(x+part[0]*size, y+part[1]*size, part[2]*size, cloud)
	}
	b.shape(cloud, x-36*size, y+8*size, x+40*size, y+8*size, x+40*size, y+27*size, x-36*size, y+27*size)
}

func (b *brush) rain(n int, length float64) {
	for i := range n {
		x, y := float64(30+(i*73)%300), float64(104+(i*41)%90)
		b.shape(foam, x, y, x+2.5, y, x-length/3+2.5, y+length, x-length/3, y+length)
	}
}

func (b *brush) bolt() {
	b.shape(sun, 186, 96, 160, 150, 178, 150, 158, 204, 208, 138, 188, 138, 204, 96)
}

func (b *brush) ripples(n int) {
	for i := range n {
		x, y := float64(34+(i*97)%250), float64(174+(i*23)%58)
		b.shape(foam, x, y, x+20, y-5, x+44, y, x+20, y-1.5)
	}
}

func (b *brush) reeds(x float64, n int) {
	for i := range n {
		left, top := x+float64(i)*9, 122+float64(i*i*7%31)
		b.shape(reed, left, 188, left+3, 188, left+5, top, left+2, top)
		b.disc(left+3.5, top, 4.2, color.NRGBA{112, 78, 52, 255})
	}
}

func (b *brush) bands(n int, c color.NRGBA) {
	for i := range n {
		y := 18 + i*(high-36)/n
		b.fill(float64(18+(i*53)%60), float64(y), float64(wide-18-(i*37)%70), float64(y+(high-36)/n/2), c)
	}
}

// flood moves the waterline: up where negative.
func (b *brush) flood(by float64) {
	c := color.NRGBA{86, 150, 160, 255}
	if by > 0 {
		c = color.NRGBA{186, 168, 126, 255}
	}
	b.shape(c, 0, 160+min(by, 0), wide, 160+min(by, 0), wide, 160+max(by, 0)+8, 0, 160+max(by, 0))
}

func (b *brush) stars() {
	for i := range 16 {
		b.disc(float64(26+(i*83)%300), float64(26+(i*47)%120), 1.4+float64(i%3)*0.6, foam)
	}
}

func (b *brush) floes() {
	for i := range 6 {
		x, y := float64(30+(i*61)%260), float64(172+(i*29)%52)
		b.shape(foam, x, y, x+30, y-9, x+58, y-2, x+44, y+8, x+10, y+9)
	}
}
