package sheet

import (
	"cmp"
	"fmt"
	"image"
	"math"
	"runtime"
	"slices"
	"strings"
	"sync"
	"sync/atomic"

	"golang.org/x/image/draw"
	"golang.org/x/sync/errgroup"
)

// Source is a loose picture to be packed. It is opened only where it has to be
// drawn.
type Source struct {
	File string
	Hash string // of its bytes; the same hash is the same picture
	Size image.Point
	Open func() (image.Image, error)
}

// Pack says how loose pictures become sheets. The zero value chooses everything.
type Pack struct {
	Columns, Rows int    // 0: chosen, to fill well
	Lie           string // upright or landscape: how the cards lie; as most of the pictures do if left out
	Fit           bool   // pictures of another shape are fitted into the card with a rim, not refused
	Longest       int    // of a sheet's sides, in pixels; DefaultLongest if 0
}

// DefaultLongest is how long a side of a packed sheet is at most.
const DefaultLongest = 8192

// sameShape is by how much the shapes of pictures may differ without a rim.
const sameShape = 1.01

// OddError names pictures that have not the shape of the others.
type OddError struct {
	Card image.Point
	Odd  []string
}

func (e *OddError) Error() string {
	return fmt.Sprintf("the cards are %d × %d pixels, but %s; mend them, or have them fitted", e.Card.X, e.Card.Y, strings.Join(e.Odd, ", "))
}

// Plan is a sheet that is to be packed: its list says what goes where.
type Plan struct {
	List    List
	sources []Source // as listed
	size    image.Point
}

// Packed is a sheet of packed pictures with all that is needed to cut it and to
// pack it again.
type Packed struct {
	List  List
	Sheet *image.NRGBA
	Drawn int // how many cells had to be drawn anew
}

// Former is a sheet that was packed before. It is opened only where a cell of it is wanted.
type Former struct {
	List List
	Open func() (image.Image, error)
}

// Sheets packs pictures, in their order, into one sheet or several. Former
// packings are used for what has not changed.
func (p Pack) Sheets(sources []Source, former ...Former) ([]Packed, error) {
	plans, err := p.Plan(sources)
	if err != nil {
		return nil, err
	}
	packed := make([]Packed, len(plans))
	for i, plan := range plans {
		if packed[i], err = plan.Draw(former...); err != nil {
			return nil, err
		}
	}
	return packed, nil
}

// Plan divides pictures, in their order, among sheets, without opening them.
func (p Pack) Plan(sources []Source) ([]Plan, error) {
	if len(sources) == 0 {
		return nil, fmt.Errorf("there are no pictures to pack")
	}
	card := p.card(sources)
	if odd := oddOnes(sources, card); len(odd) > 0 && !p.Fit {
		return nil, &OddError{card, odd}
	}
	groups, err := p.groups(sources, card)
	if err != nil {
		return nil, err
	}
	plans := make([]Plan, len(groups))
	for i, group := range groups {
		if plans[i], err = p.plan(group, card); err != nil {
			return nil, err
		}
	}
	return plans, nil
}

// card is the size that most of the pictures have, as the cards lie.
func (p Pack) card(sources []Source) image.Point {
	landscape := 0
	for _, s := range sources {
		if s.Size.X > s.Size.Y {
			landscape++
		}
	}
	lies := p.Lie == "landscape" || p.Lie == "" && 2*landscape > len(sources)
	counts := map[image.Point]int{}
	most := image.Point{}
	for _, s := range sources {
		size := image.Pt(min(s.Size.X, s.Size.Y), max(s.Size.X, s.Size.Y))
		if lies {
			size.X, size.Y = size.Y, size.X
		}
		counts[size]++
		if most == (image.Point{}) || counts[size] > counts[most] || counts[size] == counts[most] && size.X > most.X {
			most = size
		}
	}
	return most
}

// sideways reports whether a picture has to be turned to lie as the cards do.
func sideways(size, card image.Point) bool {
	return size.X > size.Y && card.X < card.Y || size.X < size.Y && card.X > card.Y
}

// oddOnes names the pictures of another shape than the card.
func oddOnes(sources []Source, card image.Point) (odd []string) {
	for _, s := range sources {
		size := s.Size
		if sideways(size, card) {
			size.X, size.Y = size.Y, size.X
		}
		if shape := float64(size.X) / float64(size.Y) * float64(card.Y) / float64(card.X); shape > sameShape || shape < 1/sameShape {
			odd = append(odd, fmt.Sprintf("%s is %d × %d", s.File, s.Size.X, s.Size.Y))
		}
	}
	return odd
}

// groups divides the pictures among sheets, evenly: as few as hold them at their own size. Cards
// are scaled down only where a sheet's limit leaves no room for the columns and rows asked for.
func (p Pack) groups(sources []Source, card image.Point) ([][]Source, error) {
	unavoidable := p.scale(Grid{Columns: max(p.Columns, 1), Rows: max(p.Rows, 1)}, card)
	var err error
	for sheets := 1; sheets <= len(sources); sheets++ {
		each := (len(sources) + sheets - 1) / sheets
		var g Grid
		if g, err = p.grid(each, card); err == nil && (p.scale(g, card) >= unavoidable || each == 1) {
			return slices.Collect(slices.Chunk(sources, each)), nil
		}
	}
	return nil, err
}

