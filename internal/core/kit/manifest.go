// Package kit reads everything that is needed to play one game: a folder, or
// one zip of it, with a kit.yaml. The format is described in docs/kit.md.
//
//	k, err := kit.Read(folder)           // kit.yaml, checked for mistakes
//	made, err := k.Make(kit.Making{})    // sheets looked over and cut
//	t.Fold(made.Edition.Lay(5))          // a table for five seats
package kit

import (
	"errors"
	"fmt"
	"io"
	"io/fs"
	"reflect"
	"sync"

	"go.yaml.in/yaml/v4"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/core/table"
)

// Version is the version of the format that this package reads.
const Version = 1

// Limits of a kit. A larger one is refused with the limit in the error.
const (
	MaxManifest = 1 << 20  // bytes of kit.yaml
	MaxFile     = 96 << 20 // bytes of one file
	MaxCards    = 20_000   // cards of all decks together
)

// Manifest is kit.yaml.
type Manifest struct {
	Kit   int    `yaml:"kit"`
	Name  string `yaml:"name"`
	About string `yaml:"about"`
	Seats int    `yaml:"seats"`

	Picture     string `yaml:"picture"`     // a file: what the shelf shows of it
	Description string `yaml:"description"` // a file of Markdown
	Rules       string `yaml:"rules"`       // a file of Markdown, or a PDF

	Sheets  map[string]Sheet       `yaml:"sheets"`
	Layouts map[string]deck.Layout `yaml:"layouts"`
	Decks   map[string]Deck        `yaml:"decks"`
	Table   Table                  `yaml:"table"`
}

// Sheet is a picture and how its cells lie.
type Sheet struct {
	File    string       `yaml:"file"`
	Columns int          `yaml:"columns"`
	Rows    int          `yaml:"rows"`
	Margin  sheet.Margin `yaml:"margin"`
	Gutter  sheet.Gutter `yaml:"gutter"`
	Count   int          `yaml:"count"` // cells that hold cards; as many as have content if left out
}

// Grid is how the cells lie.
func (s Sheet) Grid() sheet.Grid {
	return sheet.Grid{Columns: s.Columns, Rows: s.Rows, Margin: s.Margin, Gutter: s.Gutter, Count: s.Count}
}

// Deck is a list of designs: cut from a sheet or several, drawn by a layout from
// the rows of a table file, or loose pictures.
type Deck struct {
	Sheet   string    `yaml:"sheet"`
	Cells   string    `yaml:"cells"`            // which of the sheet, such as 1-24; all with content if left out
	From    []Part    `yaml:"from"`             // in place of sheet and cells: several sheets
	Rows    string    `yaml:"rows"`             // a table file
	Layout  string    `yaml:"layout"`           // how its rows are drawn
	Lie     string    `yaml:"lie"`              // upright or landscape
	Size    []float64 `yaml:"size" numbers:"2"` // millimetres, width and height as the card lies
	Outline string    `yaml:"outline"`          // rounded, square, hexagon or oval
	Back    Face      `yaml:"back"`
	Veil    *Face     `yaml:"veil"` // the back if left out
	Home    string    `yaml:"home"`
	Designs []Design  `yaml:"designs"` // every cell with content if left out
}

// Part is some cells of a sheet.
type Part struct {
	Sheet string `yaml:"sheet"`
	Cells string `yaml:"cells"`
}

// Face is what is on the back of cards, or their veil. It is one of: a cell of the
// deck's sheet or of another, a picture of its own, or for each card the same cell
// of another sheet. One value says which, so that no half of another is left over.
type Face struct {
	Cell  int    `yaml:"cell"`
	Sheet string `yaml:"sheet"` // of the cell; the deck's own if left out
	File  string `yaml:"file"`
	Each  string `yaml:"each"` // a sheet of backs, one for each card
}

