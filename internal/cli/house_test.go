package cli_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/cli"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/service"
	"damselfly.example/damselfly/internal/service/mariadb/mariadbtest"
)

func TestMain(m *testing.M) {
	folder, err := os.MkdirTemp("", "damselfly-test-")
	if err == nil {
		err = os.Setenv("XDG_CONFIG_HOME", folder) // the keys of seats are kept there, by service
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	defer os.RemoveAll(folder)
	mariadbtest.Main(m)
}

// house is a service in this very process, for commands to speak to.
type house struct {
	t             *testing.T
	ctx           context.Context
	data, address string
}

// start runs a service with a database of its own until the test ends.
func start(t *testing.T) *house {
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Minute)
	h := &house{t: t, ctx: ctx, data: t.TempDir()}
	answers, ended := make(chan string, 1), make(chan error, 1)
	dsn := mariadbtest.DSN(t)
	go func() {
		ended <- service.Run(ctx, service.Config{Listen: "127.0.0.1:0", Data: h.data, Database: dsn, Log: slog.New(slog.DiscardHandler), Tell: io.Discard},
			func(address string) error { answers <- address; return nil })
	}()
	select {
	case address := <-answers:
		h.address = strings.TrimPrefix(address, "http://")
	case err := <-ended:
		cancel()
		require.NoError(t, err)
		require.Fail(t, "the service ended")
	}
	t.Cleanup(func() { cancel(); require.NoError(t, <-ended) })
	return h
}

// alone is a house without a service, for commands that need none.
func alone(t *testing.T) *house {
	return &house{t: t, ctx: context.Background(), data: t.TempDir(), address: "127.0.0.1:1"}
}

func (h *house) url() string { return "http://" + h.address }

func (h *house) maker() *client.Client {
	key, err := os.ReadFile(filepath.Join(h.data, service.KeyFile))
	require.NoError(h.t, err)
	return client.New(h.url(), strings.TrimSpace(string(key)))
}

// room puts the small kit on the shelf and opens a room for three with it.
func (h *house) room() client.Room {
	var zip bytes.Buffer
	require.NoError(h.t, kit.Zip(demo.Weather(), &zip))
	_, err := h.maker().PutKit(h.ctx, &zip, int64(zip.Len()), true)
	require.NoError(h.t, err)
	room, err := h.maker().OpenRoom(h.ctx, client.OpenRoom{Kit: "Marsh Post", Seats: 3})
	require.NoError(h.t, err)
	return room
}

// cli runs a command against the service, and returns all that it prints.
func (h *house) cli(args ...string) (out string, code int) {
	var all bytes.Buffer
	code = cli.Main(append(args, "--server", h.url(), "--data", h.data), &all, &all)
	return all.String(), code
}

// cliPlain runs a command line as it is, and returns what it prints on standard output.
func (h *house) cliPlain(args ...string) (out string, code int) {
	var said, wrong bytes.Buffer
	code = cli.Main(args, &said, &wrong)
	return said.String(), code
}

// cliJSON runs a command for programs, and returns what it printed as values, and what it wrote to standard error.
func (h *house) cliJSON(args ...string) (values []map[string]any, errs string, code int) {
	var out, wrong bytes.Buffer
	code = cli.Main(append(args, "--json", "--server", h.url(), "--data", h.data), &out, &wrong)
	decoder := json.NewDecoder(bytes.NewReader(out.Bytes()))
	for {
		var value any
		err := decoder.Decode(&value)
		if err == io.EOF {
			return values, wrong.String(), code
		}
		require.NoError(h.t, err, "%v printed %s", args, out.String())
		object, _ := value.(map[string]any)
		values = append(values, object)
	}
}
