package sheet

import (
	"damselfly.example/damselfly/internal/core/sheet/guess"
	"damselfly.example/damselfly/internal/core/sheet/pixels"
	"fmt"
	"image"
	"math"
	"slices"
	"strconv"
	"strings"
)

// Report is what a look over a sheet found.
type Report struct {
	Width    int       `json:"width"`
	Height   int       `json:"height"`
	Grid     Grid      `json:"grid"`
	Sure     bool      `json:"sure" doc:"Whether columns and rows were given, or are surely seen."`
	Askew    float64   `json:"askew,omitempty" doc:"How many degrees the picture was turned clockwise when it was scanned."`
	Cells    []Cell    `json:"cells"`
	Guesses  []Guessed `json:"guesses" doc:"What the grid looks like from the picture alone, the best guess first."`
	Warnings []string  `json:"warnings,omitempty"` // of the sheet as a whole
	// a line of cuts runs through content
	Notes []string `json:"notes,omitempty" doc:"What else is to be seen; nothing is refused for it."`

	rims *Grid // what leaves plain rims out that may be the cards' own
}

// Cell is one cell of a report.
type Cell struct {
	Number   int      `json:"cell"`
	Column   int      `json:"column"`
	Row      int      `json:"row"`
	Empty    bool     `json:"empty"`
	Beyond   bool     `json:"beyond,omitempty" doc:"It holds content though it comes after the count. A back or a veil may lie there."`
	Warnings []string `json:"warnings,omitempty"`
}

// Look reads a picture and looks it over, with the best guess where the grid has no
// columns and rows. The error is why the picture or the grid cannot be taken.
func Look(file []byte, g Grid) (image.Image, Report, error) {
	picture, err := Read(file)
	if err != nil {
		return nil, Report{}, err
	}
	r, err := LookOver(picture, g)
	return picture, r, err
}

// LookOver is Look for a picture that was read.
func LookOver(picture image.Image, g Grid) (Report, error) {
	return LookOverUntil(picture, g, never)
}

// LookOverUntil is LookOver that ends with the error of stopped soon after that gives one: a picture of millions of
// pixels takes seconds.
func LookOverUntil(picture image.Image, g Grid, stopped func() error) (Report, error) {
	if g.Columns > 0 && g.Rows > 0 {
		if err := g.Fits(picture.Bounds().Size()); err != nil {
			return Report{}, err
		}
		return checkUntil(picture, g, stopped)
	}
	if err := g.Partly(picture.Bounds().Size()); err != nil {
		return Report{}, err
	}
	seen, err := guess.Look(picture, savedWithLoss(picture), g, stopped)
	if err != nil {
		return Report{}, err
	}
	guesses := seen.Guesses
	best := guesses[0].Grid
	best.Count = g.Count
	if err := best.Fits(picture.Bounds().Size()); err != nil {
		return Report{}, err
	}
	r := check(picture, best, seen)
	r.Sure = guesses[0].Confidence >= Sure && r.Askew == 0
	switch {
	case guesses[0].Smeared:
		r.Warnings = append(r.Warnings, fmt.Sprintf("where cells begin and end is guessed, and not surely, so look at the cuts: the picture was saved with loss, and some edges are not to be seen: %s", alternatives(r.Guesses)))
	case guesses[0].Confidence < Sure:
		r.Warnings = append(r.Warnings, fmt.Sprintf("columns and rows are guessed, and not surely: %s", alternatives(r.Guesses)))
	default:
		r.Notes = append(r.Notes, r.lessLikely()...)
	}
	return r, nil
}

// Doubts are the notes on what else the picture might hold where a guess is sure.
func (r Report) Doubts() []string { return append(r.noteRims(), r.lessLikely()...) }

// worthTelling is from how likely another grid is told beside one that is sure.
const worthTelling = 0.03

// lessLikely notes the other grids that are worth telling, but for those that leave out rims, which have a note of their own.
func (r Report) lessLikely() []string {
	var others []Guessed
	for _, g := range r.Guesses[1:] {
		if g.Confidence >= worthTelling && !g.Rims {
			others = append(others, g)
		}
	}
	if r.Guesses[0].Confidence < Sure || len(others) == 0 {
		return nil
	}
	return []string{"less likely the picture has " + alternatives(others)}
}

