package steps

import (
	"fmt"
	"strconv"
	"strings"

	"damselfly/internal/core/table"
)

// Say writes a deed as a step that its reader could write as well, as far as
// they saw the cards. Names it cannot say in the step follow as a comment; what
// is no step at all is a comment as a whole.
func Say(deed table.Told) string {
	t := told(deed)
	switch t.Do {
	case "sit":
		return fmt.Sprintf("# sits at seat %d", t.Count)
	case "free":
		return fmt.Sprintf("# leaves seat %d", t.Count)
	case "hand-on":
		return "# hands the seat on to " + t.Text
	case "rename":
		return "# is called " + t.Text
	case "shuffle":
		return "shuffle " + t.spot(t.From)
	case "shuffle-in":
		return "shuffle " + t.spot(t.From) + " into " + t.spot(t.To)
	case "cut":
		if t.Count > 0 {
			return fmt.Sprintf("cut %s at %d", t.spot(t.From), t.Count)
		}
		return "cut " + t.spot(t.From)
	case "sort":
		return "sort " + t.spot(t.From) + " by " + quote(t.Text)
	case "draw":
		return t.comment(fmt.Sprintf("draw %d from %s to %s", t.Count, t.spot(t.From), t.spot(t.To)))
	case "deal":
		return t.comment(fmt.Sprintf("deal %d from %s to %s", t.Count, t.spot(t.From), t.seat(t.To)))
	case "top-up":
		return t.comment(fmt.Sprintf("draw %d from %s to %s", t.Count, t.spot(t.From), t.spot(t.To)))
	case "move":
		preposition := " to "
		if t.Under {
			preposition = " under "
		}
		return t.picked("move", preposition+t.spot(t.To))
	case "swap":
		return t.comment("# swaps a card of " + t.spot(t.From) + " and one of " + t.spot(t.To))
	case "spread":
		by := ""
		if t.Text != "" {
			by = " by " + t.Text
		}
		return t.picked("spread", " over "+t.spot(t.To)+by)
	case "collect":
		return "collect " + t.spot(t.From) + " onto " + t.spot(t.To)
	case "search":
		return "# searches " + t.spot(t.From) + " and takes nothing"
	case "gather":
		return "gather " + quote(t.Text)
	case "flip":
		face := ""
		switch t.Side {
		case table.Front:
			face = " face up"
		case table.Back:
			face = " face down"
		}
		return t.picked("flip", face)
	case "rotate":
		return t.picked("rotate", "")
	case "peek":
		return t.comment(fmt.Sprintf("peek %d of %s", t.Count, t.spot(t.From)))
	case "close":
		return "close " + t.spot(t.From)
	case "arrange":
		if t.Count > 0 {
			return fmt.Sprintf("# puts the cards of %s back in an order of their own, %d underneath", t.spot(t.From), t.Count)
		}
		return "# puts the cards of " + t.spot(t.From) + " back in an order of their own"
	}
	return t.talk()
}

// talk writes deeds about seats and pieces.
func (t told) talk() string {
	switch t.Do {
	case "show":
		if t.To == nil {
			return t.picked("show", " to all"+seconds(t.Seconds))
		}
		return t.picked("show", " to "+t.seat(t.To)+seconds(t.Seconds))
	case "hide":
		return t.picked("hide", "")
	case "ask":
		if t.Text == "peek" {
			return fmt.Sprintf("ask %s to show %d", t.seat(t.From), t.Count)
		}
		return fmt.Sprintf("ask %s for %d", t.seat(t.From), t.Count)
	case "undo":
		return "undo  # " + t.Text
	case "decline", "withdraw":
		return t.Do
	case "pass":
		return "pass to " + t.seat(t.To)
	case "first":
		if t.Text == "chance" {
			return "choose first seat by chance  # " + t.seat(t.To)
		}
		return "choose " + t.seat(t.To) + " first"
	case "turn-round":
		return "reverse turns"
	case "set":
		return fmt.Sprintf("set %s to %d", quote(t.Piece), t.Count)
	case "roll", "spin":
		return t.Do + " " + quote(t.Piece) + "  # " + t.Text
	case "hand":
		return "hand " + quote(t.Piece) + " to " + t.seat(t.To)
	case "start", "stop", "reset":
		return t.Do + " " + quote(t.Piece)
	case "ring":
		return "# the time of " + t.Piece + " is up"
	case "move-piece":
		if len(t.At) != 2 {
			return "# moves " + t.Piece
		}
		return fmt.Sprintf("place %s%s at %.0f %.0f", someOf(t.Count), quote(t.Piece), t.At[0], t.At[1])
	case "stack":
		return "stack " + someOf(t.Count) + quote(t.Piece) + " onto " + quote(t.Text)
	case "write":
		return "# writes on " + t.Piece
	case "run":
		if t.Piece == "" {
			return "run setup"
		}
		return "run " + quote(t.Piece)
	case "say":
		return `say "` + strings.ReplaceAll(t.Text, `"`, "'") + `"`
	}
	return t.arranged()
}

// arranged writes deeds about how the table is laid and who may do what, which
// are no steps.
func (t told) arranged() string {
	switch t.Do {
	case "lay-zone":
		return "# " + laid(t.spot(t.To), t.Text)
	case "lay-piece":
		return "# " + laid(t.Piece, t.Text)
	case "take-off":
		if t.From != nil {
			return "# takes " + t.spot(t.From) + " off the table"
		}
		return "# takes " + t.Piece + " off the table"
	case "lay-table":
		return "# changes the table"
	case "door":
		return "# " + t.Text
	case "keys":
		return "# gives the room's keys to " + t.seat(t.To)
	case "end":
		return "# ends the game"
	case "change-seat":
		return fmt.Sprintf("# moves to seat %d", t.Count)
	}
	return "# " + t.Do
}

// laid says that something new was laid, or what of it was changed.
func laid(what, changes string) string {
	if changes == "new" {
		return "lays " + what
	}
	return "changes " + what + ": " + changes
}

// seat writes the seat a spot belongs to.
func (t told) seat(s *table.Spot) string {
	if strings.HasPrefix(s.Whose, "seat ") {
		return s.Whose
	}
	return quote(s.Whose)
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
	case t.Which == table.ByChance:
		return t.comment(fmt.Sprintf("%s %d by chance%s%s", verb, t.Count, from, rest))
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
	case s.Kind == table.Cell:
		if i := strings.LastIndexByte(s.Name, ' '); i > 0 {
			return quote(s.Name[:i]) + s.Name[i:]
		}
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
