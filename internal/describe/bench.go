package main

import (
	"fmt"
	"reflect"
	"slices"
	"strings"

	"damselfly.example/damselfly/console/core/answers"
	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/kit/start"
	"damselfly.example/damselfly/internal/core/sheet"
)

// onTheBench are the types that the bench speaks of, by its names for them: what the core
// answers, and the parts of kit.yaml. In a draft any part of kit.yaml may be missing.
var onTheBench = []struct {
	name   string
	is     reflect.Type
	partly bool     // any field may be missing
	but    []string // these
}{
	{"Grid", reflect.TypeFor[sheet.Grid](), false, nil},
	{"Guessed", reflect.TypeFor[sheet.Guessed](), false, nil},
	{"Cell", reflect.TypeFor[sheet.Cell](), false, nil},
	{"Report", reflect.TypeFor[sheet.Report](), false, nil},
	{"Packing", reflect.TypeFor[sheet.Packing](), true, nil},
	{"Listed", reflect.TypeFor[sheet.Listed](), false, nil},
	{"List", reflect.TypeFor[sheet.List](), false, nil},
	{"PackedSheet", reflect.TypeFor[answers.Packed](), false, nil},
	{"RowMistake", reflect.TypeFor[deck.RowError](), false, nil},
	{"RowsRead", reflect.TypeFor[answers.Rows](), false, nil},
	{"Drawn", reflect.TypeFor[answers.Drawn](), false, nil},
	{"Mistake", reflect.TypeFor[kit.Mistake](), false, nil},
	{"Copies", reflect.TypeFor[kit.Copies](), false, nil},
	{"DesignEntry", reflect.TypeFor[kit.Design](), true, nil},
	{"FoundDeck", reflect.TypeFor[answers.Deck](), false, nil},
	{"Found", reflect.TypeFor[answers.Found](), false, nil},
	{"Face", reflect.TypeFor[kit.Face](), true, nil},
	{"Part", reflect.TypeFor[kit.Part](), false, nil},
	{"DeckEntry", reflect.TypeFor[kit.Deck](), true, nil},
	{"SheetEntry", reflect.TypeFor[kit.Sheet](), true, []string{"file"}},
	{"Edge", reflect.TypeFor[deck.Edge](), false, nil},
	{"Box", reflect.TypeFor[deck.Box](), true, []string{"at"}},
	{"LayoutEntry", reflect.TypeFor[deck.Layout](), true, []string{"size", "front"}},
	{"ZoneEntry", reflect.TypeFor[kit.Zone](), false, nil},
	{"ZoneGrid", reflect.TypeFor[kit.Grid](), false, nil},
	{"PieceEntry", reflect.TypeFor[kit.Piece](), false, nil},
	{"TableEntry", reflect.TypeFor[kit.Table](), true, nil},
	{"BegunSheet", reflect.TypeFor[start.Sheet](), false, nil},
	{"BegunSheetEntry", reflect.TypeFor[start.SheetEntry](), false, nil},
	{"BegunDeck", reflect.TypeFor[start.Deck](), false, nil},
	{"BegunDeckEntry", reflect.TypeFor[start.DeckEntry](), false, nil},
	{"BegunLayout", reflect.TypeFor[start.Layout](), false, nil},
	{"Loose", reflect.TypeFor[start.Loose](), false, nil},
	{"Begun", reflect.TypeFor[start.Start](), false, nil},
	{"Noted", reflect.TypeFor[answers.Noted](), false, nil},
	{"Manifest", reflect.TypeFor[kit.Manifest](), true, nil},
}

// benchTypes is a TypeScript file of those types.
func benchTypes() []byte {
	names := map[reflect.Type]string{}
	for _, t := range onTheBench {
		names[t.is] = t.name
	}
	var out strings.Builder
	out.WriteString("// Written by make describe from the core's own types; do not edit.\n")
	for _, t := range onTheBench {
		fmt.Fprintf(&out, "\nexport interface %s {\n", t.name)
		writeFields(&out, t.is, names, func(field string) bool { return t.partly && !slices.Contains(t.but, field) })
		out.WriteString("}\n")
	}
	return []byte(out.String())
}

// writeFields writes the fields of a struct, and of those it embeds.
func writeFields(out *strings.Builder, t reflect.Type, names map[reflect.Type]string, mayMiss func(string) bool) {
	for field := range t.Fields() {
		if field.Anonymous {
			writeFields(out, field.Type, names, mayMiss)
			continue
		}
		tag, has := field.Tag.Lookup("json")
		if !has {
			tag = field.Tag.Get("yaml")
		}
		name, options, _ := strings.Cut(tag, ",")
		if name == "" || name == "-" {
			continue
		}
		maybe := ""
		if mayMiss(name) || strings.Contains(options, "omit") {
			maybe = "?"
		}
		fmt.Fprintf(out, "  %s%s: %s;\n", quotedField(name), maybe, typeScript(field, names))
	}
}

func quotedField(name string) string {
	if strings.Contains(name, "-") {
		return `"` + name + `"`
	}
	return name
}

// typeScript is the type of a field. The tag "numbers" says of how many numbers a
// list is.
func typeScript(field reflect.StructField, names map[reflect.Type]string) string {
	switch numbers := field.Tag.Get("numbers"); numbers {
	case "2":
		return "[number, number]"
	case "4":
		return "[number, number, number, number]"
	}
	return typeOf(field.Type, names)
}

// oneOrAll reports whether a list is written as one number where all are the same.
func oneOrAll(t reflect.Type) bool {
	return t == reflect.TypeFor[sheet.Margin]() || t == reflect.TypeFor[sheet.Gutter]()
}

func typeOf(t reflect.Type, names map[reflect.Type]string) string {
	if name, named := names[t]; named {
		return name
	}
	if oneOrAll(t) {
		return "number | number[]"
	}
	switch t.Kind() {
	case reflect.Pointer:
		return typeOf(t.Elem(), names)
	case reflect.Slice:
		return typeOf(t.Elem(), names) + "[]"
	case reflect.Array:
		return "[" + strings.Join(slices.Repeat([]string{typeOf(t.Elem(), names)}, t.Len()), ", ") + "]"
	case reflect.Map:
		return "Record<string, " + typeOf(t.Elem(), names) + ">"
	case reflect.String:
		return "string"
	case reflect.Bool:
		return "boolean"
	case reflect.Interface:
		return "unknown"
	case reflect.Struct:
		panic(fmt.Sprintf("the bench has no name for %s", t))
	}
	return "number"
}
