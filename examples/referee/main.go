// Referee is a program of one's own that knows rules, which Damselfly does not: it puts a kit of 52 cards on the
// shelf, opens a room for four, deals, and has the seats play turn by turn, following suit; the highest card of the suit
// that was led takes the four. It uses nothing but the public client, and ends after 200 turns.
//
//	MAKER_KEY=$(cat DATA/maker.key) go run . http://127.0.0.1:7171
package main

import (
	"archive/zip"
	"bytes"
	"context"
	"errors"
	"fmt"
	"os"
	"strconv"
	"strings"

	"damselfly.example/damselfly/client"
)

const (
	seats = 4
	turns = 200
	each  = 13 // cards of a suit, and of a hand
)

var suits = []string{"reeds", "shells", "feathers", "stones"}

// kit is the folder of the kit: a table of cards, and how one is drawn.
func kit() (*bytes.Buffer, error) {
	cards := "key,name,suit,rank\n"
	for _, suit := range suits {
		for rank := 1; rank <= each; rank++ {
			cards += fmt.Sprintf("%s-%d,%d of %s,%s,%d\n", suit, rank, rank, suit, suit, rank)
		}
	}
	manifest := `kit: 1
name: Fen Tricks
seats: 4
decks:
  tricks:
    rows: cards.csv
    layout: plain
    home: tricks
layouts:
  plain:
    size: [250, 350]
    front:
      - {at: [20, 40, 210, 120], text: "{rank}", bold: true, height: 100}
      - {at: [20, 240, 210, 60], text: "{suit}", height: 40}
table:
  size: [900, 600]
  zones:
    - {key: tricks, kind: pile, at: [120, 120]}
    - {key: trick, kind: row, at: [450, 300], size: [320, 100], arrival: front}
    - {key: hand, kind: hand, each: seat, sight: owner}
    - {key: taken, kind: pile, each: seat}
`
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for name, text := range map[string]string{"kit.yaml": manifest, "cards.csv": cards} {
		file, err := z.Create(name)
		if err != nil {
			return nil, err
		}
		if _, err := file.Write([]byte(text)); err != nil {
			return nil, err
		}
	}
	return &out, z.Close()
}

func main() {
	if len(os.Args) != 2 || os.Getenv("MAKER_KEY") == "" {
		fmt.Fprintln(os.Stderr, "referee: give the service's address, and a maker's key as MAKER_KEY")
		os.Exit(2)
	}
	if err := referee(context.Background(), os.Args[1], os.Getenv("MAKER_KEY")); err != nil {
		fmt.Fprintln(os.Stderr, "referee:", err)
		os.Exit(1)
	}
}

func referee(ctx context.Context, address, key string) error {
	maker := client.New(address, key)
	folder, err := kit()
	if err != nil {
		return err
	}
	put, err := maker.PutKit(ctx, folder, int64(folder.Len()), true)
	if err != nil {
		return err
	}
	room, err := maker.OpenRoom(ctx, client.OpenRoom{Kit: put.Name})
	if err != nil {
		return err
	}
	g := &game{}
	for i := range seats {
		joined, err := client.New(address, "").Join(ctx, room.ID, client.Join{Name: fmt.Sprintf("Player %d", i+1), Seat: client.SeatNumber(i + 1)})
		if err != nil {
			return err
		}
		g.seats = append(g.seats, client.New(address, "").At(joined))
	}
	for g.turns < turns {
		if err := g.round(ctx); err != nil {
			return err
		}
	}
	fmt.Printf("%d turns, %d tricks: %v; a card against the rules was refused %d times\n", g.turns, g.tricks, g.taken, g.refused)
	return nil
}

// game is what the rules need to know.
type game struct {
	seats                  []*client.Seat
	leads                  int
	turns, tricks, refused int
	taken                  [seats]int
}

// round deals all cards and has them played.
func (g *game) round(ctx context.Context) error {
	if _, err := g.seats[0].Do(ctx, fmt.Sprintf("gather tricks and shuffle\ndeal %d from tricks to every hand", each)); err != nil {
		return err
	}
	for range each {
		if err := g.trick(ctx); err != nil || g.turns >= turns {
			return err
		}
	}
	return nil
}

// trick has each seat play one card, and gives them to whoever played the highest of the suit that was led.
func (g *game) trick(ctx context.Context) error {
	led, best, winner := "", 0, 0
	for i := range seats {
		seat := (g.leads + i) % seats
		hand, err := g.seats[seat].Place(ctx, client.PlaceID(fmt.Sprintf("hand/%d", seat+1)))
		if err != nil {
			return err
		}
		card, err := choose(hand, led)
		if err != nil {
			return err
		}
		if i > 0 { // somebody tries the hand of another seat, and the table says no
			other := g.seats[(seat+1)%seats]
			if _, err := other.Act(ctx, client.Move{Pick: client.Pick{Cards: []client.Handle{card.Handle}}, To: client.Target{Place: "trick"}}); err == nil {
				return errors.New("a card was played from another's hand")
			}
			g.refused++
		}
		if _, err := g.seats[seat].Act(ctx, client.Move{Pick: client.Pick{Cards: []client.Handle{card.Handle}}, To: client.Target{Place: "trick"}, Side: "front"}); err != nil {
			return err
		}
		suit, rank := card.Face.Fields["suit"], rankOf(card)
		if i == 0 {
			led = suit
		}
		if suit == led && rank > best {
			best, winner = rank, seat
		}
		g.turns++
	}
	if _, err := g.seats[winner].Do(ctx, fmt.Sprintf("move all of trick onto taken of seat %d\npass", winner+1)); err != nil {
		return err
	}
	g.leads = winner
	g.tricks++
	g.taken[winner]++
	return nil
}

// choose is a card that the rules allow: of the suit that was led, or any where there is none.
func choose(hand client.Place, led string) (held, error) {
	if len(hand.Cards) == 0 {
		return held{}, errors.New("a hand is empty before its time")
	}
	for _, card := range hand.Cards {
		if face := hand.Faces[card.Face]; led == "" || face.Fields["suit"] == led {
			return held{card.Handle, face}, nil
		}
	}
	first := hand.Cards[0]
	return held{first.Handle, hand.Faces[first.Face]}, nil
}

// held is a card of a hand, with what its holder sees of it.
type held struct {
	Handle client.Handle
	Face   client.Face
}

func rankOf(card held) int {
	rank, err := strconv.Atoi(strings.TrimSpace(card.Face.Fields["rank"]))
	if err != nil {
		return 0
	}
	return rank
}
