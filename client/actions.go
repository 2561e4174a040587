package client

import (
	"context"

	"damselfly.example/damselfly/internal/core/table"
)

// One method for each thing a seat can do. Each is the action of that name, as
// the API description has it; Act does what needs more of an action's fields.

// Shuffle puts the cards of a place into an order chosen by chance.
func (s *Seat) Shuffle(ctx context.Context, place PlaceID) (Answer, error) {
	return s.Act(ctx, table.Shuffle{Place: place})
}

// ShuffleIn turns the cards of one place face down and shuffles them into another.
func (s *Seat) ShuffleIn(ctx context.Context, from, into PlaceID) (Answer, error) {
	return s.Act(ctx, table.ShuffleIn{From: from, Into: into})
}

// Cut puts the upper part of a pile underneath; at 0 chance says how much.
func (s *Seat) Cut(ctx context.Context, place PlaceID, at int) (Answer, error) {
	return s.Act(ctx, table.Cut{Place: place, At: at})
}

// Sort orders the cards of a place by a field of their designs.
func (s *Seat) Sort(ctx context.Context, place PlaceID, by string) (Answer, error) {
	return s.Act(ctx, table.Sort{Place: place, By: by})
}

// Separate takes a mixed pile apart into one pile for each value of a field.
func (s *Seat) Separate(ctx context.Context, place PlaceID, by string) (Answer, error) {
	return s.Act(ctx, table.Separate{Place: place, By: by})
}

// Draw takes cards from the top of a place into the seat's hand.
func (s *Seat) Draw(ctx context.Context, from PlaceID, count int) (Answer, error) {
	return s.Act(ctx, table.Draw{From: from, Count: count})
}

// Deal deals round the table one by one; no shares means one to every seat.
func (s *Seat) Deal(ctx context.Context, from PlaceID, shares ...Share) (Answer, error) {
	if len(shares) == 0 {
		shares = []Share{{Who: "every", Count: 1}}
	}
	return s.Act(ctx, table.Deal{From: from, Shares: shares})
}

// TopUp fills the seat's hand to a number of cards.
func (s *Seat) TopUp(ctx context.Context, from PlaceID, to int) (Answer, error) {
	return s.Act(ctx, table.TopUp{From: from, To: to})
}

// TopUpAll fills every hand to a number of cards.
func (s *Seat) TopUpAll(ctx context.Context, from PlaceID, to int) (Answer, error) {
	return s.Act(ctx, table.TopUp{From: from, To: to, Every: true})
}

// Exchange puts chosen cards away and draws as many.
func (s *Seat) Exchange(ctx context.Context, cards Pick, away, draw PlaceID) (Answer, error) {
	return s.Act(ctx, table.Exchange{Pick: cards, Away: away, Draw: draw})
}

// Flip turns cards over.
func (s *Seat) Flip(ctx context.Context, cards Pick) (Answer, error) {
	return s.Act(ctx, table.Flip{Pick: cards})
}

// Rotate turns cards by steps of the table, clockwise.
func (s *Seat) Rotate(ctx context.Context, cards Pick, steps int) (Answer, error) {
	return s.Act(ctx, table.Rotate{Pick: cards, Steps: steps})
}

// Move puts cards somewhere else, keeping their order.
func (s *Seat) Move(ctx context.Context, cards Pick, to Target) (Answer, error) {
	return s.Act(ctx, table.Move{Pick: cards, To: to})
}

// Spread lays cards out over a row or the free cells of a grid.
func (s *Seat) Spread(ctx context.Context, cards Pick, over PlaceID) (Answer, error) {
	return s.Act(ctx, table.Spread{Pick: cards, Over: over})
}

// Collect takes all cards of a place, or of a grid's cells, onto a pile.
func (s *Seat) Collect(ctx context.Context, from, onto PlaceID) (Answer, error) {
	return s.Act(ctx, table.Collect{From: from, Onto: onto})
}

