//go:build js && wasm

// Package bridge carries bytes between Go and the browser.
package bridge

import "syscall/js"

// Bytes copies a Uint8Array.
func Bytes(v js.Value) []byte {
	bytes := make([]byte, v.Get("length").Int())
	js.CopyBytesToGo(bytes, v)
	return bytes
}

// Array copies bytes into a Uint8Array.
func Array(bytes []byte) js.Value {
	array := js.Global().Get("Uint8Array").New(len(bytes))
	js.CopyBytesToJS(array, bytes)
	return array
}
