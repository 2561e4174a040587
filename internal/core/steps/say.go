package steps

import (
	"fmt"
	"strconv"
	"strings"

	"damselfly/internal/core/table"
)

// Say writes a deed as a step that its reader could write as well, as far as
// they saw the cards. Names it cannot say in the step follow as a comment.
func Say(deed table.Told) string {
	told := told(deed)
	switch told.Do {
	case "sit":
		return fmt.Sprintf("sits at seat %d", told.Count)
	case "shuffle":
		return "shuffle " + told.spot(told.From)
	case "draw":
		return told.comment(fmt.Sprintf("draw %d from %s to %s", told.Count, told.spot(told.From), told.spot(told.To)))
	case "move":
		preposition := " to "
		if told.Under {
			preposition = " under "
		}
		return told.picked("move", preposition+told.spot(told.To))
	case "flip":
		face := ""
		switch told.Side {
		case table.Front:
			face = " face up"
		case table.Back:
			face = " face down"
		}
		return told.picked("flip", face)
	}
	return told.Do
}

type told table.Told

// picked writes a verb, the cards it was done to and the rest of the step:
// cards the reader saw by their names, others by number.
func (t told) picked(verb, rest string) string {
	from := ""
	if t.From != nil {
		from = " of " + t.spot(t.From)
	}
	switch {
	case t.Which == "" && from != "" && len(t.Names) == t.Count:
		quoted := make([]string, len(t.Names))
		for i, name := range t.Names {
			quoted[i] = quote(name)
		}
		return verb + " " + strings.Join(quoted, ", ") + from + rest
	case t.Which == table.Every:
		return t.comment(verb + " all" + from + rest)
	case t.Which != "":
		return t.comment(fmt.Sprintf("%s %s %d%s%s", verb, t.Which, t.Count, from, rest))
	}
	return t.comment(verb + " " + strconv.Itoa(t.Count) + from + rest)
}

// maxNamed is how many names a comment spells out.
const maxNamed = 8

func (t told) comment(step string) string {
	switch {
	case len(t.Names) == 0:
		return step
	case len(t.Names) > maxNamed:
		return step + "  # " + strings.Join(t.Names[:maxNamed], ", ") + fmt.Sprintf(" and %d more", len(t.Names)-maxNamed)
	}
	return step + "  # " + strings.Join(t.Names, ", ")
}

// spot writes a place as its reader calls it.
func (t told) spot(s *table.Spot) string {
	switch {
	case s.Kind == table.Loose:
		return "felt"
	case s.Owner == 0:
		return quote(s.Name)
	}
	name := quote(s.Name)
	if s.Kind == table.Hand {
		name = "hand"
	}
	if s.Owner == t.Viewer {
		return "my " + name
	}
	if strings.HasPrefix(s.Whose, "seat ") {
		return name + " of " + s.Whose
	}
	return name + " of " + quote(s.Whose)
}
