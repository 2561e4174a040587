package kit

import (
	"bytes"
	"errors"
	"fmt"
	"hash/fnv"
	"image"
	"maps"
	"path"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"unicode/utf8"

	"golang.org/x/sync/errgroup"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
)

// Edition is a kit with its sheets cut: all that laying a table needs, beside
// the pictures. As JSON it is what the shelf keeps of it.
type Edition struct {
	Name  string        `json:"name"`
	About string        `json:"about"`
	Seats int           `json:"seats"`
	Decks []EditionDeck `json:"decks"`
	Table Table         `json:"table"`

	Mat    table.Picture              `json:"mat,omitzero"`
	Tokens map[string][]table.Picture `json:"tokens,omitempty"` // sides by piece key

	Picture     table.Picture `json:"picture,omitzero"`      // what the shelf shows of it; a fan of its cards if there is none
	Description string        `json:"description,omitempty"` // Markdown
	Rules       string        `json:"rules,omitempty"`       // Markdown
	RulesFile   string        `json:"rules_file,omitempty"`  // or a PDF of the kit's folder
}

// EditionDeck is a deck with its pictures, and its copies in the order of its
// designs.
type EditionDeck struct {
	table.Deck
	Copies []Copies `json:"copies"`
}

// Copies is how often a design is in a deck.
type Copies struct {
	Design string `json:"design"`
	Copies int    `json:"copies"`
}

// Cards is how many cards the deck has.
func (d EditionDeck) Cards() int {
	n := 0
	for _, c := range d.Copies {
		n += c.Copies
	}
	return n
}

// Result is a kit that was made: what to keep, its pictures, and what looked
// wrong though it could be made.
type Result struct {
	Edition  Edition
	Known    Known         // for the next edition
	Pictures deck.Pictures // none where Making.Keep took them
	Warnings []string
	Notes    []string // what is right, but might not have been meant so

	SpeltOut map[string][]Design // of decks that name no designs: those that they have, as kit.yaml would name them
}

// Known is what was made of which files. What an edition made, the next one does not make
// again.
type Known struct {
	Sheets   map[string]KnownSheet    `json:"sheets,omitempty"`   // by the hashes of their files, and how they are cut
	Pictures map[string]table.Picture `json:"pictures,omitempty"` // of their own, by the hashes of their files
	Sizes    map[string][2]int        `json:"sizes,omitempty"`    // of those, in pixels
	Drawn    map[string]table.Picture `json:"drawn,omitempty"`    // by layouts, by all that they were drawn from
}

// KnownSheet is a sheet that was looked over and cut.
type KnownSheet struct {
	Report sheet.Report          `json:"report"`
	Cut    map[int]table.Picture `json:"cut"` // the cells that decks use
}

// Making is how a kit is made. The zero value makes all of it.
type Making struct {
	Known    Known                                             // what was made before, and is not made again
	Keep     func(deck.Pictures) error                         // takes the pictures as they are made, some at a time; if left out they stand in the result
	Stopped  func() error                                      // asked between pictures, if given: why the making ends unfinished
	Progress func(what string, done, all int)                  // told of each step, if given
	Look     func(address string, picture func() *image.NRGBA) // only look: no picture is cut or encoded. It is told under which name each can be made, from what it is of; picture gives nil if its file cannot be read any more
	Named    bool                                              // as Look, and what only drawing finds, such as text that does not fit, is not looked for
	Decoded  func(file string) (image.Image, error)            // opens sheets, where they are decoded already
}

// looks is whether no picture is wanted.
func (m Making) looks() bool { return m.Look != nil || m.Named }

// NotKept is the error of Making.Keep or Making.Stopped, which is no mistake of the kit's.
type NotKept struct{ Err error }

func (e *NotKept) Error() string { return "keeping the pictures: " + e.Err.Error() }
func (e *NotKept) Unwrap() error { return e.Err }

