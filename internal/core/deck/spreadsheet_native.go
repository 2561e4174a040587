//go:build !js

package deck

import "damselfly.example/damselfly/internal/core/spreadsheet"

func readSpreadsheet(file []byte) (tabs []tab, err error) {
	read, err := spreadsheet.Read(file, spreadsheet.Limits{Rows: MaxRows + 1, Columns: MaxColumns})
	for _, t := range read {
		tabs = append(tabs, tab(t))
	}
	return tabs, err
}

func writeSpreadsheet(tabs []tab) ([]byte, error) {
	var all []spreadsheet.Tab
	for _, t := range tabs {
		all = append(all, spreadsheet.Tab(t))
	}
	return spreadsheet.Write(all)
}
