package table

import (
	"maps"
	"slices"
	"strings"
)

// LayPiece lays a new piece, or changes one: what is left out stays as it is, or
// as a new piece of its kind has it. It is for whoever may arrange the table.
type LayPiece struct {
	Piece PieceID   `json:"piece,omitempty" doc:"The piece to change; a new one is laid if left out."`
	Like  PieceID   `json:"like,omitempty" doc:"Of a new piece: the piece that it is a copy of."`
	Kind  PieceKind `json:"kind,omitempty" enum:"counter,die,spinner,token,marker,timer,note,mat,cue" doc:"Of a new piece."`

	Name    *string    `json:"name,omitempty" maxLength:"40"`
	Locked  *bool      `json:"locked,omitempty" doc:"Not moved or removed until it is unlocked."`
	X       *float64   `json:"x,omitempty" doc:"Centre, millimetres from the table's left edge."`
	Y       *float64   `json:"y,omitempty"`
	Wide    *float64   `json:"wide,omitempty" doc:"Of a mat, a token or a note, in millimetres."`
	High    *float64   `json:"high,omitempty" doc:"Of a mat, in millimetres."`
	Turn    *int       `json:"turn,omitempty" doc:"Degrees clockwise."`
	Value   *int       `json:"value,omitempty" doc:"Of a counter."`
	Step    *int       `json:"step,omitempty" doc:"Of a counter."`
	Bounds  *Bounds    `json:"bounds,omitempty" doc:"Of a counter."`
	Sectors *[]Sector  `json:"sectors,omitempty" doc:"The faces of a die or the sectors of a spinner."`
	Faces   *[]Picture `json:"faces,omitempty" doc:"The one or two sides of a token, or the picture of a mat."`
	Count   *int       `json:"count,omitempty" doc:"Of a stack of tokens."`
	Seconds *int       `json:"seconds,omitempty" doc:"Of a timer."`
	Text    *string    `json:"text,omitempty" maxLength:"4000" doc:"Of a note, in Markdown; of a cue, its Steps."`
}

// Bounds of a counter; nil: none.
type Bounds struct {
	Least *int `json:"least,omitempty"`
	Most  *int `json:"most,omitempty"`
}

func (a LayPiece) plan(d *draft) *Refusal {
	before, after, refusal := d.begun(a)
	if refusal != nil {
		return refusal
	}
	parts := a.parts()
	if before != nil && len(parts) == 0 {
		return refuse(NotUnderstood, "Say what to change of %s.", before.Name)
	}
	if part := after.Kind.Lacks(parts); part != "" {
		return refuse(NotUnderstood, "A %s has no %s.", after.Kind, part)
	}
	a.change(after)
	if refusal := d.fitsPiece(after); refusal != nil {
		return refusal
	}
	if before == nil || before.Name != after.Name {
		if refusal := d.calledOnce(after); refusal != nil {
			return refusal
		}
	}
	d.do(PutPiece{Before: before, After: after})
	d.laid(a, after)
	what := "new"
	if before != nil {
		what = named(parts)
	}
	d.tell("lay-piece", Laid{Piece: after.Name, What: what})
	return nil
}

// laid changes how the piece was laid as the piece is changed: what was played with it
// since is no part of that.
func (d *draft) laid(a LayPiece, p *Piece) {
	before := d.table.Laid[p.ID]
	after := *p
	if before != nil {
		after = *before
		a.change(&after)
		after.X, after.Y = d.onTable(after.X, after.Y)
	}
	d.do(PutLaid{Before: before, After: &after})
}

