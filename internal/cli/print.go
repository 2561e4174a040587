package cli

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/charmbracelet/lipgloss"
	"github.com/charmbracelet/lipgloss/table"
	"github.com/muesli/termenv"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/wire"
)

// ink styles text where the output is a terminal, and leaves it plain in a pipe.
type ink struct{ strong, faint, warn, good lipgloss.Style }

func (a *app) ink() ink {
	out := a.out
	if p, is := out.(plain); is {
		out = p.to // whether it is a terminal shows there
	}
	r := lipgloss.NewRenderer(out, termenv.WithColorCache(true))
	return ink{
		strong: r.NewStyle().Bold(true),
		faint:  r.NewStyle().Faint(true),
		warn:   r.NewStyle().Foreground(lipgloss.AdaptiveColor{Light: "#b45309", Dark: "#fbbf24"}),
		good:   r.NewStyle().Foreground(lipgloss.AdaptiveColor{Light: "#0f766e", Dark: "#5eead4"}),
	}
}

func plural(n int, thing string) string {
	if n == 1 {
		return "1 " + thing
	}
	return fmt.Sprintf("%d %ss", n, thing)
}

func when(at int64) string { return time.UnixMilli(at).Format("2006-01-02 15:04") }

func (a *app) printTable(none string, head []string, rows [][]string) {
	if len(rows) == 0 {
		fmt.Fprintln(a.out, none)
		return
	}
	ink := a.ink()
	t := table.New().Headers(head...).Rows(rows...).Border(lipgloss.NormalBorder()).BorderStyle(ink.faint).
		StyleFunc(func(row, _ int) lipgloss.Style {
			style := ink.strong
			if row >= 0 {
				style = lipgloss.NewStyle()
			}
			return style.Padding(0, 1)
		})
	fmt.Fprintln(a.out, t)
}

// printCheck draws the sheet's grid: each cell with its number and what it is.
func (a *app) printCheck(file string, c sheet.Report, guessed bool) {
	ink := a.ink()
	grid := c.Grid.Words()
	if guessed {
		grid += fmt.Sprintf(", guessed with confidence %.2f", c.Guesses[0].Confidence)
	}
	fmt.Fprintf(a.out, "%s: %d × %d pixels, %s\n", ink.strong.Render(file), c.Width, c.Height, grid)
	rows := make([][]string, c.Grid.Rows)
	for _, cell := range c.Cells {
		text := ink.good.Render(fmt.Sprintf("%d content", cell.Number))
		if cell.Empty {
			text = ink.faint.Render(fmt.Sprintf("%d empty", cell.Number))
		}
		if n := len(cell.Warnings); n > 0 {
			text += ink.warn.Render(" !")
		}
		rows[cell.Row-1] = append(rows[cell.Row-1], text)
	}
	head := make([]string, c.Grid.Columns)
	for i := range head {
		head[i] = fmt.Sprintf("column %d", i+1)
	}
	a.printTable("", head, rows)
	fmt.Fprintf(a.out, "%s with content, %s.\n", plural(c.Content(), "cell"), strings.ToLower(plural(len(c.Cells)-c.Content(), "empty cell")))
	for _, w := range c.Problems() {
		fmt.Fprintln(a.out, ink.warn.Render("! "+w))
	}
	for _, n := range c.Notes {
		fmt.Fprintln(a.out, "  "+n)
	}
}

func decks(sizes []wire.DeckSize) string {
	var all []string
	for _, d := range sizes {
		all = append(all, fmt.Sprintf("%s with %s and %s", d.Key, plural(d.Designs, "design"), plural(d.Cards, "card")))
	}
	return strings.Join(all, ", ")
}

func (a *app) printPut(put client.KitPut) {
	if !put.Fresh {
		fmt.Fprintf(a.out, "%s is on the shelf already, as edition %d; nothing changed.\n", put.Name, put.Edition)
		return
	}
	fmt.Fprintf(a.out, "%s is on the shelf as edition %d: %s.\n", put.Name, put.Edition, decks(put.Decks))
	for _, w := range put.Warnings {
		fmt.Fprintln(a.out, a.ink().warn.Render("! "+w))
	}
	fmt.Fprintf(a.out, "Open a room with: damselfly room open %q\n", put.Name)
}

func (a *app) printLines(lines []client.LogLine) {
	ink := a.ink()
	for _, line := range lines {
		at := time.UnixMilli(line.At).Format("15:04:05")
		fmt.Fprintf(a.out, "%s  %s  %s\n", ink.faint.Render(at), ink.strong.Render(fmt.Sprintf("%-10s", line.Who)), strings.TrimPrefix(line.Text, "# "))
	}
}

// printLook shows a table: who sits where, what lies where, and one's own hand
// at the end.
func (a *app) printLook(room string, look client.Look) {
	ink, v := a.ink(), look.View
	you := "you watch"
	if v.You > 0 {
		you = fmt.Sprintf("you are %s at seat %d", v.Seats[v.You-1].Name, v.You)
	}
	fmt.Fprintf(a.out, "%s, room %s; %s\n", ink.strong.Render(v.Settings.Name), room, you)
	a.printSeats(look)
	rows := [][]string{}
	var hand *sight.Place
	slices.SortStableFunc(v.Places, func(a, b sight.Place) int { return int(a.Owner - b.Owner) }) // what is everyone's first
	for i, p := range v.Places {
		switch {
		case p.Kind == "hand" && p.Owner == v.You:
			hand = &v.Places[i]
		case p.Kind == "hand", p.Kind == "cell": // a cell is told with its grid
		case p.Kind == "grid":
			rows = append(rows, a.gridRow(v, p))
		default:
			rows = append(rows, []string{placeName(v, p), string(p.Kind), fmt.Sprint(p.Count), a.cards(p, v.Faces)})
		}
	}
	a.printTable("The table is bare.", []string{"place", "kind", "cards", "in view"}, rows)
	a.printPieces(v)
	switch {
	case hand == nil: // who watches has none
	case hand.Count == 0:
		fmt.Fprintf(a.out, "%s is empty.\n", ink.strong.Render("My hand"))
	default:
		fmt.Fprintf(a.out, "%s (%s): %s\n", ink.strong.Render("My hand"), plural(hand.Count, "card"), a.cards(*hand, v.Faces))
	}
}

