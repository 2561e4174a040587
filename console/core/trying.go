//go:build js && wasm

package main

import (
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"syscall/js"
	"time"

	"damselfly.example/damselfly/console/bridge"
	"damselfly.example/damselfly/console/core/alone"
	"damselfly.example/damselfly/internal/core/chance"
	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/wire"
)

// The table on which a draft is tried and arranged. Its functions take and give what a room
// would be sent and would tell, as JSON.

// canMake notes how a picture is made, for when it is shown. It is made at most once.
func (b *bench) canMake(address string, picture func() *image.NRGBA) {
	b.made[address[:nameLetters]] = picture
}

// nameLetters is how much of an address the name of a picture holds, in hexadecimal digits.
const nameLetters = 32

var errNoTable = errors.New("something in the kit is to be mended before its table can be tried")

func now() int64 { return time.Now().UnixMilli() }

// tryTable(seats) lays the draft's table anew and sits down at its first seat.
func (b *bench) tryTable(args []js.Value) (any, error) {
	result, err := b.looked()
	if err != nil {
		return nil, errNoTable
	}
	var seed chance.Seed
	var key [32]byte
	_, _ = rand.Read(seed[:])
	_, _ = rand.Read(key[:])
	b.table = alone.Begin(result.Edition, min(max(args[0].Int(), 1), result.Edition.Seats), seed, key, now())
	return told(b.table.Sit(1, now())), nil
}

// sitAt(seat) goes over to another seat.
func (b *bench) sitAt(args []js.Value) (any, error) {
	if b.table == nil {
		return nil, errNoTable
	}
	return told(b.table.Sit(table.Seat(args[0].Int()), now())), nil
}

// act(request) does a request, and gives the messages that tell of it.
func (b *bench) act(args []js.Value) (any, error) {
	if b.table == nil {
		return nil, errNoTable
	}
	return told(b.table.Act([]byte(args[0].String()), now())...), nil
}

// tick() does what is due.
func (b *bench) tick([]js.Value) (any, error) {
	if b.table == nil {
		return told(), nil
	}
	return told(b.table.Tick(now())...), nil
}

// told are messages as a room would send them, as one JSON list.
func told(messages ...wire.Message) string {
	out := []byte{'['}
	for i, m := range messages {
		if i > 0 {
			out = append(out, ',')
		}
		out = wire.Append(out, m)
	}
	return string(append(out, ']'))
}

// checkSteps(text) reads Steps, and does nothing.
func (b *bench) checkSteps(args []js.Value) (any, error) {
	if b.table == nil {
		return nil, errNoTable
	}
	return jsonOf(b.table.CheckSteps(args[0].String()))
}

// bringPicture(bytes) takes a picture for a token or a mat.
func (b *bench) bringPicture(args []js.Value) (any, error) {
	file := bridge.Bytes(args[0])
	picture, err := sheet.Read(file)
	if err != nil {
		return nil, err
	}
	address := kit.HashOf(file)
	b.brought[address] = file
	b.canMake(address, func() *image.NRGBA { return sheet.NRGBA(picture) })
	size := picture.Bounds().Size()
	return jsonOf(wire.PicturePut{Picture: table.Picture{Small: address, Full: address}, Wide: size.X, High: size.Y})
}

// keepTable() gives the files of the kit that change when the table is kept in it as it is
// laid now.
func (b *bench) keepTable([]js.Value) (any, error) {
	if b.table == nil {
		return nil, errNoTable
	}
	k, err := kit.Read(b.files)
	if err != nil {
		return nil, err
	}
	result, err := b.looked()
	if err != nil {
		return nil, err
	}
	changed, err := k.WithTable(b.table.Laid(), result.Edition, func(address string) ([]byte, error) {
		if file, is := b.brought[address]; is {
			return file, nil
		}
		return nil, fmt.Errorf("the picture %s is not here", address)
	})
	if err != nil {
		return nil, err
	}
	files := js.Global().Get("Object").New()
	for name, text := range changed {
		files.Set(name, bridge.Array(text))
	}
	return files, nil
}

// showPicture(name, longest) gives a picture of the table by its name or address, with its
// longest side at most so many pixels.
func (b *bench) showPicture(args []js.Value) (any, error) {
	address := args[0].String()
	if len(address) < nameLetters {
		address = sight.Names{}.Begins(sight.PictureName(address))
	}
	if len(address) < nameLetters || b.made[address[:nameLetters]] == nil {
		return nil, fmt.Errorf("there is no picture %s", args[0].String())
	}
	picture := deck.Smaller(b.made[address[:nameLetters]](), args[1].Int())
	about, err := json.Marshal(map[string]int{"wide": picture.Rect.Dx(), "high": picture.Rect.Dy()})
	return map[string]any{"about": string(about), "rgba": bridge.Array(picture.Pix)}, err
}
