package table_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/grid"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

func ptr[T any](v T) *T { return &v }

func TestAZoneIsLaidChangedCopiedAndTakenOff(t *testing.T) {
	tab := tabletest.Sample(2)
	first := state(t, tab)
	as(t, tab, 1, table.LayZone{Kind: table.Row, Name: ptr(" west   bank "), X: ptr(100.0), Y: ptr(9000.0), Wide: ptr(200.0)})
	west := tab.Places["zone1"]
	assert.Equal(t, table.Row, west.Kind)
	assert.Equal(t, "west bank", west.Name)
	assert.Equal(t, []float64{100, 600, 200, 95}, []float64{west.X, west.Y, west.Wide, west.High}, "kept on the table")
	deeds := as(t, tab, 1, table.LayZone{Zone: "zone1", Arrival: &table.Arrival{Side: table.Front}, Turn: ptr(90), Locked: ptr(true)})
	assert.Equal(t, "turn, arrival, lock", deeds[0].Of.(table.Laid).What)
	as(t, tab, 1, table.LayZone{Like: "zone1"})
	copied := tab.Places["zone2"]
	assert.Equal(t, "west bank 2", copied.Name)
	assert.Equal(t, table.Front, copied.Arrival.Side)
	assert.False(t, copied.Locked)

	for text, a := range map[string]table.Action{
		"west bank is locked; unlock it first.":                            table.LayZone{Zone: "zone1", X: ptr(1.0)},
		"There is a zone called sky already; choose another name.":         table.LayZone{Zone: "zone2", Name: ptr("Sky")},
		"There is no zone \"felt/1\" on this table.":                       table.LayZone{Zone: "felt/1", X: ptr(1.0)},
		"west bank 2 must be 5 to 20000 millimetres wide and high.":        table.LayZone{Zone: "zone2", Wide: ptr(2.0)},
		"A grid has 1 to 2500 cells, not 90 × 90.":                         table.LayZone{Zone: "zone2", Kind: table.Grid, Grid: &grid.Grid{Shape: grid.Hex, Columns: 90, Rows: 90}},
		"letters is the home of letters, so it stays on the table.":        table.TakeOff{Zone: "letters"},
		"A zone is a pile, row, grid or hand, not \"cell\".":               table.LayZone{Kind: table.Cell},
		"A name has 1 to 40 letters, digits or signs, but no \" and no #.": table.LayZone{Zone: "zone2", Name: ptr("#1")},
		"Say what to change of west bank 2.":                               table.LayZone{Zone: "zone2"},
	} {
		assert.Equal(t, text, refusedAs(t, tab, 1, a).Text)
	}
	assert.Equal(t, "Only the host arranges this table; Ada is the host.", refusedAs(t, tab, 2, table.LayZone{}).Text)
	as(t, tab, 1, table.LayTable{Arrange: ptr("everyone")})
	as(t, tab, 2, table.TakeOff{Zone: "zone2"})
	as(t, tab, 2, table.Undo{})
	assert.NotNil(t, tab.Places["zone2"], "arranging is undone like anything else")
	as(t, tab, 1, table.Undo{}) // who may arrange
	for range 3 {
		as(t, tab, 1, table.Undo{})
	}
	assert.Equal(t, first, state(t, tab))
}

func TestArrangingLaysNobodysCardsOpen(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 2, table.Draw{From: "letters", Count: 3})
	r := refusedAs(t, tab, 1, table.LayZone{Zone: "satchel/2", Sight: ptr(table.Open)})
	assert.Equal(t, "The satchel of Bo holds 3 cards that only they may see; ask Bo to empty it first.", r.Text)
	assert.Equal(t, map[string]int{"seat": 2, "cards": 3}, r.Numbers)
	assert.Equal(t, table.NotYours, refusedAs(t, tab, 1, table.LayZone{Zone: "satchel/2", Owner: ptr(table.Seat(1)), Name: ptr("purse")}).Code)
	assert.Equal(t, table.NotYours, refusedAs(t, tab, 1, table.TakeOff{Zone: "satchel/2", Cards: "felt"}).Code)

	as(t, tab, 1, table.TakeOff{Zone: "dock/2"})
	as(t, tab, 1, table.Undo{})

	as(t, tab, 1, table.Draw{From: "letters", Count: 2, To: "vault"})
	as(t, tab, 1, table.Flip{Pick: table.Pick{From: "vault", Which: table.Every}, Side: table.Front})
	as(t, tab, 1, table.TakeOff{Zone: "vault", Cards: "felt"})
	left := tab.Places["felt/1"]
	require.Len(t, left.Cards, 2)
	assert.Equal(t, table.Back, tab.Cards[left.Cards[1]].Side, "what was not in view lies face down")

	as(t, tab, 2, table.ShowCards{Pick: table.Pick{From: "satchel/2", Count: 1}})
	as(t, tab, 1, table.LayTable{Arrange: ptr("everyone")})
	as(t, tab, 2, table.LayZone{Zone: "satchel/2", Sight: ptr(table.None)})
	assert.Empty(t, tab.Shown, "what was shown by the old rule is not by the new one")
}

