package kit

import (
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"damselfly.example/damselfly/internal/core/grid"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/core/table"
)

var keyShape = regexp.MustCompile(`^[a-z0-9][a-z0-9-]{0,39}$`)

// check finds the mistakes in kit.yaml that need no picture to be seen.
func (k *Kit) check() error {
	var all []error
	note := func(path, format string, args ...any) { all = append(all, k.mistake(path, format, args...)) }
	if _, good := table.GoodTitle(k.Name); !good || strings.ContainsFunc(k.Name, unicode.IsControl) {
		note("$.name", "a kit needs a name of 1 to %d letters, on one line", table.MaxTitle)
	}
	if table.Printable(k.About) != k.About {
		note("$.about", "about holds a sign that controls a terminal or turns the direction of text; write it anew, without")
	}
	if k.Seats < 1 || k.Seats > table.MaxSeats {
		note("$.seats", "seats must be from 1 to %d, not %d", table.MaxSeats, k.Seats)
	}
	for path, file := range map[string]string{"$.picture": k.Picture, "$.description": k.Description, "$.rules": k.Rules} {
		if file != "" && !goodPath(file) {
			note(path, "%s", noFile(file))
		}
	}
	for _, name := range slices.Sorted(maps.Keys(k.Sheets)) {
		s, path := k.Sheets[name], "$.sheets."+name
		if !goodPath(s.File) {
			note(path+".file", "%s", noFile(s.File))
		}
	}
	for _, name := range slices.Sorted(maps.Keys(k.Layouts)) {
		layout := k.Layouts[name]
		mistakes := layout.Mistakes()
		for _, at := range slices.Sorted(maps.Keys(mistakes)) {
			note("$.layouts."+name+"."+at, "%s", mistakes[at])
		}
	}
	cards := 0
	for _, key := range slices.Sorted(maps.Keys(k.Decks)) {
		cards += k.checkDeck(key, note)
	}
	if cards > MaxCards {
		note("$.decks", "the decks have %d cards; a kit may have %d", cards, MaxCards)
	}
	k.checkTable(note)
	k.checkPieces(note)
	return errors.Join(all...)
}

type noter func(path, format string, args ...any)

// checkDeck returns how many cards the deck has at least.
func (k *Kit) checkDeck(key string, note noter) (cards int) {
	d, path := k.Decks[key], "$.decks."+key
	if key == felt {
		note(path, "the felt is the open table; call the deck something else")
	}
	if !keyShape.MatchString(key) {
		note(path, "a key has small letters, digits and hyphens, at most 40; %q does not", key)
	}
	k.checkSource(d, path, note)
	oneOf(note, path+".lie", d.Lie, "", "upright", "landscape")
	oneOf(note, path+".outline", d.Outline, "", "rounded", "square", "hexagon", "oval")
	pair(note, path+".size", d.Size, 5, 500)
	k.checkFaces(d, path, note)
	if z := k.zone(d.Home); d.Home != "" && (z == nil || z.Each != "" || z.Kind == "grid") {
		note(path+".home", "home is one of the table's zones that is not for each seat; %q is not. Leave it out, and the deck has a pile of its own", d.Home)
	}
	keys := map[string]int{}
	for i, design := range d.Designs {
		at := fmt.Sprintf("%s.designs[%d]", path, i)
		if (design.Cell < 1) == (design.File == "") {
			note(at, "design %d needs a cell, numbered from 1, or a file, and not both", i+1)
		}
		if design.Sheet != "" {
			k.checkSheet(at+".sheet", design.Sheet, note)
		}
		if design.File == "" && design.Sheet == "" && len(d.parts()) == 0 {
			note(at, "design %d takes a cell, but the deck names no sheet", i+1)
		}
		if !keyShape.MatchString(design.Key) {
			note(at, "design %d needs a key of small letters, digits and hyphens; it says %q", i+1, design.Key)
		}
		if first, twice := keys[design.Key]; twice {
			note(at+".key", "design %d has the key %q, which design %d has already", i+1, design.Key, first)
		}
		keys[design.Key] = i + 1
		if design.Copies != nil && (*design.Copies < 0 || *design.Copies > 1000) {
			note(at+".copies", "copies must be from 0 to 1000, not %d", *design.Copies)
		}
		cards += design.copies()
	}
	return cards
}

