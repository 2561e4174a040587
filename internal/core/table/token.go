package table

import (
	"slices"
	"strings"
)

// MovePiece moves a piece, turns a token over, or takes some tokens off their stack.
type MovePiece struct {
	Piece PieceID  `json:"piece"`
	X     *float64 `json:"x,omitempty" doc:"Millimetres from the table's left edge."`
	Y     *float64 `json:"y,omitempty" doc:"Millimetres from the table's upper edge."`
	Flip  bool     `json:"flip,omitempty" doc:"Turn a token over."`
	Count int      `json:"count,omitempty" minimum:"0" doc:"Of a stack of tokens: how many of it; all if left out."`
}

func (a MovePiece) plan(d *draft) *Refusal {
	p, refusal := d.piece(a.Piece, PieceKinds...)
	if refusal == nil && p.Locked {
		refusal = refuse(IsLocked, "%s is locked.", p.Name)
	}
	if refusal == nil {
		p, refusal = d.taken(p, a.Count)
	}
	if refusal != nil {
		return refusal
	}
	after := *p
	if a.X != nil && a.Y != nil {
		after.X, after.Y = min(max(*a.X, 0), d.table.Settings.Wide), min(max(*a.Y, 0), d.table.Settings.High)
	}
	if a.Flip {
		if p.Kind != Token || p.sides() < 2 {
			return refuse(WrongPiece, "%s has one side only.", p.Name)
		}
		after.Side = p.Side.Other()
	}
	d.do(PutPiece{Before: p, After: &after})
	d.tell("move-piece", PieceMoved{Count: a.Count, Piece: p.Name, At: []float64{after.X, after.Y}})
	return nil
}

// sides is how many faces of a piece show something.
func (p *Piece) sides() int { return max(len(p.Faces), len(p.Sectors)) }

// Stack lays a token, or some of a stack of them, on a like one.
type Stack struct {
	Piece PieceID `json:"piece" doc:"The token, or stack of tokens."`
	Onto  PieceID `json:"onto" doc:"The token, or stack of tokens, that they are laid on."`
	Count int     `json:"count,omitempty" minimum:"0" doc:"How many of the stack; all if left out."`
}

func (a Stack) plan(d *draft) *Refusal {
	p, refusal := d.piece(a.Piece, Token)
	if refusal != nil {
		return refusal
	}
	if p.Locked {
		return refuse(IsLocked, "%s is locked.", p.Name)
	}
	onto, refusal := d.piece(a.Onto, Token)
	if refusal != nil {
		return refusal
	}
	if p.ID == onto.ID || !slices.Equal(p.Faces, onto.Faces) || len(p.Faces) == 0 && stackName(p.Name) != stackName(onto.Name) {
		return refuse(WrongPiece, "%s cannot lie on %s; only like tokens make a stack.", p.Name, onto.Name)
	}
	coming := a.Count
	if coming == 0 {
		coming = p.stack()
	}
	if refusal := tooSmall(p, coming); refusal != nil {
		return refusal
	}
	grown := *onto
	if grown.Count = onto.stack() + coming; grown.Count > MaxStack {
		return refuse(TooMany, "A stack holds %d tokens at most.", MaxStack).with("holds", MaxStack).with("coming", coming)
	}
	if left := p.stack() - coming; left > 0 {
		rest := *p
		rest.Count = left
		d.do(PutPiece{Before: p, After: &rest})
	} else {
		d.do(PutPiece{Before: p})
	}
	d.do(PutPiece{Before: onto, After: &grown})
	d.tell("stack", PieceMoved{Count: a.Count, Piece: p.Name, Onto: onto.Name})
	return nil
}

// takenOff begins the ids of tokens that were taken off a stack.
const takenOff = "token/"

// TakenOff reports whether a piece is some of a stack of tokens, taken off it.
func (p *Piece) TakenOff() bool { return strings.HasPrefix(string(p.ID), takenOff) }

// stack is how many tokens lie on each other here.
func (p *Piece) stack() int { return max(p.Count, 1) }

func tooSmall(p *Piece, count int) *Refusal {
	if count > p.stack() {
		return refuse(TooFew, "%s has %s, you asked for %d.", p.Name, counted(p.stack(), "token"), count).with("has", p.stack()).with("asked", count)
	}
	return nil
}

// taken is a piece, or so many tokens taken off their stack: a piece of its own
// with the stack's name and the next free number.
func (d *draft) taken(p *Piece, count int) (*Piece, *Refusal) {
	if count == 0 || p.Kind == Token && count == p.stack() {
		return p, nil
	}
	if p.Kind != Token {
		return nil, refuse(WrongPiece, "%s is a %s, and no stack of tokens.", p.Name, p.Kind)
	}
	if refusal := tooSmall(p, count); refusal != nil {
		return nil, refusal
	}
	if len(d.table.Pieces) >= MaxPieces {
		return nil, refuse(TooMany, "A table holds %d pieces at most; stack some tokens first.", MaxPieces).with("holds", MaxPieces)
	}
	made := d.table.Made + 1
	d.do(Count{Before: d.table.Made, After: made})
	rest, off := *p, *p
	rest.Count -= count
	off.ID, off.Name, off.Count = PieceID(takenOff+itoa(int(made))), d.freeName(p.Name), count
	d.do(PutPiece{Before: p, After: &rest})
	d.do(PutPiece{After: &off})
	return d.table.Pieces[off.ID], nil
}

// freeName is a name with the first number that no piece carries: coin, coin 2, coin 3.
func (d *draft) freeName(like string) string {
	used := map[string]bool{}
	for _, p := range d.table.Pieces {
		used[p.Name] = true
	}
	return numbered(like, used)
}

// numbered is a name with the first number from 2 that makes it a new one.
func numbered(like string, used map[string]bool) string {
	for n := 2; ; n++ {
		if name := stackName(like) + " " + itoa(n); !used[name] {
			return name
		}
	}
}

// stackName is the name of a token without the number that taking it off gave it.
func stackName(name string) string {
	if i := strings.LastIndexByte(name, ' '); i > 0 && strings.Trim(name[i+1:], "0123456789") == "" {
		return name[:i]
	}
	return name
}