// Design is one card and how often it is there.
type Design struct {
	Cell   int    `yaml:"cell" json:"cell,omitempty"`
	Sheet  string `yaml:"sheet" json:"sheet,omitempty"` // of the cell; the deck's own if left out
	File   string `yaml:"file" json:"file,omitempty"`   // in place of a cell: a picture of its own
	Key    string `yaml:"key" json:"key,omitempty"`
	Name   string `yaml:"name" json:"name,omitempty"`
	Copies *int   `yaml:"copies" json:"copies,omitempty"` // 1 if left out

	Fields map[string]any `yaml:"fields" json:"fields,omitempty"` // to filter and sort by
}

// Table is how a table is laid.
type Table struct {
	Size    []float64 `yaml:"size,omitempty,flow"` // millimetres
	Mat     string    `yaml:"mat,omitempty"`       // a picture that lies under everything
	Turn    int       `yaml:"turn,omitempty"`      // degrees that one turn of a card turns it; 90 if left out
	Arrange string    `yaml:"arrange,omitempty"`   // who may arrange the table: host or everyone
	Setup   string    `yaml:"setup,omitempty"`     // the Steps that set the game up
	Zones   []Zone    `yaml:"zones,omitempty"`
	Pieces  []Piece   `yaml:"pieces,omitempty"`
}

// Piece is what is not a card.
type Piece struct {
	Key    string    `yaml:"key"`
	Name   string    `yaml:"name,omitempty"` // the key if left out
	Kind   string    `yaml:"kind"`           // counter, die, spinner, token, marker, timer, note, mat or cue
	At     []float64 `yaml:"at"`
	Size   []float64 `yaml:"size,omitempty"`   // of a mat; of a token or a note only its width counts
	Turned int       `yaml:"turned,omitempty"` // degrees clockwise
	Locked bool      `yaml:"locked,omitempty"`
	Value  int       `yaml:"value,omitempty"` // of a counter
	Step   int       `yaml:"step,omitempty"`
	Least  *int      `yaml:"least,omitempty"`
	Most   *int      `yaml:"most,omitempty"`
	Faces  []string  `yaml:"faces,omitempty"` // of a die or spinner; a face named twice is twice as likely
	Files  []string  `yaml:"files,omitempty"` // of a token: one or two pictures; of a mat one
	Count  int       `yaml:"count,omitempty"` // of a token: how many lie in the stack

	Seconds int    `yaml:"seconds,omitempty"` // of a timer
	Text    string `yaml:"text,omitempty"`    // of a note, in Markdown
	Steps   string `yaml:"steps,omitempty"`   // of a cue
}

// Grid is how many cells a zone of kind grid has.
type Grid struct {
	Shape   string `yaml:"shape"` // square, square4 or hex
	Columns int    `yaml:"columns"`
	Rows    int    `yaml:"rows"`
}

// Zone is a place on the table, or one for each seat.
type Zone struct {
	Key      string      `yaml:"key"`
	Name     string      `yaml:"name,omitempty"` // the key if left out
	Kind     string      `yaml:"kind"`           // pile, row, grid or hand
	Grid     *Grid       `yaml:"grid,omitempty"` // of a grid
	Each     string      `yaml:"each,omitempty"` // "seat": one for each
	Seat     table.Seat  `yaml:"seat,omitempty"` // the seat it belongs to, if it is for one alone
	Sight    string      `yaml:"sight,omitempty"`
	Arrival  string      `yaml:"arrival,omitempty"` // as-it-is, front or back
	Turn     *int        `yaml:"turn,omitempty"`    // degrees an arriving card is turned to
	Locked   bool        `yaml:"locked,omitempty"`  // cannot be moved on the table
	Under    bool        `yaml:"under,omitempty"`   // arriving cards go under, or to the left
	Capacity int         `yaml:"capacity,omitempty"`
	At       []float64   `yaml:"at,omitempty"`       // centre, millimetres from the upper left corner
	AtSeats  [][]float64 `yaml:"at-seats,omitempty"` // of one for each seat: the centres, in the order of the seats; by themselves along the edge if left out
	Turned   int         `yaml:"turned,omitempty"`   // degrees clockwise that the zone is turned
	Size     []float64   `yaml:"size,omitempty"`     // millimetres
}

