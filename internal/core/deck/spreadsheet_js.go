//go:build js

package deck

import (
	"encoding/json"
	"errors"
)

// errSpreadsheet is what is said of a file that was read by nobody.
var errSpreadsheet = errors.New("the spreadsheet could not be read; save it again, or save it as CSV")

// SpreadsheetRead is what stands in the place of a spreadsheet in the browser: another
// module reads and writes them there, fetched when the first one is met.
type SpreadsheetRead struct {
	Rows  [][]string `json:"rows,omitempty"`
	Row   int        `json:"row,omitempty"` // where Wrong is, if in a row
	Wrong string     `json:"wrong,omitempty"`
}

func readSpreadsheet(file []byte) ([][]string, error) {
	var read SpreadsheetRead
	if err := json.Unmarshal(file, &read); err != nil {
		return nil, errSpreadsheet
	}
	if read.Wrong != "" && read.Row == 0 {
		return nil, errors.New(read.Wrong)
	}
	if read.Wrong != "" {
		return nil, &RowError{read.Row, "", read.Wrong}
	}
	return read.Rows, nil
}

func writeSpreadsheet(rows [][]string) ([]byte, error) {
	return json.Marshal(SpreadsheetRead{Rows: rows})
}
