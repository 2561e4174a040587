package store_test

import (
	"bytes"
	"context"
	"database/sql"
	"database/sql/driver"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"net"
	"slices"
	"strings"
	"testing"

	"github.com/go-sql-driver/mysql"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
	"damselfly.example/damselfly/internal/service/mariadb/mariadbtest"
	"damselfly.example/damselfly/internal/service/store"
)

func TestMain(m *testing.M) { mariadbtest.Main(m) }

func open(t *testing.T) (*store.Store, context.Context) {
	ctx := context.Background()
	s, err := store.Open(ctx, mariadbtest.DSN(t))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return s, ctx
}

func made(t *testing.T) *kit.Result {
	k, err := kit.Read(demo.Weather())
	require.NoError(t, err)
	result, err := k.Make(kit.Making{})
	require.NoError(t, err)
	return result
}

// files are those of an edition that differ by a text.
func files(text string) []store.File {
	return []store.File{{Name: "kit.yaml", Hash: kit.HashOf([]byte(text)), Size: int64(len(text))}, {Name: "weather.png", Hash: kit.HashOf(nil)}}
}

func maker(t *testing.T, s *store.Store, name string) string {
	m, err := s.AddMaker(context.Background(), name, "key of "+name, 1)
	require.NoError(t, err)
	return m.ID
}

func TestTheSameFilesAgainAreTheSameEdition(t *testing.T) {
	s, ctx := open(t)
	result, ada := made(t), maker(t, s, "Ada")
	first, fresh, err := s.PutKit(ctx, ada, store.Put{Result: result, Files: files("a"), Note: "to begin with"}, 1)
	require.NoError(t, err)
	assert.True(t, fresh)
	turned := files("a")
	slices.Reverse(turned)
	again, fresh, err := s.PutKit(ctx, ada, store.Put{Result: result, Files: turned, After: 7}, 2)
	require.NoError(t, err)
	assert.False(t, fresh)
	assert.Equal(t, []any{first.ID, 1}, []any{again.ID, again.Edition})
	second, _, err := s.PutKit(ctx, ada, store.Put{Result: result, Files: files("b"), After: 1}, 3)
	require.NoError(t, err)
	assert.Equal(t, 2, second.Edition)
	_, _, err = s.PutKit(ctx, ada, store.Put{Result: result, Files: files("c"), After: 1}, 4)
	var between *store.BetweenError
	require.ErrorAs(t, err, &between)
	assert.Equal(t, 2, between.Newest)

	kits, err := s.Kits(ctx, ada)
	require.NoError(t, err)
	require.Len(t, kits, 1)
	cover, err := kits[0].Cover()
	require.NoError(t, err)
	assert.Equal(t, result.Edition.Cover(), cover)
	assert.Equal(t, []any{first.ID, "Ada", "Marsh Post", 2, int64(3), store.Private}, []any{kits[0].ID, kits[0].MakerName, kits[0].Name, kits[0].Edition, kits[0].At, kits[0].Reach})
	editions, err := s.Editions(ctx, first.ID)
	require.NoError(t, err)
	assert.Equal(t, []store.EditionRow{{Number: 2, At: 3}, {Number: 1, At: 1, Note: "to begin with"}}, editions)
	kept, err := s.Edition(ctx, first.ID, 1)
	require.NoError(t, err)
	assert.Equal(t, result.Edition, kept)
	listed, err := s.FilesOf(ctx, first.ID, 2)
	require.NoError(t, err)
	assert.Equal(t, files("b"), listed)
	picture, err := s.Picture(ctx, result.Edition.Decks[0].Veil.Full)
	require.NoError(t, err)
	assert.Equal(t, result.Pictures[result.Edition.Decks[0].Veil.Full], picture)
	others, err := s.Kits(ctx, maker(t, s, "Bo"))
	require.NoError(t, err)
	assert.Empty(t, others)
}

