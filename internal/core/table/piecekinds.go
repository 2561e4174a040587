package table

import (
	"slices"
	"strings"
)

// A kind of piece is declared here: its row says what of it can be changed beside what all pieces have, what kit.yaml must say, what
// a new one is like, and what no table can have. kit.yaml and its schema, laying, keeping and the inspector follow.
type pieceRules struct {
	has      []PiecePart
	needs    []PiecePart // of has: what a kit must say
	fresh    func(*Piece)
	fits     func(*Piece) *Refusal
	pictures func(*Piece) int // how many it has at most, if it has any
}

// PiecePart is something of a piece that can be given or changed.
type PiecePart string

// The parts of pieces, as the log names them.
const (
	PartName    PiecePart = "name"
	PartPlace   PiecePart = "place"
	PartTurn    PiecePart = "turn"
	PartLock    PiecePart = "lock"
	PartValue   PiecePart = "value"
	PartStep    PiecePart = "step"
	PartBounds  PiecePart = "bounds"
	PartFaces   PiecePart = "faces" // of a die, or the sectors of a spinner
	PartPicture PiecePart = "picture"
	PartSize    PiecePart = "size"
	PartCount   PiecePart = "count" // of a stack
	PartTime    PiecePart = "time"
	PartText    PiecePart = "text"
)

// partsOfAll are what every piece has.
var partsOfAll = []PiecePart{PartName, PartPlace, PartTurn, PartLock}

// pieceRulesOf has a row for each of PieceKinds.
var pieceRulesOf = map[PieceKind]pieceRules{
	Counter:  {has: []PiecePart{PartValue, PartStep, PartBounds}},
	Die:      {has: []PiecePart{PartFaces, PartPicture}, needs: []PiecePart{PartFaces}, fresh: countedTo(6), fits: facesEnough, pictures: oneAFace},
	Spinner:  {has: []PiecePart{PartFaces}, needs: []PiecePart{PartFaces}, fresh: sectors("one", "two", "three"), fits: facesEnough},
	Token:    {has: []PiecePart{PartFaces, PartPicture, PartCount, PartSize}, fresh: func(p *Piece) { p.Side = Front }, fits: twoFaces, pictures: atMost(2)},
	SeatMark: {},
	Timer:    {has: []PiecePart{PartTime}, needs: []PiecePart{PartTime}, fresh: func(p *Piece) { p.Length, p.Left = 60_000, 60_000 }, fits: timeEnough},
	Note:     {has: []PiecePart{PartText, PartSize}, fresh: func(p *Piece) { p.Text = "A new note." }},
	Mat:      {has: []PiecePart{PartPicture, PartSize}, needs: []PiecePart{PartSize}, fresh: func(p *Piece) { p.Wide, p.High = 200, 150 }, fits: twoSides, pictures: atMost(1)},
	Cue:      {has: []PiecePart{PartText}, needs: []PiecePart{PartText}},
}

// Parts are what can be changed of pieces of a kind, beside what all have.
func (k PieceKind) Parts() []PiecePart { return pieceRulesOf[k].has }

// Needs are the parts that a kit must say of pieces of a kind.
func (k PieceKind) Needs() []PiecePart { return pieceRulesOf[k].needs }

// Lacks finds a part that pieces of a kind do not have; empty if there is none.
func (k PieceKind) Lacks(parts []PiecePart) PiecePart {
	for _, part := range parts {
		if !slices.Contains(partsOfAll, part) && !slices.Contains(k.Parts(), part) {
			return part
		}
	}
	return ""
}

// begin makes a piece what a new one of its kind is.
func (p *Piece) begin() {
	if fresh := pieceRulesOf[p.Kind].fresh; fresh != nil {
		fresh(p)
	}
}

