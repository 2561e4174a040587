package trial

import (
	"bytes"
	"crypto/rand"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/gorilla/websocket"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/kit"
)

// nginxConf is the example of docs/keeping.md, for addresses of a test, and for one path of them.
func nginxConf(t *testing.T, listen, upstream, path string) string {
	text, err := os.ReadFile("../../docs/keeping.md")
	require.NoError(t, err)
	found := regexp.MustCompile("(?s)```nginx\n(.*?)```").FindSubmatch(text)
	require.NotNil(t, found)
	server := strings.Replace(string(found[1]), "listen 80;", "listen "+listen+";", 1)
	server = strings.Replace(server, "http://127.0.0.1:7171", "http://"+upstream, 1)
	server = strings.Replace(server, "location / {", "location "+path+" {", 1)
	// As root, where the trial runs so: other users may not write into its folder what comes faster than it is taken.
	return fmt.Sprintf("user root;\npid nginx.pid;\nerror_log error.log;\nworker_processes 1;\nevents {}\nhttp {\naccess_log off;\nclient_body_temp_path body;\nproxy_temp_path proxy;\n"+
		"fastcgi_temp_path fastcgi;\nuwsgi_temp_path uwsgi;\nscgi_temp_path scgi;\n%s}\n", server)
}

// behindNginx runs Debian's nginx before the service for what is asked under a path, and gives its address.
func behindNginx(t *testing.T, s *service, path string) string {
	nginx, err := exec.LookPath("nginx")
	if err != nil {
		if nginx = "/usr/sbin/nginx"; !isThere(nginx) {
			t.Skip("nginx is not there; .ci/run installs it")
		}
	}
	folder, address := t.TempDir(), freeAddress(t)
	require.NoError(t, os.WriteFile(filepath.Join(folder, "nginx.conf"), []byte(nginxConf(t, address, s.address, path)), 0o600))
	process := exec.Command(nginx, "-p", folder, "-c", filepath.Join(folder, "nginx.conf"), "-g", "daemon off;")
	process.Stderr = os.Stderr
	require.NoError(t, process.Start())
	t.Cleanup(func() {
		_ = process.Process.Signal(os.Interrupt)
		_ = process.Wait()
	})
	require.Eventually(t, func() bool {
		c, err := net.Dial("tcp", address)
		if err == nil {
			_ = c.Close()
		}
		return err == nil
	}, waitFor, tick)
	return address
}

func isThere(file string) bool {
	_, err := os.Stat(file)
	return err == nil
}

// Behind Debian's nginx, set up as docs/keeping.md has it: links name the host that people ask, sockets of
// its pages pass and those of others do not, a large kit goes through, and wrong passcodes are counted for
// each person.
func TestBehindAProxy(t *testing.T) {
	s := start(t, "--trust-proxy", "127.0.0.1/32")
	proxy := behindNginx(t, s, "/")
	_, port, err := net.SplitHostPort(proxy)
	require.NoError(t, err)
	host := "table.example:" + port
	direct := s.room()
	ask := func(method, path, person, body string) *http.Response {
		r, err := http.NewRequest(method, "http://"+proxy+path, strings.NewReader(body))
		require.NoError(t, err)
		r.Host = host
		r.Header.Set("Content-Type", "application/json")
		if person != "" {
			r.Header.Set("X-Forwarded-For", person)
		}
		response, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		_ = response.Body.Close()
		return response
	}
	assert.Equal(t, 200, ask("GET", "/room/"+direct.ID, "", "").StatusCode)

	through := client.New("http://"+proxy, s.maker().Key())
	room, err := through.Room(s.ctx, direct.ID)
	require.NoError(t, err)
	assert.Contains(t, room.Link, proxy, "the link names the host that was asked")

	var zip bytes.Buffer
	sketch := make([]byte, 2<<20)
	_, _ = rand.Read(sketch)
	require.NoError(t, kit.ZipWith(demo.Kit(), kit.Files{"sketch.bin": sketch}, &zip))
	require.Greater(t, zip.Len(), 1<<20, "more than nginx takes by itself")
	_, err = through.PutKit(s.ctx, &zip, int64(zip.Len()), true)
	require.NoError(t, err)

	socket := func(origin string) int {
		dialer := websocket.Dialer{}
		c, response, err := dialer.Dial("ws://"+proxy+"/api/rooms/"+direct.ID+"/live", http.Header{"Origin": {origin}})
		if err == nil {
			_ = c.Close()
			return http.StatusSwitchingProtocols
		}
		require.NotNil(t, response, err)
		return response.StatusCode
	}
	assert.Equal(t, http.StatusSwitchingProtocols, socket("http://"+proxy))
	assert.Equal(t, http.StatusForbidden, socket("http://other.example"))
	assert.Eventually(t, func() bool { return strings.Contains(s.said.String(), "a socket of another page was refused") }, waitFor, tick)

	locked, err := s.maker().OpenRoom(s.ctx, client.OpenRoom{Kit: "Marsh Post", Name: "Locked", Seats: 2, Passcode: "stork"})
	require.NoError(t, err)
	wrong := func(person string) int {
		return ask("POST", "/api/rooms/"+locked.ID+"/join", person, `{"name":"Eve","passcode":"heron"}`).StatusCode
	}
	tried := 0
	for ; tried < 200 && wrong("203.0.113.7") != http.StatusTooManyRequests; tried++ {
	}
	assert.Less(t, tried, 200, "one person's wrong passcodes end some time")
	assert.Equal(t, http.StatusForbidden, wrong("203.0.113.8"), "another person's do not end with them")
}
