package main

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"io/fs"
	"runtime"
	"strings"
	"testing/fstest"

	"golang.org/x/sync/errgroup"

	"damselfly.example/damselfly/client/kits"
	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
)

// rowsOfCards is how many cards are drawn.
const rowsOfCards = 1000

// lettersKit is a kit of that many cards, drawn by Marsh Post's layout of letters.
func lettersKit(name string) (fstest.MapFS, error) {
	files := fstest.MapFS{}
	err := kit.Walk(demo.Kit(), func(name string) error {
		text, err := fs.ReadFile(demo.Kit(), name)
		files[name] = &fstest.MapFile{Data: text}
		return err
	})
	if err != nil {
		return nil, err
	}
	letters, err := deck.ReadCSV(files["letters.csv"].Data)
	if err != nil {
		return nil, err
	}
	var rows [][]string
	for i := range rowsOfCards {
		row := append([]string{}, letters.Cells[i%len(letters.Cells)]...)
		row[0] = fmt.Sprintf("%s %d", name, i)
		rows = append(rows, row)
	}
	text := string(files["kit.yaml"].Data)
	layouts := text[strings.Index(text, "layouts:"):strings.Index(text, "decks:")]
	files["letters.csv"] = &fstest.MapFile{Data: letters.With(letters.Header, rows).WriteCSV()}
	files["kit.yaml"] = &fstest.MapFile{Data: []byte("kit: 1\nname: " + name + "\nseats: 2\n" + layouts + "decks:\n  letters: {rows: letters.csv, layout: letter}\n")}
	return files, nil
}

// drawn is drawing and keeping cards of 1,000 rows, against encoding their pictures, full and small as they are kept, on all cores.
func drawn(b *bench) (ours, reference float64, unit string, err error) {
	maker, err := b.maker()
	if err != nil {
		return 0, 0, "", err
	}
	files, err := lettersKit("First")
	if err != nil {
		return 0, 0, "", err
	}
	k, err := kit.Read(files)
	if err != nil {
		return 0, 0, "", err
	}
	var pictures []*image.NRGBA // of each card two: in full, and small
	for i := range rowsOfCards {
		one, err := k.DrawRow("letters", i, "front")
		if err != nil {
			return 0, 0, "", err
		}
		pictures = append(pictures, one.Picture, deck.Smaller(one.Picture, deck.SmallSide))
	}
	turn := 0
	ours, reference = best(3, func() {
		turn++
		files, failed := lettersKit(fmt.Sprint("Turn ", turn))
		if failed == nil {
			_, failed = kits.PutFolder(b.ctx, maker, files, kits.Options{Despite: true})
		}
		if failed != nil {
			err = failed
		}
	}, func() {
		var all errgroup.Group
		all.SetLimit(runtime.GOMAXPROCS(0))
		for _, p := range pictures {
			all.Go(func() error {
				var out bytes.Buffer
				return (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&out, p)
			})
		}
		_ = all.Wait()
	})
	return ours, reference, "s", err
}
