package kit

import (
	"bytes"
	"fmt"
	"reflect"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"go.yaml.in/yaml/v4"

	"damselfly.example/damselfly/internal/core/table"
)

// shape compares what stands in kit.yaml with what a kit has, and finds all that does not
// fit, each with its place: fields that are not known, and values of another kind.
// Names that are spelt as in America are spelt as here from then on.
type shape struct{ mistakes []error }

// mostMistakes is how many are found at once; a file of a megabyte may have a hundred thousand.
const mostMistakes = 100

func (s *shape) wrong(n *yaml.Node, path, format string, args ...any) {
	if len(s.mistakes) == mostMistakes {
		s.mistakes = append(s.mistakes, &Mistake{File: manifestFile, Text: "and more; mend these first"})
	}
	if len(s.mistakes) > mostMistakes {
		return
	}
	s.mistakes = append(s.mistakes, &Mistake{File: manifestFile, Path: path, Line: n.Line, Column: n.Column, Text: fmt.Sprintf(format, args...)})
}

// look compares a node, which stands at a path such as "decks.weather", with the type that it is read into.
func (s *shape) look(n *yaml.Node, path string, t reflect.Type) {
	if isNull(n) {
		return
	}
	switch t.Kind() {
	case reflect.Pointer:
		s.look(n, path, t.Elem())
	case reflect.Struct:
		s.fields(n, path, t)
	case reflect.Map:
		s.entries(n, path, "a block of names and what each is", func(key, value *yaml.Node) { s.look(value, below(path, key), t.Elem()) })
	case reflect.Slice, reflect.Array:
		s.list(n, path, t)
	case reflect.Int, reflect.Int64, reflect.Uint64:
		s.number(n, path, "a whole number", wholeNumber(n))
	case reflect.Float64:
		s.number(n, path, "a number", wholeNumber(n) || n.ShortTag() == "!!float")
	case reflect.Bool:
		if n.ShortTag() != "!!bool" {
			s.wrong(n, path, "%s is to be true or false", said(n))
		}
	case reflect.String:
		if n.Kind != yaml.ScalarNode {
			s.wrong(n, path, "this is to be text; put it in quotes if it has signs such as : or [ in it")
		}
	}
}

func (s *shape) number(n *yaml.Node, path, what string, is bool) {
	switch _, err := strconv.ParseFloat(n.Value, 64); {
	case is:
	case n.ShortTag() == "!!str" && err == nil && n.Style&(yaml.SingleQuotedStyle|yaml.DoubleQuotedStyle) != 0:
		s.wrong(n, path, "%q is text; write %s, without quotes", n.Value, n.Value)
	default:
		s.wrong(n, path, "%s is to be %s", said(n), what)
	}
}

func wholeNumber(n *yaml.Node) bool { return n.Kind == yaml.ScalarNode && n.ShortTag() == "!!int" }

// below is the path of an entry of a block.
func below(path string, key *yaml.Node) string {
	if path == "" {
		return key.Value
	}
	return path + "." + key.Value
}

// said is what a node says, in a few letters.
func said(n *yaml.Node) string {
	switch n.Kind {
	case yaml.MappingNode:
		return "this block"
	case yaml.SequenceNode:
		return "this list"
	}
	text := []rune(strings.TrimSpace(n.Value))
	return fmt.Sprintf("%q", string(text[:min(len(text), 30)]))
}

func (s *shape) list(n *yaml.Node, path string, t reflect.Type) {
	is := n.Kind == yaml.SequenceNode
	if t.Kind() == reflect.Array { // one number for all, or one for each
		whole := wholeNumber(n) || is && len(n.Content) == t.Len() && !slices.ContainsFunc(n.Content, func(one *yaml.Node) bool { return !wholeNumber(one) })
		if !whole {
			s.wrong(n, path, "this is to be one whole number, or a list of %d", t.Len())
		}
		return
	}
	if !is {
		text := strings.Trim(said(n), `"`)
		if numbers.MatchString(text) {
			if !strings.Contains(text, ",") { // what follows stands behind the comma
				text += ", …"
			}
			s.wrong(n, path, "a list is written in brackets: [%s]", text)
			return
		}
		s.wrong(n, path, "%s is to be a list, such as [1, 2]", said(n))
		return
	}
	for i, one := range n.Content {
		s.look(one, fmt.Sprintf("%s[%d]", path, i), t.Elem())
	}
}

// numbers are several numbers without the brackets of a list.
var numbers = regexp.MustCompile(`^-?[\d.]+(\s*,\s*-?[\d.]+)*$`)

func (s *shape) entries(n *yaml.Node, path, what string, each func(key, value *yaml.Node)) {
	if n.Kind != yaml.MappingNode {
		s.wrong(n, path, "%s is to be %s", said(n), what)
		return
	}
	first := map[string]int{} // the line of each name
	for key, value := range entriesOf(n) {
		if line, twice := first[key.Value]; twice && key.Kind == yaml.ScalarNode {
			s.wrong(key, below(path, key), "%q stands here a second time; the first is in line %d", key.Value, line)
			continue
		}
		first[key.Value] = key.Line
		each(key, value)
	}
}

// american are spellings that makers write, and what they are called here.
var american = map[string]string{"color": "colour", "center": "centre", "gray": "grey"}

func (s *shape) fields(n *yaml.Node, path string, t reflect.Type) {
	known := map[string]reflect.Type{}
	var names []string
	for field := range t.Fields() {
		if name, _, _ := strings.Cut(field.Tag.Get("yaml"), ","); name != "" && name != "-" {
			known[name] = field.Type
			names = append(names, name)
		}
	}
	s.entries(n, path, "a block with "+list(names), func(key, value *yaml.Node) {
		if numbers.MatchString(key.Value) && isNull(value) {
			return // the rest of a list without brackets, which is told where it begins
		}
		if here, is := american[key.Value]; is && known[here] != nil {
			key.Value = here
		}
		if is, there := known[key.Value]; there {
			s.look(value, below(path, key), is)
			return
		}
		s.wrong(key, below(path, key), "there is no field %q here%s", key.Value, meant(key.Value, names))
	})
}

// meant is what a mistaken name may have meant.
func meant(name string, names []string) string {
	if near := table.DidYouMean(name, names); near != "" {
		return near
	}
	return "; there is " + list(slices.Sorted(slices.Values(names)))
}

// withoutMark takes away the mark with which some editors begin a file.
func withoutMark(text []byte) []byte { return bytes.TrimPrefix(text, []byte("\ufeff")) }

// cutByComment is whether a value of a line is taken for a comment.
func cutByComment(line string) bool {
	return strings.Contains(line, ": #") || strings.Contains(line, ":#")
}

const nothingAfterColon = `nothing stands after the colon: what begins with # is a comment; put a colour in quotes, as "#ff0000"`

// inWords says what may be wrong with a line that cannot be read.
func inWords(line string) string {
	content := strings.TrimSpace(line)
	switch {
	case strings.HasPrefix(line, "\t"), strings.HasPrefix(strings.TrimLeft(line, " "), "\t"):
		return "a tab stands here; indent with spaces"
	case cutByComment(line):
		return nothingAfterColon
	case strings.Count(content, ": ") > 1 && !strings.ContainsAny(content, "{["):
		return "two colons stand in this line; put the text after the first in quotes"
	}
	return "this cannot be read: look for a colon, a comma, a bracket or a quote that is missing or too many here or in the line before, and at how far lines are indented"
}
