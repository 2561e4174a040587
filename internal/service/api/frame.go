package api

import (
	"encoding/binary"

	"github.com/gorilla/websocket"
)

// Frames of RFC 6455, as a server sends them: whole, and not masked. The library frames
// one message for one socket; here one frame goes to many, and many in one piece.

const wholeFrame = 0x80 // nothing of it follows

// frame is a frame of a kind (an opcode, such as websocket.TextMessage) with a payload.
func frame(kind int, payload []byte) []byte {
	head := []byte{wholeFrame | byte(kind)}
	switch n := len(payload); {
	case n < 126:
		head = append(head, byte(n))
	case n < 1<<16:
		head = binary.BigEndian.AppendUint16(append(head, 126), uint16(n))
	default:
		head = binary.BigEndian.AppendUint64(append(head, 127), uint64(n))
	}
	return append(head, payload...)
}

func textFrame(text []byte) []byte { return frame(websocket.TextMessage, text) }
