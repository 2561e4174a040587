package steps

import (
	"maps"
	"slices"
	"strconv"
	"strings"

	"damselfly/internal/core/table"
)

// verbs are the words a step begins with, and what reads the rest of it.
func verbs() map[string]func(*reader) (table.Action, error) {
	return map[string]func(*reader) (table.Action, error){
		"shuffle": (*reader).shuffle, "cut": (*reader).cut, "sort": (*reader).sort, "separate": (*reader).separate,
		"draw": (*reader).draw, "deal": (*reader).deal, "fill": (*reader).fill, "exchange": (*reader).exchange,
		"move": (*reader).move, "discard": (*reader).move, "take": (*reader).move, "give": (*reader).move,
		"split": (*reader).split, "combine": (*reader).combine, "flip": (*reader).flip, "turn": (*reader).turn, "rotate": (*reader).rotate,
		"spread": (*reader).spread, "collect": (*reader).collect, "gather": (*reader).gather,
		"peek": (*reader).look, "close": (*reader).close, "show": (*reader).show, "hide": (*reader).hide,
		"ask": (*reader).ask, "agree": (*reader).agree, "decline": (*reader).decline, "withdraw": (*reader).withdraw,
		"pass": (*reader).pass, "choose": (*reader).choose, "reverse": (*reader).reverse,
		"set": (*reader).set, "add": (*reader).add, "roll": (*reader).roll, "spin": (*reader).roll, "hand": (*reader).handOver,
		"start": (*reader).timer, "stop": (*reader).timer, "reset": (*reader).timer, "place": (*reader).put, "stack": (*reader).stack,
		"say": (*reader).say, "undo": (*reader).undo, "run": (*reader).run,
	}
}

func verbNames() []string { return slices.Sorted(maps.Keys(verbs())) }

// cut = "cut" place ["at" number].
func (r *reader) cut() (table.Action, error) {
	p, err := r.place()
	a := table.Cut{Place: p}
	if err == nil && r.accept("at") {
		a.At, err = r.number(1, 1_000_000)
	}
	return a, err
}

// sort = "sort" place "by" field ["down"].
func (r *reader) sort() (table.Action, error) {
	p, field, err := r.placeBy()
	return table.Sort{Place: p, By: field, Down: err == nil && r.accept("down")}, err
}

// separate = "separate" place "by" field.
func (r *reader) separate() (table.Action, error) {
	p, field, err := r.placeBy()
	return table.Separate{Place: p, By: field}, err
}

func (r *reader) placeBy() (p table.PlaceID, field string, err error) {
	if p, err = r.place(); err != nil {
		return p, "", err
	}
	if err := r.expect("by"); err != nil {
		return p, "", err
	}
	w := r.take()
	if w.text == "" {
		return p, "", r.fail(w, "expected a field of the cards, found %s", found(w))
	}
	return p, w.text, nil
}

// deal = "deal" ["up" "to"] number ["cards"] ["from"] place "to" whom {"," number "to" whom}.
func (r *reader) deal() (table.Action, error) {
	a := table.Deal{UpTo: r.upTo()}
	count, err := r.number(1, 1000)
	if err != nil {
		return a, err
	}
	r.accept("card", "cards")
	r.accept("from")
	if a.From, err = r.place(); err != nil {
		return a, err
	}
	for {
		if err := r.expect("to"); err != nil {
			return a, err
		}
		share, zone, err := r.whom()
		if err != nil {
			return a, err
		}
		share.Count = count
		a.Shares = append(a.Shares, share)
		if zone != "" {
			a.To = zone
		}
		if !r.accept(",") {
			return a, nil
		}
		if count, err = r.number(1, 1000); err != nil {
			return a, err
		}
		r.accept("card", "cards")
	}
}

// whom = "first" "seat" | "every" ("other" | "seat" | "hand" | name) | ["hand" "of"] seat.
func (r *reader) whom() (table.Share, string, error) {
	switch {
	case len(r.words) > 1 && r.words[0].is("first") && r.words[1].is("seat"):
		r.words = r.words[2:]
		return table.Share{Who: "first"}, "", nil
	case r.accept("every", "each"):
		w := r.take()
		switch {
		case w.is("other"):
			r.accept("seat", "hand")
			return table.Share{Who: "other"}, "", nil
		case w.is("seat", "hand"):
			return table.Share{Who: "every"}, "", nil
		}
		for _, id := range r.table.PlaceIDs() {
			if p := r.table.Places[id]; p.Owner != 0 && strings.EqualFold(p.Name, w.text) {
				zone, _, _ := strings.Cut(string(id), "/")
				return table.Share{Who: "every"}, zone, nil
			}
		}
		return table.Share{}, "", r.fail(w, "expected \"other\", \"hand\" or a zone that every seat has, found %s", found(w))
	}
	if len(r.words) > 1 && r.words[0].is("hand") && r.words[1].is("of") {
		r.words = r.words[2:]
	}
	if r.peek().is("my") {
		r.take()
		return table.Share{Who: "seat", Seat: r.actor}, "", r.expect("hand", "seat")
	}
	seat, err := r.seat()
	return table.Share{Who: "seat", Seat: seat}, "", err
}

