package steps_test

import (
	"fmt"

	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

func ExampleRead() {
	t := tabletest.Sample(2)
	action, err := steps.Read("draw 2 from weather to my hand", t, 1)
	fmt.Printf("%+v %v\n", action, err)
	_, err = steps.Read("draw 2 from wether", t, 1)
	fmt.Println(err)
	// Output:
	// {From:weather Count:2 UpTo:false To:satchel/1} <nil>
	// line 1, column 13: there is no place "wether"; did you mean "weather"?
}

func ExamplePrint() {
	text, ok := steps.Print(table.Move{Pick: table.Pick{From: "satchel/1", Names: []string{"Fog"}}, To: table.Target{Place: "sky"}}, tabletest.Sample(2), 1)
	fmt.Println(text, ok)
	// Output:
	// move "Fog" of my satchel to sky true
}
