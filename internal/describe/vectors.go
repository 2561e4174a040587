package main

import (
	"encoding/json"
	"fmt"
	"image"
	"slices"
	"strings"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/grid"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
)

// Arithmetic that the console does as the core does it: where the cells of a table's grid
// and of a sheet lie, what they are called and how far apart they are, how a name stands in a step and a line of Steps goes on, and what comes of being told changes. The core's results
// are written down here, and the console's tests compute them again.
type vectors struct {
	Cells     []cellVector
	Distances []distanceVector
	Sheets    []sheetVector
	Names     []nameVector
	Keys      []keyVector
	Written   []lineVector
	Known     steps.Known // at the table where those lines are written
}

type lineVector struct {
	Line string   `json:"line"`
	Ways []string `json:"ways"`
}

// completed are lines that are being written.
var completed = []string{
	"", "shu", "move", "draw 2 from wea", "move lo", `move "low s`, "run ", "run s", "roll ", "draw 1 from my ", "flip all of b", "draw 1 from sky to ",
	"move Ärger", "move ä", `say "a b" `, "RUN n", "draw 1 from MY t", "set ", "hand ", "reset ", "shuffle", "nothing", "deal 2 from sky ev", `move "old post" t`,
}

type keyVector struct {
	Name  string   `json:"name"`
	Taken []string `json:"taken"`
	Key   string   `json:"key"`
}

type nameVector struct {
	Name   string `json:"name"`
	Quoted string `json:"quoted"` // as it stands in a step
}

type cellVector struct {
	Grid   grid.Grid  `json:"grid"`
	Column int        `json:"column"`
	Row    int        `json:"row"`
	Name   string     `json:"name"`
	Middle [2]float64 `json:"middle"` // in parts of the grid's size
}

type distanceVector struct {
	Grid  grid.Grid `json:"grid"`
	From  string    `json:"from"`
	To    string    `json:"to"`
	Steps int       `json:"steps"`
}

type sheetVector struct {
	Grid sheet.Grid `json:"grid"`
	Size [2]int     `json:"size"`
	Cell int        `json:"cell"`
	Box  [4]int     `json:"box"` // left, top, width, height in pixels
}

func vectorsOf() []byte {
	var v vectors
	v.Known = steps.Known{
		Own: []string{"hand", "tray"}, Places: []string{"weather", "sky", "old post"},
		Pieces:  []steps.KnownPiece{{Name: "wind", Kind: table.Die}, {Name: "New day", Kind: table.Cue}, {Name: "score", Kind: table.Counter}},
		Players: []string{"Ada", "", "Bo"}, Others: []string{"weather", "Low sun", "Ärger"},
	}
	for _, line := range completed {
		v.Written = append(v.Written, lineVector{line, append([]string{}, steps.Complete(line, v.Known)...)})
	}
	for _, g := range []grid.Grid{
		{Shape: "square", Columns: 6, Rows: 4}, {Shape: "square4", Columns: 28, Rows: 3}, {Shape: "hex", Columns: 7, Rows: 5},
		{Shape: "hex", Columns: 1, Rows: 3}, {Shape: "hex", Columns: 30, Rows: 2}, {Shape: "square", Columns: 1, Rows: 1},
	} {
		wide, high := g.Size()
		cells := []grid.Cell{{}, {Column: g.Columns - 1}, {Row: g.Rows - 1}, {Column: g.Columns / 2, Row: g.Rows / 2}, {Column: g.Columns - 1, Row: g.Rows - 1}}
		for i, c := range cells {
			x, y := g.Middle(c)
			v.Cells = append(v.Cells, cellVector{g, c.Column, c.Row, c.Name(), [2]float64{x / wide, y / high}})
			for _, to := range cells[i:] {
				v.Distances = append(v.Distances, distanceVector{g, c.Name(), to.Name(), g.Distance(c, to)})
			}
		}
	}
	for _, g := range []sheet.Grid{{Columns: 4, Rows: 4}, {Columns: 7, Rows: 3, Margin: sheet.Around(11), Gutter: sheet.Between(5)}, {Columns: 3, Rows: 2, Margin: sheet.Margin{9, 14, 3, 40}, Gutter: sheet.Gutter{7, 2}}, {Columns: 1, Rows: 9, Gutter: sheet.Between(2)}, {Columns: 9, Rows: 6, Margin: sheet.Around(1)}} {
		for _, size := range []image.Point{{X: 1003, Y: 777}, {X: 2048, Y: 1431}} {
			for _, cell := range []int{1, g.Columns, (g.Cells() + 1) / 2, g.Cells()} {
				r := g.Cell(size, cell)
				v.Sheets = append(v.Sheets, sheetVector{g, [2]int{size.X, size.Y}, cell, [4]int{r.Min.X, r.Min.Y, r.Dx(), r.Dy()}})
			}
		}
	}
	for _, name := range []string{
		"weather", "Low sun", "draw", "Draw", "of", "where", "2nd", "B2", "jetty-2", "Kåre", "Mère", "a,b", "(north)", "x=y", "#1", "=", "moor\u00a0ings", "",
		`says "no"`, "漁港", "from", "everything", "Ada's", "10", "×4",
	} {
		v.Names = append(v.Names, nameVector{name, steps.Quote(name)})
	}
	long := strings.Repeat("reed ", 20)
	for _, name := range []string{
		"weather", "Spring tide!", "Über Öl", "U\u0308ber O\u0308l", "Straße 7", "Łódź", "Ærø", "İzmir", "Kåre's  --  ferry", "-x-", "潮が満ちる 4", "日本", "", "null", "a_b.c", "№5 ½", long, "þorn & ðæl",
	} {
		for _, taken := range [][]string{{}, {"weather", "spring-tide", "spring-tide-2", "cards", "cards-2", strings.TrimRight(strings.ReplaceAll(long[:40], " ", "-"), "-")}} {
			key := deck.FreeKey(name, "cards", func(key string) bool { return slices.Contains(taken, key) })
			v.Keys = append(v.Keys, keyVector{name, taken, key})
		}
	}
	var out strings.Builder
	out.WriteString("{\n")
	for _, list := range []struct{ name, lines string }{
		{"cells", lines(v.Cells)}, {"distances", lines(v.Distances)}, {"sheets", lines(v.Sheets)}, {"names", lines(v.Names)}, {"keys", lines(v.Keys)},
		{"written", lines(v.Written)}, {"folds", lines(folds())},
	} {
		fmt.Fprintf(&out, "\"%s\": [\n%s\n],\n", list.name, list.lines)
	}
	fmt.Fprintf(&out, "\"known\": %s\n}\n", written(v.Known))
	return []byte(out.String())
}

// lines writes a list, one a line.
func lines[T any](list []T) string {
	texts := make([]string, len(list))
	for i, one := range list {
		text, err := json.Marshal(one)
		if err != nil {
			panic(err) // numbers and names
		}
		texts[i] = string(text)
	}
	return strings.Join(texts, ",\n")
}