// Fits refuses a piece that no table can have, wherever it lies.
func (p *Piece) Fits() *Refusal {
	rules := pieceRulesOf[p.Kind]
	switch {
	case !GoodLabel(p.Name):
		return badLabel()
	case p.Turn < 0 || p.Turn > MaxTurn:
		return refuse(OutOfBounds, "A turn is 0 to %d degrees, not %d.", MaxTurn, p.Turn).with("most", MaxTurn)
	case p.Least != nil && p.Most != nil && *p.Least > *p.Most || p.Least != nil && p.Value < *p.Least || p.Most != nil && p.Value > *p.Most:
		return refuse(OutOfBounds, "The value of %s, %d, must lie between its bounds.", p.Name, p.Value).with("value", p.Value)
	case p.Count < 0 || p.Count > MaxStack:
		return refuse(OutOfBounds, "A stack holds 1 to %d tokens, not %d.", MaxStack, p.Count).with("holds", MaxStack)
	case len(p.Text) > MaxNote:
		return refuse(OutOfBounds, "A text has %d bytes at most, not %d.", MaxNote, len(p.Text)).with("most", MaxNote).with("asked", len(p.Text))
	}
	if p.Wide != 0 {
		if refusal := inBounds(p.Name, p.Wide); refusal != nil {
			return refusal
		}
	}
	for _, s := range p.Sectors {
		if !GoodLabel(s.Name) || s.Weight < 0 || s.Weight > MaxWeight {
			return refuse(OutOfBounds, "A face has a name of 1 to %d letters and a weight of 1 to %d.", MaxLabel, MaxWeight).with("most", MaxWeight)
		}
	}
	if refusal := p.picturesFit(); refusal != nil || rules.fits == nil {
		return refusal
	}
	return rules.fits(p)
}

// mostPictures is how many pictures a piece may have, as it is now.
func (p *Piece) mostPictures() int {
	if pictures := pieceRulesOf[p.Kind].pictures; pictures != nil {
		return pictures(p)
	}
	return 0
}

func (p *Piece) picturesFit() *Refusal {
	if most := p.mostPictures(); len(p.Faces) > most {
		return refuse(OutOfBounds, "%s has %d pictures; a %s has at most %d.", p.Name, len(p.Faces), p.Kind, most).with("most", most)
	}
	for _, face := range p.Faces {
		if face != (Picture{}) && (!isAddress(face.Small) || !isAddress(face.Full)) {
			return refuse(NotUnderstood, "A picture is named by the SHA-256 of its bytes, as the upload of a picture answers it.")
		}
	}
	return nil
}

// oneAFace is as many pictures as there are faces, in their order.
func oneAFace(p *Piece) int { return len(p.Sectors) }

func atMost(n int) func(*Piece) int { return func(*Piece) int { return n } }

// countedTo are faces with numbers from 1.
func countedTo(n int) func(*Piece) {
	names := make([]string, n)
	for i := range names {
		names[i] = itoa(i + 1)
	}
	return sectors(names...)
}

func sectors(names ...string) func(*Piece) {
	return func(p *Piece) {
		for _, name := range names {
			p.Sectors = append(p.Sectors, Sector{Name: name})
		}
	}
}

// facesEnough refuses a die or spinner without faces to come up.
func facesEnough(p *Piece) *Refusal {
	if len(p.Sectors) < 2 || len(p.Sectors) > MaxSectors {
		return refuse(OutOfBounds, "%s needs 2 to %d faces, not %d.", p.Name, MaxSectors, len(p.Sectors)).with("most", MaxSectors)
	}
	return nil
}

// twoFaces refuses more words than a token has sides.
func twoFaces(p *Piece) *Refusal {
	if len(p.Sectors) > 2 {
		return refuse(OutOfBounds, "%s has one or two sides, not %d.", p.Name, len(p.Sectors)).with("most", 2)
	}
	return nil
}

func timeEnough(p *Piece) *Refusal {
	if p.Length < 1000 || p.Length > MaxSeconds*1000 {
		return refuse(OutOfBounds, "A timer runs 1 to %d seconds.", MaxSeconds).with("most", MaxSeconds)
	}
	return nil
}

func twoSides(p *Piece) *Refusal { return inBounds(p.Name, p.Wide, p.High) }

// named are parts in a row, for the log.
func named(parts []PiecePart) string {
	words := make([]string, len(parts))
	for i, part := range parts {
		words[i] = string(part)
	}
	return strings.Join(words, ", ")
}