// noteRims notes plain rims that may be the sheet's.
func (r Report) noteRims() []string {
	if r.rims == nil {
		return nil
	}
	return []string{fmt.Sprintf("all cells have plain rims; if they are the sheet's and not the cards', give margin %v and gutter %v", r.rims.Margin, r.rims.Gutter)}
}

// alternatives lists the three best guesses: "5 × 3 (60 %), 5 × 6 (40 %)".
func alternatives(guesses []Guessed) string {
	var texts []string
	for _, g := range guesses[:min(len(guesses), 3)] {
		texts = append(texts, fmt.Sprintf("%s (%.0f %%)", g.Words(), g.Confidence*100))
	}
	return strings.Join(texts, "; ")
}

// Content counts the cells that are not empty.
func (r Report) Content() int {
	n := 0
	for _, c := range r.Cells {
		if !c.Empty {
			n++
		}
	}
	return n
}

// Problems lists all warnings, those of cells with the cell's number.
func (r Report) Problems() []string { return r.ProblemsBut(nil) }

// ProblemsBut lists all warnings, but for content beyond the count in cells that are known.
func (r Report) ProblemsBut(known map[int]bool) []string {
	all := append([]string{}, r.Warnings...)
	for _, c := range r.Cells {
		warnings := c.Warnings
		if c.Beyond && !known[c.Number] {
			warnings = append(warnings[:len(warnings):len(warnings)], fmt.Sprintf("holds content, but the sheet is to have %d cards", r.Grid.Count))
		}
		for _, w := range warnings {
			if known[c.Number] && c.Empty {
				continue // it is a plain card
			}
			all = append(all, fmt.Sprintf("cell %d (column %d, row %d): %s", c.Number, c.Column, c.Row, w))
		}
	}
	return all
}

// endCells at the end of a sheet may follow empty ones without a warning:
// a back or a veil may lie there.
const endCells = 2

// Check looks a sheet over with a grid that fits it.
func Check(sheet image.Image, g Grid) Report {
	r, _ := checkUntil(sheet, g, never)
	return r
}

func checkUntil(sheet image.Image, g Grid, stopped func() error) (Report, error) {
	seen, err := guess.Look(sheet, savedWithLoss(sheet), Grid{}, stopped)
	if err != nil {
		return Report{}, err
	}
	r := check(sheet, g, seen)
	r.Sure = true
	return r, nil
}

func check(sheet image.Image, g Grid, seen guess.Seen) Report {
	guesses := seen.Guesses
	size := sheet.Bounds().Size()
	r := Report{Width: size.X, Height: size.Y, Grid: g, Guesses: guesses, Askew: seen.Askew}
	if r.Askew != 0 {
		r.Warnings = append(r.Warnings, fmt.Sprintf("the picture lies askew by %.1f degrees, so that straight cuts go through cards; turn it upright, or scan it again", math.Abs(r.Askew)))
	}
	looks := r.Guesses[0]
	sure, as := looks.Confidence >= Sure, looks.Columns == g.Columns && looks.Rows == g.Rows
	uneven := &r.Warnings
	if sure && as {
		uneven = &r.Notes // a sheet that was scaled
	}
	w, h := g.Usable(size)
	if surplus := w % g.Columns; surplus != 0 {
		*uneven = append(*uneven, fmt.Sprintf("the width does not divide evenly: %d pixels over %d columns leave %d", w, g.Columns, surplus))
	}
	if surplus := h % g.Rows; surplus != 0 {
		*uneven = append(*uneven, fmt.Sprintf("the height does not divide evenly: %d pixels over %d rows leave %d", h, g.Rows, surplus))
	}
	switch {
	case !as && (likely(guesses, looks.Grid) >= 0.5 || likely(guesses, looks.Grid) >= muchLikelier*likely(guesses, g)):
		r.Notes = append(r.Notes, fmt.Sprintf("the picture looks like %s, not %d × %d", looks.InCells(), g.Columns, g.Rows))
	case sure && !looks.Near(g) && !slices.ContainsFunc(guesses, func(other Guessed) bool { return other.Rims && other.Near(g) }):
		r.Notes = append(r.Notes, fmt.Sprintf("the picture looks like margin %v and gutter %v, not %v and %v", looks.Margin, looks.Gutter, g.Margin, g.Gutter))
	}
	if i := slices.IndexFunc(guesses, func(other Guessed) bool { return other.Rims }); i > 0 && sure && looks.Near(g) {
		r.rims = &guesses[i].Grid
		r.Notes = append(r.Notes, r.noteRims()...)
	}
	r.Guesses = slices.DeleteFunc(slices.Clone(guesses), func(g Guessed) bool { return g.Confidence == 0 && g != looks })
	colours := pixels.Colouring(sheet)
	at := func(x, y int) float64 { return colours(x, y).Shade() }
	for number := 1; number <= g.Cells(); number++ {
		cell := Cell{Number: number, Column: (number-1)%g.Columns + 1, Row: (number-1)/g.Columns + 1}
		cell.Empty = empty(colours, g.Cell(size, number))
		r.Cells = append(r.Cells, cell)
	}
	r.warnOfCutsThroughContent(at, seen)
	r.warnOfCount()
	return r
}

