// Package deck makes the designs of decks: pictures of cards by their content,
// table files with one row a card, and layouts that draw cards from such rows.
package deck

import (
	"cmp"
	"fmt"
	"hash/fnv"
	"maps"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

// Limits of a table file.
const (
	MaxTableFile = 16 << 20 // bytes
	MaxRows      = 20_000
	MaxColumns   = 200
	MaxCell      = 64 << 10 // bytes of one cell
)

// Rows is a table file that was read: the names of its columns, and one row a
// card. It knows how it was written, so that writing it gives the same file.
type Rows struct {
	Header []string
	Cells  [][]string // each as long as the header
	Notes  []string   // what its maker should know, such as that rows above the header are left out
	Odd    []string   // what looks wrong, such as formulas without a value

	written written
	numbers []int // the row in the file of each row here, from 1
}

// RowError is a mistake in a table file: where it is, and what.
type RowError struct {
	Row    int    `json:"row"`              // from 1, the header is row 1
	Column string `json:"column,omitempty"` // its name, or empty
	Text   string `json:"text"`
}

func (e *RowError) Error() string {
	if e.Column == "" {
		return fmt.Sprintf("row %d: %s", e.Row, e.Text)
	}
	return fmt.Sprintf("row %d, column %q: %s", e.Row, e.Column, e.Text)
}

// Card is one row as a card.
type Card struct {
	Row    int // in the file, from 1
	Key    string
	Name   string
	Copies int
	Fields map[string]string
}

// newRows checks a header and rows as they were read. Rows that are wholly empty
// are no cards.
func newRows(all [][]string, w written) (*Rows, error) {
	if len(all) == 0 {
		return nil, &RowError{1, "", "the file is empty; its first row names the columns"}
	}
	top := headerRow(all)
	w.above = all[:top]
	all = all[top:]
	header := make([]string, len(all[0]))
	for i, name := range all[0] {
		header[i] = strings.TrimFunc(name, func(r rune) bool { return unicode.IsSpace(r) || r == '\ufeff' }) // a stray mark
	}
	rows := all[1:]
	if top == 0 && hasNoHeader(all) {
		rows, header = all, columnsWithoutNames(all)
		w.headless = header
	}
	for len(header) > 0 && header[len(header)-1] == "" {
		header = header[:len(header)-1] // a spreadsheet's empty columns
	}
	if len(header) == 0 || len(header) > MaxColumns {
		return nil, &RowError{top + 1, "", fmt.Sprintf("the first row names %d columns; it may name 1 to %d", len(header), MaxColumns)}
	}
	for i, name := range header {
		if name == "" {
			return nil, &RowError{top + 1, "", fmt.Sprintf("column %d has no name", i+1)}
		}
		if slices.ContainsFunc(header[:i], func(other string) bool { return strings.EqualFold(other, name) }) {
			return nil, &RowError{top + 1, name, "two columns have this name"}
		}
	}
	r := &Rows{Header: header, written: w}
	if top > 0 {
		r.Notes = append(r.Notes, fmt.Sprintf("row %d names the columns; what stands above it is left out", top+1))
	}
	if w.headless != nil {
		r.Notes = append(r.Notes, fmt.Sprintf("no row names the columns, so they are called %s; put a row with their names above, if the first row is no card", inQuotes(header)))
	}
	first := top + len(all) - len(rows) + 1 // the row in the file that has the first card
	blank, between := 0, w.blank
	for i, row := range rows {
		for c, cell := range row {
			if c >= len(header) && strings.TrimSpace(cell) != "" {
				return nil, &RowError{first + i, "", fmt.Sprintf("cell %d holds %q, but the first row names %d columns", c+1, short(cell), len(header))}
			}
			if len(cell) > MaxCell {
				return nil, &RowError{first + i, header[c], fmt.Sprintf("the cell has %d bytes; it may have %d", len(cell), MaxCell)}
			}
		}
		cells := make([]string, len(header))
		copy(cells, row)
		if strings.TrimSpace(strings.Join(cells, "")) == "" {
			blank++
			continue
		}
		between, blank = between+blank, 0 // those at the end are a spreadsheet's
		r.Cells, r.numbers = append(r.Cells, cells), append(r.numbers, first+i)
	}
	if len(r.Cells) > MaxRows {
		return nil, &RowError{MaxRows + 1, "", fmt.Sprintf("the file has %d rows; it may have %d", len(r.Cells), MaxRows)}
	}
	if between > 0 {
		r.Notes = append(r.Notes, fmt.Sprintf("empty rows between the cards (%d) are left out, and are gone where the table is written again", between))
	}
	r.noteColumns()
	return r, nil
}

func short(text string) string {
	if runes := []rune(text); len(runes) > 30 {
		return string(runes[:30]) + "…"
	}
	return text
}

// inQuotes lists the first of some words.
func inQuotes(words []string) string {
	var all []string
	for _, word := range words[:min(len(words), 4)] {
		all = append(all, strconv.Quote(word))
	}
	if len(words) > len(all) {
		all = append(all, "…")
	}
	return strings.Join(all, ", ")
}

// With gives other columns and rows, to be written as these were.
func (r *Rows) With(header []string, cells [][]string) *Rows {
	return &Rows{Header: header, Cells: cells, written: r.written, numbers: r.numbers}
}

// Number is the row in the file, from 1, of the row at an index.
func (r *Rows) Number(index int) int {
	if index < len(r.numbers) {
		return r.numbers[index]
	}
	return index + 2
}

// Cards turns rows into cards, or says for every row what is wrong with it.
// A key is made from the name where there is no column for it.
func (r *Rows) Cards() (cards []Card, mistakes []error) {
	names, keys, copies, counted := r.Names(), r.Column(ColumnKey), r.Copies(), r.Column(ColumnCopies)
	first := map[string]Card{}
	for i, cells := range r.Cells {
		c := Card{Row: r.Number(i), Copies: 1, Fields: map[string]string{}}
		mistake := func(column int, format string, args ...any) {
			name := ""
			if column >= 0 {
				name = r.Header[column]
			}
			mistakes = append(mistakes, &RowError{c.Row, name, fmt.Sprintf(format, args...)})
		}
		for column, name := range r.Header {
			if column != keys && column != counted {
				c.Fields[name] = cells[column]
			}
		}
		if copies >= 0 {
			n, is := copiesOf(cells[copies])
			if !is {
				mistake(copies, "copies are a whole number from 0 to 1000, not %q; leave the cell empty for one", short(cells[copies]))
			}
			c.Copies = n
		}
		if names >= 0 {
			c.Name = strings.TrimSpace(cells[names])
		}
		switch {
		case keys >= 0:
			if c.Key = strings.TrimSpace(cells[keys]); !KeyShape(c.Key) {
				mistake(keys, "a key has small letters, digits and hyphens, at most 40; %q does not", short(c.Key))
			}
		default:
			c.Key = keyOfRow(c.Name, c.Row)
		}
		switch other, twice := first[c.Key]; {
		case twice && keys < 0 && other.Name == c.Name:
			mistake(names, "row %d has the name %q already; if it is the same card, say in a column \"copies\" how often it is there, else give each a key of its own in a column \"key\"", other.Row, short(c.Name))
		case twice:
			mistake(keys, "has the key %q, which row %d has already; give each row a key of its own in a column \"key\"", c.Key, other.Row)
		}
		first[c.Key] = c
		if c.Name == "" {
			c.Name = c.Key
		}
		cards = append(cards, c)
	}
	return cards, mistakes
}

// Says is all that a row says: its fields, and its number, key and copies, unless it has columns of those names
// that say something else.
func (c Card) Says() map[string]string {
	all := map[string]string{FieldRow: strconv.Itoa(c.Row), FieldKey: c.Key, FieldCopies: strconv.Itoa(c.Copies)}
	maps.Copy(all, c.Fields)
	return all
}

// maxKey is how long a key is at most.
const maxKey = 40

// KeyShape reports whether a text can be a key: small letters, digits, hyphens.
func KeyShape(key string) bool {
	return key != "" && len(key) <= maxKey && key[0] != '-' &&
		strings.Trim(key, "abcdefghijklmnopqrstuvwxyz0123456789-") == ""
}

// latin are letters that Unicode does not take apart into a plain one and its mark, and those of
// German as they are written without marks.
var latin = strings.NewReplacer(Latin...)

// Latin are those letters, each with what stands for it.
var Latin = []string{"ä", "ae", "ö", "oe", "ü", "ue", "ß", "ss", "æ", "ae", "œ", "oe", "ø", "o", "ł", "l", "đ", "d", "ð", "d", "þ", "th", "ı", "i"}

// keyOfRow makes a key of a row's name. A name with letters that are not Latin is told by a number that is made of it,
// "潮が満ちる 4" as "4-730113094": so its card stays what it is when rows are added before it. Without a name it is
// the row that counts.
func keyOfRow(name string, row int) string {
	made, lost := plainLetters(name)
	if !lost {
		return cmp.Or(made, fmt.Sprintf("row-%02d", row))
	}
	sum := fnv.New32a()
	sum.Write([]byte(norm.NFC.String(name))) // a hash fails never
	number := fmt.Sprintf("-%09d", sum.Sum32()%1e9)
	made = cmp.Or(made, "name")
	return strings.TrimRight(made[:min(len(made), maxKey-len(number))], "-") + number
}

// KeyFrom makes a key of a name: "Spring tide!" gives "spring-tide", "Über Öl" gives
// "ueber-oel". Of a name without a Latin letter or a digit nothing is left, and it is the key that is
// given instead.
func KeyFrom(name, instead string) string {
	made, _ := plainLetters(name)
	return cmp.Or(made, instead)
}

// FreeKey is a key made of a name that is not taken: letters, letters-2. YAML takes null for none.
func FreeKey(name, instead string, taken func(key string) bool) string {
	like := KeyFrom(name, instead)
	key := like
	for n := 2; key == "null" || taken(key); n++ {
		number := fmt.Sprintf("-%d", n)
		key = strings.TrimRight(like[:min(len(like), maxKey-len(number))], "-") + number
	}
	return key
}

// plainLetters is what small Latin letters, digits and hyphens say of a name, and whether they say less than it does:
// a letter or a sign of another script was lost.
func plainLetters(name string) (made string, lost bool) {
	var key strings.Builder
	for _, r := range norm.NFD.String(latin.Replace(strings.ToLower(norm.NFC.String(name)))) {
		lost = lost || r > unicode.MaxASCII && !unicode.In(r, unicode.Mn, unicode.Punct, unicode.Space)
		switch {
		case r >= 'a' && r <= 'z' || r >= '0' && r <= '9':
			key.WriteRune(r)
		case unicode.Is(unicode.Mn, r): // a mark on the letter before
		case key.Len() > 0 && !strings.HasSuffix(key.String(), "-"):
			key.WriteByte('-')
		}
	}
	return strings.TrimRight(key.String()[:min(key.Len(), maxKey)], "-"), lost
}