// checkSource checks where the cards of a deck come from.
func (k *Kit) checkSource(d Deck, path string, note noter) {
	files := slices.ContainsFunc(d.Designs, func(design Design) bool { return design.File != "" })
	switch {
	case d.Rows != "" && (d.Sheet != "" || d.From != nil || d.Designs != nil):
		note(path, "a deck comes from rows, or from sheets and designs, and not from both")
	case d.Sheet != "" && d.From != nil:
		note(path, "give sheet, or from with several sheets, and not both")
	case d.Rows == "" && d.Sheet == "" && d.From == nil && !files:
		note(path, "say where the cards come from: sheet, from, rows, or designs with files")
	case d.Layout != "" && d.Rows == "":
		note(path+".layout", "a layout draws the rows of a table file; name it with rows")
	}
	if d.Rows != "" && !goodPath(d.Rows) {
		note(path+".rows", "%s", noFile(d.Rows))
	}
	if _, known := k.Layouts[d.Layout]; d.Layout != "" && !known && !strings.Contains(d.Layout, "{") {
		note(path+".layout", "there is no layout %q; there is %s", d.Layout, list(slices.Sorted(maps.Keys(k.Layouts))))
	}
	for _, part := range d.parts() {
		k.checkSheet(path+".sheet", part.Sheet, note)
		if _, err := cellRange(part.Cells); err != nil {
			note(path+".cells", "%s", err)
		}
	}
}

func (k *Kit) checkSheet(path, name string, note noter) {
	if _, known := k.Sheets[name]; !known {
		note(path, "there is no sheet %q; there is %s", name, list(slices.Sorted(maps.Keys(k.Sheets))))
	}
}

// checkFaces checks the back and the veil of a deck.
func (k *Kit) checkFaces(d Deck, path string, note noter) {
	if d.Rows != "" && d.Back.Each != "" {
		note(path+".back", "backs of a sheet belong to the cells of another sheet; rows have a layout's back, or a column \"back\"")
	}
	if d.Back != (Face{}) && k.drawsBacks(d) {
		note(path+".back", "the layout %q draws a back for each card, so the deck can have no other", d.Layout)
	}
	faces := map[string]Face{".back": d.Back}
	if d.Veil != nil {
		faces[".veil"] = *d.Veil
	}
	for at, f := range faces {
		if ways := count(f.Cell != 0, f.File != "", f.Each != ""); ways > 1 || f != (Face{}) && ways == 0 {
			note(path+at, "give one of cell, file and each, not %d of them", ways)
		}
		if f.Sheet != "" {
			k.checkSheet(path+at+".sheet", f.Sheet, note)
		}
		if f.Cell != 0 && f.Sheet == "" && len(d.parts()) == 0 {
			note(path+at, "say of which sheet the cell is: {sheet: …, cell: %d}", f.Cell)
		}
		if f.Each != "" && at == ".veil" {
			note(path+at, "a veil is the same for all cards; a veil for each would tell them apart")
		} else if f.Each != "" {
			k.checkSheet(path+at+".each", f.Each, note)
		}
		if f.File != "" && !goodPath(f.File) {
			note(path+at+".file", "%s", noFile(f.File))
		}
	}
}

func count(all ...bool) (n int) {
	for _, is := range all {
		if is {
			n++
		}
	}
	return n
}

// parts are the cells that the deck takes, sheet by sheet.
func (d Deck) parts() []Part {
	if d.Sheet != "" {
		return []Part{{d.Sheet, d.Cells}}
	}
	return d.From
}

// cellRange reads a list of cells such as "1-12, 15"; nil is all.
func cellRange(text string) (map[int]bool, error) {
	if strings.TrimSpace(text) == "" {
		return nil, nil
	}
	spans, wrong := sheet.Spans(text)
	if spans == nil {
		return nil, fmt.Errorf("cells are written like 1-12, 15, and not %q", wrong)
	}
	if len(spans) > mostSpans {
		return nil, fmt.Errorf("cells are written in %d spans; there may be %d", len(spans), mostSpans)
	}
	cells := map[int]bool{}
	for _, span := range spans {
		if span[1] > sheet.MaxCells {
			return nil, fmt.Errorf("a sheet has %d cells at most, so that %d is none", sheet.MaxCells, span[1])
		}
		for cell := span[0]; cell <= span[1]; cell++ {
			cells[cell] = true
		}
	}
	return cells, nil
}

// mostSpans is of how many spans a part of a sheet may be; each may name all its cells.
const mostSpans = 200

func (d Design) copies() int {
	if d.Copies == nil {
		return 1
	}
	return *d.Copies
}

