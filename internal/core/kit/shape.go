package kit

import (
	"bytes"
	"cmp"
	"fmt"
	"reflect"
	"regexp"
	"slices"
	"strings"

	"github.com/goccy/go-yaml/ast"

	"damselfly.example/damselfly/internal/core/table"
)

// shape compares what stands in kit.yaml with what a kit has, and finds all that does not
// fit, each with its place: fields that are not known, and values of another kind.
type shape struct {
	mistakes []error
	american []place // of names that are spelt as in America
}

// place is where a word stands in kit.yaml: its line and its column, from 1.
type place struct{ line, column int }

// spelt is the text with the spellings that are used here.
func (s *shape) spelt(text []byte) []byte {
	if len(s.american) == 0 {
		return text
	}
	lines := strings.Split(string(text), "\n")
	slices.SortFunc(s.american, func(a, b place) int { return cmp.Or(b.line-a.line, b.column-a.column) }) // the last first
	for _, p := range s.american {
		letters := []rune(lines[p.line-1])
		for from, to := range american {
			if rest, is := strings.CutPrefix(string(letters[p.column-1:]), from); is {
				lines[p.line-1] = string(letters[:p.column-1]) + to + rest
				break
			}
		}
	}
	return []byte(strings.Join(lines, "\n"))
}

// mostMistakes is how many are found at once; a file of a megabyte may have a hundred thousand.
const mostMistakes = 100

func (s *shape) wrong(n ast.Node, format string, args ...any) {
	if len(s.mistakes) == mostMistakes {
		s.mistakes = append(s.mistakes, &Mistake{File: manifestFile, Text: "and more; mend these first"})
	}
	if len(s.mistakes) > mostMistakes {
		return
	}
	m := &Mistake{File: manifestFile, Path: strings.TrimPrefix(n.GetPath(), "$."), Text: fmt.Sprintf(format, args...)}
	if t := n.GetToken(); t != nil && t.Position != nil {
		m.Line, m.Column = t.Position.Line, t.Position.Column
	}
	s.mistakes = append(s.mistakes, m)
}

// look compares a node with the type that it is read into.
func (s *shape) look(n ast.Node, t reflect.Type) {
	if n == nil || n.Type() == ast.NullType {
		return
	}
	if tag, is := n.(*ast.TagNode); is {
		n = tag.Value
	}
	switch t.Kind() {
	case reflect.Pointer:
		s.look(n, t.Elem())
	case reflect.Struct:
		s.fields(n, t)
	case reflect.Map:
		s.entries(n, "a block of names and what each is", func(_ *ast.MappingValueNode, value ast.Node) { s.look(value, t.Elem()) })
	case reflect.Slice, reflect.Array:
		s.list(n, t)
	case reflect.Int, reflect.Int64, reflect.Uint64:
		if n.Type() != ast.IntegerType {
			s.wrong(n, "%s is to be a whole number", said(n))
		}
	case reflect.Float64:
		if n.Type() != ast.IntegerType && n.Type() != ast.FloatType {
			s.wrong(n, "%s is to be a number", said(n))
		}
	case reflect.Bool:
		if n.Type() != ast.BoolType {
			s.wrong(n, "%s is to be true or false", said(n))
		}
	case reflect.String:
		if _, mapped := entriesOf(n); mapped || n.Type() == ast.SequenceType {
			s.wrong(n, "this is to be text; put it in quotes if it has signs such as : or [ in it")
		}
	}
}

// said is what a node says, in a few letters.
func said(n ast.Node) string {
	if _, mapped := entriesOf(n); mapped {
		return "this block"
	}
	if n.Type() == ast.SequenceType {
		return "this list"
	}
	text := []rune(strings.TrimSpace(n.String()))
	return fmt.Sprintf("%q", string(text[:min(len(text), 30)]))
}

