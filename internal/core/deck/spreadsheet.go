package deck

import (
	"bytes"
	"errors"
	"fmt"

	"github.com/xuri/excelize/v2"
)

// maxSpreadsheet is what a spreadsheet may unpack to, in bytes. It is unpacked in
// memory only.
const maxSpreadsheet = 64 << 20

// ReadSpreadsheet reads the first table of a spreadsheet (.xlsx): its values as
// they were last computed. Formulas are not run and links are not followed.
func ReadSpreadsheet(file []byte) (rows *Rows, err error) {
	if len(file) > MaxTableFile {
		return nil, fmt.Errorf("the file has more than %d MiB, which is the most a table file may have", MaxTableFile>>20)
	}
	defer func() { // the library panics on some damaged files
		if cause := recover(); cause != nil {
			rows, err = nil, errors.New("the spreadsheet is damaged; save it again, or save it as CSV")
		}
	}()
	book, err := excelize.OpenReader(bytes.NewReader(file), excelize.Options{UnzipSizeLimit: maxSpreadsheet, UnzipXMLSizeLimit: maxSpreadsheet})
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
	var all [][]string
	for table.Next() {
		row, err := table.Columns()
		if err != nil {
			return nil, &RowError{len(all) + 1, "", err.Error()}
		}
		if all = append(all, row); len(all) > MaxRows+1 {
			return nil, &RowError{len(all), "", fmt.Sprintf("the table has more than %d rows, which is the most it may have", MaxRows)}
		}
	}
	return newRows(all, written{})
}

// WriteSpreadsheet writes the rows as a spreadsheet with one table. Every cell is
// text, so that nothing in it runs.
func (r *Rows) WriteSpreadsheet() ([]byte, error) {
	book := excelize.NewFile()
	defer book.Close()
	for i, cells := range append([][]string{r.Header}, r.Cells...) {
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
