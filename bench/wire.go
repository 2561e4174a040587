package main

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"strings"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/client/kits"
	"damselfly.example/damselfly/demo"
)

// round is a round of Marsh Post for three, a line for each act: the seat and its Steps.
//
//go:embed testdata/round.steps
var round string

// roundLog are the lines that a spectator read of it, as JSON.
//
//go:embed testdata/round.log
var roundLog string

// audience is a room with somebody who plays at each seat, and somebody who watches.
type audience struct {
	players []*person
	watcher *person
}

// watched opens a room with a kit and has somebody watch it.
func (b *bench) watched(kit string, seats int) (*audience, func(), error) {
	r, err := b.openWith(kit, seats)
	if err != nil {
		return nil, nil, err
	}
	players, hangUp, err := b.dialAll(r)
	if err != nil {
		return nil, nil, err
	}
	var watcher *person
	joined, err := client.New("http://"+b.address, "").Join(b.ctx, r.id, client.Join{Watch: true})
	if err == nil {
		watcher, err = b.dial(r.id, joined.Key)
	}
	if err != nil {
		hangUp()
		return nil, nil, err
	}
	return &audience{players, watcher}, func() { hangUp(); _ = watcher.socket.Close() }, nil
}

// told is how many bytes of changes Steps of a seat send to whoever watches.
func (a *audience) told(seat int, steps string) (int, error) {
	if err := a.players[seat-1].act(steps); err != nil {
		return 0, err
	}
	text, err := a.watcher.until(`{"type":"changes"`)
	return len(text), err
}

// wireFlat is the bytes that a spectator is sent when one card is flipped in a row of 200,
// against a row of 2.
func wireFlat(b *bench) (ours, reference float64, unit string, err error) {
	kit, err := b.kit(shape{copies: 17})
	if err != nil {
		return 0, 0, "", err
	}
	flipped := func(cards int) (float64, error) {
		room, hangUp, err := b.watched(kit, 1)
		if err != nil {
			return 0, err
		}
		defer hangUp()
		for _, steps := range []string{fmt.Sprintf("turn %d of weather face up to sky", cards), "flip 1 of sky"} {
			if _, err := room.told(1, steps); err != nil {
				return 0, err
			}
		}
		size, err := room.told(1, "flip 1 of sky") // its faces were told before
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
	if _, err := kits.PutFolder(b.ctx, b.host(), demo.Kit(), kits.Options{}); err != nil {
		return 0, 0, "", err
	}
	room, hangUp, err := b.watched("Marsh Post", 3)
	if err != nil {
		return 0, 0, "", err
	}
	defer hangUp()
	size, messages := 0, 0
	for line := range strings.Lines(round) {
		seat, steps, _ := strings.Cut(strings.TrimSpace(line), " ")
		n, err := room.told(int(seat[0]-'0'), strings.ReplaceAll(steps, " / ", "\n"))
		if err != nil {
			return 0, 0, "", err
		}
		size, messages = size+n, messages+1
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
