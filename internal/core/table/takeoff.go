package table

// TakeOff takes a zone or a piece off the table. It is for whoever may arrange it.
type TakeOff struct {
	Zone  PlaceID `json:"zone,omitempty"`
	Piece PieceID `json:"piece,omitempty"`
	Cards string  `json:"cards,omitempty" enum:"felt" doc:"What becomes of a zone's cards; with felt they stay there as a pile, face down unless they lay in view. Left out, a zone with cards is not taken off."`
}

func (a TakeOff) plan(d *draft) *Refusal {
	if a.Piece != "" {
		p, refusal := d.piece(a.Piece, PieceKinds...)
		if refusal == nil && p.Locked {
			refusal = refuse(IsLocked, "%s is locked; unlock it first.", p.Name)
		}
		if refusal != nil {
			return refusal
		}
		d.do(PutPiece{Before: p})
		if laid := d.table.Laid[p.ID]; laid != nil {
			d.do(PutLaid{Before: laid})
		}
		d.tell("take-off", TakenOff{Piece: p.Name})
		return nil
	}
	p := d.table.Places[a.Zone]
	if p == nil || p.Kind.Passing() {
		return refuse(NoSuchPlace, "There is no zone %q on this table%s", a.Zone, meantBy(string(a.Zone), d.table.zoneIDs()))
	}
	if p.Locked {
		return refuse(IsLocked, "%s is locked; unlock it first.", p.Name)
	}
	if deck := d.homeOf(p.ID); deck != nil {
		return refuse(OutOfBounds, "%s is the home of %s, so it stays on the table.", p.Name, deck.Name)
	}
	if p.Kind == Grid && len(d.cells(p.ID)) > 0 {
		return refuse(TooMany, "%s has cards on its cells; collect them first.", p.Name)
	}
	if refusal := d.unlooked(p); refusal != nil {
		return refusal
	}
	if refusal := d.theirs(p); refusal != nil {
		return refusal
	}
	if d.count(p) > 0 {
		if a.Cards != "felt" {
			return refuse(TooMany, "%s holds %s; move them away first, or leave them on the felt.", p.Name, counted(len(p.Cards), "card")).with("cards", len(p.Cards))
		}
		if refusal := d.ontoFelt(p); refusal != nil {
			return refusal
		}
	}
	d.endLook(p.ID)
	d.dropAsks(p.ID)
	gone := *p
	gone.Cards = nil
	spot := d.spot(p)
	d.do(PutPlace{Before: &gone})
	d.tell("take-off", TakenOff{Zone: spot})
	return nil
}

// ontoFelt lays the cards of a zone on the felt where it lies. What was not in
// view lies face down there.
func (d *draft) ontoFelt(p *Place) *Refusal {
	if p.Sight != Open {
		if refusal := (Flip{Pick: Pick{From: p.ID, Which: Every}, Side: Back}).plan(d); refusal != nil {
			return refusal
		}
	}
	x, y := p.X, p.Y
	return Move{Pick: Pick{From: p.ID, Which: Every}, To: Target{X: &x, Y: &y}}.plan(d)
}