// Gather brings a deck home from everywhere.
func (s *Seat) Gather(ctx context.Context, deck string, shuffle bool) (Answer, error) {
	return s.Act(ctx, table.Gather{Deck: deck, Shuffle: shuffle})
}

// Peek looks at the top cards of a place, or at all of them for 0. Look shows them.
func (s *Seat) Peek(ctx context.Context, place PlaceID, count int) (Answer, error) {
	return s.Act(ctx, table.Peek{Place: place, Count: count})
}

// Arrange puts cards that the seat looks at on top and underneath.
func (s *Seat) Reorder(ctx context.Context, place PlaceID, top, under []Handle) (Answer, error) {
	return s.Act(ctx, table.Reorder{Place: place, Top: top, Under: under})
}

// Close ends a look.
func (s *Seat) Close(ctx context.Context, place PlaceID) (Answer, error) {
	return s.Act(ctx, table.Close{Place: place})
}

// Show shows cards of the seat's hand to a seat, or to all for 0.
func (s *Seat) Show(ctx context.Context, cards Pick, to SeatNumber) (Answer, error) {
	return s.Act(ctx, table.ShowCards{Pick: cards, To: to})
}

// ShowFor shows cards of the seat's hand to a seat, or to all for 0, for some seconds.
func (s *Seat) ShowFor(ctx context.Context, cards Pick, to SeatNumber, seconds int) (Answer, error) {
	return s.Act(ctx, table.ShowCards{Pick: cards, To: to, Seconds: seconds})
}

// Hide hides shown cards again.
func (s *Seat) Hide(ctx context.Context, cards Pick) (Answer, error) {
	return s.Act(ctx, table.ShowCards{Pick: cards, Hide: true})
}

// Ask asks for cards of another seat's place.
func (s *Seat) Ask(ctx context.Context, place PlaceID, count int) (Answer, error) {
	return s.Act(ctx, table.MakeAsk{Place: place, Count: count})
}

// Agree grants an ask, with chosen cards or by chance.
func (s *Seat) Agree(ctx context.Context, ask int, cards ...Handle) (Answer, error) {
	return s.Act(ctx, table.Agree{Ask: ask, Cards: cards})
}

// Decline refuses an ask.
func (s *Seat) Decline(ctx context.Context, ask int) (Answer, error) {
	return s.Act(ctx, table.Decline{Ask: ask})
}

// Withdraw takes the seat's own ask back.
func (s *Seat) Withdraw(ctx context.Context, ask int) (Answer, error) {
	return s.Act(ctx, table.Withdraw{Ask: ask})
}

// Pass passes the turn to the next seat.
func (s *Seat) Pass(ctx context.Context) (Answer, error) { return s.Act(ctx, table.Pass{}) }

// ChooseFirst chooses the first seat by chance.
func (s *Seat) ChooseFirst(ctx context.Context) (Answer, error) { return s.Act(ctx, table.First{}) }

// TurnRound makes turns go round the other way.
func (s *Seat) TurnRound(ctx context.Context) (Answer, error) { return s.Act(ctx, table.TurnRound{}) }

// Set sets a counter.
func (s *Seat) Set(ctx context.Context, counter PieceID, to int) (Answer, error) {
	return s.Act(ctx, table.SetCounter{Piece: counter, To: &to})
}

// Add changes a counter by steps.
func (s *Seat) Add(ctx context.Context, counter PieceID, steps int) (Answer, error) {
	return s.Act(ctx, table.SetCounter{Piece: counter, By: steps})
}

// Roll rolls dice and spins spinners.
func (s *Seat) Roll(ctx context.Context, pieces ...PieceID) (Answer, error) {
	return s.Act(ctx, table.Roll{Pieces: pieces})
}

// MovePiece moves a piece to a spot on the table, in millimetres.
func (s *Seat) MovePiece(ctx context.Context, piece PieceID, x, y float64) (Answer, error) {
	return s.Act(ctx, table.MovePiece{Piece: piece, X: &x, Y: &y})
}