// fill = "fill" ("my" | "every") "hand" "to" number "from" place: top up.
func (r *reader) fill() (table.Action, error) {
	a := table.TopUp{Every: r.peek().is("every", "each")}
	if err := r.expect("my", "every", "each"); err != nil {
		return a, err
	}
	if err := r.expect("hand"); err != nil {
		return a, err
	}
	if err := r.expect("to"); err != nil {
		return a, err
	}
	var err error
	if a.To, err = r.number(1, 1000); err != nil {
		return a, err
	}
	if err := r.expect("from"); err != nil {
		return a, err
	}
	a.From, err = r.place()
	return a, err
}

// exchange = "exchange" pick "to" place "for" place.
func (r *reader) exchange() (table.Action, error) {
	pick, err := r.pick()
	if err != nil {
		return nil, err
	}
	a := table.Exchange{Pick: pick}
	if err := r.expect("to", "onto", "under"); err != nil {
		return a, err
	}
	if a.Away, err = r.place(); err != nil {
		return a, err
	}
	if err := r.expect("for"); err != nil {
		return a, err
	}
	a.Draw, err = r.place()
	return a, err
}

// split = "split" place "at" number "to" target: its upper part goes there.
func (r *reader) split() (table.Action, error) {
	p, err := r.place()
	if err != nil {
		return nil, err
	}
	if err := r.expect("at"); err != nil {
		return nil, err
	}
	count, err := r.number(1, 1_000_000)
	if err != nil {
		return nil, err
	}
	if err := r.expect("to", "onto"); err != nil {
		return nil, err
	}
	to, err := r.target(table.Target{})
	return table.Move{Pick: table.Pick{From: p, Which: table.Top, Count: count}, To: to}, err
}

// combine = "combine" place ("onto" | "under") place: all of one with the other.
func (r *reader) combine() (table.Action, error) {
	p, err := r.place()
	if err != nil {
		return nil, err
	}
	a := table.Move{Pick: table.Pick{From: p, Which: table.Every}}
	a.To.Under = r.peek().is("under")
	if err := r.expect("onto", "under"); err != nil {
		return a, err
	}
	a.To.Place, err = r.place()
	return a, err
}

// turn = "turn" pick "face" ("up" | "down") ("to" | "onto" | "under") target:
// flip, then move.
func (r *reader) turn() (table.Action, error) {
	flip, err := r.flip()
	if err != nil {
		return nil, err
	}
	f, _ := flip.(table.Flip)
	move := table.Move{Pick: f.Pick}
	if !r.peek().is("to", "onto", "under") {
		return f, nil
	}
	move.To.Under = r.take().is("under")
	move.To, err = r.target(move.To)
	return table.All{Actions: table.Actions{f, move}}, err
}

// rotate = "rotate" pick ["by" number].
func (r *reader) rotate() (table.Action, error) {
	pick, err := r.pick()
	a := table.Rotate{Pick: pick}
	if err == nil && r.accept("by") {
		a.Steps, err = r.number(-359, 359)
	}
	return a, err
}

// spread = "spread" pick "over" place ["by" ("rows" | "columns")].
func (r *reader) spread() (table.Action, error) {
	pick, err := r.pick()
	if err != nil {
		return nil, err
	}
	a := table.Spread{Pick: pick}
	if err := r.expect("over"); err != nil {
		return a, err
	}
	if a.Over, err = r.place(); err == nil && r.accept("by") {
		a.By = strings.ToLower(r.peek().text)
		err = r.expect("rows", "columns")
	}
	return a, err
}

// collect = "collect" place "onto" place.
func (r *reader) collect() (table.Action, error) {
	p, err := r.place()
	if err != nil {
		return nil, err
	}
	if err := r.expect("onto", "to"); err != nil {
		return nil, err
	}
	onto, err := r.place()
	return table.Collect{From: p, Onto: onto}, err
}

