//go:build js && wasm

// Command core is the core as the bench runs it in the browser: the very code
// with which the service reads kits, so that the bench follows every change of a
// number without asking the service, and says what the service would say.
//
// It runs in a worker (console/src/bench/core.worker.ts) and sets one object,
// damselflyCore. Its functions take and give JSON texts and byte arrays; an error
// is a thrown sentence.
package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/png"
	"slices"
	"strings"
	"syscall/js"

	"damselfly.example/damselfly/console/bridge"
	"damselfly.example/damselfly/console/core/alone"
	"damselfly.example/damselfly/console/core/answers"
	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/kit/start"
	"damselfly.example/damselfly/internal/core/sheet"
)

// bench is a kit being made: its files, and what is known of them.
type bench struct {
	files    kit.Files
	pictures map[string]image.Image         // decoded sheets by file
	known    kit.Known                      // what was looked over and drawn already
	fonts    *deck.Fonts                    // that ship, fetched when they are needed
	made     map[string]func() *image.NRGBA // how pictures are made, by their addresses
	brought  map[string][]byte              // to the table, by their addresses
	table    *alone.Table                   // where the draft is tried
}

func main() {
	b := &bench{files: kit.Files{}, pictures: map[string]image.Image{}, made: map[string]func() *image.NRGBA{}, brought: map[string][]byte{}}
	b.fonts = &deck.Fonts{Read: func(name string) ([]byte, error) {
		file := js.Global().Call("damselflyFont", name)
		if file.IsNull() {
			return nil, fmt.Errorf("the font %s could not be fetched; check your connection", name)
		}
		return bridge.Bytes(file), nil
	}}
	core := js.Global().Get("Object").New()
	for name, does := range map[string]func([]js.Value) (any, error){
		"put": b.put, "drop": b.drop, "hash": b.hash, "showPixels": b.showPixels, "lookOver": b.lookOver, "pack": b.pack,
		"begin": b.begin, "noted": b.noted, "check": b.check, "rows": b.rows, "writeRows": b.writeRows, "beginLayout": b.beginLayout, "draw": b.draw, "asPNG": b.asPNG, "upright": b.upright,
		"tryTable": b.tryTable, "sitAt": b.sitAt, "act": b.act, "tick": b.tick, "checkSteps": b.checkSteps,
		"compareWith": b.compareWith, "bringPicture": b.bringPicture, "keepTable": b.keepTable, "showPicture": b.showPicture,
	} {
		core.Set(name, js.FuncOf(func(_ js.Value, args []js.Value) any {
			out, err := does(args)
			if err != nil {
				return map[string]any{"error": err.Error()}
			}
			return map[string]any{"value": out}
		}))
	}
	js.Global().Set("damselflyCore", core)
	select {}
}

func jsonOf(v any) (any, error) {
	text, err := json.Marshal(v)
	return string(text), err
}

// put(file, bytes) puts a file into the kit.
func (b *bench) put(args []js.Value) (any, error) {
	name := args[0].String()
	b.files[name] = bridge.Bytes(args[1])
	delete(b.pictures, name)
	return nil, nil
}

// drop(file) takes a file out of the kit.
func (b *bench) drop(args []js.Value) (any, error) {
	delete(b.files, args[0].String())
	delete(b.pictures, args[0].String())
	return nil, nil
}

// hash(file) is the SHA-256 of a file, in hexadecimal.
func (b *bench) hash(args []js.Value) (any, error) {
	file, is := b.files[args[0].String()]
	if !is {
		return nil, fmt.Errorf("%s is not in the kit", args[0].String())
	}
	return kit.HashOf(file), nil
}

// showPixels(file, rgba, wide, high) gives a picture that the browser decoded,
// which it does faster.
func (b *bench) showPixels(args []js.Value) (any, error) {
	wide, high := args[2].Int(), args[3].Int()
	pixels := bridge.Bytes(args[1])
	if len(pixels) != 4*wide*high {
		return nil, fmt.Errorf("%d bytes are no picture of %d × %d", len(pixels), wide, high)
	}
	b.pictures[args[0].String()] = &image.NRGBA{Pix: pixels, Stride: 4 * wide, Rect: image.Rect(0, 0, wide, high)}
	return nil, nil
}

func (b *bench) picture(name string) (image.Image, error) {
	if p := b.pictures[name]; p != nil {
		return p, nil
	}
	file := b.files[name]
	if file == nil {
		return nil, fmt.Errorf("%s is not in the kit", name)
	}
	p, err := sheet.Read(file)
	if err == nil {
		b.pictures[name] = p
	}
	return p, err
}

