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

// fits reports whether a card is chosen.
func (f Filter) fits(t *Table, card CardID) bool {
	switch {
	case f.Not != nil:
		return !f.Not.fits(t, card)
	case f.And != nil:
		for _, part := range f.And {
			if !part.fits(t, card) {
				return false
			}
		}
		return true
	case f.Or != nil:
		for _, part := range f.Or {
			if part.fits(t, card) {
				return true
			}
		}
		return false
	case f.In != nil:
		p := t.Places[t.Cards[card].Place]
		return slices.Contains(f.In, p.ID) || p.Of != "" && slices.Contains(f.In, p.Of)
	}
	return f.compares(t.Field(card, f.Field))
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
	return slices.Contains(f.In, p.ID) || p.Of != "" && slices.Contains(f.In, p.Of)
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
	x, errX := strconv.ParseFloat(a, 64)
	y, errY := strconv.ParseFloat(b, 64)
	if errX == nil && errY == nil {
		return cmp.Compare(x, y)
	}
	return cmp.Compare(strings.ToLower(a), strings.ToLower(b))
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