// Make reads, checks and cuts the sheets of a kit and draws the cards of its
// layouts. One sheet at a time is held decoded. The error joins every mistake
// found, and the warnings that may explain them; then there is no result.
func (k *Kit) Make(making Making) (*Result, error) {
	m := &maker{
		kit: k, making: making, sheets: map[string]*looked{},
		result: &Result{
			SpeltOut: map[string][]Design{},
			Pictures: deck.Pictures{},
			Known:    Known{Sheets: map[string]KnownSheet{}, Pictures: map[string]table.Picture{}, Sizes: map[string][2]int{}, Drawn: map[string]table.Picture{}},
		},
	}
	m.artist = k.Artist()
	m.readLists()
	names, keys := slices.Sorted(maps.Keys(m.packed.sheets)), slices.Sorted(maps.Keys(k.Decks))
	steps, all := 0, len(names)+len(keys)
	step := func(what string) {
		if making.Progress != nil {
			making.Progress(what, steps, all)
		}
		steps++
	}
	for _, name := range names {
		if m.stopped() {
			break
		}
		step(m.packed.sheets[name].File)
		m.sheet(name)
	}
	if len(m.mistakes) == 0 && !m.stopped() {
		for _, key := range keys {
			step("deck " + key)
			m.deck(key)
		}
		m.warnOfSheets()
		m.tokens()
		m.cover()
	}
	e := &m.result.Edition
	e.Name, e.About, e.Seats, e.Table = k.Name, k.About, k.Seats, k.Table
	if len(m.mistakes) == 0 {
		m.lay()
		m.homesHold()
		m.steps()
	}
	if err := m.notKept(); err != nil {
		return nil, &NotKept{err}
	}
	if len(m.mistakes) > 0 {
		for _, w := range m.result.Warnings { // often the cause: a cell is empty because the grid is wrong
			m.mistakes = append(m.mistakes, errors.New("warning: "+w))
		}
		return nil, errors.Join(m.mistakes...)
	}
	step("")
	return m.result, nil
}

// homesHold refuses zones in which the cards that lie there when a table is laid have no room.
func (m *maker) homesHold() {
	lying := map[table.PlaceID]int{}
	for _, d := range m.result.Edition.Decks {
		lying[d.Home] += d.Cards()
	}
	for i, z := range m.kit.Table.Zones {
		if n := lying[table.PlaceID(z.Key)]; z.Capacity > 0 && n > z.Capacity {
			m.mistake(fmt.Sprintf("$.table.zones[%d].capacity", i), "zone %q holds %d cards, and it is the home of %d", z.Key, z.Capacity, n)
		}
	}
}

// maker is a kit being made.
type maker struct {
	kit      *Kit
	making   Making
	artist   *deck.Artist
	packed   packed
	sheets   map[string]*looked
	result   *Result
	mistakes []error
	ended    atomic.Pointer[error] // why the making ends unfinished

	held struct { // the picture that was opened last
		sync.Mutex
		file    string
		picture image.Image
	}
}

// stopped reports whether the making ends unfinished: nobody waits for it any more, or pictures cannot be kept.
func (m *maker) stopped() bool { return m.whyStopped() != nil }

func (m *maker) whyStopped() error {
	if m.making.Stopped != nil {
		if err := m.making.Stopped(); err != nil {
			m.end(err)
		}
	}
	if why := m.ended.Load(); why != nil {
		return *why
	}
	return nil
}

func (m *maker) end(why error) { m.ended.CompareAndSwap(nil, &why) }

func (m *maker) notKept() error {
	if why := m.ended.Load(); why != nil {
		return *why
	}
	return nil
}

// looked is a sheet that was looked over and cut.
type looked struct {
	report sheet.Report
	cut    map[int]table.Picture // the cells that decks use
	packed map[int]string        // the files of the pictures that a packed sheet was packed from
	used   map[int]bool
}

