package table

import "strings"

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
	for _, other := range d.table.Chairs {
		if strings.EqualFold(other.Name, a.Name) {
			return refuse(SeatTaken, "%s sits at seat %d already; choose another name.", other.Name, other.Seat).
				with("seat", int(other.Seat))
		}
	}
	after := *chair
	after.Name, after.Salt = a.Name, a.Salt
	before := *chair
	d.do(PutChair{Before: &before, After: &after})
	d.deeds = append(d.deeds, Deed{Actor: a.Seat, Who: a.Name, Do: "sit", Count: int(a.Seat)})
	return nil
}
