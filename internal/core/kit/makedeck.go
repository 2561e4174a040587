package kit

import (
	"cmp"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"image"
	"maps"
	"math"
	"path"
	"slices"
	"strconv"
	"strings"
	"sync"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/core/table"
)

// made is a design of a deck being made: its own and its back's picture.
type made struct {
	key, name   string
	copies      int
	fields      map[string]string
	front, back table.Picture
}

func (m *maker) deck(key string) {
	d, at := m.kit.Decks[key], "$.decks."+key
	before := len(m.mistakes)
	whole := EditionDeck{Deck: table.Deck{
		Key: key, Name: key, Outline: cmp.Or(d.Outline, "rounded"), Home: table.PlaceID(d.Home), Designs: map[string]table.Design{},
	}}
	var designs []made
	if d.Rows != "" {
		designs = m.fromRows(d, at)
	} else {
		all := m.designs(d)
		designs = m.fromPictures(d, all, at)
		if d.Designs == nil {
			m.result.SpeltOut[key] = m.spellOut(d, all)
		}
	}
	if d.Back != (Face{}) && d.Back.Each == "" {
		back := m.face(at+".back", d, d.Back)
		for i := range designs {
			designs[i].back = back
		}
	}
	if d.Back == (Face{}) && !m.kit.drawsBacks(d) {
		back := m.plainBack(key, m.pixels(d))
		for i := range designs {
			if designs[i].back == (table.Picture{}) {
				designs[i].back = back
			}
		}
	}
	if d.Veil != nil {
		whole.Veil = m.face(at+".veil", d, *d.Veil)
	}
	for _, one := range designs {
		whole.Designs[one.key] = table.Design{Key: one.key, Name: one.name, Back: one.back, Front: one.front, Fields: one.fields}
		whole.Copies = append(whole.Copies, Copies{one.key, one.copies})
	}
	switch {
	case len(m.mistakes) > before:
	case whole.Cards() == 0:
		m.mistake(at, "the deck %q has no cards", key)
	case whole.Cards() > MaxCards:
		m.mistake(at, "the deck %q has %d cards; a kit may have %d", key, whole.Cards(), MaxCards)
	default:
		whole.Wide, whole.High = m.size(at, d, m.pixels(d))
	}
	m.result.Edition.Decks = append(m.result.Edition.Decks, whole)
}

// pixels is how large the cards of a deck are as pictures.
func (m *maker) pixels(d Deck) image.Point {
	if d.Layout != "" {
		l := m.kit.Layouts[m.kit.firstLayout(d)]
		if len(l.Size) != 2 {
			return image.Pt(63, 88)
		}
		return image.Pt(l.Size[0], l.Size[1])
	}
	if s := m.sheets[d.sheetOf("")]; s != nil {
		return s.cell()
	}
	if len(d.Designs) > 0 && d.Designs[0].File != "" {
		if text, err := readFile(m.kit.folder, d.Designs[0].File, MaxFile); err == nil {
			if size, err := sheet.Size(text); err == nil {
				return size
			}
		}
	}
	return image.Pt(63, 88)
}

// size is the size of a card in millimetres: as given, or the short side 63
// and the long side as the picture has it, to the tenth.
func (m *maker) size(at string, d Deck, pixels image.Point) (wide, high float64) {
	w, h := float64(pixels.X), float64(pixels.Y)
	if d.Lie == "upright" && w > h*1.05 || d.Lie == "landscape" && h > w*1.05 {
		m.warn("%s: the cells are %d × %d pixels, but the deck is to lie %s; is the art on its side?", at[2:], pixels.X, pixels.Y, d.Lie)
	}
	if d.Size != nil {
		if shape := d.Size[0] / d.Size[1] * h / w; shape > 1.08 || shape < 1/1.08 {
			m.warn("%s: cells of %d × %d pixels are stretched to %g × %g millimetres", at[2:], pixels.X, pixels.Y, d.Size[0], d.Size[1])
		}
		return d.Size[0], d.Size[1]
	}
	tenths := func(side float64) float64 { return math.Round(side*630/min(w, h)) / 10 }
	return tenths(w), tenths(h)
}