// cell is the size of a cell in pixels.
func (s *looked) cell() image.Point {
	return s.report.Grid.Cell(image.Pt(s.report.Width, s.report.Height), 1).Size()
}

func (m *maker) mistake(path, format string, args ...any) {
	m.mistakes = append(m.mistakes, m.kit.mistake(path, format, args...))
}

func (m *maker) warn(format string, args ...any) {
	m.result.Warnings = append(m.result.Warnings, fmt.Sprintf(format, args...))
}

// sheet looks a sheet over and cuts the cells that decks use, but for what is known of it.
func (m *maker) sheet(name string) {
	s := m.packed.sheets[name]
	list := m.packed.lists[name]
	mark, err := m.markOf(s, list)
	if err != nil {
		m.mistakes = append(m.mistakes, err)
		return
	}
	known, before := m.making.Known.Sheets[mark]
	var picture image.Image
	if !before {
		if picture, err = m.picture(s.File); err != nil {
			m.mistakes = append(m.mistakes, err)
			return
		}
		if known.Report, err = sheet.LookOverUntil(picture, gridOf(s, list), m.whyStopped); err != nil {
			m.mistake("$.sheets."+name, "%s: %s", s.File, err)
			return
		}
	}
	l := &looked{report: known.Report, cut: map[int]table.Picture{}, used: map[int]bool{}, packed: map[int]string{}}
	if list != nil {
		for _, source := range list.Sources {
			l.packed[source.Cell] = source.File
		}
	}
	m.sheets[name] = l
	var missing []int
	for _, cell := range m.wanted(name, l.report) {
		if cut, is := known.Cut[cell]; is {
			l.cut[cell] = cut
		} else {
			missing = append(missing, cell)
		}
	}
	if len(missing) > 0 && picture == nil {
		if picture, err = m.picture(s.File); err != nil {
			m.mistakes = append(m.mistakes, err)
			return
		}
	}
	cells := batch{
		n:  len(missing),
		of: func(i int) string { return pixelsOf(sheet.Cut(picture, l.report.Grid, missing[i])) },
		is: func(i int) *image.NRGBA { return sheet.Cut(picture, l.report.Grid, missing[i]) },
	}
	if m.opensAgain() {
		cells.is = func(i int) *image.NRGBA {
			return m.opened(s.File, func(p image.Image) *image.NRGBA { return sheet.Cut(p, l.report.Grid, missing[i]) })
		}
	}
	for i, p := range m.add(cells) {
		l.cut[missing[i]] = p
	}
	m.result.Known.Sheets[mark] = KnownSheet{Report: known.Report, Cut: l.cut}
}

// pixelsOf names a picture by what is on it, so that a cell of a sheet that was saved anew is
// the same if nothing changed on it.
func pixelsOf(p *image.NRGBA) string {
	sum := fnv.New64a()
	for y := p.Rect.Min.Y; y < p.Rect.Max.Y; y++ {
		row := p.PixOffset(p.Rect.Min.X, y)
		_, _ = sum.Write(p.Pix[row : row+4*p.Rect.Dx()])
	}
	return fmt.Sprintf("%d × %d: %x", p.Rect.Dx(), p.Rect.Dy(), sum.Sum64())
}

// markOf is all that looking a sheet over and cutting it depends on, hashed.
func (m *maker) markOf(s Sheet, list *sheet.List) (string, error) {
	hash, err := m.kit.hashOf(s.File)
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("%s %+v", hash, gridOf(s, list)), nil
}

// gridOf is how a sheet is cut: as kit.yaml says, or as the list beside a packed sheet says. What
// is zero is guessed.
func gridOf(s Sheet, list *sheet.List) sheet.Grid {
	if s.Columns == 0 && s.Rows == 0 && list != nil {
		return list.Grid()
	}
	return s.Grid()
}

