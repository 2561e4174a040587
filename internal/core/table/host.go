package table

import (
	"slices"
	"strings"
	"unicode/utf8"
)

// LayTable changes what belongs to the table as a whole. It is for whoever may
// arrange it; only the host says who may.
type LayTable struct {
	Name    *string  `json:"name,omitempty" maxLength:"80"`
	Wide    *float64 `json:"wide,omitempty" doc:"Millimetres; what would lie outside moves to the edge."`
	High    *float64 `json:"high,omitempty"`
	Turn    *int     `json:"turn,omitempty" doc:"By how many degrees one turn of a card turns it, 1 to 180."`
	Mat     *Picture `json:"mat,omitempty" doc:"The picture under everything; with empty addresses none."`
	Setup   *string  `json:"setup,omitempty" maxLength:"4000" doc:"The Steps that set the game up."`
	Arrange *string  `json:"arrange,omitempty" enum:"host,everyone" doc:"Who may arrange the table."`
}

func (a LayTable) plan(d *draft) *Refusal {
	before := d.table.Settings
	after := before
	set(&after.Name, a.Name)
	set(&after.Wide, a.Wide)
	set(&after.High, a.High)
	set(&after.Turn, a.Turn)
	set(&after.Mat, a.Mat)
	set(&after.Setup, a.Setup)
	set(&after.Arrange, a.Arrange)
	after.Name = strings.Join(strings.Fields(after.Name), " ")
	switch {
	case after.Arrange != before.Arrange && d.actor != 0 && d.actor != before.Host:
		return refuse(NotYours, "Only the host says who may arrange the table.").with("seat", int(before.Host))
	case a.Turn != nil && after.Turn == 0:
		return badTurn(after.Turn)
	}
	if refusal := after.fits(); refusal != nil {
		return refusal
	}
	d.do(PutSettings{Before: before, After: after})
	d.pullIn()
	d.tell("lay-table", Wordless{})
	return nil
}

// fits refuses settings that no table has.
func (s Settings) fits() *Refusal {
	switch {
	case !slices.Contains([]string{"", "host", "everyone"}, s.Arrange):
		return refuse(NotUnderstood, "The host or everyone may arrange the table, not %q.", s.Arrange)
	case s.Name == "" || utf8.RuneCountInString(s.Name) > MaxTitle:
		return refuse(OutOfBounds, "A table has a name of 1 to %d letters.", MaxTitle).with("most", MaxTitle)
	case !(s.Wide >= MinTable && s.Wide <= MaxSide), !(s.High >= MinTable && s.High <= MaxSide):
		return refuse(OutOfBounds, "A table is %g to %g millimetres wide and high.", MinTable, MaxSide)
	case s.Turn < 0 || s.Turn > MaxOneTurn:
		return badTurn(s.Turn)
	case s.Mat != (Picture{}) && (!isAddress(s.Mat.Small) || !isAddress(s.Mat.Full)):
		return refuse(NotUnderstood, "A picture is named by the SHA-256 of its bytes, as the upload of a picture answers it.")
	case len(s.Setup) > MaxNote:
		return refuse(OutOfBounds, "The setup has %d bytes at most, not %d.", MaxNote, len(s.Setup)).with("most", MaxNote).with("asked", len(s.Setup))
	}
	return nil
}

func badTurn(turn int) *Refusal {
	return refuse(OutOfBounds, "One turn is 1 to %d degrees, not %d.", MaxOneTurn, turn).with("most", MaxOneTurn)
}

// pullIn moves what lies outside the table to its edge.
func (d *draft) pullIn() {
	for _, id := range d.table.PlaceIDs() {
		p := d.table.Places[id]
		if x, y := d.onTable(p.X, p.Y); (x != p.X || y != p.Y) && p.Kind != Cell {
			before, after := *p, *p
			before.Cards, after.Cards = nil, nil
			after.X, after.Y = x, y
			d.do(PutPlace{Before: &before, After: &after})
			d.recell(&after)
		}
	}
	for _, id := range d.pieceIDs() {
		p := d.table.Pieces[id]
		if x, y := d.onTable(p.X, p.Y); x != p.X || y != p.Y {
			after := *p
			after.X, after.Y = x, y
			d.do(PutPiece{Before: p, After: &after})
		}
	}
}

