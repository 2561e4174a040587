package deck

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
)

// written is how a table file was written, so that it can be written so again.
type written struct {
	comma    rune
	encoding string // "", "utf-8 mark", "utf-16le", "utf-16be" or "windows-1252"
	crlf     bool
	open     bool     // the last line does not end
	raw      [][]bool // whether each cell stood in quotes, row by row, the header first
	short    []int    // how many cells each row had

	headless []string // the names that columns were given where no row names them

	blank int               // empty lines between rows
	above [][]string        // rows above the one that names the columns
	exact map[[2]int]string // cells by row and column whose line breaks are not those of the rows, as they were written
	tabs  []tab             // of a spreadsheet, all tables
	tab   int               // and which one this is
}

// ReadCSV reads a table file of values parted by comma, semicolon or tab, as
// UTF-8 with or without mark, UTF-16, or what is none of them as Windows-1252. Cells may stand in quotes and then hold
// line breaks.
func ReadCSV(file []byte) (*Rows, error) {
	if len(file) > MaxTableFile {
		return nil, fmt.Errorf("the file has more than %d MiB, which is the most a table file may have", MaxTableFile>>20)
	}
	text, encoding, err := decodeText(file)
	if err != nil {
		return nil, err
	}
	w := written{encoding: encoding, comma: commaOf(text), crlf: bytes.Contains(text, []byte("\r\n")), open: !bytes.HasSuffix(text, []byte("\n"))}
	reader := csv.NewReader(bytes.NewReader(text))
	reader.Comma, reader.FieldsPerRecord = w.comma, -1
	lines := lineStarts(text)
	var all [][]string
	next := 1 // the line on which the next row is to begin
	for {
		row, err := reader.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err == nil {
			line, _ := reader.FieldPos(0)
			if len(all) > 0 {
				w.blank += line - next
			}
			next, _ = slices.BinarySearch(lines, int(reader.InputOffset()))
			next++
		}
		if err != nil {
			return nil, csvError(err, len(all)+1)
		}
		if len(all) > MaxRows+1 {
			return nil, &RowError{len(all) + 1, "", fmt.Sprintf("the file has more than %d rows, which is the most it may have", MaxRows)}
		}
		quoted := make([]bool, len(row))
		for i := range row {
			line, column := reader.FieldPos(i)
			at := lines[line-1] + column - 1
			quoted[i] = at < len(text) && text[at] == '"'
			if !w.crlf || !quoted[i] || !strings.Contains(row[i], "\n") {
				continue
			}
			if raw := quotedCell(text[at:]); strings.Count(raw, "\n") != strings.Count(raw, "\r\n") {
				if w.exact == nil {
					w.exact = map[[2]int]string{}
				}
				w.exact[[2]int{len(all), i}] = raw
			}
		}
		w.raw, w.short = append(w.raw, quoted), append(w.short, len(row))
		all = append(all, row)
	}
	rows, err := newRows(all, w)
	if err == nil && encoding == encodingOfWindows {
		rows.Notes = append(rows.Notes, "the file is not UTF-8; it was read as Windows-1252 (Latin-1), so look whether its letters are right")
	}
	return rows, err
}

// csvError says what is wrong in words for a maker.
func csvError(err error, row int) error {
	text := err.Error()
	var parse *csv.ParseError
	if errors.As(err, &parse) {
		text = fmt.Sprintf("line %d: %s", parse.Line, parse.Err)
		if errors.Is(parse.Err, csv.ErrQuote) || errors.Is(parse.Err, csv.ErrBareQuote) {
			text = fmt.Sprintf("line %d: a quote (\") is not closed, or stands inside a cell without being doubled", parse.Line)
		}
	}
	return &RowError{row, "", text}
}

// quotedCell is the cell in quotes with which a text begins.
func quotedCell(text []byte) string {
	for i := 1; i < len(text); i++ {
		if text[i] != '"' {
			continue
		}
		if i+1 < len(text) && text[i+1] == '"' {
			i++
			continue
		}
		return string(text[:i+1])
	}
	return ""
}

func lineStarts(text []byte) []int {
	starts := []int{0}
	for i, b := range text {
		if b == '\n' {
			starts = append(starts, i+1)
		}
	}
	return starts
}

