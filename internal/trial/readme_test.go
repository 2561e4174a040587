package trial

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// pasted are the lines of the README that are there to be pasted into a shell: those of its indented blocks, but for the two
// that make the demo and run these tests.
func pasted(t *testing.T) (lines []string) {
	text, err := os.ReadFile("../../README.md")
	require.NoError(t, err)
	for _, line := range strings.Split(string(text), "\n") {
		if code, is := strings.CutPrefix(line, "    "); is && !strings.HasPrefix(code, "make ") {
			lines = append(lines, code)
		}
	}
	return lines
}

// The README can be pasted into a shell, line by line, by who has a service running and stands in this repository.
func TestTheReadmeCanBePasted(t *testing.T) {
	t.Parallel()
	s := start(t)
	home, here := t.TempDir(), t.TempDir()
	require.NoError(t, os.MkdirAll(filepath.Join(home, ".local", "share"), 0o700))
	require.NoError(t, os.Symlink(s.data, filepath.Join(home, ".local", "share", "damselfly")))
	require.NoError(t, os.Mkdir(filepath.Join(here, "bin"), 0o700))
	require.NoError(t, os.Symlink(program, filepath.Join(here, "bin", "damselfly")))
	require.NoError(t, os.CopyFS(filepath.Join(here, "demo"), os.DirFS("../../demo")))

	// What a person would see and do: a curl that was refused, and Ctrl-C.
	script := "curl() { command curl --silent --show-error --fail-with-body \"$@\"; }\n" +
		"ended() { local code=$?; [ $code = $1 ] || { echo \"$2 ended with $code\"; exit 1; }; }\n"
	end := "" // of a text that is written out
	for _, line := range pasted(t) {
		line = strings.ReplaceAll(line, "127.0.0.1:7171", s.address)
		code := 0
		switch {
		case strings.Contains(line, "(exits with 3)"):
			code = 3
		case strings.Contains(line, "until Ctrl-C"):
			line = "timeout --signal INT 5 " + line
			code = 124
		}
		script += line + "\n"
		if at := strings.Index(line, "<<'"); at >= 0 {
			end = strings.Trim(line[at+2:], "'")
		}
		if end == "" {
			script += fmt.Sprintf("ended %d %q\n", code, strings.NewReplacer("$", "", "`", "").Replace(line))
		}
		if line == end {
			end = ""
		}
	}
	shell := exec.CommandContext(s.ctx, "bash", "-o", "pipefail")
	shell.Dir, shell.Stdin = here, strings.NewReader(script)
	shell.Env = append(os.Environ(), "HOME="+home, "XDG_CONFIG_HOME=", "XDG_DATA_HOME=", "DAMSELFLY_SERVER="+s.url())
	out, err := shell.CombinedOutput()
	require.NoError(t, err, string(out))
	require.NotContains(t, string(out), `"code":`, "a problem was answered")
	for _, file := range []string{"bog-post/kit.yaml", "errands.png", "marked.png", "cards/cell-01.png", "letters.png", "cards.pdf", "letters.xlsx", "key.png", "marshpost.zip"} {
		require.FileExists(t, filepath.Join(here, "build", file))
	}
}
