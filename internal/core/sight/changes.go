package sight

import (
	"maps"
	"slices"

	"damselfly.example/damselfly/internal/core/table"
)

// Changes is what one entry showed one viewer. A place, the seats, the decks
// and the settings come whole where they changed.
type Changes struct {
	Places   []Place         `json:"places,omitempty"`
	Gone     []table.PlaceID `json:"gone,omitempty" doc:"Places that are not there any more."`
	Pieces   []table.Piece   `json:"pieces,omitempty"`
	Off      []table.PieceID `json:"off,omitempty" doc:"Pieces that are not there any more."`
	Marker   *table.Marker   `json:"marker,omitempty"`
	Asks     *[]table.Ask    `json:"asks,omitempty" doc:"All asks that wait for an answer, where they changed."`
	Seats    []Seat          `json:"seats,omitempty"`
	Decks    []Deck          `json:"decks,omitempty"`
	Settings *table.Settings `json:"settings,omitempty"`
	Log      []Line          `json:"log,omitempty"`
}

// Line is one line of the log as one viewer may read it.
type Line struct {
	Seat  table.Seat `json:"seat" doc:"Who did it; 0 is the table itself."`
	Who   string     `json:"who"`
	Do    string     `json:"do" doc:"What kind of thing was done, in a word; mostly the action's."`
	Text  string     `json:"text" doc:"What was done, in Steps."`
	Place string     `json:"place,omitempty" doc:"The place it was done to."`
	Cards []string   `json:"cards,omitempty" doc:"The names of the cards in it whose fronts you saw."`
}

// Empty reports whether the viewer is shown nothing.
func (c Changes) Empty() bool {
	return len(c.Places) == 0 && len(c.Gone) == 0 && len(c.Pieces) == 0 && len(c.Off) == 0 &&
		c.Marker == nil && c.Asks == nil && c.Seats == nil && c.Decks == nil &&
		c.Settings == nil && len(c.Log) == 0
}

// Changes returns what an entry showed a viewer.
func (g *Gate) Changes(t *table.Table, touched Touched, deeds []table.Deed, viewer Viewer) Changes {
	var c Changes
	for _, id := range touched.orderedPlaces() {
		p := t.Places[id]
		switch {
		case p == nil:
			c.Gone = append(c.Gone, id)
		case touched.places[id] || p.Sight == table.Open || insight(t, touched, p).Includes(viewer):
			c.Places = append(c.Places, g.place(t, p, viewer))
		}
	}
	for _, id := range slices.Sorted(maps.Keys(touched.pieces)) {
		if piece := t.Pieces[id]; piece != nil {
			c.Pieces = append(c.Pieces, *piece)
		} else {
			c.Off = append(c.Off, id)
		}
	}
	if touched.marker {
		c.Marker = &t.Marker
	}
	if touched.asks {
		all := asks(t)
		c.Asks = &all
	}
	if touched.chairs {
		c.Seats = seats(t)
	}
	if touched.rest {
		c.Decks, c.Settings = decks(t), &t.Settings
	}
	c.Log = g.Log(deeds, viewer)
	return c
}

// Private lists the seats that an entry showed something of their own. All
// other viewers were shown the same as a spectator, so it is encoded once.
func (g *Gate) Private(t *table.Table, touched Touched, deeds []table.Deed) []Viewer {
	var own [table.MaxSeats + 1]bool
	for id := range touched.places {
		if p := t.Places[id]; p != nil {
			sees := insight(t, touched, p)
			for seat := range own {
				own[seat] = own[seat] || sees.Includes(Viewer(seat))
			}
		}
	}
	for _, deed := range deeds {
		for _, spot := range deed.Spots() {
			own[spot.Owner] = true
		}
		for _, w := range deed.Witnesses() {
			for seat := range own {
				if w.SeenBy(Viewer(seat)) != w.SeenBy(0) {
					own[seat] = true
				}
			}
		}
	}
	var seats []Viewer
	for seat := 1; seat <= len(t.Chairs); seat++ {
		if own[seat] {
			seats = append(seats, Viewer(seat))
		}
	}
	return seats
}

// insight is who sees more of a place than a spectator, or did before the entry.
func insight(t *table.Table, touched Touched, p *table.Place) table.Audience {
	sees := touched.insight[p.ID]
	if p.Sight == table.OwnerOnly {
		sees |= table.Only(p.Owner)
	}
	if look, looking := t.Looks[p.ID]; looking {
		sees |= table.Only(look.Seat)
	}
	if touched.places[p.ID] && len(t.Shown) > 0 && !p.Kind.Stacked() { // what shows through veils; a hand is silent within
		for _, card := range p.Cards {
			sees |= t.Shown[card]
		}
	}
	return sees
}

// Log returns the lines of deeds as a viewer may read them.
func (g *Gate) Log(deeds []table.Deed, viewer Viewer) []Line {
	var lines []Line
	for _, deed := range deeds {
		told := table.Told{Deed: deed, Viewer: viewer}
		for _, w := range deed.Witnesses() {
			if w.SeenBy(viewer) {
				told.Names = append(told.Names, w.Name)
			}
		}
		line := Line{Seat: deed.Actor, Who: deed.Who, Do: deed.Do, Text: g.say(told), Cards: told.Names}
		if spots := deed.Spots(); len(spots) > 0 {
			line.Place = string(spots[len(spots)-1].Place)
		}
		lines = append(lines, line)
	}
	return lines
}
