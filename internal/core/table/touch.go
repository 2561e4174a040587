package table

import "cmp"

// Touch is what an edit is on.
type Touch struct {
	Places  []PlaceID // that change, or whose cards do; a card that only lies otherwise has none
	Cards   []CardID  // that are moved, ordered or turned
	Moves   bool      // the cards go from the first of the places to the second
	Ordered bool      // the cards of the place are in another order
	Laid    bool      // the place itself is laid otherwise, is new or is gone
	Relaid  bool      // and other eyes see into it
	Turned  bool      // the cards lie otherwise where they are
	Looks   []Look    // that begin or end
	Shown   CardID    // a card of a hand that is shown, or was
	ShownTo Audience  // to them
	Gone    []CardID  // that are there no more

	Piece    PieceID
	Marker   bool
	Settings bool
	Decks    bool
	Deck     string // whose cards may look otherwise
	Asks     bool
	Chairs   bool
	Undo     Undoing

	// Weight is about how many bytes the edit takes in the journal. It depends on counts
	// and on what everybody sees only.
	Weight int
}

// TouchOf is what an edit touches of a table that it is folded into.
func TouchOf(e Edit, t *Table) Touch { return e.touches(t) }

// Undoing is what becomes of an edit when its action is undone.
type Undoing int

// What becomes of edits. Names that were used stay used, and so does chance; looks and
// asks that were ended stay so; and who sits where is not for undo.
const (
	IsTakenBack Undoing = iota
	Stays
	IsSpent // it stays, and is nothing that one would undo
	StaysEnded
	IsFinal
)

// lightWeight is that of an edit of a few numbers and names.
const lightWeight = 120

func (e PutPlace) touches(*Table) Touch {
	relaid := e.Before != nil && e.After != nil && (e.Before.Sight != e.After.Sight || e.Before.Owner != e.After.Owner || e.Before.Kind != e.After.Kind)
	return Touch{Places: []PlaceID{cmp.Or(e.Before, e.After).ID}, Laid: true, Relaid: relaid, Weight: 600}
}

func (e Mint) touches(*Table) Touch {
	touch := Touch{Places: []PlaceID{e.Place}, Laid: true, Undo: IsFinal, Weight: lightWeight}
	if e.Gone {
		for _, m := range e.Cards {
			touch.Gone = append(touch.Gone, m.ID)
		}
	}
	return touch
}

func (e Splice) touches(*Table) Touch {
	return Touch{Places: []PlaceID{e.From, e.To}, Cards: e.Cards, Moves: true, Weight: 100 + 8*len(e.Cards)}
}

func (e Order) touches(t *Table) Touch {
	touch := Touch{Places: []PlaceID{e.Place}, Ordered: true, Weight: 60 + 6*len(e.Former)}
	if p := t.Places[e.Place]; p != nil {
		touch.Cards = p.Cards
	}
	return touch
}

func (e SetLie) touches(*Table) Touch {
	return Touch{Cards: []CardID{e.Card}, Turned: e.Before != e.After, Weight: lightWeight}
}

func (e PutPiece) touches(*Table) Touch {
	return Touch{Piece: cmp.Or(e.Before, e.After).ID, Weight: 100 + weightOfPiece(e.Before) + weightOfPiece(e.After)}
}

func (e PutLaid) touches(*Table) Touch {
	return Touch{Weight: 100 + weightOfPiece(e.Before) + weightOfPiece(e.After)}
}

func (e PutMarker) touches(*Table) Touch { return Touch{Marker: true, Weight: lightWeight} }

func (e PutSettings) touches(*Table) Touch {
	undo := IsTakenBack // how the table is laid; who has the keys is not for undo
	if e.Before.Host != e.After.Host || e.Before.Locked != e.After.Locked || e.Before.Spectators != e.After.Spectators || e.Before.Ended != e.After.Ended {
		undo = IsFinal
	}
	return Touch{Settings: true, Undo: undo, Weight: 400 + len(e.Before.Setup) + len(e.After.Setup)}
}

func (e PutLook) touches(*Table) Touch {
	var looks []Look
	for _, look := range []*Look{e.Before, e.After} {
		if look != nil {
			looks = append(looks, *look)
		}
	}
	return Touch{Looks: looks, Undo: StaysEnded, Weight: 100 + 8*(looksAt(e.Before)+looksAt(e.After))}
}

func (e PutDeck) touches(*Table) Touch {
	touch := Touch{Decks: true, Undo: IsFinal, Weight: lightWeight}
	if e.Before != nil {
		touch.Deck = e.Before.Key
	}
	return touch
}

func (e SetLeaving) touches(*Table) Touch {
	return Touch{Cards: []CardID{e.Card}, Turned: true, Undo: IsFinal, Weight: lightWeight}
}

func (e PutChair) touches(*Table) Touch {
	return Touch{Chairs: true, Undo: IsFinal, Weight: lightWeight}
}
func (e PutAsk) touches(*Table) Touch {
	return Touch{Asks: true, Undo: StaysEnded, Weight: lightWeight}
}
func (e Show) touches(*Table) Touch {
	return Touch{Shown: e.Card, ShownTo: e.Before | e.After, Weight: lightWeight}
}
func (e Count) touches(*Table) Touch { return Touch{Undo: Stays, Weight: lightWeight} }
func (e Drew) touches(*Table) Touch  { return Touch{Undo: IsSpent, Weight: lightWeight} }
func (e Undid) touches(*Table) Touch { return Touch{Undo: Stays, Weight: lightWeight} }

func looksAt(look *Look) int {
	if look == nil {
		return 0
	}
	return len(look.Cards)
}

func weightOfPiece(p *Piece) int {
	if p == nil {
		return 0
	}
	weight := 200 + len(p.Name) + len(p.Text) + 150*len(p.Faces)
	for _, s := range p.Sectors {
		weight += 30 + len(s.Name)
	}
	return weight
}