// lookOver(file, grid) looks a sheet over. Where columns and rows are 0, the list beside it says how it is cut, or else it is guessed.
func (b *bench) lookOver(args []js.Value) (any, error) {
	p, err := b.picture(args[0].String())
	if err != nil {
		return nil, err
	}
	var g sheet.Grid
	if err := json.Unmarshal([]byte(args[1].String()), &g); err != nil {
		return nil, err
	}
	if text := b.files[sheet.ListOf(args[0].String())]; text != nil && g.Columns == 0 && g.Rows == 0 {
		if list, err := sheet.ReadList(text); err == nil { // what is wrong with it is told when the kit is looked over
			g = list.Grid()
		}
	}
	report, err := sheet.LookOver(p, g)
	if err != nil {
		return nil, err
	}
	return jsonOf(report)
}

// asPNG(bytes) writes a picture as PNG, for what browsers do not show.
func (b *bench) asPNG(args []js.Value) (any, error) {
	p, err := sheet.Read(bridge.Bytes(args[0]))
	if err != nil {
		return nil, err
	}
	return pngOf(p)
}

// upright(file, degrees) turns a picture of the kit that lies askew by so many degrees upright, and gives it as PNG.
func (b *bench) upright(args []js.Value) (any, error) {
	p, err := b.picture(args[0].String())
	if err != nil {
		return nil, err
	}
	return pngOf(sheet.Upright(p, args[1].Float()))
}

func pngOf(p image.Image) (any, error) {
	var out bytes.Buffer
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&out, p); err != nil {
		return nil, err
	}
	return bridge.Array(out.Bytes()), nil
}

// pack(files, packing) packs files of the kit to sheets and gives for each what it
// is and its PNG.
func (b *bench) pack(args []js.Value) (any, error) {
	var names []string
	var p sheet.Packing
	if err := errors.Join(json.Unmarshal([]byte(args[0].String()), &names), json.Unmarshal([]byte(args[1].String()), &p)); err != nil {
		return nil, err
	}
	slices.SortFunc(names, sheet.CompareNames) // as the command line takes a folder
	var sources []sheet.Source
	for _, name := range names {
		s, err := b.source(name)
		if err != nil {
			return nil, err
		}
		sources = append(sources, s)
	}
	sheets, err := p.Pack().Sheets(sources)
	if err != nil {
		return nil, err
	}
	all := js.Global().Get("Array").New()
	for _, one := range sheets {
		about, err := jsonOf(answers.Packed{List: one.List, Wide: one.Sheet.Rect.Dx(), High: one.Sheet.Rect.Dy(), Drawn: one.Drawn})
		if err != nil {
			return nil, err
		}
		picture, err := one.PNG()
		if err != nil {
			return nil, err
		}
		all.Call("push", map[string]any{"about": about, "png": bridge.Array(picture)})
	}
	return all, nil
}

// noted(lists, packing, name, taken) gives the sheets of one packing their keys and files, and writes the lists beside them. name is
// what they shall be called, taken are keys that are not free.
func (b *bench) noted(args []js.Value) (any, error) {
	var lists []sheet.List
	var p sheet.Packing
	var taken []string
	if err := errors.Join(json.Unmarshal([]byte(args[0].String()), &lists), json.Unmarshal([]byte(args[1].String()), &p), json.Unmarshal([]byte(args[3].String()), &taken)); err != nil {
		return nil, err
	}
	key, names := start.FreeSheets(args[2].String(), len(lists), func(key string) bool {
		return slices.Contains(taken, key) || b.files[key+".png"] != nil
	})
	noted := []answers.Noted{}
	for i, list := range p.Noted(lists, names) {
		text, err := list.Write()
		if err != nil {
			return nil, err
		}
		noted = append(noted, answers.Noted{Key: key[i], File: names[i], ListFile: sheet.ListOf(names[i]), List: string(text)})
	}
	return jsonOf(noted)
}

// begin(files, taken) begins a kit, or goes on with it, from files that are in it; taken are keys that are not free.
func (b *bench) begin(args []js.Value) (any, error) {
	var names, taken []string
	if err := errors.Join(json.Unmarshal([]byte(args[0].String()), &names), json.Unmarshal([]byte(args[1].String()), &taken)); err != nil {
		return nil, err
	}
	begun, err := start.From(start.Within(names, func(name string) start.File {
		return start.File{
			Name:    name,
			Bytes:   func() ([]byte, error) { return b.files[name], nil },
			Picture: func() (image.Image, error) { return b.picture(name) },
		}
	}), func(key string) bool { return slices.Contains(taken, key) })
	if err != nil {
		return nil, err
	}
	return jsonOf(begun)
}

