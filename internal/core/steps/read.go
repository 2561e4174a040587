package steps

import (
	"fmt"
	"strconv"
	"strings"
	"unicode/utf8"

	"damselfly/internal/core/table"
)

// maxText bounds a text of Steps, in bytes.
const maxText = 64 << 10

// Read turns a text into one action for an actor at a table. Names are looked
// up on that table as it is.
func Read(text string, t *table.Table, actor table.Seat) (table.Action, error) {
	if len(text) > maxText {
		return nil, &Error{1, 1, fmt.Sprintf("the text has %d bytes; steps may have %d", len(text), maxText)}
	}
	if !utf8.ValidString(text) {
		return nil, &Error{1, 1, "the text is not UTF-8"}
	}
	var actions table.Actions
	for i, line := range strings.Split(text, "\n") {
		words, err := split(line, i+1)
		if err != nil {
			return nil, err
		}
		if len(words) == 0 {
			continue
		}
		r := &reader{table: t, actor: actor, words: words, line: i + 1, end: utf8.RuneCountInString(line) + 1}
		action, err := r.step()
		if err != nil {
			return nil, err
		}
		actions = append(actions, action)
	}
	switch len(actions) {
	case 0:
		return nil, &Error{1, 1, `expected a step, such as "draw 2 from weather"`}
	case 1:
		return actions[0], nil
	}
	return table.All{Actions: actions}, nil
}

// reader reads the words of one line.
type reader struct {
	table *table.Table
	actor table.Seat
	words []word
	line  int
	end   int    // the column after the last character
	verb  string // the word the step began with
}

func (r *reader) fail(w word, format string, args ...any) error {
	return &Error{r.line, w.column, fmt.Sprintf(format, args...)}
}

// peek is the next word; past the last it is empty.
func (r *reader) peek() word {
	if len(r.words) == 0 {
		return word{column: r.end}
	}
	return r.words[0]
}

func (r *reader) take() word {
	w := r.peek()
	if len(r.words) > 0 {
		r.words = r.words[1:]
	}
	return w
}

// accept takes the next word if it is one of these.
func (r *reader) accept(words ...string) bool {
	if !r.peek().is(words...) {
		return false
	}
	r.take()
	return true
}

func (r *reader) expect(words ...string) error {
	if r.accept(words...) {
		return nil
	}
	return r.fail(r.peek(), "expected %s, found %s", either(words), found(r.peek()))
}

// step is a verb and what belongs to it.
func (r *reader) step() (table.Action, error) {
	w := r.take()
	read, known := verbs()[strings.ToLower(w.text)]
	if !known || w.quoted {
		return nil, r.fail(w, "expected a step that begins with one of %s, found %s%s", strings.Join(verbNames(), ", "), found(w), nearest(w.text, verbNames()))
	}
	r.verb = strings.ToLower(w.text)
	action, err := read(r)
	if err != nil {
		return nil, err
	}
	if len(r.words) > 0 {
		return nil, r.fail(r.peek(), "expected the end of the step, found %s", found(r.peek()))
	}
	return action, nil
}

// shuffle = "shuffle" place ["into" place].
func (r *reader) shuffle() (table.Action, error) {
	p, err := r.place()
	if err != nil || !r.accept("into") {
		return table.Shuffle{Place: p}, err
	}
	into, err := r.place()
	return table.ShuffleIn{From: p, Into: into}, err
}

// draw = "draw" ["up" "to"] [number ["cards"]] "from" place ["to" place].
func (r *reader) draw() (table.Action, error) {
	upTo := r.upTo()
	count, err := r.count()
	if err != nil {
		return nil, err
	}
	if err := r.expect("from"); err != nil {
		return nil, err
	}
	a := table.Draw{Count: count, UpTo: upTo}
	if a.From, err = r.place(); err != nil {
		return nil, err
	}
	if r.accept("to", "onto") {
		a.To, err = r.place()
	}
	return a, err
}