// spellOut gives the designs of a deck as kit.yaml would name them: with names, and with their sheets where there are several.
func (m *maker) spellOut(d Deck, all []Design) []Design {
	named := make([]Design, len(all))
	for i, design := range all {
		design.Name = m.called(d, design)
		if len(d.From) == 0 {
			design.Sheet = ""
		}
		named[i] = design
	}
	return named
}

// fromPictures makes designs of cells and of loose pictures.
func (m *maker) fromPictures(d Deck, all []Design, at string) (designs []made) {
	var backOf func(Design) (cellOf, error)
	if d.Back.Each != "" {
		backOf = m.backs(d, at)
	}
	var first Design // of those with a picture of their own
	for i, design := range all {
		path := fmt.Sprintf("%s.designs[%d]", at, i)
		one := made{key: design.Key, name: m.called(d, design), copies: design.copies(), fields: texts(design.Fields)}
		ok := true
		if design.File != "" {
			one.front, ok = m.file(design.File)
			if first.File == "" {
				first = design
			}
			m.sameShape(at, first.File, design.File)
		} else {
			one.front, ok = m.use(path, d.sheetOf(design.Sheet), design.Cell)
		}
		if ok && backOf != nil && design.Cell > 0 {
			design.Sheet = d.sheetOf(design.Sheet)
			back, err := backOf(design)
			if ok = err == nil; ok {
				one.back, ok = m.use(path, back.sheet, back.cell)
			} else {
				m.mistake(at+".back", "%s", err)
			}
		}
		if ok {
			designs = append(designs, one)
		}
	}
	return designs
}

