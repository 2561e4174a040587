package kit

import (
	"bytes"
	"cmp"
	"errors"
	"fmt"
	"image"
	"maps"
	"slices"

	"damselfly/internal/core/deck"
	"damselfly/internal/core/sheet"
	"damselfly/internal/core/table"
)

// Made is a kit whose sheets are cut: all that laying a table needs, beside
// the pictures. As JSON it is what an edition keeps.
type Made struct {
	Name  string     `json:"name"`
	About string     `json:"about"`
	Seats int        `json:"seats"`
	Decks []MadeDeck `json:"decks"`
	Table Table      `json:"table"`

	Tokens map[string][]table.Picture `json:"tokens,omitempty"` // sides by piece key
}

// MadeDeck is a deck with its pictures, and its copies in the order of its
// designs.
type MadeDeck struct {
	table.Deck
	Copies []Copies `json:"copies"`
}

// Copies is how often a design is in a deck.
type Copies struct {
	Design string `json:"design"`
	Copies int    `json:"copies"`
}

// Cards is how many cards the deck has.
func (d MadeDeck) Cards() int {
	n := 0
	for _, c := range d.Copies {
		n += c.Copies
	}
	return n
}

// Result is a kit that was made: what to keep, its pictures, and what looked
// wrong though it could be made.
type Result struct {
	Made     Made
	Pictures deck.Pictures
	Warnings []string
}

// Make reads, checks and cuts the sheets of a kit. The error joins every
// mistake found, and the warnings that may explain them; then there is no
// result.
func (k *Kit) Make() (*Result, error) {
	m := &maker{kit: k, sheets: map[string]*opened{}, result: &Result{Pictures: deck.Pictures{}}}
	for _, name := range slices.Sorted(maps.Keys(k.Sheets)) {
		m.open(name)
	}
	if len(m.mistakes) == 0 {
		for _, key := range slices.Sorted(maps.Keys(k.Decks)) {
			m.deck(key)
		}
		m.warnOfUnusedCells()
		m.tokens()
	}
	if len(m.mistakes) > 0 {
		for _, w := range m.result.Warnings { // often the cause: a cell is empty because the grid is wrong
			m.mistakes = append(m.mistakes, errors.New("warning: "+w))
		}
		return nil, errors.Join(m.mistakes...)
	}
	m.result.Made.Name, m.result.Made.About, m.result.Made.Seats = k.Name, k.About, k.Seats
	m.result.Made.Table = k.Table
	return m.result, nil
}

// maker is a kit being made.
type maker struct {
	kit      *Kit
	sheets   map[string]*opened
	result   *Result
	mistakes []error
}

// opened is a sheet that was read and looked over.
type opened struct {
	picture *image.NRGBA
	report  sheet.Report
	used    map[int]bool
}

func (m *maker) mistake(path, format string, args ...any) {
	m.mistakes = append(m.mistakes, m.kit.mistake(path, format, args...))
}

func (m *maker) warn(format string, args ...any) {
	m.result.Warnings = append(m.result.Warnings, fmt.Sprintf(format, args...))
}

func (m *maker) open(name string) {
	s := m.kit.Sheets[name]
	picture, err := m.picture(s.File)
	if err != nil {
		m.mistakes = append(m.mistakes, err)
		return
	}
	grid := s.Grid()
	if grid.Columns == 0 {
		guess := sheet.Guess(picture)[0]
		grid = guess.Grid
		m.warn("%s: columns and rows are guessed: %d × %d", s.File, grid.Columns, grid.Rows)
	}
	if err := grid.Fits(picture.Rect.Size()); err != nil {
		m.mistake("$.sheets."+name, "%s: %s", s.File, err)
		return
	}
	report := sheet.Check(picture, grid)
	for _, problem := range report.Problems() {
		m.warn("%s: %s", s.File, problem)
	}
	m.sheets[name] = &opened{picture, report, map[int]bool{}}
}

func (m *maker) picture(file string) (*image.NRGBA, error) {
	text, err := readFile(m.kit.folder, file, MaxFile)
	if err != nil {
		return nil, err
	}
	picture, err := sheet.Read(text)
	if err != nil {
		return nil, &Mistake{File: file, Text: err.Error()}
	}
	return picture, nil
}

