package table

import (
	"cmp"
	"maps"
	"reflect"
	"slices"
	"sync"
)

// Uses are what stands elsewhere and is named: editions, and pictures by their addresses. What is named must be kept.
type Uses struct {
	Editions []EditionOf
	Pictures []string
}

// UsesOf are the uses of values, wherever in them they stand: edits, tables, editions of kits. Each is listed once, in order.
func UsesOf(values ...any) Uses {
	found := uses{editions: map[EditionOf]bool{}, pictures: map[string]bool{}}
	for _, v := range values {
		found.in(reflect.ValueOf(v))
	}
	return Uses{
		slices.SortedFunc(maps.Keys(found.editions), func(a, b EditionOf) int {
			return cmp.Or(cmp.Compare(a.Kit, b.Kit), cmp.Compare(a.Number, b.Number))
		}),
		slices.Sorted(maps.Keys(found.pictures)),
	}
}

type uses struct {
	editions map[EditionOf]bool
	pictures map[string]bool
}

func (u uses) in(v reflect.Value) {
	if !v.IsValid() || !mayUse(v.Type()) {
		return
	}
	switch v.Kind() {
	case reflect.Pointer, reflect.Interface:
		if !v.IsNil() {
			u.in(v.Elem())
		}
	case reflect.Slice, reflect.Array:
		for i := range v.Len() {
			u.in(v.Index(i))
		}
	case reflect.Map:
		for _, value := range v.Seq2() {
			u.in(value)
		}
	case reflect.Struct:
		switch named := v.Interface().(type) {
		case EditionOf:
			u.editions[named] = true
		case Picture:
			for _, address := range []string{named.Small, named.Full} {
				if address != "" {
					u.pictures[address] = true
				}
			}
		default:
			for i := range v.NumField() {
				if v.Type().Field(i).IsExported() {
					u.in(v.Field(i))
				}
			}
		}
	}
}

// using are the types of which it is known whether a value of theirs may name something.
var using sync.Map // of reflect.Type to bool

// mayUse reports whether a value of a type may name something.
func mayUse(t reflect.Type) bool {
	if known, is := using.Load(t); is {
		return known.(bool)
	}
	may := searchType(t, map[reflect.Type]bool{})
	using.Store(t, may)
	return may
}

// searchType looks for what names something in a type; seen are types that are being searched.
func searchType(t reflect.Type, seen map[reflect.Type]bool) bool {
	if t == reflect.TypeFor[EditionOf]() || t == reflect.TypeFor[Picture]() || t.Kind() == reflect.Interface {
		return true
	}
	if seen[t] {
		return false
	}
	seen[t] = true
	switch t.Kind() {
	case reflect.Pointer, reflect.Slice, reflect.Array, reflect.Map:
		return searchType(t.Elem(), seen)
	case reflect.Struct:
		for i := range t.NumField() {
			if f := t.Field(i); f.IsExported() && searchType(f.Type, seen) {
				return true
			}
		}
	}
	return false
}
