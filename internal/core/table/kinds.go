package table

import (
	"encoding/json"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
)

// kinds maps the types behind an interface to names and back, so that a value
// of any of them is written as one JSON object with its kind in a tag.
type kinds[T any] struct {
	types map[string]reflect.Type
	names map[reflect.Type]string
}

func newKinds[T any](examples map[string]T) kinds[T] {
	k := kinds[T]{types: map[string]reflect.Type{}, names: map[reflect.Type]string{}}
	for name, example := range examples {
		t := reflect.TypeOf(example)
		k.types[name], k.names[t] = t, name
	}
	return k
}

// name returns the kind of a value, or "" if it is of none.
func (k kinds[T]) name(v T) string { return k.names[reflect.TypeOf(v)] }

// list returns the names of all kinds in order.
func (k kinds[T]) list() []string { return slices.Sorted(maps.Keys(k.types)) }

// appendJSON writes v as an object that begins with its tag.
func (k kinds[T]) appendJSON(out []byte, tag string, v T) ([]byte, error) {
	body, err := json.Marshal(v)
	if err != nil {
		return nil, err
	}
	out = append(out, fmt.Sprintf("{%q:%q", tag, k.name(v))...)
	if len(body) > len("{}") {
		out = append(out, ',')
	}
	return append(out, body[1:]...), nil
}

// read reads what appendJSON wrote. Unknown fields are passed over.
func (k kinds[T]) read(tag string, text []byte) (v T, err error) {
	fields := map[string]json.RawMessage{}
	if err := json.Unmarshal(text, &fields); err != nil {
		return v, err
	}
	var name string
	if err := json.Unmarshal(fields[tag], &name); err != nil {
		return v, fmt.Errorf("%q is missing or no text", tag)
	}
	t, known := k.types[name]
	if !known {
		return v, fmt.Errorf("%q is %q, which is none of %s", tag, name, strings.Join(k.list(), ", "))
	}
	value := reflect.New(t)
	if err := json.Unmarshal(text, value.Interface()); err != nil {
		return v, fmt.Errorf("%s: %w", name, err)
	}
	return value.Elem().Interface().(T), nil
}
