package sight

import (
	"cmp"
	"maps"
	"slices"

	"damselfly.example/damselfly/internal/core/table"
)

// Changes is what one entry showed one viewer. The seats, the decks and the settings come
// whole where they changed.
type Changes struct {
	Faces    Faces           `json:"faces,omitempty" doc:"What cards show that you were not told before, by the words that name it."`
	Places   []PlaceChange   `json:"places,omitempty"`
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

// PlaceChange is what became of a place: the cards that went, came or lie otherwise.
type PlaceChange struct {
	ID   table.PlaceID `json:"id"`
	Laid *Laid         `json:"laid,omitempty" doc:"How the place is laid, where that changed or the place is new."`
	Holds
	Anew  bool       `json:"anew,omitempty" doc:"The cards are all that you have before your eyes there; those of before are gone."`
	Went  []Handle   `json:"went,omitempty" doc:"Cards that are not there any more."`
	Cards []CardLies `json:"cards,omitempty" doc:"Cards that came or lie otherwise, in the order of where. Take out those that you have already, then put each in."`
}

// CardLies is a card and where it lies.
type CardLies struct {
	At int `json:"at,omitempty" doc:"Its index among the cards there, from 0."`
	Card
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

// Changes returns what an entry showed a viewer, with the faces that they were not told.
func (g *Gate) Changes(t *table.Table, touched *Touched, deeds []table.Deed, viewer Viewer) Changes {
	c, to := Changes{}, &untold{knows: [2]map[Word]bool{g.told[0], g.told[viewer]}}
	for _, at := range touched.places {
		p := t.Places[at.id]
		switch {
		case p == nil:
			c.Gone = append(c.Gone, at.id)
		case at.through || p.Sight == table.Open || insight(t, at, p).Includes(viewer):
			c.Places = append(c.Places, g.placeChange(t, touched, at, p, viewer, to))
		}
	}
	c.Faces = to.faces
	for _, id := range touched.pieces {
		if piece := t.Pieces[id]; piece != nil {
			c.Pieces = append(c.Pieces, g.pictures.piece(*piece))
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
		settings := g.pictures.settings(t.Settings)
		c.Decks, c.Settings = decks(t), &settings
	}
	c.Log = g.Log(deeds, viewer)
	return c
}

// maxTold is how many faces are remembered as told to everyone. Beyond it they are told
// again where they are shown again.
const maxTold = 500

// Show is what an entry showed everyone, and what in its place those who saw something of
// their own. It notes the faces that were told; nil is for nothing.
func (g *Gate) Show(t *table.Table, touched *Touched, deeds []table.Deed) (public *Changes, own map[Viewer]*Changes) {
	shown := func(viewer Viewer) *Changes {
		if c := g.Changes(t, touched, deeds, viewer); !c.Empty() {
			return &c
		}
		return nil
	}
	public, own = shown(0), map[Viewer]*Changes{}
	for _, viewer := range g.Private(t, touched, deeds) {
		c := shown(viewer)
		if c == nil {
			continue
		}
		if public != nil { // what everyone was told need not be told to them any more
			for word, face := range public.Faces {
				if !g.told[viewer][word] {
					c.Faces = c.Faces.with(word, face)
				}
			}
		}
		g.noteTold(viewer, c.Faces)
		own[viewer] = c
	}
	if public != nil {
		g.noteTold(0, public.Faces)
	}
	return public, own
}

func (g *Gate) noteTold(viewer Viewer, faces Faces) {
	if len(faces) == 0 {
		return
	}
	if g.told[viewer] == nil || len(g.told[viewer]) > maxTold {
		g.told[viewer] = map[Word]bool{}
	}
	for word := range faces {
		g.told[viewer][word] = true
	}
}

// Begin is the view of whoever begins to be told changes. From then on those faces count as
// told that are before everyone's eyes now: what lies hidden was perhaps told to all the
// others, and to them it is told again.
func (g *Gate) Begin(t *table.Table, viewer Viewer) View {
	v, public := g.View(t, viewer), g.View(t, 0).Faces
	delete(g.told, 0)
	g.noteTold(0, public)
	if viewer != 0 {
		delete(g.told, viewer)
		g.noteTold(viewer, v.Faces)
	}
	maps.Copy(v.Faces, public)
	return v
}

// placeChange is what became of a place before a viewer's eyes.
func (g *Gate) placeChange(t *table.Table, touched *Touched, at *touchedPlace, p *table.Place, viewer Viewer, to *untold) PlaceChange {
	change := PlaceChange{ID: p.ID, Holds: holds(t, p)}
	if at.laid {
		how := laid(p)
		change.Laid = &how
	}
	if at.anew || p.Kind.Stacked() || !allSeen(p, viewer) {
		whole := g.place(t, p, viewer, to)
		change.Holds, change.Anew = whole.Holds, true
		for i, card := range whole.Cards {
			change.Cards = append(change.Cards, CardLies{i, card})
		}
		return change
	}
	for card, was := range touched.cards {
		now := t.Cards[card]
		here := now != nil && now.Place == p.ID
		if here {
			_, index := t.At(card)
			change.Cards = append(change.Cards, CardLies{index, g.card(t, p, index, viewer, to)})
		}
		if was.place == p.ID && was.audience.Includes(viewer) && !(here && g.held[card].handle == was.handle) {
			change.Went = append(change.Went, was.handle)
		}
	}
	slices.SortFunc(change.Cards, func(a, b CardLies) int { return cmp.Compare(a.At, b.At) })
	slices.Sort(change.Went)
	g.veil(t, p, viewer, &change.Holds, len(p.Cards), to)
	return change
}

// allSeen reports whether a viewer has all cards of a place before their eyes, as they did
// before: elsewhere the order of those that are shown says nothing.
func allSeen(p *table.Place, viewer Viewer) bool {
	return p.Sight == table.Open || p.Sight == table.OwnerOnly && p.Owner == viewer && viewer != 0
}

// Private lists the seats that an entry showed something of their own. All
// other viewers were shown the same as a spectator, so it is encoded once.
func (g *Gate) Private(t *table.Table, touched *Touched, deeds []table.Deed) []Viewer {
	var own [table.MaxSeats + 1]bool
	for _, at := range touched.places {
		if p := t.Places[at.id]; p != nil {
			sees := insight(t, at, p)
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
func insight(t *table.Table, at *touchedPlace, p *table.Place) table.Audience {
	sees := at.sawMore
	if p.Sight == table.OwnerOnly {
		sees |= table.Only(p.Owner)
	}
	if look, looking := t.Looks[p.ID]; looking {
		sees |= table.Only(look.Seat)
	}
	if at.through && len(t.Shown) > 0 && !p.Kind.Stacked() { // what shows through veils; a hand is silent within
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