// decodeText gives the text of a file as UTF-8, and how it was encoded.
func decodeText(file []byte) (text []byte, encoding string, err error) {
	switch {
	case bytes.HasPrefix(file, []byte("\xef\xbb\xbf")):
		text, encoding = file[3:], "utf-8 mark"
	case bytes.HasPrefix(file, []byte("\xff\xfe")):
		encoding = "utf-16le"
		text, err = unicode.UTF16(unicode.LittleEndian, unicode.IgnoreBOM).NewDecoder().Bytes(file[2:])
	case bytes.HasPrefix(file, []byte("\xfe\xff")):
		encoding = "utf-16be"
		text, err = unicode.UTF16(unicode.BigEndian, unicode.IgnoreBOM).NewDecoder().Bytes(file[2:])
	default:
		text = file
	}
	if err == nil && encoding == "" && !utf8.Valid(text) && !bytes.ContainsFunc(text, isBinary) {
		encoding = encodingOfWindows
		text, err = charmap.Windows1252.NewDecoder().Bytes(file)
	}
	if err != nil || !utf8.Valid(text) || bytes.ContainsRune(text, 0) {
		return nil, "", errors.New("the file is no text; save it as CSV with the encoding UTF-8")
	}
	return text, encoding, nil
}

// encodingOfWindows is how some spreadsheets write tables; Latin-1 is part of it.
const encodingOfWindows = "windows-1252"

// isBinary is whether no text has a byte.
func isBinary(b rune) bool { return b < ' ' && b != '\t' && b != '\n' && b != '\r' }

func encodeText(text []byte, encoding string) []byte {
	switch encoding {
	case encodingOfWindows:
		if written, err := charmap.Windows1252.NewEncoder().Bytes(text); err == nil {
			return written
		}
		return encodeText(text, "utf-8 mark") // it has letters now that Windows-1252 has not
	case "utf-8 mark":
		return append([]byte("\xef\xbb\xbf"), text...)
	case "utf-16le", "utf-16be":
		order := unicode.LittleEndian
		if encoding == "utf-16be" {
			order = unicode.BigEndian
		}
		encoded, err := unicode.UTF16(order, unicode.UseBOM).NewEncoder().Bytes(text)
		if err != nil {
			panic(err) // every UTF-8 text can be UTF-16
		}
		return encoded
	}
	return text
}

// commaOf is the sign that parts the cells of the first line that has one.
func commaOf(text []byte) rune {
	counts, quoted, lines := map[rune]int{}, false, 0
	for _, r := range string(text) {
		switch {
		case r == '"':
			quoted = !quoted
		case quoted:
		case r == '\n' && counts[',']+counts[';']+counts['\t'] > 0, lines > mostAbove:
			return most(counts)
		case r == '\n':
			lines++
		default:
			counts[r]++
		}
	}
	return most(counts)
}

// most is the sign of those that part cells of which there are most.
func most(counts map[rune]int) rune {
	best := ','
	for _, r := range ";\t" {
		if counts[r] > counts[best] {
			best = r
		}
	}
	return best
}

// WriteCSV writes the rows as a table file: what ReadCSV read comes out as the
// same bytes, and changed cells like their neighbours.
func (r *Rows) WriteCSV() []byte {
	w := r.written
	if w.comma == 0 {
		w.comma = ','
	}
	end := "\n"
	if w.crlf {
		end = "\r\n"
	}
	var out strings.Builder
	rows := r.withAbove()
	above, cards := len(w.above), len(rows)-len(r.Cells)
	for i, cells := range rows {
		number := i // the row it had in the file
		if i >= cards {
			number = r.Number(i-cards) - 1
		}
		if number < len(w.short) && w.short[number] < len(cells) && strings.Join(cells[w.short[number]:], "") == "" {
			cells = cells[:w.short[number]]
		}
		for c, cell := range cells {
			if c > 0 {
				out.WriteRune(w.comma)
			}
			quote := number < len(w.raw) && c < len(w.raw[number]) && w.raw[number][c]
			signs := "\"\r\n" + string(w.comma)
			if i == above || len(r.Header) == 1 {
				signs += ",;\t" // the header tells which of them parts cells, if it has several
			}
			if raw, kept := w.exact[[2]int{number, c}]; kept && cellIn(raw) == cell {
				cell = raw
			} else if quote || strings.ContainsAny(cell, signs) || strings.HasPrefix(cell, " ") {
				cell = `"` + strings.ReplaceAll(strings.ReplaceAll(cell, `"`, `""`), "\n", end) + `"`
			}
			out.WriteString(cell)
		}
		if i < len(rows)-1 || !w.open {
			out.WriteString(end)
		}
	}
	return encodeText([]byte(out.String()), w.encoding)
}

// withAbove are all rows of the file: those above, the one that names the columns where there is one, and the cards.
func (r *Rows) withAbove() [][]string {
	rows := slices.Clone(r.written.above)
	if r.written.headless == nil || !slices.Equal(r.written.headless, r.Header) {
		rows = append(rows, r.Header)
	}
	return append(rows, r.Cells...)
}

// cellIn is what a cell in quotes says.
func cellIn(raw string) string {
	return strings.ReplaceAll(strings.ReplaceAll(raw[1:len(raw)-1], `""`, `"`), "\r\n", "\n")
}
