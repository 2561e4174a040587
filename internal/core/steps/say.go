package steps

import (
	"fmt"
	"strconv"
	"strings"

	"damselfly.example/damselfly/internal/core/table"
)

// Say writes a deed as a step that its reader could write as well, as far as
// they saw the cards. Names it cannot say in the step follow as a comment; what
// is no step at all is a comment as a whole.
func Say(deed table.Told) string {
	t := told{deed, language.keywords}
	if say := language.says[t.Do]; say != nil {
		return say(t)
	}
	return "# " + t.Do
}

// seat writes the seat a spot belongs to.
func (t told) seat(s *table.Spot) string {
	if strings.HasPrefix(s.Whose, "seat ") {
		return s.Whose
	}
	return t.quote(s.Whose)
}

// told is a deed being put in words.
type told struct {
	table.Told
	keywords
}

func face(side table.Side) string {
	switch side {
	case table.Front:
		return " face up"
	case table.Back:
		return " face down"
	}
	return ""
}

func cards(n int) string {
	if n == 1 {
		return "1 card"
	}
	return fmt.Sprintf("%d cards", n)
}

// picked writes a verb, the cards it was done to and the rest of the step:
// cards the reader saw by their names, others by number.
func (t told) picked(c table.Chosen, verb, rest string) string {
	from := ""
	if c.From != nil {
		from = " of " + t.spot(c.From)
	}
	switch {
	case c.Which == "" && from != "" && len(t.Names) == c.Count:
		quoted := make([]string, len(t.Names))
		for i, name := range t.Names {
			quoted[i] = t.quote(name)
		}
		return verb + " " + strings.Join(quoted, ", ") + from + rest
	case c.Which == table.Every:
		return t.comment(verb + " all" + from + rest)
	case c.Which == table.ByChance:
		return t.comment(fmt.Sprintf("%s %d by chance%s%s", verb, c.Count, from, rest))
	case c.Which != "":
		return t.comment(fmt.Sprintf("%s %s %d%s%s", verb, c.Which, c.Count, from, rest))
	}
	return t.comment(verb + " " + strconv.Itoa(c.Count) + from + rest)
}

// maxNamed is how many names a comment spells out.
const maxNamed = 8

func (t told) comment(step string) string {
	switch {
	case len(t.Names) == 0:
		return step
	case len(t.Names) > maxNamed:
		return step + "  # " + listed(t.Names[:maxNamed]) + fmt.Sprintf(" and %d more", len(t.Names)-maxNamed)
	}
	return step + "  # " + listed(t.Names)
}

// listed joins names; one with a comma stands in quotes, so that it does not look like two.
func listed(names []string) string {
	all := make([]string, len(names))
	for i, name := range names {
		if all[i] = name; strings.Contains(name, ",") && len(names) > 1 {
			all[i] = `"` + name + `"`
		}
	}
	return strings.Join(all, ", ")
}

// spot writes a place as its reader calls it.
func (t told) spot(s *table.Spot) string {
	switch {
	case s.Kind == table.Loose:
		return "felt"
	case s.Kind == table.Cell:
		if i := strings.LastIndexByte(s.Name, ' '); i > 0 {
			return t.quote(s.Name[:i]) + s.Name[i:]
		}
	case s.Owner == 0:
		return t.quote(s.Name)
	}
	name := t.quote(s.Name)
	if s.Kind == table.Hand {
		name = "hand"
	}
	if s.Owner == t.Viewer {
		return "my " + name
	}
	if strings.HasPrefix(s.Whose, "seat ") {
		return name + " of " + s.Whose
	}
	return name + " of " + t.quote(s.Whose)
}