// wanted lists the cells of a sheet that decks use. What a deck names is a card, however plain it is.
func (m *maker) wanted(name string, r sheet.Report) []int {
	cells := map[int]bool{}
	for _, d := range m.kit.Decks {
		for _, part := range m.parts(d) {
			if part.Sheet == name && d.Designs == nil {
				for _, cell := range m.cells(d, part, r) {
					cells[cell] = true
				}
			}
		}
		for _, design := range d.Designs {
			if design.Cell > 0 && d.sheetOf(design.Sheet) == name {
				cells[design.Cell] = true
			}
		}
		faces := []Face{d.Back}
		if d.Veil != nil {
			faces = append(faces, *d.Veil)
		}
		for _, f := range faces {
			if f.Cell > 0 && d.sheetOf(f.Sheet) == name {
				cells[f.Cell] = true
			}
			if f.Each == name || slices.Contains(m.packed.more[f.Each], name) {
				for _, c := range r.Cells {
					cells[c.Number] = true
				}
			}
		}
	}
	return slices.DeleteFunc(slices.Sorted(maps.Keys(cells)), func(cell int) bool { return cell > len(r.Cells) })
}

// sheetOf is the sheet that a cell is of, the deck's first if none is named.
func (d Deck) sheetOf(name string) string {
	if parts := d.parts(); name == "" && len(parts) > 0 {
		return parts[0].Sheet
	}
	return name
}

// cells are those of a part of a deck that names no designs: within its range, or packed, or with content; up to the
// sheet's count, and no back and no veil.
func (m *maker) cells(d Deck, part Part, r sheet.Report) []int {
	within, _ := cellRange(part.Cells) // checked with the manifest
	packed := map[int]bool{}
	if list := m.packed.lists[part.Sheet]; list != nil {
		for _, source := range list.Sources {
			packed[source.Cell] = true
		}
	}
	var cells []int
	for _, c := range r.Cells {
		shared := func(f *Face) bool { return f != nil && f.Cell == c.Number && d.sheetOf(f.Sheet) == part.Sheet }
		if (!c.Empty || within != nil || packed[c.Number]) && !c.Beyond && (within == nil || within[c.Number]) && !shared(&d.Back) && !shared(d.Veil) {
			cells = append(cells, c.Number)
		}
	}
	return cells
}

// atOnce is how many pictures are handed to Making.Keep together.
const atOnce = 32

// batch is pictures to be made.
type batch struct {
	n  int
	of func(int) string       // all that one is made of; the same is the same picture
	is func(int) *image.NRGBA // one of them
}

// add stores pictures; where the kit is only looked at, they are only named.
func (m *maker) add(p batch) []table.Picture {
	switch {
	case m.making.looks():
		all := make([]table.Picture, p.n)
		for i := range all {
			address := HashOf([]byte(p.of(i)))
			all[i] = table.Picture{Small: address, Full: address}
			if m.making.Look != nil {
				m.making.Look(address, func() *image.NRGBA { return p.is(i) })
			}
		}
		return all
	case m.stopped():
		return make([]table.Picture, p.n)
	case m.making.Keep == nil:
		return m.result.Pictures.AddAll(p.n, p.is)
	}
	var all []table.Picture
	var keeping errgroup.Group
	keeping.SetLimit(1) // some are kept while the next are made
	var failed atomic.Bool
	for begin := 0; begin < p.n && !failed.Load() && !m.stopped(); begin += atOnce {
		some := deck.Pictures{}
		all = append(all, some.AddAll(min(atOnce, p.n-begin), func(i int) *image.NRGBA { return p.is(begin + i) })...)
		keeping.Go(func() error {
			err := m.making.Keep(some)
			failed.Store(err != nil)
			return err
		})
	}
	if err := keeping.Wait(); err != nil {
		m.end(err)
	}
	return append(all, make([]table.Picture, p.n-len(all))...)
}

// opensAgain is whether pictures may be asked for much later: they are not held decoded until then, but opened again.
func (m *maker) opensAgain() bool { return m.making.Look != nil && m.making.Decoded == nil }