func (k *Kit) checkTable(note noter) {
	if pair(note, "$.table.size", k.Table.Size, 50, 20_000); k.Table.Size == nil && len(k.Table.Zones)+len(k.Table.Pieces) > 0 {
		note("$.table", "the table needs a size: [width, height] in millimetres")
	}
	oneOf(note, "$.table.arrange", k.Table.Arrange, "", "host", "everyone")
	if len(k.Table.Setup) > table.MaxNote {
		note("$.table.setup", "the setup has %d bytes; it may have %d", len(k.Table.Setup), table.MaxNote)
	}
	if k.Table.Mat != "" && !goodPath(k.Table.Mat) {
		note("$.table.mat", "%s", noFile(k.Table.Mat))
	}
	if len(k.Table.Zones) > table.MaxZones {
		note("$.table.zones", "the table has %d zones; it may have %d", len(k.Table.Zones), table.MaxZones)
		return
	}
	keys := map[string]bool{}
	for i, z := range k.Table.Zones {
		path := fmt.Sprintf("$.table.zones[%d]", i)
		if !keyShape.MatchString(z.Key) {
			note(path, "zone %d needs a key of small letters, digits and hyphens; it says %q", i+1, z.Key)
		}
		if keys[z.Key] {
			note(path+".key", "two zones have the key %q", z.Key)
		}
		keys[z.Key] = true
		checkLabel(note, path+".name", z.Name)
		if z.Key == felt || strings.EqualFold(z.Name, felt) {
			note(path, "the felt is the open table; call zone %d something else", i+1)
		}
		oneOf(note, path+".kind", z.Kind, words(table.ZoneKinds)...)
		checkGrid(note, path, z)
		oneOf(note, path+".each", z.Each, "", "seat")
		oneOf(note, path+".sight", z.Sight, "", "open", "owner", "none")
		oneOf(note, path+".arrival", z.Arrival, "", "as-it-is", "front", "back")
		if (z.Kind == "hand" || z.Sight == "owner") && z.Each != "seat" && z.Seat == 0 {
			note(path, "zone %q belongs to a seat, so it needs \"each: seat\", or \"seat: \" and a number", z.Key)
		}
		if z.Seat < 0 || int(z.Seat) > k.Seats || z.Seat > 0 && z.Each != "" {
			note(path+".seat", "seat is one of the kit's %d seats, and does not go with each", k.Seats)
		}
		if z.AtSeats != nil && z.Each == "" {
			note(path+".at-seats", "at-seats goes with each: seat")
		}
		for n := range z.AtSeats {
			pair(note, fmt.Sprintf("%s.at-seats[%d]", path, n), z.AtSeats[n], 0, 20_000)
		}
		if z.Turned < 0 || z.Turned > 359 {
			note(path+".turned", "turned is 0 to 359 degrees, not %d", z.Turned)
		}
		if z.Each == "" && z.At == nil {
			note(path, "zone %q needs a place: at: [x, y] in millimetres", z.Key)
		}
		if z.Turn != nil && (*z.Turn < 0 || *z.Turn > 359) {
			note(path+".turn", "turn is 0 to 359 degrees, not %d", *z.Turn)
		}
		if z.Capacity < 0 {
			note(path+".capacity", "capacity must be at least 1")
		}
		pair(note, path+".at", z.At, 0, 20_000)
		pair(note, path+".size", z.Size, 5, 20_000)
	}
}

func checkGrid(note noter, path string, z Zone) {
	switch {
	case (z.Kind == "grid") != (z.Grid != nil):
		note(path, "zone %q: kind grid and grid: {shape, columns, rows} go together", z.Key)
	case z.Grid != nil:
		oneOf(note, path+".grid.shape", z.Grid.Shape, "square", "square4", "hex")
		if g := z.Grid; g.Columns < 1 || g.Rows < 1 || g.Columns > grid.MaxSide || g.Rows > grid.MaxSide || g.Columns*g.Rows > table.MaxCells {
			note(path+".grid", "a grid has 1 to %d cells, not %d × %d", table.MaxCells, g.Columns, g.Rows)
		}
	}
}

func (k *Kit) checkPieces(note noter) {
	if len(k.Table.Pieces) > table.MaxPieces {
		note("$.table.pieces", "the table has %d pieces; it may have %d", len(k.Table.Pieces), table.MaxPieces)
		return
	}
	keys := map[string]bool{}
	for i, p := range k.Table.Pieces {
		path := fmt.Sprintf("$.table.pieces[%d]", i)
		if !keyShape.MatchString(p.Key) || keys[p.Key] {
			note(path, "piece %d needs a key of its own, of small letters, digits and hyphens; it says %q", i+1, p.Key)
		}
		keys[p.Key] = true
		for _, name := range append([]string{p.Name}, p.Faces...) {
			checkLabel(note, path, name)
		}
		oneOf(note, path+".kind", p.Kind, words(table.PieceKinds)...)
		if pair(note, path+".at", p.At, 0, table.MaxSide); p.At == nil {
			note(path, "piece %q needs a place: at: [x, y] in millimetres", p.Key)
		}
		pair(note, path+".size", p.Size, table.MinSide, table.MaxSide)
		if len(p.At) == 2 && (p.Size == nil || len(p.Size) == 2) {
			checkKind(note, path, p)
		}
	}
	if k.Table.Turn < 0 || k.Table.Turn > table.MaxOneTurn {
		note("$.table.turn", "one turn is 1 to %d degrees, not %d", table.MaxOneTurn, k.Table.Turn)
	}
}

