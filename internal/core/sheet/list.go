package sheet

import (
	"cmp"
	"errors"
	"fmt"
	"image"
	"path"
	"strings"

	"go.yaml.in/yaml/v4"
	"go.yaml.in/yaml/v4/plugin/loaderlimits"
)

// List is what stands in the small file beside a packed sheet: the numbers to cut
// it by, and what it was packed from.
type List struct {
	Columns int      `yaml:"columns" json:"columns"`
	Rows    int      `yaml:"rows" json:"rows"`
	Count   int      `yaml:"count" json:"count"`
	Card    [2]int   `yaml:"card,flow" json:"card"`                    // pixels of one card on the sheet
	Scale   float64  `yaml:"scale" json:"scale"`                       // 1: as large as the pictures
	Hash    string   `yaml:"sha256,omitempty" json:"sha256,omitempty"` // of the sheet's file, as it was packed
	More    []string `yaml:"more,omitempty" json:"more,omitempty"`     // in the list of the first of several sheets: the files of the others, beside it
	Packing Packing  `yaml:"packing,omitempty" json:"packing,omitzero"`
	Sources []Listed `yaml:"sources" json:"sources"`
}

// Packing is what was asked of a packing, to pack it again. Files and folders are as seen from the
// sheet.
type Packing struct {
	Folder  string `yaml:"folder,omitempty" json:"folder,omitempty"`
	Columns int    `yaml:"columns,omitempty" json:"columns,omitempty"`
	Rows    int    `yaml:"rows,omitempty" json:"rows,omitempty"`
	Lie     string `yaml:"lie,omitempty" json:"lie,omitempty"`
	Fit     bool   `yaml:"fit,omitempty" json:"fit,omitempty"`
	Longest int    `yaml:"longest,omitempty" json:"longest,omitempty"`
	Veil    string `yaml:"veil,omitempty" json:"veil,omitempty"` // among the pictures, and no card: it stays apart
}

// Listed is one packed picture.
type Listed struct {
	Cell   int    `yaml:"cell" json:"cell"`
	File   string `yaml:"file" json:"file"`
	Hash   string `yaml:"sha256" json:"sha256"`
	Size   [2]int `yaml:"size,flow" json:"size"` // pixels
	Turned bool   `yaml:"turned,omitempty" json:"turned,omitempty"`
}

// ListSuffix is what the name of a sheet's list ends with, in place of ".png".
const ListSuffix = ".sheet.yaml"

// maxMore is how many sheets one packing has at most beside the first.
const maxMore = 200

// MaxList is how large a list is at most, in bytes.
const MaxList = 1 << 20

// Grid is how the sheet is to be cut.
func (l List) Grid() Grid { return Grid{Columns: l.Columns, Rows: l.Rows, Count: l.Count} }

// Write writes the list as YAML.
func (l List) Write() ([]byte, error) {
	text, err := yaml.Dump(l, yaml.WithLineWidth(-1))
	return append([]byte("# Written when the sheet was packed: how it is cut, and from what it was packed.\n"), text...), err
}

// ReadList reads a list and checks its numbers.
func ReadList(text []byte) (List, error) {
	var l List
	if len(text) > MaxList {
		return l, fmt.Errorf("a list has %d bytes at most, not %d", MaxList, len(text))
	}
	limits := yaml.WithPlugin(loaderlimits.New(loaderlimits.DepthValue(8), loaderlimits.AliasValue(0)))
	var odd *yaml.LoadError
	if err := yaml.Load(text, &l, yaml.WithKnownFields(), yaml.WithUniqueKeys(false), limits); errors.As(err, &odd) {
		return l, fmt.Errorf("this is no list of a packed sheet: line %d: %s", odd.Mark.Line, odd.Message)
	} else if err != nil {
		return l, fmt.Errorf("this is no list of a packed sheet: %w", err)
	}
	if err := l.Grid().Fits(image.Pt(1<<15, 1<<15)); err != nil {
		return l, err
	}
	for _, file := range l.More {
		if file != path.Base(file) || file == "." || file == ".." || len(l.More) > maxMore {
			return l, fmt.Errorf("more names at most %d sheets beside this one, and not %q", maxMore, file)
		}
	}
	for _, s := range l.Sources {
		if s.Cell < 1 || s.Cell > l.Columns*l.Rows {
			return l, fmt.Errorf("%s is said to be in cell %d of %d", s.File, s.Cell, l.Columns*l.Rows)
		}
	}
	return l, nil
}

// CompareNames orders file names as people do: errand-2 before errand-10.
func CompareNames(a, b string) int {
	for a != "" && b != "" {
		x, y := leadingDigits(a), leadingDigits(b)
		if x != "" && y != "" {
			short, long := strings.TrimLeft(x, "0"), strings.TrimLeft(y, "0")
			if order := cmp.Or(cmp.Compare(len(short), len(long)), cmp.Compare(short, long)); order != 0 {
				return order
			}
			a, b = a[len(x):], b[len(y):]
			continue
		}
		if a[0] != b[0] {
			return cmp.Compare(a[0], b[0])
		}
		a, b = a[1:], b[1:]
	}
	return cmp.Compare(len(a), len(b))
}

func leadingDigits(text string) string {
	return text[:len(text)-len(strings.TrimLeft(text, "0123456789"))]
}
