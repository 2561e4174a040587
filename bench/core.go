package main

import (
	"fmt"
	"math/rand/v2"

	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/core/table/tabletest"
)

// pileOf lays a table with one pile of n cards and a hand.
func pileOf(n int) *table.Table {
	deck := table.Deck{Key: "d", Wide: 63, High: 88, Designs: map[string]table.Design{}}
	mint := table.Mint{Place: "pile"}
	for i := range n {
		key := fmt.Sprint("design-", i)
		deck.Designs[key] = table.Design{Key: key, Name: key}
		mint.Cards = append(mint.Cards, table.Minted{ID: table.CardID(i + 1), Deck: "d", Design: key, Side: table.Back})
	}
	t := &table.Table{}
	t.Fold(table.Edits{
		table.PutChair{After: &table.Chair{Seat: 1, Name: "Ada"}},
		table.PutPlace{After: &table.Place{ID: "pile", Name: "pile", Kind: table.Pile, Sight: table.Open}},
		table.PutPlace{After: &table.Place{ID: "hand/1", Name: "hand", Kind: table.Hand, Sight: table.OwnerOnly, Owner: 1}},
		table.PutDeck{After: &deck}, mint,
	})
	return t
}

// shuffled is a shuffle of 10,000 cards, edits included, against the bare
// exchange shuffle of numbers with the same generator.
func shuffled(*bench) (ours, reference float64, unit string, err error) {
	const n, times = 10_000, 50
	t := pileOf(n)
	numbers := make([]int, n)
	ours, reference = best(9, func() {
		for i := range times {
			if _, _, refusal := t.Apply(1, table.Shuffle{Place: "pile"}, tabletest.With(chance.Derive(chance.Seed{}, uint64(i), ""), 0)); refusal != nil {
				err = fmt.Errorf("%s", refusal.Text)
			}
		}
	}, func() {
		for i := range times {
			source := rand.NewChaCha8([32]byte{byte(i)})
			for i := n - 1; i > 0; i-- {
				j := source.Uint64() % uint64(i+1)
				numbers[i], numbers[j] = numbers[j], numbers[i]
			}
		}
	})
	return ours / times * 1e6, reference / times * 1e6, "µs", err
}

// flat is one draw on a table of 5,000 cards against one on a table of 50.
func flat(*bench) (ours, reference float64, unit string, err error) {
	const times = 3000
	draw := func(t *table.Table) func() {
		s := chance.Derive(chance.Seed{}, 1, "")
		return func() {
			for range times {
				edits, _, refusal := t.Apply(1, table.Draw{From: "pile"}, tabletest.With(s, 0))
				if refusal != nil {
					err = fmt.Errorf("%s", refusal.Text)
					return
				}
				t.Fold(table.Inverse(edits)) // back for the next; it costs both the same
			}
		}
	}
	ours, reference = best(25, draw(pileOf(5000)), draw(pileOf(50)))
	return ours / times * 1e6, reference / times * 1e6, "µs", err
}
