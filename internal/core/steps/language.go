package steps

import (
	"maps"
	"reflect"
	"slices"
	"strings"

	"damselfly.example/damselfly/internal/core/table"
)

// row is one thing that can be said: how it is read, how its action is written, and how
// the log tells of it. What adds to the language adds a row.
type row struct {
	verbs []string                   // the words it may begin with
	read  func(*reader) table.Action // reads what follows the verb
	print printing                   // writes the action it is read as
	say   said                       // tells of the deeds of such actions
}

// said tells of deeds, by their words.
type said map[string]func(told) string

// of tells of a deed of one kind.
func of[D table.Of](say func(told, D) string) func(told) string {
	return func(t told) string { return say(t, t.Of.(D)) }
}

// printing writes the actions of one type.
type printing struct {
	of    reflect.Type
	write func(*printer, table.Action) string
}

func printed[A table.Action](write func(*printer, A) string) printing {
	return printing{reflect.TypeFor[A](), func(p *printer, a table.Action) string { return write(p, a.(A)) }}
}

// lexicon is what all rows say together.
type lexicon struct {
	verbs    map[string]func(*reader) table.Action
	names    []string // of the verbs, in order
	prints   map[reflect.Type]func(*printer, table.Action) string
	says     said
	keywords keywords
}

// language is Steps as they are.
var language = lexiconOf(slices.Concat(orderRows, moveRows, sightRows, turnRows, pieceRows, tableRows, peopleRows))

func lexiconOf(rows []row) lexicon {
	l := lexicon{
		verbs: map[string]func(*reader) table.Action{}, prints: map[reflect.Type]func(*printer, table.Action) string{},
		says: said{}, keywords: keywords{},
	}
	for _, w := range strings.Fields("from of to onto under my seat top bottom all face up down felt at hand card cards by into " +
		"where and or not in chance first every other each over for with") {
		l.keywords[w] = true
	}
	for _, r := range rows {
		for _, verb := range r.verbs {
			l.verbs[verb], l.keywords[verb] = r.read, true
		}
		if r.print.of != nil {
			l.prints[r.print.of] = r.print.write
		}
		maps.Copy(l.says, r.say)
	}
	l.names = slices.Sorted(maps.Keys(l.verbs))
	return l
}

// Quote writes a name as it stands in a step: in quotes where it would be read otherwise.
func Quote(name string) string { return language.keywords.quote(name) }

// Keywords lists the words that a name in a step may not be without quotes.
func Keywords() []string { return slices.Sorted(maps.Keys(language.keywords)) }

// Verbs lists the words that a step can begin with.
func Verbs() []string { return slices.Clone(language.names) }
