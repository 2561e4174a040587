//go:build js && wasm

// Command spreadsheets reads and writes spreadsheets in the browser. The bench fetches it
// when it meets the first one; what it reads goes to the core as rows (see
// deck/spreadsheet_js.go). It runs in the same worker and sets one object,
// damselflySpreadsheets.
package main

import (
	"encoding/json"
	"syscall/js"

	"damselfly.example/damselfly/console/bridge"
	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/spreadsheet"
)

func main() {
	object := js.Global().Get("Object").New()
	object.Set("read", js.FuncOf(func(_ js.Value, args []js.Value) any { return bridge.Array(read(bridge.Bytes(args[0]))) }))
	object.Set("write", js.FuncOf(func(_ js.Value, args []js.Value) any {
		file, err := write(bridge.Bytes(args[0]))
		if err != nil {
			return map[string]any{"error": err.Error()}
		}
		return map[string]any{"value": bridge.Array(file)}
	}))
	js.Global().Set("damselflySpreadsheets", object)
	select {}
}

// inBrowser is how the core takes a spreadsheet, and gives one to be written.
type inBrowser struct {
	Tabs  []spreadsheet.Tab `json:"tabs,omitempty"`
	Wrong string            `json:"wrong,omitempty"`
}

// read gives the tables of a spreadsheet, or what is wrong with it.
func read(file []byte) []byte {
	tabs, err := spreadsheet.Read(file, spreadsheet.Limits{Rows: deck.MaxRows + 1, Columns: deck.MaxColumns})
	out := inBrowser{Tabs: tabs}
	if err != nil {
		out.Wrong = err.Error()
	}
	text, err := json.Marshal(out)
	if err != nil {
		panic(err) // texts and numbers
	}
	return text
}

// write makes a spreadsheet of what the core wrote.
func write(text []byte) ([]byte, error) {
	var from inBrowser
	if err := json.Unmarshal(text, &from); err != nil {
		return nil, err
	}
	return spreadsheet.Write(from.Tabs)
}