func TestWhatWasRemovedComesBackForAWhile(t *testing.T) {
	s, ctx := open(t)
	ada, bo := maker(t, s, "Ada"), maker(t, s, "Bo")
	k, _, err := s.PutKit(ctx, ada, store.Put{Result: made(t), Files: files("a")}, 1)
	require.NoError(t, err)
	require.NoError(t, s.AddRoom(ctx, store.Room{ID: "r", Maker: ada, Kit: k.ID, Edition: 1, Name: "Thursday", Passcode: []byte{}, Seed: make([]byte, 32)}, entry(t, 1, nil, nil)))
	require.NoError(t, s.RemoveKit(ctx, k.ID, 100))
	require.NoError(t, s.RemoveRoom(ctx, "r", 100))
	_, err = s.Kit(ctx, k.ID)
	require.ErrorIs(t, err, store.ErrNotFound)
	_, err = s.Room(ctx, "r")
	require.ErrorIs(t, err, store.ErrNotFound)
	for _, lists := range []func() (int, error){
		func() (int, error) { all, err := s.Kits(ctx, ada); return len(all), err },
		func() (int, error) { all, err := s.Rooms(ctx, ada); return len(all), err },
		func() (int, error) { all, err := s.RemovedKits(ctx, bo, 100); return len(all), err },
		func() (int, error) { all, err := s.RemovedRooms(ctx, bo, 100); return len(all), err },
		func() (int, error) { all, err := s.RemovedKits(ctx, ada, 101+store.RemovedFor); return len(all), err },
	} {
		n, err := lists()
		require.NoError(t, err)
		assert.Zero(t, n)
	}
	require.ErrorIs(t, s.RestoreKit(ctx, bo, k.ID, 200), store.ErrNotFound, "somebody else's")
	require.ErrorIs(t, s.RestoreRoom(ctx, bo, "r", 200), store.ErrNotFound)
	require.ErrorIs(t, s.RestoreKit(ctx, ada, k.ID, 101+store.RemovedFor), store.ErrNotFound, "too late")
	removed, err := s.RemovedRooms(ctx, ada, 200)
	require.NoError(t, err)
	require.Len(t, removed, 1)
	assert.Equal(t, "Marsh Post", removed[0].KitName)
	require.NoError(t, s.RestoreKit(ctx, ada, k.ID, 200))
	require.NoError(t, s.RestoreRoom(ctx, ada, "r", 200))
	rooms, err := s.Rooms(ctx, ada)
	require.NoError(t, err)
	assert.Len(t, rooms, 1)

	require.NoError(t, s.RemoveKit(ctx, k.ID, 300))
	again, _, err := s.PutKit(ctx, ada, store.Put{Result: made(t), Files: files("b")}, 301)
	require.NoError(t, err)
	assert.Equal(t, []any{k.ID, 2}, []any{again.ID, again.Edition}, "put again, it is there again")
}

// What others have is not told, and a file is given back as it came, however large.
func TestFilesAreKeptByWhatIsInThem(t *testing.T) {
	s, ctx := open(t)
	ada, bo := maker(t, s, "Ada"), maker(t, s, "Bo")
	large := bytes.Repeat([]byte("marsh post "), 300_000)
	var files []store.File
	for name, text := range map[string][]byte{"large.png": large, "empty.txt": {}, "kit.yaml": []byte("kit: 1\n")} {
		hash, err := s.AddFile(ctx, ada, text, 1)
		require.NoError(t, err)
		_, err = s.AddFile(ctx, ada, text, 2)
		require.NoError(t, err, "the same again")
		files = append(files, store.File{Name: name, Hash: hash, Size: int64(len(text))})
	}
	folder := s.Folder(ctx, files)
	assert.Equal(t, []string{"empty.txt", "kit.yaml", "large.png"}, folder.Names())
	got, err := folder.ReadFile("large.png")
	require.NoError(t, err)
	assert.True(t, bytes.Equal(large, got))
	got, err = folder.ReadFile("empty.txt")
	require.NoError(t, err)
	assert.Empty(t, got)
	_, err = folder.Open("nothing")
	require.ErrorIs(t, err, fs.ErrNotExist)
	hash, _ := folder.Hash("large.png")
	for who, want := range map[string]int{ada: 1, bo: 0} {
		known, err := s.MakerFiles(ctx, who, []string{hash, kit.HashOf([]byte("else"))})
		require.NoError(t, err)
		assert.Len(t, known, want)
	}
}