// Door says who may come in: it is for the host.
type Door struct {
	Locked     *bool `json:"locked,omitempty" doc:"Nobody new comes in, to sit or to watch."`
	Spectators *bool `json:"spectators,omitempty" doc:"Whether people may watch."`
}

func (a Door) plan(d *draft) *Refusal {
	before := d.table.Settings
	after := before
	set(&after.Locked, a.Locked)
	var said []string
	if a.Locked != nil {
		said = append(said, either(*a.Locked, "locks the room", "unlocks the room"))
	}
	if a.Spectators != nil {
		after.Spectators = either(*a.Spectators, "yes", "no")
		said = append(said, either(*a.Spectators, "lets people watch", "lets nobody watch"))
	}
	if len(said) == 0 {
		return refuse(NotUnderstood, "Say whether the room is locked, or whether people may watch.")
	}
	d.do(PutSettings{Before: before, After: after})
	d.tell("door", Worded{Text: strings.Join(said, ", ")})
	return nil
}

func either(is bool, one, other string) string {
	if is {
		return one
	}
	return other
}

// Keys gives the room's keys to another seat, which is then the host.
type Keys struct {
	Seat Seat `json:"seat"`
}

func (a Keys) plan(d *draft) *Refusal {
	chair, refusal := d.chair(a.Seat)
	if refusal != nil {
		return refusal
	}
	if chair.Name == "" {
		return refuse(NobodySits, "Nobody sits at seat %d.", a.Seat).with("seat", int(a.Seat))
	}
	d.host(a.Seat)
	d.tell("keys", ToSeat{To: &Spot{Owner: a.Seat, Whose: chair.Name}})
	return nil
}

// End ends the game: nothing is done at the table any more, and the seed of its
// chance is disclosed. It is for the host, and is not undone.
type End struct{}

func (a End) plan(d *draft) *Refusal {
	after := d.table.Settings
	after.Ended = true
	d.do(PutSettings{Before: d.table.Settings, After: after})
	d.tell("end", Wordless{})
	return nil
}

// ChangeSeat moves the actor to a free seat. What belongs to the seats stays with
// them.
type ChangeSeat struct {
	To Seat `json:"to"`
}

func (a ChangeSeat) plan(d *draft) *Refusal {
	from, refusal := d.chair(d.actor)
	if refusal != nil {
		return refusal
	}
	to, refusal := d.chair(a.To)
	if refusal != nil {
		return refusal
	}
	if to.Name != "" {
		return refuse(SeatTaken, "Seat %d is %s's; choose a free one.", a.To, to.Name).with("seat", int(a.To))
	}
	d.endTenure(d.actor)
	left, taken := *from, *to
	left.Name, left.Salt, left.Tenure = "", "", 0
	taken.Name, taken.Salt, taken.Tenure = from.Name, from.Salt, d.circumstances.Entry
	beforeLeft, beforeTaken := *from, *to
	d.do(PutChair{Before: &beforeLeft, After: &left})
	d.do(PutChair{Before: &beforeTaken, After: &taken})
	if d.table.Settings.Host == d.actor {
		d.host(a.To)
	}
	d.say(Deed{Actor: a.To, Who: taken.Name, Do: "change-seat", Of: AtSeat{Seat: a.To}})
	return nil
}

// Run says that the steps after it are those of a cue, or of the setup. What reads
// Steps puts it before them; alone it does nothing.
type Run struct {
	Cue PieceID `json:"cue,omitempty" doc:"The cue; the table's setup if left out."`
}

func (a Run) plan(d *draft) *Refusal {
	if a.Cue == "" {
		if strings.TrimSpace(d.table.Settings.Setup) == "" {
			return refuse(NotUnderstood, "This table has no setup.")
		}
		d.tell("run", OnPiece{})
		return nil
	}
	p, refusal := d.piece(a.Cue, Cue)
	if refusal != nil {
		return refusal
	}
	d.tell("run", OnPiece{Piece: p.Name})
	return nil
}
