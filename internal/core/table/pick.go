package table

import (
	"slices"
	"strings"
)

// Which says from which end of a place cards are picked.
type Which string

// The ends. Top of a row is its right end, the last card. By chance each card
// is as likely as any other.
const (
	Top      Which = "top"
	Bottom   Which = "bottom"
	Every    Which = "all"
	ByChance Which = "chance"
)

// Pick names cards: by number from an end of a place, all of a place, by the
// names the actor can read there, or one by one.
type Pick struct {
	From  PlaceID  `json:"from,omitempty" doc:"The place to pick from, or a grid with all its cells; leave out with cards."`
	Which Which    `json:"which,omitempty" enum:"top,bottom,all,chance" doc:"The end to pick from; top if left out."`
	Count int      `json:"count,omitempty" minimum:"0" doc:"How many from that end; 1 if left out."`
	UpTo  bool     `json:"up_to,omitempty" doc:"Take as many as there are, if they are fewer."`
	Where *Filter  `json:"where,omitempty" doc:"Search: only cards that fit."`
	Names []string `json:"names,omitempty" doc:"Names of cards whose fronts you can see in the place."`
	Cards []Handle `json:"cards,omitempty" doc:"Handles of cards you have before your eyes."`
}

// cards finds the picked cards, from bottom to top of their place (in the
// order given for Names and Cards). They need not lie in one place.
func (k Pick) cards(d *draft) ([]CardID, *Refusal) {
	if len(k.Cards) > 0 {
		return k.named(d)
	}
	p, refusal := d.place(k.From)
	if refusal != nil {
		return nil, refusal
	}
	within := d.within(p)
	for _, one := range append(within, p) {
		if refusal := d.own(one); refusal != nil {
			return nil, refusal
		}
	}
	if len(k.Names) > 0 {
		return k.read(d, p, within)
	}
	return k.counted(d, p, within)
}

// within are the places whose cards lie in a place: itself, or the taken cells of a
// grid. Its first cell comes last: it is the grid's top.
func (d *draft) within(p *Place) []*Place {
	if p.Kind != Grid {
		return []*Place{p}
	}
	var cells []*Place
	for i := p.Grid.Columns*p.Grid.Rows - 1; i >= 0; i-- {
		if cell := d.table.Places[CellID(p.ID, p.Grid.At(i))]; cell != nil {
			cells = append(cells, cell)
		}
	}
	return cells
}

// counted picks by number among the cards of a place, or those that fit.
func (k Pick) counted(d *draft, p *Place, within []*Place) ([]CardID, *Refusal) {
	d.countAll(p, within)
	var from []CardID
	switch {
	case k.Where != nil:
	case p.Kind != Grid:
		from = p.Cards // as they are: a long pile is not copied for one card
	default:
		for _, cell := range within {
			from = append(from, cell.Cards...)
		}
	}
	if k.Where != nil {
		if k.Where.deep(maxFilter) {
			return nil, refuse(NotUnderstood, "This search is nested too deep.")
		}
		weight := k.Where.weight()
		for _, one := range within {
			d.asksEach(one, weight)
		}
		if d.trouble != nil {
			return nil, d.trouble
		}
		judge := d.table.judge(k.Where)
		for _, one := range within {
			whereabouts := k.Where.whereabouts(one)
			for _, card := range one.Cards {
				if judge.fits(card, one, whereabouts) {
					from = append(from, card)
				}
			}
		}
		if k.Where.reads() {
			d.searches(k, judge, within, len(from))
		}
	}
	count := max(k.Count, 1)
	if k.Which == Every || k.UpTo {
		count = max(min(count, len(from)), 1)
		if k.Which == Every {
			count = max(len(from), 1)
		}
	}
	if count > len(from) {
		return nil, k.tooFew(p, len(from), count)
	}
	k.unsure(d, within, count < len(from))
	switch k.Which {
	case Bottom:
		return slices.Clone(from[:count]), nil
	case ByChance:
		return byChance(d, p, from, count), nil
	}
	return slices.Clone(from[len(from)-count:]), nil
}

