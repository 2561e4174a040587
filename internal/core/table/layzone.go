package table

import (
	"maps"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"damselfly.example/damselfly/internal/core/grid"
)

// LayZone lays a new zone, or changes one: what is left out stays as it is, or as
// a new zone has it. It is for whoever may arrange the table.
type LayZone struct {
	Zone PlaceID `json:"zone,omitempty" doc:"The zone to change; a new one is laid if left out."`
	Like PlaceID `json:"like,omitempty" doc:"Of a new zone: the zone that it is a copy of, without its cards."`
	Kind Kind    `json:"kind,omitempty" enum:"pile,row,grid,hand" doc:"Of a new zone, or of one without cards; pile if left out."`

	Name     *string    `json:"name,omitempty" maxLength:"40"`
	Owner    *Seat      `json:"owner,omitempty" doc:"The seat it belongs to; 0: nobody."`
	Sight    *Sight     `json:"sight,omitempty" enum:"open,owner,none"`
	Arrival  *Arrival   `json:"arrival,omitempty"`
	Capacity *int       `json:"capacity,omitempty" minimum:"0" doc:"0: no limit."`
	Locked   *bool      `json:"locked,omitempty" doc:"Not moved or removed until it is unlocked."`
	X        *float64   `json:"x,omitempty" doc:"Centre, millimetres from the table's left edge."`
	Y        *float64   `json:"y,omitempty"`
	Wide     *float64   `json:"wide,omitempty"`
	High     *float64   `json:"high,omitempty"`
	Turn     *int       `json:"turn,omitempty" doc:"Degrees clockwise that the zone is turned."`
	Grid     *grid.Grid `json:"grid,omitempty" doc:"Of a grid: its cells."`
}

func (a LayZone) plan(d *draft) *Refusal {
	before, refusal := d.zone(a)
	if refusal != nil {
		return refusal
	}
	after := *before
	after.Cards = nil
	a.change(&after)
	if a.Zone != "" && a.changes() == "" {
		return refuse(NotUnderstood, "Say what to change of %s.", before.Name)
	}
	if a.Name != nil || a.Owner != nil {
		if refusal := d.zoneCalledOnce(&after); refusal != nil {
			return refusal
		}
	}
	if refusal := d.fits(&after); refusal != nil {
		return refusal
	}
	fresh := d.table.Places[before.ID] == nil
	if !fresh {
		if refusal := d.relay(before, &after); refusal != nil {
			return refusal
		}
		old := *before
		old.Cards = nil
		d.do(PutPlace{Before: &old, After: &after})
		d.recell(&after)
	} else {
		d.do(PutPlace{After: &after})
	}
	what := a.changes()
	if fresh {
		what = "new"
	}
	d.tell("lay-zone", Laid{Zone: d.spot(&after), What: what})
	return nil
}

// zone is the zone to change, or one to begin with.
func (d *draft) zone(a LayZone) (*Place, *Refusal) {
	named := a.Zone
	if named == "" {
		named = a.Like
	}
	if named == "" {
		if refusal := d.zonesLeft(); refusal != nil {
			return nil, refusal
		}
		id := d.freeID("zone")
		return &Place{
			ID: PlaceID(id), Name: d.freeZoneName("zone"), Kind: Pile, Sight: Open, Wide: 70, High: 95,
			X: d.table.Settings.Wide / 2, Y: d.table.Settings.High / 2,
		}, nil
	}
	p := d.table.Places[named]
	if p == nil || p.Kind.Passing() {
		return nil, refuse(NoSuchPlace, "There is no zone %q on this table%s", named, meantBy(string(named), d.table.zoneIDs()))
	}
	if a.Zone != "" {
		if p.Locked && (a.Locked == nil || *a.Locked) && a.moves() {
			return nil, refuse(IsLocked, "%s is locked; unlock it first.", p.Name)
		}
		return p, nil
	}
	if refusal := d.zonesLeft(); refusal != nil {
		return nil, refusal
	}
	copied := *p
	copied.ID, copied.Name, copied.Cards, copied.Locked = PlaceID(d.freeID("zone")), d.freeZoneName(p.Name), nil, false
	copied.X, copied.Y = p.X+15, p.Y+15
	return &copied, nil
}

