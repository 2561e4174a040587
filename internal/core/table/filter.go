package table

import (
	"cmp"
	"slices"
	"strconv"
	"strings"
)

// Filter chooses cards by the fields of their designs, or by where they lie.
// Exactly one of its parts is given.
type Filter struct {
	Field string    `json:"field,omitempty" doc:"A field of the designs, or \"name\" or \"deck\"."`
	Is    string    `json:"is,omitempty" enum:"=,≠,<,≤,>,≥,in" doc:"How the field compares with the values; = if left out."`
	Than  []string  `json:"than,omitempty" doc:"The value, or with in several."`
	In    []PlaceID `json:"in,omitempty" doc:"Places, one of which the card lies in; a grid stands for all its cells."`
	And   []Filter  `json:"and,omitempty"`
	Or    []Filter  `json:"or,omitempty"`
	Not   *Filter   `json:"not,omitempty"`
}

// maxFilter bounds how deep filters may stand in each other.
const maxFilter = 20

// deep reports whether filters stand deeper in each other than they may.
func (f Filter) deep(left int) bool {
	if left == 0 {
		return true
	}
	for _, part := range append(append([]Filter{}, f.And...), f.Or...) {
		if part.deep(left - 1) {
			return true
		}
	}
	return f.Not != nil && f.Not.deep(left-1)
}

// weight is how much it takes to ask one card, of a filter of one value 1.
func (f Filter) weight() int {
	values := 0
	var count func(Filter)
	count = func(f Filter) {
		values += max(1, len(f.Than)+len(f.In))
		for _, part := range append(slices.Clone(f.And), f.Or...) {
			count(part)
		}
		if f.Not != nil {
			count(*f.Not)
		}
	}
	count(f)
	return 1 + values/8
}

// reads reports whether a filter asks what cards show, and not only where they
// lie.
func (f Filter) reads() bool {
	if f.Not != nil {
		return f.Not.reads()
	}
	if f.And != nil || f.Or != nil {
		return slices.ContainsFunc(append(slices.Clone(f.And), f.Or...), Filter.reads)
	}
	return f.In == nil
}

// fitsAt reports whether a card would be chosen if it lay in a place.
func (f Filter) fitsAt(t *Table, card CardID, at *Place) bool {
	switch {
	case f.Not != nil:
		return !f.Not.fitsAt(t, card, at)
	case f.And != nil:
		return !slices.ContainsFunc(f.And, func(part Filter) bool { return !part.fitsAt(t, card, at) })
	case f.Or != nil:
		return slices.ContainsFunc(f.Or, func(part Filter) bool { return part.fitsAt(t, card, at) })
	case f.In != nil:
		return at.among(f.In)
	}
	return f.compares(t.Field(card, f.Field))
}

// among reports whether a place is one of some; a grid stands for all its cells.
func (p *Place) among(places []PlaceID) bool {
	return slices.Contains(places, p.ID) || p.Of != "" && slices.Contains(places, p.Of)
}

// whereabouts tells apart the places that a filter tells apart: for each of its parts
// that asks for places, whether a place is one of them.
func (f Filter) whereabouts(at *Place) string {
	switch {
	case f.Not != nil:
		return f.Not.whereabouts(at)
	case f.And != nil || f.Or != nil:
		all := ""
		for _, part := range append(slices.Clone(f.And), f.Or...) {
			all += part.whereabouts(at)
		}
		return all
	case f.In == nil:
		return ""
	case at.among(f.In):
		return "i"
	}
	return "o"
}

// takes reports whether a filter that asks for places alone lets cards of a place
// through.
func (f Filter) takes(p *Place) bool {
	switch {
	case f.Not != nil:
		return !f.Not.takes(p)
	case f.And != nil:
		return !slices.ContainsFunc(f.And, func(part Filter) bool { return !part.takes(p) })
	case f.Or != nil:
		return slices.ContainsFunc(f.Or, func(part Filter) bool { return part.takes(p) })
	}
	return p.among(f.In)
}

func (f Filter) compares(value string) bool {
	for _, than := range f.Than {
		order := compareValues(value, than)
		switch f.Is {
		case "", "=", "in":
			if order == 0 {
				return true
			}
		case "≠":
			return order != 0
		case "<":
			return order < 0
		case "≤":
			return order <= 0
		case ">":
			return order > 0
		case "≥":
			return order >= 0
		}
	}
	return false
}

// compareValues orders numbers as numbers and other texts without regard to
// case.
func compareValues(a, b string) int {
	if mayBeNumber(a) && mayBeNumber(b) {
		x, errX := strconv.ParseFloat(a, 64)
		y, errY := strconv.ParseFloat(b, 64)
		if errX == nil && errY == nil {
			return cmp.Compare(x, y)
		}
	}
	return cmp.Compare(strings.ToLower(a), strings.ToLower(b))
}

// mayBeNumber reports whether a text begins as a number does; most do not, and failing to read one takes long.
func mayBeNumber(text string) bool {
	return text != "" && (text[0] <= '9' || strings.IndexByte("iInN", text[0]) >= 0)
}

// judge asks a filter of many cards, once for all that are alike to it.
type judge struct {
	filter *Filter
	table  *Table
	said   map[judged]bool
}

type judged struct {
	design      designKey
	whereabouts string
}

func (t *Table) judge(f *Filter) *judge { return &judge{f, t, map[judged]bool{}} }

// fits is Filter.fitsAt of a place that the filter tells by its whereabouts.
func (j *judge) fits(card CardID, at *Place, whereabouts string) bool {
	c := j.table.Cards[card]
	key := judged{designKey{c.Deck, c.Design}, whereabouts}
	fits, known := j.said[key]
	if !known {
		fits = j.filter.fitsAt(j.table, card, at)
		j.said[key] = fits
	}
	return fits
}

// Field is a field of a card's design; "name" and "deck" are there always.
func (t *Table) Field(card CardID, field string) string {
	design := t.Design(card)
	switch field {
	case "name":
		return design.Name
	case "deck":
		return t.Cards[card].Deck
	}
	return design.Fields[field]
}
