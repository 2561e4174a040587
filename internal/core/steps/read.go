package steps

import (
	"fmt"
	"strconv"
	"strings"
	"unicode/utf8"

	"damselfly.example/damselfly/internal/core/table"
)

// maxText bounds a text of Steps, in bytes.
const maxText = 64 << 10

// maxLines bounds the steps of one text.
const maxLines = 200

// Read turns a text into one action for an actor at a table. Names are looked
// up on that table as it is.
func Read(text string, t *table.Table, actor table.Seat) (table.Action, error) {
	lines, err := readLines(text, t, actor)
	if err != nil {
		return nil, err
	}
	if len(lines) == 1 {
		return lines[0].action, nil
	}
	var all table.All
	for _, l := range lines {
		all.Actions = append(all.Actions, l.action)
	}
	return all, nil
}

// ReadPlace is the place that a text names to an actor, as Steps do. A text that is all of a name needs no quotes.
func ReadPlace(text string, t *table.Table, actor table.Seat) (table.PlaceID, error) {
	return readName(text, t, actor, (*reader).place)
}

// ReadDeck is the key of the deck that a text names.
func ReadDeck(text string, t *table.Table) (string, error) {
	return readName(text, t, 0, (*reader).deck)
}

func readName[N ~string](text string, t *table.Table, actor table.Seat, name func(*reader) N) (N, error) {
	written, err := split(text, 1)
	if err != nil {
		return "", err
	}
	read := func(words []word) (N, error) {
		r := &reader{table: t, actor: actor, words: words, line: 1, end: utf8.RuneCountInString(text) + 1}
		is := name(r)
		if len(r.words) > 0 {
			r.fail(r.peek(), "expected the end of the name, found %s", found(r.peek()))
		}
		return is, r.err
	}
	is, err := read(written)
	if err != nil && len(written) > 1 {
		if whole, failed := read([]word{{text: text, column: 1, quoted: true}}); failed == nil {
			return whole, nil
		}
	}
	return is, err
}

// line is a step with the number of its line, from 1.
type line struct {
	action table.Action
	number int
}

func readLines(text string, t *table.Table, actor table.Seat) ([]line, error) {
	if len(text) > maxText {
		return nil, &Error{1, 1, fmt.Sprintf("the text has %d bytes; steps may have %d", len(text), maxText)}
	}
	if !utf8.ValidString(text) {
		return nil, &Error{1, 1, "the text is not UTF-8"}
	}
	var lines []line
	for i, written := range strings.Split(text, "\n") {
		words, err := split(written, i+1)
		if err != nil {
			return nil, err
		}
		if len(words) == 0 {
			continue
		}
		r := &reader{table: t, actor: actor, words: words, line: i + 1, end: utf8.RuneCountInString(written) + 1}
		action := r.step()
		if r.err != nil {
			return nil, r.err
		}
		if lines = append(lines, line{action, i + 1}); len(lines) > maxLines {
			return nil, &Error{i + 1, 1, fmt.Sprintf("at most %d steps are done as one", maxLines)}
		}
	}
	if len(lines) == 0 {
		return nil, &Error{1, 1, `expected a step, such as "draw 2 from weather"`}
	}
	return lines, nil
}

// reader reads the words of one line. The first mistake is kept; from then on there is
// nothing more to read, so that what reads need not look for mistakes.
type reader struct {
	table *table.Table
	actor table.Seat
	words []word
	line  int
	end   int    // the column after the last character
	verb  string // the word the step began with
	err   error
}

func (r *reader) fail(w word, format string, args ...any) {
	if r.err == nil {
		r.err = &Error{r.line, w.column, fmt.Sprintf(format, args...)}
	}
}