// muchLikelier is from how much likelier other columns and rows are that a maker is told of them.
const muchLikelier = 4

// likely is how likely the columns and rows of a grid are, wherever exactly they lie.
func likely(guesses []Guessed, grid Grid) (sum float64) {
	for _, g := range guesses {
		if g.Columns == grid.Columns && g.Rows == grid.Rows {
			sum += g.Confidence
		}
	}
	return sum
}

// warnOfCount compares the cells with content with the count, or without one
// notes empty cells before others: a plain cell that nobody counts is no card.
func (r *Report) warnOfCount() {
	count := r.Grid.Count
	if count == 0 {
		for _, c := range r.Cells[:max(len(r.Cells)-endCells, 0)] {
			if !c.Empty {
				count = c.Number
			}
		}
	}
	var plain []string
	for i := range r.Cells {
		switch c := &r.Cells[i]; {
		case c.Number > count:
			c.Beyond = r.Grid.Count > 0 && !c.Empty
		case c.Empty && r.Grid.Count > 0:
			c.Warnings = append(c.Warnings, fmt.Sprintf("empty, but the sheet is to have %d cards", count))
		case c.Empty:
			plain = append(plain, strconv.Itoa(c.Number))
		}
	}
	if len(plain) > 0 {
		r.Notes = append(r.Notes, fmt.Sprintf("plain cells that are left out, though cells with content come after them: %s", strings.Join(plain, " ")))
	}
}

// emptyShare is how much of an empty cell may differ from its main colour:
// specks of noise, a stray cut mark.
const (
	emptyShare = 0.002
	emptyShade = 14.0
)

// empty reports whether a cell holds nothing but one colour.
func empty(at func(x, y int) pixels.Colour, r image.Rectangle) bool {
	step := max(1, min(r.Dx(), r.Dy())/160)
	r = r.Inset(min(r.Dx(), r.Dy()) / 20) // cut marks and neighbours' bleed
	var points []pixels.Colour
	for y := r.Min.Y; y < r.Max.Y; y += step {
		for x := r.Min.X; x < r.Max.X; x += step {
			points = append(points, at(x, y))
		}
	}
	ground := pixels.MainOf(points)
	far := 0
	for _, c := range points {
		if pixels.ApartBy(c, ground) > emptyShade {
			far++
		}
	}
	return float64(far) <= emptyShare*float64(len(points))
}

// Backs says how a sheet of backs differs from the sheet of fronts it belongs to.
func Backs(fronts, backs Report) (differences []string) {
	if fronts.Grid.Columns != backs.Grid.Columns || fronts.Grid.Rows != backs.Grid.Rows {
		return []string{fmt.Sprintf("the backs are %s, the fronts %d × %d", backs.Grid.InCells(), fronts.Grid.Columns, fronts.Grid.Rows)}
	}
	front, back := fronts.Grid.Cell(image.Pt(fronts.Width, fronts.Height), 1).Size(), backs.Grid.Cell(image.Pt(backs.Width, backs.Height), 1).Size()
	if shape := float64(front.X) / float64(front.Y) * float64(back.Y) / float64(back.X); shape > 1.03 || shape < 1/1.03 {
		differences = append(differences, fmt.Sprintf("the cells of the backs are %d × %d pixels, those of the fronts %d × %d: not one shape", back.X, back.Y, front.X, front.Y))
	}
	for i, c := range fronts.Cells {
		if !c.Empty && backs.Cells[i].Empty {
			differences = append(differences, fmt.Sprintf("cell %d has a front and no back", c.Number))
		}
		if c.Empty && !backs.Cells[i].Empty {
			differences = append(differences, fmt.Sprintf("cell %d has a back and no front", c.Number))
		}
	}
	return differences
}
