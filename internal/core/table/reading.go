package table

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strconv"
	"strings"
)

// What an action that is read may hold at most, where its fields do not say it.
const (
	mostNumber = 1_000_000_000
	mostLength = 1_000_000 // of a length in millimetres
	mostBytes  = 200       // of a name or a value
	mostListed = 2000      // handles; of all else mostValues
	mostValues = 500
)

// ReadAction reads an action from JSON. Every field must be one that there is, and
// every number, text and list in bounds; the error says which is not, and the nearest
// name there is.
func ReadAction(text []byte) (Action, error) {
	a, err := readOne(text)
	if err != nil {
		return nil, err
	}
	if all, several := a.(All); several && len(all.Actions) > MaxAll {
		return nil, fmt.Errorf("at most %d actions are done as one, not %d", MaxAll, len(all.Actions))
	}
	return a, nil
}

func readOne(text []byte) (Action, error) {
	fields := map[string]json.RawMessage{}
	if err := json.Unmarshal(text, &fields); err != nil {
		return nil, fmt.Errorf("an action is an object such as {\"do\":\"draw\",\"from\":\"weather\"}; this is %s", notObject(text, err))
	}
	var kind string
	if err := json.Unmarshal(fields["do"], &kind); err != nil {
		return nil, fmt.Errorf("%q is missing or no text", "do")
	}
	t, known := actions.types[kind]
	if !known {
		near := DidYouMean(kind, actions.list())
		if near == "" {
			near = "; there is " + strings.Join(actions.list(), ", ")
		}
		return nil, fmt.Errorf("%q is %q, and there is no such action%s", "do", clipped(kind), near)
	}
	delete(fields, "do")
	rest, err := json.Marshal(fields)
	if err != nil {
		return nil, err
	}
	value := reflect.New(t)
	decoder := json.NewDecoder(bytes.NewReader(rest))
	decoder.DisallowUnknownFields()
	if err := decoder.Decode(value.Interface()); err != nil {
		return nil, fmt.Errorf("%s: %s", kind, withNearest(err, t))
	}
	if err := inBoundsAll(value.Elem(), "", ""); err != nil {
		return nil, fmt.Errorf("%s: %w", kind, err)
	}
	return value.Elem().Interface().(Action), nil
}

// notObject says what a text is that is no JSON object.
func notObject(text []byte, err error) string {
	var syntax *json.SyntaxError
	switch trimmed := bytes.TrimSpace(text); {
	case len(trimmed) == 0:
		return "empty"
	case errors.As(err, &syntax):
		return fmt.Sprintf("no JSON from byte %d on", syntax.Offset)
	case trimmed[0] == '[':
		return "a list"
	case trimmed[0] == '"':
		return "a text"
	}
	return "something else"
}

// plainly is what the JSON library says, without its own words.
func plainly(said string) string {
	said = strings.TrimPrefix(said, "json: ")
	for _, own := range []string{"cannot unmarshal", "invalid use of", "Go "} {
		if strings.Contains(said, own) {
			return "a field holds what it cannot"
		}
	}
	return said
}

// kindOfValue says what a field of a type is to be.
func kindOfValue(t reflect.Type) string {
	switch t.Kind() {
	case reflect.Int, reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64, reflect.Uint, reflect.Uint8, reflect.Uint16, reflect.Uint32, reflect.Uint64:
		return "a whole number"
	case reflect.Float32, reflect.Float64:
		return "a number"
	case reflect.String:
		return "a text"
	case reflect.Bool:
		return "true or false"
	case reflect.Slice, reflect.Array:
		return "a list"
	case reflect.Pointer:
		return kindOfValue(t.Elem())
	}
	return "an object"
}

// withNearest names the nearest field there is where one is unknown.
func withNearest(err error, t reflect.Type) string {
	var wrong *json.UnmarshalTypeError
	if errors.As(err, &wrong) {
		field := wrong.Field[strings.LastIndex(wrong.Field, ".")+1:]
		sent := wrong.Value
		if number, is := strings.CutPrefix(sent, "number "); is {
			sent = number
		} else {
			sent = "a " + strings.ReplaceAll(strings.ReplaceAll(strings.ReplaceAll(sent, "string", "text"), "array", "list"), "bool", "true or false")
		}
		return fmt.Sprintf("%q is %s, and %s was sent", field, kindOfValue(wrong.Type), sent)
	}
	field, unknown := strings.CutPrefix(err.Error(), "json: unknown field ")
	if !unknown {
		return plainly(err.Error())
	}
	name, _ := strconv.Unquote(field)
	names := map[string]bool{}
	fieldNames(t, names)
	delete(names, "do")
	all := make([]string, 0, len(names))
	for n := range names {
		all = append(all, n)
	}
	slices.Sort(all)
	near := DidYouMean(name, all)
	if near == "" && len(all) > 0 {
		near = "; there is " + strings.Join(all, ", ")
	}
	return fmt.Sprintf("there is no field %q%s", clipped(name), near)
}

