package socket

import (
	"bufio"
	"bytes"
	"crypto/sha1"
	"encoding/base64"
	"net"
	"net/http"
	"testing"

	"github.com/gorilla/websocket"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// What is framed here is read by the library's client, at every way of writing a length.
func TestFramesAreReadByTheLibrary(t *testing.T) {
	near, far := net.Pipe()
	defer near.Close()
	lengths := []int{0, 1, 125, 126, 127, 1 << 15, 1<<16 - 1, 1 << 16, 1 << 17}
	go func() {
		defer far.Close()
		request, err := http.ReadRequest(bufio.NewReader(far))
		if err != nil {
			return
		}
		accept := acceptOf(request.Header.Get("Sec-WebSocket-Key"))
		_, _ = far.Write([]byte("HTTP/1.1 101 Switching Protocols\r\nUpgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Accept: " + accept + "\r\n\r\n"))
		for _, n := range lengths {
			_, _ = far.Write(textFrame(bytes.Repeat([]byte("x"), n)))
		}
		_, _ = far.Write(frame(websocket.CloseMessage, websocket.FormatCloseMessage(websocket.CloseServiceRestart, "come back")))
	}()
	dialer := websocket.Dialer{NetDial: func(string, string) (net.Conn, error) { return near, nil }}
	socket, _, err := dialer.Dial("ws://here/", nil)
	require.NoError(t, err)
	for _, n := range lengths {
		kind, text, err := socket.ReadMessage()
		require.NoError(t, err)
		assert.Equal(t, websocket.TextMessage, kind)
		assert.Len(t, text, n)
	}
	_, _, err = socket.ReadMessage()
	assert.True(t, websocket.IsCloseError(err, websocket.CloseServiceRestart), "%v", err)
}

// acceptOf is how a server answers a client's key, as RFC 6455 has it.
func acceptOf(key string) string {
	sum := sha1.Sum([]byte(key + "258EAFA5-E914-47DA-95CA-C5AB0DC85B11"))
	return base64.StdEncoding.EncodeToString(sum[:])
}

// Where waiting helps, the refusal says for how long.
func TestTheFastAreToldWhenToComeAgain(t *testing.T) {
	s := New(Options{Acts: 1})
	who := room.Who{Seat: 1}
	for range 3 {
		require.NoError(t, s.Paced("marsh", who))
	}
	var p *wire.Problem
	require.ErrorAs(t, s.Paced("marsh", who), &p)
	assert.Equal(t, "1", p.GetHeaders().Get("Retry-After"))
	assert.NoError(t, s.Paced("moor", who), "another room has its own")
}
