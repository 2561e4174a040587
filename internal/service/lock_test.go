package service

import (
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/service/api"
)

// A data folder is one service's; another one is told so, and by which process.
func TestADataFolderIsOneServices(t *testing.T) {
	data := filepath.Join(t.TempDir(), "data")
	assert.False(t, Running(data))
	held, err := lock(data)
	require.NoError(t, err)
	assert.True(t, Running(data))
	_, err = lock(data)
	require.ErrorContains(t, err, "another service uses the data folder "+data+" (process "+strconv.Itoa(os.Getpid())+")")
	require.NoError(t, held.Close())
	assert.False(t, Running(data))
	held, err = lock(data)
	require.NoError(t, err)
	require.NoError(t, held.Close())
}

// An address that is nobody's, or another service's, is found at the start.
func TestAServiceFindsOutWhetherItsAddressLeadsToItself(t *testing.T) {
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set(api.NodeHeader, api.NodeMark("mine"))
	}))
	require.NoError(t, reachesItself(t.Context(), server.URL, "mine"))
	assert.ErrorContains(t, reachesItself(t.Context(), server.URL, "another"), "another service answers at the address")
	server.Close()
	assert.ErrorContains(t, reachesItself(t.Context(), server.URL, "mine"), "nobody answers at the address")
}
