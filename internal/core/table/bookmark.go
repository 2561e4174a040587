package table

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"
)

// Bookmarked tells that the table was kept under a name. It is the service's own: whoever
// opens a bookmark sees what lay hidden when it was made, so nobody makes one in secret.
type Bookmarked struct{ Name string }

func (a Bookmarked) plan(d *draft) *Refusal {
	d.tell("bookmark", Worded{Text: a.Name})
	return nil
}

// Bookmark is the table as another room can begin with it: everything lies where it lies,
// seats are free, hands are hidden, nobody looks or asks, timers stand, and chance has not
// been drawn. Its decks are named by their editions where they have one. It shares with the
// table what lies on it, and is written down at once. now is in milliseconds since 1970.
func (t *Table) Bookmark(now int64) *Table {
	t.ready()
	b := &Table{
		Settings: t.Settings, Decks: map[string]*Deck{}, Places: maps.Clone(t.Places), Cards: maps.Clone(t.Cards), Pieces: map[PieceID]*Piece{},
		Laid: maps.Clone(t.Laid), Marker: t.Marker, Leaving: maps.Clone(t.Leaving), Made: t.Made,
	}
	b.Settings.Host, b.Settings.Locked, b.Settings.Ended, b.Settings.Spectators = 0, false, false, ""
	for key, d := range t.Decks {
		alone := *d
		if alone.Edition != nil {
			alone.Designs = d.FormerDesigns()
		}
		b.Decks[key] = &alone
	}
	for _, c := range t.Chairs {
		b.Chairs = append(b.Chairs, Chair{Seat: c.Seat, Colour: c.Colour})
	}
	for id, p := range t.Pieces {
		alone := *p
		if alone.Ends != 0 {
			alone.Left, alone.Ends = max(alone.Ends-now, 0), 0
		}
		b.Pieces[id] = &alone
	}
	for id, p := range b.Laid {
		alone := *p
		alone.X, alone.Y = newDraft(b, 0, nil, Circumstances{}).onTable(p.X, p.Y) // the table may be smaller by now
		b.Laid[id] = &alone
	}
	return b
}

// WithPictures is the table with other pictures in place of its own: under everything, on pieces, as
// veils and on designs. It shares with the table whatever has none.
func (t *Table) WithPictures(other func(Picture) Picture) *Table {
	with := *t
	with.Settings.Mat = other(t.Settings.Mat)
	pieces := func(all map[PieceID]*Piece) map[PieceID]*Piece {
		changed := maps.Clone(all)
		for id, p := range changed {
			if p == nil {
				continue // damaged; see Damage
			}
			alone := *p
			alone.Faces = slices.Clone(p.Faces)
			for i := range alone.Faces {
				alone.Faces[i] = other(alone.Faces[i])
			}
			changed[id] = &alone
		}
		return changed
	}
	with.Pieces, with.Laid = pieces(t.Pieces), pieces(t.Laid)
	with.Decks = maps.Clone(t.Decks)
	for key, d := range with.Decks {
		if d == nil {
			continue
		}
		alone := *d
		alone.Veil = other(d.Veil)
		alone.Designs = maps.Clone(d.Designs)
		for name, design := range alone.Designs {
			design.Front, design.Back = other(design.Front), other(design.Back)
			alone.Designs[name] = design
		}
		with.Decks[key] = &alone
	}
	return &with
}

// Begin is a table that begins as a bookmark has it. It is the first edit of a room.
type Begin struct {
	With *Table `json:"with"`
}

func (e Begin) fold(t *Table) {
	past := t.past
	*t = *e.With
	t.past = past
	for id, p := range t.Places {
		alone := *p
		alone.Cards = slices.Clone(p.Cards)
		t.Places[id] = &alone
	}
	t.ready()
}

func (e Begin) inverse() Edit { return Begin{With: &Table{}} }

func (e Begin) touches(*Table) Touch { return Touch{Undo: IsFinal, Weight: maxWeight / 2} }

// WithoutLeaving takes the cards away that are to leave.
func (t *Table) WithoutLeaving() {
	for _, p := range t.Places {
		p.Cards = slices.DeleteFunc(p.Cards, func(card CardID) bool { return t.Leaving[card] })
	}
	maps.DeleteFunc(t.Cards, func(card CardID, _ *Card) bool { return t.Leaving[card] })
	maps.DeleteFunc(t.Places, func(_ PlaceID, p *Place) bool { return p.Kind.Passing() && len(p.Cards) == 0 })
	t.Leaving = nil
}