// fieldNames collects the names of all fields within a type.
func fieldNames(t reflect.Type, names map[string]bool) {
	switch t.Kind() {
	case reflect.Pointer, reflect.Slice:
		fieldNames(t.Elem(), names)
	case reflect.Struct:
		for i := range t.NumField() {
			f := t.Field(i)
			name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
			if name != "" {
				if names[name] {
					continue // filters hold filters
				}
				names[name] = true
			}
			fieldNames(f.Type, names)
		}
	}
}

// DidYouMean names what a mistaken word may have meant, as the end of a sentence; it is empty if nothing is near.
func DidYouMean(word string, known []string) string {
	best, near := len(word)/2+1, ""
	for _, k := range known {
		if d := LettersApart(strings.ToLower(word), k); d < best {
			best, near = d, k
		}
	}
	if near == "" {
		return ""
	}
	return fmt.Sprintf("; did you mean %q?", near)
}

// LettersApart is by how many letters two words differ: those to change, add or take
// away (Levenshtein 1965). Long words are compared by their beginnings.
func LettersApart(a, b string) int {
	x, y := []rune(a), []rune(b)
	x, y = x[:min(len(x), 60)], y[:min(len(y), 60)]
	row := make([]int, len(y)+1)
	for j := range row {
		row[j] = j
	}
	for i := range x {
		corner := row[0]
		row[0] = i + 1
		for j := range y {
			cost := corner
			if x[i] != y[j] {
				cost++
			}
			corner = row[j+1]
			row[j+1] = min(cost, row[j]+1, row[j+1]+1)
		}
	}
	return row[len(y)]
}

func clipped(text string) string {
	if len(text) > 40 {
		return text[:40] + "…"
	}
	return text
}

// inBoundsAll checks every number, text and list in a value that was read.
func inBoundsAll(v reflect.Value, name string, tag reflect.StructTag) error {
	switch v.Kind() {
	case reflect.Pointer:
		if !v.IsNil() {
			return inBoundsAll(v.Elem(), name, tag)
		}
	case reflect.Struct:
		for i := range v.NumField() {
			f := v.Type().Field(i)
			inner, options, _ := strings.Cut(f.Tag.Get("json"), ",")
			if strings.Contains(options, "omitempty") && v.Field(i).IsZero() {
				continue
			}
			if err := inBoundsAll(v.Field(i), inner, f.Tag); err != nil {
				return err
			}
		}
	case reflect.Slice:
		most := mostValues
		if v.Type().Elem() == reflect.TypeFor[Handle]() {
			most = mostListed
		}
		if v.Len() > most {
			return fmt.Errorf("%q lists %d things; it may list %d", name, v.Len(), most)
		}
		if v.Type() == reflect.TypeFor[Actions]() {
			return nil // each was read by itself
		}
		for i := range v.Len() {
			if err := inBoundsAll(v.Index(i), name, ""); err != nil {
				return err
			}
		}
	case reflect.String:
		if most := tagged(tag, "maxLength", mostBytes); v.Len() > most {
			return fmt.Errorf("%q has %d bytes; it may have %d", name, v.Len(), most)
		}
	case reflect.Int, reflect.Int64:
		least, most := tagged(tag, "minimum", -mostNumber), tagged(tag, "maximum", mostNumber)
		if n := int(v.Int()); n < least || n > most {
			return fmt.Errorf("%q is %d; it goes from %d to %d", name, n, least, most)
		}
	case reflect.Float64:
		if x := v.Float(); !(math.Abs(x) <= mostLength) {
			return fmt.Errorf("%q is %g; it goes to %d", name, x, mostLength)
		}
	}
	return nil
}

func tagged(tag reflect.StructTag, key string, otherwise int) int {
	if n, err := strconv.Atoi(tag.Get(key)); err == nil {
		return n
	}
	return otherwise
}

// UnmarshalJSON reads what MarshalJSON wrote. A list of actions is part of no other:
// a small message is small work.
func (as *Actions) UnmarshalJSON(text []byte) error {
	var raw []json.RawMessage
	if err := json.Unmarshal(text, &raw); err != nil {
		return err
	}
	if len(raw) > MaxAll {
		return fmt.Errorf("at most %d actions are done as one, not %d", MaxAll, len(raw))
	}
	for i, r := range raw {
		var tag struct {
			Do string `json:"do"`
		}
		if json.Unmarshal(r, &tag) == nil && tag.Do == "all" {
			return errors.New("several actions are done as one, but not within each other: write them in one list")
		}
		a, err := readOne(r)
		if err != nil {
			return fmt.Errorf("action %d: %w", i+1, err)
		}
		*as = append(*as, a)
	}
	return nil
}
