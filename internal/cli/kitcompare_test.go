package cli_test

import (
	"bytes"
	"image/color"
	"image/jpeg"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/sheet"
)

// A sheet that was saved again as JPEG draws no card anew but the one in which a sign of seven by nine pixels was added.
func TestAKitThatWasSavedAnewIsTold(t *testing.T) {
	t.Parallel()
	s := start(t)
	folder := t.TempDir()
	require.NoError(t, os.CopyFS(folder, demo.Weather()))
	out, code := s.cli("kit", "put", folder)
	require.Zero(t, code, out)

	name := filepath.Join(folder, "weather.png")
	file, err := os.ReadFile(name)
	require.NoError(t, err)
	read, err := sheet.Read(file)
	require.NoError(t, err)
	picture := sheet.NRGBA(read)
	cell := sheet.Grid{Columns: 4, Rows: 4}.Cell(picture.Rect.Size(), 3)
	for y := range 9 {
		for x := range 7 {
			at := cell.Min.Add(cell.Size().Div(2))
			c := picture.NRGBAAt(at.X+x, at.Y+y)
			picture.SetNRGBA(at.X+x, at.Y+y, color.NRGBA{255 - c.R, 255 - c.G, 255 - c.B, 255})
		}
	}
	var anew bytes.Buffer
	require.NoError(t, jpeg.Encode(&anew, picture, &jpeg.Options{Quality: 90}))
	require.NoError(t, os.WriteFile(name, anew.Bytes(), 0o600))
	out, code = s.cli("kit", "put", folder, "--despite-warnings")
	require.Zero(t, code, out)

	out, code = s.cli("kit", "compare", "Marsh Post", "1")
	require.Zero(t, code, out)
	assert.Equal(t, 1, strings.Count(out, "drawn anew"), out)
	assert.GreaterOrEqual(t, strings.Count(out, "saved anew"), 10, out)

	values, errs, code := s.cliJSON("kit", "compare", "Marsh Post", "1")
	require.Zero(t, code, errs)
	assert.Len(t, values[0]["savedAnew"], strings.Count(out, "saved anew"))
}
