//go:build js

package deck

import (
	"encoding/json"
	"errors"
)

// errSpreadsheet is what is said of a file that was read by nobody.
var errSpreadsheet = errors.New("the spreadsheet could not be read; save it again, or save it as CSV")

// inBrowser is what stands in the place of a spreadsheet in the browser: another module reads and
// writes them there, fetched when the first one is met.
type inBrowser struct {
	Tabs  []tab  `json:"tabs,omitempty"`
	Wrong string `json:"wrong,omitempty"`
}

func readSpreadsheet(file []byte) ([]tab, error) {
	var read inBrowser
	if err := json.Unmarshal(file, &read); err != nil {
		return nil, errSpreadsheet
	}
	if read.Wrong != "" {
		return nil, errors.New(read.Wrong)
	}
	return read.Tabs, nil
}

func writeSpreadsheet(tabs []tab) ([]byte, error) { return json.Marshal(inBrowser{Tabs: tabs}) }
