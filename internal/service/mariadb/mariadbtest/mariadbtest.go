// Package mariadbtest gives tests databases on a real MariaDB.
package mariadbtest

import (
	"context"
	"crypto/rand"
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/service/mariadb"
)

var (
	once   sync.Once
	server *mariadb.Server
	failed error
)

// Main runs the tests of a package and then stops the server they used, if
// any. Call it from TestMain.
func Main(m *testing.M) {
	folder, err := os.MkdirTemp("", "damselfly-test-")
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	dataFolder = folder
	code := m.Run()
	if server != nil {
		if err := server.Stop(); err != nil {
			fmt.Fprintln(os.Stderr, err)
		}
	}
	_ = os.RemoveAll(folder)
	os.Exit(code)
}

var dataFolder string

// DSN makes an empty database for a test, dropped when the test ends.
func DSN(t testing.TB) string {
	once.Do(func() {
		server, failed = mariadb.Start(context.Background(), filepath.Join(dataFolder, "mariadb"), os.Stderr)
	})
	require.NoError(t, failed)
	db, err := sql.Open("mysql", server.DSN(""))
	require.NoError(t, err)
	name := "test_" + strings.ToLower(rand.Text()[:12])
	_, err = db.Exec("CREATE DATABASE " + name + " CHARACTER SET utf8mb4 COLLATE utf8mb4_bin")
	require.NoError(t, err)
	t.Cleanup(func() {
		_, _ = db.Exec("DROP DATABASE " + name)
		_ = db.Close()
	})
	return server.DSN(name)
}
