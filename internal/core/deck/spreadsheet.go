package deck

import (
	"errors"
	"fmt"
	"slices"
	"strings"
)

// tab is one table of a spreadsheet, as package spreadsheet reads it.
type tab struct {
	Name  string     `json:"name"`
	Rows  [][]string `json:"rows,omitempty"`
	Notes []string   `json:"notes,omitempty"`
	Row   int        `json:"row,omitempty"` // where Wrong is, if in a row
	Wrong string     `json:"wrong,omitempty"`
}

// ReadSpreadsheet reads a table of a spreadsheet (.xlsx): the one of that name, or the first.
func ReadSpreadsheet(file []byte, name string) (*Rows, error) {
	tabs, err := readTabs(file)
	if err != nil {
		return nil, err
	}
	at := 0
	if name != "" {
		at = slices.IndexFunc(tabs, func(t tab) bool { return strings.EqualFold(t.Name, name) })
	}
	if at < 0 {
		return nil, fmt.Errorf("the spreadsheet has no table %q; it has %q", name, namesOf(tabs))
	}
	t := tabs[at]
	switch {
	case t.Wrong != "" && t.Row > 0:
		return nil, &RowError{t.Row, "", t.Wrong}
	case t.Wrong != "":
		return nil, errors.New(t.Wrong)
	}
	rows, err := newRows(t.Rows, written{tabs: tabs, tab: at})
	if err == nil {
		rows.Odd = t.Notes
	}
	return rows, err
}

func readTabs(file []byte) ([]tab, error) {
	if len(file) > MaxTableFile {
		return nil, fmt.Errorf("the file has more than %d MiB, which is the most a table file may have", MaxTableFile>>20)
	}
	return readSpreadsheet(file)
}

// Tabs names the tables of a spreadsheet that hold something.
func Tabs(file []byte) ([]string, error) {
	tabs, err := readTabs(file)
	return namesOf(slices.DeleteFunc(slices.Clone(tabs), func(t tab) bool { return len(t.Rows) == 0 })), err
}

func namesOf(tabs []tab) (names []string) {
	for _, t := range tabs {
		names = append(names, t.Name)
	}
	return names
}

// WriteSpreadsheet writes the rows as a spreadsheet, beside the other tables of the one they came from.
// Every cell is text, so that nothing in it runs.
func (r *Rows) WriteSpreadsheet() ([]byte, error) {
	tabs := slices.Clone(r.written.tabs)
	if len(tabs) == 0 {
		tabs = []tab{{}}
	}
	tabs[r.written.tab].Rows = r.withAbove()
	return writeSpreadsheet(tabs)
}