// move = ("move" | "discard") pick ("to" | "onto" | "under") target.
func (r *reader) move() (table.Action, error) {
	pick, err := r.pick()
	if err != nil {
		return nil, err
	}
	a := table.Move{Pick: pick}
	a.To.Under = r.peek().is("under")
	if err := r.expect("to", "onto", "under"); err != nil {
		return nil, err
	}
	a.To, err = r.target(a.To)
	return a, err
}

// flip = "flip" pick ["face" ("up" | "down")].
func (r *reader) flip() (table.Action, error) {
	pick, err := r.pick()
	if err != nil {
		return nil, err
	}
	a := table.Flip{Pick: pick}
	if r.accept("face") {
		a.Side = table.Back
		if r.peek().is("up") {
			a.Side = table.Front
		}
		err = r.expect("up", "down")
	}
	return a, err
}

// upTo = ["up" "to"].
func (r *reader) upTo() bool {
	if len(r.words) > 1 && r.words[0].is("up") && r.words[1].is("to") {
		r.words = r.words[2:]
		return true
	}
	return false
}

// pick = ["top" | "bottom"] ["up" "to"] [number] ["by" "chance"] ("of" | "from") place [where]
// | "all" ("of" | "from") place [where] | name {"," name} ("of" | "from") place | place [where].
func (r *reader) pick() (table.Pick, error) {
	var k table.Pick
	var err error
	switch w := r.peek(); {
	case r.accept("all"):
		k.Which = table.Every
	case w.is("top", "bottom"):
		r.take()
		k.Which = table.Which(strings.ToLower(w.text))
		k.UpTo = r.upTo()
		if k.Count, err = r.count(); err != nil {
			return k, err
		}
	case w.is("up"), !w.quoted && isNumber(w.text):
		k.UpTo = r.upTo()
		if k.Count, err = r.count(); err != nil {
			return k, err
		}
		if r.accept("by") {
			if err := r.expect("chance"); err != nil {
				return k, err
			}
			k.Which = table.ByChance
		}
	case r.namesFollow():
		k.Names = append(k.Names, r.take().text)
		for r.accept(",") {
			k.Names = append(k.Names, r.take().text)
		}
	default:
		if k.From, err = r.place(); err == nil {
			k.Where, err = r.where()
		}
		return k, err
	}
	if err := r.expect("of", "from"); err != nil {
		return k, err
	}
	if k.From, err = r.place(); err == nil {
		k.Where, err = r.where()
	}
	return k, err
}

// namesFollow looks ahead for names of cards: a list, or a name and "of".
func (r *reader) namesFollow() bool {
	return len(r.words) > 2 && !r.words[0].is("my", "seat") &&
		(r.words[1].is(",") || r.words[1].is("of", "from") && !r.ownerFollows())
}

// ownerFollows tells "hand of Bo" from "Fog of sky": the first word names a
// place and the third a seat.
func (r *reader) ownerFollows() bool {
	if _, ok := r.seatNamed(r.words[2]); !ok && !r.words[2].is("seat") {
		return false
	}
	return len(r.placesCalled(r.words[0].text)) > 0
}

// count = [number] ["card" | "cards"]; 0 if left out.
func (r *reader) count() (int, error) {
	w := r.peek()
	if w.quoted || !isNumber(w.text) {
		return 0, nil
	}
	r.take()
	n, err := strconv.Atoi(w.text)
	if err != nil || n < 1 || n > 1_000_000 {
		return 0, r.fail(w, "expected a number from 1 to 1000000, found %s", found(w))
	}
	r.accept("card", "cards")
	return n, nil
}

// target = "felt" ["at" number number] | place.
func (r *reader) target(to table.Target) (table.Target, error) {
	if !r.accept("felt") {
		place, err := r.place()
		to.Place = place
		return to, err
	}
	if !r.accept("at") {
		to.Felt = true
		return to, nil
	}
	x, y, err := r.spot()
	if err != nil {
		return to, err
	}
	to.X, to.Y = &x, &y
	return to, nil
}
