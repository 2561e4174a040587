// Package docs has those of the project's documents that programs need.
package docs

import _ "embed"

// KitSchema is the JSON Schema of kit.yaml, by which editors complete and check it.
//
//go:embed kit.schema.json
var KitSchema []byte
