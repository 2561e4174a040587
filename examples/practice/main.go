// Practice is a program of one's own beside Damselfly: two practice players deal, play and
// put everything home. It uses nothing but the public client.
//
//	go run . http://127.0.0.1:7171 ROOM
package main

import (
	"context"
	"errors"
	"fmt"
	"os"

	"damselfly.example/damselfly/client"
)

func main() {
	if len(os.Args) != 3 {
		fmt.Fprintln(os.Stderr, "practice: give the service's address and a room")
		os.Exit(2)
	}
	if err := play(context.Background(), os.Args[1], os.Args[2]); err != nil {
		fmt.Fprintln(os.Stderr, "practice:", err)
		os.Exit(1)
	}
}

func play(ctx context.Context, address, room string) error {
	door := client.New(address, "")
	var seats []*client.Seat
	for _, name := range []string{"Reed", "Rush"} {
		joined, err := door.Join(ctx, room, client.Join{Name: name})
		if err != nil {
			return err
		}
		seats = append(seats, door.At(joined))
	}
	first, second := seats[0], seats[1]
	acts := []client.Action{
		client.Shuffle{Place: "weather"},
		client.Deal{From: "weather", Shares: []client.Share{{Who: "every", Count: 2}}},
		client.Move{Pick: client.Pick{From: "weather", Count: 1}, To: client.Target{Place: "sky"}, Side: "front"},
		client.All{Actions: client.Actions{client.Pass{}, client.Say{Text: "Your turn."}}},
	}
	for _, act := range acts {
		if _, err := first.Act(ctx, act); err != nil {
			return err
		}
	}
	// Who sees a card names it by its handle.
	look, err := second.Look(ctx)
	if err != nil {
		return err
	}
	for _, place := range look.View.Places {
		if place.ID != "sky" {
			continue
		}
		for _, card := range place.Cards {
			if _, err := second.Act(ctx, client.Rotate{Pick: client.Pick{Cards: []client.Handle{card.Handle}}}); err != nil {
				return err
			}
		}
	}
	// A refusal is a Problem, with a code to go by.
	var problem *client.Problem
	if _, err := second.Act(ctx, client.Draw{From: "weather", Count: 500}); errors.As(err, &problem) {
		fmt.Println(problem.Code+":", problem.Detail)
	}
	if _, err := first.Act(ctx, client.EverythingHome{}); err != nil {
		return err
	}
	log, err := first.Log(ctx, 20)
	if err != nil {
		return err
	}
	for _, line := range log {
		fmt.Println(line.Who, line.Text)
	}
	return nil
}
