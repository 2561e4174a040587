package main

import (
	"encoding/json"
	"reflect"
	"strconv"
	"strings"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
)

// kitSchema is the JSON Schema of kit.yaml, from the types that read it.
func kitSchema() []byte {
	schema := schemaOf(reflect.TypeFor[kit.Manifest]())
	schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	schema["title"] = "A kit of Damselfly: kit.yaml"
	schema["required"] = []string{"kit", "name", "seats"}
	properties, _ := schema["properties"].(map[string]any)
	properties["kit"] = map[string]any{"const": kit.Version, "description": "The version of this format."}
	properties["seats"] = map[string]any{"type": "integer", "minimum": 1, "maximum": table.MaxSeats}
	text, err := json.MarshalIndent(schema, "", "  ")
	if err != nil {
		panic(err)
	}
	return append(text, '\n')
}

// choices are the words that some fields take.
var choices = map[string][]string{
	"lie": {"upright", "landscape"}, "outline": {"rounded", "square", "hexagon", "oval"}, "sight": {"open", "owner", "none"}, "arrival": {"as-it-is", "front", "back"},
	"each zone": {"seat"}, "arrange": {"host", "everyone"}, "shape": {"square", "square4", "hex"}, "align": {"left", "centre", "right"}, "down": {"top", "middle", "bottom"},
	"fit": {"fit", "fill"}, "kind zone": textsOf(table.ZoneKinds), "kind piece": textsOf(table.PieceKinds),
}

func textsOf[W ~string](words []W) (texts []string) {
	for _, w := range words {
		texts = append(texts, string(w))
	}
	return texts
}

func schemaOf(t reflect.Type) map[string]any {
	if oneOrAll(t) {
		whole := map[string]any{"type": "integer", "minimum": 0}
		return map[string]any{"anyOf": []any{whole, map[string]any{"type": "array", "items": whole, "minItems": t.Len(), "maxItems": t.Len()}}}
	}
	switch t.Kind() {
	case reflect.Pointer:
		return schemaOf(t.Elem())
	case reflect.String:
		return map[string]any{"type": "string"}
	case reflect.Bool:
		return map[string]any{"type": "boolean"}
	case reflect.Int, reflect.Int64, reflect.Uint64:
		return map[string]any{"type": "integer"}
	case reflect.Float64:
		return map[string]any{"type": "number"}
	case reflect.Slice:
		return map[string]any{"type": "array", "items": schemaOf(t.Elem())}
	case reflect.Map:
		return map[string]any{"type": "object", "additionalProperties": schemaOf(t.Elem())}
	case reflect.Struct:
		properties := map[string]any{}
		for field := range t.Fields() {
			name, _, _ := strings.Cut(field.Tag.Get("yaml"), ",")
			if name == "" || name == "-" {
				continue
			}
			properties[name] = fieldSchema(t, field, name)
		}
		return map[string]any{"type": "object", "additionalProperties": false, "properties": properties}
	default:
		return map[string]any{} // any value
	}
}

func fieldSchema(t reflect.Type, field reflect.StructField, name string) map[string]any {
	schema := schemaOf(field.Type)
	if numbers := field.Tag.Get("numbers"); numbers != "" {
		n, err := strconv.Atoi(numbers)
		if err != nil {
			panic(err)
		}
		schema["minItems"], schema["maxItems"] = n, n
	}
	for _, key := range []string{name + " " + strings.ToLower(t.Name()), name} {
		if words, known := choices[key]; known && field.Type.Kind() == reflect.String {
			schema["enum"] = words
			break
		}
	}
	return schema
}