// Pictures are asked for by a name, small and in full.
func TestPicturesAreFoundByTheirNames(t *testing.T) {
	ctx, dsn := context.Background(), mariadbtest.DSN(t)
	result := made(t)
	front := result.Edition.Decks[0].Designs["fog"].Front
	found := func(s *store.Store) {
		for size, address := range map[bool]string{false: front.Full, true: front.Small} {
			picture, err := s.PictureNamed(ctx, s.Names().Of(front), size)
			require.NoError(t, err)
			assert.Equal(t, result.Pictures[address], picture)
		}
		_, err := s.PictureNamed(ctx, sight.Names{}.Of(front), true) // its name without the secret
		assert.ErrorIs(t, err, store.ErrNotFound)
	}
	s, err := store.Open(ctx, dsn)
	require.NoError(t, err)
	_, _, err = s.PutKit(ctx, "maker", store.Put{Result: result, Files: files("a")}, 1)
	require.NoError(t, err)
	found(s)
	require.NoError(t, s.Close())
	s, err = store.Open(ctx, dsn) // its names are the same after another start
	require.NoError(t, err)
	defer s.Close()
	found(s)
}

// The entrance reads an edition's name and sentence without the rest of it, whatever is
// written there.
func TestWhatAnEditionSaysOfItselfIsReadAsItWasWritten(t *testing.T) {
	s, ctx := open(t)
	for _, about := range []string{"", "Couriers.", `A "quoted" \ line` + "\nand <another> & 沼の手紙 🛶", strings.Repeat("long ", 20_000)} {
		result := made(t)
		result.Edition.About = about
		k, _, err := s.PutKit(ctx, "maker", store.Put{Result: result, Files: files(about)}, 1)
		require.NoError(t, err)
		named, err := s.EditionNamed(ctx, k.ID, k.Edition)
		require.NoError(t, err)
		assert.Equal(t, store.Named{Name: "Marsh Post", About: about}, named)
	}
	_, err := s.EditionNamed(ctx, "nowhere", 1)
	assert.ErrorIs(t, err, store.ErrNotFound)
}

// entry is an entry of room "r" with edits.
func entry(t *testing.T, number int64, edits table.Edits, deeds []table.Deed) store.Entry {
	text, err := json.Marshal(edits)
	require.NoError(t, err)
	told, err := json.Marshal(deeds)
	require.NoError(t, err)
	return store.Entry{Room: "r", Number: number, At: number, Edits: text, Deeds: told, Told: number - 1}
}

func TestATableIsRebuiltFromSnapshotAndJournal(t *testing.T) {
	s, ctx := open(t)
	require.NoError(t, s.AddRoom(ctx, store.Room{ID: "r", Maker: "maker", Seed: make([]byte, 32), Passcode: []byte{}}, entry(t, 1, tabletest.Lay(2), nil)))
	tab := tabletest.Sample(2)
	for n := int64(2); n < 12; n++ {
		edits, deeds, refusal := tab.Apply(1, table.Draw{From: "letters"}, tabletest.With(chance.Derive(chance.Seed{}, uint64(n), ""), 0))
		require.Nil(t, refusal)
		require.NoError(t, s.Append(ctx, []store.Entry{entry(t, n, edits, deeds)}))
		if n%2 == 1 {
			require.NoError(t, s.Snapshot(ctx, "r"))
		}
	}
	snapshots, err := s.Snapshots(ctx, "r")
	require.NoError(t, err)
	assert.Equal(t, 2, snapshots, "older ones go")
	require.NoError(t, s.Append(ctx, []store.Entry{entry(t, 12, table.Edits{}, nil)}))
	again, last, told, err := s.Table(ctx, "r")
	require.NoError(t, err)
	assert.EqualValues(t, 12, last)
	assert.EqualValues(t, 11, told)
	want, err := json.Marshal(tab)
	require.NoError(t, err)
	got, err := json.Marshal(again)
	require.NoError(t, err)
	assert.Equal(t, string(want), string(got))
	newest, err := s.LastEntries(ctx, "r", 3)
	require.NoError(t, err)
	assert.EqualValues(t, 10, newest[0].Number)
}