// gather = "gather" deck [where] ["and" "shuffle"].
func (r *reader) gather() (table.Action, error) {
	w := r.take()
	for key, d := range r.table.Decks {
		if strings.EqualFold(key, w.text) || strings.EqualFold(d.Name, w.text) {
			a := table.Gather{Deck: key}
			var err error
			if a.Where, err = r.where(); err == nil && r.accept("and") {
				a.Shuffle = true
				err = r.expect("shuffle")
			}
			return a, err
		}
	}
	return nil, r.fail(w, "there is no deck %s%s", found(w), didYouMean(w.text, slices.Sorted(maps.Keys(r.table.Decks))))
}

// look = "peek" [number "of"] place.
func (r *reader) look() (table.Action, error) {
	count, err := r.count()
	if err != nil {
		return nil, err
	}
	if count > 0 {
		if err := r.expect("of"); err != nil {
			return nil, err
		}
	}
	r.accept("at")
	p, err := r.place()
	return table.Peek{Place: p, Count: count}, err
}

// close = "close" place.
func (r *reader) close() (table.Action, error) {
	p, err := r.place()
	return table.Close{Place: p}, err
}

// show = "show" pick ["to" ("all" | seat)] ["for" number "seconds"].
func (r *reader) show() (table.Action, error) {
	pick, err := r.pick()
	a := table.ShowCards{Pick: pick}
	if err == nil && r.accept("to") && !r.accept("all") {
		a.To, err = r.seat()
	}
	if err == nil && r.accept("for") {
		if a.Seconds, err = r.number(1, 3600); err == nil {
			err = r.expect("seconds", "second")
		}
	}
	return a, err
}

// hide = "hide" pick.
func (r *reader) hide() (table.Action, error) {
	pick, err := r.pick()
	return table.ShowCards{Pick: pick, Hide: true}, err
}

// ask = "ask" seat "for" number ["cards"] | "ask" seat "to" "show" number ["cards"].
func (r *reader) ask() (table.Action, error) {
	w := r.peek()
	seat, err := r.seat()
	if err != nil {
		return nil, err
	}
	hand := r.table.HandOf(seat)
	if hand == nil {
		return nil, r.fail(w, "seat %d has no hand on this table", seat)
	}
	a := table.MakeAsk{Place: hand.ID, For: "take"}
	if r.accept("to") {
		a.For = "peek"
		err = r.expect("show")
	} else {
		err = r.expect("for")
	}
	if err == nil {
		a.Count, err = r.count()
	}
	return a, err
}

// agree = "agree" ["with" name {"," name}]: to the latest ask; the names are
// the cards to give or show.
func (r *reader) agree() (table.Action, error) {
	ask, err := r.latest("to you", func(a table.Ask) bool { return a.To == r.actor })
	if err != nil || !r.accept("with") {
		return table.Agree{Ask: ask.ID}, err
	}
	a := table.Agree{Ask: ask.ID}
	p := r.table.Places[ask.Place]
	for {
		w := r.take()
		at := -1
		for i, card := range p.Cards {
			if strings.EqualFold(r.table.Design(card).Name, w.text) && !slices.Contains(a.Cards, card) {
				at = i
			}
		}
		if at < 0 {
			return a, r.fail(w, "you hold no card %s", found(w))
		}
		a.Cards = append(a.Cards, p.Cards[at])
		if !r.accept(",") {
			return a, nil
		}
	}
}

// decline = "decline". withdraw = "withdraw".
func (r *reader) decline() (table.Action, error) {
	ask, err := r.latest("to you", func(a table.Ask) bool { return a.To == r.actor })
	return table.Decline{Ask: ask.ID}, err
}

func (r *reader) withdraw() (table.Action, error) {
	ask, err := r.latest("of yours", func(a table.Ask) bool { return a.From == r.actor })
	return table.Withdraw{Ask: ask.ID}, err
}

// latest is the newest ask that fits.
func (r *reader) latest(which string, fits func(table.Ask) bool) (table.Ask, error) {
	newest := table.Ask{}
	for _, ask := range r.table.Asks {
		if fits(ask) && ask.ID > newest.ID {
			newest = ask
		}
	}
	if newest.ID == 0 {
		return newest, r.fail(r.peek(), "there is no ask %s", which)
	}
	return newest, nil
}

// pass = "pass" ["to" seat].
func (r *reader) pass() (table.Action, error) {
	var a table.Pass
	var err error
	if r.accept("to") {
		a.To, err = r.seat()
	}
	return a, err
}

