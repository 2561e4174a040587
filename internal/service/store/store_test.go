package store_test

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/go-sql-driver/mysql"
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/kit"
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

func TestTheSameZipAgainIsTheSameEdition(t *testing.T) {
	s, ctx := open(t)
	result := made(t)
	first, fresh, err := s.PutKit(ctx, "maker", result, []byte("zip"), 1)
	require.NoError(t, err)
	assert.True(t, fresh)
	again, fresh, err := s.PutKit(ctx, "maker", result, []byte("zip"), 2)
	require.NoError(t, err)
	assert.False(t, fresh)
	assert.Equal(t, first.ID, again.ID)
	assert.Equal(t, 1, again.Edition)
	second, _, err := s.PutKit(ctx, "maker", result, []byte("changed zip"), 3)
	require.NoError(t, err)
	assert.Equal(t, 2, second.Edition)

	kits, err := s.Kits(ctx, "maker")
	require.NoError(t, err)
	assert.Equal(t, []store.Kit{{ID: first.ID, Name: "Marsh Post", Edition: 2, At: 3}}, kits)
	kept, err := s.Edition(ctx, first.ID, 1)
	require.NoError(t, err)
	assert.Equal(t, result.Edition, kept)
	picture, err := s.Picture(ctx, result.Edition.Decks[0].Veil.Full)
	require.NoError(t, err)
	assert.Equal(t, result.Pictures[result.Edition.Decks[0].Veil.Full], picture)
	others, err := s.Kits(ctx, "somebody else")
	require.NoError(t, err)
	assert.Empty(t, others)
}

// Pictures are asked for by a name, small and in full; also those of editions that were
// kept before they were.
func TestPicturesAreFoundByTheirNames(t *testing.T) {
	ctx, dsn := context.Background(), mariadbtest.DSN(t)
	result := made(t)
	front := result.Edition.Decks[0].Designs["fog"].Front
	found := func(s *store.Store) {
		for size, address := range map[bool]string{false: front.Full, true: front.Small} {
			picture, err := s.PictureNamed(ctx, front.Full[:32], size)
			require.NoError(t, err)
			assert.Equal(t, result.Pictures[address], picture)
		}
		_, err := s.PictureNamed(ctx, strings.Repeat("f", 32), true)
		assert.ErrorIs(t, err, store.ErrNotFound)
	}
	s, err := store.Open(ctx, dsn)
	require.NoError(t, err)
	_, _, err = s.PutKit(ctx, "maker", result, []byte("zip"), 1)
	require.NoError(t, err)
	found(s)
	require.NoError(t, s.Close())
	db, err := sqlx.ConnectContext(ctx, "mysql", dsn)
	require.NoError(t, err)
	defer db.Close()
	_, err = db.ExecContext(ctx, "DELETE FROM smaller") // as it was before
	require.NoError(t, err)
	s, err = store.Open(ctx, dsn)
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
		k, _, err := s.PutKit(ctx, "maker", result, []byte(about), 1)
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

// Rooms and keys of before there were tenures go on.
func TestOldRoomsAndKeysMigrate(t *testing.T) {
	ctx, dsn := context.Background(), mariadbtest.DSN(t)
	s, err := store.Open(ctx, dsn)
	require.NoError(t, err)
	require.NoError(t, s.Close())
	db, err := sql.Open("mysql", dsn)
	require.NoError(t, err)
	defer db.Close()
	old, err := goose.NewProvider(goose.DialectMySQL, db, os.DirFS("migrations"))
	require.NoError(t, err)
	_, err = old.DownTo(ctx, 1)
	require.NoError(t, err)
	for _, row := range []string{
		"INSERT INTO seat_keys (hash, room, seat, name, created_at) VALUES (UNHEX(SHA2('key', 256)), 'r', 2, 'Bo', 1)",
		"INSERT INTO maker_keys (hash, name, created_at) VALUES (UNHEX(SHA2('one', 256)), 'first', 1), (UNHEX(SHA2('two', 256)), 'first', 2)",
		"INSERT INTO kits (id, maker, name, created_at) VALUES ('k', UNHEX(SHA2('two', 256)), 'Marsh Post', 1)",
		"INSERT INTO rooms (id, maker, kit, edition, name, seats, spectators, passcode, seed, created_at) VALUES ('r', UNHEX(SHA2('one', 256)), 'k', 1, 'Old', 2, 1, '', '', 1)",
		"INSERT INTO journal (room, entry, at, actor, request, edits, deeds, told) VALUES ('r', 1, 1, 0, '', '[]', '[]', 0), ('r', 2, 2, 1, 'twice', '[]', '[]', 0), ('r', 3, 3, 1, '', '[]', '[]', 0), ('r', 4, 4, 1, 'twice', '[]', '[]', 0)",
	} {
		_, err := db.Exec(row)
		require.NoError(t, err)
	}
	s, err = store.Open(ctx, dsn)
	require.NoError(t, err)
	defer s.Close()
	key, err := s.SeatKey(ctx, "key")
	require.NoError(t, err)
	assert.Equal(t, store.SeatKey{Room: "r", Seat: 2, Name: "Bo"}, key)
	asked, err := s.AllAsked(ctx, "r")
	require.NoError(t, err)
	assert.Equal(t, []store.Asked{{Actor: 1, Request: "twice", Number: 2}}, asked)
	entries, err := s.Entries(ctx, "r", 0, 10)
	require.NoError(t, err)
	assert.Len(t, entries, 4)

	// Whose key it was, theirs are the kits and rooms, also with another key.
	one, err := s.MakerOf(ctx, "one")
	require.NoError(t, err)
	two, err := s.MakerOf(ctx, "two")
	require.NoError(t, err)
	assert.NotEqual(t, one.Name, two.Name)
	require.NoError(t, s.RenewMaker(ctx, one.ID, "another", false, 3))
	renewed, err := s.MakerOf(ctx, "another")
	require.NoError(t, err)
	rooms, err := s.Rooms(ctx, renewed.ID)
	require.NoError(t, err)
	assert.Len(t, rooms, 1)
	rooms, err = s.Rooms(ctx, two.ID)
	require.NoError(t, err)
	assert.Empty(t, rooms)
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
