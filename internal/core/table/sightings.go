package table

// sightings are the cards that an actor has had before their eyes from before the
// first line of a sequence on. Names and handles mean none but these: otherwise a
// line could speak of what another has uncovered, or follow a card through a shuffle.
type sightings struct {
	all    bool // a single action: what is in view now is what counts
	actor  Seat
	had    map[CardID]bool // in view ever since
	fronts map[CardID]bool // whose front was in view before the first line
	loose  map[PlaceID]bool
	named  map[Handle]CardID
}

// sightingsOf looks at the table before the first line. The handles of all lines
// are looked up here.
func sightingsOf(t *Table, actor Seat, lines []Action, c Circumstances) sightings {
	s := sightings{all: len(lines) < 2, actor: actor, named: map[Handle]CardID{}}
	for _, line := range lines {
		names, ok := line.(interface{ handles() []Handle })
		if !ok {
			continue
		}
		for _, h := range names.handles() {
			card := CardID(h)
			if c.Handles != nil {
				card = c.Handles(h)
			}
			s.named[h] = card
		}
	}
	if s.all || actor == 0 {
		return s
	}
	s.had, s.fronts, s.loose = map[CardID]bool{}, map[CardID]bool{}, map[PlaceID]bool{}
	for id, p := range t.Places {
		s.loose[id] = p.Kind == Loose
		for i := t.InView(p); i < len(p.Cards); i++ {
			if t.Audience(p, i).Includes(actor) {
				s.had[p.Cards[i]] = true
				s.fronts[p.Cards[i]] = t.FrontSeen(actor, p, i)
			}
		}
	}
	return s
}

// after forgets the cards that an edit took out of the actor's sight, be it for a
// moment.
func (s *sightings) after(t *Table, e Edit) {
	if hides, does := e.(interface{ hides(*Table, *sightings) }); does && s.had != nil {
		hides.hides(t, s)
	}
}

func (e Splice) hides(t *Table, s *sightings) {
	s.check(t, e.Cards)
	if to := t.Places[e.To]; to != nil && to.Kind.Stacked() && len(e.Cards) < len(to.Cards) {
		s.check(t, to.Cards[max(0, len(to.Cards)-len(e.Cards)-1):])
	}
}

func (e Order) hides(t *Table, s *sightings) {
	p := t.Places[e.Place]
	for i, card := range p.Cards {
		if s.had[card] && (p.Kind.Stacked() || !t.FrontSeen(s.actor, p, i)) {
			delete(s.had, card)
		}
	}
}

func (e Show) hides(t *Table, s *sightings) { s.check(t, []CardID{e.Card}) }

func (e PutPlace) hides(t *Table, s *sightings) {
	if e.After != nil && t.Places[e.After.ID] != nil {
		s.check(t, t.Places[e.After.ID].Cards)
	}
}

func (e PutLook) hides(t *Table, s *sightings) {
	if e.Before != nil && t.Places[e.Before.Place] != nil {
		s.check(t, t.Places[e.Before.Place].Cards)
	}
}

func (s *sightings) check(t *Table, cards []CardID) {
	for _, card := range cards {
		if !s.had[card] {
			continue
		}
		if p, i := t.At(card); i < 0 || !t.Audience(p, i).Includes(s.actor) {
			delete(s.had, card)
		}
	}
}

// card is what the actor means by a handle, 0 if that is not, or was not always,
// before their eyes.
func (d *draft) card(h Handle) CardID {
	card := d.sights.named[h]
	if d.actor == 0 {
		return card
	}
	if p, i := d.table.At(card); i < 0 || !d.table.Audience(p, i).Includes(d.actor) {
		card = 0
	}
	if known := d.sights.named[h]; d.doubts.cards[known] {
		d.wise(d.table.Places[d.table.Cards[known].Place])
	}
	if !d.sights.all && !d.sights.had[card] {
		return 0
	}
	return card
}

// mayName reports whether a line may speak of a card by its name: its front is in
// view, and it was before the first line and ever since.
func (d *draft) mayName(p *Place, index int) bool {
	card := p.Cards[index]
	return d.table.FrontSeen(d.actor, p, index) && (d.sights.all || d.actor == 0 || d.sights.had[card] && d.sights.fronts[card])
}

// inViewAtFirst reports whether the actor had a card before their eyes before the
// first line, whichever side was up.
func (d *draft) inViewAtFirst(p *Place, index int) bool {
	if d.sights.all || d.actor == 0 {
		return d.table.Audience(p, index).Includes(d.actor)
	}
	_, had := d.sights.fronts[p.Cards[index]]
	return had
}

// knows reports whether the actor saw the front of the card at an index before the
// first line, and whether nothing since depends on what they did not see.
func (d *draft) knows(p *Place, index int) bool {
	card := p.Cards[index]
	if d.actor == 0 {
		return true
	}
	if d.sights.all {
		return d.table.FrontSeen(d.actor, p, index)
	}
	return d.sights.fronts[card] && !d.doubts.cards[card]
}

// knowsDeck reports whether the actor knows of what deck the card at an index is: it was
// before their eyes before the first line, whichever side was up, and nothing since depends
// on what they did not see.
func (d *draft) knowsDeck(p *Place, index int) bool {
	return d.actor == 0 || d.inViewAtFirst(p, index) && !d.doubts.cards[p.Cards[index]]
}
