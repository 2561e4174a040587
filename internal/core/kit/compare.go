package kit

import (
	"cmp"
	"maps"
	"math"
	"reflect"
	"slices"

	"damselfly.example/damselfly/internal/core/compared"
	"damselfly.example/damselfly/internal/core/table"
)

// Compare tells what differs between two editions.
func Compare(before, after Edition) compared.Comparison {
	c := compared.Comparison{Zones: thingChanges(before.zonesLaid(), after.zonesLaid()), Pieces: thingChanges(before.piecesLaid(), after.piecesLaid())}
	c.Table = differing(map[string][2]any{
		"size": {before.Table.Size, after.Table.Size}, "mat": {before.Mat, after.Mat}, "turn": {before.Table.Turn, after.Table.Turn},
		"arrange": {before.Table.Arrange, after.Table.Arrange}, "setup": {before.Table.Setup, after.Table.Setup},
	})
	c.Kit = differing(map[string][2]any{
		"name": {before.Name, after.Name}, "about": {before.About, after.About}, "seats": {before.Seats, after.Seats}, "picture": {before.Picture, after.Picture},
		"description": {before.Description, after.Description}, "rules": {before.Rules + before.RulesFile, after.Rules + after.RulesFile},
	})
	was, is := byKey(before.Decks, deckKey), byKey(after.Decks, deckKey)
	for _, key := range slices.Sorted(maps.Keys(union(was, is))) {
		if d := compareDecks(key, was, is); !reflect.DeepEqual(d, compared.DeckChange{Key: key, Change: compared.Changed}) {
			c.Decks = append(c.Decks, d)
		}
	}
	moved(&c)
	return c
}

// zoneLaid is a zone as it is laid, whatever of it its kit leaves out.
type zoneLaid struct {
	table.Place
	each string
	at   [][]float64 // of one for each seat, where they do not lie along the edge
}

func (m Edition) zonesLaid() map[string]zoneLaid {
	all := map[string]zoneLaid{}
	for _, z := range m.Table.Zones {
		laid := zoneLaid{Place: m.place(z), each: z.Each}
		laid.X, laid.Y, laid.Wide, laid.High = tenth(laid.X), tenth(laid.Y), tenth(laid.Wide), tenth(laid.High)
		for i, at := range z.AtSeats {
			if x, y := m.edge(z.Key, i+1, m.Seats); math.Abs(x-at[0]) > offEdge || math.Abs(y-at[1]) > offEdge {
				laid.at = z.AtSeats
			}
		}
		all[z.Key] = laid
	}
	return all
}

func (m Edition) piecesLaid() map[string]table.Piece {
	all := map[string]table.Piece{}
	for _, p := range m.Table.Pieces {
		laid := *p.laid(m.Tokens[p.Key])
		laid.X, laid.Y, laid.Wide, laid.High = tenth(laid.X), tenth(laid.Y), tenth(laid.Wide), tenth(laid.High)
		all[p.Key] = laid
	}
	return all
}

func deckKey(d EditionDeck) string { return d.Key }

func byKey[T any](all []T, key func(T) string) map[string]T {
	m := map[string]T{}
	for _, one := range all {
		m[key(one)] = one
	}
	return m
}

func union[T any](a, b map[string]T) map[string]T {
	all := maps.Clone(a)
	maps.Copy(all, b)
	return all
}

func thingChanges[T any](was, is map[string]T) (changes []compared.ThingChange) {
	for _, key := range slices.Sorted(maps.Keys(union(was, is))) {
		before, there := was[key]
		after, stays := is[key]
		switch {
		case !there:
			changes = append(changes, compared.ThingChange{Key: key, Change: compared.Added})
		case !stays:
			changes = append(changes, compared.ThingChange{Key: key, Change: compared.Removed})
		case !reflect.DeepEqual(before, after):
			changes = append(changes, compared.ThingChange{Key: key, Change: compared.Changed})
		}
	}
	return changes
}

func differing(pairs map[string][2]any) (names []string) {
	for _, name := range slices.Sorted(maps.Keys(pairs)) {
		if !reflect.DeepEqual(pairs[name][0], pairs[name][1]) {
			names = append(names, name)
		}
	}
	return names
}

func compareDecks(key string, was, is map[string]EditionDeck) compared.DeckChange {
	before, there := was[key]
	after, stays := is[key]
	d := compared.DeckChange{Key: key, Change: compared.Changed}
	if !there {
		d.Change = compared.Added
	} else if !stays {
		d.Change = compared.Removed
	} else {
		d.Of = differing(map[string][2]any{
			"size": {[]float64{before.Wide, before.High}, []float64{after.Wide, after.High}}, "outline": {before.Outline, after.Outline},
			"home": {before.Home, after.Home}, "veil": {before.Veil, after.Veil},
		})
	}
	former, now := before.shown(), after.shown()
	for _, copies := range after.Copies {
		one := now[copies.Design]
		other, there := former[copies.Design]
		if !there {
			d.Added = append(d.Added, one)
			continue
		}
		words := wordChanges(before.Designs[one.Key].Fields, after.Designs[one.Key].Fields)
		if one != other || words != nil {
			d.Changed = append(d.Changed, compared.DesignChange{Before: other, After: one, Words: words})
		}
	}
	for _, copies := range before.Copies {
		if _, stays := now[copies.Design]; !stays {
			d.Removed = append(d.Removed, former[copies.Design])
		}
	}
	return d
}

// shown are a deck's designs by their keys.
func (d EditionDeck) shown() map[string]compared.DesignShown {
	all := map[string]compared.DesignShown{}
	for _, c := range d.Copies {
		design := d.Designs[c.Design]
		all[c.Design] = compared.DesignShown{Key: c.Design, Name: design.Name, Copies: c.Copies, Front: design.Front, Back: design.Back}
	}
	return all
}

func wordChanges(before, after map[string]string) (changes []compared.WordChange) {
	for _, field := range slices.Sorted(maps.Keys(union(orEmpty(before), orEmpty(after)))) {
		if before[field] != after[field] {
			changes = append(changes, compared.WordChange{Field: field, Before: before[field], After: after[field]})
		}
	}
	return changes
}

func orEmpty(m map[string]string) map[string]string {
	if m == nil {
		return map[string]string{}
	}
	return m
}

// moved finds designs that are gone from one deck and new in another: the same key and
// front.
func moved(c *compared.Comparison) {
	for i := range c.Decks {
		from := &c.Decks[i]
		from.Removed = slices.DeleteFunc(from.Removed, func(gone compared.DesignShown) bool {
			for j := range c.Decks {
				to := &c.Decks[j]
				at := slices.IndexFunc(to.Added, func(one compared.DesignShown) bool { return one.Key == gone.Key && one.Front == gone.Front })
				if at < 0 {
					continue
				}
				to.Moved = append(to.Moved, compared.DesignMoved{Design: to.Added[at], From: from.Key})
				to.Added = slices.Delete(to.Added, at, at+1)
				return true
			}
			return false
		})
	}
	for i := range c.Decks {
		slices.SortFunc(c.Decks[i].Moved, func(a, b compared.DesignMoved) int { return cmp.Compare(a.Design.Key, b.Design.Key) })
	}
}