// moves reports whether the action moves, sizes or turns the zone.
func (a LayZone) moves() bool {
	return a.X != nil || a.Y != nil || a.Wide != nil || a.High != nil || a.Turn != nil || a.Grid != nil
}

// change sets what is given.
func (a LayZone) change(p *Place) {
	if a.Kind != "" {
		p.Kind = a.Kind
	}
	if a.Kind == Hand && a.Sight == nil && p.Owner != 0 {
		p.Sight = OwnerOnly
	}
	set(&p.Name, a.Name)
	set(&p.Owner, a.Owner)
	set(&p.Sight, a.Sight)
	set(&p.Arrival, a.Arrival)
	set(&p.Capacity, a.Capacity)
	set(&p.Locked, a.Locked)
	set(&p.X, a.X)
	set(&p.Y, a.Y)
	set(&p.Wide, a.Wide)
	set(&p.High, a.High)
	set(&p.Turn, a.Turn)
	if a.Grid != nil {
		cells := *a.Grid
		p.Grid = &cells
	}
	if p.Kind == Grid && p.Grid == nil {
		p.Grid = &grid.Grid{Shape: grid.Square, Columns: 4, Rows: 3}
	}
	if p.Kind != Grid {
		p.Grid = nil
	}
	p.Name = strings.Join(strings.Fields(p.Name), " ")
}

func set[T any](field *T, to *T) {
	if to != nil {
		*field = *to
	}
}

// changes names what is changed, for the log.
func (a LayZone) changes() string {
	var all []string
	for _, c := range []struct {
		is   bool
		name string
	}{
		{a.Name != nil, "name"}, {a.Kind != "", "kind"}, {a.X != nil || a.Y != nil, "place"}, {a.Wide != nil || a.High != nil, "size"},
		{a.Turn != nil, "turn"}, {a.Owner != nil, "owner"}, {a.Sight != nil, "sight"}, {a.Arrival != nil, "arrival"},
		{a.Capacity != nil, "capacity"}, {a.Grid != nil, "cells"}, {a.Locked != nil, "lock"},
	} {
		if c.is {
			all = append(all, c.name)
		}
	}
	return strings.Join(all, ", ")
}

// fits refuses a zone that no table can have.
func (d *draft) fits(p *Place) *Refusal {
	if !slices.Contains(ZoneKinds, p.Kind) {
		return refuse(NotUnderstood, "A zone is a pile, row, grid or hand, not %q.", p.Kind)
	}
	if !slices.Contains([]Sight{Open, OwnerOnly, None}, p.Sight) {
		return refuse(NotUnderstood, "A sight is open, owner or none, not %q.", p.Sight)
	}
	if !slices.Contains([]Side{"", Front, Back}, p.Arrival.Side) {
		return refuse(NotUnderstood, "Cards arrive front or back up, or as they are, not %q.", p.Arrival.Side)
	}
	if !GoodLabel(p.Name) {
		return badLabel()
	}
	if p.Owner != 0 {
		if _, refusal := d.chair(p.Owner); refusal != nil {
			return refusal
		}
	}
	if strings.EqualFold(p.Name, "felt") {
		return refuse(OutOfBounds, "The felt is the open table; call the zone something else.")
	}
	if deck := d.homeOf(p.ID); deck != nil && p.Kind == Grid {
		return refuse(OutOfBounds, "%s is the home of %s, so it is no grid: a grid's cards lie on its cells.", p.Name, deck.Name)
	}
	if p.Owner == 0 && (p.Sight == OwnerOnly || p.Kind == Hand) {
		return refuse(OutOfBounds, "%s needs a seat that it belongs to: a hand is somebody's, and so is sight \"owner\".", p.Name)
	}
	if p.Capacity < 0 {
		return refuse(OutOfBounds, "A zone holds at least 1 card, or has no limit at 0; not %d.", p.Capacity).with("asked", p.Capacity)
	}
	if p.Capacity > 0 {
		if most := d.most(p); most > p.Capacity {
			return refuse(TooMany, "%s holds %s already, so no fewer fit.", p.Name, counted(most, "card")).with("has", most)
		}
	}
	if p.Turn < 0 || p.Turn > 359 || p.Arrival.Turn != nil && (*p.Arrival.Turn < 0 || *p.Arrival.Turn > 359) {
		return refuse(OutOfBounds, "A turn is 0 to 359 degrees.").with("most", 359)
	}
	if g := p.Grid; g != nil {
		if !slices.Contains([]grid.Shape{grid.Square, grid.Square4, grid.Hex}, g.Shape) {
			return refuse(NotUnderstood, "A grid is square, square4 or hex, not %q.", g.Shape)
		}
		if g.Columns < 1 || g.Rows < 1 || g.Columns > grid.MaxSide || g.Rows > grid.MaxSide || g.Columns*g.Rows > MaxCells {
			return refuse(OutOfBounds, "A grid has 1 to %d cells, not %d × %d.", MaxCells, g.Columns, g.Rows).with("most", MaxCells)
		}
	}
	p.X, p.Y = d.onTable(p.X, p.Y)
	return inBounds(p.Name, p.Wide, p.High)
}

