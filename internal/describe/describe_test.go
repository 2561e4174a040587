package main

import (
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhatIsDescribedIsWhatTheCodeSays(t *testing.T) {
	files, err := described()
	require.NoError(t, err)
	for path, want := range files {
		kept, err := os.ReadFile("../../" + path)
		require.NoError(t, err)
		assert.Equal(t, string(want), string(kept), "%s is not up to date; run make describe", path)
	}
}