// An empty hand of a free seat once could not be taken off by the host.
func TestAnEmptyHandIsTakenOff(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.TakeOff{Zone: "satchel/2"})
	assert.Nil(t, tab.HandOf(2))
}

// Two satchels of one seat were once told apart by nothing that Steps can say.
func TestASeatHasNoTwoZonesOfOneName(t *testing.T) {
	tab := tabletest.Sample(2)
	assert.Equal(t, "There is a zone called satchel already; choose another name.", refusedAs(t, tab, 1, table.LayZone{Zone: "satchel/1", Owner: ptr(table.Seat(2))}).Text)
}

func TestAGridTakesItsCardsAlong(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.Draw{From: "weather", To: "marsh/D3"})
	as(t, tab, 1, table.LayZone{Zone: "marsh", X: ptr(450.0), Y: ptr(300.0)})
	cell := tab.Places["marsh/D3"]
	assert.Equal(t, []float64{600, 400}, []float64{cell.X, cell.Y})
	as(t, tab, 1, table.LayZone{Zone: "marsh", Turn: ptr(90)})
	cell = tab.Places["marsh/D3"]
	assert.InDelta(t, 350, cell.X, 0.01)
	assert.InDelta(t, 450, cell.Y, 0.01)
	assert.Equal(t, 90, cell.Turn)
	assert.Equal(t, "A card lies on marsh D3; move it before the grid's cells change.",
		refusedAs(t, tab, 1, table.LayZone{Zone: "marsh", Grid: &grid.Grid{Shape: grid.Square, Columns: 3, Rows: 3}}).Text)
	assert.Equal(t, "marsh has cards on its cells; collect them first.", refusedAs(t, tab, 1, table.TakeOff{Zone: "marsh"}).Text)
	as(t, tab, 1, table.LayZone{Zone: "marsh", Grid: &grid.Grid{Shape: grid.Square4, Columns: 8, Rows: 8}})
	assert.InDelta(t, 50, tab.Places["marsh/D3"].Wide, 0.01)
}

func TestAPieceOfEveryKindIsLaidAndChanged(t *testing.T) {
	tab := tabletest.Sample(2)
	for _, kind := range []table.PieceKind{table.Counter, table.Die, table.Spinner, table.Token, table.SeatMark, table.Timer, table.Note, table.Mat, table.Cue} {
		as(t, tab, 1, table.LayPiece{Kind: kind})
	}
	assert.Len(t, tab.Pieces["piece2"].Sectors, 6)
	as(t, tab, 1, table.LayPiece{Piece: "piece2", Sectors: &[]table.Sector{{Name: "gull", Weight: 3}, {Name: "heron"}}})
	as(t, tab, 1, table.LayPiece{Piece: "piece1", Value: ptr(3), Bounds: &table.Bounds{Least: ptr(0), Most: ptr(5)}})
	as(t, tab, 1, table.LayPiece{Piece: "piece6", Seconds: ptr(90)})
	assert.EqualValues(t, 90_000, tab.Pieces["piece6"].Left)
	as(t, tab, 1, table.LayPiece{Piece: "piece8", Locked: ptr(true)})
	as(t, tab, 1, table.LayPiece{Like: "piece2"})
	assert.Equal(t, "die 3", tab.Pieces["piece10"].Name)
	for text, a := range map[string]table.Action{
		"mat 2 is locked.":                                            table.MovePiece{Piece: "piece8", X: ptr(1.0), Y: ptr(1.0)},
		"mat 2 is locked; unlock it first.":                           table.TakeOff{Piece: "piece8"},
		"The value of counter 2, 9, must lie between its bounds.":     table.LayPiece{Piece: "piece1", Value: ptr(9)},
		"die 2 needs 2 to 100 faces, not 0.":                          table.LayPiece{Piece: "piece2", Sectors: &[]table.Sector{}},
		"There is a counter called day already; choose another name.": table.LayPiece{Piece: "piece2", Name: ptr("day")},
		"A timer runs 1 to 86400 seconds.":                            table.LayPiece{Piece: "piece6", Seconds: ptr(0)},
		"A die has no time.":                                          table.LayPiece{Piece: "piece2", Seconds: ptr(9)},
		"A counter has no faces.":                                     table.LayPiece{Kind: table.Counter, Sectors: &[]table.Sector{{Name: "gull"}, {Name: "heron"}}},
		"There is no kind of piece called \"kite\".":                  table.LayPiece{Kind: "kite"},
		"A picture is named by the SHA-256 of its bytes, as the upload of a picture answers it.": table.LayPiece{Piece: "piece4", Faces: &[]table.Picture{{Small: "boat.png"}}},
	} {
		assert.Equal(t, text, refusedAs(t, tab, 1, a).Text)
	}
	as(t, tab, 1, table.TakeOff{Piece: "piece2"})
	assert.Nil(t, tab.Pieces["piece2"])
}