// choose = "choose" "first" "seat" "by" "chance" | "choose" seat "first".
func (r *reader) choose() (table.Action, error) {
	if len(r.words) > 1 && r.words[0].is("first") && r.words[1].is("seat") {
		r.words = r.words[2:]
		if err := r.expect("by"); err != nil {
			return nil, err
		}
		return table.First{}, r.expect("chance")
	}
	seat, err := r.seat()
	if err != nil {
		return nil, err
	}
	return table.First{Seat: seat}, r.expect("first")
}

// reverse = "reverse" "turns".
func (r *reader) reverse() (table.Action, error) { return table.TurnRound{}, r.expect("turns") }

// set = "set" counter "to" number.
func (r *reader) set() (table.Action, error) {
	p, err := r.piece(table.Counter)
	if err != nil {
		return nil, err
	}
	if err := r.expect("to"); err != nil {
		return nil, err
	}
	n, err := r.number(-1_000_000_000, 1_000_000_000)
	return table.SetCounter{Piece: p, To: &n}, err
}

// add = "add" number "to" counter.
func (r *reader) add() (table.Action, error) {
	n, err := r.number(-1_000_000, 1_000_000)
	if err != nil {
		return nil, err
	}
	if err := r.expect("to"); err != nil {
		return nil, err
	}
	p, err := r.piece(table.Counter)
	return table.SetCounter{Piece: p, By: n}, err
}

// roll = ("roll" | "spin") piece {"," piece}.
func (r *reader) roll() (table.Action, error) {
	var a table.Roll
	for {
		p, err := r.piece(table.Die, table.Spinner)
		if err != nil {
			return a, err
		}
		a.Pieces = append(a.Pieces, p)
		if !r.accept(",") {
			return a, nil
		}
	}
}

// handOver = "hand" marker "to" seat.
func (r *reader) handOver() (table.Action, error) {
	p, err := r.piece(table.SeatMark)
	if err != nil {
		return nil, err
	}
	if err := r.expect("to"); err != nil {
		return nil, err
	}
	seat, err := r.seat()
	return table.HandMarker{Piece: p, Seat: seat}, err
}

// timer = ("start" | "stop" | "reset") timer. The verb is taken already.
func (r *reader) timer() (table.Action, error) {
	p, err := r.piece(table.Timer)
	return table.RunTimer{Piece: p, Do: r.verb}, err
}

// anyPiece are all kinds of pieces.
var anyPiece = []table.PieceKind{table.Counter, table.Die, table.Spinner, table.Token, table.SeatMark, table.Timer, table.Note, table.Mat, table.Cue}

// put = "place" [number "of"] piece "at" number number.
func (r *reader) put() (table.Action, error) {
	count, err := r.someOf()
	if err != nil {
		return nil, err
	}
	p, err := r.piece(anyPiece...)
	if err != nil {
		return nil, err
	}
	if err := r.expect("at"); err != nil {
		return nil, err
	}
	x, y, err := r.spot()
	return table.MovePiece{Piece: p, Count: count, X: &x, Y: &y}, err
}

// stack = "stack" [number "of"] token "onto" token.
func (r *reader) stack() (table.Action, error) {
	count, err := r.someOf()
	if err != nil {
		return nil, err
	}
	p, err := r.piece(table.Token)
	if err != nil {
		return nil, err
	}
	if err := r.expect("onto"); err != nil {
		return nil, err
	}
	onto, err := r.piece(table.Token)
	return table.Stack{Piece: p, Onto: onto, Count: count}, err
}

// someOf = [number "of"]; 0 if left out.
func (r *reader) someOf() (int, error) {
	if w := r.peek(); w.quoted || !isNumber(w.text) {
		return 0, nil
	}
	count, err := r.number(1, 1000)
	if err == nil {
		err = r.expect("of")
	}
	return count, err
}

// say = "say" text.
func (r *reader) say() (table.Action, error) {
	w := r.take()
	if !w.quoted || w.text == "" {
		return nil, r.fail(w, "expected what to say in quotes, found %s", found(w))
	}
	return table.Say{Text: w.text}, nil
}

// undo = "undo".
func (r *reader) undo() (table.Action, error) { return table.Undo{}, nil }

// piece = name of a piece of one of some kinds.
func (r *reader) piece(kinds ...table.PieceKind) (table.PieceID, error) {
	w := r.take()
	var names []string
	for _, id := range slices.Sorted(maps.Keys(r.table.Pieces)) {
		p := r.table.Pieces[id]
		if slices.Contains(kinds, p.Kind) {
			if strings.EqualFold(p.Name, w.text) || string(id) == w.text {
				return id, nil
			}
			names = append(names, p.Name)
		}
	}
	what := string(kinds[0])
	if len(kinds) > 3 {
		what = "piece"
	}
	return "", r.fail(w, "there is no %s %s%s", what, found(w), didYouMean(w.text, names))
}

