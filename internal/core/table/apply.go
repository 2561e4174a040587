package table

import (
	"slices"

	"damselfly.example/damselfly/internal/core/chance"
)

// Circumstances are what an act needs beside the table: everything that the core
// may not find out by itself.
type Circumstances struct {
	Now    int64                            // milliseconds since 1970
	Entry  uint64                           // the number that the entry will have; a seat taken in it has it as its tenure
	Chance func(chance.Draw) *chance.Stream // the stream of a draw; no two acts ask for the same one

	// Handles finds the card that the actor means by a handle, 0 if none. Nil takes
	// handles for ids.
	Handles func(Handle) CardID

	// Held are the cards that seats are dragging, as far as others see them.
	Held map[CardID]Seat
}

// Apply does an action for a seat; seat 0 is the service itself. The table has then
// changed by the returned edits.
//
// A refusal is blind if it would come whatever the cards are that the actor does
// not see, and whatever chance gives: then there are no edits and the table is as it
// was. Any other refusal takes back only the line that was refused. The edits and
// deeds of the lines before it are returned beside it and stand, with a line that
// tells what the refused one searched. See doubts.
func (t *Table) Apply(actor Seat, a Action, c Circumstances) (Edits, []Deed, *Refusal) {
	t.ready()
	lines := linesOf(a)
	if refusal := t.standAlone(actor, a, lines); refusal != nil {
		return nil, nil, refusal
	}
	if actor != 0 && (len(lines) > 1 || picksByChance(a)) {
		// A rehearsal with chance that is thrown away, so that a refusal that is blind
		// has not even read the stream of a draw.
		rehearsal := newDraft(t, actor, lines, c)
		rehearsal.circumstances.Chance = func(d chance.Draw) *chance.Stream { return chance.FromKey([32]byte{byte(d.Seat), 1}) }
		refusal := rehearsal.lines(lines)
		t.Fold(Inverse(rehearsal.edits))
		if refusal != nil && !rehearsal.doubts.wiser {
			return nil, nil, refusal
		}
	}
	d := newDraft(t, actor, lines, c)
	refusal := d.lines(lines)
	if refusal != nil && !d.doubts.wiser {
		t.Fold(Inverse(d.edits))
		return nil, nil, refusal
	}
	if refusal != nil {
		d.stand(refusal)
	}
	d.leave()
	d.sweep()
	t.Recall(actor, c.Entry, d.edits, d.deeds)
	return d.edits, d.deeds, refusal
}

// picksByChance reports whether an action draws before it is known whether it can be
// done.
func picksByChance(a Action) bool {
	picks, ok := a.(interface{ byChance() bool })
	return ok && picks.byChance()
}

// linesOf are the actions of an All, or the one action itself.
func linesOf(a Action) []Action {
	if all, ok := a.(All); ok {
		return all.Actions
	}
	return []Action{a}
}

// standAlone refuses what no table lets anybody do, whatever lies on it.
func (t *Table) standAlone(actor Seat, a Action, lines []Action) *Refusal {
	if _, leaves := a.(Free); t.Settings.Ended && actor != 0 && !leaves {
		return refuse(GameEnded, "The game has ended; nothing is done at this table any more.")
	}
	if len(lines) > MaxAll {
		return refuse(OutOfBounds, "At most %d steps are done as one, not %d.", MaxAll, len(lines)).with("most", MaxAll).with("asked", len(lines))
	}
	for i, line := range lines {
		if _, nested := line.(All); nested {
			refusal := refuse(NotUnderstood, "Several actions are done as one, but not within each other: write them in one list.")
			refusal.Step = i + 1
			return refusal
		}
		if kind := KindOf(line); kind.Alone && len(lines) > 1 {
			refusal := refuse(NotUnderstood, "%q stands alone; it is no part of a longer action.", kind.Word)
			refusal.Step = i + 1
			return refusal
		}
	}
	return nil
}

// draft is an action being planned. Each edit takes hold at once, so that what
// comes later in the same action sees it.
type draft struct {
	table         *Table
	actor         Seat
	circumstances Circumstances
	now           int64
	edits         Edits
	deeds         []Deed
	weight        int // bytes that the entry will have, about
	looked        int // cards that were looked through

	streams  map[chance.Draw]*chance.Stream // read so far
	sights   sightings
	doubts   doubts
	stirred  map[PlaceID]bool // cards went out or in
	searched []searched       // by the line that is being planned
	trouble  *Refusal         // what an edit ran into; the line is then refused
}

func newDraft(t *Table, actor Seat, lines []Action, c Circumstances) *draft {
	d := &draft{table: t, actor: actor, circumstances: c, now: c.Now}
	d.sights = sightingsOf(t, actor, lines, c)
	return d
}

