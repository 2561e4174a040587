//go:build js && wasm

package main

import (
	"syscall/js"

	"damselfly.example/damselfly/console/bridge"
	"damselfly.example/damselfly/internal/core/kit"
)

// compareWith(files) tells what differs between an edition, given by its files, and the draft
// as it is now. Its pictures are shown like those of the table.
func (b *bench) compareWith(args []js.Value) (any, error) {
	now, err := b.looked()
	if err != nil {
		return nil, err
	}
	files := kit.Files{}
	names := js.Global().Get("Object").Call("keys", args[0])
	for i := range names.Length() {
		name := names.Index(i).String()
		files[name] = bridge.Bytes(args[0].Get(name))
	}
	k, err := kit.Read(files)
	if err != nil {
		return nil, err
	}
	k.Fonts = b.fonts
	before, err := k.Make(kit.Making{Known: b.known, Look: b.canMake})
	if err != nil {
		return nil, err
	}
	return jsonOf(kit.Compare(before.Edition, now.Edition))
}