// begun is the piece to change and its copy to change, or a new one to begin with.
func (d *draft) begun(a LayPiece) (before, after *Piece, refusal *Refusal) {
	if a.Piece != "" {
		before, refusal = d.piece(a.Piece, PieceKinds...)
		if refusal != nil {
			return nil, nil, refusal
		}
		moves := a.X != nil || a.Y != nil || a.Turn != nil || a.Wide != nil || a.High != nil
		if before.Locked && moves && (a.Locked == nil || *a.Locked) {
			return nil, nil, refuse(IsLocked, "%s is locked; unlock it first.", before.Name)
		}
		changed := *before
		return before, &changed, nil
	}
	if len(d.table.Pieces) >= MaxPieces {
		return nil, nil, refuse(TooMany, "A table holds %d pieces at most; remove one first.", MaxPieces).with("holds", MaxPieces)
	}
	if a.Like != "" {
		like, refusal := d.piece(a.Like, PieceKinds...)
		if refusal != nil {
			return nil, nil, refusal
		}
		copied := *like
		copied.ID, copied.Name, copied.Locked = PieceID(d.freeID("piece")), d.freeName(like.Name), false
		copied.X, copied.Y = like.X+15, like.Y+15
		return nil, &copied, nil
	}
	if !slices.Contains(PieceKinds, a.Kind) {
		return nil, nil, refuse(NotUnderstood, "There is no kind of piece called %q.", a.Kind)
	}
	fresh := Piece{ID: PieceID(d.freeID("piece")), Name: d.freeName(string(a.Kind)), Kind: a.Kind, X: d.table.Settings.Wide / 2, Y: d.table.Settings.High / 2}
	fresh.begin()
	return nil, &fresh, nil
}

// change sets what is given.
func (a LayPiece) change(p *Piece) {
	set(&p.Name, a.Name)
	set(&p.Locked, a.Locked)
	set(&p.X, a.X)
	set(&p.Y, a.Y)
	set(&p.Wide, a.Wide)
	set(&p.High, a.High)
	set(&p.Turn, a.Turn)
	set(&p.Value, a.Value)
	set(&p.Step, a.Step)
	set(&p.Count, a.Count)
	set(&p.Text, a.Text)
	if a.Bounds != nil {
		p.Least, p.Most = a.Bounds.Least, a.Bounds.Most
	}
	if a.Sectors != nil {
		p.Sectors, p.Up = *a.Sectors, 0
		p.Faces = p.Faces[:min(len(p.Faces), p.mostPictures())] // the pictures of faces that are gone go, too
	}
	if a.Faces != nil {
		if p.Faces = *a.Faces; len(p.Faces) < 2 && p.Kind == Token {
			p.Side = Front
		}
	}
	if a.Seconds != nil {
		p.Length, p.Left, p.Ends = int64(*a.Seconds)*1000, int64(*a.Seconds)*1000, 0
	}
	p.Name = strings.Join(strings.Fields(p.Name), " ")
}

// parts names what is given, for the log.
func (a LayPiece) parts() (all []PiecePart) {
	for _, c := range []struct {
		is   bool
		part PiecePart
	}{
		{a.Name != nil, PartName}, {a.X != nil || a.Y != nil, PartPlace}, {a.Wide != nil || a.High != nil, PartSize}, {a.Turn != nil, PartTurn},
		{a.Value != nil, PartValue}, {a.Step != nil, PartStep}, {a.Bounds != nil, PartBounds}, {a.Sectors != nil, PartFaces}, {a.Faces != nil, PartPicture},
		{a.Count != nil, PartCount}, {a.Seconds != nil, PartTime}, {a.Text != nil, PartText}, {a.Locked != nil, PartLock},
	} {
		if c.is {
			all = append(all, c.part)
		}
	}
	return all
}

// fitsPiece lays a piece within the table, and refuses one that no table can have.
func (d *draft) fitsPiece(p *Piece) *Refusal {
	p.X, p.Y = d.onTable(p.X, p.Y)
	return p.Fits()
}

// calledOnce refuses a name that another piece has.
func (d *draft) calledOnce(p *Piece) *Refusal {
	for _, other := range d.table.Pieces {
		if other.ID != p.ID && strings.EqualFold(other.Name, p.Name) {
			return refuse(OutOfBounds, "There is a %s called %s already; choose another name.", other.Kind, other.Name)
		}
	}
	return nil
}

// pieceIDs lists all pieces in a stable order.
func (d *draft) pieceIDs() []PieceID { return slices.Sorted(maps.Keys(d.table.Pieces)) }

// isAddress reports whether a text is a SHA-256 in hexadecimal.
func isAddress(text string) bool {
	return len(text) == 64 && strings.Trim(text, "0123456789abcdef") == ""
}
