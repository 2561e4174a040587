package kit

import (
	"cmp"
	"fmt"
	"slices"

	"damselfly.example/damselfly/internal/core/grid"
	"damselfly.example/damselfly/internal/core/table"
)

// colours of the seats, in their order; each tells apart on light and dark.
var colours = []string{
	"#0f766e", "#b45309", "#6d28d9", "#be123c", "#1d4ed8", "#4d7c0f",
	"#a21caf", "#0e7490", "#c2410c", "#4338ca", "#15803d", "#9f1239",
}

// Lay gives the edits that lay a table for a number of seats: its zones, and
// every deck face down at its home, in the order of its designs.
func (m Edition) Lay(seats int) table.Edits {
	settings := table.Settings{Name: m.Name, Wide: m.Table.Size[0], High: m.Table.Size[1], Turn: m.Table.Turn, Mat: m.Mat, Arrange: m.Table.Arrange, Setup: m.Table.Setup}
	edits := table.Edits{table.PutSettings{After: settings}}
	for seat := 1; seat <= seats; seat++ {
		edits = append(edits, table.PutChair{After: &table.Chair{Seat: table.Seat(seat), Colour: colours[seat-1]}})
	}
	for _, z := range m.Table.Zones {
		if int(z.Seat) > seats {
			continue // nobody can sit there
		}
		if z.Each == "" {
			edits = append(edits, put(m.place(z)))
			continue
		}
		for seat := 1; seat <= seats; seat++ {
			p := m.place(z)
			p.ID = table.PlaceID(fmt.Sprintf("%s/%d", z.Key, seat))
			p.Owner = table.Seat(seat)
			p.X, p.Y = m.edge(z.Key, seat, seats)
			if seat <= len(z.AtSeats) {
				p.X, p.Y = z.AtSeats[seat-1][0], z.AtSeats[seat-1][1]
			}
			edits = append(edits, put(p))
		}
	}
	for _, p := range m.Table.Pieces {
		piece := p.laid(m.Tokens[p.Key])
		edits = append(edits, table.PutPiece{After: piece}, table.PutLaid{After: piece})
	}
	card := table.CardID(0)
	for _, d := range m.Decks {
		deck := d.Deck
		mint := table.Mint{Place: deck.Home}
		for _, c := range d.Copies {
			for range c.Copies {
				card++
				mint.Cards = append(mint.Cards, table.Minted{ID: card, Deck: deck.Key, Design: c.Design, Side: table.Back})
			}
		}
		edits = append(edits, table.PutDeck{After: &deck}, mint)
	}
	return edits
}

func put(p table.Place) table.Edit { return table.PutPlace{After: &p} }

// place is a zone as it lies on the table.
func (m Edition) place(z Zone) table.Place {
	p := table.Place{
		ID: table.PlaceID(z.Key), Name: cmp.Or(z.Name, z.Key), Kind: table.Kind(z.Kind), Capacity: z.Capacity,
		Sight: table.Sight(cmp.Or(z.Sight, "open")), Locked: z.Locked,
		Owner: z.Seat, Turn: z.Turned, Arrival: table.Arrival{Bottom: z.Under, Turn: z.Turn},
	}
	if z.Kind == "hand" && z.Sight == "" {
		p.Sight = table.OwnerOnly
	}
	if z.Arrival != "as-it-is" {
		p.Arrival.Side = table.Side(z.Arrival)
	}
	if z.Grid != nil {
		p.Grid = &grid.Grid{Shape: grid.Shape(z.Grid.Shape), Columns: z.Grid.Columns, Rows: z.Grid.Rows}
	}
	if z.At != nil {
		p.X, p.Y = z.At[0], z.At[1]
	}
	p.Wide, p.High = m.largest()
	if p.Grid != nil {
		columns, rows := p.Grid.Size()
		p.Wide, p.High = p.Wide*columns, p.High*rows
	}
	if z.Size != nil {
		p.Wide, p.High = z.Size[0], z.Size[1]
	}
	return p
}

// laid is a piece as it is laid, with the pictures of its files.
func (p Piece) laid(pictures []table.Picture) *table.Piece {
	laid := &table.Piece{
		ID: table.PieceID(p.Key), Name: cmp.Or(p.Name, p.Key), Kind: table.PieceKind(p.Kind), X: p.At[0], Y: p.At[1],
		Value: p.Value, Step: p.Step, Least: p.Least, Most: p.Most, Text: cmp.Or(p.Steps, p.Text), Count: p.Count, Turn: p.Turned, Locked: p.Locked,
		Length: int64(p.Seconds) * 1000, Left: int64(p.Seconds) * 1000, Faces: pictures,
	}
	if p.Kind == "token" {
		laid.Side = table.Front
	}
	if p.Size != nil {
		laid.Wide = p.Size[0]
		if p.Kind == "mat" {
			laid.High = p.Size[1]
		}
	}
	for _, face := range p.Faces {
		known := slices.IndexFunc(laid.Sectors, func(s table.Sector) bool { return s.Name == face })
		if known < 0 {
			laid.Sectors = append(laid.Sectors, table.Sector{Name: face, Weight: 1})
		} else {
			laid.Sectors[known].Weight++
		}
	}
	return laid
}

// largest is the size that holds a card of any deck.
func (m Edition) largest() (wide, high float64) {
	for _, d := range m.Decks {
		wide, high = max(wide, d.Wide), max(high, d.High)
	}
	return max(wide, 20), max(high, 20)
}

// edge is where a zone of a seat lies: the first half of the seats along the lower
// edge, the others along the upper one, evenly spread, and the zones of one seat side
// by side in the order of the kit.
func (m Edition) edge(key string, seat, seats int) (x, y float64) {
	const rim, gap = 30, 16 // millimetres
	own, along, all := table.Place{}, 0.0, -float64(gap)
	for _, z := range m.Table.Zones {
		if z.Each == "" {
			continue
		}
		p := m.place(z)
		if z.Key == key {
			own, along = p, all+gap+p.Wide/2
		}
		all += gap + p.Wide
	}
	lower := (seats + 1) / 2
	index, of := seat-1, lower
	y = m.Table.Size[1] - own.High/2 - rim
	if seat > lower {
		index, of = seat-1-lower, seats-lower
		y = own.High/2 + rim
	}
	room := m.Table.Size[0] / float64(of)
	if short := room / max(all, 1); short < 1 { // they overlap as little as they can
		along, all = along*short, room
	}
	return room*(float64(index)+0.5) - all/2 + along, y
}
