package steps

import (
	"regexp"
	"slices"
	"strings"

	"damselfly.example/damselfly/internal/core/table"
)

// Known are the names at a table that a line of Steps may speak of, as one seat knows them.
type Known struct {
	Own     []string     `json:"own"`    // places of the seat's own, such as its hand
	Places  []string     `json:"places"` // all others
	Pieces  []KnownPiece `json:"pieces"`
	Players []string     `json:"players"`
	Others  []string     `json:"others"` // decks, and the cards that it sees
}

// KnownPiece is a piece that a line may speak of.
type KnownPiece struct {
	Name string          `json:"name"`
	Kind table.PieceKind `json:"kind"`
}

// PiecesAfter are the kinds of pieces that follow a verb, where nothing else does.
var PiecesAfter = map[string][]table.PieceKind{
	"run": {table.Cue}, "roll": {table.Die, table.Spinner}, "spin": {table.Spinner, table.Die}, "set": {table.Counter}, "hand": {table.SeatMark},
	"start": {table.Timer}, "stop": {table.Timer}, "reset": {table.Timer},
}

// Before are words after which only a place comes, and some words that lead to one.
var Before = []string{"from", "to", "into", "onto", "over", "under"}

// Between are words that stand between names.
var Between = []string{"from", "to", "onto", "under", "of", "over", "by", "at", "where", "my hand", "my", "every hand", "seat", "face up", "face down", "felt", "all of", "up to", "by chance"}

var lastWord = regexp.MustCompile(`("[^"]*|\S*)$`)

// Complete tells how a line that is being written might go on: whole lines, of which only the last word differs. A verb comes first,
// then mostly names; those that fit best stand first.
func Complete(line string, known Known) []string {
	at := lastWord.FindStringIndex(line)[0]
	before, begun := line[:at], strings.ToLower(strings.TrimPrefix(line[at:], `"`))
	var ways []string
	offered := map[string]bool{}
	for _, word := range mayFollow(strings.Fields(strings.ToLower(before)), known) {
		way := before + word
		if name := strings.ToLower(strings.Trim(word, `"`)); name != strings.TrimSuffix(begun, `"`) && strings.HasPrefix(name, begun) && !offered[way] {
			offered[way] = true
			ways = append(ways, way)
		}
	}
	return ways
}

// mayFollow are the words that may follow others.
func mayFollow(before []string, known Known) []string {
	if len(before) == 0 {
		return Verbs()
	}
	last := before[len(before)-1]
	kinds, ofPieces := PiecesAfter[last]
	var pieces []string
	for _, p := range known.Pieces {
		if !ofPieces || slices.Contains(kinds, p.Kind) {
			pieces = append(pieces, p.Name)
		}
	}
	own := slices.DeleteFunc(slices.Clone(known.Own), func(name string) bool { return name == "hand" }) // it is spoken of as "my hand"
	switch {
	case last == "run":
		return append(quoted(pieces), "setup")
	case ofPieces:
		return quoted(pieces)
	case last == "my":
		return append(quoted(own), "hand")
	case slices.Contains(Before, last):
		return append(quoted(known.Places), "my hand", "my", "every hand", "seat")
	case last == "of":
		return append(quoted(slices.Concat(known.Players, known.Places)), "my hand", "my", "seat")
	}
	return append(quoted(slices.Concat(own, known.Places, pieces, known.Players, known.Others)), Between...)
}

// quoted are names as they stand in a step, without those that are empty.
func quoted(names []string) []string {
	var written []string
	for _, name := range names {
		if name != "" {
			written = append(written, Quote(name))
		}
	}
	return written
}
