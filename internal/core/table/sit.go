package table

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// Sit gives a free seat to a player. It is the service's action: joining a
// room makes it.
type Sit struct {
	Seat Seat   `json:"seat"`
	Name string `json:"name"`
	Salt string `json:"salt,omitempty"`
}

func (a Sit) plan(d *draft) *Refusal {
	chair, refusal := d.chair(a.Seat)
	if refusal != nil {
		return refusal
	}
	if chair.Name != "" {
		return refuse(SeatTaken, "Seat %d is %s's; choose a free one.", a.Seat, chair.Name).with("seat", int(a.Seat))
	}
	if refusal := d.called(a.Seat, a.Name); refusal != nil {
		return refusal
	}
	after := *chair
	after.Name, after.Salt, after.Tenure = a.Name, a.Salt, d.circumstances.Entry
	before := *chair
	d.do(PutChair{Before: &before, After: &after})
	if d.table.Settings.Host == 0 { // who sits down first has the room's keys
		d.host(a.Seat)
	}
	d.say(Deed{Actor: a.Seat, Who: a.Name, Do: "sit", Of: AtSeat{Seat: a.Seat}})
	return nil
}

// GoodName trims a player's name, and reports whether it is one that Steps can
// quote and a log can print.
func GoodName(name string) (string, bool) {
	name = strings.Join(strings.Fields(name), " ")
	n := utf8.RuneCountInString(name)
	bad := strings.IndexFunc(name, func(r rune) bool { return r == '"' || r == '#' || !unicode.IsPrint(r) })
	return name, n >= 1 && n <= MaxName && bad < 0 && utf8.ValidString(name)
}

// host gives a seat the room's keys.
func (d *draft) host(seat Seat) {
	after := d.table.Settings
	after.Host = seat
	d.do(PutSettings{Before: d.table.Settings, After: after})
}