// opened opens a picture again and gives what is wanted of it; nil if it cannot be read any more.
func (m *maker) opened(file string, part func(image.Image) *image.NRGBA) *image.NRGBA {
	picture, err := m.picture(file)
	if err != nil {
		return nil
	}
	return part(picture)
}

func (m *maker) picture(file string) (image.Image, error) {
	if m.making.Decoded != nil {
		picture, err := m.making.Decoded(file)
		if err != nil {
			return nil, &Mistake{File: file, Text: err.Error()}
		}
		return picture, nil
	}
	m.held.Lock()
	defer m.held.Unlock()
	if m.held.file == file {
		return m.held.picture, nil
	}
	text, err := readFile(m.kit.folder, file, MaxFile)
	if err != nil {
		return nil, err
	}
	picture, err := sheet.Read(text)
	if err != nil {
		return nil, &Mistake{File: file, Text: err.Error()}
	}
	m.held.file, m.held.picture = file, picture
	return picture, nil
}

// tokens stores the pictures of tokens, and of the mat.
func (m *maker) tokens() {
	for _, p := range m.kit.Table.Pieces {
		for _, file := range p.Files {
			picture, ok := m.file(file)
			if !ok {
				continue
			}
			if m.result.Edition.Tokens == nil {
				m.result.Edition.Tokens = map[string][]table.Picture{}
			}
			m.result.Edition.Tokens[p.Key] = append(m.result.Edition.Tokens[p.Key], picture)
		}
	}
	if m.kit.Table.Mat != "" {
		m.result.Edition.Mat, _ = m.file(m.kit.Table.Mat)
	}
}

// maxText is how long a description or rules may be, in bytes.
const maxText = 256 << 10

// cover takes what the shelf shows of the kit.
func (m *maker) cover() {
	if m.kit.Picture != "" {
		m.result.Edition.Picture, _ = m.file(m.kit.Picture)
	}
	text := func(file string) string {
		if file == "" {
			return ""
		}
		read, err := readFile(m.kit.folder, file, maxText)
		if err == nil && !utf8.Valid(read) {
			err = &Mistake{File: file, Text: "is not written in UTF-8; save it as UTF-8 text"}
		}
		if err != nil {
			m.mistakes = append(m.mistakes, err)
		}
		return string(read)
	}
	m.result.Edition.Description = text(m.kit.Description)
	if !strings.EqualFold(path.Ext(m.kit.Rules), ".pdf") {
		m.result.Edition.Rules = text(m.kit.Rules)
	} else if begin, err := readFile(m.kit.folder, m.kit.Rules, MaxFile); err != nil {
		m.mistakes = append(m.mistakes, err)
	} else if !bytes.HasPrefix(begin, []byte("%PDF-")) {
		m.mistakes = append(m.mistakes, &Mistake{File: m.kit.Rules, Text: "is named a PDF and is none; export it again"})
	} else {
		m.result.Edition.RulesFile = m.kit.Rules
	}
}

// steps reads the setup and the cues on a laid table at which every seat is taken.
func (m *maker) steps() {
	laid, before := m.laidFor(m.kit.Seats), len(m.mistakes)
	read := func(path, text string) {
		action, err := steps.Read(text, laid, 1)
		if err == nil {
			_, err = steps.Expand(action, laid, 1)
		}
		if err != nil {
			m.mistakes = append(m.mistakes, m.kit.stepsMistake(path, text, err))
		}
	}
	if strings.TrimSpace(m.kit.Table.Setup) != "" {
		read("$.table.setup", m.kit.Table.Setup)
	}
	for i, p := range m.kit.Table.Pieces {
		if p.Kind == "cue" {
			read(fmt.Sprintf("$.table.pieces[%d].steps", i), p.Steps)
		}
	}
	if len(m.mistakes) == before {
		m.tryEverySeats()
	}
}