// Damage finds what is wrong with a table that came from outside as a bookmark, by what the same
// things are refused at a table in use; designs are those that its decks have. What lies
// beyond the table's edge is moved to it. It is empty for a table that can be played.
func (t *Table) Damage(designs map[string]map[string]Design) string {
	t.ready()
	for _, look := range []func(map[string]map[string]Design) string{t.damagedNames, t.damagedFrame, t.damagedPlaces, t.damagedCards, t.damagedPieces} {
		if damage := look(designs); damage != "" {
			return damage
		}
	}
	return ""
}

// damagedNames finds what is named as another thing, or as none.
func (t *Table) damagedNames(designs map[string]map[string]Design) string {
	if t.Made > maxMade {
		return fmt.Sprintf("More than %d things were made there.", maxMade)
	}
	for key, deck := range t.Decks {
		if deck == nil || deck.Key != key || designs[key] == nil || !goodID(key) {
			return fmt.Sprintf("There is no deck %q.", key)
		}
	}
	for id, p := range t.Places {
		if p == nil || p.ID != id || !goodID(string(id)) || t.yetToCome("felt/", string(id)) || p.Kind == Loose && !strings.HasPrefix(string(id), "felt/") {
			return fmt.Sprintf("There is no place %q.", id)
		}
	}
	for id, c := range t.Cards {
		if c == nil || id > firstLater+CardID(t.Made) {
			return fmt.Sprintf("There is no card %d.", id)
		}
	}
	for key, deck := range t.Decks {
		if home := t.Places[deck.Home]; home == nil || home.Kind.Passing() || home.Kind == Grid {
			return fmt.Sprintf("The deck %q has no home.", key)
		}
	}
	for _, pieces := range []map[PieceID]*Piece{t.Pieces, t.Laid} {
		for id, p := range pieces {
			if p == nil || p.ID != id || !goodID(string(id)) || t.yetToCome(takenOff, string(id)) {
				return fmt.Sprintf("There is no piece %q.", id)
			}
		}
	}
	return ""
}

// damagedFrame finds damage to the table itself and to its seats.
func (t *Table) damagedFrame(map[string]map[string]Design) string {
	if refusal := t.Settings.fits(); refusal != nil {
		return refusal.Text
	}
	// Nobody is there yet, so nobody has its keys and it can be entered, whatever it says.
	t.Settings.Host, t.Settings.Locked, t.Settings.Ended, t.Settings.Spectators = 0, false, false, ""
	for i, c := range t.Chairs {
		t.Chairs[i] = Chair{Seat: c.Seat, Colour: c.Colour}
	}
	if len(t.Looks)+len(t.Asks)+len(t.Shown)+len(t.Brief)+len(t.Draws)+len(t.Leaving) > 0 {
		return "Somebody is still at the table."
	}
	if len(t.Chairs) < 1 || len(t.Chairs) > MaxSeats {
		return fmt.Sprintf("A table has 1 to %d seats, not %d.", MaxSeats, len(t.Chairs))
	}
	for i, c := range t.Chairs {
		if int(c.Seat) != i+1 || c.Name != "" || c.Tenure != 0 || !goodColour(c.Colour) {
			return fmt.Sprintf("Seat %d is not free.", i+1)
		}
	}
	if !t.hasSeat(t.Marker.Seat) || !t.hasSeat(t.Marker.First) {
		return fmt.Sprintf("Seat %d is not at the table.", max(t.Marker.Seat, t.Marker.First))
	}
	return ""
}

// hasSeat reports whether a seat is one of the table's, or none.
func (t *Table) hasSeat(seat Seat) bool { return seat >= 0 && int(seat) <= len(t.Chairs) }

func (t *Table) damagedPlaces(map[string]map[string]Design) string {
	d, zones := newDraft(t, 0, nil, Circumstances{}), 0
	for _, id := range t.PlaceIDs() {
		p := t.Places[id]
		if refusal := d.fitsAnywhere(p); refusal != nil {
			return refusal.Text
		}
		if !p.Kind.Passing() {
			zones++
		}
	}
	if zones > MaxZones {
		return fmt.Sprintf("A table has at most %d zones, not %d.", MaxZones, zones)
	}
	return ""
}

