package kit

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"go.yaml.in/yaml/v4"
	"go.yaml.in/yaml/v4/plugin/loaderlimits"

	"damselfly.example/damselfly/internal/core/steps"
)

// maxDepth is how deep lists and blocks may stand in each other.
const maxDepth = 40

// leniently reads what was looked over already. That a name stands once in a block is seen there, in linear time.
var leniently = yaml.WithUniqueKeys(false)

// parsed reads kit.yaml into nodes that know their places, and refuses what YAML has and no kit.
func parsed(text []byte) (*yaml.Node, error) {
	if err := readable(text); err != nil {
		return nil, err
	}
	var stream yaml.Node
	limits := yaml.WithPlugin(loaderlimits.New(loaderlimits.DepthValue(maxDepth)))
	loader, err := yaml.NewLoader(bytes.NewReader(text), leniently, limits)
	if err == nil {
		err = loader.Load(&stream)
	}
	if errors.Is(err, io.EOF) || err == nil && isNull(stream.Content[0]) {
		return nil, &Mistake{File: manifestFile, Text: "the file is empty; it begins with \"kit: 1\""}
	}
	if err != nil {
		return nil, yamlMistake(err, text)
	}
	var more yaml.Node
	if err := loader.Load(&more); err == nil {
		return nil, &Mistake{File: manifestFile, Line: more.Line, Column: 1, Text: "a kit.yaml has one part; take away the line --- that begins another"}
	} else if !errors.Is(err, io.EOF) {
		return nil, yamlMistake(err, text)
	}
	if odd := oddity(stream.Content[0]); odd != nil {
		return nil, odd
	}
	return stream.Content[0], nil
}

// readable refuses bytes that are no text: another encoding than UTF-8, and control characters.
func readable(text []byte) error {
	if bytes.HasPrefix(text, []byte{0xff, 0xfe}) || bytes.HasPrefix(text, []byte{0xfe, 0xff}) {
		return &Mistake{File: manifestFile, Line: 1, Column: 1, Text: "this file is written in UTF-16; save it in your editor as UTF-8"}
	}
	line, column := 1, 1
	for i := 0; i < len(text); {
		letter, size := utf8.DecodeRune(text[i:])
		switch {
		case letter == utf8.RuneError && size == 1:
			return &Mistake{File: manifestFile, Line: line, Column: column, Text: "a letter here is not written in UTF-8; save the file in your editor as UTF-8"}
		case letter == '\n':
			line, column = line+1, 0
		case letter != '\t' && letter != '\r' && unicode.IsControl(letter) && letter != '\u0085':
			return &Mistake{File: manifestFile, Line: line, Column: column, Text: fmt.Sprintf("a sign that cannot be seen (number %d) stands here; take it away", letter)}
		}
		i, column = i+size, column+1
	}
	return nil
}

func isNull(n *yaml.Node) bool { return n.Kind == yaml.ScalarNode && n.ShortTag() == "!!null" }

// oddity finds what YAML has and no kit: aliases, which let small files grow without bound when they are read, tags, and
// values that are no number. A day is text here.
func oddity(n *yaml.Node) error {
	odd := func(text string) error {
		return &Mistake{File: manifestFile, Line: n.Line, Column: n.Column, Text: text}
	}
	switch {
	case n.Kind == yaml.AliasNode || n.Anchor != "" || n.ShortTag() == "!!merge":
		return odd("anchors and aliases (& and *) are not taken here; write the value out")
	case n.Style&yaml.TaggedStyle != 0:
		return odd("tags, which begin with !, are not taken here; put a text that begins so in quotes")
	case n.ShortTag() == "!!float" && noNumber[strings.ToLower(strings.TrimLeft(n.Value, "+-"))]:
		return odd("this is no number that anything can measure; write one such as 63.5")
	case n.ShortTag() == "!!timestamp":
		n.Tag = "!!str"
	}
	for _, one := range n.Content {
		if err := oddity(one); err != nil {
			return err
		}
	}
	return nil
}

var noNumber = map[string]bool{".nan": true, ".inf": true}

