package main

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
)

// limits are those that the console's fields keep to.
var limits = []struct {
	name string
	is   float64
}{
	{"seats", table.MaxSeats}, {"side", table.MaxSide}, {"leastSide", table.MinSide}, {"leastTable", table.MinTable},
	{"turn", table.MaxTurn}, {"oneTurn", table.MaxOneTurn}, {"name", table.MaxName}, {"label", table.MaxLabel}, {"title", table.MaxTitle},
	{"note", table.MaxNote}, {"faces", table.MaxSectors}, {"weight", table.MaxWeight}, {"seconds", table.MaxSeconds}, {"stack", table.MaxStack},
	{"cells", table.MaxCells},
}

// consoleTables is a TypeScript file of what the core's tables say.
func consoleTables() []byte {
	var out strings.Builder
	out.WriteString("// Written by make describe from the service's own tables; do not edit.\n\n")
	fmt.Fprintf(&out, "/** The words that a step can begin with. */\nexport const verbs = %s as const;\n\n", written(steps.Verbs()))
	fmt.Fprintf(&out, "/** The words that a name may not be without quotes. */\nexport const keywords: readonly string[] = %s;\n\n", written(steps.Keywords()))
	out.WriteString("/** Who may do each kind of action. */\nexport const mayDo = {\n")
	for _, kind := range table.ActionKinds() {
		if kind.By != table.Service {
			fmt.Fprintf(&out, "  %q: %q,\n", kind.Word, kind.By)
		}
	}
	out.WriteString("} as const;\n\n")
	fmt.Fprintf(&out, "export const zoneKinds = %s as const;\nexport const pieceKinds = %s as const;\n\n", written(table.ZoneKinds), written(table.PieceKinds))
	parts := map[table.PieceKind][]table.PiecePart{}
	for _, kind := range table.PieceKinds {
		parts[kind] = append([]table.PiecePart{}, kind.Parts()...)
	}
	fmt.Fprintf(&out, "/** What can be changed of pieces of each kind, beside what all have. */\nexport const pieceParts = %s as const;\n\n", written(parts))
	fmt.Fprintf(&out, "/** Letters that stand in keys as others, each with those. */\nexport const latin = %s as const;\n\n", written(slices.Collect(slices.Chunk(deck.Latin, 2))))
	fmt.Fprintf(&out, "/** How a line of Steps goes on: words before places, words between names, and the pieces that follow a verb. */\n")
	fmt.Fprintf(&out, "export const goesOn = { before: %s, between: %s, piecesAfter: %s } as const;\n\n", written(steps.Before), written(steps.Between), written(steps.PiecesAfter))
	fmt.Fprintf(&out, "export const pictureEndings = %s as const;\n\n", written(sheet.Endings))
	out.WriteString("/** Millimetres, degrees, letters, bytes, seconds and numbers of things. */\nexport const limits = {\n")
	for _, l := range limits {
		fmt.Fprintf(&out, "  %s: %v,\n", l.name, int(l.is))
	}
	out.WriteString("} as const;\n")
	return []byte(out.String())
}

func written(v any) string {
	text, err := json.Marshal(v)
	if err != nil {
		panic(err) // lists of words
	}
	return strings.ReplaceAll(string(text), `","`, `", "`)
}
