package store_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/mariadb/mariadbtest"
	"damselfly.example/damselfly/internal/service/store"
)

const dayMillis = 24 * 60 * 60 * 1000

// What was removed long ago is taken away for good, and nothing that a room, a bookmark or another edition needs.
func TestWhatNothingNeedsIsErased(t *testing.T) {
	s, ctx := open(t)
	ada := maker(t, s, "Ada")
	result := made(t)
	put := func(name string) store.Kit {
		r := *result
		r.Edition.Name = name
		hash, err := s.AddFile(ctx, ada, []byte("kit "+name), 1)
		require.NoError(t, err)
		k, _, err := s.PutKit(ctx, ada, store.Put{Result: &r, Files: []store.File{{Name: "kit.yaml", Hash: hash, Size: 4}}}, 1)
		require.NoError(t, err)
		return k
	}
	gone, played, marked, brought := put("Gone"), put("Played"), put("Marked"), put("Brought")
	stale, err := s.AddFile(ctx, ada, []byte("sent and never named"), 1)
	require.NoError(t, err)
	room := func(id, kit string) {
		require.NoError(t, s.AddRoom(ctx, store.Room{ID: id, Maker: ada, Kit: kit, Edition: 1, Name: id, Passcode: []byte{}, Seed: bytes.Repeat([]byte{1}, 32)},
			store.Entry{Room: id, Number: 1, At: 5, Edits: []byte("[]"), Deeds: []byte("[]"), Uses: table.Uses{Editions: []table.EditionOf{{Kit: brought.ID, Number: 1}}}}))
	}
	room("left", gone.ID)
	room("stays", played.ID)
	require.NoError(t, s.AddBookmark(ctx, store.Bookmark{ID: "b", Maker: ada, Name: "b", Kit: marked.ID, Edition: 1, State: []byte("{}")}))
	for _, k := range []store.Kit{gone, played, marked, brought} {
		require.NoError(t, s.RemoveKit(ctx, k.ID, 100))
	}
	require.NoError(t, s.RemoveRoom(ctx, "left", 100))

	erased, err := s.Erase(ctx, 100+store.RemovedFor)
	require.NoError(t, err)
	assert.Equal(t, store.Erased{}, erased, "it can be brought back still")
	erased, err = s.Erase(ctx, 200+store.RemovedFor+dayMillis)
	require.NoError(t, err)
	assert.Equal(t, 1, erased.Rooms)
	assert.Equal(t, 1, erased.Kits, "the room is gone, so its kit is needed no more")
	assert.Equal(t, 2, erased.Files, "that of the kit, and the one that was never named")
	assert.Zero(t, erased.Pictures, "other editions show the same")
	_, err = s.Edition(ctx, gone.ID, 1)
	require.ErrorIs(t, err, store.ErrNotFound)
	_, err = s.FileBytes(ctx, stale)
	require.ErrorIs(t, err, store.ErrNotFound)
	for _, k := range []store.Kit{played, marked, brought} {
		_, err = s.Edition(ctx, k.ID, 1)
		require.NoError(t, err, k.Name)
		files, err := s.FilesOf(ctx, k.ID, 1)
		require.NoError(t, err)
		_, err = s.FileBytes(ctx, files[0].Hash)
		require.NoError(t, err, k.Name)
	}
	picture := result.Edition.Decks[0].Designs[result.Edition.Decks[0].Copies[0].Design].Front.Full
	_, err = s.Picture(ctx, picture)
	require.NoError(t, err)

	// The last who needed the pictures go, too.
	require.NoError(t, s.RemoveRoom(ctx, "stays", 100))
	require.NoError(t, s.RemoveBookmark(ctx, ada, "b"))
	later := store.Now() + store.RemovedFor + 3*dayMillis
	erased, err = s.Erase(ctx, later)
	require.NoError(t, err)
	assert.Equal(t, []int{1, 3}, []int{erased.Rooms, erased.Kits})
	assert.Positive(t, erased.Pictures)
	_, err = s.Picture(ctx, picture)
	require.ErrorIs(t, err, store.ErrNotFound)
}

