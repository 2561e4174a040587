// Package spreadsheet reads and writes tables as spreadsheets (.xlsx). It is a package of
// its own because it is large: the bench fetches it when it meets one.
//
//	tabs, err := spreadsheet.Read(file, spreadsheet.Limits{Rows: 20_000, Columns: 200})
//	file, err := spreadsheet.Write([]spreadsheet.Tab{{Name: "Cards", Rows: [][]string{{"title", "copies"}, {"Heron", "2"}}}})
package spreadsheet

import (
	"bytes"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/xuri/excelize/v2"
)

// Limits of what is read of each table.
type Limits struct {
	Rows    int // the header included
	Columns int
}

// Tab is one table of a spreadsheet.
type Tab struct {
	Name  string     `json:"name"`
	Rows  [][]string `json:"rows,omitempty"`
	Notes []string   `json:"notes,omitempty"` // what its maker should know, such as cells without a value
	Row   int        `json:"row,omitempty"`   // where Wrong is, from 1; 0 if the table as a whole is meant
	Wrong string     `json:"wrong,omitempty"` // why it cannot be read
}

// maxUnpacked is what a spreadsheet may unpack to, in bytes. It is unpacked in memory only.
const maxUnpacked = 64 << 20

// maxTabs is how many tables are read.
const maxTabs = 50

// Read reads the tables of a spreadsheet: what their cells show, as it was last computed. Formulas
// are not run and links are not followed.
func Read(file []byte, most Limits) (tabs []Tab, err error) {
	defer func() { // the library panics on some damaged files
		if cause := recover(); cause != nil {
			tabs, err = nil, errors.New("the spreadsheet is damaged; save it again, or save it as CSV")
		}
	}()
	book, err := excelize.OpenReader(bytes.NewReader(file), excelize.Options{UnzipSizeLimit: maxUnpacked, UnzipXMLSizeLimit: maxUnpacked, ShortDatePattern: "yyyy-mm-dd"})
	if err != nil {
		return nil, fmt.Errorf("this is no spreadsheet (.xlsx) that can be read (%w); save it again, or save it as CSV", err)
	}
	defer book.Close()
	names := book.GetSheetList()
	if len(names) == 0 {
		return nil, errors.New("the spreadsheet has no table")
	}
	for _, name := range names[:min(len(names), maxTabs)] {
		tabs = append(tabs, read(book, name, most))
	}
	return tabs, nil
}

// read reads one table.
func read(book *excelize.File, name string, most Limits) Tab {
	tab := Tab{Name: name}
	wrong := func(row int, format string, args ...any) Tab {
		tab.Row, tab.Wrong = row, fmt.Sprintf(format, args...)
		return tab
	}
	table, err := book.Rows(name)
	if err != nil {
		return wrong(0, "the table %q cannot be read (%s)", name, err)
	}
	defer table.Close()
	for table.Next() {
		row, err := table.Columns()
		if err != nil {
			return wrong(len(tab.Rows)+1, "%s", err)
		}
		if len(row) > most.Columns {
			return wrong(len(tab.Rows)+1, "this row reaches to column %d; a table has %d columns at most. Perhaps a cell far to the right holds a space: delete the columns that are not the table's", len(row), most.Columns)
		}
		if tab.Rows = append(tab.Rows, row); len(tab.Rows) > most.Rows {
			return wrong(len(tab.Rows), "the table has more than %d rows, which is the most it may have", most.Rows-1)
		}
	}
	tab.fillDown(book)
	tab.withoutValue(book)
	return tab
}

// fillDown gives each row what stands in a cell that is merged over several rows.
func (t *Tab) fillDown(book *excelize.File) {
	merged, err := book.GetMergeCells(t.Name)
	if err != nil {
		return
	}
	for _, m := range merged {
		column, first, err := excelize.CellNameToCoordinates(m.GetStartAxis())
		if err != nil {
			continue
		}
		_, last, err := excelize.CellNameToCoordinates(m.GetEndAxis())
		if err != nil || first < 1 || first > len(t.Rows) || column > len(t.Rows[first-1]) {
			continue
		}
		value := t.Rows[first-1][column-1]
		for row := first; row < min(last, len(t.Rows)); row++ {
			if missing := column - len(t.Rows[row]); missing > 0 {
				t.Rows[row] = append(t.Rows[row], make([]string, missing)...)
			}
			t.Rows[row][column-1] = value
		}
	}
}

// mostLookedAt is in how many rows formulas without a value are looked for.
const mostLookedAt = 1000

// withoutValue notes cells with a formula that was never computed, as some programs save them.
func (t *Tab) withoutValue(book *excelize.File) {
	var cells []string
	wide := 0
	for _, row := range t.Rows {
		wide = max(wide, len(row))
	}
	for y, row := range t.Rows[:min(len(t.Rows), mostLookedAt)] {
		for x := range wide {
			if x < len(row) && row[x] != "" {
				continue
			}
			at, err := excelize.CoordinatesToCellName(x+1, y+1)
			if err != nil {
				continue
			}
			if formula, err := book.GetCellFormula(t.Name, at); err == nil && formula != "" {
				cells = append(cells, at)
			}
		}
	}
	switch n := len(cells); {
	case n == 1:
		t.Notes = append(t.Notes, fmt.Sprintf("1 formula has no value (%s); open the file in a spreadsheet program and save it, so that it is computed", cells[0]))
	case n > 1:
		t.Notes = append(t.Notes, fmt.Sprintf("%d formulas have no value, such as those in %s; open the file in a spreadsheet program and save it, so that they are computed",
			n, strings.Join(cells[:min(n, 8)], " ")))
	}
}

// Write writes tables as a spreadsheet. Every cell is text, so that nothing in it runs.
func Write(tabs []Tab) ([]byte, error) {
	book := excelize.NewFile()
	defer book.Close()
	for n, tab := range tabs {
		name := tab.Name
		if name == "" {
			name = "Sheet1"
		}
		if n == 0 && name != "Sheet1" {
			if err := book.SetSheetName("Sheet1", name); err != nil {
				return nil, err
			}
		} else if !slices.Contains(book.GetSheetList(), name) {
			if _, err := book.NewSheet(name); err != nil {
				return nil, err
			}
		}
		for i, cells := range tab.Rows {
			for c, cell := range cells {
				at, err := excelize.CoordinatesToCellName(c+1, i+1)
				if err == nil {
					err = book.SetCellStr(name, at, cell)
				}
				if err != nil {
					return nil, err
				}
			}
		}
	}
	out, err := book.WriteToBuffer()
	if err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}
