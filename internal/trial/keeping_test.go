package trial

import (
	"encoding/json"
	"io"
	"net/http"
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

// keepingDocs is where what the documentation of keeping ships lies.
const keepingDocs = "../../docs/keeping"

// The systemd unit is one that systemd takes, and what it starts starts.
func TestTheSystemdUnitStartsTheService(t *testing.T) {
	t.Parallel()
	text, err := os.ReadFile(filepath.Join(keepingDocs, "damselfly.service"))
	require.NoError(t, err)
	unit := strings.ReplaceAll(string(text), "/usr/local/bin/damselfly", program)
	file := filepath.Join(t.TempDir(), "damselfly.service")
	require.NoError(t, os.WriteFile(file, []byte(unit), 0o600))
	if verify, err := exec.LookPath("systemd-analyze"); err == nil {
		out, err := exec.Command(verify, "verify", file).CombinedOutput()
		require.NoError(t, err, string(out))
		assert.Empty(t, string(out))
	}
	starts := regexp.MustCompile(`(?m)^ExecStart=(.+)$`).FindStringSubmatch(unit)
	require.NotNil(t, starts)
	words := strings.Fields(starts[1])
	require.Equal(t, []string{program, "serve", "--listen", "127.0.0.1:7171", "--data", "/var/lib/damselfly"}, words[:6])
	s := start(t, words[6:]...)
	_, err = s.maker().Kits(s.ctx)
	require.NoError(t, err)
}

// The dashboard shows what the service counts.
func TestTheDashboardShowsWhatIsCounted(t *testing.T) {
	t.Parallel()
	metrics := freeAddress(t)
	s := start(t, "--metrics", metrics)
	s.room()
	response, err := http.Get("http://" + metrics + "/metrics")
	require.NoError(t, err)
	defer response.Body.Close()
	counted, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	text, err := os.ReadFile(filepath.Join(keepingDocs, "grafana.json"))
	require.NoError(t, err)
	var dashboard struct {
		Panels []struct {
			Title   string
			Targets []struct{ Expr string }
		}
	}
	require.NoError(t, json.Unmarshal(text, &dashboard))
	require.NotEmpty(t, dashboard.Panels)
	later := []string{"damselfly_people", "damselfly_actions_total", "damselfly_disk_free_bytes"} // they come with the first that is counted
	for _, panel := range dashboard.Panels {
		for _, target := range panel.Targets {
			for _, name := range regexp.MustCompile(`(damselfly|process|go)_[a-z_]+`).FindAllString(target.Expr, -1) {
				assert.True(t, slices.Contains(later, name) || strings.Contains(string(counted), "\n"+name), "%s: %s", panel.Title, name)
			}
		}
	}
}