// unsure notes which cards it depends on what is hidden, or on chance, whether they
// are picked.
func (k Pick) unsure(d *draft, within []*Place, some bool) {
	d.doubts.number = nil
	for _, one := range within {
		chosen := k.Which == ByChance && some
		hidden := k.Where != nil && k.Where.reads() && !d.knowsAll(one)
		if hidden && (k.Which == Every || k.UpTo) {
			d.unsureCount(one)
			d.doubts.number = one
		}
		if hidden || chosen || some && d.doubts.mixed[one.ID] {
			d.unsure(one)
		}
		if chosen && len(within) > 1 {
			note(&d.doubts.counts, one.ID)
		}
	}
}

// byChance picks cards with equal chances and leaves them in their order.
func byChance(d *draft, p *Place, from []CardID, count int) []CardID {
	stream := d.chance(p)
	at := make([]int, len(from))
	for i := range at {
		at[i] = i
	}
	for i := range count { // the first steps of an exchange shuffle
		j := i + int(stream.Below(uint64(len(at)-i)))
		at[i], at[j] = at[j], at[i]
	}
	chosen := at[:count]
	slices.Sort(chosen)
	picked := make([]CardID, count)
	for i, index := range chosen {
		picked[i] = from[index]
	}
	return picked
}

func (k Pick) named(d *draft) ([]CardID, *Refusal) {
	known := map[CardID]bool{}
	var cards []CardID
	for _, handle := range k.Cards {
		id := d.card(handle)
		p, _ := d.table.At(id)
		if p == nil || known[id] {
			return nil, refuse(NoSuchCard, "A card you named is not there any more, or was named twice.")
		}
		known[id] = true
		if refusal := d.own(p); refusal != nil {
			return nil, refusal
		}
		cards = append(cards, id)
	}
	return cards, nil
}

// read finds cards by name among the fronts the actor sees in the place.
func (k Pick) read(d *draft, p *Place, within []*Place) ([]CardID, *Refusal) {
	var found []CardID
	for _, name := range k.Names {
		card, seen := d.readable(within, name, found)
		if d.trouble != nil {
			return nil, d.trouble
		}
		if !seen {
			return nil, refuse(NoSuchCard, "You see no card %q in %s.", name, p.Name)
		}
		found = append(found, card)
	}
	return found, nil
}

// readable is the topmost card of a name that the actor can read in places, but
// for those already found.
func (d *draft) readable(within []*Place, name string, found []CardID) (CardID, bool) {
	for card := range d.doubts.cards {
		if d.sights.fronts[card] && strings.EqualFold(d.table.Design(card).Name, name) {
			d.wise(d.table.Places[d.table.Cards[card].Place])
		}
	}
	for _, p := range slices.Backward(within) {
		d.looksThrough(p)
		for i, id := range slices.Backward(p.Cards) {
			if d.mayName(p, i) && !slices.Contains(found, id) && strings.EqualFold(d.table.Design(id).Name, name) {
				return id, true
			}
		}
	}
	return 0, false
}

func (k Pick) tooFew(p *Place, has, asked int) *Refusal {
	that := ""
	if k.Where != nil {
		that = " that fit"
		if has == 1 {
			that = " that fits"
		}
	}
	return refuse(TooFew, "%s has %s%s, you asked for %d.", p.Name, counted(has, "card"), that, asked).
		with("has", has).with("asked", asked)
}

// spotOf is the place all the cards lie in, or the grid whose cells they lie
// in, nil if they lie here and there.
func (d *draft) spotOf(cards []CardID) *Spot {
	from := d.table.Places[d.table.Cards[cards[0]].Place]
	for _, id := range cards {
		if p := d.table.Places[d.table.Cards[id].Place]; p.ID != from.ID {
			if p.Of == "" || p.Of != from.Of && p.Of != from.ID {
				return nil
			}
			from = d.table.Places[p.Of]
		}
	}
	return d.spot(from)
}

// Picks is what an action picks that picks cards.
func (k Pick) Picks() Pick { return k }

func (k Pick) handles() []Handle { return k.Cards }

func (k Pick) byChance() bool { return k.Which == ByChance }

// countAll reads how many cards lie in a place, or on which cells of a grid.
func (d *draft) countAll(p *Place, within []*Place) {
	for _, one := range within {
		d.count(one)
	}
	if p.Kind != Grid {
		return
	}
	for id := range d.doubts.counts {
		if of, _ := id.Parts(); of == p.ID && d.table.Places[id] == nil {
			d.wise(p) // whether cards lie on that cell
		}
	}
}
