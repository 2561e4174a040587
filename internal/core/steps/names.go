package steps

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"damselfly.example/damselfly/internal/core/table"
)

// place = "my" name | name ["of" seat].
func (r *reader) place() table.PlaceID {
	w := r.peek()
	if r.accept("my") {
		if r.actor == 0 {
			r.fail(w, `"my" needs a seat, and you only watch; take a seat first`)
		}
		return r.ownPlace(r.take(), r.actor)
	}
	name := r.take()
	if name.text == "" || name.text == "," {
		r.fail(name, "expected the name of a place, found %s", found(name))
		return ""
	}
	if r.accept("of") {
		return r.ownPlace(name, r.seat())
	}
	one, several := r.placeCalled(name.text)
	switch {
	case several:
		r.fail(name, "every seat has a %s; write \"my %s\" or \"%s of seat 2\"", name.text, name.text, name.text)
		return ""
	case one == nil:
		r.fail(name, "there is no place %q%s", name.text, didYouMean(name.text, r.placeNames()))
		return ""
	case one.Kind == table.Grid && !r.peek().quoted:
		if at, ok := one.Grid.Parse(r.peek().text); ok {
			r.take()
			return table.CellID(one.ID, at)
		}
	}
	return one.ID
}

// places = somewhere | "(" somewhere {"," somewhere} ")".
func (r *reader) places() []table.PlaceID {
	if !r.accept("(") {
		return r.somewhere()
	}
	all := r.somewhere()
	for r.accept(",") {
		all = append(all, r.somewhere()...)
	}
	r.expect(")")
	return all
}

// somewhere = "every" ("hand" | name) | place.
func (r *reader) somewhere() []table.PlaceID {
	if !r.accept("every", "each") {
		return []table.PlaceID{r.place()}
	}
	name := r.take()
	var all []table.PlaceID
	for id, p := range r.table.Places {
		if p.Owner != 0 && (strings.EqualFold(p.Name, name.text) || name.is("hand") && p.Kind == table.Hand) {
			all = append(all, id)
		}
	}
	slices.Sort(all)
	if all == nil {
		r.fail(name, "expected \"hand\" or a zone that every seat has, found %s", found(name))
	}
	return all
}

// ownPlace is a seat's place of a name; "hand" is its first hand.
func (r *reader) ownPlace(name word, seat table.Seat) table.PlaceID {
	if name.is("hand") {
		if hand := r.table.HandOf(seat); hand != nil {
			return hand.ID
		}
	}
	var own *table.Place
	for _, p := range r.table.Places {
		if p.Owner == seat && strings.EqualFold(p.Name, name.text) && (own == nil || p.ID < own.ID) {
			own = p
		}
	}
	if own == nil || r.err != nil {
		r.fail(name, "seat %d has no place %q%s", seat, name.text, didYouMean(name.text, r.ownNames(seat)))
		return ""
	}
	return own.ID
}

// seat = "first" "seat" | "seat" number | name of a player.
func (r *reader) seat() table.Seat {
	w := r.take()
	switch {
	case w.is("first"):
		r.expect("seat")
		if r.table.Marker.First == 0 {
			r.fail(w, "no first seat is chosen yet; \"choose first seat by chance\" does")
		}
		return r.table.Marker.First
	case w.is("seat"):
		w := r.take()
		n, err := strconv.Atoi(w.text)
		if err != nil || r.table.Chair(table.Seat(n)) == nil {
			r.fail(w, "expected a seat from 1 to %d, found %s", len(r.table.Chairs), found(w))
		}
		return table.Seat(n)
	}
	seat, known := r.seatNamed(w)
	if !known && r.err == nil {
		var names []string
		for _, c := range r.table.Chairs {
			if c.Name != "" {
				names = append(names, c.Name)
			}
		}
		r.fail(w, "nobody here is called %s%s", found(w), didYouMean(w.text, names))
	}
	return seat
}

func (r *reader) seatNamed(w word) (table.Seat, bool) {
	for _, c := range r.table.Chairs {
		if c.Name != "" && strings.EqualFold(c.Name, w.text) {
			return c.Seat, true
		}
	}
	return 0, false
}

