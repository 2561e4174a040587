// Package service puts the parts of a running Damselfly together: a database,
// the rooms over it, and the address where the world finds them.
package service

import (
	"cmp"
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"github.com/coreos/go-systemd/v22/daemon"

	"damselfly.example/damselfly/internal/service/api"
	"damselfly.example/damselfly/internal/service/mariadb"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/service/web"
)

// Config says how a service runs.
type Config struct {
	Listen  string      // host:port; port 0 takes a free one
	Proxies web.Trusted // proxies that say for whom they ask
	Origins []string    // of pages of others that may ask; "*": all
	Public  string      // the address under which people reach it, such as https://table.example; empty: the one they ask
	Path    string      // under which it answers there, such as /table; empty: all of the address is its own
	Metrics string      // host:port for Prometheus; empty: none
	// MetricsOrNot: where that address is taken, the service goes on without.
	MetricsOrNot bool
	Data         string // folder for the own database and the first maker key
	Database     string // DSN of a running server; empty: start one under Data
	Maker        string // the name of the first maker; empty: keeper
	Console      fs.FS
	Log          *slog.Logger
	Tell         io.Writer // where a person reads what takes long
	Rooms        room.Options

	Node string // the address at which other services on the same database reach this one, such as http://10.0.0.2:7171; empty: it is alone

	Limits api.Limits

	KeepRooms int // days after which a room in which nothing is done goes; 0: never
}

// The files under the data folder with the first maker's key, and the keeper's.
const (
	KeyFile    = "maker.key"
	KeeperFile = "keeper.key"
)

// drainPatience is how long requests under way may take at the end.
const drainPatience = 5 * time.Second

// Run serves until the context ends, then keeps everything and stops what it
// started. ready is called with the address once it answers.
func Run(ctx context.Context, c Config, ready func(address string) error) (err error) {
	Tune(ctx)
	alone, err := lock(c.Data)
	if err != nil {
		return err
	}
	defer alone.Close()
	listener, err := listen(c.Listen)
	if err != nil {
		return err
	}
	defer listener.Close()
	failed := make(chan error, 2) // what serves, or what is served from, has ended
	stuck := false                // the database does not answer
	dsn := c.Database
	if dsn == "" {
		server, err := mariadb.Start(ctx, filepath.Join(c.Data, "mariadb"), c.Tell)
		if err != nil {
			return err
		}
		defer func() { err = errors.Join(err, server.StopWithin(stopPatience(stuck))) }()
		go func() { failed <- server.Keep(func(text string) { c.Log.Error(text) }) }()
		dsn = server.DSN(mariadb.Database)
	}
	records, err := store.Open(ctx, dsn)
	if err != nil {
		return err
	}
	defer records.Close()
	if err := os.MkdirAll(c.Data, 0o700); err != nil {
		return err
	}
	if err := firstMaker(ctx, records, c); err != nil {
		return err
	}
	keeper, err := keeperKey(c.Data)
	if err != nil {
		return err
	}
	if c.Node != "" {
		if err := records.Share(ctx, strings.TrimRight(c.Node, "/")); err != nil {
			return err
		}
	}
	rooms := room.New(records, c.Log, c.Rooms)
	options := api.Options{Store: records, Rooms: rooms, Log: c.Log, Console: c.Console, KeeperKey: keeper, Public: c.Public, Path: c.Path, Proxies: c.Proxies, Origins: c.Origins, Limits: c.Limits}
	if c.Database == "" {
		options.DiskFree = func() (int64, error) { return diskFree(c.Data) }
	}
	a := api.New(options)
	house := &housekeeping{records: records, rooms: rooms, log: c.Log, keepRooms: c.KeepRooms, diskFree: options.DiskFree}
	housekeeper, rest := context.WithCancel(ctx)
	defer rest()
	go a.Count(housekeeper)
	go house.keep(housekeeper)
	server := &http.Server{Handler: a, ReadHeaderTimeout: 10 * time.Second, IdleTimeout: 2 * time.Minute}
	go func() { failed <- server.Serve(listener) }()
	if c.Metrics != "" {
		metrics := &http.Server{Handler: a.Metrics(), ReadHeaderTimeout: 10 * time.Second}
		defer metrics.Close()
		switch counted, err := listen(c.Metrics); {
		case err == nil:
			go func() { _ = metrics.Serve(counted) }()
		case c.MetricsOrNot:
			c.Log.Warn("no metrics are served", "error", err)
		default:
			rooms.Close()
			return errors.Join(err, server.Close())
		}
	}
	if c.Node != "" {
		if err := reachesItself(ctx, strings.TrimRight(c.Node, "/"), records.Service()); err != nil {
			rooms.Close()
			return errors.Join(err, server.Close())
		}
	}
	if err = ready("http://" + listener.Addr().String() + c.Path); err == nil {
		_, _ = daemon.SdNotify(false, daemon.SdNotifyReady) // where systemd waits for it
		defer func() { _, _ = daemon.SdNotify(false, daemon.SdNotifyStopping) }()
		select {
		case <-ctx.Done():
		case err = <-failed:
		}
	}
	stuck = !rooms.Saving()
	rooms.Close()
	drain, cancel := context.WithTimeout(context.WithoutCancel(ctx), drainPatience)
	defer cancel()
	if stuck {
		return errors.Join(err, server.Close()) // what waits for the database waits in vain
	}
	return errors.Join(err, server.Shutdown(drain), a.Wait(drain))
}