func (s *shape) list(n ast.Node, t reflect.Type) {
	list, is := n.(*ast.SequenceNode)
	if t.Kind() == reflect.Array { // one number for all, or one for each
		whole := !is && n.Type() == ast.IntegerType || is && len(list.Values) == t.Len()
		for i := 0; is && whole && i < len(list.Values); i++ {
			whole = list.Values[i].Type() == ast.IntegerType
		}
		if !whole {
			s.wrong(n, "this is to be one whole number, or a list of %d", t.Len())
		}
		return
	}
	if !is {
		text := strings.Trim(said(n), `"`)
		if numbers.MatchString(text) {
			if !strings.Contains(text, ",") { // what follows stands behind the comma
				text += ", …"
			}
			s.wrong(n, "a list is written in brackets: [%s]", text)
			return
		}
		s.wrong(n, "%s is to be a list, such as [1, 2]", said(n))
		return
	}
	for _, one := range list.Values {
		s.look(one, t.Elem())
	}
}

// numbers are several numbers without the brackets of a list.
var numbers = regexp.MustCompile(`^-?[\d.]+(\s*,\s*-?[\d.]+)*$`)

// entriesOf are the entries of a mapping; the YAML library has two kinds of them.
func entriesOf(n ast.Node) (entries []*ast.MappingValueNode, is bool) {
	switch n := n.(type) {
	case *ast.MappingNode:
		return n.Values, true
	case *ast.MappingValueNode:
		return []*ast.MappingValueNode{n}, true
	}
	return nil, false
}

func (s *shape) entries(n ast.Node, what string, each func(entry *ast.MappingValueNode, value ast.Node)) {
	entries, is := entriesOf(n)
	if !is {
		s.wrong(n, "%s is to be %s", said(n), what)
		return
	}
	for _, entry := range entries {
		each(entry, entry.Value)
	}
}

// american are spellings that makers write, and what they are called here.
var american = map[string]string{"color": "colour", "center": "centre", "gray": "grey"}

func (s *shape) fields(n ast.Node, t reflect.Type) {
	known := map[string]reflect.Type{}
	var names []string
	for field := range t.Fields() {
		if name, _, _ := strings.Cut(field.Tag.Get("yaml"), ","); name != "" && name != "-" {
			known[name] = field.Type
			names = append(names, name)
		}
	}
	s.entries(n, "a block with "+list(names), func(entry *ast.MappingValueNode, value ast.Node) {
		name := strings.Trim(entry.Key.String(), `"'`)
		if numbers.MatchString(name) && value.Type() == ast.NullType {
			return // the rest of a list without brackets, which is told where it begins
		}
		if is, there := known[name]; there {
			s.look(value, is)
			return
		}
		if is, there := known[american[name]]; there {
			if t := entry.Key.GetToken(); t != nil && t.Position != nil {
				s.american = append(s.american, place{t.Position.Line, t.Position.Column})
			}
			s.look(value, is)
			return
		}
		s.wrong(entry.Key, "there is no field %q here%s", name, meant(name, names))
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

// inWords puts what the YAML library says of a line into words for its writer.
func inWords(said, line string) string {
	content := strings.TrimSpace(line)
	if twice := definedTwice.FindStringSubmatch(said); twice != nil {
		return fmt.Sprintf("%q stands here a second time; the first is in line %s", twice[1], twice[2])
	}
	switch {
	case strings.HasPrefix(line, "\t"), strings.Contains(said, `'\t'`), strings.Contains(said, "'\t'"):
		return "a tab stands here; indent with spaces"
	case strings.Contains(content, ": #"), strings.Contains(content, ":#"):
		return `nothing stands after the colon: what begins with # is a comment; put a colour in quotes, as "#ff0000"`
	case strings.Contains(said, "must be specified"), strings.Contains(said, "end token"):
		return "a list or block in brackets is not closed: a comma or a closing bracket is missing here or before"
	}
	return "this cannot be read: look for a colon, a comma, a bracket or a quote that is missing or too many here or in the line before, and at how far lines are indented"
}

// definedTwice is how the library says that a name stands twice in a block.
var definedTwice = regexp.MustCompile(`mapping key "(.*)" already defined at \[(\d+):`)
