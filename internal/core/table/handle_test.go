package table

import (
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"
)

// An action that forgot its handles could be given a card's own id.
func TestEveryActionNamesCardsByHandlesAndTellsThem(t *testing.T) {
	named := 0
	for kind, typ := range actions.types {
		value := reflect.New(typ).Elem()
		want := fill(t, kind, value)
		if want == 0 {
			continue
		}
		named++
		a, ok := value.Interface().(interface{ handles() []Handle })
		if assert.True(t, ok, "%s does not tell its handles", kind) {
			assert.Len(t, a.handles(), want, kind)
		}
	}
	assert.Greater(t, named, 7)
}

// fill puts a handle wherever one fits in an action, and counts them.
func fill(t *testing.T, kind string, v reflect.Value) (n int) {
	assert.NotEqual(t, reflect.TypeFor[CardID](), v.Type(), "%s names a card by its id", kind)
	switch {
	case v.Type() == reflect.TypeFor[[]Handle]():
		v.Set(reflect.ValueOf([]Handle{1}))
		return 1
	case v.Type() == reflect.TypeFor[Actions]():
		v.Set(reflect.ValueOf(Actions{Flip{Pick: Pick{Cards: []Handle{1}}}}))
		return 1
	case v.Kind() == reflect.Slice:
		assert.NotEqual(t, reflect.TypeFor[CardID](), v.Type().Elem(), "%s names cards by their ids", kind)
	case v.Kind() == reflect.Struct:
		for i := range v.NumField() {
			if v.Field(i).CanSet() {
				n += fill(t, kind, v.Field(i))
			}
		}
	}
	return n
}