// grid chooses columns and rows for a number of cards: least scaled down, then
// fewest cells left empty, then the squarest sheet.
func (p Pack) grid(cards int, card image.Point) (Grid, error) {
	best, bestScore := Grid{}, math.Inf(-1)
	for columns := 1; columns <= cards; columns++ {
		rows := (cards + columns - 1) / columns
		if p.Rows > 0 {
			rows = max(rows, p.Rows)
		}
		if p.Columns > 0 && columns != p.Columns || p.Rows > 0 && rows != p.Rows {
			continue
		}
		g := Grid{Columns: columns, Rows: rows, Count: cards}
		wide, high := float64(columns*card.X), float64(rows*card.Y)
		score := p.scale(g, card) + 0.5*float64(cards)/float64(g.Cells()) + 0.2*min(wide, high)/max(wide, high)
		if score > bestScore {
			best, bestScore = g, score
		}
	}
	if p.Columns > cards && (p.Rows == 0 || p.Rows*p.Columns >= cards) { // more columns than cards, as asked
		best = Grid{Columns: p.Columns, Rows: max(p.Rows, 1), Count: cards}
	}
	if best.Columns == 0 {
		return Grid{}, fmt.Errorf("%d cards do not fit into %d columns × %d rows", cards, p.Columns, p.Rows)
	}
	if best.Cells() > MaxCells {
		return Grid{}, fmt.Errorf("a sheet has %d cells at most; %d were asked for", MaxCells, best.Cells())
	}
	return best, nil
}

// scale is by how much cards are scaled so that a sheet stays within its limit.
func (p Pack) scale(g Grid, card image.Point) float64 {
	longest := cmp.Or(p.Longest, DefaultLongest)
	return min(1, float64(longest/g.Columns)/float64(card.X), float64(longest/g.Rows)/float64(card.Y))
}

// plan says what goes where on one sheet.
func (p Pack) plan(sources []Source, card image.Point) (Plan, error) {
	g, err := p.grid(len(sources), card)
	if err != nil {
		return Plan{}, err
	}
	scale := p.scale(g, card)
	size := image.Pt(max(8, int(float64(card.X)*scale)), max(8, int(float64(card.Y)*scale)))
	plan := Plan{
		sources: sources,
		size:    image.Pt(g.Columns*size.X, g.Rows*size.Y),
		List:    List{Columns: g.Columns, Rows: g.Rows, Count: g.Count, Card: [2]int{size.X, size.Y}, Scale: math.Round(scale*1000) / 1000},
	}
	for i, s := range sources {
		plan.List.Sources = append(plan.List.Sources, Listed{Cell: i + 1, File: s.File, Hash: s.Hash, Size: [2]int{s.Size.X, s.Size.Y}, Turned: sideways(s.Size, card)})
	}
	return plan, nil
}

// Draw draws the sheet, on all cores. Cells that a former one has are taken from there.
func (p Plan) Draw(former ...Former) (Packed, error) {
	packed := Packed{List: p.List, Sheet: image.NewNRGBA(image.Rectangle{Max: p.size})}
	before := cellsOf(former, p.List)
	var drawn atomic.Int64
	var all errgroup.Group
	all.SetLimit(runtime.GOMAXPROCS(0))
	for i, listed := range p.List.Sources {
		all.Go(func() error {
			to := packed.Sheet.SubImage(p.List.Grid().Cell(p.size, listed.Cell)).(*image.NRGBA)
			if cell := before[listed.Hash]; cell != nil {
				if old := cell(); old != nil {
					copyPixels(to, old)
					return nil
				}
			}
			picture, err := p.sources[i].Open()
			if err != nil {
				return err
			}
			if listed.Turned {
				picture = turned(picture, 6) // a quarter clockwise
			}
			drawInto(to, picture)
			drawn.Add(1)
			return nil
		})
	}
	err := all.Wait()
	packed.Drawn = int(drawn.Load())
	return packed, err
}

// cellsOf are the cells of former sheets that can be taken for a new one, by the hashes of the
// pictures on them; nil where the sheet is not what its list says.
func cellsOf(former []Former, list List) map[string]func() *image.NRGBA {
	cells := map[string]func() *image.NRGBA{}
	for _, f := range former {
		if f.List.Card != list.Card || f.List.Scale != list.Scale {
			continue
		}
		grid := f.List.Grid()
		open := sync.OnceValue(func() image.Image {
			picture, err := f.Open()
			if err != nil || picture.Bounds().Size() != image.Pt(list.Card[0]*grid.Columns, list.Card[1]*grid.Rows) {
				return nil
			}
			return picture
		})
		for _, s := range f.List.Sources {
			cells[s.Hash] = func() *image.NRGBA {
				if picture := open(); picture != nil {
					return Cut(picture, grid, s.Cell)
				}
				return nil
			}
		}
	}
	return cells
}

// drawInto draws a picture as large as it fits, in the middle. At its own size it
// is copied, so that cutting gives the very same pixels.
func drawInto(to *image.NRGBA, picture image.Image) {
	from, room := picture.Bounds().Size(), to.Rect.Size()
	if from == room {
		copyPixels(to, NRGBA(picture))
		return
	}
	scale := min(float64(room.X)/float64(from.X), float64(room.Y)/float64(from.Y))
	size := image.Pt(int(math.Round(float64(from.X)*scale)), int(math.Round(float64(from.Y)*scale)))
	if room.X-size.X <= 2 && room.Y-size.Y <= 2 { // a rounding's rim is none
		size = room
	}
	at := to.Rect.Min.Add(room.Sub(size).Div(2))
	draw.CatmullRom.Scale(to, image.Rectangle{at, at.Add(size)}, picture, picture.Bounds(), draw.Src, nil)
}

// copyPixels copies a picture of the same size.
func copyPixels(to, from *image.NRGBA) {
	for y := range to.Rect.Dy() {
		copy(to.Pix[y*to.Stride:y*to.Stride+4*to.Rect.Dx()], from.Pix[y*from.Stride:y*from.Stride+4*from.Rect.Dx()])
	}
}