// tryEverySeats does the setup on a table for each number of seats that is smaller than the
// kit's, and tells where it would be refused.
func (m *maker) tryEverySeats() {
	if strings.TrimSpace(m.kit.Table.Setup) == "" {
		return
	}
	for seats := 1; seats <= m.kit.Seats; seats++ {
		laid := m.laidFor(seats)
		action, err := steps.Read(m.kit.Table.Setup, laid, 1)
		var plan steps.Plan
		if err == nil {
			plan, err = steps.Expand(action, laid, 1)
		}
		if err == nil {
			laid.Settings.Host = 1
			circumstances := table.Circumstances{Now: 1, Entry: 2, Chance: func(chance.Draw) *chance.Stream { return chance.FromKey([32]byte{1}) }}
			if _, _, refusal := laid.Apply(1, plan.Action, circumstances); refusal != nil {
				err = errors.New(refusal.Text)
			}
		}
		if err != nil {
			m.warn("table.setup, with %d of %d seats: %s", seats, m.kit.Seats, err)
		}
	}
}

// laidFor is the table for a number of seats, each taken.
func (m *maker) laidFor(seats int) *table.Table {
	laid := &table.Table{}
	laid.Fold(m.result.Edition.Lay(seats))
	for i := range laid.Chairs {
		laid.Chairs[i].Name = fmt.Sprintf("seat %d", i+1)
	}
	return laid
}

// noteGuessed says how a sheet is cut whose columns and rows are surely guessed, and what else it might be.
func (m *maker) noteGuessed(name string, s *looked, file string) {
	given := gridOf(m.packed.sheets[name], m.packed.lists[name])
	if given.Columns > 0 && given.Rows > 0 || s.report.Guesses[0].Confidence < sheet.Sure {
		return
	}
	notes := append([]string{"guessed as " + s.report.Grid.Words()}, s.report.Doubts()...)
	for _, note := range notes {
		m.result.Notes = append(m.result.Notes, file+": "+note)
	}
}

// notePlain says which cells of a sheet are plain: those that are cards because a deck names them, and those that were left
// out because none does.
func (m *maker) notePlain(name string, s *looked, file string) {
	var cards, out []string
	for _, c := range s.report.Cells {
		switch {
		case c.Empty && s.used[c.Number] && s.packed[c.Number] == "":
			cards = append(cards, strconv.Itoa(c.Number))
		case c.Empty && !s.used[c.Number] && len(s.used) > 0 && s.report.Grid.Count == 0 && m.packed.lists[name] == nil:
			out = append(out, strconv.Itoa(c.Number))
		}
	}
	if len(cards) > 0 {
		m.result.Notes = append(m.result.Notes, fmt.Sprintf("%s: plain cells that are cards, because a deck names them: %s", file, strings.Join(cards, " ")))
	}
	if len(out) > 0 {
		m.result.Notes = append(m.result.Notes, fmt.Sprintf("%s: plain cells that were left out: %s; if they are cards, name them with cells or designs", file, strings.Join(out, " ")))
	}
}

// warnOfSheets tells what looks wrong on the sheets, and content that no deck uses.
func (m *maker) warnOfSheets() {
	m.warnOfBacks()
	for _, name := range slices.Sorted(maps.Keys(m.sheets)) {
		s, file := m.sheets[name], m.packed.sheets[name].File
		for _, problem := range s.report.ProblemsBut(s.used) {
			m.warn("%s: %s", file, problem)
		}
		m.noteGuessed(name, s, file)
		m.notePlain(name, s, file)
		var unused bytes.Buffer
		n := 0
		for _, c := range s.report.Cells {
			if !c.Empty && !s.used[c.Number] {
				fmt.Fprintf(&unused, " %d", c.Number)
				n++
			}
		}
		if n > 0 {
			m.warn("%s: cells with content that no deck uses:%s", file, unused.String())
		}
	}
}