// gridRow is a grid with what lies on its cells, a line for each row of them.
func (a *app) gridRow(v client.View, grid sight.Place) []string {
	count := 0
	byRow := map[int][]string{}
	for _, p := range v.Places {
		_, name := p.ID.Parts()
		if at, ok := grid.Grid.Parse(name); ok && p.Of == grid.ID {
			count += p.Count
			byRow[at.Row] = append(byRow[at.Row], name+" "+a.cards(p, v.Faces))
		}
	}
	var lines []string
	for _, row := range slices.Sorted(maps.Keys(byRow)) {
		lines = append(lines, strings.Join(byRow[row], ", "))
	}
	return []string{placeName(v, grid), "grid", fmt.Sprint(count), strings.Join(lines, "\n")}
}

// printPieces writes each piece with what it shows, and asks that wait.
func (a *app) printPieces(v client.View) {
	var all []string
	for _, p := range v.Pieces {
		if shows := pieceShows(v, p); shows != "" {
			all = append(all, p.Name+" "+a.ink().good.Render(shows))
		}
	}
	if len(all) > 0 {
		fmt.Fprintln(a.out, strings.Join(all, ", "))
	}
	if cues := cuesOf(v); len(cues) > 0 {
		fmt.Fprintf(a.out, "Cues: %s\n", strings.Join(cues, ", "))
	}
	for _, ask := range v.Asks {
		what := "for"
		if ask.For == "peek" {
			what = "to show"
		}
		fmt.Fprintf(a.out, "%s asks %s %s %s.\n", v.Seats[ask.From-1].Name, v.Seats[ask.To-1].Name, what, plural(ask.Count, "card"))
	}
}

// cuesOf are the steps that run each cue, and the setup.
func cuesOf(v client.View) []string {
	var cues []string
	if v.Settings.Setup != "" {
		cues = append(cues, "run setup")
	}
	for _, p := range v.Pieces {
		if p.Kind == "cue" {
			cues = append(cues, fmt.Sprintf("run %q", p.Name))
		}
	}
	return cues
}

func pieceShows(v client.View, p client.Piece) string {
	switch p.Kind {
	case "counter":
		return fmt.Sprint(p.Value)
	case "die", "spinner":
		if p.Up > 0 {
			return p.Sectors[p.Up-1].Name
		}
	case "marker":
		if p.Seat > 0 {
			return "at " + v.Seats[p.Seat-1].Name
		}
	case "timer":
		left := p.Left
		if p.Ends > 0 {
			left = max(p.Ends-time.Now().UnixMilli(), 0)
		}
		return (time.Duration(left) * time.Millisecond).Round(time.Second).String()
	case "note":
		return fmt.Sprintf("%q", p.Text)
	}
	return ""
}

func (a *app) printSeats(look client.Look) {
	ink, v := a.ink(), look.View
	rows := [][]string{}
	for _, s := range v.Seats {
		name, state := s.Name, "away"
		if slices.Contains(look.Here, s.Number) {
			state = ink.good.Render("here")
		}
		if name == "" {
			name, state = ink.faint.Render("free"), ""
		}
		count := 0
		for _, p := range v.Places {
			if p.Kind == "hand" && p.Owner == s.Number {
				count += p.Count
			}
		}
		if v.Marker.Seat == s.Number {
			state = strings.TrimSpace(state + " " + ink.strong.Render("turn"))
		}
		rows = append(rows, []string{fmt.Sprint(s.Number), name, plural(count, "card"), state})
	}
	a.printTable("", []string{"seat", "player", "in hand", ""}, rows)
}

func placeName(v client.View, p sight.Place) string {
	if p.Owner == 0 {
		return p.Name
	}
	if p.Owner == v.You {
		return "my " + p.Name
	}
	if name := v.Seats[p.Owner-1].Name; name != "" {
		return p.Name + " of " + name
	}
	return fmt.Sprintf("%s of seat %d", p.Name, p.Owner)
}

// listedName is a name as it stands in a list: in quotes where a comma in it would look like the list's.
func listedName(name string) string {
	if strings.Contains(name, ",") {
		return strconv.Quote(name)
	}
	return name
}

// cards writes what is in view of a place.
func (a *app) cards(p sight.Place, faces sight.Faces) string {
	ink := a.ink()
	var all []string
	for _, c := range p.Cards {
		switch face := faces[c.Face]; face.Side {
		case "front":
			all = append(all, ink.good.Render(listedName(face.Name)))
		default:
			all = append(all, ink.faint.Render("("+face.Deck+", face down)"))
		}
	}
	for _, veil := range p.Veils {
		all = append(all, ink.faint.Render(fmt.Sprintf("(%d of %s, hidden)", veil.Count, faces[veil.Face].Deck)))
	}
	return strings.Join(all, ", ")
}
