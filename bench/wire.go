package main

import (
	"bytes"
	_ "embed"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// round is a round of Marsh Post for three, a line for each act: the seat and its Steps.
//
//go:embed testdata/round.steps
var round string

// roundLog are the lines that a spectator read of it, as JSON.
//
//go:embed testdata/round.log
var roundLog string

// spectator counts what somebody is sent who watches a room.
type spectator struct {
	b    *bench
	room string
	*room.Listener
}

func (b *bench) watch(id string) (*spectator, error) {
	s := &spectator{b, id, room.NewListener(room.Who{}, nil)}
	if err := b.rooms.Enter(b.ctx, id, s.Listener, wire.Hello{}); err != nil {
		return nil, err
	}
	_, err := s.until("view")
	return s, err
}

// until waits for a message of a type and returns all that were sent by then.
func (s *spectator) until(kind string) (all []*room.Message, err error) {
	for deadline := time.Now().Add(20 * time.Second); time.Now().Before(deadline); time.Sleep(time.Millisecond) {
		waiting, _ := s.Take()
		all = append(all, waiting...)
		if slices.ContainsFunc(waiting, func(m *room.Message) bool { return isOf(m, kind) }) {
			return all, nil
		}
	}
	return all, fmt.Errorf("no message of type %s", kind)
}

func isOf(m *room.Message, kind string) bool {
	return bytes.HasPrefix(m.Text(), []byte(`{"type":"`+kind+`"`))
}

// told is how many bytes of changes an act sends, and in how many messages.
func (s *spectator) told(seat table.Seat, steps string) (size, messages int, err error) {
	if _, err := s.b.rooms.Act(s.b.ctx, s.room, whoAt(seat), wire.Request{Steps: steps}); err != nil {
		return 0, 0, fmt.Errorf("%s: %w", steps, err)
	}
	all, err := s.until("changes")
	for _, m := range all {
		if isOf(m, "changes") {
			size, messages = size+len(m.Text()), messages+1
		}
	}
	return size, messages, err
}

// wireFlat is the bytes that a spectator is sent when one card is flipped in a row of 200,
// against a row of 2.
func wireFlat(b *bench) (ours, reference float64, unit string, err error) {
	former := b.made
	defer func() { b.made = former }()
	b.made.Decks = slices.Clone(former.Decks)
	b.made.Decks[0].Copies = slices.Clone(former.Decks[0].Copies)
	for i := range b.made.Decks[0].Copies {
		b.made.Decks[0].Copies[i].Copies = 200/len(b.made.Decks[0].Copies) + 1
	}
	flipped := func(cards int) (float64, error) {
		id, err := b.open(1)
		if err != nil {
			return 0, err
		}
		s, err := b.watch(id)
		if err != nil {
			return 0, err
		}
		for _, steps := range []string{fmt.Sprintf("turn %d of weather face up to sky", cards), "flip 1 of sky"} {
			if _, _, err := s.told(1, steps); err != nil {
				return 0, err
			}
		}
		size, _, err := s.told(1, "flip 1 of sky") // its faces were told before
		return float64(size), err
	}
	if ours, err = flipped(200); err != nil {
		return 0, 0, "", err
	}
	reference, err = flipped(2)
	return ours, reference, "bytes", err
}

// wireRound is the mean bytes of a change that a spectator is told in a round of Marsh
// Post, against those of that round's lines of the log.
func wireRound(b *bench) (ours, reference float64, unit string, err error) {
	k, err := kit.Read(demo.Kit())
	if err != nil {
		return 0, 0, "", err
	}
	result, err := k.Make(kit.Making{})
	if err != nil {
		return 0, 0, "", err
	}
	former := b.made
	defer func() { b.made = former }()
	b.made = result.Edition
	id, err := b.open(3)
	if err != nil {
		return 0, 0, "", err
	}
	s, err := b.watch(id)
	if err != nil {
		return 0, 0, "", err
	}
	size, messages := 0, 0
	for line := range strings.Lines(round) {
		seat, steps, _ := strings.Cut(strings.TrimSpace(line), " ")
		n, m, err := s.told(table.Seat(seat[0]-'0'), strings.ReplaceAll(steps, " / ", "\n"))
		if err != nil {
			return 0, 0, "", err
		}
		size, messages = size+n, messages+m
	}
	lines := strings.Split(strings.TrimSpace(roundLog), "\n")
	logged := 0
	for _, line := range lines {
		if !json.Valid([]byte(line)) {
			return 0, 0, "", fmt.Errorf("the fixture has a line that is no JSON: %s", line)
		}
		logged += len(line)
	}
	return float64(size) / float64(messages), float64(logged) / float64(messages), "bytes", nil
}
