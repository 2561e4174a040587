package sight

import "damselfly/internal/core/table"

// Changes is what one entry showed one viewer. A place, the seats, the decks
// and the settings come whole where they changed.
type Changes struct {
	Places   []Place         `json:"places,omitempty"`
	Gone     []table.PlaceID `json:"gone,omitempty" doc:"Places that are not there any more."`
	Seats    []Seat          `json:"seats,omitempty"`
	Decks    []Deck          `json:"decks,omitempty"`
	Settings *table.Settings `json:"settings,omitempty"`
	Log      []Line          `json:"log,omitempty"`
}

// Line is one line of the log as one viewer may read it.
type Line struct {
	Seat  int    `json:"seat" doc:"Who did it; 0 is the table itself."`
	Who   string `json:"who"`
	Text  string `json:"text" doc:"What was done, in Steps."`
	Place string `json:"place,omitempty" doc:"The place it was done to."`
}

// Empty reports whether the viewer is shown nothing.
func (c Changes) Empty() bool {
	return len(c.Places) == 0 && len(c.Gone) == 0 && c.Seats == nil && c.Decks == nil &&
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
		case touched.places[id] || p.Sight == table.Open || p.Sight == table.OwnerOnly && p.Owner == viewer:
			c.Places = append(c.Places, g.place(t, p, viewer))
		}
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
		if p := t.Places[id]; p != nil && p.Sight == table.OwnerOnly {
			own[p.Owner] = true
		}
	}
	for _, deed := range deeds {
		for _, spot := range []*table.Spot{deed.From, deed.To} {
			if spot != nil {
				own[spot.Owner] = true
			}
		}
		for _, w := range deed.Cards {
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

// Log returns the lines of deeds as a viewer may read them.
func (g *Gate) Log(deeds []table.Deed, viewer Viewer) []Line {
	var lines []Line
	for _, deed := range deeds {
		told := table.Told{Deed: deed, Viewer: viewer}
		told.Cards = nil
		for _, w := range deed.Cards {
			if w.SeenBy(viewer) {
				told.Names = append(told.Names, w.Name)
			}
		}
		line := Line{Seat: int(deed.Actor), Who: deed.Who, Text: g.say(told)}
		for _, spot := range []*table.Spot{deed.From, deed.To} {
			if spot != nil {
				line.Place = string(spot.Place)
			}
		}
		lines = append(lines, line)
	}
	return lines
}