func TestAppendingIsAllOrNothingAndSafeToRepeat(t *testing.T) {
	s, ctx := open(t)
	one, two, three := entry(t, 1, nil, nil), entry(t, 2, nil, nil), entry(t, 3, nil, nil)
	require.NoError(t, s.Append(ctx, []store.Entry{one, two}))
	require.NoError(t, s.Append(ctx, []store.Entry{one, two}), "the same entries again")
	other := entry(t, 2, tabletest.Lay(1), nil)
	require.ErrorIs(t, s.Append(ctx, []store.Entry{three, other}), store.ErrStale)
	entries, err := s.Entries(ctx, "r", 0, 10)
	require.NoError(t, err)
	assert.Len(t, entries, 2, "a refused batch left something behind")
}

func TestKeysOpenWhatTheyAreFor(t *testing.T) {
	s, ctx := open(t)
	k := store.SeatKey{Room: "r", Seat: 2, Name: "Bo"}
	require.NoError(t, s.AddSeatKey(ctx, "seat key", k, 1))
	got, err := s.SeatKey(ctx, "seat key")
	require.NoError(t, err)
	assert.Equal(t, k, got)
	freed := entry(t, 1, nil, nil)
	freed.Keys = []store.KeyChange{{Seat: 2}}
	require.NoError(t, s.Append(ctx, []store.Entry{freed}))
	_, err = s.SeatKey(ctx, "seat key")
	assert.ErrorIs(t, err, store.ErrNotFound)
	_, err = s.Room(ctx, "nowhere")
	assert.ErrorIs(t, err, store.ErrNotFound)
}

func TestMakersHaveKeysThatEnd(t *testing.T) {
	s, ctx := open(t)
	ada, err := s.AddMaker(ctx, "Ada Reed", "first", 1)
	require.NoError(t, err)
	_, err = s.AddMaker(ctx, "ada reed", "other", 1)
	require.ErrorIs(t, err, store.ErrTaken)
	opens := func(keys ...string) {
		t.Helper()
		for _, key := range []string{"", "first", "second", "third", "other"} {
			found, err := s.MakerOf(ctx, key)
			if slices.Contains(keys, key) {
				require.NoError(t, err, key)
				assert.Equal(t, "Ada Reed", found.Name)
			} else {
				require.ErrorIs(t, err, store.ErrNotFound, key)
			}
		}
	}
	opens("first")
	require.NoError(t, s.RenewMaker(ctx, ada.ID, "second", true, 2))
	opens("first", "second")
	require.NoError(t, s.EndMakerKey(ctx, ada.ID, store.Hash("first"), 3))
	require.ErrorIs(t, s.EndMakerKey(ctx, ada.ID, store.Hash("first"), 3), store.ErrNotFound)
	opens("second")
	require.NoError(t, s.RenewMaker(ctx, ada.ID, "third", false, 4))
	opens("third")
	require.NoError(t, s.UsedMakerKey(ctx, "third", 5_000_000))
	makers, err := s.Makers(ctx)
	require.NoError(t, err)
	require.Len(t, makers, 1)
	require.Len(t, makers[0].Keys, 1)
	assert.Equal(t, int64(5_000_000), *makers[0].Keys[0].UsedAt)
	require.NoError(t, s.EndMaker(ctx, ada.ID, 6))
	opens()
	require.NoError(t, s.RenewMaker(ctx, ada.ID, "first again", false, 7))
	_, err = s.MakerOf(ctx, "first again")
	require.NoError(t, err, "one who was ended is a maker again")
}

