package sheets

import (
	"encoding/json"
	"image"
	"os"
	"path/filepath"
	"strings"

	"damselfly.example/damselfly/internal/core/sheet/guess"
)

// weighed is a grid that was looked at on a sheet: what speaks for it, and whether it is right.
type weighed struct {
	Facts []float64
	Right bool
}

// noteFacts notes what speaks for the grids of a sheet in a folder, for the test that learns from it: see TestWeightsAreLearnt. What
// is turned teaches nothing.
func noteFacts(folder string, d *drawn, picture image.Image) error {
	if folder == "" || d.Turned != 0 {
		return nil
	}
	var note struct {
		Part  int
		Style string
		Lossy bool
		Grids []weighed
	}
	note.Part, note.Style, note.Lossy = part(d.Style), d.Style, strings.HasSuffix(d.File, "jpg")
	for _, g := range guess.FactsOf(picture, note.Lossy) {
		note.Grids = append(note.Grids, weighed{g.Facts, d.right(g.Grid)})
	}
	text, err := json.Marshal(note)
	if err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(folder, d.File+".facts"), text, 0o644)
}