// checkKind checks a piece by what the table has of its kind.
func checkKind(note noter, path string, p Piece) {
	kind, given := table.PieceKind(p.Kind), p.parts()
	if !slices.Contains(table.PieceKinds, kind) {
		return // it is told
	}
	if part := kind.Lacks(slices.Collect(maps.Keys(given))); part != "" {
		note(path+"."+given[part], "%q: a %s has no %s", p.Key, p.Kind, given[part])
		return
	}
	for _, part := range kind.Needs() {
		if given[part] == "" {
			note(path, "%q: a %s needs %s", p.Key, p.Kind, fieldsOf(kind)[part])
			return
		}
	}
	if refusal := p.laid(make([]table.Picture, len(p.Files))).Fits(); refusal != nil {
		note(path, "%q: %s", p.Key, refusal.Text)
	}
}

// fieldsOf are the fields of kit.yaml for the parts of a kind of piece.
func fieldsOf(kind table.PieceKind) map[table.PiecePart]string {
	fields := map[table.PiecePart]string{
		table.PartValue: "value", table.PartStep: "step", table.PartBounds: "least and most", table.PartFaces: "faces", table.PartPicture: "files",
		table.PartSize: "size", table.PartCount: "count", table.PartTime: "seconds", table.PartText: "text",
	}
	if kind == table.Cue {
		fields[table.PartText] = "steps"
	}
	return fields
}

// noSuchPart is what a field says that no piece of the kind has.
const noSuchPart table.PiecePart = "?"

// parts are the parts that kit.yaml says of a piece, each with its field.
func (p Piece) parts() map[table.PiecePart]string {
	fields := fieldsOf(table.PieceKind(p.Kind))
	given := map[table.PiecePart]string{}
	for part, is := range map[table.PiecePart]bool{
		table.PartValue: p.Value != 0, table.PartStep: p.Step != 0, table.PartFaces: p.Faces != nil, table.PartPicture: p.Files != nil,
		table.PartSize: p.Size != nil, table.PartCount: p.Count != 0, table.PartTime: p.Seconds != 0,
	} {
		if is {
			given[part] = fields[part]
		}
	}
	for field, is := range map[string]bool{"least": p.Least != nil, "most": p.Most != nil} {
		if is {
			given[table.PartBounds] = field
		}
	}
	for field, text := range map[string]string{"text": p.Text, "steps": p.Steps} {
		switch {
		case text == "":
		case field == fields[table.PartText]:
			given[table.PartText] = field
		default:
			given[noSuchPart] = field
		}
	}
	return given
}

// felt is what the open table is called.
const felt = "felt"

// checkLabel checks a name that players will read, if it is given.
func checkLabel(note noter, path, name string) {
	if name != "" && !table.GoodLabel(name) {
		note(path, "a name has 1 to %d letters, digits or signs, but no \" and no #; %q does not", table.MaxLabel, name)
	}
}

func (k *Kit) zone(key string) *Zone {
	for i := range k.Table.Zones {
		if k.Table.Zones[i].Key == key {
			return &k.Table.Zones[i]
		}
	}
	return nil
}

func oneOf(note noter, path, value string, allowed ...string) {
	if !slices.Contains(allowed, value) {
		note(path, "%q is not one of %s", value, list(slices.DeleteFunc(allowed, func(a string) bool { return a == "" })))
	}
}

// pair checks two lengths, if they are given.
func pair(note noter, path string, values []float64, least, most float64) {
	if values == nil {
		return
	}
	if len(values) != 2 || min(values[0], values[1]) < least || max(values[0], values[1]) > most {
		note(path, "expected two numbers from %g to %g millimetres, such as [63, 88]", least, most)
	}
}

// words are the texts of words of one type.
func words[W ~string](all []W) []string {
	texts := make([]string, len(all))
	for i, w := range all {
		texts[i] = string(w)
	}
	return texts
}

func list(names []string) string {
	if len(names) == 0 {
		return "none"
	}
	return `"` + strings.Join(names, `", "`) + `"`
}

// goodPath is whether a text can name a file of a kit.
func goodPath(file string) bool { return fs.ValidPath(file) && !strings.Contains(file, `\`) }

// noFile says why a text names no file of a kit.
func noFile(file string) string {
	if strings.Contains(file, `\`) {
		return fmt.Sprintf(`folders are parted by /: write %q`, strings.ReplaceAll(file, `\`, "/"))
	}
	return fmt.Sprintf("%q is no file inside the kit's folder", file)
}