// damagedCards finds cards that do not lie in one place, and those that nothing is printed on.
func (t *Table) damagedCards(designs map[string]map[string]Design) string {
	lying := map[CardID]bool{}
	for id, p := range t.Places {
		for _, card := range p.Cards {
			if c := t.Cards[card]; c == nil || c.Place != id || lying[card] || p.Kind == Grid {
				return fmt.Sprintf("The card %d does not lie in one place.", card)
			}
			lying[card] = true
		}
	}
	for id, c := range t.Cards {
		if !lying[id] || c.Side != Front && c.Side != Back || c.Turn < 0 || c.Turn > MaxTurn {
			return fmt.Sprintf("The card %d does not lie anywhere.", id)
		}
		if _, known := designs[c.Deck][c.Design]; !known || t.Decks[c.Deck] == nil {
			return fmt.Sprintf("The deck %q has no %q.", c.Deck, c.Design)
		}
	}
	return ""
}

func (t *Table) damagedPieces(map[string]map[string]Design) string {
	d := newDraft(t, 0, nil, Circumstances{})
	for _, pieces := range []map[PieceID]*Piece{t.Pieces, t.Laid} {
		if len(pieces) > MaxPieces {
			return fmt.Sprintf("A table has at most %d pieces, not %d.", MaxPieces, len(pieces))
		}
		for id, p := range pieces {
			if !slices.Contains(PieceKinds, p.Kind) || !t.hasSeat(p.Seat) || p.Ends != 0 {
				return fmt.Sprintf("There is no piece %q.", id)
			}
			if refusal := d.fitsPiece(p); refusal != nil {
				return refusal.Text
			}
		}
	}
	return ""
}

// maxMade is how much may have been made at a table from outside; there is as much room again.
const maxMade = 1 << 40

// yetToCome reports whether an id is one of those that are numbered as things are made, but
// not of those that were made.
func (t *Table) yetToCome(like, id string) bool {
	number, numbered := strings.CutPrefix(id, like)
	if !numbered {
		return false
	}
	n, err := strconv.ParseUint(number, 10, 64)
	return err != nil || n < 1 || n > t.Made || itoa(int(n)) != number
}

// maxID bounds the id of a place, a piece or a deck that comes from outside, in bytes.
const maxID = 200

// goodID reports whether an id that comes from outside can be shown: ids reach terminals and
// pages as names do.
func goodID(id string) bool {
	return id != "" && len(id) <= maxID && utf8.ValidString(id) && printable(id, false) == id
}

// fitsAnywhere is fits also for the felt and for cells of grids, which lie where their grids
// have them. Of a grid and its cells, the grid comes first.
func (d *draft) fitsAnywhere(p *Place) *Refusal {
	switch {
	case p.Kind.Passing() && len(p.Cards) == 0:
		return refuse(NoSuchPlace, "Nothing lies at %q.", p.ID)
	case p.Kind == Loose:
		*p = Place{ID: p.ID, Name: "felt", Kind: Loose, Sight: Open, X: p.X, Y: p.Y, Wide: p.Wide, High: p.High, Turn: p.Turn, Cards: p.Cards}
		p.X, p.Y = d.onTable(p.X, p.Y)
		return inBounds(p.Name, p.Wide, p.High)
	case p.Kind == Cell:
		of, name := p.ID.Parts()
		if grid := d.table.Places[of]; grid != nil && grid.Kind == Grid {
			if at, is := grid.Grid.Parse(name); is {
				cards := p.Cards
				*p = grid.CellAt(at)
				p.Cards = cards
				return nil
			}
		}
		return refuse(NoSuchPlace, "There is no cell %q.", p.ID)
	case p.Kind == Grid && p.Grid == nil:
		return refuse(NoSuchPlace, "%s has no cells.", p.Name)
	case p.Kind != Grid:
		p.Grid = nil
	}
	p.Of = ""
	return d.fits(p)
}

// GoodTitle is a title of one line without what cannot be printed, or tells that it is none.
func GoodTitle(title string) (string, bool) {
	title = printable(strings.Join(strings.Fields(title), " "), false)
	return title, title != "" && utf8.RuneCountInString(title) <= MaxTitle && utf8.ValidString(title)
}
