package main

import (
	"cmp"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"html"
	"io/fs"
	"maps"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"damselfly.example/damselfly/internal/service/web"
	"damselfly.example/damselfly/internal/wire"
)

// problem is one that the service answers with, as its code has it.
type problem struct {
	code, title string
	status      int
	sentences   map[string]bool
	numbers     map[string]bool
}

// problems reads all problems out of the source: literals of wire.Problem, and refusals of the table.
func problems() ([]problem, error) {
	found := map[string]*problem{}
	of := func(code string) *problem {
		if found[code] == nil {
			found[code] = &problem{code: code, sentences: map[string]bool{}, numbers: map[string]bool{}}
		}
		return found[code]
	}
	files := token.NewFileSet()
	names := map[string]string{} // constants of package table with codes
	var sources []*ast.File
	root := "internal"
	if _, err := os.Stat(root); err != nil {
		root = "../../internal" // from a test
	}
	err := filepath.WalkDir(root, func(path string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		file, err := parser.ParseFile(files, path, nil, 0)
		sources = append(sources, file)
		return err
	})
	if err != nil {
		return nil, err
	}
	for _, file := range sources {
		if file.Name.Name != "table" {
			continue
		}
		ast.Inspect(file, func(n ast.Node) bool {
			if spec, is := n.(*ast.ValueSpec); is && len(spec.Names) == len(spec.Values) {
				for i, name := range spec.Names {
					if text, is := textOf(spec.Values[i]); is {
						names[name.Name] = text
					}
				}
			}
			return true
		})
	}
	for _, file := range sources {
		ast.Inspect(file, func(n ast.Node) bool {
			switch n := n.(type) {
			case *ast.CompositeLit:
				if typed, is := n.Type.(*ast.SelectorExpr); is && typed.Sel.Name == "Problem" {
					readProblem(n, of)
				}
			case *ast.CallExpr:
				readRefusal(n, names, of)
			}
			return true
		})
	}
	for status, code := range web.PlainCodes() {
		if p := of(code); p.status == 0 {
			p.status, p.title = status, http.StatusText(status)
			p.sentences["What was sent does not fit the description; the sentence says where."] = true
		}
	}
	var all []problem
	for _, code := range slices.Sorted(maps.Keys(found)) {
		p := *found[code]
		p.status = cmp.Or(p.status, wire.StatusOf(code))
		all = append(all, p)
	}
	return all, nil
}

// textOf is a literal's text, or that of the format that a call begins with.
func textOf(e ast.Expr) (string, bool) {
	switch e := e.(type) {
	case *ast.BasicLit:
		if e.Kind == token.STRING {
			text, err := strconv.Unquote(e.Value)
			return text, err == nil
		}
	case *ast.BinaryExpr:
		left, a := textOf(e.X)
		right, b := textOf(e.Y)
		return left + right, a && b
	case *ast.CallExpr:
		if len(e.Args) > 0 {
			return textOf(e.Args[0])
		}
	}
	return "", false
}

func readProblem(literal *ast.CompositeLit, of func(string) *problem) {
	fields := map[string]ast.Expr{}
	for _, element := range literal.Elts {
		if pair, is := element.(*ast.KeyValueExpr); is {
			if key, is := pair.Key.(*ast.Ident); is {
				fields[key.Name] = pair.Value
			}
		}
	}
	code, is := textOf(fields["Code"])
	if !is || code == "" {
		return
	}
	p := of(code)
	if status, is := fields["Status"].(*ast.BasicLit); is {
		p.status, _ = strconv.Atoi(status.Value)
	}
	if title, is := textOf(fields["Title"]); is {
		p.title = title
	}
	if detail, is := textOf(fields["Detail"]); is {
		p.sentences[plainly(detail)] = true
	}
	if numbers, is := fields["Numbers"].(*ast.CompositeLit); is {
		for _, element := range numbers.Elts {
			if pair, is := element.(*ast.KeyValueExpr); is {
				if name, is := textOf(pair.Key); is {
					p.numbers[name] = true
				}
			}
		}
	}
}

// readRefusal reads refuse(Code, "sentence", …), and .with("number", …) upon it.
func readRefusal(call *ast.CallExpr, names map[string]string, of func(string) *problem) {
	name := ""
	switch f := call.Fun.(type) {
	case *ast.Ident:
		name = f.Name
	case *ast.SelectorExpr:
		if f.Sel.Name == "with" && len(call.Args) == 2 {
			inner := call.Fun
			for {
				selector, is := inner.(*ast.SelectorExpr)
				if !is {
					return
				}
				below, is := selector.X.(*ast.CallExpr)
				if !is {
					return
				}
				if ident, is := below.Fun.(*ast.Ident); is && ident.Name == "refuse" {
					if code := codeOf(below.Args[0], names); code != "" {
						if number, is := textOf(call.Args[0]); is {
							of(code).numbers[number] = true
						}
					}
					return
				}
				inner = below.Fun
			}
		}
	}
	if name != "refuse" || len(call.Args) < 2 {
		return
	}
	code := codeOf(call.Args[0], names)
	if sentence, is := textOf(call.Args[1]); is && code != "" {
		of(code).sentences[plainly(sentence)] = true
	}
}

func codeOf(e ast.Expr, names map[string]string) string {
	if ident, is := e.(*ast.Ident); is {
		return names[ident.Name]
	}
	text, _ := textOf(e)
	return text
}

// plainly is a sentence with … where something is put in.
func plainly(format string) string {
	return strings.NewReplacer("%q", "“…”", "%d", "…", "%s", "…", "%v", "…", "%w", "…", "%g", "…", "%.0f", "…", "%%", "%").Replace(format)
}

// problemsPage is a page of all problems, with a place for each that its type leads to.
func problemsPage(all []problem) []byte {
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
	for _, p := range all {
		title := ""
		if p.title != "" {
			title = ", " + p.title
		}
		fmt.Fprintf(&out, "    <h2 id=%q><code>%s</code> %d%s</h2>\n", p.code, p.code, p.status, html.EscapeString(title))
		for _, sentence := range slices.Sorted(maps.Keys(p.sentences)) {
			fmt.Fprintf(&out, "    <p>%s</p>\n", html.EscapeString(sentence))
		}
		if len(p.numbers) > 0 {
			fmt.Fprintf(&out, "    <p>Numbers: <code>%s</code></p>\n", strings.Join(slices.Sorted(maps.Keys(p.numbers)), "</code>, <code>"))
		}
	}
	out.WriteString("  </body>\n</html>\n")
	return []byte(out.String())
}