func TestUnusedRoomsAreListedBeforeTheyGo(t *testing.T) {
	s, ctx := open(t)
	ada := maker(t, s, "Ada")
	k, _, err := s.PutKit(ctx, ada, store.Put{Result: made(t), Files: files("a")}, 1)
	require.NoError(t, err)
	for id, at := range map[string]int64{"old": 1, "used": 1, "new": 50 * dayMillis} {
		require.NoError(t, s.AddRoom(ctx, store.Room{ID: id, Maker: ada, Kit: k.ID, Edition: 1, Name: id, Passcode: []byte{}, Seed: make([]byte, 32), At: at}, store.Entry{Room: id, Number: 1, At: at, Edits: []byte("[]"), Deeds: []byte("[]")}))
	}
	require.NoError(t, s.Append(ctx, []store.Entry{{Room: "used", Number: 2, At: 49 * dayMillis, Edits: []byte("[]"), Deeds: []byte("[]")}}))
	unused, err := s.Unused(ctx, 30, 60*dayMillis)
	require.NoError(t, err)
	require.Len(t, unused, 1)
	assert.Equal(t, "old", unused[0].ID)
	removed, err := s.RemoveUnused(ctx, 30, 60*dayMillis)
	require.NoError(t, err)
	assert.Len(t, removed, 1)
	_, err = s.Room(ctx, "old")
	require.ErrorIs(t, err, store.ErrNotFound)
	require.NoError(t, s.RestoreRoom(ctx, ada, "old", 61*dayMillis), "its maker can bring it back")
}

// entries are the files of a backup, but for when it was made.
func entries(t *testing.T, backup []byte) map[string]string {
	r, err := zip.NewReader(bytes.NewReader(backup), int64(len(backup)))
	require.NoError(t, err)
	all := map[string]string{}
	for _, f := range r.File {
		if f.Name == "backup.json" {
			continue
		}
		in, err := f.Open()
		require.NoError(t, err)
		text, err := io.ReadAll(in)
		require.NoError(t, err)
		all[f.Name] = string(text)
	}
	return all
}

func backedUp(t *testing.T, s *store.Store) []byte {
	var out bytes.Buffer
	require.NoError(t, s.Backup(t.Context(), &out, "test"))
	return out.Bytes()
}

func zipReader(t *testing.T, file []byte) *zip.Reader {
	r, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	require.NoError(t, err)
	return r
}

// All records of a backup stand in another database as they stood, whatever was there before.
func TestABackupIsRestored(t *testing.T) {
	s, ctx := open(t)
	ada := maker(t, s, "Ada Öl — \"quoted\"\n☂")
	hash, err := s.AddFile(ctx, ada, bytes.Repeat([]byte{0, 255, '\n'}, 700_000), 1)
	require.NoError(t, err)
	k, _, err := s.PutKit(ctx, ada, store.Put{Result: made(t), Files: []store.File{{Name: "kit.yaml", Hash: hash}}, Note: "x"}, 1)
	require.NoError(t, err)
	require.NoError(t, s.AddRoom(ctx, store.Room{ID: "r", Maker: ada, Kit: k.ID, Edition: 1, Name: "r", Passcode: []byte{0, 1, 2}, Seed: bytes.Repeat([]byte{255}, 32)}, entry(t, 1, nil, nil)))
	require.NoError(t, s.AddSeatKey(ctx, "key", store.SeatKey{Room: "r", Seat: 1, Tenure: 2}, 3))
	require.NoError(t, s.AddBookmark(ctx, store.Bookmark{ID: "b", Maker: ada, Name: "b", Kit: k.ID, Edition: 1, State: []byte(`{"a":1}`)}))
	backup := backedUp(t, s)

	other, err := store.Open(ctx, mariadbtest.DSN(t))
	require.NoError(t, err)
	defer other.Close()
	maker(t, other, "Bo")
	require.NoError(t, other.Restore(ctx, zipReader(t, backup)))
	assert.Equal(t, entries(t, backup), entries(t, backedUp(t, other)))
	found, err := other.MakerOf(ctx, "key of Ada Öl — \"quoted\"\n☂")
	require.NoError(t, err)
	assert.Equal(t, ada, found.ID)
	_, err = other.MakerOf(ctx, "key of Bo")
	require.ErrorIs(t, err, store.ErrNotFound)
	file, err := other.FileBytes(ctx, hash)
	require.NoError(t, err)
	assert.Len(t, file, 2_100_000)
}

