package main

import (
	"fmt"
	"html"
	"slices"
	"strings"

	"damselfly.example/damselfly/internal/wire"
)

// problemsPage is a page of all problems, with a place for each that its type leads to.
func problemsPage() []byte {
	var out strings.Builder
	out.WriteString(`<!doctype html>
<html lang="en">
  <head>
    <meta charset="utf-8" />
    <title>Problems of the Damselfly API</title>
    <link rel="icon" href="../favicon.svg" type="image/svg+xml" />
    <style>
      body { font: 16px/1.5 system-ui, sans-serif; max-width: 60rem; margin: 2rem auto; padding: 0 1rem; }
      h2 { margin: 2rem 0 0; font-size: 1.1rem; }
      :target { background: #fff3c4; }
      code { font-size: 0.95em; }
      p { margin: 0.2rem 0; }
    </style>
  </head>
  <body>
    <h1>Problems</h1>
    <p>Errors are problems as in RFC 9457. Their <code>code</code> does not change; their <code>type</code> leads here. <code>numbers</code> has the numbers of the sentence. <a href="../api/docs">The API</a></p>
`)
	for _, k := range slices.SortedFunc(slices.Values(wire.Kinds()), func(a, b *wire.Kind) int { return strings.Compare(a.Code, b.Code) }) {
		fmt.Fprintf(&out, "    <h2 id=%q><code>%s</code> %d, %s</h2>\n    <p>%s</p>\n", k.Code, k.Code, k.Status, html.EscapeString(k.Title), html.EscapeString(k.Says))
		if len(k.Numbers) > 0 {
			fmt.Fprintf(&out, "    <p>Numbers: <code>%s</code></p>\n", strings.Join(k.Numbers, "</code>, <code>"))
		}
	}
	out.WriteString("  </body>\n</html>\n")
	return []byte(out.String())
}