func TestKeysChangeWithTheirEntryOrNotAtAll(t *testing.T) {
	s, ctx := open(t)
	sat := entry(t, 1, nil, nil)
	sat.Keys = []store.KeyChange{{Seat: 2, Tenure: 1, Add: store.Hash("bo"), Name: "Bo"}}
	require.NoError(t, s.Append(ctx, []store.Entry{sat}))
	require.NoError(t, s.Append(ctx, []store.Entry{sat}), "the same again")
	key, err := s.SeatKey(ctx, "bo")
	require.NoError(t, err)
	assert.Equal(t, store.SeatKey{Room: "r", Seat: 2, Tenure: 1, Name: "Bo"}, key)

	stale := entry(t, 1, tabletest.Lay(1), nil)
	stale.Keys = []store.KeyChange{{Seat: 2}}
	require.ErrorIs(t, s.Append(ctx, []store.Entry{stale}), store.ErrStale)
	_, err = s.SeatKey(ctx, "bo")
	require.NoError(t, err, "an entry that was not kept ended a key")

	moved := entry(t, 2, nil, nil)
	moved.Keys = []store.KeyChange{{Seat: 2, To: 3, Tenure: 2}}
	require.NoError(t, s.Append(ctx, []store.Entry{moved}))
	key, err = s.SeatKey(ctx, "bo")
	require.NoError(t, err)
	assert.Equal(t, []any{table.Seat(3), uint64(2)}, []any{key.Seat, key.Tenure})
}

func TestErrorsThatHealAreToldApart(t *testing.T) {
	for _, heals := range []error{driver.ErrBadConn, mysql.ErrInvalidConn, context.DeadlineExceeded, &net.OpError{Op: "dial", Err: errors.New("refused")}, &mysql.MySQLError{Number: 1213}, &mysql.MySQLError{Number: 1021}} {
		assert.True(t, store.Heals(fmt.Errorf("keeping: %w", heals)), "%v", heals)
	}
	for _, stays := range []error{&mysql.MySQLError{Number: 1406}, &mysql.MySQLError{Number: 1054}, store.ErrStale, errors.New("this entry is odd")} {
		assert.False(t, store.Heals(stays), "%v", stays)
	}
}

// A database that keeps text as latin1 by itself is none the worse: connections and tables say utf8mb4.
func TestWhateverTheDatabasesDefaultsAreTextIsKept(t *testing.T) {
	ctx, dsn := context.Background(), mariadbtest.DSN(t)
	db, err := sql.Open("mysql", dsn)
	require.NoError(t, err)
	_, err = db.Exec("ALTER DATABASE CHARACTER SET latin1 COLLATE latin1_swedish_ci")
	require.NoError(t, err)
	s, err := store.Open(ctx, dsn)
	require.NoError(t, err)
	defer s.Close()
	_, err = s.AddMaker(ctx, "Ökonom 🦉 風", "key", 1)
	require.NoError(t, err)
	makers, err := s.Makers(ctx)
	require.NoError(t, err)
	assert.Equal(t, "Ökonom 🦉 風", makers[0].Name)
	var other int
	require.NoError(t, db.QueryRow(`SELECT COUNT(*) FROM information_schema.columns WHERE table_schema = DATABASE() AND character_set_name IS NOT NULL
		AND character_set_name NOT IN ('utf8mb4', 'ascii') AND table_name NOT LIKE 'goose%'`).Scan(&other))
	assert.Zero(t, other)
	require.NoError(t, db.Close())
}
