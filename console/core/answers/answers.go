// Package answers is what the browser's core answers to the bench. The bench's own types
// are written from it by make describe.
package answers

import (
	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sheet"
)

// Packed is a sheet that was packed, beside its PNG.
type Packed struct {
	List  sheet.List `json:"list"`
	Wide  int        `json:"wide"` // pixels
	High  int        `json:"high"`
	Drawn int        `json:"drawn"` // how many pictures are on it
}

// Noted is a packed sheet's place in the kit, and the list beside it.
type Noted struct {
	Key      string `json:"key"`
	File     string `json:"file"`
	ListFile string `json:"list_file"`
	List     string `json:"list"` // the text of that file
}

// Found is what a look over the whole kit found.
type Found struct {
	Mistakes []kit.Mistake `json:"mistakes"`
	Warnings []string      `json:"warnings"`
	Decks    []Deck        `json:"decks"`
}

// Deck is what the bench shows of a deck that was made.
type Deck struct {
	Key      string       `json:"key"`
	Copies   []kit.Copies `json:"copies"`
	SpeltOut []kit.Design `json:"spelt_out"` // its designs as kit.yaml would name them, where it names none
}

// DecksOf are decks as the bench shows them.
func DecksOf(made *kit.Result) []Deck {
	decks := make([]Deck, len(made.Edition.Decks))
	for i, d := range made.Edition.Decks {
		decks[i] = Deck{Key: d.Key, Copies: d.Copies, SpeltOut: append([]kit.Design{}, made.SpeltOut[d.Key]...)}
	}
	return decks
}

// Rows are a table file's columns and rows, and what is wrong with them.
type Rows struct {
	Header   []string        `json:"header"`
	Cells    [][]string      `json:"cells"`
	Numbers  []int           `json:"numbers"` // the row in the file of each
	Mistakes []deck.RowError `json:"mistakes"`
	Notes    []string        `json:"notes"`  // such as that rows above the header are left out
	Tabs     []string        `json:"tabs"`   // of a spreadsheet: its tables that hold something
	Copies   int             `json:"copies"` // the index of the column that says how often each card is there, or -1
}

// Drawn is a card that was drawn by its layout, beside its pixels.
type Drawn struct {
	Wide     int      `json:"wide"` // pixels
	High     int      `json:"high"`
	Problems []string `json:"problems"`
}
