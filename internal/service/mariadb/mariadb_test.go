package mariadb_test

import (
	"bytes"
	"context"
	"database/sql"
	"io"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/service/mariadb"
)

func TestAServerKeepsItsDataOverAStop(t *testing.T) {
	folder, ctx := t.TempDir(), context.Background()
	for run := range 2 {
		server, err := mariadb.Start(ctx, folder, io.Discard)
		require.NoError(t, err)
		db, err := sql.Open("mysql", server.DSN(mariadb.Database))
		require.NoError(t, err)
		if run == 0 {
			_, err = db.Exec("CREATE TABLE kept (n INT PRIMARY KEY)")
			require.NoError(t, err)
		}
		_, err = db.Exec("INSERT INTO kept VALUES (?)", run)
		require.NoError(t, err)
		var n int
		require.NoError(t, db.QueryRow("SELECT COUNT(*) FROM kept").Scan(&n))
		assert.Equal(t, run+1, n)
		require.NoError(t, db.Close())
		require.NoError(t, server.Stop())
	}
}

func TestAFolderThatCannotBeMadeIsAnError(t *testing.T) {
	_, err := mariadb.Start(context.Background(), "/dev/null/data", io.Discard)
	assert.ErrorContains(t, err, "making the database's folder")
}

func TestAServerThatEndsIsStartedAgain(t *testing.T) {
	ctx := context.Background()
	server, err := mariadb.Start(ctx, t.TempDir(), io.Discard)
	require.NoError(t, err)
	said, kept := make(chan string, 20), make(chan error, 1)
	go func() { kept <- server.Keep(func(text string) { said <- text }) }()
	db, err := sql.Open("mysql", server.DSN(mariadb.Database))
	require.NoError(t, err)
	defer db.Close()
	_, err = db.Exec("CREATE TABLE kept (n INT PRIMARY KEY)")
	require.NoError(t, err)
	require.NoError(t, syscall.Kill(server.Process(), syscall.SIGKILL))
	assert.Equal(t, "MariaDB has ended by itself; it is started again", <-said)
	assert.Equal(t, "MariaDB runs again", <-said)
	var n int
	require.NoError(t, db.QueryRow("SELECT COUNT(*) FROM kept").Scan(&n), "the same address and password")
	require.NoError(t, server.Stop())
	require.NoError(t, <-kept)
}

// A newer release of the server brings its own tables up to date, once, and says so; what was kept stays.
func TestANewerReleaseBringsTheServersTablesUpToDate(t *testing.T) {
	folder := t.TempDir()
	first, err := mariadb.Start(t.Context(), folder, io.Discard)
	require.NoError(t, err)
	db, err := sql.Open("mysql", first.DSN(mariadb.Database))
	require.NoError(t, err)
	_, err = db.Exec("CREATE TABLE kept (n INT PRIMARY KEY)")
	require.NoError(t, err)
	require.NoError(t, db.Close())
	require.NoError(t, first.Stop())
	ran, err := os.ReadFile(filepath.Join(folder, "release"))
	require.NoError(t, err)

	require.NoError(t, os.WriteFile(filepath.Join(folder, "release"), []byte("10.1\n"), 0o600))
	for _, says := range []string{"Bringing the database's own tables to MariaDB " + strings.TrimSpace(string(ran)) + " …\n", ""} {
		var said strings.Builder
		again, err := mariadb.Start(t.Context(), folder, &said)
		require.NoError(t, err)
		assert.Equal(t, says, said.String())
		db, err := sql.Open("mysql", again.DSN(mariadb.Database))
		require.NoError(t, err)
		_, err = db.Exec("SELECT n FROM kept")
		require.NoError(t, err)
		require.NoError(t, db.Close())
		require.NoError(t, again.Stop())
	}
	now, err := os.ReadFile(filepath.Join(folder, "release"))
	require.NoError(t, err)
	assert.Equal(t, ran, now)
}

// Data of a version that was never released is not mistaken for this one's: it is moved aside, told of, and kept.
func TestUnreleasedDataIsMovedAside(t *testing.T) {
	folder, ctx := filepath.Join(t.TempDir(), "mariadb"), context.Background()
	server, err := mariadb.Start(ctx, folder, io.Discard)
	require.NoError(t, err)
	db, err := sql.Open("mysql", server.DSN(mariadb.Database))
	require.NoError(t, err)
	_, err = db.Exec("CREATE DATABASE damselfly")
	require.NoError(t, err)
	_, err = db.Exec("CREATE TABLE damselfly.kept (n INT PRIMARY KEY)")
	require.NoError(t, err)
	_, err = db.Exec("DROP DATABASE " + mariadb.Database)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	require.NoError(t, server.Stop())

	for run := range 2 { // it is told once
		var told bytes.Buffer
		server, err = mariadb.Start(ctx, folder, &told)
		require.NoError(t, err)
		assert.Equal(t, run == 0, strings.Contains(told.String(), "is of an unreleased version. It was moved aside to "+folder+"-unreleased"), told.String())
		require.NoError(t, server.Stop())
	}
	kept, err := filepath.Glob(filepath.Join(folder+"-unreleased", "files", "damselfly", "kept.*"))
	require.NoError(t, err)
	assert.NotEmpty(t, kept)
}

// A new database is made without a folder that others use, too: a server that starts takes away what it finds there of
// temporary tables, and once took another's that was just being made.
func TestANewDatabaseIsMadeInAFolderOfItsOwn(t *testing.T) {
	folder := t.TempDir()
	t.Setenv("TMPDIR", "/dev/null/nowhere")
	server, err := mariadb.Start(context.Background(), folder, io.Discard)
	require.NoError(t, err)
	require.NoError(t, server.Stop())
	assert.NoDirExists(t, filepath.Join(folder, "files.scratch"))
}