// Stack lays a token, or a whole stack of them for 0, on a like one.
func (s *Seat) Stack(ctx context.Context, token, onto PieceID, count int) (Answer, error) {
	return s.Act(ctx, table.Stack{Piece: token, Onto: onto, Count: count})
}

// HandMarker gives a marker to a seat.
func (s *Seat) HandMarker(ctx context.Context, marker PieceID, seat SeatNumber) (Answer, error) {
	return s.Act(ctx, table.HandMarker{Piece: marker, Seat: seat})
}

// RunTimer starts, stops or resets a timer.
func (s *Seat) RunTimer(ctx context.Context, timer PieceID, what string) (Answer, error) {
	return s.Act(ctx, table.RunTimer{Piece: timer, Do: what})
}

// Write changes a note.
func (s *Seat) Write(ctx context.Context, note PieceID, text string) (Answer, error) {
	return s.Act(ctx, table.Write{Piece: note, Text: text})
}

// Say says something to everyone.
func (s *Seat) Say(ctx context.Context, text string) (Answer, error) {
	return s.Act(ctx, table.Say{Text: text})
}

// Rename changes the seat's name, its colour, or both.
func (s *Seat) Rename(ctx context.Context, name, colour string) (Answer, error) {
	return s.Act(ctx, table.Rename{Name: name, Colour: colour})
}

// Free frees a seat: one's own, or any for the host.
func (s *Seat) Free(ctx context.Context, seat SeatNumber) (Answer, error) {
	return s.Act(ctx, table.Free{Seat: seat})
}

// Undo takes the seat's last action back.
func (s *Seat) Undo(ctx context.Context) (Answer, error) { return s.Act(ctx, table.Undo{}) }

// Swap has two cards change places.
func (s *Seat) Swap(ctx context.Context, one, other Handle) (Answer, error) {
	return s.Act(ctx, table.Swap{Cards: []Handle{one, other}})
}

// RunCue does the steps of a cue.
func (s *Seat) RunCue(ctx context.Context, cue PieceID) (Answer, error) {
	return s.Act(ctx, table.Run{Cue: cue})
}

// SetUp does the steps that set the game up.
func (s *Seat) SetUp(ctx context.Context) (Answer, error) { return s.Act(ctx, table.Run{}) }

// ChangeSeat moves to a free seat. The key stays the same.
func (s *Seat) ChangeSeat(ctx context.Context, to SeatNumber) (Answer, error) {
	return s.Act(ctx, table.ChangeSeat{To: to})
}

// LayZone lays a zone, or changes one.
func (s *Seat) LayZone(ctx context.Context, zone LayZone) (Answer, error) { return s.Act(ctx, zone) }

// LayPiece lays a piece, or changes one.
func (s *Seat) LayPiece(ctx context.Context, piece LayPiece) (Answer, error) {
	return s.Act(ctx, piece)
}

// LayTable changes what belongs to the table as a whole.
func (s *Seat) LayTable(ctx context.Context, change LayTable) (Answer, error) {
	return s.Act(ctx, change)
}

// TakeOffZone takes a zone off the table; its cards, if any, stay on the felt.
func (s *Seat) TakeOffZone(ctx context.Context, zone PlaceID) (Answer, error) {
	return s.Act(ctx, table.TakeOff{Zone: zone, Cards: "felt"})
}

// TakeOffPiece takes a piece off the table.
func (s *Seat) TakeOffPiece(ctx context.Context, piece PieceID) (Answer, error) {
	return s.Act(ctx, table.TakeOff{Piece: piece})
}

// Door says who may come in; for the host.
func (s *Seat) Door(ctx context.Context, door Door) (Answer, error) { return s.Act(ctx, door) }

// GiveKeys makes another seat the host; for the host.
func (s *Seat) GiveKeys(ctx context.Context, seat SeatNumber) (Answer, error) {
	return s.Act(ctx, table.Keys{Seat: seat})
}

// EndGame ends the game for good and discloses the seed of its chance; for the host.
func (s *Seat) EndGame(ctx context.Context) (Answer, error) { return s.Act(ctx, table.End{}) }