func (m *maker) deck(key string) {
	d, path := m.kit.Decks[key], "$.decks."+key
	from := m.sheets[d.Sheet]
	made := MadeDeck{Deck: table.Deck{
		Key: key, Name: key, Outline: cmp.Or(d.Outline, "rounded"), Home: table.PlaceID(d.Home), Designs: map[string]table.Design{},
	}}
	cell := from.report.Grid.Cell(from.picture.Rect.Size(), 1)
	made.Wide, made.High = m.size(path, d, cell)
	before := len(m.mistakes)
	back := m.face(path+".back", from, d.Back, d.Sheet)
	if d.Veil != nil {
		made.Veil = m.face(path+".veil", from, *d.Veil, d.Sheet)
	}
	for i, design := range m.designs(d, from) {
		if !m.use(fmt.Sprintf("%s.designs[%d]", path, i), from, design.Cell, d.Sheet) {
			continue
		}
		made.Designs[design.Key] = table.Design{
			Key: design.Key, Name: cmp.Or(design.Name, design.Key), Back: back,
			Front: m.result.Pictures.AddCell(from.picture, from.report.Grid, design.Cell), Fields: texts(design.Fields),
		}
		made.Copies = append(made.Copies, Copies{design.Key, design.copies()})
	}
	if made.Cards() == 0 && len(m.mistakes) == before {
		m.mistake(path, "the deck %q has no cards", key)
	}
	m.result.Made.Decks = append(m.result.Made.Decks, made)
}

// texts writes the values of fields as YAML writes them.
func texts(fields map[string]any) map[string]string {
	if len(fields) == 0 {
		return nil
	}
	all := map[string]string{}
	for name, value := range fields {
		all[name] = fmt.Sprint(value)
	}
	return all
}

// tokens stores the pictures of tokens.
func (m *maker) tokens() {
	for _, p := range m.kit.Table.Pieces {
		for _, file := range p.Files {
			picture, err := m.picture(file)
			if err != nil {
				m.mistakes = append(m.mistakes, err)
				continue
			}
			if m.result.Made.Tokens == nil {
				m.result.Made.Tokens = map[string][]table.Picture{}
			}
			m.result.Made.Tokens[p.Key] = append(m.result.Made.Tokens[p.Key], m.result.Pictures.Add(picture))
		}
	}
}

// size is the size of a card in millimetres: as given, or the short side 63
// and the long side as the cell has it.
func (m *maker) size(path string, d Deck, cell image.Rectangle) (wide, high float64) {
	w, h := float64(cell.Dx()), float64(cell.Dy())
	if d.Lie == "upright" && w > h*1.05 || d.Lie == "landscape" && h > w*1.05 {
		m.warn("%s: the cells are %d × %d pixels, but the deck is to lie %s; is the art on its side?", path[2:], cell.Dx(), cell.Dy(), d.Lie)
	}
	if d.Size != nil {
		if shape := d.Size[0] / d.Size[1] * h / w; shape > 1.08 || shape < 1/1.08 {
			m.warn("%s: cells of %d × %d pixels are stretched to %g × %g millimetres", path[2:], cell.Dx(), cell.Dy(), d.Size[0], d.Size[1])
		}
		return d.Size[0], d.Size[1]
	}
	short := 63 / min(w, h)
	return w * short, h * short
}

// designs are those of the manifest, or one for each cell with content that is
// no back and no veil.
func (m *maker) designs(d Deck, from *opened) []Design {
	if d.Designs != nil {
		return d.Designs
	}
	var all []Design
	for _, c := range from.report.Cells {
		if !c.Empty && c.Number != d.Back.Cell && (d.Veil == nil || c.Number != d.Veil.Cell) {
			all = append(all, Design{Cell: c.Number, Key: fmt.Sprintf("cell-%02d", c.Number)})
		}
	}
	return all
}

// use checks that a cell is there and has content.
func (m *maker) use(path string, from *opened, cell int, name string) bool {
	file := m.kit.Sheets[name].File
	grid := from.report.Grid
	if cell > grid.Cells() {
		m.mistake(path, "cell %d is beyond the grid of %s: %d columns × %d rows are %d cells", cell, file, grid.Columns, grid.Rows, grid.Cells())
		return false
	}
	if from.report.Cells[cell-1].Empty {
		m.mistake(path, "cell %d of %s is empty", cell, file)
		return false
	}
	from.used[cell] = true
	return true
}

// face stores a back or veil.
func (m *maker) face(path string, from *opened, f Face, name string) table.Picture {
	if f.File != "" {
		picture, err := m.picture(f.File)
		if err != nil {
			m.mistakes = append(m.mistakes, err)
			return table.Picture{}
		}
		return m.result.Pictures.Add(picture)
	}
	if f.Cell < 1 {
		m.mistake(path, "give a cell, numbered from 1, or a file")
		return table.Picture{}
	}
	if !m.use(path, from, f.Cell, name) {
		return table.Picture{}
	}
	return m.result.Pictures.AddCell(from.picture, from.report.Grid, f.Cell)
}

func (m *maker) warnOfUnusedCells() {
	for _, name := range slices.Sorted(maps.Keys(m.sheets)) {
		var unused bytes.Buffer
		n := 0
		for _, c := range m.sheets[name].report.Cells {
			if !c.Empty && !m.sheets[name].used[c.Number] {
				fmt.Fprintf(&unused, " %d", c.Number)
				n++
			}
		}
		if n > 0 {
			m.warn("%s: cells with content that no deck uses:%s", m.kit.Sheets[name].File, unused.String())
		}
	}
}