// yamlMistake turns the YAML library's error into a mistake with its place.
func yamlMistake(err error, text []byte) error {
	m := &Mistake{File: manifestFile}
	var y *yaml.LoadError
	if !errors.As(err, &y) {
		m.Text = err.Error()
		return m
	}
	m.Line, m.Column = y.Mark.Line, y.Mark.Column
	if own := y.Unwrap(); own != nil && y.Stage == yaml.ConstructorStage {
		m.Text = own.Error() // of values that read themselves, in our words
		return m
	}
	lines := strings.Split(string(text), "\n")
	switch {
	case strings.Contains(y.Message, "max depth"):
		m.Text = fmt.Sprintf("lists and blocks stand more than %d deep in each other here", maxDepth)
	case y.ContextMsg == "while scanning a quoted scalar":
		m.Line, m.Column, m.Text = y.ContextMark.Line, y.ContextMark.Column, "the quote that begins here is not closed"
	case strings.HasPrefix(y.ContextMsg, "while parsing a flow"):
		m.Text = fmt.Sprintf("the brackets that begin in line %d are not closed: a comma or a closing bracket is missing here or before", y.ContextMark.Line)
		if before := y.Mark.Line - 1; before > 0 && cutByComment(lines[before-1]) {
			m.Line, m.Column, m.Text = before, strings.Index(lines[before-1], "#")+1, nothingAfterColon
		}
	case m.Line > 0 && m.Line <= len(lines):
		m.Text = inWords(lines[m.Line-1])
	default:
		m.Text = inWords("")
	}
	return m
}

// mistake is a mistake at a path of kit.yaml, such as "$.decks.weather.back".
func (k *Kit) mistake(path, format string, args ...any) error {
	path = strings.TrimPrefix(strings.TrimPrefix(path, "$"), ".")
	at := placed(k.source, path)
	return &Mistake{File: manifestFile, Path: path, Line: at.Line, Column: at.Column, Text: fmt.Sprintf(format, args...)}
}

// placed finds the node at a path, or where the path's last part is missing the one that lacks it.
func placed(n *yaml.Node, path string) *yaml.Node {
	for path != "" {
		below, rest := step(n, path)
		if below == nil {
			break
		}
		n, path = below, rest
	}
	return n
}

// step goes down one part of a path: a name, or a number in brackets.
func step(n *yaml.Node, path string) (below *yaml.Node, rest string) {
	if inside, isNumber := strings.CutPrefix(path, "["); isNumber {
		number, rest, _ := strings.Cut(inside, "]")
		if i, err := strconv.Atoi(number); err == nil && n.Kind == yaml.SequenceNode && i < len(n.Content) {
			return n.Content[i], strings.TrimPrefix(rest, ".")
		}
		return nil, ""
	}
	longest := -1 // a name may have dots in it
	for key, value := range entriesOf(n) {
		after, is := strings.CutPrefix(path, key.Value)
		if is && len(key.Value) > longest && (after == "" || after[0] == '.' || after[0] == '[') {
			below, rest, longest = value, strings.TrimPrefix(after, "."), len(key.Value)
		}
	}
	return below, rest
}

// entriesOf are the names and values of a block, in their order; none if it is no block.
func entriesOf(n *yaml.Node) func(func(key, value *yaml.Node) bool) {
	return func(yield func(key, value *yaml.Node) bool) {
		if n.Kind != yaml.MappingNode {
			return
		}
		for pair := range slices.Chunk(n.Content, 2) {
			if !yield(pair[0], pair[1]) {
				return
			}
		}
	}
}

// stepsMistake is a mistake in Steps that stand in kit.yaml, at their own line there.
func (k *Kit) stepsMistake(path, text string, err error) error {
	m, _ := k.mistake(path, "%s", err).(*Mistake)
	var wrong *steps.Error
	if !errors.As(err, &wrong) || m.Line == 0 {
		return m
	}
	lines := strings.Split(string(k.text), "\n")
	first := strings.TrimSpace(strings.SplitN(text, "\n", 2)[0])
	for at := m.Line; at < len(lines) && strings.Contains(text, "\n"); at++ { // a block of lines begins below its "|"
		if strings.TrimSpace(lines[at]) != first {
			continue
		}
		indent := len(lines[at]) - len(strings.TrimLeft(lines[at], " "))
		m.Line, m.Column, m.Text = at+wrong.Line, indent+wrong.Column, wrong.Text
		return m
	}
	if wrong.Line == 1 {
		m.Text = wrong.Text
	}
	return m
}
