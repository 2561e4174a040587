package api_test

import (
	"bufio"
	"bytes"
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/gorilla/websocket"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/service/api"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// announced begins a request whose body is announced and not sent, and reads what is answered before it is.
func (w *world) announced(method, path, key string, length int64) (line net.Conn, status int, body string) {
	line, err := net.Dial("tcp", strings.TrimPrefix(w.url, "http://"))
	require.NoError(w.t, err)
	fmt.Fprintf(line, "%s %s HTTP/1.1\r\nHost: table\r\nContent-Type: application/octet-stream\r\nContent-Length: %d\r\n", method, path, length)
	if key != "" {
		fmt.Fprintf(line, "Authorization: Bearer %s\r\n", key)
	}
	fmt.Fprint(line, "\r\n")
	_ = line.SetReadDeadline(time.Now().Add(8 * time.Second))
	response, err := http.ReadResponse(bufio.NewReader(line), nil)
	if err != nil {
		return line, 0, ""
	}
	text, _ := io.ReadAll(response.Body)
	return line, response.StatusCode, string(text)
}

// Of every route that takes a body: whose it is not to call, and what is too large, is refused before the body is read.
func TestRightsAndSizesComeBeforeBodies(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, _, _ := w.room()
	walked := 0
	for _, r := range described(t) {
		if r.RequestBody == nil {
			continue
		}
		walked++
		at := r.with(map[string]string{"room": id, "kit": "none", "bookmark": "none", "seat": "1", "maker": "none", "edition": "1"})
		for _, key := range []string{"", "wrong", makerKey} {
			line, status, body := w.announced(r.method, at, key, 1<<40)
			_ = line.Close()
			assert.Contains(t, []int{401, 404, 413}, status, "%s %s with %q: %s", r.method, r.path, key, body)
		}
	}
	assert.Greater(t, walked, 20)
}

// Who may not bring pictures to a table is told so before they send one.
func TestWhoMayNotBringPicturesSendsNone(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, bo := w.room()
	_, watching := w.call("POST", "/api/rooms/"+id+"/join", "", wire.Join{Watch: true})
	for _, key := range []string{bo.Key, watching["key"].(string)} {
		line, status, body := w.announced("POST", "/api/rooms/"+id+"/pictures", key, 1<<20)
		_ = line.Close()
		assert.Equal(t, 403, status, body)
	}
	line, status, _ := w.announced("POST", "/api/rooms/"+id+"/pictures", ada.Key, 1<<20)
	_ = line.Close()
	assert.Zero(t, status, "it is waited for")
}

// Who sends a large kit and is refused reads why, and not that the line broke.
func TestARefusedUploadIsReadAsARefusal(t *testing.T) {
	w := newWorld(t, room.Options{})
	large := make([]byte, 8<<20)
	for range 10 {
		_, err := client.New(w.url, "WRONG").PutKit(context.Background(), bytes.NewReader(large), int64(len(large)), true)
		var p *client.Problem
		require.ErrorAs(t, err, &p)
		assert.Equal(t, "needs-maker-key", p.Code)
	}
}

// Bodies that do not come hold up nobody but who sends them.
func TestUnfinishedUploadsAreFewAndEnd(t *testing.T) {
	w := newWorld(t, room.Options{})
	var open []net.Conn
	defer func() {
		for _, line := range open {
			_ = line.Close()
		}
	}()
	refused := 0
	for range 9 {
		line, err := net.Dial("tcp", strings.TrimPrefix(w.url, "http://"))
		require.NoError(t, err)
		open = append(open, line)
		fmt.Fprintf(line, "POST /api/files HTTP/1.1\r\nHost: table\r\nContent-Type: application/octet-stream\r\nContent-Length: 1000000\r\nAuthorization: Bearer %s\r\n\r\n", makerKey)
		_, _ = line.Write(make([]byte, 1000))
		_ = line.SetReadDeadline(time.Now().Add(time.Second))
		if response, err := http.ReadResponse(bufio.NewReader(line), nil); err == nil {
			assert.Equal(t, http.StatusTooManyRequests, response.StatusCode)
			assert.Equal(t, "10", response.Header.Get("Retry-After"))
			refused++
		}
	}
	assert.Equal(t, 3, refused, "of nine, six are one key's")
	other := w.another()
	status, text := w.send("/api/files", other, make([]byte, 100_000))
	assert.Equal(t, 201, status, text)
	_ = open[0].SetReadDeadline(time.Now().Add(40 * time.Second))
	_, err := io.ReadAll(open[0])
	var timeout net.Error
	assert.False(t, err != nil && assert.ErrorAs(t, err, &timeout) && timeout.Timeout(), "who sends nothing is broken off")
}

// Files that are taken away slowly are some of each, and are broken off.
func TestSlowReadersLeaveDownloadsToOthers(t *testing.T) {
	w := newWorld(t, room.Options{})
	w.room()
	var open []net.Conn
	defer func() {
		for _, line := range open {
			_ = line.Close()
		}
	}()
	for range 12 {
		line, err := net.Dial("tcp", strings.TrimPrefix(w.url, "http://"))
		require.NoError(t, err)
		_ = line.(*net.TCPConn).SetReadBuffer(1024)
		open = append(open, line)
		fmt.Fprintf(line, "GET /api/kits/Marsh%%20Post/zip HTTP/1.1\r\nHost: table\r\nAuthorization: Bearer %s\r\n\r\n", makerKey)
	}
	time.Sleep(500 * time.Millisecond)
	other := w.another()
	status, answer := w.call("POST", "/api/kits", other, demoZip(t))
	require.Equal(t, 201, status, answer)
	response, _ := w.get("/api/kits/Marsh%20Post/zip", other)
	assert.Equal(t, 200, response.StatusCode, "another key has shares of its own")
}

// Sockets that never say who they are are bounded for each address.
func TestSocketsThatDoNotGreetAreBounded(t *testing.T) {
	w := newWorld(t, room.Options{}, func(*api.Options) {})
	id, ada, _ := w.room()
	dial := func() (*websocket.Conn, *http.Response) {
		socket, response, _ := websocket.DefaultDialer.Dial("ws"+strings.TrimPrefix(w.url, "http")+"/api/rooms/"+id+"/live", nil)
		return socket, response
	}
	var silent []*websocket.Conn
	for range 64 {
		socket, _ := dial()
		require.NotNil(t, socket)
		silent = append(silent, socket)
	}
	_, response := dial()
	require.NotNil(t, response)
	assert.Equal(t, http.StatusTooManyRequests, response.StatusCode)
	for _, socket := range silent {
		_ = socket.Close()
	}
	require.Eventually(t, func() bool {
		socket, _ := dial()
		if socket == nil {
			return false
		}
		defer socket.Close()
		return socket.WriteJSON(wire.Hello{Type: "hello", Key: ada.Key}) == nil
	}, 10*time.Second, 50*time.Millisecond)
}
