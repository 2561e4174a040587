package client_test

import (
	"context"
	"fmt"
	"log"

	"damselfly.example/damselfly/client"
)

// There must be a service at the address, so this is compiled and not run; examples/practice is run.
func Example() {
	ctx := context.Background()
	maker := client.New("http://127.0.0.1:7171", "MAKER KEY")
	room, err := maker.OpenRoom(ctx, client.OpenRoom{Kit: "Marsh Post", Seats: 2})
	if err != nil {
		log.Fatal(err)
	}
	joined, err := maker.Join(ctx, room.ID, client.Join{Name: "Ada"})
	if err != nil {
		log.Fatal(err)
	}
	ada := maker.At(joined)
	answer, err := ada.Do(ctx, "draw 2 from weather to my hand")
	if err != nil {
		log.Fatal(err)
	}
	for _, line := range answer.Log {
		fmt.Println(line.Who, line.Text)
	}
	if _, err := ada.Act(ctx, client.EverythingHome{}); err != nil {
		log.Fatal(err)
	}
}
