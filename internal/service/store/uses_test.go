package store_test

import (
	"context"
	_ "embed"
	"strings"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/mariadb/mariadbtest"
	"damselfly.example/damselfly/internal/service/store"
)

//go:embed testdata/schema-1.sql
var schema1 string

// A database of before is brought up to date: what its editions, journals and bookmarks name stands in rows.
func TestWhatSchema1NamesIsNoted(t *testing.T) {
	ctx, dsn := context.Background(), mariadbtest.DSN(t)
	db, err := sqlx.Open("mysql", dsn)
	require.NoError(t, err)
	defer db.Close()
	require.NoError(t, store.MigrateTo(ctx, db, 1))
	for _, statement := range strings.Split(schema1, ";\n") {
		if strings.TrimSpace(statement) != "" {
			_, err := db.ExecContext(ctx, statement)
			require.NoError(t, err, statement)
		}
	}
	s, err := store.Open(ctx, dsn)
	require.NoError(t, err)
	defer s.Close()

	rows := func(query string) (all []string) {
		require.NoError(t, db.SelectContext(ctx, &all, query))
		return all
	}
	assert.Equal(t, []string{"k1/1/1", "k1/1/2", "k1/1/3", "k1/1/4"}, rows("SELECT CONCAT(kit, '/', number, '/', LEFT(picture, 1)) FROM edition_pictures ORDER BY 1"))
	assert.Equal(t, []string{"b1/k1/1", "r1/k1/1"}, rows("SELECT CONCAT(used_by, '/', kit, '/', number) FROM used_editions ORDER BY 1"))
	assert.Equal(t, []string{"b1/7", "b1/8", "r1/5", "r1/6"}, rows("SELECT CONCAT(used_by, '/', LEFT(picture, 1)) FROM used_pictures ORDER BY 1"))
}

// A picture stays for as long as something names it: an edition, a room's journal or a bookmark.
func TestAPictureStaysWhileItIsNamed(t *testing.T) {
	s, ctx := open(t)
	ada := maker(t, s, "Ada")
	result := made(t)
	picture := result.Edition.Decks[0].Designs[result.Edition.Decks[0].Copies[0].Design].Front
	put := func(name string) store.Kit {
		r := *result
		r.Edition.Name = name
		k, _, err := s.PutKit(ctx, ada, store.Put{Result: &r, Files: files(name)}, 1)
		require.NoError(t, err)
		return k
	}
	gone, other := put("Gone"), put("Other")
	uses := table.UsesOf(picture)
	room := store.Room{ID: "r", Maker: ada, Kit: other.ID, Edition: 1, Name: "r", Passcode: []byte{}, Seed: make([]byte, 32), At: 1}
	require.NoError(t, s.AddRoom(ctx, room, store.Entry{Room: "r", Number: 1, Edits: []byte("[]"), Deeds: []byte("[]")}))
	require.NoError(t, s.Append(ctx, []store.Entry{{Room: "r", Number: 2, Edits: []byte("[]"), Deeds: []byte("[]"), Uses: uses}}))
	require.NoError(t, s.AddBookmark(ctx, store.Bookmark{ID: "b", Maker: ada, Name: "b", Kit: other.ID, Edition: 1, State: []byte("{}"), Uses: uses}))
	at := store.Now() + store.RemovedFor + 3*dayMillis
	for _, last := range []struct {
		name string
		goes func() error
	}{
		{"an edition of another kit", func() error { return s.RemoveKit(ctx, other.ID, 100) }},
		{"a room and a bookmark", func() error { return s.RemoveRoom(ctx, "r", 100) }},
		{"a bookmark", func() error { return s.RemoveBookmark(ctx, ada, "b") }},
	} {
		require.NoError(t, s.RemoveKit(ctx, gone.ID, 100))
		_, err := s.Erase(ctx, at)
		require.NoError(t, err)
		_, err = s.Picture(ctx, picture.Full)
		require.NoError(t, err, "%s needs it", last.name)
		require.NoError(t, last.goes())
		gone = put("Gone") // another that shows the same, and goes
	}
	require.NoError(t, s.RemoveKit(ctx, gone.ID, 100))
	_, err := s.Erase(ctx, at)
	require.NoError(t, err)
	_, err = s.Picture(ctx, picture.Full)
	require.ErrorIs(t, err, store.ErrNotFound)
}