// stopPatience is how long the own database may take to end in good order.
func stopPatience(stuck bool) time.Duration {
	if stuck {
		return time.Second
	}
	return time.Minute
}

// listen takes the address, or says what to do when it is taken.
func listen(address string) (net.Listener, error) {
	l, err := net.Listen("tcp", address)
	if errors.Is(err, syscall.EADDRINUSE) {
		return nil, fmt.Errorf("the address %s is taken, perhaps by a service that is running already; "+
			"end that one, or choose another port, such as --listen 127.0.0.1:7272 (DAMSELFLY_LISTEN=127.0.0.1:7272 make demo)", address)
	}
	return l, err
}

// firstMaker makes the first maker at the first start, with a key for whoever may read the
// data folder. It never makes another one: a key that was lost is renewed.
func firstMaker(ctx context.Context, records *store.Store, c Config) error {
	file := filepath.Join(c.Data, KeyFile)
	makers, err := records.Makers(ctx)
	if err != nil {
		return err
	}
	if len(makers) > 0 {
		text, err := os.ReadFile(file)
		if err == nil {
			_, err = records.MakerOf(ctx, strings.TrimSpace(string(text)))
		}
		if c.Node != "" && errors.Is(err, os.ErrNotExist) { // it stands in another service's folder
			return nil
		}
		if errors.Is(err, os.ErrNotExist) || errors.Is(err, store.ErrNotFound) {
			c.Log.Warn("the maker key in the data folder is lost or opens nothing; another one: damselfly maker renew NAME", "file", file, "makers", len(makers))
			return nil
		}
		return err
	}
	key := rand.Text()
	if _, err := records.AddMaker(ctx, cmp.Or(c.Maker, "keeper"), key, time.Now().UnixMilli()); err != nil {
		return err
	}
	if err := os.Rename(file, file+".before"); err != nil && !errors.Is(err, os.ErrNotExist) { // of records that are elsewhere now
		return err
	}
	return os.WriteFile(file, []byte(key+"\n"), 0o600)
}

// keeperKey makes the keeper's key, another one at each start, for whoever may read the
// data folder.
func keeperKey(data string) (string, error) {
	key := rand.Text()
	return key, os.WriteFile(filepath.Join(data, KeeperFile), []byte(key+"\n"), 0o600)
}
