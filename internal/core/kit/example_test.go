package kit_test

import (
	"fmt"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
)

func Example() {
	k, err := kit.Read(demo.Weather()) // kit.yaml, checked for mistakes
	if err != nil {
		fmt.Println(err)
		return
	}
	made, err := k.Make(kit.Making{}) // sheets looked over and cut
	if err != nil {
		fmt.Println(err)
		return
	}
	t := &table.Table{}
	t.Fold(made.Edition.Lay(2)) // a table for two seats
	fmt.Println(made.Edition.Name, "has", len(t.Cards), "cards;", len(made.Warnings), "warnings")
	// Output:
	// Marsh Post has 22 cards; 0 warnings
}
