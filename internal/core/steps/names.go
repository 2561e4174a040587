package steps

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"damselfly/internal/core/table"
)

// place = "my" name | name ["of" seat].
func (r *reader) place() (table.PlaceID, error) {
	w := r.peek()
	if r.accept("my") {
		if r.actor == 0 {
			return "", r.fail(w, `"my" needs a seat, and you only watch; take a seat first`)
		}
		return r.ownPlace(r.take(), r.actor)
	}
	name := r.take()
	if name.text == "" || name.text == "," {
		return "", r.fail(name, "expected the name of a place, found %s", found(name))
	}
	if r.peek().is("of") {
		r.take()
		seat, err := r.seat()
		if err != nil {
			return "", err
		}
		return r.ownPlace(name, seat)
	}
	all := r.placesCalled(name.text)
	switch {
	case len(all) == 1 && all[0].Kind == table.Grid && !r.peek().quoted:
		if at, ok := all[0].Grid.Parse(r.peek().text); ok {
			r.take()
			return table.CellID(all[0].ID, at), nil
		}
		return all[0].ID, nil
	case len(all) == 1:
		return all[0].ID, nil
	case len(all) > 1:
		return "", r.fail(name, "every seat has a %s; write \"my %s\" or \"%s of seat 2\"", name.text, name.text, name.text)
	}
	return "", r.fail(name, "there is no place %q%s", name.text, didYouMean(name.text, r.placeNames()))
}

// places = somewhere | "(" somewhere {"," somewhere} ")".
func (r *reader) places() ([]table.PlaceID, error) {
	if !r.accept("(") {
		return r.somewhere()
	}
	var all []table.PlaceID
	for {
		some, err := r.somewhere()
		if err != nil {
			return nil, err
		}
		if all = append(all, some...); !r.accept(",") {
			return all, r.expect(")")
		}
	}
}

// somewhere = "every" ("hand" | name) | place.
func (r *reader) somewhere() ([]table.PlaceID, error) {
	if !r.accept("every", "each") {
		p, err := r.place()
		return []table.PlaceID{p}, err
	}
	name := r.take()
	var all []table.PlaceID
	for _, id := range r.table.PlaceIDs() {
		p := r.table.Places[id]
		if p.Owner != 0 && (strings.EqualFold(p.Name, name.text) || name.is("hand") && p.Kind == table.Hand) {
			all = append(all, id)
		}
	}
	if all == nil {
		return nil, r.fail(name, "expected \"hand\" or a zone that every seat has, found %s", found(name))
	}
	return all, nil
}

// ownPlace is a seat's place of a name; "hand" is its first hand.
func (r *reader) ownPlace(name word, seat table.Seat) (table.PlaceID, error) {
	if name.is("hand") {
		if hand := r.table.HandOf(seat); hand != nil {
			return hand.ID, nil
		}
	}
	var own []string
	for _, id := range r.table.PlaceIDs() {
		if p := r.table.Places[id]; p.Owner == seat {
			if strings.EqualFold(p.Name, name.text) {
				return id, nil
			}
			own = append(own, p.Name)
		}
	}
	return "", r.fail(name, "seat %d has no place %q%s", seat, name.text, didYouMean(name.text, append(own, "hand")))
}

// seat = "first" "seat" | "seat" number | name of a player.
func (r *reader) seat() (table.Seat, error) {
	if r.peek().is("first") {
		w := r.take()
		if err := r.expect("seat"); err != nil {
			return 0, err
		}
		if first := r.table.Marker.First; first != 0 {
			return first, nil
		}
		return 0, r.fail(w, "no first seat is chosen yet; \"choose first seat by chance\" does")
	}
	if r.accept("seat") {
		w := r.take()
		if n, err := strconv.Atoi(w.text); err == nil && r.table.Chair(table.Seat(n)) != nil {
			return table.Seat(n), nil
		}
		return 0, r.fail(w, "expected a seat from 1 to %d, found %s", len(r.table.Chairs), found(w))
	}
	w := r.take()
	if seat, ok := r.seatNamed(w); ok {
		return seat, nil
	}
	var names []string
	for _, c := range r.table.Chairs {
		names = append(names, c.Name)
	}
	return 0, r.fail(w, "nobody here is called %s%s", found(w), didYouMean(w.text, names))
}

func (r *reader) seatNamed(w word) (table.Seat, bool) {
	for _, c := range r.table.Chairs {
		if c.Name != "" && strings.EqualFold(c.Name, w.text) {
			return c.Seat, true
		}
	}
	return 0, false
}

// placesCalled lists the places with a name or id, felt places only by id.
func (r *reader) placesCalled(name string) []*table.Place {
	if p := r.table.Places[table.PlaceID(name)]; p != nil {
		return []*table.Place{p}
	}
	var all []*table.Place
	for _, id := range r.table.PlaceIDs() {
		if p := r.table.Places[id]; !p.Kind.Passing() && strings.EqualFold(p.Name, name) {
			all = append(all, p)
		}
	}
	return all
}

func (r *reader) placeNames() []string {
	names := []string{"my hand"}
	for _, id := range r.table.PlaceIDs() {
		if p := r.table.Places[id]; !p.Kind.Passing() && !slices.Contains(names, p.Name) {
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
		if d := distance(strings.ToLower(text), strings.ToLower(name)); name != "" && d < best {
			best, near = d, name
		}
	}
	if near == "" {
		return ""
	}
	return fmt.Sprintf("; did you mean %q?", near)
}

// distance counts the letters to add, drop or change between two words
// (Levenshtein 1965).
func distance(a, b string) int {
	x, y := []rune(a), []rune(b)
	if len(x) > 64 || len(y) > 64 {
		return 64
	}
	row := make([]int, len(y)+1)
	for j := range row {
		row[j] = j
	}
	for i := range x {
		diagonal := row[0]
		row[0] = i + 1
		for j := range y {
			cost := 1
			if x[i] == y[j] {
				cost = 0
			}
			diagonal, row[j+1] = row[j+1], min(diagonal+cost, row[j]+1, row[j+1]+1)
		}
	}
	return row[len(y)]
}
