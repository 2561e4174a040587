package sheets

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"image"
	"image/png"
	"math"
	"strings"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
)

// paper is what a browser draws a sheet on. Cards lie in a grid of its own; lengths are pixels of CSS, of which one is dense pixels.
type paper struct {
	columns, rows  int
	cards          int // fewer than columns × rows: the last row is filled in part
	wide, high     float64
	across, down   float64    // between cards
	around         [4]float64 // left, top, right, bottom
	size           [2]float64 // of a page, on which around are left and top alone; none: as large as the cards and what is around them
	dense          float64
	ground         string  // "": one looks through
	css            string  // of cards
	shade          float64 // how far their shadows reach
	face           face
	outside, marks string // HTML beside the cards, that of words with the class outside
}

// html is the paper as a document.
func (p *paper) html() string {
	var b strings.Builder
	fmt.Fprintf(&b, `<!doctype html><style>*{box-sizing:border-box;margin:0}body{position:relative;width:%.3fpx;height:%.3fpx;overflow:hidden;background:%s;font-family:sans-serif;color:#222}
.grid{position:absolute;left:%.3fpx;top:%.3fpx;display:grid;grid-template-columns:repeat(%d,%.3fpx);grid-auto-rows:%.3fpx;gap:%.3fpx %.3fpx}
.card{position:relative;overflow:hidden;%s}.outside,.mark{position:absolute}</style><div class="grid">`,
		p.size[0], p.size[1], p.backdrop(), p.around[0], p.around[1], p.columns, p.wide, p.high, p.down, p.across, p.css)
	for range p.cards {
		fmt.Fprintf(&b, `<div class="card">%s</div>`, p.face())
	}
	fmt.Fprintf(&b, `</div>%s%s`, p.outside, p.marks)
	return b.String()
}

func (p *paper) backdrop() string {
	if p.ground == "" {
		return "transparent"
	}
	return p.ground
}

// finish counts cards and measures the paper where that is not said.
func (p *paper) finish() {
	if p.cards == 0 {
		p.cards = p.columns * p.rows
	}
	p.rows = (p.cards + p.columns - 1) / p.columns
	if p.size == [2]float64{} {
		p.size = [2]float64{p.around[0] + p.around[2] + p.inner(0), p.around[1] + p.around[3] + p.inner(1)}
	}
	if p.dense == 0 {
		p.dense = 1
	}
}

// inner is how wide, or high, all cards are together.
func (p *paper) inner(direction int) float64 {
	if direction == 0 {
		return float64(p.columns)*p.wide + float64(p.columns-1)*p.across
	}
	return float64(p.rows)*p.high + float64(p.rows-1)*p.down
}

// screen is a browser's tab in which papers are drawn.
type screen struct{ ctx context.Context }

// openScreen starts a browser; it is closed with the context.
func openScreen(ctx context.Context) (screen, context.CancelFunc, error) {
	flags := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.NoSandbox, chromedp.DisableGPU,
		chromedp.Flag("disable-quic", true), chromedp.Flag("disable-background-networking", true),
		chromedp.Flag("disable-component-update", true), chromedp.Flag("disable-sync", true))
	allocator, stop := chromedp.NewExecAllocator(ctx, flags...)
	tab, closeTab := chromedp.NewContext(allocator)
	end := func() { closeTab(); stop() }
	if err := chromedp.Do(tab, chromedp.Navigate("about:blank")); err != nil {
		end()
		return screen{}, nil, err
	}
	return screen{tab}, end, nil
}

// shoot draws a paper: its picture, and where its cards and words are.
func (s screen) shoot(p *paper, d *drawn) (image.Image, error) {
	p.finish()
	size := image.Pt(int(math.Ceil(p.size[0])), int(math.Ceil(p.size[1])))
	if _, err := chromedp.Call(s.ctx, emulation.SetDeviceMetricsOverride, emulation.SetDeviceMetricsOverrideParams{Width: int64(size.X), Height: int64(size.Y), DeviceScaleFactor: p.dense}); err != nil {
		return nil, err
	}
	clear := cdp.RGBA{A: 0.0001} // 0 is left out on the wire, and means 1
	if _, err := chromedp.Call(s.ctx, emulation.SetDefaultBackgroundColorOverride, emulation.SetDefaultBackgroundColorOverrideParams{Color: &clear}); err != nil {
		return nil, err
	}
	text, err := json.Marshal(p.html())
	if err != nil {
		return nil, err
	}
	if err := chromedp.Do(s.ctx, chromedp.Evaluate[chromedp.Void]("document.open(); document.write("+string(text)+"); document.close()")); err != nil {
		return nil, err
	}
	if d.Cards, err = s.boxes("card"); err != nil {
		return nil, err
	}
	if d.Outside, err = s.boxes("outside"); err != nil {
		return nil, err
	}
	d.Columns, d.Rows = p.columns, p.rows
	d.Shade = p.shade
	d.scaled(p.dense, p.dense)
	fast := true
	shot, err := chromedp.Call(s.ctx, page.CaptureScreenshot, page.CaptureScreenshotParams{OptimizeForSpeed: &fast})
	if err != nil {
		return nil, err
	}
	return png.Decode(bytes.NewReader(shot.Data))
}

// boxes are where the elements of a class lie, in pixels of CSS.
func (s screen) boxes(class string) ([]box, error) {
	return chromedp.Run(s.ctx, chromedp.Evaluate[[]box](`[...document.querySelectorAll(".`+class+`")].map(e => { const r = e.getBoundingClientRect(); return [r.left, r.top, r.right, r.bottom] })`))
}
