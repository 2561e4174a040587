package trial

import (
	"os/exec"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A module of its own, outside of this one, plays with nothing but the public client.
func TestAProgramOfOnesOwnPlaysThroughTheClient(t *testing.T) {
	t.Parallel()
	s := start(t)
	room := s.room()
	for _, check := range []string{"vet", "run"} {
		args := []string{check, "."}
		if check == "run" {
			args = append(args, s.url(), room.ID)
		}
		program := exec.CommandContext(s.ctx, "go", args...)
		program.Dir = "../../examples/practice"
		out, err := program.CombinedOutput()
		require.NoError(t, err, string(out))
		if check == "run" {
			assert.Contains(t, string(out), "too-few-cards: weather has 17 cards, you asked for 500.")
			assert.Contains(t, string(out), "Reed everything home")
		}
	}
}
