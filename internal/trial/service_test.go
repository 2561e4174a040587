// Package trial tries the whole of Damselfly as its users have it: the real
// program, real sockets, a real MariaDB and a real browser.
package trial

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io/fs"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/service/mariadb"
)

// How long tests wait for the program, and how often they look.
const (
	waitFor = 2 * time.Minute
	tick    = 50 * time.Millisecond
)

// program is the built binary, and laid an empty database that each service begins with
// a copy of.
var program, laid string

func TestMain(m *testing.M) {
	folder, err := os.MkdirTemp("", "damselfly-trial-")
	if err != nil {
		panic(err)
	}
	program, laid = filepath.Join(folder, "damselfly"), filepath.Join(folder, "mariadb")
	build := exec.Command("go", "build", "-o", program, "damselfly.example/damselfly/cmd/damselfly")
	build.Stderr = os.Stderr
	code := 1
	if err := errors.Join(build.Run(), layDatabase()); err == nil {
		code = m.Run()
	} else {
		fmt.Fprintln(os.Stderr, err)
	}
	_ = os.RemoveAll(folder)
	os.Exit(code)
}

func layDatabase() error {
	server, err := mariadb.Start(context.Background(), laid, os.Stderr)
	if err != nil {
		return err
	}
	return server.Stop()
}

// service is a running program with data of its own.
type service struct {
	t       *testing.T
	ctx     context.Context
	data    string
	address string
	process *exec.Cmd
	said    *bytes.Buffer
	flags   []string // beyond where it listens and has its data
}

// start starts the program on a free port and waits until it answers.
func start(t *testing.T, flags ...string) *service {
	ctx, cancel := context.WithTimeout(context.Background(), 20*time.Minute)
	t.Cleanup(cancel)
	s := &service{t: t, ctx: ctx, data: t.TempDir(), address: freeAddress(t), flags: flags}
	require.NoError(t, os.CopyFS(filepath.Join(s.data, "mariadb"), os.DirFS(laid)))
	s.run()
	t.Cleanup(s.end)
	return s
}

// freeAddress is an address that nothing listens on and that no other trial gets. Its
// port is not of those that systems give to connections that go out, so that it is
// still free when a service comes back.
func freeAddress(t *testing.T) string {
	for range 1000 {
		address := fmt.Sprintf("127.0.0.1:%d", 18000+(os.Getpid()*97+int(ports.Add(1)))%12000)
		if l, err := net.Listen("tcp", address); err == nil {
			require.NoError(t, l.Close())
			return address
		}
	}
	require.Fail(t, "no port is free")
	return ""
}

// ports counts those that trials were given.
var ports atomic.Int64

func (s *service) run() {
	s.said = &bytes.Buffer{}
	s.process = exec.Command(program, append([]string{"serve", "--listen", s.address, "--data", s.data}, s.flags...)...)
	s.process.Stderr = s.said
	require.NoError(s.t, s.process.Start())
	require.Eventually(s.t, func() bool {
		_, err := client.New(s.url(), "").Room(s.ctx, "nowhere")
		_, answered := err.(*client.Problem)
		return answered
	}, waitFor, tick, "the service does not start")
}

func (s *service) url() string { return "http://" + s.address }

// kill ends the program as a crash would.
func (s *service) kill() {
	require.NoError(s.t, s.process.Process.Kill())
	_ = s.process.Wait()
}

// end ends the program in good order.
func (s *service) end() {
	_ = s.process.Process.Signal(syscall.SIGTERM)
	_ = s.process.Wait()
	if s.t.Failed() {
		s.t.Log("the service said:\n" + s.said.String())
	}
}

// maker is a client with the service's first key.
func (s *service) maker() *client.Client {
	key, err := os.ReadFile(filepath.Join(s.data, "maker.key"))
	require.NoError(s.t, err)
	return client.New(s.url(), strings.TrimSpace(string(key)))
}

// room puts the small kit on the shelf and opens a room with it.
func (s *service) room() client.Room { return s.roomOf(demo.Weather()) }

// roomOf puts a kit on the shelf and opens a room for three with it.
func (s *service) roomOf(folder fs.FS) client.Room {
	s.t.Helper()
	var zip bytes.Buffer
	require.NoError(s.t, kit.Zip(folder, &zip))
	_, err := s.maker().PutKit(s.ctx, &zip, int64(zip.Len()), true)
	require.NoError(s.t, err)
	room, err := s.maker().OpenRoom(s.ctx, client.OpenRoom{Kit: "Marsh Post", Seats: 3})
	require.NoError(s.t, err)
	return room
}

// cli runs a command of the program against the service.
func (s *service) cli(args ...string) (out string, code int) {
	cmd := exec.Command(program, append(args, "--server", s.url(), "--data", s.data)...)
	cmd.Env = append(os.Environ(), "XDG_CONFIG_HOME="+s.data)
	text, err := cmd.CombinedOutput()
	if exit, failed := err.(*exec.ExitError); failed {
		return string(text), exit.ExitCode()
	}
	require.NoError(s.t, err)
	return string(text), 0
}
