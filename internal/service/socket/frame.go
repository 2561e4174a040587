package socket

import (
	"encoding/binary"

	"github.com/gorilla/websocket"
)

// Frames of RFC 6455, as a server sends them: whole, and not masked. The library frames
// one message for one socket; here one frame goes to many, and many in one piece.

const wholeFrame = 0x80 // nothing of it follows

// headOf begins a frame of a kind (an opcode, such as websocket.TextMessage) with a payload
// so long.
func headOf(kind, length int) []byte {
	head := []byte{wholeFrame | byte(kind)}
	switch {
	case length < 126:
		return append(head, byte(length))
	case length < 1<<16:
		return binary.BigEndian.AppendUint16(append(head, 126), uint16(length))
	}
	return binary.BigEndian.AppendUint64(append(head, 127), uint64(length))
}

func frame(kind int, payload []byte) []byte { return append(headOf(kind, len(payload)), payload...) }

func textHead(length int) []byte { return headOf(websocket.TextMessage, length) }

func textFrame(text []byte) []byte { return frame(websocket.TextMessage, text) }
