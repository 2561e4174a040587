// Package compared is what differs between two editions of a kit, as it is told: core/kit finds it.
package compared

import (
	"reflect"

	"damselfly.example/damselfly/internal/core/table"
)

// Comparison is what differs between two editions of a kit, or a draft and an edition.
type Comparison struct {
	Decks  []DeckChange  `json:"decks,omitempty"`
	Zones  []ThingChange `json:"zones,omitempty"`
	Pieces []ThingChange `json:"pieces,omitempty"`
	Table  []string      `json:"table,omitempty" doc:"What of the table as a whole: size, mat, turn, arrange, setup."`
	Kit    []string      `json:"kit,omitempty" doc:"What of the kit as a whole: name, about, seats, picture, description, rules."`
}

// Named is the comparison with its pictures as they are named elsewhere.
func (c Comparison) Named(name func(table.Picture) table.Picture) Comparison {
	shown := func(d *DesignShown) { d.Front, d.Back = name(d.Front), name(d.Back) }
	for _, deck := range c.Decks {
		for i := range deck.Added {
			shown(&deck.Added[i])
		}
		for i := range deck.Removed {
			shown(&deck.Removed[i])
		}
		for i := range deck.Changed {
			shown(&deck.Changed[i].Before)
			shown(&deck.Changed[i].After)
		}
		for i := range deck.Moved {
			shown(&deck.Moved[i].Design)
		}
	}
	return c
}

// The kinds of change.
const (
	Added   = "added"
	Removed = "removed"
	Changed = "changed"
)

// DeckChange is what differs in a deck.
type DeckChange struct {
	Key     string         `json:"key"`
	Change  string         `json:"change" enum:"added,removed,changed"`
	Added   []DesignShown  `json:"added,omitempty"`
	Removed []DesignShown  `json:"removed,omitempty"`
	Changed []DesignChange `json:"changed,omitempty"`
	Moved   []DesignMoved  `json:"moved,omitempty" doc:"Designs that came from another deck."`
	Of      []string       `json:"of,omitempty" doc:"What of the deck as a whole: size, outline, home, veil."`
}

// DesignShown is a design as a comparison shows it.
type DesignShown struct {
	Key    string        `json:"key"`
	Name   string        `json:"name"`
	Copies int           `json:"copies"`
	Front  table.Picture `json:"front"`
	Back   table.Picture `json:"back"`
}

// DesignChange is a design in both editions.
type DesignChange struct {
	Before DesignShown  `json:"before"`
	After  DesignShown  `json:"after"`
	Words  []WordChange `json:"words,omitempty" doc:"The fields that differ."`
}

// WordChange is a field of a design in both editions.
type WordChange struct {
	Field  string `json:"field"`
	Before string `json:"before"`
	After  string `json:"after"`
}

// DesignMoved is a design that is in another deck now.
type DesignMoved struct {
	Design DesignShown `json:"design"`
	From   string      `json:"from" doc:"The key of the deck it was in."`
}

// ThingChange is a zone or a piece that differs.
type ThingChange struct {
	Key    string `json:"key"`
	Change string `json:"change" enum:"added,removed,changed"`
}

// Counts are how many designs are new, changed and gone, those that moved left out.
func (c Comparison) Counts() (added, changed, removed int) {
	for _, d := range c.Decks {
		added, changed, removed = added+len(d.Added), changed+len(d.Changed), removed+len(d.Removed)
	}
	return added, changed, removed
}

// Empty reports whether nothing differs.
func (c Comparison) Empty() bool { return reflect.DeepEqual(c, Comparison{}) }
