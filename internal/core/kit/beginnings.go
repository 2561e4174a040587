package kit

import (
	"cmp"
	"fmt"
	"hash/fnv"
	"image"
	"slices"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/table"
)

// What a kit leaves out is given sensibly, so that it can be tried and kept from the first
// minute: a deck without a home has a pile of its own, a table without zones is laid with
// those piles and a hand for each seat, and a deck without a back has a plain one.

// Of a table that is laid by itself, in millimetres.
const (
	rim          = 30 // from the table's edge
	between      = 24 // between two piles
	underName    = 22 // between rows, where names stand over piles
	cardsInAHand = 5  // beside each other
	leastWide    = 900
	leastHigh    = 600
)

// lay gives decks without a home a pile and lays a table that has no zones.
func (m *maker) lay() {
	e := &m.result.Edition
	t := &e.Table
	t.Zones = slices.Clone(t.Zones)
	byItself := len(t.Zones) == 0
	var piles []Zone
	for _, i := range largestFirst(e.Decks) {
		d := &e.Decks[i]
		if d.Home != "" {
			continue
		}
		d.Home = table.PlaceID(d.Key)
		if m.home(d.Key) == nil {
			d.Home = table.PlaceID(m.freeZone(d.Key, piles))
			piles = append(piles, Zone{Key: string(d.Home), Name: nameOf(d.Key), Kind: "pile", Size: []float64{tenth(d.Wide), tenth(d.High)}})
		}
	}
	top := float64(rim)
	if byItself {
		wide, high := e.largest()
		hand := Zone{Key: "hand", Name: "hand", Kind: "hand", Each: "seat", Size: []float64{tenth(wide * cardsInAHand), tenth(high + 12)}}
		if slices.ContainsFunc(piles, func(z Zone) bool { return z.Key == hand.Key }) {
			hand.Key = "hands"
		}
		if m.kit.Seats > 1 {
			top += hand.Size[1] + rim + underName
		}
		t.Size = rowsOf(piles, top, max(leastWide, tenth(float64((m.kit.Seats+1)/2)*(hand.Size[0]+between))))
		t.Size[1] = max(leastHigh, t.Size[1]+hand.Size[1]+2*rim)
		t.Zones = append(piles, hand)
		return
	}
	for _, pile := range piles {
		m.findRoom(t, &pile)
		t.Zones = append(t.Zones, pile)
	}
}

// largestFirst are the indices of decks by the size of their cards, and then as they are.
func largestFirst(decks []EditionDeck) []int {
	order := make([]int, len(decks))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(decks[b].High*decks[b].Wide, decks[a].High*decks[a].Wide) })
	return order
}

// home is the kit's zone of a key that can be a deck's home.
func (m *maker) home(key string) *Zone {
	if z := m.kit.zone(key); z != nil && z.Each == "" && z.Kind != "grid" {
		return z
	}
	return nil
}

// freeZone is a key that no zone has.
func (m *maker) freeZone(like string, piles []Zone) string {
	key := like
	for n := 2; m.kit.zone(key) != nil || slices.ContainsFunc(piles, func(z Zone) bool { return z.Key == key }); n++ {
		key = fmt.Sprintf("%s-%d", like, n)
	}
	return key
}

// rowsOf places piles in rows from the top, each row in the middle, and gives the size
// of the table up to the end of the last row.
func rowsOf(piles []Zone, top, wide float64) (size []float64) {
	var rows [][]int
	x := 0.0
	for i, z := range piles {
		if len(rows) == 0 || x+z.Size[0] > wide-2*rim {
			rows, x = append(rows, nil), 0
		}
		rows[len(rows)-1] = append(rows[len(rows)-1], i)
		x += z.Size[0] + between
	}
	y := top
	for _, row := range rows {
		long, high := -float64(between), 0.0
		for _, i := range row {
			long, high = long+between+piles[i].Size[0], max(high, piles[i].Size[1])
		}
		x := (wide - long) / 2
		for _, i := range row {
			piles[i].At = []float64{tenth(x + piles[i].Size[0]/2), tenth(y + high/2)}
			x += piles[i].Size[0] + between
		}
		y += high + underName
	}
	return []float64{wide, tenth(y)}
}

// findRoom places a pile where no zone lies yet; where there is no such room the table
// grows downwards.
func (m *maker) findRoom(t *Table, pile *Zone) {
	const step = 10
	wide, high := pile.Size[0], pile.Size[1]
	largeWide, largeHigh := m.result.Edition.largest()
	free := func(x, y float64) bool {
		return !slices.ContainsFunc(t.Zones, func(z Zone) bool {
			if z.At == nil {
				return false
			}
			w, h := largeWide, largeHigh
			if z.Grid != nil {
				w, h = w*float64(z.Grid.Columns), h*float64(z.Grid.Rows)
			}
			if z.Size != nil {
				w, h = z.Size[0], z.Size[1]
			}
			return max(x-z.At[0], z.At[0]-x) < (wide+w)/2+step && max(y-z.At[1], z.At[1]-y) < (high+h)/2+underName
		})
	}
	for y := rim + high/2; y <= t.Size[1]-rim-high/2; y += step {
		for x := rim + wide/2; x <= t.Size[0]-rim-wide/2; x += step {
			if free(x, y) {
				pile.At = []float64{tenth(x), tenth(y)}
				return
			}
		}
	}
	pile.At = []float64{tenth(rim + wide/2), tenth(t.Size[1] + high/2)}
	t.Size = []float64{t.Size[0], tenth(t.Size[1] + high + rim)}
}

// plainColours are the grounds of plain backs.
var plainColours = []string{"#2f6f68", "#8a5a2b", "#5b4b8a", "#8a3d52", "#2f5d8a", "#5c7431", "#7a4a7a", "#356b7a"}

// plainSide is how long a plain back is at most, in pixels.
const plainSide = 720

// plainBack draws a back for a deck that has none: its name on its colour.
func (m *maker) plainBack(key string, pixels image.Point) table.Picture {
	for max(pixels.X, pixels.Y) > plainSide {
		pixels = pixels.Div(2)
	}
	wide, high := float64(max(pixels.X, 16)), float64(max(pixels.Y, 16))
	short := min(wide, high)
	pick := fnv.New32a()
	_, _ = pick.Write([]byte(key))
	colour := plainColours[int(pick.Sum32()%uint32(len(plainColours)))]
	inset := short * 0.06
	l := &deck.Layout{Size: []int{int(wide), int(high)}, Back: []deck.Box{
		{At: []float64{0, 0, wide, high}, Fill: colour},
		{At: []float64{inset, inset, wide - 2*inset, high - 2*inset}, Line: max(1, short*0.012), Colour: "#ffffff", Round: short * 0.05},
		{At: []float64{2 * inset, 2 * inset, wide - 4*inset, high - 4*inset}, Text: nameOf(key), Colour: "#ffffff", Bold: true, Height: short * 0.14, Least: short * 0.04, Align: "centre", Down: "middle"},
	}}
	mark, err := m.artist.Mark(l, l.Back, nil)
	if err == nil {
		if known, is := m.making.Known.Drawn[mark]; is {
			m.result.Known.Drawn[mark] = known
			return known
		}
	}
	drawn, err := m.artist.Draw(l, l.Back, nil)
	if err != nil {
		panic(err) // it has no picture, and its colours are written here
	}
	picture := m.add(batch{1, func(int) string { return "back " + mark }, func(int) *image.NRGBA { return drawn.Picture }})[0]
	m.result.Known.Drawn[mark] = picture
	return picture
}
