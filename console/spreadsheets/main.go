//go:build js && wasm

// Command spreadsheets reads and writes spreadsheets in the browser. The bench fetches it
// when it meets the first one; what it reads goes to the core as rows (see
// deck.SpreadsheetRead). It runs in the same worker and sets one object,
// damselflySpreadsheets.
package main

import (
	"encoding/json"
	"errors"
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

// read gives the rows of a spreadsheet, or what is wrong with it, as the core takes them.
func read(file []byte) []byte {
	var out deck.SpreadsheetRead
	rows, err := spreadsheet.Read(file, spreadsheet.Limits{Rows: deck.MaxRows + 1, Columns: deck.MaxColumns})
	if out.Rows = rows; err != nil {
		out.Wrong = err.Error()
	}
	var wrong *spreadsheet.RowError
	if errors.As(err, &wrong) {
		out.Row, out.Wrong = wrong.Row, wrong.Text
	}
	text, err := json.Marshal(out)
	if err != nil {
		panic(err) // texts and a number
	}
	return text
}

// write makes a spreadsheet of what the core wrote.
func write(text []byte) ([]byte, error) {
	var from deck.SpreadsheetRead
	if err := json.Unmarshal(text, &from); err != nil {
		return nil, err
	}
	return spreadsheet.Write(from.Rows)
}
