package store_test

import (
	"context"
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly/demo"
	"damselfly/internal/core/chance"
	"damselfly/internal/core/kit"
	"damselfly/internal/core/table"
	"damselfly/internal/core/table/tabletest"
	"damselfly/internal/service/mariadb/mariadbtest"
	"damselfly/internal/service/store"
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
	assert.Equal(t, result.Made, kept)
	picture, err := s.Picture(ctx, result.Made.Decks[0].Veil.Full)
	require.NoError(t, err)
	assert.Equal(t, result.Pictures[result.Made.Decks[0].Veil.Full], picture)
	others, err := s.Kits(ctx, "somebody else")
	require.NoError(t, err)
	assert.Empty(t, others)
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
	require.NoError(t, s.AddRoom(ctx, store.Room{ID: "r", Maker: store.Hash("maker"), Seed: make([]byte, 32), Passcode: []byte{}}, entry(t, 1, tabletest.Lay(2), nil)))
	tab := tabletest.Sample(2)
	for n := int64(2); n < 12; n++ {
		edits, deeds, refusal := tab.Apply(1, table.Draw{From: "letters"}, chance.Derive(chance.Seed{}, uint64(n), ""), 0)
		require.Nil(t, refusal)
		require.NoError(t, s.Append(ctx, []store.Entry{entry(t, n, edits, deeds)}))
		if n == 7 {
			require.NoError(t, s.Snapshot(ctx, "r"))
		}
	}
	again, last, told, err := s.Table(ctx, "r")
	require.NoError(t, err)
	assert.EqualValues(t, 11, last)
	assert.EqualValues(t, 11, told)
	want, err := json.Marshal(tab)
	require.NoError(t, err)
	got, err := json.Marshal(again)
	require.NoError(t, err)
	assert.Equal(t, string(want), string(got))
	newest, err := s.LastEntries(ctx, "r", 3)
	require.NoError(t, err)
	assert.EqualValues(t, 9, newest[0].Number)
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
	require.NoError(t, s.AddMakerKey(ctx, "maker key", "here", 1))
	for key, want := range map[string]bool{"maker key": true, "": false, "other": false} {
		is, err := s.IsMaker(ctx, key)
		require.NoError(t, err)
		assert.Equal(t, want, is, key)
	}
	k := store.SeatKey{Room: "r", Seat: 2, Name: "Bo"}
	require.NoError(t, s.AddSeatKey(ctx, "seat key", k, 1))
	got, err := s.SeatKey(ctx, "seat key")
	require.NoError(t, err)
	assert.Equal(t, k, got)
	require.NoError(t, s.DropSeatKeys(ctx, "r", 2))
	_, err = s.SeatKey(ctx, "seat key")
	assert.ErrorIs(t, err, store.ErrNotFound)
	_, err = s.Room(ctx, "nowhere")
	assert.ErrorIs(t, err, store.ErrNotFound)
}
