package kit_test

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"math"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
)

func plainPNG(t require.TestingT, wide, high int) []byte {
	var out bytes.Buffer
	picture := image.NewNRGBA(image.Rect(0, 0, wide, high))
	for i := range picture.Pix {
		picture.Pix[i] = uint8(i*7 ^ i>>4)
	}
	require.NoError(t, png.Encode(&out, picture))
	return out.Bytes()
}

func laidOf(result *kit.Result, seats int) *table.Table {
	t := &table.Table{}
	t.Fold(result.Edition.Lay(seats))
	return t
}

// The smallest kit is a name and one sheet's cards; everything else is given sensibly.
func TestTheSmallestKitCanBePlayed(t *testing.T) {
	files := fstest.MapFS{
		"kit.yaml":  {Data: []byte("kit: 1\nname: Bog Post\nseats: 3\nsheets:\n  birds: {file: birds.png, columns: 3, rows: 2}\ndecks:\n  birds: {sheet: birds}\n")},
		"birds.png": {Data: cells(1, 0)},
	}
	result, err := make(files)
	require.NoError(t, err)
	laid := laidOf(result, 3)
	assert.Len(t, laid.Places["birds"].Cards, 6)
	for seat := table.Seat(1); seat <= 3; seat++ {
		require.NotNil(t, laid.HandOf(seat))
		assert.Equal(t, table.OwnerOnly, laid.HandOf(seat).Sight)
	}
	back := laid.Design(laid.Places["birds"].Cards[0]).Back
	require.NotEmpty(t, back.Full)
	assert.Contains(t, result.Pictures, back.Full)
	assert.NotEqual(t, back, laid.Design(laid.Places["birds"].Cards[0]).Front)

	// Kept as it was laid, the kit says in writing what it left out, and lays the same.
	k, err := kit.Read(files)
	require.NoError(t, err)
	changed, err := k.WithTable(laid.Bare(), result.Edition, nil)
	require.NoError(t, err)
	written := fstest.MapFS{"birds.png": files["birds.png"], "kit.yaml": {Data: changed["kit.yaml"]}}
	again, err := make(written)
	require.NoError(t, err, string(changed["kit.yaml"]))
	assert.Equal(t, laid, laidOf(again, 3))
	assert.Contains(t, string(changed["kit.yaml"]), "each: seat")
}

// Whatever the decks are, and however few zones a table has, everything lies on it and no
// pile lies on another.
func TestWhatIsLaidByItselfLiesApartAndOnTheTable(t *testing.T) {
	rapid.Check(t, func(r *rapid.T) {
		seats, decks := rapid.IntRange(1, 12).Draw(r, "seats"), rapid.IntRange(1, 9).Draw(r, "decks")
		text := fmt.Sprintf("kit: 1\nname: X\nseats: %d\ndecks:\n", seats)
		files := fstest.MapFS{"a.png": {Data: plainPNG(r, 20, 30)}}
		for i := range decks {
			text += fmt.Sprintf("  d%d: {size: [%d, %d], designs: [{file: a.png, key: a}]}\n", i, rapid.IntRange(20, 200).Draw(r, "wide"), rapid.IntRange(20, 200).Draw(r, "high"))
		}
		if rapid.Bool().Draw(r, "laid") {
			text += "table:\n  size: [500, 400]\n  zones:\n    - {key: mid, kind: row, at: [250, 200], size: [300, 100]}\n    - {key: d0, kind: row, each: seat, at-seats: [[9, 9]]}\n"
		}
		files["kit.yaml"] = &fstest.MapFile{Data: []byte(text)}
		result, err := make(files)
		if err != nil { // several decks of one picture stretch it
			r.Fatal(err)
		}
		laid := laidOf(result, seats)
		var apart []*table.Place
		for _, id := range laid.PlaceIDs() {
			p := laid.Places[id]
			if p.Owner != 0 {
				continue
			}
			if p.X-p.Wide/2 < 0 || p.Y-p.High/2 < 0 || p.X+p.Wide/2 > laid.Settings.Wide || p.Y+p.High/2 > laid.Settings.High {
				r.Fatalf("%s lies outside of the table:\n%s", id, text)
			}
			for _, other := range apart {
				if math.Abs(p.X-other.X) < (p.Wide+other.Wide)/2 && math.Abs(p.Y-other.Y) < (p.High+other.High)/2 {
					r.Fatalf("%s and %s lie on each other:\n%s", id, other.ID, text)
				}
			}
			apart = append(apart, p)
		}
		for _, d := range result.Edition.Decks {
			if len(laid.Places[d.Home].Cards) == 0 {
				r.Fatalf("the cards of %s are nowhere", d.Key)
			}
		}
	})
}