// What is no whole backup changes nothing.
func TestWhatIsNoBackupChangesNothing(t *testing.T) {
	s, ctx := open(t)
	maker(t, s, "Ada")
	backup := backedUp(t, s)
	maker(t, s, "Bo")
	was := entries(t, backedUp(t, s))
	rewritten := func(change func(name, text string) (string, bool)) []byte {
		var out bytes.Buffer
		w := zip.NewWriter(&out)
		for _, f := range zipReader(t, backup).File {
			in, err := f.Open()
			require.NoError(t, err)
			text, err := io.ReadAll(in)
			require.NoError(t, err)
			changed, keep := change(f.Name, string(text))
			if !keep {
				continue
			}
			to, err := w.Create(f.Name)
			require.NoError(t, err)
			_, err = to.Write([]byte(changed))
			require.NoError(t, err)
		}
		require.NoError(t, w.Close())
		return out.Bytes()
	}
	for want, file := range map[string][]byte{
		"it holds no backup.json": rewritten(func(name, text string) (string, bool) { return text, name != "backup.json" }),
		"its backup.json cannot be read": rewritten(func(name, text string) (string, bool) {
			if name == "backup.json" {
				text = "{}"
			}
			return text, true
		}),
		"is of format 9": rewritten(func(name, text string) (string, bool) {
			if name == "backup.json" {
				text = `{"damselfly_backup":9,"schema":1}`
			}
			return text, true
		}),
		"with schema 99": rewritten(func(name, text string) (string, bool) {
			if name == "backup.json" {
				text = `{"damselfly_backup":2,"schema":99,"version":"0.0"}`
			}
			return text, true
		}),
		"by an unreleased Damselfly": rewritten(func(name, text string) (string, bool) {
			if name == "backup.json" {
				text = `{"damselfly_backup":1,"schema":1,"version":"0.0"}`
			}
			return text, true
		}),
		"the table bookmarks: the backup lacks it": rewritten(func(name, text string) (string, bool) { return text, name != "tables/bookmarks.jsonl" }),
		"the table makers: its file is damaged": rewritten(func(name, text string) (string, bool) {
			if name == "tables/makers.jsonl" {
				text = text[:len(text)-5]
			}
			return text, true
		}),
	} {
		assert.ErrorContains(t, s.Restore(ctx, zipReader(t, file)), want)
		assert.Equal(t, was, entries(t, backedUp(t, s)), want)
	}
}

// A database that a newer Damselfly used is left alone.
func TestADatabaseOfANewerSchemaIsRefused(t *testing.T) {
	ctx := t.Context()
	dsn := mariadbtest.DSN(t)
	s, err := store.Open(ctx, dsn)
	require.NoError(t, err)
	schema, err := s.Schema(ctx)
	require.NoError(t, err)
	require.NoError(t, s.Close())
	db := sqlx.MustConnect("mysql", dsn)
	defer db.Close()
	db.MustExec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (999, 1)")
	_, err = store.Open(ctx, dsn)
	assert.EqualError(t, err, fmt.Sprintf("the database has schema 999, and this Damselfly knows schema %d: it was used by a newer Damselfly, or by an unreleased one. Run that one, or name another database", schema))
}
