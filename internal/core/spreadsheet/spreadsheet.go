// Package spreadsheet reads and writes tables as spreadsheets (.xlsx). It is a package of
// its own because it is large: the bench fetches it when it meets one.
//
//	rows, err := spreadsheet.Read(file, spreadsheet.Limits{Rows: 20_000, Columns: 200})
//	file, err := spreadsheet.Write([][]string{{"title", "copies"}, {"Heron", "2"}})
package spreadsheet

import (
	"bytes"
	"errors"
	"fmt"

	"github.com/xuri/excelize/v2"
)

// Limits of what is read.
type Limits struct {
	Rows    int // the header included
	Columns int
}

// RowError is a mistake in a row, counted from 1.
type RowError struct {
	Row  int
	Text string
}

func (e *RowError) Error() string { return fmt.Sprintf("row %d: %s", e.Row, e.Text) }

// maxUnpacked is what a spreadsheet may unpack to, in bytes. It is unpacked in memory only.
const maxUnpacked = 64 << 20

// Read reads the first table of a spreadsheet: its values as they were last computed.
// Formulas are not run and links are not followed.
func Read(file []byte, most Limits) (rows [][]string, err error) {
	defer func() { // the library panics on some damaged files
		if cause := recover(); cause != nil {
			rows, err = nil, errors.New("the spreadsheet is damaged; save it again, or save it as CSV")
		}
	}()
	book, err := excelize.OpenReader(bytes.NewReader(file), excelize.Options{UnzipSizeLimit: maxUnpacked, UnzipXMLSizeLimit: maxUnpacked})
	if err != nil {
		return nil, fmt.Errorf("this is no spreadsheet (.xlsx) that can be read (%w); save it again, or save it as CSV", err)
	}
	defer book.Close()
	tabs := book.GetSheetList()
	if len(tabs) == 0 {
		return nil, errors.New("the spreadsheet has no table")
	}
	table, err := book.Rows(tabs[0])
	if err != nil {
		return nil, fmt.Errorf("the table %q cannot be read (%w)", tabs[0], err)
	}
	defer table.Close()
	for table.Next() {
		row, err := table.Columns()
		if err != nil {
			return nil, &RowError{len(rows) + 1, err.Error()}
		}
		if len(row) > most.Columns {
			return nil, &RowError{len(rows) + 1, fmt.Sprintf("this row reaches to column %d; a table has %d columns at most. Perhaps a cell far to the right holds a space: delete the columns that are not the table's", len(row), most.Columns)}
		}
		if rows = append(rows, row); len(rows) > most.Rows {
			return nil, &RowError{len(rows), fmt.Sprintf("the table has more than %d rows, which is the most it may have", most.Rows-1)}
		}
	}
	return rows, nil
}

// Write writes rows as a spreadsheet with one table. Every cell is text, so that nothing
// in it runs.
func Write(rows [][]string) ([]byte, error) {
	book := excelize.NewFile()
	defer book.Close()
	for i, cells := range rows {
		for c, cell := range cells {
			at, err := excelize.CoordinatesToCellName(c+1, i+1)
			if err == nil {
				err = book.SetCellStr("Sheet1", at, cell)
			}
			if err != nil {
				return nil, err
			}
		}
	}
	out, err := book.WriteToBuffer()
	if err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}
