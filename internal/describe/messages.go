package main

import "encoding/json"

// messagesOf are the shapes of what is said over the socket, for asyncapi.yaml: those of the API's description, but for
// discriminators, which the two formats write in different ways.
func messagesOf(openapi []byte) ([]byte, error) {
	var whole struct {
		Components struct {
			Schemas map[string]any `json:"schemas"`
		} `json:"components"`
	}
	if err := json.Unmarshal(openapi, &whole); err != nil {
		return nil, err
	}
	for _, schema := range whole.Components.Schemas {
		dropDiscriminators(schema)
	}
	text, err := json.Marshal(map[string]any{"components": whole.Components})
	return append(text, '\n'), err
}

func dropDiscriminators(value any) {
	switch v := value.(type) {
	case map[string]any:
		if _, is := v["discriminator"].(map[string]any); is {
			delete(v, "discriminator")
		}
		for _, part := range v {
			dropDiscriminators(part)
		}
	case []any:
		for _, part := range v {
			dropDiscriminators(part)
		}
	}
}
