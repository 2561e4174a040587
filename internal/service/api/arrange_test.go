package api_test

import (
	"bytes"
	"context"
	"encoding/hex"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

func ptr[T any](v T) *T { return &v }

func refusedWith(t *testing.T, code string, err error) {
	t.Helper()
	var p *client.Problem
	require.ErrorAs(t, err, &p)
	assert.Equal(t, code, p.Code, p.Detail)
}

func somePicture(t *testing.T) []byte {
	var text bytes.Buffer
	require.NoError(t, png.Encode(&text, image.NewNRGBA(image.Rect(0, 0, 30, 20))))
	return text.Bytes()
}

func TestATableIsArrangedAndKeptInItsKit(t *testing.T) {
	w, ctx := newWorld(t, room.Options{}), context.Background()
	id, a, b := w.room()
	maker := client.New(w.url, makerKey)
	ada, bo := maker.At(a), maker.At(b)

	_, err := bo.LayZone(ctx, client.LayZone{Name: ptr("quay")})
	refusedWith(t, table.NotYours, err)
	_, err = bo.PutPicture(ctx, somePicture(t))
	refusedWith(t, "not-the-host", err)

	_, err = ada.LayZone(ctx, client.LayZone{Name: ptr("quay"), Kind: table.Row, Wide: ptr(200.0)})
	require.NoError(t, err)
	_, err = ada.PutPicture(ctx, []byte("no picture"))
	refusedWith(t, "picture-not-taken", err)
	put, err := ada.PutPicture(ctx, somePicture(t))
	require.NoError(t, err)
	assert.Equal(t, 30, put.Wide)
	_, err = ada.LayPiece(ctx, client.LayPiece{Kind: table.Token, Name: ptr("gull"), Faces: &[]table.Picture{put.Picture}})
	require.NoError(t, err)
	checked, err := ada.CheckSteps(ctx, "shuffle weather\nroll wimd")
	require.NoError(t, err)
	assert.Equal(t, wire.StepsChecked{Mistake: `line 2, column 6: there is no die "wimd"; did you mean "wind"?`, Line: 2, Column: 6}, checked)
	checked, err = ada.CheckSteps(ctx, "shuffle weather")
	require.NoError(t, err)
	assert.Empty(t, checked)
	_, err = ada.LayTable(ctx, client.LayTable{Setup: ptr("shuffle weather\ndeal 2 weather to every seat")})
	require.NoError(t, err)
	_, err = bo.SetUp(ctx)
	require.NoError(t, err)
	look, err := bo.Look(ctx)
	require.NoError(t, err)
	assert.Equal(t, 2, look.View.Place("satchel/1").Count)

	kept, err := maker.KeepTable(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, 2, kept.Edition)
	again, err := maker.KeepTable(ctx, id)
	require.NoError(t, err)
	assert.False(t, again.Fresh, "the same table makes no other edition")
	opened, err := maker.OpenRoom(ctx, client.OpenRoom{Kit: "Marsh Post"})
	require.NoError(t, err)
	joined, err := maker.Join(ctx, opened.ID, client.Join{Name: "Cleo"})
	require.NoError(t, err)
	look, err = maker.At(joined).Look(ctx)
	require.NoError(t, err)
	assert.Equal(t, "quay", look.View.Place("zone1").Name)
	names := []string{}
	for _, p := range look.View.Pieces {
		names = append(names, p.Name)
	}
	assert.Contains(t, names, "gull")
	_, err = client.New(w.url, "OTHER").KeepTable(ctx, id)
	refusedWith(t, "needs-maker-key", err)
}

func TestTheHostLocksTheRoomAndLetsNobodyWatch(t *testing.T) {
	w, ctx := newWorld(t, room.Options{}), context.Background()
	id, a, b := w.room()
	maker := client.New(w.url, "")
	watcher, err := maker.Join(ctx, id, client.Join{Watch: true})
	require.NoError(t, err)
	socket := w.dial(watcher)
	next[wire.Whole](t, socket)

	ada := maker.At(a)
	_, err = maker.At(b).Door(ctx, client.Door{Locked: ptr(true)})
	refusedWith(t, table.NotYours, err)
	_, err = ada.Door(ctx, client.Door{Spectators: ptr(false)})
	require.NoError(t, err)
	_, err = maker.Join(ctx, id, client.Join{Watch: true})
	refusedWith(t, "no-spectators", err)
	require.Eventually(t, func() bool {
		_, err := maker.At(watcher).Look(ctx)
		return err != nil
	}, 10*time.Second, 20*time.Millisecond, "who watched sees no more")
	_, err = ada.Door(ctx, client.Door{Locked: ptr(true)})
	require.NoError(t, err)
	_, err = maker.Join(ctx, id, client.Join{Name: "Cleo"})
	refusedWith(t, "room-locked", err)
	_, shown := w.call(http.MethodGet, "/api/rooms/"+id, "", nil)
	assert.Equal(t, true, shown["locked"])
	assert.Equal(t, false, shown["spectators"])
	assert.NotContains(t, shown, "seed", "the seed is secret until the end")
}

func TestTheEndOfAGameDisclosesItsSeed(t *testing.T) {
	w, ctx := newWorld(t, room.Options{}), context.Background()
	id, a, _ := w.room()
	ada := client.New(w.url, "").At(a)
	_, err := ada.EndGame(ctx)
	require.NoError(t, err)
	_, err = ada.Do(ctx, "shuffle weather")
	refusedWith(t, table.GameEnded, err)
	_, shown := w.call(http.MethodGet, "/api/rooms/"+id, "", nil)
	text, _ := shown["seed"].(string)
	seed, err := hex.DecodeString(text)
	require.NoError(t, err)
	commitment, _ := shown["commitment"].(string)
	assert.True(t, chance.Check(chance.Seed(seed), commitment))
}

func TestASeatIsChangedWithTheSameKey(t *testing.T) {
	w, ctx := newWorld(t, room.Options{}), context.Background()
	_, a, _ := w.room()
	ada := client.New(w.url, "").At(a)
	_, err := ada.Do(ctx, "draw 2 from weather")
	require.NoError(t, err)
	socket := w.dial(a)
	first := next[wire.Whole](t, socket)
	_, err = ada.ChangeSeat(ctx, 3)
	require.NoError(t, err)
	require.Eventually(t, func() bool {
		look, err := ada.Look(ctx)
		return err == nil && look.View.You == 3 && look.View.Settings.Host == 3
	}, 10*time.Second, 20*time.Millisecond)

	back := w.dial(a) // says hello with the key alone: a fresh view
	view := next[wire.Whole](t, back)
	assert.NotEqual(t, first.Gate, view.Gate, "numbers of another seat's messages do not count here")
	assert.EqualValues(t, 3, view.View.You)
	hand := view.View.Place("satchel/1")
	assert.Equal(t, 2, hand.Count, "what belongs to the seats stays with them")
	assert.Empty(t, hand.Cards)
}

// Keys were once moved while a newcomer's was added, which could then open the seat of
// who had just left theirs.
func TestWhoTakesASeatThatIsJustLeftGetsThatOne(t *testing.T) {
	w, ctx := newWorld(t, room.Options{}), context.Background()
	_, a, _ := w.room()
	anyone := client.New(w.url, "")
	ada, from, to := anyone.At(a), client.SeatNumber(1), client.SeatNumber(3)
	for n := range 12 {
		newcomer := make(chan client.Joined, 1)
		go func() {
			for {
				joined, err := anyone.Join(ctx, a.Room, client.Join{Name: fmt.Sprint("Cleo ", n), Seat: from})
				if err == nil {
					newcomer <- joined
					return
				}
			}
		}()
		_, err := ada.ChangeSeat(ctx, to)
		require.NoError(t, err)
		cleo := anyone.At(<-newcomer)
		look, err := cleo.Look(ctx)
		require.NoError(t, err)
		assert.EqualValues(t, from, look.View.You)
		look, err = ada.Look(ctx)
		require.NoError(t, err)
		assert.EqualValues(t, to, look.View.You)
		_, err = cleo.Free(ctx, from)
		require.NoError(t, err)
		from, to = to, from
	}
}

// 8 KB once cost 330 MiB.
func TestALargePictureInASmallFileIsRefusedOnATable(t *testing.T) {
	w := newWorld(t, room.Options{})
	_, ada, _ := w.room()
	var file bytes.Buffer
	require.NoError(t, (&png.Encoder{CompressionLevel: png.BestCompression}).Encode(&file, image.NewPaletted(image.Rect(0, 0, 5000, 4000), color.Palette{color.White})))
	_, err := client.New(w.url, "").At(ada).PutPicture(context.Background(), file.Bytes())
	refusedWith(t, "picture-not-taken", err)
	assert.ErrorContains(t, err, "5000 × 4000 pixels; on a table at most 16 million pixels are taken")
}
