package table

import (
	"maps"
	"reflect"
	"slices"
)

// EverythingHome brings the table to where a game begins: all decks lie at home, pieces
// are as they were laid, and looks and asks are ended. Nothing is shuffled.
type EverythingHome struct{}

func (a EverythingHome) plan(d *draft) *Refusal {
	for _, id := range slices.Sorted(maps.Keys(d.table.Looks)) {
		d.endLook(id)
	}
	for _, n := range slices.Sorted(maps.Keys(d.table.Asks)) {
		ask := d.table.Asks[n]
		d.do(PutAsk{Before: &ask})
	}
	if _, refusal := d.gather(gathering{decks: d.table.Decks}); refusal != nil {
		return refusal
	}
	d.piecesHome()
	d.tell(everythingHome, Wordless{})
	return nil
}

// piecesHome makes all pieces what they were laid as. Tokens that were taken off such a
// stack lie on it again; a piece of which it is not known stays as it is.
func (d *draft) piecesHome() {
	stacks := map[string]*Piece{}
	for _, laid := range d.table.Laid {
		if laid.Kind == Token {
			stacks[stackName(laid.Name)] = laid
		}
	}
	for _, id := range d.pieceIDs() {
		p := d.table.Pieces[id]
		if stack := stacks[stackName(p.Name)]; p.TakenOff() && stack != nil && slices.Equal(p.Faces, stack.Faces) {
			d.do(PutPiece{Before: p})
		}
	}
	for _, id := range slices.Sorted(maps.Keys(d.table.Laid)) {
		now, laid := d.table.Pieces[id], *d.table.Laid[id]
		if now == nil || !reflect.DeepEqual(*now, laid) {
			d.do(PutPiece{Before: now, After: &laid})
		}
	}
}