// number is a whole number in bounds.
func (r *reader) number(least, most int) (int, error) {
	w := r.take()
	n, err := strconv.Atoi(w.text)
	if err != nil || w.quoted || n < least || n > most {
		return 0, r.fail(w, "expected a number from %d to %d, found %s", least, most, found(w))
	}
	return n, nil
}

// spot is two lengths in millimetres.
func (r *reader) spot() (x, y float64, err error) {
	for _, length := range []*float64{&x, &y} {
		w := r.take()
		n, err := strconv.ParseFloat(w.text, 64)
		if err != nil || !(n >= 0 && n <= 100_000) {
			return x, y, r.fail(w, "expected millimetres from the table's edge, found %s", found(w))
		}
		*length = n
	}
	return x, y, nil
}

// where = ["where" expression].
func (r *reader) where() (*table.Filter, error) {
	if !r.accept("where") {
		return nil, nil
	}
	f, err := r.anyOf(0)
	return &f, err
}

// maxNesting bounds how deep filters may stand in each other.
const maxNesting = 16

// anyOf = allOf {"or" allOf}. allOf = one {"and" one}.
func (r *reader) anyOf(depth int) (table.Filter, error) { return r.chain("or", depth, (*reader).allOf) }
func (r *reader) allOf(depth int) (table.Filter, error) { return r.chain("and", depth, (*reader).one) }

func (r *reader) chain(with string, depth int, part func(*reader, int) (table.Filter, error)) (table.Filter, error) {
	first, err := part(r, depth)
	if err != nil || !r.joins(with) {
		return first, err
	}
	parts := []table.Filter{first}
	for r.joins(with) {
		r.take()
		next, err := part(r, depth)
		if err != nil {
			return next, err
		}
		parts = append(parts, next)
	}
	if with == "or" {
		return table.Filter{Or: parts}, nil
	}
	return table.Filter{And: parts}, nil
}

// joins reports whether another part of the filter follows. The "and shuffle" of
// gather ends it.
func (r *reader) joins(with string) bool {
	return r.peek().is(with) && !(len(r.words) == 2 && r.words[1].is("shuffle"))
}

// one = "not" one | "(" anyOf ")" | "in" places | field sign value | field ["not"] "in" "(" value {"," value} ")".
func (r *reader) one(depth int) (table.Filter, error) {
	if depth > maxNesting {
		return table.Filter{}, r.fail(r.peek(), "the filter is nested too deep")
	}
	switch {
	case r.accept("not"):
		f, err := r.one(depth + 1)
		return table.Filter{Not: &f}, err
	case r.accept("("):
		f, err := r.anyOf(depth + 1)
		if err != nil {
			return f, err
		}
		return f, r.expect(")")
	case r.accept("in"):
		in, err := r.places()
		return table.Filter{In: in}, err
	}
	field := r.take()
	if field.text == "" || strings.ContainsAny(field.text, signs) && !field.quoted {
		return table.Filter{}, r.fail(field, "expected a field of the cards, found %s", found(field))
	}
	f := table.Filter{Field: field.text}
	sign := r.take()
	if sign.is("not") && r.peek().is("in") {
		in, err := r.in(f)
		return table.Filter{Not: &in}, err
	}
	if sign.is("in") {
		r.words = append([]word{sign}, r.words...)
		return r.in(f)
	}
	known := map[string]string{"=": "=", "≠": "≠", "!=": "≠", "<": "<", "<=": "≤", "≤": "≤", ">": ">", ">=": "≥", "≥": "≥"}
	f.Is = known[sign.text]
	if f.Is == "" || sign.quoted {
		return f, r.fail(sign, "expected =, ≠, <, ≤, >, ≥ or in, found %s", found(sign))
	}
	value := r.take()
	if value.text == "" && !value.quoted {
		return f, r.fail(value, "expected a value, found %s", found(value))
	}
	f.Than = []string{value.text}
	return f, nil
}

func (r *reader) in(f table.Filter) (table.Filter, error) {
	f.Is = "in"
	if err := r.expect("in"); err != nil {
		return f, err
	}
	if err := r.expect("("); err != nil {
		return f, err
	}
	for {
		value := r.take()
		if value.text == "" && !value.quoted {
			return f, r.fail(value, "expected a value, found %s", found(value))
		}
		f.Than = append(f.Than, value.text)
		if !r.accept(",") {
			return f, r.expect(")")
		}
	}
}
