package table

import "strings"

// Pass passes the turn on: to the next taken seat, or to a chosen one.
type Pass struct {
	To Seat `json:"to,omitempty" doc:"The seat whose turn it shall be; the next one if left out."`
}

func (a Pass) plan(d *draft) *Refusal {
	to := a.To
	if to == 0 {
		from := d.table.Marker.Seat
		if from == 0 {
			from = d.table.first()
			to = from
		} else if round := d.table.round(from); len(round) > 0 {
			to = round[0]
			if to == from && len(round) > 1 {
				to = round[1]
			}
		}
	}
	if to == 0 {
		return refuse(NobodySits, "Nobody is seated, so it can be nobody's turn.")
	}
	chair, refusal := d.chair(to)
	if refusal != nil {
		return refusal
	}
	if chair.Name == "" {
		return refuse(NobodySits, "Nobody sits at seat %d.", to).with("seat", int(to))
	}
	after := d.table.Marker
	after.Seat = to
	d.do(PutMarker{Before: d.table.Marker, After: after})
	d.tell("pass", ToSeat{To: &Spot{Owner: to, Whose: chair.Name}})
	return nil
}

// First chooses the first seat, whose turn it then is: by chance, or the one given.
type First struct {
	Seat Seat `json:"seat,omitempty" doc:"The first seat; chance decides if left out."`
}

func (a First) plan(d *draft) *Refusal {
	seat := a.Seat
	if seat == 0 {
		taken := d.table.round(1)
		if len(taken) == 0 {
			return refuse(NobodySits, "Nobody is seated to be first.")
		}
		seat = taken[d.chance(nil).Below(uint64(len(taken)))]
		d.doubts.first = true
	}
	chair, refusal := d.chair(seat)
	if refusal != nil {
		return refusal
	}
	if chair.Name == "" {
		return refuse(NobodySits, "Nobody sits at seat %d.", seat).with("seat", int(seat))
	}
	after := d.table.Marker
	after.Seat, after.First = seat, seat
	d.do(PutMarker{Before: d.table.Marker, After: after})
	d.tell("first", ToSeat{To: &Spot{Owner: seat, Whose: chair.Name}, By: either(a.Seat == 0, "chance", "")})
	return nil
}

// TurnRound makes turns go round the table the other way.
type TurnRound struct{}

func (a TurnRound) plan(d *draft) *Refusal {
	after := d.table.Marker
	after.Backwards = !after.Backwards
	d.do(PutMarker{Before: d.table.Marker, After: after})
	d.tell("turn-round", Wordless{})
	return nil
}

// Rename changes the actor's own name or colour.
type Rename struct {
	Name   string `json:"name,omitempty" maxLength:"80"`
	Colour string `json:"colour,omitempty" pattern:"^#[0-9a-f]{6}$"`
}

func (a Rename) plan(d *draft) *Refusal {
	chair, refusal := d.chair(d.actor)
	if refusal != nil {
		return refusal
	}
	before, after := *chair, *chair
	if a.Name != "" {
		if refusal := d.called(d.actor, a.Name); refusal != nil {
			return refusal
		}
		name, good := GoodName(a.Name)
		if !good {
			return refuse(OutOfBounds, "A name has 1 to %d letters, digits or signs, but no \" and no #.", MaxName).with("most", MaxName)
		}
		after.Name = name
	}
	if a.Colour != "" {
		if !goodColour(a.Colour) {
			return refuse(NotUnderstood, "A colour is written like #0f766e, not %q.", a.Colour)
		}
		after.Colour = a.Colour
	}
	d.do(PutChair{Before: &before, After: &after})
	d.tell("rename", Worded{Text: after.Name})
	return nil
}

// Free frees a seat; its cards stay where they are. Who sits there may, and the
// host.
type Free struct {
	Seat Seat `json:"seat"`
}

func (a Free) plan(d *draft) *Refusal {
	chair, refusal := d.chair(a.Seat)
	if refusal != nil {
		return refusal
	}
	if chair.Name == "" {
		return refuse(NobodySits, "Nobody sits at seat %d.", a.Seat).with("seat", int(a.Seat))
	}
	if d.actor != 0 && d.actor != a.Seat && d.actor != d.table.Settings.Host {
		return refuse(NotYours, "Only %s and the host can free seat %d.", chair.Name, a.Seat).with("seat", int(a.Seat))
	}
	d.endTenure(a.Seat)
	before, after := *chair, *chair
	after.Name, after.Salt, after.Tenure = "", "", 0
	d.do(PutChair{Before: &before, After: &after})
	if d.table.Settings.Host == a.Seat {
		d.host(d.table.first())
	}
	d.say(Deed{Actor: a.Seat, Who: before.Name, Do: "free", Of: AtSeat{Seat: a.Seat}})
	return nil
}

// HandOn gives a taken seat, with all that is its own, to somebody else. It is
// the service's action: who sits there asks for it, or the host.
type HandOn struct {
	Seat Seat   `json:"seat"`
	Name string `json:"name"`
	Salt string `json:"salt,omitempty"`
}

func (a HandOn) plan(d *draft) *Refusal {
	chair, refusal := d.chair(a.Seat)
	if refusal != nil {
		return refusal
	}
	if chair.Name == "" {
		return refuse(NobodySits, "Nobody sits at seat %d; it can simply be taken.", a.Seat).with("seat", int(a.Seat))
	}
	if refusal := d.called(a.Seat, a.Name); refusal != nil {
		return refusal
	}
	d.endTenure(a.Seat)
	before, after := *chair, *chair
	after.Name, after.Salt, after.Tenure = a.Name, a.Salt, d.circumstances.Entry
	d.do(PutChair{Before: &before, After: &after})
	d.say(Deed{Actor: a.Seat, Who: before.Name, Do: "hand-on", Of: Worded{Text: a.Name}})
	return nil
}

// SeatChange is what became of whoever sits at a seat.
type SeatChange struct {
	Seat   Seat
	Left   bool   // whoever sat there sits there no more
	Taken  bool   // somebody sits there now who did not
	Tenure uint64 // of whoever sits there now
}

// SeatChanges are those of edits, in order.
func (edits Edits) SeatChanges() (changes []SeatChange) {
	for _, e := range edits {
		put, is := e.(PutChair)
		if !is || put.Before == nil || put.After == nil {
			continue
		}
		was, now := put.Before.Name != "", put.After.Name != ""
		other := put.Before.Tenure != put.After.Tenure
		if c := (SeatChange{put.After.Seat, was && (!now || other), now && (!was || other), put.After.Tenure}); c.Left || c.Taken {
			changes = append(changes, c)
		}
	}
	return changes
}

// CloseToSpectators reports whether nobody may watch any more who could before.
func (edits Edits) CloseToSpectators() bool {
	for _, e := range edits {
		if put, is := e.(PutSettings); is && put.After.Spectators == "no" && put.Before.Spectators != "no" {
			return true
		}
	}
	return false
}

// EndGame reports whether the game ends with these edits.
func (edits Edits) EndGame() bool {
	for _, e := range edits {
		if put, is := e.(PutSettings); is && put.After.Ended && !put.Before.Ended {
			return true
		}
	}
	return false
}

// goodColour reports whether a text is a colour like #0f766e.
func goodColour(text string) bool {
	return len(text) == 7 && text[0] == '#' && strings.Trim(text[1:], "0123456789abcdef") == ""
}