// sameShape warns where a picture has not the shape of a deck's first one.
func (m *maker) sameShape(at, first, file string) {
	a, b := m.sizeOf(first), m.sizeOf(file)
	if a[0] == 0 || b[0] == 0 {
		return
	}
	if shape := float64(a[0]) / float64(a[1]) * float64(b[1]) / float64(b[0]); shape > 1.03 || shape < 1/1.03 {
		m.warn("%s: %s is %d × %d pixels and %s %d × %d: not one shape, so it is stretched; make them alike, or give it a deck of its own", at[2:], file, b[0], b[1], first, a[0], a[1])
	}
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

// designs are those of the manifest, or one for each cell that is a card.
func (m *maker) designs(d Deck) []Design {
	if d.Designs != nil {
		return d.Designs
	}
	var all []Design
	parts := m.parts(d)
	for _, part := range parts {
		from := m.sheets[part.Sheet]
		for _, cell := range m.cells(d, part, from.report) {
			design := Design{Cell: cell, Sheet: part.Sheet, Key: m.cellKey(d, part.Sheet, cell)}
			if file := from.packed[cell]; file != "" { // its picture's name stays when the sheet is packed again
				name := nameOf(file)
				if d.Back.Each != "" {
					name = nameOf(sidelessOf(file))
				}
				if key := deck.KeyFrom(name, design.Key); !slices.ContainsFunc(all, func(other Design) bool { return other.Key == key }) {
					design.Key, design.Name = key, name
				}
			}
			all = append(all, design)
		}
	}
	return all
}

// cellKey is the key of a card that is known by its cell alone.
func (m *maker) cellKey(d Deck, sheet string, cell int) string {
	prefix := "cell"
	if len(m.parts(d)) > 1 {
		prefix = deck.KeyFrom(sheet, "sheet")
	}
	return fmt.Sprintf("%s-%02d", prefix, cell)
}

// called is how a design is called: by its name, by where it stands if only its cell is known, or else by its key.
func (m *maker) called(d Deck, design Design) string {
	sheet := d.sheetOf(design.Sheet)
	if design.Name == "" && design.Cell > 0 && design.Key == m.cellKey(d, sheet, design.Cell) {
		return fmt.Sprintf("card %d of %s", design.Cell, sheet)
	}
	return cmp.Or(design.Name, design.Key)
}

// use takes a cell of a sheet, or says that it is not there or has no content.
func (m *maker) use(at, name string, cell int) (table.Picture, bool) {
	s, file := m.sheets[name], m.packed.sheets[name].File
	grid := s.report.Grid
	if cell > grid.Cells() {
		m.mistake(at, "cell %d is beyond the grid of %s, which has %s", cell, file, grid.InCells())
		return table.Picture{}, false
	}
	s.used[cell] = true
	return s.cut[cell], true
}

// face stores a back or veil that all cards share.
func (m *maker) face(at string, d Deck, f Face) table.Picture {
	if f.File != "" {
		picture, _ := m.file(f.File)
		return picture
	}
	picture, _ := m.use(at, d.sheetOf(f.Sheet), f.Cell)
	return picture
}

// file stores a picture of its own, unless it is known.
func (m *maker) file(name string) (table.Picture, bool) {
	picture, err := m.fileOf(name)
	if err != nil {
		m.mistakes = append(m.mistakes, err)
	}
	return picture, err == nil
}

func (m *maker) fileOf(name string) (table.Picture, error) {
	hash, err := m.kit.hashOf(name)
	if err != nil {
		return table.Picture{}, err
	}
	for _, known := range []map[string]table.Picture{m.result.Known.Pictures, m.making.Known.Pictures} {
		if picture, is := known[hash]; is {
			m.result.Known.Pictures[hash] = picture
			if size, is := m.making.Known.Sizes[hash]; is {
				m.result.Known.Sizes[hash] = size
			}
			return picture, nil
		}
	}
	decoded, err := m.picture(name)
	if err != nil {
		return table.Picture{}, err
	}
	size := decoded.Bounds().Size()
	is := func() *image.NRGBA { return sheet.NRGBA(decoded) }
	if m.opensAgain() {
		decoded, is = nil, func() *image.NRGBA { return m.opened(name, sheet.NRGBA) }
	}
	picture := m.add(batch{1, func(int) string { return pixelsOf(is()) }, func(int) *image.NRGBA { return is() }})[0]
	m.result.Known.Pictures[hash], m.result.Known.Sizes[hash] = picture, [2]int{size.X, size.Y}
	return picture, nil
}

// sizeOf is the size of a picture of the kit's, zero if it is not known.
func (m *maker) sizeOf(file string) (size [2]int) {
	if hash, err := m.kit.hashOf(file); err == nil {
		size = m.result.Known.Sizes[hash]
	}
	return size
}

// TableFile reads a table file of the kit: CSV, or a spreadsheet.
func (k *Kit) TableFile(name string) (*deck.Rows, error) {
	file, _ := TabOf(name)
	text, err := readFile(k.folder, file, deck.MaxTableFile)
	if err != nil {
		return nil, err
	}
	rows, err := ReadRows(name, text)
	if err != nil {
		return nil, &Mistake{File: name, Text: err.Error()}
	}
	return rows, nil
}

// TabOf parts the name of a spreadsheet and that of one of its tables: game.xlsx#Spells.
func TabOf(name string) (file, tab string) {
	file, tab, _ = strings.Cut(name, "#")
	if !strings.EqualFold(path.Ext(file), ".xlsx") {
		return name, ""
	}
	return file, tab
}

// ReadRows reads a table file as its name says: a spreadsheet if it ends with
// .xlsx, or with .xlsx# and the name of one of its tables, else CSV.
func ReadRows(name string, text []byte) (*deck.Rows, error) {
	file, tab := TabOf(name)
	if strings.EqualFold(path.Ext(file), ".xlsx") {
		return deck.ReadSpreadsheet(text, tab)
	}
	if advice := SaveAs(file); advice != "" {
		return nil, errors.New(strings.TrimPrefix(strings.TrimSuffix(advice, "."), path.Base(file)+" "))
	}
	return deck.ReadCSV(text)
}

// SaveAs says how a file is saved so that it can be read, if it holds a table or pictures in another form; "" for all others.
func SaveAs(name string) string {
	instead := map[string]string{
		".ods": ".xlsx or .csv", ".numbers": ".xlsx or .csv", ".xls": ".xlsx or .csv", ".xlsm": ".xlsx", ".fods": ".xlsx or .csv",
		".docx": ".csv, its table put into a spreadsheet", ".odt": ".csv, its table put into a spreadsheet", ".doc": ".csv, its table put into a spreadsheet",
		".pdf": ".png, a page a picture", ".psd": ".png", ".xcf": ".png", ".kra": ".png", ".ai": ".svg or .png", ".heic": ".jpg", ".avif": ".png",
	}[strings.ToLower(path.Ext(name))]
	if instead == "" {
		return ""
	}
	return fmt.Sprintf("%s cannot be read here: save it as %s.", path.Base(name), instead)
}

// WriteRows writes a table file as its name says.
func WriteRows(name string, rows *deck.Rows) ([]byte, error) {
	if file, _ := TabOf(name); strings.EqualFold(path.Ext(file), ".xlsx") {
		return rows.WriteSpreadsheet()
	}
	return rows.WriteCSV(), nil
}

// fromRows makes designs of the rows of a table file.
func (m *maker) fromRows(d Deck, at string) []made {
	rows, err := m.kit.TableFile(d.Rows)
	if err != nil {
		m.mistakes = append(m.mistakes, err)
		return nil
	}
	for _, odd := range rows.Odd {
		m.warn("%s: %s", d.Rows, odd)
	}
	for _, note := range rows.Notes {
		m.result.Notes = append(m.result.Notes, fmt.Sprintf("%s: %s", d.Rows, note))
	}
	cards, mistakes := rows.Cards()
	for _, mistake := range mistakes {
		m.mistakes = append(m.mistakes, &Mistake{File: d.Rows, Text: mistake.Error()})
	}
	if len(mistakes) > 0 {
		return nil
	}
	designs := make([]made, len(cards))
	for i, c := range cards {
		designs[i] = made{key: c.Key, name: c.Name, copies: c.Copies, fields: c.Fields}
	}
	if d.Layout == "" {
		m.rowPictures(d, at, rows, cards, designs)
		return designs
	}
	m.drawRows(d, at, rows, cards, designs)
	return designs
}

// drawRows draws the cards of rows, each by its layout.
func (m *maker) drawRows(d Deck, at string, rows *deck.Rows, cards []deck.Card, designs []made) {
	byLayout := map[string][]int{}
	for i, c := range cards {
		name, err := m.kit.layoutOf(d, c)
		if err != nil {
			m.mistakes = append(m.mistakes, &Mistake{File: d.Rows, Text: fmt.Sprintf("row %d: %s", c.Row, err)})
			continue
		}
		byLayout[name] = append(byLayout[name], i)
	}
	names := slices.Sorted(maps.Keys(byLayout))
	for _, name := range names {
		l, first := m.kit.Layouts[name], m.kit.Layouts[names[0]]
		if !slices.Equal(l.Size, first.Size) {
			m.mistake(at+".layout", "the layouts %q and %q draw cards of %v and %v pixels; those of a deck are of one size", names[0], name, first.Size, l.Size)
		}
		if (len(l.Back) > 0) != (len(first.Back) > 0) {
			m.mistake(at+".layout", "of the layouts %q and %q one draws a back and the other does not", names[0], name)
		}
		for _, field := range l.Fields() {
			if !slices.Contains(rows.Header, field) && !slices.Contains([]string{deck.FieldRow, deck.FieldCopies, deck.FieldKey}, field) {
				m.mistake("$.layouts."+name, "the layout speaks of {%s}, but %s has no such column; it has %s%s", field, d.Rows, list(rows.Header), table.DidYouMean(field, rows.Header))
			}
		}
	}
	if len(m.mistakes) > 0 {
		return
	}
	for _, name := range names {
		l, of := m.kit.Layouts[name], byLayout[name]
		some := make([]deck.Card, len(of))
		for n, i := range of {
			some[n] = cards[i]
		}
		for n, p := range m.draw(d, &l, "front", l.Front, some) {
			designs[of[n]].front = p
		}
		if len(l.Back) > 0 {
			for n, p := range m.draw(d, &l, "back", l.Back, some) {
				designs[of[n]].back = p
			}
		}
	}
}

// drawsBacks reports whether a deck's layout draws a back for each card.
func (k *Kit) drawsBacks(d Deck) bool {
	name := k.firstLayout(d)
	return name != "" && len(k.Layouts[name].Back) > 0
}

// rowPictures takes the pictures that the columns front and back name.
func (m *maker) rowPictures(d Deck, at string, rows *deck.Rows, cards []deck.Card, designs []made) {
	front, back := rows.Column(deck.ColumnFront), rows.Column(deck.ColumnBack)
	if front < 0 {
		m.mistake(at+".rows", "%s has no column %q that names each card's picture; add it, or a layout that draws the cards", d.Rows, deck.ColumnFront)
		return
	}
	take := func(card deck.Card, column int) table.Picture {
		file := card.Fields[rows.Header[column]]
		picture, err := m.fileOf(file)
		if err != nil {
			m.mistakes = append(m.mistakes, &Mistake{File: d.Rows, Text: fmt.Sprintf("row %d, column %q: %s", card.Row, rows.Header[column], err)})
		}
		return picture
	}
	for i, card := range cards {
		designs[i].front = take(card, front)
		if back >= 0 && d.Back == (Face{}) {
			designs[i].back = take(card, back)
		}
	}
}

// draw draws one side of all cards, on all cores, but for those that an earlier
// edition drew from the very same things.
func (m *maker) draw(d Deck, l *deck.Layout, side string, boxes []deck.Box, cards []deck.Card) []table.Picture {
	pictures := make([]table.Picture, len(cards))
	marks := make([]string, len(cards))
	var missing []int
	for i, card := range cards {
		mark, err := m.artist.Mark(l, boxes, card.Says())
		if err != nil {
			m.mistakes = append(m.mistakes, &Mistake{File: d.Rows, Text: fmt.Sprintf("row %d: %s", card.Row, err)})
			return pictures
		}
		marks[i] = mark
		if known, drawn := m.making.Known.Drawn[mark]; drawn {
			pictures[i], m.result.Known.Drawn[mark] = known, known
		} else {
			missing = append(missing, i)
		}
	}
	problems, errs := make([][]string, len(missing)), make([]error, len(missing))
	draw := func(n int) *image.NRGBA {
		if m.stopped() {
			return image.NewNRGBA(image.Rect(0, 0, 1, 1))
		}
		one, err := m.artist.Draw(l, boxes, cards[missing[n]].Says())
		if problems[n], errs[n] = one.Problems, err; err != nil {
			return image.NewNRGBA(image.Rect(0, 0, 1, 1))
		}
		return one.Picture
	}
	name := func(n int) string { return "drawn " + marks[missing[n]] }
	if m.making.Look != nil && !m.making.Named { // what does not fit is only known once it is drawn, and so is what looks alike
		looks := make([]string, len(missing))
		for n := range missing {
			looks[n] = pixelsOf(draw(n))
		}
		name = func(n int) string { return looks[n] }
	}
	drawn := m.add(batch{len(missing), name, draw})
	said := map[string]bool{}
	for n, i := range missing {
		if errs[n] != nil && said[errs[n].Error()] {
			continue // the same picture or font is wrong in every row
		}
		for _, problem := range problems[n] {
			m.warn("%s, row %d: %s, %s", d.Rows, cards[i].Row, side, problem)
		}
		if errs[n] != nil {
			said[errs[n].Error()] = true
			m.mistakes = append(m.mistakes, &Mistake{File: d.Rows, Text: fmt.Sprintf("row %d: %s, %s", cards[i].Row, side, errs[n])})
			continue
		}
		pictures[i] = drawn[n]
		if len(problems[n]) == 0 { // what does not fit is said again each time
			m.result.Known.Drawn[marks[i]] = drawn[n]
		}
	}
	return pictures
}

// Artist draws cards with the pictures of the kit's folder.
func (k *Kit) Artist() *deck.Artist {
	type opened struct {
		once    sync.Once
		picture image.Image
		err     error
	}
	var mutex sync.Mutex
	known := map[string]*opened{}
	return &deck.Artist{
		Hash:    k.hashOf,
		Shipped: k.Fonts,
		Font:    func(file string) ([]byte, error) { return readFile(k.folder, file, MaxFile) },
		Picture: func(file string) (image.Image, error) {
			mutex.Lock()
			o := known[file]
			if o == nil {
				o = &opened{}
				known[file] = o
			}
			mutex.Unlock()
			o.once.Do(func() {
				text, err := readFile(k.folder, file, MaxFile)
				if err != nil {
					o.err = err
					return
				}
				if o.picture, err = readArt(file, text); err != nil {
					o.err = &Mistake{File: file, Text: err.Error()}
				}
			})
			return o.picture, o.err
		},
	}
}

// Hashed is a folder that knows the hashes of its files.
type Hashed interface {
	Hash(name string) (string, bool)
}

// hashOf is the hash of a file of the kit, read once.
func (k *Kit) hashOf(name string) (string, error) {
	if hashed, is := k.folder.(Hashed); is {
		if hash, known := hashed.Hash(name); known {
			return hash, nil
		}
	}
	k.hashing.Lock()
	defer k.hashing.Unlock()
	if hash, known := k.hashes[name]; known {
		return hash, nil
	}
	text, err := readFile(k.folder, name, MaxFile)
	if err != nil {
		return "", err
	}
	if k.hashes == nil {
		k.hashes = map[string]string{}
	}
	k.hashes[name] = HashOf(text)
	return k.hashes[name], nil
}

// HashOf is the SHA-256 of a file, in hexadecimal.
func HashOf(file []byte) string {
	sum := sha256.Sum256(file)
	return hex.EncodeToString(sum[:])
}

// DrawCard draws one side of a card by its deck's layout. The card is named by its
// key, its name, or its row in the table file.
func (k *Kit) DrawCard(key, card, side string) (deck.Drawn, error) {
	return k.drawOne(key, side, func(cards []deck.Card) int {
		return slices.IndexFunc(cards, func(c deck.Card) bool {
			return c.Key == card || strings.EqualFold(c.Name, card) || fmt.Sprint(c.Row) == card
		})
	})
}

// DrawRow draws one side of the card of a row, by the row's index.
func (k *Kit) DrawRow(key string, row int, side string) (deck.Drawn, error) {
	return k.drawOne(key, side, func([]deck.Card) int { return row })
}

func (k *Kit) drawOne(key, side string, which func([]deck.Card) int) (deck.Drawn, error) {
	d, known := k.Decks[key]
	if !known {
		return deck.Drawn{}, fmt.Errorf("the kit has no deck %q; it has %s", key, list(slices.Sorted(maps.Keys(k.Decks))))
	}
	if d.Layout == "" {
		return deck.Drawn{}, fmt.Errorf("the deck %q is not drawn by a layout", key)
	}
	rows, err := k.TableFile(d.Rows)
	if err != nil {
		return deck.Drawn{}, err
	}
	cards, _ := rows.Cards() // mistakes in other rows do not keep this one from being drawn
	at := which(cards)
	if at < 0 || at >= len(cards) {
		return deck.Drawn{}, fmt.Errorf("%s has no such card; name its key, its name, or its row", d.Rows)
	}
	name, err := k.layoutOf(d, cards[at])
	if err != nil {
		return deck.Drawn{}, err
	}
	l := k.Layouts[name]
	boxes := l.Front
	switch side {
	case "front":
	case "back":
		if boxes = l.Back; len(boxes) == 0 {
			return deck.Drawn{}, fmt.Errorf("the layout %q draws no back; the deck %q has one back for all", name, key)
		}
	default:
		return deck.Drawn{}, fmt.Errorf("a card has a front and a back, and no %q", side)
	}
	return k.Artist().Draw(&l, boxes, cards[at].Says())
}

// Rows writes a deck as the rows of a table file: key, name, copies and fields.
func (d EditionDeck) Rows() *deck.Rows {
	var fields []string
	for _, design := range d.Designs {
		fields = slices.AppendSeq(fields, maps.Keys(design.Fields))
	}
	slices.Sort(fields)
	fields = slices.DeleteFunc(slices.Compact(fields), func(f string) bool { return f == deck.ColumnKey || f == deck.ColumnName || f == deck.ColumnCopies })
	rows := &deck.Rows{Header: append([]string{deck.ColumnKey, deck.ColumnName, deck.ColumnCopies}, fields...)}
	for _, c := range d.Copies {
		design := d.Designs[c.Design]
		cells := []string{c.Design, design.Name, strconv.Itoa(c.Copies)}
		for _, f := range fields {
			cells = append(cells, design.Fields[f])
		}
		rows.Cells = append(rows.Cells, cells)
	}
	return rows
}