func (b *bench) source(name string) (sheet.Source, error) {
	file := b.files[name]
	if file == nil {
		return sheet.Source{}, fmt.Errorf("%s is not in the kit", name)
	}
	size, err := sheet.Size(file)
	if err != nil {
		return sheet.Source{}, fmt.Errorf("%s: %w", name, err)
	}
	return sheet.Source{File: name, Hash: kit.HashOf(file), Size: size, Open: func() (image.Image, error) { return sheet.Read(file) }}, nil
}

// check() looks the whole kit over, as the service would, without encoding pictures.
func (b *bench) check([]js.Value) (any, error) {
	f := answers.Found{Mistakes: []kit.Mistake{}, Warnings: []string{}, Decks: []answers.Deck{}}
	result, err := b.looked()
	if err == nil {
		f.Warnings, f.Decks = append(f.Warnings, result.Warnings...), answers.DecksOf(result)
	} else {
		f.Mistakes = kit.Mistakes(err)
	}
	return jsonOf(f)
}

// looked is the kit as it is now, looked over. What did not change is known from before.
func (b *bench) looked() (*kit.Result, error) {
	k, err := kit.Read(b.files)
	if err != nil {
		return nil, err
	}
	k.Fonts = b.fonts
	result, err := k.Make(kit.Making{Known: b.known, Look: b.canMake, Decoded: b.picture})
	if err == nil {
		b.known = result.Known
	}
	return result, err
}

// rows(file) reads a table file.
func (b *bench) rows(args []js.Value) (any, error) {
	r, err := b.tableFile(args[0].String())
	if err != nil {
		return nil, err
	}
	read := answers.Rows{Header: r.Header, Cells: r.Cells, Numbers: []int{}, Mistakes: []deck.RowError{}, Notes: append(append([]string{}, r.Notes...), r.Odd...), Tabs: []string{}, Copies: r.Copies()}
	if file, _ := kit.TabOf(args[0].String()); strings.HasSuffix(strings.ToLower(file), ".xlsx") {
		if read.Tabs, err = deck.Tabs(b.files[file]); err != nil {
			return nil, err
		}
	}
	for i := range r.Cells {
		read.Numbers = append(read.Numbers, r.Number(i))
	}
	_, mistakes := r.Cards()
	for _, m := range mistakes {
		var row *deck.RowError
		if errors.As(m, &row) {
			read.Mistakes = append(read.Mistakes, *row)
		}
	}
	return jsonOf(read)
}

// beginLayout(file) is a layout to go on from, for a table file; none if a column names each card's picture.
func (b *bench) beginLayout(args []js.Value) (any, error) {
	r, err := b.tableFile(args[0].String())
	if err != nil {
		return nil, err
	}
	if r.Column(deck.ColumnFront) >= 0 {
		return "null", nil
	}
	return jsonOf(deck.Begin(r))
}

func (b *bench) tableFile(name string) (*deck.Rows, error) {
	of, _ := kit.TabOf(name)
	file := b.files[of]
	if file == nil {
		return nil, fmt.Errorf("%s is not in the kit", of)
	}
	return kit.ReadRows(name, file)
}

// writeRows(file, header, cells, as) gives a table file with these cells, written as
// the file was, or as a spreadsheet where as ends with .xlsx.
func (b *bench) writeRows(args []js.Value) (any, error) {
	rows := &deck.Rows{}
	if of, _ := kit.TabOf(args[0].String()); b.files[of] != nil {
		if was, err := b.tableFile(args[0].String()); err == nil {
			rows = was
		}
	}
	var header []string
	var cells [][]string
	if err := errors.Join(json.Unmarshal([]byte(args[1].String()), &header), json.Unmarshal([]byte(args[2].String()), &cells)); err != nil {
		return nil, err
	}
	text, err := kit.WriteRows(args[3].String(), rows.With(header, cells))
	if err != nil {
		return nil, err
	}
	return bridge.Array(text), nil
}

// draw(deck, row, side) draws a card by its layout: row is the index of its row.
func (b *bench) draw(args []js.Value) (any, error) {
	k, err := kit.Read(b.files)
	if err != nil && k == nil {
		return nil, err
	}
	k.Fonts = b.fonts
	d, err := k.DrawRow(args[0].String(), args[1].Int(), args[2].String())
	if err != nil {
		return nil, err
	}
	about, err := jsonOf(answers.Drawn{Wide: d.Picture.Rect.Dx(), High: d.Picture.Rect.Dy(), Problems: append([]string{}, d.Problems...)})
	return map[string]any{"about": about, "rgba": bridge.Array(d.Picture.Pix)}, err
}