// homeOf is a deck whose home a place is, nil if it is none's.
func (d *draft) homeOf(id PlaceID) *Deck {
	for _, key := range slices.Sorted(maps.Keys(d.table.Decks)) {
		if deck := d.table.Decks[key]; deck.Home == id {
			return deck
		}
	}
	return nil
}

// most is how many cards lie in a zone now, of a grid on its fullest cell.
func (d *draft) most(p *Place) int {
	most := 0
	if now := d.table.Places[p.ID]; now != nil {
		most = d.count(now)
	}
	for _, cell := range d.cells(p.ID) {
		most = max(most, d.count(cell))
	}
	return most
}

func (d *draft) onTable(x, y float64) (float64, float64) {
	return min(max(x, 0), d.table.Settings.Wide), min(max(y, 0), d.table.Settings.High)
}

func inBounds(name string, sides ...float64) *Refusal {
	for _, side := range sides {
		if !(side >= MinSide && side <= MaxSide) { // not a number is neither
			return refuse(OutOfBounds, "%s must be %g to %g millimetres wide and high.", name, MinSide, MaxSide)
		}
	}
	return nil
}

// GoodLabel reports whether a zone, a piece or a face can have a name.
func GoodLabel(name string) bool {
	n := utf8.RuneCountInString(name)
	bad := strings.IndexFunc(name, func(r rune) bool { return r == '"' || r == '#' || !unicode.IsPrint(r) })
	return n >= 1 && n <= MaxLabel && bad < 0 && utf8.ValidString(name)
}

func badLabel() *Refusal {
	return refuse(OutOfBounds, "A name has 1 to %d letters, digits or signs, but no \" and no #.", MaxLabel).with("most", MaxLabel)
}

// relay refuses to change how a zone keeps its cards, where that would show or
// lose some: nobody's own cards are laid open by arranging.
func (d *draft) relay(before, after *Place) *Refusal {
	if before.Kind == Grid {
		return d.recut(before, after)
	}
	rules := before.Kind != after.Kind || before.Owner != after.Owner || before.Sight != after.Sight
	if !rules {
		return nil
	}
	if refusal := d.unlooked(before); refusal != nil {
		return refusal
	}
	if refusal := d.theirs(before); refusal != nil {
		return refusal
	}
	if d.count(before) > 0 && after.Kind == Grid {
		return refuse(TooMany, "%s holds %s; a grid's cards lie on its cells, so move them away first.", before.Name, counted(len(before.Cards), "card")).with("cards", len(before.Cards))
	}
	d.endLook(before.ID)
	d.dropAsks(before.ID)
	for _, card := range before.Cards {
		d.show(card, Nobody, Brief{})
	}
	return nil
}

// theirs refuses to change a zone that holds cards which only another seat may see.
func (d *draft) theirs(p *Place) *Refusal {
	if d.count(p) == 0 || p.Sight != OwnerOnly || p.Owner == d.actor || d.actor == 0 {
		return nil
	}
	whose := d.table.seatName(p.Owner)
	return refuse(NotYours, "The %s of %s holds %s that only they may see; ask %s to empty it first.", p.Name, whose, counted(len(p.Cards), "card"), whose).
		with("seat", int(p.Owner)).with("cards", len(p.Cards))
}

