package deck

import "fmt"

// ReadSpreadsheet reads the first table of a spreadsheet (.xlsx).
func ReadSpreadsheet(file []byte) (*Rows, error) {
	if len(file) > MaxTableFile {
		return nil, fmt.Errorf("the file has more than %d MiB, which is the most a table file may have", MaxTableFile>>20)
	}
	all, err := readSpreadsheet(file)
	if err != nil {
		return nil, err
	}
	if len(all) > MaxRows+1 {
		return nil, &RowError{len(all), "", fmt.Sprintf("the table has more than %d rows, which is the most it may have", MaxRows)}
	}
	return newRows(all, written{})
}

// WriteSpreadsheet writes the rows as a spreadsheet with one table. Every cell is
// text, so that nothing in it runs.
func (r *Rows) WriteSpreadsheet() ([]byte, error) {
	return writeSpreadsheet(append([][]string{r.Header}, r.Cells...))
}
