package sight

import (
	"crypto/sha256"
	"encoding/base32"
	"fmt"
	"strings"

	"damselfly.example/damselfly/internal/core/table"
)

// Word names a face: the same for all viewers while a room lives, and saying nothing
// by itself.
type Word string

// Face is what shows of a card: its front with all that its design says, or its back, or
// the veil of cards that may not be told apart.
type Face struct {
	Deck    string            `json:"deck"`
	Side    table.Side        `json:"side" enum:"front,back" doc:"The side that you see."`
	Key     string            `json:"key,omitempty" doc:"Of a front: its design's key in the deck."`
	Name    string            `json:"name,omitempty" doc:"Of a front."`
	Fields  map[string]string `json:"fields,omitempty" doc:"Of a front: what its design says to filter and sort by."`
	Leaving bool              `json:"leaving,omitempty" doc:"Of a front: the kit has this card no more. It leaves once everybody sees it."`
	Picture PictureName       `json:"picture" doc:"Its picture is at /pictures/NAME/full, and smaller at /pictures/NAME/small."`
}

// Faces are what cards show, by the words that name it.
type Faces map[Word]Face

// shown is what tells faces apart: fronts by their design, all others by how they look.
type shown struct {
	deck, design, picture string
	revision              int
	leaving               bool
}

// wordLetters is how long words are; where two would be the same one is longer.
const wordLetters = 6

// words are those of the faces that were ever shown.
type words struct {
	key   [32]byte
	of    map[shown]Word
	taken map[Word]bool
}

// word is the name of a face. It is made with the key, so that nothing follows from it.
func (w *words) word(is shown) Word {
	word, known := w.of[is]
	if known {
		return word
	}
	sum := sha256.Sum256([]byte(string(w.key[:]) + "face\x00" + is.deck + "\x00" + is.design + "\x00" + is.picture + fmt.Sprint("\x00", is.revision, is.leaving)))
	text := strings.ToLower(base32.StdEncoding.EncodeToString(sum[:]))
	for n := wordLetters; ; n++ {
		word = Word(text[:n])
		if !w.taken[word] {
			break
		}
	}
	w.of[is], w.taken[word] = word, true
	return word
}

// Of are the faces that places show.
func (f Faces) Of(places ...Place) Faces {
	some := Faces{}
	for _, p := range places {
		for _, c := range p.Cards {
			some[c.Face] = f[c.Face]
		}
		for _, v := range p.Veils {
			some[v.Face] = f[v.Face]
		}
	}
	return some
}

// untold gathers the faces that a viewer was not told before.
type untold struct {
	knows [2]map[Word]bool // what everyone was told, and what they were beside
	faces Faces
}

// with adds a face.
func (f Faces) with(word Word, face Face) Faces {
	if f == nil {
		f = Faces{}
	}
	f[word] = face
	return f
}

func (t *untold) knew(word Word) bool {
	if t.knows[0][word] || t.knows[1][word] {
		return true
	}
	_, added := t.faces[word]
	return added
}

// front names the front of a design, of a card that may be leaving.
func (g *Gate) front(deck string, design table.Design, leaving bool, to *untold) Word {
	is := shown{deck: deck, design: design.Key, revision: design.Revision, leaving: leaving}
	word := g.words.word(is)
	if !to.knew(word) {
		to.faces = to.faces.with(word, Face{
			Deck: deck, Side: table.Front, Key: design.Key, Name: design.Name, Fields: design.Fields, Leaving: leaving, Picture: g.pictures.Of(design.Front),
		})
	}
	return word
}

// outside names a back, or a veil.
func (g *Gate) outside(deck string, picture table.Picture, to *untold) Word {
	is := shown{deck: deck, picture: picture.Full}
	word := g.words.word(is)
	if !to.knew(word) {
		to.faces = to.faces.with(word, Face{Deck: deck, Side: table.Back, Picture: g.pictures.Of(picture)})
	}
	return word
}
