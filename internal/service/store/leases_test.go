package store_test

import (
	"context"
	"database/sql"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/service/mariadb/mariadbtest"
	"damselfly.example/damselfly/internal/service/store"
)

// two are two services that share the records, and a room. Both live until the test says that one stands still.
func two(t *testing.T) (a, b *store.Store, room string, stand *atomic.Bool) {
	ctx, dsn := context.Background(), mariadbtest.DSN(t)
	all := make([]*store.Store, 2)
	for i := range all {
		s, err := store.Open(ctx, dsn)
		require.NoError(t, err)
		require.NoError(t, s.Share(ctx, "http://127.0.0.1:1"))
		t.Cleanup(func() { _ = s.Close() })
		all[i] = s
	}
	a, b, stand = all[0], all[1], &atomic.Bool{}
	room = store.NewID()
	require.NoError(t, a.AddRoom(ctx, store.Room{ID: room, Name: "r", Seats: 2, Passcode: []byte{}, Seed: make([]byte, 32)}, entryOf(room, 1)))
	done := make(chan bool)
	t.Cleanup(func() { done <- true })
	go func() {
		for {
			select {
			case <-done:
				return
			case <-time.After(200 * time.Millisecond):
			}
			if !stand.Load() {
				_, _ = a.Live(ctx)
			}
			_, _ = b.Live(ctx)
		}
	}()
	return a, b, room, stand
}

func entryOf(room string, number int64) store.Entry {
	return store.Entry{Room: room, Number: number, At: 1, Edits: []byte("[]"), Deeds: []byte("[]")}
}

// A service that stood still is followed, and appends nothing from then on, whatever it believes.
func TestWhoWasFollowedAppendsNothing(t *testing.T) {
	ctx := context.Background()
	a, b, room, stand := two(t)
	require.NoError(t, a.Hold(ctx, room))
	require.NoError(t, a.Append(ctx, []store.Entry{entryOf(room, 2)}))
	require.ErrorIs(t, b.Hold(ctx, room), store.ErrHeld)
	address, lives, err := b.HeldAt(ctx, room)
	require.NoError(t, err)
	assert.Equal(t, "http://127.0.0.1:1", address)
	stand.Store(true)
	select {
	case <-lives.Done(): // what was passed on to it ends
	case <-time.After(20 * time.Second):
		t.Fatal("it is waited for though it stands still")
	}
	require.NoError(t, b.Hold(ctx, room))
	assert.ErrorIs(t, a.Append(ctx, []store.Entry{entryOf(room, 3)}), store.ErrHeld)
	require.NoError(t, b.Append(ctx, []store.Entry{entryOf(room, 3)}))
	stand.Store(false)
	require.Eventually(t, func() bool { return a.Hold(ctx, store.NewID()) == store.ErrNotFound }, 10*time.Second, 50*time.Millisecond, "it begins anew")
	assert.ErrorIs(t, a.Hold(ctx, room), store.ErrHeld, "and the room is another's")
	entries, err := b.Entries(ctx, room, 0, 10)
	require.NoError(t, err)
	assert.Len(t, entries, 3)
}

// Appending and following write the same row: of both at once exactly one is done, many times over.
func TestAppendingAndFollowingExcludeEachOther(t *testing.T) {
	ctx, dsn := context.Background(), mariadbtest.DSN(t)
	db, err := sql.Open("mysql", dsn)
	require.NoError(t, err)
	defer db.Close()
	a, err := store.Open(ctx, dsn)
	require.NoError(t, err)
	defer a.Close()
	require.NoError(t, a.Share(ctx, "http://127.0.0.1:1"))
	stale := 0
	for range 60 {
		room := store.NewID()
		require.NoError(t, a.AddRoom(ctx, store.Room{ID: room, Name: "r", Seats: 2, Passcode: []byte{}, Seed: make([]byte, 32)}, entryOf(room, 1)))
		require.NoError(t, a.Hold(ctx, room))
		fenced := make(chan error)
		go func() { // what another service does when it follows
			tx, err := db.Begin()
			if err == nil {
				_, err = tx.Exec("UPDATE services SET fenced = TRUE, beat = beat + 1 WHERE id = ?", a.Service())
			}
			var last int64
			if err == nil {
				err = tx.QueryRow("SELECT MAX(entry) FROM journal WHERE room = ?", room).Scan(&last)
			}
			if err == nil {
				_, err = tx.Exec("INSERT INTO journal (room, entry, at, actor, tenure, asked, refusal, edits, deeds, told) VALUES (?, ?, 1, 9, 0, '', '', '[]', '[]', 0)", room, last+1)
			}
			if err == nil {
				err = tx.Commit()
			}
			fenced <- err
		}()
		kept := a.Append(ctx, []store.Entry{entryOf(room, 2)})
		require.NoError(t, <-fenced)
		var actor int
		require.NoError(t, db.QueryRow("SELECT actor FROM journal WHERE room = ? AND entry = 2", room).Scan(&actor))
		if kept == nil && actor == 9 {
			stale++
		}
		if kept != nil {
			assert.ErrorIs(t, kept, store.ErrHeld)
		}
		_, err := a.Live(ctx)
		require.NoError(t, err)
	}
	assert.Zero(t, stale, "an entry was confirmed that another wrote over")
}