// peek is the next word; past the last, and after a mistake, it is empty.
func (r *reader) peek() word {
	if r.err != nil || len(r.words) == 0 {
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

// acceptAll takes the next words if they are these, one after the other.
func (r *reader) acceptAll(words ...string) bool {
	if r.err != nil || len(r.words) < len(words) {
		return false
	}
	for i, w := range words {
		if !r.words[i].is(w) {
			return false
		}
	}
	r.words = r.words[len(words):]
	return true
}

// expect takes the next word, which must be one of these.
func (r *reader) expect(words ...string) {
	if !r.accept(words...) {
		r.fail(r.peek(), "expected %s, found %s", either(words), found(r.peek()))
	}
}

// step is a verb and what belongs to it.
func (r *reader) step() table.Action {
	w := r.take()
	r.verb = strings.ToLower(w.text)
	read, known := language.verbs[r.verb]
	if !known || w.quoted {
		if near := nearest(w.text, language.names); near != "" {
			r.fail(w, "there is no step %s%s", found(w), near)
		} else {
			r.fail(w, "there is no step %s; steps begin with %s", found(w), strings.Join(language.names, ", "))
		}
		return nil
	}
	action := read(r)
	if len(r.words) > 0 {
		r.fail(r.peek(), "expected the end of the step, found %s", found(r.peek()))
	}
	return action
}

// pick = ["top" | "bottom"] ["up" "to"] [number] ["by" "chance"] ("of" | "from") place [where]
// | "all" ("of" | "from") place [where] | name {"," name} ("of" | "from") place | place [where].
func (r *reader) pick() (k table.Pick) {
	switch w := r.peek(); {
	case r.accept("all"):
		k.Which = table.Every
	case r.accept("top", "bottom"):
		k.Which = table.Which(strings.ToLower(w.text))
		k.UpTo, k.Count = r.acceptAll("up", "to"), r.count()
	case w.is("up"), !w.quoted && isNumber(w.text):
		k.UpTo, k.Count = r.acceptAll("up", "to"), r.count()
		if r.accept("by") {
			r.expect("chance")
			k.Which = table.ByChance
		}
	case r.namesFollow():
		k.Names = append(k.Names, r.take().text)
		for r.accept(",") {
			k.Names = append(k.Names, r.take().text)
		}
	default:
		k.From, k.Where = r.place(), r.where()
		return k
	}
	r.expect("of", "from")
	k.From, k.Where = r.place(), r.where()
	return k
}

// namesFollow looks ahead for names of cards: a list, or a name and "of".
func (r *reader) namesFollow() bool {
	return r.err == nil && len(r.words) > 2 && !r.words[0].is("my", "seat") &&
		(r.words[1].is(",") || r.words[1].is("of", "from") && !r.ownerFollows())
}

// ownerFollows tells "hand of Bo" from "Fog of sky": the first word names a
// place and the third a seat.
func (r *reader) ownerFollows() bool {
	if _, ok := r.seatNamed(r.words[2]); !ok && !r.words[2].is("seat") {
		return false
	}
	one, _ := r.placeCalled(r.words[0].text)
	return one != nil
}

// maxCount bounds what is counted in cards.
const maxCount = 1_000_000

// count = [number] ["card" | "cards"]; 0 if left out.
func (r *reader) count() int {
	if w := r.peek(); w.quoted || !isNumber(w.text) {
		return 0
	}
	n := r.number(1, maxCount)
	r.accept("card", "cards")
	return n
}

// number is a whole number in bounds.
func (r *reader) number(least, most int) int {
	w := r.take()
	n, err := strconv.Atoi(w.text)
	if err != nil || w.quoted || n < least || n > most {
		r.fail(w, "expected a number from %d to %d, found %s", least, most, found(w))
	}
	return n
}

// spot is two lengths in millimetres.
func (r *reader) spot() (x, y float64) {
	for _, length := range []*float64{&x, &y} {
		w := r.take()
		n, err := strconv.ParseFloat(w.text, 64)
		if err != nil || !(n >= 0 && n <= 100_000) {
			r.fail(w, "expected millimetres from the table's edge, found %s", found(w))
		}
		*length = n
	}
	return x, y
}

// target = "felt" ["at" number number] | place.
func (r *reader) target(to table.Target) table.Target {
	switch {
	case !r.accept("felt"):
		to.Place = r.place()
	case !r.accept("at"):
		to.Felt = true
	default:
		x, y := r.spot()
		to.X, to.Y = &x, &y
	}
	return to
}
