// Describe writes what follows from the code's own tables: the description of the API,
// the client's names for actions and their parts, what the console knows of acts,
// verbs and limits, and arithmetic that it does as the core does it. Run it with "make describe"; a test finds what was not run.
package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"

	"damselfly.example/damselfly/internal/service/api"
)

func main() {
	files, err := described()
	if err == nil {
		err = write(files)
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

// described are the files, from the project's root, and what stands in them.
func described() (map[string][]byte, error) {
	openapi, err := api.Description()
	if err != nil {
		return nil, err
	}
	messages, err := messagesOf(openapi)
	if err != nil {
		return nil, err
	}
	names, err := clientNames()
	return map[string][]byte{
		"docs/openapi.json":                 indented(openapi),
		"docs/messages.json":                indented(messages),
		"docs/kit.schema.json":              kitSchema(),
		"docs/command-line.md":              commandLine(),
		"console/public/docs/problems.html": problemsPage(),
		"client/actions.gen.go":             names,
		"console/src/api/tables.gen.ts":     consoleTables(),
		"console/src/api/vectors.gen.json":  vectorsOf(),
		"console/src/bench/types.gen.ts":    benchTypes(),
	}, err
}

// indented is JSON with a value a line, so that what changes in it can be read.
func indented(text []byte) []byte {
	var out bytes.Buffer
	if err := json.Indent(&out, bytes.TrimSpace(text), "", " "); err != nil {
		panic(err) // it was written by this program
	}
	return append(out.Bytes(), '\n')
}

func write(files map[string][]byte) error {
	for path, text := range files {
		if err := os.WriteFile(path, text, 0o644); err != nil {
			return err
		}
	}
	return nil
}
