package trial

import (
	"encoding/json"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// mayImport is the table of docs/architecture.md: which of our folders a
// folder may import. "core/" stands for all of core.
var mayImport = map[string][]string{
	"cmd/damselfly":                        {"internal/cli"},
	"internal/core/chance":                 {},
	"internal/core/sheet":                  {},
	"internal/core/grid":                   {},
	"internal/core/table":                  {"internal/core/chance", "internal/core/grid"},
	"internal/core/sight":                  {"internal/core/table", "internal/core/chance", "internal/core/grid"},
	"internal/core/steps":                  {"internal/core/table", "internal/core/grid"},
	"internal/core/play":                   {"internal/core/table", "internal/core/sight", "internal/core/steps", "internal/core/chance"},
	"internal/core/spreadsheet":            {},
	"internal/core/deck":                   {"internal/core/sheet", "internal/core/table", "internal/core/spreadsheet"},
	"internal/core/kit":                    {"internal/core/chance", "internal/core/grid", "internal/core/deck", "internal/core/sheet", "internal/core/table", "internal/core/steps"},
	"internal/wire":                        {"internal/core/"},
	"internal/service/mariadb":             {},
	"internal/service/store":               {"internal/core/"},
	"internal/service/room":                {"internal/core/", "internal/service/store", "internal/wire"},
	"internal/service/api":                 {"internal/core/", "internal/print", "internal/service/store", "internal/service/room", "internal/wire"},
	"internal/service":                     {"internal/service/"},
	"client":                               {"internal/core/", "internal/wire"},
	"internal/practise":                    {"client"},
	"internal/print":                       {"internal/core/"},
	"internal/cli":                         {"internal/core/", "internal/print", "internal/practise", "internal/service", "internal/service/", "internal/wire", "client", "console", "demo", "docs"},
	"docs":                                 {},
	"console":                              {},
	"demo":                                 {},
	"console/core/answers":                 {"internal/core/"},
	"console/core/alone":                   {"internal/core/", "internal/wire"},
	"internal/describe":                    {"internal/cli", "internal/core/", "internal/wire", "internal/service/api", "console/core/answers"},
	"demo/drawkit":                         {"demo"},
	"bench":                                {"internal/", "client", "console", "demo"},
	"internal/core/table/tabletest":        {"internal/core/table", "internal/core/chance", "internal/core/grid"},
	"internal/service/mariadb/mariadbtest": {"internal/service/mariadb"},
	"internal/trial":                       {},
	"internal/trial/linear":                {},
}

// outside are packages of others that core does without: it computes.
var outside = []string{"os", "os/exec", "net", "net/http", "database/sql", "log", "log/slog", "time", "syscall",
	"github.com/jmoiron/sqlx", "github.com/gorilla/websocket", "github.com/go-chi/chi/v5", "github.com/spf13/cobra"}

func TestImportsKeepToTheTableOfTheHouse(t *testing.T) {
	t.Parallel()
	list := exec.Command("go", "list", "-json=ImportPath,Imports", "damselfly.example/damselfly/...")
	text, err := list.Output()
	require.NoError(t, err)
	decoder := json.NewDecoder(strings.NewReader(string(text)))
	folders := 0
	for decoder.More() {
		var p struct {
			ImportPath string
			Imports    []string
		}
		require.NoError(t, decoder.Decode(&p))
		folder := strings.TrimPrefix(p.ImportPath, "damselfly.example/damselfly/")
		folders++
		allowed, known := mayImport[folder]
		if !assert.True(t, known, "the folder %s is not in the table of docs/architecture.md", folder) {
			continue
		}
		for _, imported := range p.Imports {
			if ours, is := strings.CutPrefix(imported, "damselfly.example/damselfly/"); is {
				fits := slices.ContainsFunc(allowed, func(a string) bool {
					return ours == a || strings.HasSuffix(a, "/") && strings.HasPrefix(ours, a)
				})
				assert.True(t, fits, "%s imports %s", folder, ours)
			}
			if strings.HasPrefix(folder, "internal/core/") {
				assert.NotContains(t, outside, imported, "%s computes only", folder)
			}
		}
	}
	assert.Greater(t, folders, 15)
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
