package table

import "slices"

// pieceRules is what is particular to one kind of piece: what a new one is like, what no
// table can have, and what of it can be changed beside what all pieces have.
type pieceRules struct {
	fresh func(*Piece)
	fits  func(*Piece) *Refusal
	has   []string // parts, as LayPiece.parts names them
}

// partsOfAll are what every piece has.
var partsOfAll = []string{"name", "place", "turn", "picture", "lock"}

// lacks finds a part that pieces of a kind do not have; empty if there is none.
func (k PieceKind) lacks(parts []string) string {
	for _, part := range parts {
		if !slices.Contains(partsOfAll, part) && !slices.Contains(pieceRulesOf[k].has, part) {
			return part
		}
	}
	return ""
}

// pieceRulesOf has a row for each of PieceKinds.
var pieceRulesOf = map[PieceKind]pieceRules{
	Counter:  {fresh: plain, fits: picturesUpTo(2), has: []string{"value", "step", "bounds"}},
	SeatMark: {fresh: plain, fits: picturesUpTo(2)},
	Cue:      {fresh: plain, fits: picturesUpTo(2), has: []string{"text"}},
	Token:    {fresh: func(p *Piece) { p.Side = Front }, fits: picturesUpTo(2), has: []string{"size", "count"}},
	Note:     {fresh: func(p *Piece) { p.Text = "A new note." }, fits: picturesUpTo(2), has: []string{"size", "text"}},
	Die: {
		fresh: func(p *Piece) {
			for n := 1; n <= 6; n++ {
				p.Sectors = append(p.Sectors, Sector{Name: itoa(n)})
			}
		},
		fits: facesEnough,
		has:  []string{"faces"},
	},
	Spinner: {
		fresh: func(p *Piece) { p.Sectors = []Sector{{Name: "one"}, {Name: "two"}, {Name: "three"}} },
		fits:  facesEnough,
		has:   []string{"faces"},
	},
	Timer: {
		fresh: func(p *Piece) { p.Length, p.Left = 60_000, 60_000 },
		fits: func(p *Piece) *Refusal {
			if p.Length < 1000 || p.Length > MaxSeconds*1000 {
				return refuse(OutOfBounds, "A timer runs 1 to %d seconds.", MaxSeconds).with("most", MaxSeconds)
			}
			return picturesUpTo(2)(p)
		},
		has: []string{"time"},
	},
	Mat: {
		fresh: func(p *Piece) { p.Wide, p.High = 200, 150 },
		fits: func(p *Piece) *Refusal {
			for _, side := range []float64{p.Wide, p.High} {
				if refusal := inBounds(p.Name, side); refusal != nil {
					return refusal
				}
			}
			return picturesUpTo(1)(p)
		},
		has: []string{"size"},
	},
}

func plain(*Piece) {}

// facesEnough refuses a die or spinner without faces to come up.
func facesEnough(p *Piece) *Refusal {
	if len(p.Sectors) < 2 || len(p.Sectors) > MaxSectors {
		return refuse(OutOfBounds, "%s needs 2 to %d faces, not %d.", p.Name, MaxSectors, len(p.Sectors)).with("most", MaxSectors)
	}
	return picturesUpTo(2)(p)
}

// picturesUpTo refuses more pictures than a piece has sides.
func picturesUpTo(most int) func(*Piece) *Refusal {
	return func(p *Piece) *Refusal {
		if len(p.Faces) > most {
			return refuse(OutOfBounds, "A token has one or two pictures, and a mat one.").with("most", 2)
		}
		return nil
	}
}
