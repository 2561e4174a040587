//go:build !js

package deck

import (
	"errors"

	"damselfly.example/damselfly/internal/core/spreadsheet"
)

func readSpreadsheet(file []byte) ([][]string, error) {
	rows, err := spreadsheet.Read(file, spreadsheet.Limits{Rows: MaxRows + 1, Columns: MaxColumns})
	var wrong *spreadsheet.RowError
	if errors.As(err, &wrong) {
		return nil, &RowError{wrong.Row, "", wrong.Text}
	}
	return rows, err
}

func writeSpreadsheet(rows [][]string) ([]byte, error) { return spreadsheet.Write(rows) }