func TestTheHostHasTheKeys(t *testing.T) {
	tab := tabletest.Sample(3)
	assert.Equal(t, "Only the host does this; Ada is the host.", refusedAs(t, tab, 2, table.Door{Locked: ptr(true)}).Text)
	as(t, tab, 1, table.Door{Locked: ptr(true), Spectators: ptr(false)})
	assert.True(t, tab.Settings.Locked)
	assert.Equal(t, "no", tab.Settings.Spectators)
	as(t, tab, 1, table.Free{Seat: 3})
	assert.Equal(t, table.NobodySits, refusedAs(t, tab, 1, table.Keys{Seat: 3}).Code)
	as(t, tab, 1, table.ChangeSeat{To: 3})
	assert.Equal(t, "Ada", tab.Chair(3).Name)
	assert.Equal(t, table.Seat(3), tab.Settings.Host, "the keys go along")
	assert.Equal(t, table.SeatTaken, refusedAs(t, tab, 3, table.ChangeSeat{To: 2}).Code)
	as(t, tab, 3, table.Keys{Seat: 2})
	as(t, tab, 2, table.End{})
	assert.Equal(t, "The game has ended; nothing is done at this table any more.", refusedAs(t, tab, 2, table.Undo{Anyone: true}).Text)
	as(t, tab, 3, table.Free{Seat: 3})
}

func TestAShorterTableKeepsWhatLiesOnIt(t *testing.T) {
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.MovePiece{Piece: "boat", X: ptr(890.0), Y: ptr(590.0)})
	as(t, tab, 1, table.LayTable{Wide: ptr(500.0), High: ptr(400.0), Turn: ptr(60)})
	assert.Equal(t, []float64{500, 400}, []float64{tab.Pieces["boat"].X, tab.Pieces["boat"].Y})
	as(t, tab, 1, table.Undo{})
	assert.Equal(t, 890.0, tab.Pieces["boat"].X)
	assert.Equal(t, table.OutOfBounds, refusedAs(t, tab, 1, table.LayTable{Wide: ptr(10.0)}).Code)
}

// What is said anew of a piece's faces takes no picture that may stay: a token's words come and go beside its pictures, a die's pictures go
// with their faces.
func TestWordsOfATokenLeaveItsPictures(t *testing.T) {
	address := strings.Repeat("a", 64)
	picture := table.Picture{Small: address, Full: address}
	two, six := []table.Picture{picture, picture}, []table.Picture{picture, picture, picture, picture, picture, picture}
	word, none, both := []table.Sector{{Name: "rung"}}, []table.Sector{}, []table.Sector{{Name: "sun"}, {Name: "rain"}}
	tab := tabletest.Sample(2)
	as(t, tab, 1, table.LayPiece{Piece: "boat", Faces: &two})
	for _, words := range [][]table.Sector{word, none} {
		as(t, tab, 1, table.LayPiece{Piece: "boat", Sectors: &words})
		assert.Len(t, tab.Pieces["boat"].Faces, 2)
	}
	as(t, tab, 1, table.LayPiece{Kind: table.Die})
	for id, p := range tab.Pieces {
		if p.Kind == table.Die && len(p.Sectors) == 6 {
			as(t, tab, 1, table.LayPiece{Piece: id, Faces: &six})
			as(t, tab, 1, table.LayPiece{Piece: id, Sectors: &both})
			assert.Len(t, tab.Pieces[id].Faces, 2)
		}
	}
}