// placeCalled finds the place with a name or id, felt places only by id, and reports
// whether there are several.
func (r *reader) placeCalled(name string) (one *table.Place, several bool) {
	if p := r.table.Places[table.PlaceID(name)]; p != nil {
		return p, false
	}
	for _, p := range r.table.Places {
		if !p.Kind.Passing() && strings.EqualFold(p.Name, name) {
			several = one != nil
			if one = p; several {
				return one, true
			}
		}
	}
	return one, false
}

// deck = key or name of a deck.
func (r *reader) deck() string {
	w := r.take()
	for key, d := range r.table.Decks {
		if strings.EqualFold(key, w.text) || strings.EqualFold(d.Name, w.text) {
			return key
		}
	}
	r.fail(w, "there is no deck %s%s", found(w), didYouMean(w.text, slices.Sorted(maps.Keys(r.table.Decks))))
	return ""
}

// piece = name of a piece of one of some kinds.
func (r *reader) piece(kinds ...table.PieceKind) table.PieceID {
	w := r.take()
	if p := r.table.Pieces[table.PieceID(w.text)]; p != nil && slices.Contains(kinds, p.Kind) {
		return p.ID
	}
	for id, p := range r.table.Pieces {
		if slices.Contains(kinds, p.Kind) && strings.EqualFold(p.Name, w.text) {
			return id
		}
	}
	what := string(kinds[0])
	if len(kinds) > 3 {
		what = "piece"
	}
	r.fail(w, "there is no %s %s%s", what, found(w), didYouMean(w.text, r.pieceNames(kinds)))
	return ""
}

// placeNames, ownNames and pieceNames are what could have been meant by a mistaken name.
func (r *reader) placeNames() []string {
	names := []string{"my hand"}
	for _, id := range r.table.PlaceIDs() {
		if p := r.table.Places[id]; !p.Kind.Passing() && !slices.Contains(names, p.Name) {
			names = append(names, p.Name)
		}
	}
	return names
}

func (r *reader) ownNames(seat table.Seat) (names []string) {
	for _, id := range r.table.PlaceIDs() {
		if p := r.table.Places[id]; p.Owner == seat {
			names = append(names, p.Name)
		}
	}
	return append(names, "hand")
}

func (r *reader) pieceNames(kinds []table.PieceKind) (names []string) {
	for _, id := range slices.Sorted(maps.Keys(r.table.Pieces)) {
		if p := r.table.Pieces[id]; slices.Contains(kinds, p.Kind) {
			names = append(names, p.Name)
		}
	}
	return names
}

func isNumber(text string) bool { return text != "" && text[0] >= '0' && text[0] <= '9' }

// found writes what stood where something else was expected.
func found(w word) string {
	if w.text == "" && !w.quoted {
		return "the end of the line"
	}
	return strconv.Quote(w.text)
}

// either lists words: "a", "b" or "c".
func either(words []string) string {
	quoted := make([]string, len(words))
	for i, w := range words {
		quoted[i] = strconv.Quote(w)
	}
	if len(quoted) == 1 {
		return quoted[0]
	}
	return strings.Join(quoted[:len(quoted)-1], ", ") + " or " + quoted[len(quoted)-1]
}

// didYouMean names the known name nearest to a mistaken one, if one is near,
// and lists a few if none is.
func didYouMean(text string, names []string) string {
	if near := nearest(text, names); near != "" {
		return near
	}
	if len(names) > 0 && len(names) <= 12 {
		return "; there is " + either(names)
	}
	return ""
}

// nearest names the known name nearest to a mistaken one, if one is near.
func nearest(text string, names []string) string {
	best, near := len([]rune(text))/2+2, ""
	for _, name := range names {
		if d := table.LettersApart(strings.ToLower(text), strings.ToLower(name)); name != "" && d < best {
			best, near = d, name
		}
	}
	if near == "" {
		return ""
	}
	return fmt.Sprintf("; did you mean %q?", near)
}