// recut refuses to change a grid under its cards.
func (d *draft) recut(before, after *Place) *Refusal {
	rules := before.Owner != after.Owner || before.Sight != after.Sight || before.Kind != after.Kind
	for _, cell := range d.cells(before.ID) {
		_, name := cell.ID.Parts()
		at, _ := before.Grid.Parse(name)
		switch {
		case rules:
			return refuse(TooMany, "%s has cards on its cells; collect them before its kind, owner or sight changes.", before.Name)
		case before.Grid.Shape != after.Grid.Shape && (before.Grid.Shape == grid.Hex || after.Grid.Shape == grid.Hex), !after.Grid.Has(at):
			return refuse(NoSuchCell, "A card lies on %s; move it before the grid's cells change.", cell.Name)
		}
		if refusal := d.unlooked(cell); refusal != nil {
			return refusal
		}
	}
	return nil
}

// cells are the cells of a grid on which cards lie, in a stable order.
func (d *draft) cells(of PlaceID) (cells []*Place) {
	if p := d.table.Places[of]; p != nil {
		d.countAll(p, nil)
	}
	for _, id := range d.table.PlaceIDs() {
		if p := d.table.Places[id]; p.Of == of {
			cells = append(cells, p)
		}
	}
	return cells
}

// recell puts the cards of a grid where its cells lie now.
func (d *draft) recell(p *Place) {
	if p.Kind != Grid {
		return
	}
	for _, cell := range d.cells(p.ID) {
		_, name := cell.ID.Parts()
		at, _ := p.Grid.Parse(name)
		old, now := *cell, p.CellAt(at)
		old.Cards = nil
		d.do(PutPlace{Before: &old, After: &now})
	}
}

func (d *draft) endLook(id PlaceID) {
	if look, looking := d.table.Looks[id]; looking {
		d.do(PutLook{Before: &look})
	}
}

// dropAsks ends the asks that are about a place.
func (d *draft) dropAsks(id PlaceID) {
	for _, n := range slices.Sorted(maps.Keys(d.table.Asks)) {
		if ask, there := d.table.Asks[n]; there && ask.Place == id {
			d.dropAsk(ask)
		}
	}
}

func (d *draft) zonesLeft() *Refusal {
	zones := 0
	for _, p := range d.table.Places {
		if !p.Kind.Passing() {
			zones++
		}
	}
	if zones < MaxZones {
		return nil
	}
	return refuse(TooMany, "A table has %d zones at most; remove one first.", MaxZones).with("holds", MaxZones)
}

// freeID is an id that no place and no piece has.
func (d *draft) freeID(like string) string {
	for n := 1; ; n++ {
		id := like + itoa(n)
		if d.table.Places[PlaceID(id)] == nil && d.table.Pieces[PieceID(id)] == nil {
			return id
		}
	}
}

// freeZoneName is a name with the first number that no zone carries.
func (d *draft) freeZoneName(like string) string {
	used := map[string]bool{}
	for _, p := range d.table.Places {
		used[p.Name] = true
	}
	return numbered(like, used)
}

// zoneCalledOnce refuses a name that another zone has, so that Steps can tell them
// apart; only zones of different seats are called alike.
func (d *draft) zoneCalledOnce(p *Place) *Refusal {
	for _, other := range d.table.Places {
		alike := other.Owner == p.Owner || other.Owner == 0 || p.Owner == 0
		if other.ID != p.ID && alike && !other.Kind.Passing() && strings.EqualFold(other.Name, p.Name) {
			return refuse(OutOfBounds, "There is a zone called %s already; choose another name.", other.Name)
		}
	}
	return nil
}

// MayArrange reports whether a seat may arrange the table.
func (t *Table) MayArrange(seat Seat) bool {
	return seat == t.Settings.Host && seat != 0 || t.Settings.Arrange == "everyone"
}

// Bare is the table as it is laid, with no card on it.
func (t *Table) Bare() *Table {
	bare := &Table{Settings: t.Settings, Chairs: slices.Clone(t.Chairs), Places: map[PlaceID]*Place{}, Pieces: maps.Clone(t.Pieces)}
	for id, p := range t.Places {
		if !p.Kind.Passing() {
			zone := *p
			zone.Cards = nil
			bare.Places[id] = &zone
		}
	}
	return bare
}
