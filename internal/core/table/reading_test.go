package table_test

import (
	"maps"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"damselfly.example/damselfly/internal/core/table"
)

// Whatever stands in a field, an action is read or refused in words that say which field, and not in those of a library.
func TestActionsAreRefusedInWords(t *testing.T) {
	wrong := []string{`"x"`, `-1`, `1.5`, `true`, `[]`, `[1]`, `["x",2]`, `{}`, `{"x":1}`, `null`, `1e400`, `99999999999999999999`}
	n := 0
	for _, kind := range table.ActionKinds() {
		names := map[string]bool{}
		fieldsOf(kind.Type(), names, 0)
		for _, name := range slices.Sorted(maps.Keys(names)) {
			for _, value := range wrong {
				text := `{"do":"` + kind.Word + `","` + name + `":` + value + `}`
				_, err := table.ReadAction([]byte(text))
				if err == nil {
					continue
				}
				n++
				for _, own := range []string{"json:", "Go ", "unmarshal", "strconv", "reflect", "table."} {
					assert.NotContains(t, err.Error(), own, text)
				}
			}
		}
	}
	assert.Greater(t, n, 300)
	for text, want := range map[string]string{
		`[]`: `an action is an object such as {"do":"draw","from":"weather"}; this is a list`, ``: "this is empty", `{`: "no JSON from byte 1 on",
		`{"do":"drw"}`:                `"do" is "drw", and there is no such action; did you mean "draw"?`,
		`{"do":"draw","form":"x"}`:    `draw: there is no field "form"; did you mean "from"?`,
		`{"do":"draw","count":"two"}`: `draw: "count" is a whole number, and a text was sent`,
		`{"do":"draw","count":1.5}`:   `draw: "count" is a whole number, and 1.5 was sent`,
	} {
		_, err := table.ReadAction([]byte(text))
		assert.ErrorContains(t, err, want, text)
	}
	_, err := table.ReadAction([]byte(`{"do":"xylophone"}`))
	assert.ErrorContains(t, err, "there is agree, all, ask")
}

// fieldsOf are the names of an action's own fields in JSON.
func fieldsOf(t reflect.Type, names map[string]bool, depth int) {
	if t.Kind() != reflect.Struct || depth > 3 {
		return
	}
	for i := range t.NumField() {
		name, _, _ := strings.Cut(t.Field(i).Tag.Get("json"), ",")
		if name == "" && t.Field(i).Anonymous {
			fieldsOf(t.Field(i).Type, names, depth+1)
		} else if name != "" && name != "-" {
			names[name] = true
		}
	}
}
