package table_test

import (
	"fmt"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

func ExampleTable_Apply() {
	t := tabletest.Sample(2)
	circumstances := table.Circumstances{Now: 1000, Entry: 2, Chance: func(d chance.Draw) *chance.Stream { return chance.OfDraw(chance.Seed{}, d, "") }}
	edits, deeds, refusal := t.Apply(table.Seat(1), table.Draw{From: "weather", Count: 2}, circumstances)
	if refusal != nil {
		fmt.Println(refusal.Text)
		return
	}
	fmt.Println(deeds[0].Who, deeds[0].Do, deeds[0].Of.(table.Moved).Count, "and the pile has", len(t.Places["weather"].Cards))

	again := tabletest.Sample(2)
	again.Fold(edits) // on another copy of the table: the same table
	fmt.Println(len(again.Places["weather"].Cards))
	again.Fold(table.Inverse(edits)) // the former table back
	fmt.Println(len(again.Places["weather"].Cards))

	_, _, refusal = t.Apply(table.Seat(1), table.Draw{From: "weather", Count: 20}, circumstances)
	fmt.Println(refusal.Code, refusal.Numbers)
	// Output:
	// Ada draw 2 and the pile has 8
	// 8
	// 10
	// too-few-cards map[asked:20 has:8]
}

func ExampleReadAction() {
	_, err := table.ReadAction([]byte(`{"do":"draw","from":"weather","cuont":2}`))
	fmt.Println(err)
	action, err := table.ReadAction([]byte(`{"do":"draw","from":"weather","count":2}`))
	fmt.Printf("%+v %v\n", action, err)
	// Output:
	// draw: there is no field "cuont"; did you mean "count"?
	// {From:weather Count:2 UpTo:false To:} <nil>
}
