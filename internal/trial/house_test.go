package trial

import (
	"bytes"
	"encoding/json"
	"io/fs"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// ofTheHouse is what stands before the names of our folders.
const ofTheHouse = "damselfly.example/damselfly/"

// mayImport is the table of docs/architecture.md: which of our folders a folder may import. One that ends in a slash
// stands for all within; nil is all.
func mayImport(t *testing.T) map[string][]string {
	text, err := os.ReadFile("../../docs/architecture.md")
	require.NoError(t, err)
	rows := regexp.MustCompile("(?m)^\\| (`[^|]+) \\|[^|]*\\| ?([^|]*) \\|$").FindAllStringSubmatch(string(text), -1)
	named := map[string]string{"core": "internal/core/"}
	for _, row := range rows {
		for _, m := range regexp.MustCompile("`([^`]+)`").FindAllStringSubmatch(row[1], -1) {
			name := path.Base(m[1])
			if _, is := named[name]; !is {
				named[name] = m[1]
			}
		}
	}
	may := map[string][]string{}
	for _, row := range rows {
		allowed := []string{}
		for _, word := range strings.FieldsFunc(row[2], func(r rune) bool { return r == ',' || r == ' ' }) {
			switch folder, is := named[word]; {
			case word == "all":
				allowed = append(allowed, "")
			case row[2] == "tests only", strings.HasPrefix(word, "`"):
			default:
				require.True(t, is, "docs/architecture.md: %s may import %q, which is no folder of the table", row[1], word)
				allowed = append(allowed, folder)
			}
		}
		for _, m := range regexp.MustCompile("`([^`]+)`").FindAllStringSubmatch(row[1], -1) {
			may[m[1]] = allowed
		}
	}
	return may
}

// importsOf lists our folders with what each imports, by the compiler's own list for a system.
func importsOf(t *testing.T, system ...string) map[string][]string {
	list := exec.Command("go", "list", "-json=ImportPath,Imports", ofTheHouse+"...")
	list.Env = append(os.Environ(), system...)
	text, err := list.Output()
	require.NoError(t, err)
	all := map[string][]string{}
	for decoder := json.NewDecoder(bytes.NewReader(text)); decoder.More(); {
		var p struct {
			ImportPath string
			Imports    []string
		}
		require.NoError(t, decoder.Decode(&p))
		all[strings.TrimPrefix(p.ImportPath, ofTheHouse)] = p.Imports
	}
	return all
}

// outside are packages of others that core does without: it computes.
var outside = []string{"os", "os/exec", "net", "net/http", "database/sql", "log", "log/slog", "time", "syscall",
	"github.com/jmoiron/sqlx", "github.com/gorilla/websocket", "github.com/go-chi/chi/v5", "github.com/spf13/cobra"}

func TestImportsKeepToTheTableOfTheHouse(t *testing.T) {
	t.Parallel()
	may := mayImport(t)
	for _, system := range [][]string{nil, {"GOOS=js", "GOARCH=wasm"}} {
		all := importsOf(t, system...)
		assert.Greater(t, len(all), 30)
		for folder, imports := range all {
			allowed, known := may[folder]
			if !assert.True(t, known, "the folder %s is not in the table of docs/architecture.md", folder) {
				continue
			}
			for _, imported := range imports {
				if ours, is := strings.CutPrefix(imported, ofTheHouse); is {
					fits := slices.ContainsFunc(allowed, func(a string) bool {
						return ours == a || (a == "" || strings.HasSuffix(a, "/")) && strings.HasPrefix(ours, a)
					})
					assert.True(t, fits, "%s imports %s", folder, ours)
				}
				if strings.HasPrefix(folder, "internal/core/") {
					assert.NotContains(t, outside, imported, "%s computes only", folder)
				}
			}
		}
	}
}

// Programs that sit at a table carry nothing that reads pictures, sheets, fonts or spreadsheets.
func TestTheClientIsLight(t *testing.T) {
	t.Parallel()
	text, err := exec.Command("go", "list", "-deps", ofTheHouse+"client").Output()
	require.NoError(t, err)
	deps := strings.Fields(string(text))
	assert.Contains(t, deps, ofTheHouse+"internal/wire")
	for _, dep := range deps {
		assert.NotRegexp(t, `core/(sheet|deck|kit|spreadsheet)|^image/|x/image|yaml|excelize|oksvg|goldmark`, dep)
	}
}

// What docs/security.md promises is held by tests that there are.
func TestThePromisesOfSecurityAreTested(t *testing.T) {
	t.Parallel()
	text, err := os.ReadFile("../../docs/security.md")
	require.NoError(t, err)
	named := regexp.MustCompile("`(Test[A-Za-z]+)`").FindAllStringSubmatch(string(text), -1)
	require.Greater(t, len(named), 15)
	tests := map[string]bool{}
	require.NoError(t, filepath.WalkDir("../..", func(path string, _ fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, "_test.go") || strings.Contains(path, "node_modules") {
			return err
		}
		source, err := os.ReadFile(path)
		for _, m := range regexp.MustCompile(`(?m)^func (Test[A-Za-z]+)\(`).FindAllStringSubmatch(string(source), -1) {
			tests[m[1]] = true
		}
		return err
	}))
	for _, m := range named {
		assert.True(t, tests[m[1]], "there is no test %s", m[1])
	}
}