// lines plans one line after the other. What a refused line did is taken back,
// but for the chance that it drew.
func (d *draft) lines(lines []Action) *Refusal {
	for i, line := range lines {
		edits, deeds := len(d.edits), len(d.deeds)
		d.searched, d.doubts.number = nil, nil
		refusal := d.may(line)
		if refusal == nil {
			refusal = line.plan(d)
		}
		if refusal == nil {
			refusal = d.trouble
		}
		if refusal == nil {
			continue
		}
		d.trouble = nil
		undone := slices.Clone(d.edits[edits:])
		d.edits, d.deeds = d.edits[:edits:edits], d.deeds[:deeds:deeds]
		d.table.Fold(Inverse(undone))
		for _, e := range undone {
			if drew, ok := e.(Drew); ok {
				d.do(drew)
			}
		}
		if len(lines) > 1 {
			refusal.Step = i + 1
		}
		return refusal
	}
	return nil
}

// stand makes an entry of what was done before a refused line, and tells what that
// line searched: what has been seen cannot be unseen.
func (d *draft) stand(refusal *Refusal) {
	refusal.Stands = true
	for _, s := range d.searched {
		d.tell("search", Searched{From: s.spot, Among: s.among})
	}
	if len(d.deeds) == 0 {
		d.tell("try", Wordless{})
	}
}

// sweep takes away felt places and cells that were made and got no card.
func (d *draft) sweep() {
	for _, e := range d.edits {
		if made, ok := e.(PutPlace); ok && made.Before == nil {
			if p := d.table.Places[made.After.ID]; p != nil {
				d.clear(p)
			}
		}
	}
}

// maxWeight bounds the edits and deeds of one entry, in bytes, far below what the
// journal can keep in a row.
const maxWeight = 6 << 20

func (d *draft) do(e Edit) {
	d.grips(e)
	d.weigh(e.touches(d.table).Weight)
	e.fold(d.table)
	d.edits = append(d.edits, e)
	d.sights.after(d.table, e)
	if splice, ok := e.(Splice); ok {
		note(&d.stirred, splice.From)
		note(&d.stirred, splice.To)
	}
}

// weigh counts what the entry will take in the journal.
func (d *draft) weigh(bytes int) {
	if d.weight += bytes; d.weight > maxWeight && d.trouble == nil {
		d.doubts.wiser = d.doubts.wiser || len(d.doubts.counts) > 0
		d.trouble = refuse(OutOfBounds, "This does too much as one: what it moves and tells would fill more than %d MB. Do it in parts.", maxWeight>>20).with("most", maxWeight>>20)
	}
}

// maxLooked bounds how many cards one entry looks through: twenty times all those of the
// largest table.
const maxLooked = 400_000

// looksThrough counts the cards of a place that are looked through one by one, so that a
// small message is small work.
func (d *draft) looksThrough(p *Place) { d.asksEach(p, 1) }

// asksEach is that, of a filter that weighs as much as several.
func (d *draft) asksEach(p *Place, weight int) {
	if d.looked += len(p.Cards) * weight; d.looked > maxLooked && d.trouble == nil {
		d.doubts.wiser = d.doubts.wiser || len(d.doubts.counts) > 0
		d.trouble = refuse(OutOfBounds, "This looks through more than %d cards as one. Do it in parts.", maxLooked).with("most", maxLooked)
	}
}

// grips notes that an edit is on cards that another seat is dragging. What is to be
// ordered by chance asks first.
func (d *draft) grips(e Edit) {
	if d.trouble == nil {
		d.trouble = d.held(e)
	}
}

// held refuses an edit on cards that another seat is dragging.
func (d *draft) held(e Edit) *Refusal {
	if len(d.circumstances.Held) == 0 {
		return nil
	}
	for _, card := range e.touches(d.table).Cards {
		if seat := d.circumstances.Held[card]; seat != 0 && seat != d.actor {
			if d.doubts.cards[card] {
				d.wise(d.table.Places[d.table.Cards[card].Place])
			}
			return refuse(HeldByAnother, "%s is holding a card of these just now.", d.table.seatName(seat)).with("seat", int(seat))
		}
	}
	return nil
}

// chance is the stream of this action's draw. What is drawn inside the actor's own
// hand is numbered apart, so that nobody can count what happens there by what they
// draw themselves.
func (d *draft) chance(inside *Place) *chance.Stream {
	if d.trouble != nil {
		return chance.FromKey([32]byte{}) // the line is refused already, so no draw is read for it
	}
	var of Seat
	if inside != nil && inside.silent() && inside.Owner == d.actor {
		of = d.actor
	}
	for draw, stream := range d.streams {
		if draw.Seat == int(of) {
			return stream
		}
	}
	before := d.table.Draws[of]
	draw := chance.Draw{Seat: int(of), Number: before + 1}
	d.do(Drew{Seat: of, Before: before, After: before + 1})
	if d.streams == nil {
		d.streams = map[chance.Draw]*chance.Stream{}
	}
	d.streams[draw] = d.circumstances.Chance(draw)
	return d.streams[draw]
}