// Mistake is something wrong in a kit: which file, where in it, and what.
type Mistake struct {
	File   string `json:"file"`
	Line   int    `json:"line,omitempty"` // from 1; 0 if the file as a whole is meant
	Column int    `json:"column,omitempty"`
	Path   string `json:"path,omitempty"` // in kit.yaml, such as decks.weather.back
	Text   string `json:"text"`
}

// Mistakes takes an error of Read or Make apart.
func Mistakes(err error) (all []Mistake) {
	if several, ok := err.(interface{ Unwrap() []error }); ok {
		for _, one := range several.Unwrap() {
			all = append(all, Mistakes(one)...)
		}
		return all
	}
	var m *Mistake
	if errors.As(err, &m) {
		return []Mistake{*m}
	}
	return []Mistake{{Text: err.Error()}}
}

func (m *Mistake) Error() string {
	if m.Line == 0 {
		return m.File + ": " + m.Text
	}
	return fmt.Sprintf("%s, line %d, column %d: %s", m.File, m.Line, m.Column, m.Text)
}

// Kit is a kit.yaml that was read, and the folder it stands in.
type Kit struct {
	Manifest
	Fonts  *deck.Fonts // that ship, for letters that a layout's lack; none if left out
	folder fs.FS
	text   []byte     // of kit.yaml
	source *yaml.Node // the same, with places, to say where a mistake is

	hashing sync.Mutex
	hashes  map[string]string // of its files, those that were asked for
}

const manifestFile = "kit.yaml"

// Read reads and checks the kit.yaml of a folder. The error is a *Mistake
// where the maker can mend it, and joins all mistakes that were found.
func Read(folder fs.FS) (*Kit, error) {
	folder = spelt{folder}
	text, err := readFile(folder, manifestFile, MaxManifest)
	if err != nil {
		return nil, err
	}
	k := &Kit{folder: folder, text: withoutMark(text)}
	if k.source, err = parsed(k.text); err != nil {
		return nil, err
	}
	// A kit of a later format has fields that are not known here, and is to say so itself.
	var format struct {
		Kit int `yaml:"kit"`
	}
	if err := k.source.Load(&format, leniently); err == nil && format.Kit != Version {
		if format.Kit > Version {
			return nil, k.mistake("$.kit", "this kit is of format %d, and this service reads format %d; a newer Damselfly reads it", format.Kit, Version)
		}
		return nil, k.mistake("$.kit", "a kit begins with \"kit: %d\"; \"kit\" says %d", Version, format.Kit)
	}
	var fitting shape
	fitting.look(k.source, "", reflect.TypeFor[Manifest]())
	if len(fitting.mistakes) > 0 {
		return nil, errors.Join(fitting.mistakes...)
	}
	if err := k.source.Load(&k.Manifest, leniently); err != nil {
		return nil, yamlMistake(err, k.text)
	}
	return k, errors.Join(k.layBases(), k.check())
}

// readFile reads a file of a kit up to a size.
func readFile(folder fs.FS, name string, limit int64) ([]byte, error) {
	file, err := folder.Open(name)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, &Mistake{File: name, Text: "this file is not in the kit" + likeFile(folder, name)}
	}
	if err != nil {
		return nil, &Mistake{File: name, Text: "cannot be read: " + err.Error()}
	}
	defer file.Close()
	text, err := io.ReadAll(io.LimitReader(file, limit+1))
	if err != nil {
		return nil, &Mistake{File: name, Text: "cannot be read: " + err.Error()}
	}
	if int64(len(text)) > limit {
		return nil, &Mistake{File: name, Text: fmt.Sprintf("has more than %d MiB, which is the most a file of its kind may have", limit>>20)}
	}
	return text, nil
}
