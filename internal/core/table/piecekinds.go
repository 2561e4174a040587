package table

// pieceRules is what is particular to one kind of piece: what a new one is like, and what
// no table can have.
type pieceRules struct {
	fresh func(*Piece)
	fits  func(*Piece) *Refusal
}

// pieceRulesOf has a row for each of PieceKinds.
var pieceRulesOf = map[PieceKind]pieceRules{
	Counter:  {fresh: plain, fits: picturesUpTo(2)},
	SeatMark: {fresh: plain, fits: picturesUpTo(2)},
	Cue:      {fresh: plain, fits: picturesUpTo(2)},
	Token:    {fresh: func(p *Piece) { p.Side = Front }, fits: picturesUpTo(2)},
	Note:     {fresh: func(p *Piece) { p.Text = "A new note." }, fits: picturesUpTo(2)},
	Die: {
		fresh: func(p *Piece) {
			for n := 1; n <= 6; n++ {
				p.Sectors = append(p.Sectors, Sector{Name: itoa(n)})
			}
		},
		fits: facesEnough,
	},
	Spinner: {
		fresh: func(p *Piece) { p.Sectors = []Sector{{Name: "one"}, {Name: "two"}, {Name: "three"}} },
		fits:  facesEnough,
	},
	Timer: {
		fresh: func(p *Piece) { p.Length, p.Left = 60_000, 60_000 },
		fits: func(p *Piece) *Refusal {
			if p.Length < 1000 || p.Length > MaxSeconds*1000 {
				return refuse(OutOfBounds, "A timer runs 1 to %d seconds.", MaxSeconds).with("most", MaxSeconds)
			}
			return picturesUpTo(2)(p)
		},
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
