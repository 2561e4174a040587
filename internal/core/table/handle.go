package table

import (
	"fmt"
	"strconv"
)

// Handle is the name by which an action speaks of a card that its actor has
// before their eyes. It is of a type of its own, so that no action can be given a
// card's own id, which nobody outside the core knows. What it names is looked up
// once, before anything is done; see sightings.
type Handle uint64

// MarshalText writes the handle in base 32, because a browser's numbers are too
// short for it.
func (h Handle) MarshalText() ([]byte, error) { return strconv.AppendUint(nil, uint64(h), 32), nil }

// UnmarshalText reads what MarshalText wrote.
func (h *Handle) UnmarshalText(text []byte) error {
	n, err := strconv.ParseUint(string(text), 32, 64)
	if err != nil {
		return fmt.Errorf("%q names no card", clipped(string(text)))
	}
	*h = Handle(n)
	return nil
}

// Handles turns ids into handles that name the same cards where an act is done
// without a gate: in tests, and for the table's own acts.
func Handles(cards ...CardID) []Handle {
	handles := make([]Handle, len(cards))
	for i, card := range cards {
		handles[i] = Handle(card)
	}
	return handles
}
