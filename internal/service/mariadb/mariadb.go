// Package mariadb runs a MariaDB server of one's own on loopback, from the
// programs of Debian's package mariadb-server, with a data directory of its own.
//
//	server, err := mariadb.Start(ctx, "/var/lib/damselfly", os.Stderr)
//	defer server.Stop()
//	db, err := sqlx.Open("mysql", server.DSN(mariadb.Database))
package mariadb

import (
	"context"
	"crypto/rand"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	"github.com/go-sql-driver/mysql"
)

// Server is a running MariaDB.
type Server struct {
	port     int
	password string
	folder   string
	launch   func() (*run, error) // on the same port, with the same password

	mu       sync.Mutex
	now      *run
	stopping chan struct{} // closed by Stop
}

// run is one process of the server.
type run struct {
	process *os.Process
	ended   chan struct{} // closed when it has ended
}

// patience is how long a server may take to start or to stop.
const patience = 60 * time.Second

// Start starts the server on a free port of 127.0.0.1 and waits until it
// answers. folder is made if it is not there; what takes long is said to tell.
func Start(ctx context.Context, folder string, tell io.Writer) (*Server, error) {
	daemon, err := find("mariadbd")
	if err != nil {
		return nil, err
	}
	folder, err = filepath.Abs(folder)
	if err != nil {
		return nil, err
	}
	files := filepath.Join(folder, "files")
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return nil, fmt.Errorf("making the database's folder: %w", err)
	}
	if err := waitForFormer(ctx, folder); err != nil {
		return nil, err
	}
	if err := setAside(folder, files, tell); err != nil {
		return nil, err
	}
	fresh := false
	if _, err := os.Stat(filepath.Join(files, "mysql")); err != nil {
		fresh = true
		fmt.Fprintln(tell, "Making a new database (once) …")
		if err := install(ctx, files); err != nil {
			return nil, err
		}
	}
	for try := 1; ; try++ {
		s, err := startOnce(ctx, daemon, folder, files)
		// The port that was free may be taken by the time the server asks for it.
		if err == nil {
			if err = s.upgrade(ctx, folder, fresh, tell); err != nil {
				return nil, errors.Join(err, s.Stop())
			}
			return s, nil
		}
		if try == 3 || !errors.Is(err, errEnded) {
			return nil, err
		}
	}
}

// Database is what the service's database is called. Before the first release it was "damselfly".
const Database = "damselfly_1"

// setAside moves the data of a version that was never released out of the way, and keeps it.
func setAside(folder, files string, tell io.Writer) error {
	there := func(database string) bool {
		_, err := os.Stat(filepath.Join(files, database))
		return err == nil
	}
	if !there("damselfly") || there(Database) {
		return nil
	}
	aside := folder + "-unreleased"
	for n := 2; ; n++ {
		if _, err := os.Stat(aside); err != nil {
			break
		}
		aside = fmt.Sprintf("%s-unreleased-%d", folder, n)
	}
	if err := os.Rename(folder, aside); err != nil {
		return fmt.Errorf("the database in %s is of an unreleased version, and cannot be moved aside: %w", folder, err)
	}
	fmt.Fprintf(tell, "The database in %s is of an unreleased version. It was moved aside to %s, and is kept; a new one begins.\n", folder, aside)
	return os.MkdirAll(folder, 0o700)
}

// errEnded is returned for a server that ended before it answered.
var errEnded = errors.New("MariaDB ended at once")

func startOnce(ctx context.Context, daemon, folder, files string) (*Server, error) {
	s := &Server{folder: folder, password: rand.Text(), stopping: make(chan struct{})}
	var err error
	if s.port, err = freePort(); err != nil {
		return nil, err
	}
	first, log := filepath.Join(folder, "first.sql"), filepath.Join(folder, "mariadb.log")
	starting := ctx
	s.launch = func() (*run, error) {
		if err := os.WriteFile(first, []byte(s.users()), 0o600); err != nil {
			return nil, err
		}
		defer os.Remove(first)
		r, err := launch(daemon, s.arguments(folder, files, first, log))
		if err != nil {
			return nil, err
		}
		if err := s.wait(starting, r, log); err != nil {
			_ = r.stop(patience)
			return nil, err
		}
		return r, nil
	}
	s.now, err = s.launch()
	if err != nil {
		return nil, err
	}
	starting = context.WithoutCancel(ctx) // only the first start is called off with its context
	return s, nil
}

// How often a server that ends by itself is started again, one time soon after the
// other, before it is given up.
const (
	restarts     = 6
	restartPause = 200 * time.Millisecond // doubled each time
	settled      = time.Minute            // after which an end counts as the first one again
)

// Keep starts the server again, with growing pauses, whenever it ends by itself, and
// says so. It returns when Stop is called, or with an error when the server does not
// stay.
func (s *Server) Keep(say func(text string)) error {
	failures, pause, since := 0, restartPause, time.Now()
	for {
		select {
		case <-s.stopping:
			return nil
		case <-s.current().ended:
		}
		if s.stops(0) {
			return nil
		}
		if time.Since(since) > settled {
			failures, pause = 0, restartPause
		}
		say("MariaDB has ended by itself; it is started again")
		for {
			if full(s.folder) { // it cannot run before there is room, and is tried until there is
				failures = 0
			}
			if failures++; failures > restarts {
				return fmt.Errorf("MariaDB ended %d times and does not stay; its log is mariadb.log in the data folder", restarts)
			}
			if s.stops(pause) {
				return nil
			}
			pause = min(2*pause, 10*time.Second)
			r, err := s.launch()
			if err == nil {
				s.mu.Lock()
				s.now = r
				s.mu.Unlock()
				say("MariaDB runs again")
				break
			}
			say("MariaDB cannot be started: " + err.Error())
		}
		since = time.Now()
	}
}

// leastRoom is how many bytes a server needs to run.
const leastRoom = 32 << 20

// full reports whether there is too little room on the disk for a server to run.
func full(folder string) bool {
	var disk syscall.Statfs_t
	return syscall.Statfs(folder, &disk) == nil && int64(disk.Bavail)*disk.Bsize < leastRoom //nolint:unconvert // the types differ between systems
}

func (s *Server) current() *run {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.now
}

// stops waits, and reports whether Stop was called.
func (s *Server) stops(pause time.Duration) bool {
	select {
	case <-s.stopping:
		return true
	case <-time.After(pause):
		return false
	}
}

// find finds a program of Debian's package, also where it is not on the PATH.
func find(name string) (string, error) {
	if path, err := exec.LookPath(name); err == nil {
		return path, nil
	}
	for _, folder := range []string{"/usr/sbin", "/usr/bin", "/usr/local/bin"} {
		if path := filepath.Join(folder, name); fileExists(path) {
			return path, nil
		}
	}
	return "", fmt.Errorf("the program %s is not installed; install it with \"apt-get install mariadb-server\", "+
		"or name a running server with --database", name)
}

func fileExists(path string) bool {
	_, err := os.Stat(path)
	return err == nil
}

// install makes the system tables in a folder beside, so that a broken attempt
// is not taken for a database.
func install(ctx context.Context, files string) error {
	program, err := find("mariadb-install-db")
	if err != nil {
		return err
	}
	half := files + ".half"
	if err := os.RemoveAll(half); err != nil {
		return err
	}
	scratch := files + ".scratch" // of its own, as that of the server is: one that starts takes away the temporary tables that it finds
	if err := os.MkdirAll(scratch, 0o700); err != nil {
		return err
	}
	defer func() { _ = os.RemoveAll(scratch) }()
	out, err := exec.CommandContext(ctx, program, "--no-defaults", "--datadir="+half, "--user="+userName(), "--tmpdir="+scratch,
		"--skip-test-db", "--auth-root-authentication-method=socket").CombinedOutput()
	if err != nil {
		return fmt.Errorf("making a new database: %w\n%s", err, out)
	}
	return os.Rename(half, files)
}

func userName() string {
	if u, err := user.Current(); err == nil {
		return u.Username
	}
	return "root"
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

// users is the SQL that the server runs before it takes anybody in. The
// password is a new one at each start.
func (s *Server) users() string {
	return "CREATE DATABASE IF NOT EXISTS " + Database + " CHARACTER SET utf8mb4 COLLATE utf8mb4_bin;\n" +
		"CREATE USER IF NOT EXISTS 'damselfly'@'127.0.0.1';\n" +
		"ALTER USER 'damselfly'@'127.0.0.1' IDENTIFIED BY '" + s.password + "';\n" +
		"GRANT ALL ON *.* TO 'damselfly'@'127.0.0.1';\n"
}

func (s *Server) arguments(folder, files, first, log string) []string {
	scratch := filepath.Join(folder, "scratch") // of its own: two servers in one would remove each other's temporary tables
	_ = os.MkdirAll(scratch, 0o700)             // where it cannot be, the server says so
	return []string{"--no-defaults", "--datadir=" + files, "--user=" + userName(), "--tmpdir=" + scratch,
		"--bind-address=127.0.0.1", "--port=" + strconv.Itoa(s.port), "--socket=mariadb.sock", "--pid-file=" + filepath.Join(folder, "mariadb.pid"),
		"--skip-name-resolve", "--init-file=" + first, "--log-error=" + log, "--max-connections=200", "--max-allowed-packet=64M",
		"--innodb-buffer-pool-size=128M", "--innodb-log-file-size=128M", "--innodb-flush-log-at-trx-commit=1",
		"--character-set-server=utf8mb4", "--collation-server=utf8mb4_bin"}
}

// launch starts the process in a group of its own, so that a Ctrl-C in the
// terminal does not reach it before the service has kept everything. Should the
// service be killed, the kernel ends the database too (Pdeathsig); that signal
// belongs to the thread that started it, which therefore waits for it.
func launch(daemon string, arguments []string) (*run, error) {
	r, started := &run{ended: make(chan struct{})}, make(chan error)
	go func() {
		runtime.LockOSThread()
		cmd := exec.Command(daemon, arguments...)
		cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGTERM}
		if err := cmd.Start(); err != nil {
			started <- fmt.Errorf("starting MariaDB: %w", err)
			return
		}
		r.process = cmd.Process
		started <- nil
		_ = cmd.Wait() // how it ended stands in its log
		close(r.ended)
	}()
	return r, <-started
}

// wait waits until the server answers.
func (s *Server) wait(ctx context.Context, r *run, log string) error {
	db, err := sql.Open("mysql", s.DSN(Database))
	if err != nil {
		return err
	}
	defer db.Close()
	_ = mysql.SetLogger(quiet{})
	for deadline := time.Now().Add(patience); ; {
		err := db.PingContext(ctx)
		if err == nil {
			return nil
		}
		select {
		case <-r.ended:
			return fmt.Errorf("%w; the end of its log:\n%s", errEnded, tail(log))
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(50 * time.Millisecond):
		}
		if time.Now().After(deadline) {
			return fmt.Errorf("MariaDB does not answer after %s (%w); the end of its log:\n%s", patience, err, tail(log))
		}
	}
}

// quiet keeps the driver from printing each attempt while the server starts.
type quiet struct{}

func (quiet) Print(...any) {}

func tail(file string) string {
	text, _ := os.ReadFile(file)
	lines := strings.Split(strings.TrimSpace(string(text)), "\n")
	return strings.Join(lines[max(0, len(lines)-12):], "\n")
}

// waitForFormer waits for a server that still works on the folder, such as one
// whose service was killed a moment ago.
func waitForFormer(ctx context.Context, folder string) error {
	text, err := os.ReadFile(filepath.Join(folder, "mariadb.pid"))
	if err != nil {
		return nil
	}
	pid, err := strconv.Atoi(strings.TrimSpace(string(text)))
	if err != nil {
		return nil
	}
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	for ctx.Err() == nil {
		command, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
		if err != nil || !strings.Contains(string(command), "--datadir="+filepath.Join(folder, "files")) {
			return nil
		}
		select {
		case <-ctx.Done():
		case <-time.After(50 * time.Millisecond):
		}
	}
	return fmt.Errorf("another service uses the data in %s (its MariaDB is process %d); end it, or give --data another folder", folder, pid)
}

// DSN is the data source name of a database on this server.
func (s *Server) DSN(database string) string {
	return fmt.Sprintf("damselfly:%s@tcp(127.0.0.1:%d)/%s?parseTime=true&interpolateParams=true&maxAllowedPacket=67108864",
		s.password, s.port, database)
}

// Stop ends the server in good order and waits until it has ended.
func (s *Server) Stop() error { return s.StopWithin(patience) }

// StopWithin ends the server, in good order if that takes no longer than a time. What
// was committed is kept either way.
func (s *Server) StopWithin(within time.Duration) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	select {
	case <-s.stopping:
	default:
		close(s.stopping)
	}
	return s.now.stop(within)
}

func (r *run) stop(within time.Duration) error {
	if err := r.process.Signal(syscall.SIGTERM); err != nil && !errors.Is(err, os.ErrProcessDone) {
		return err
	}
	select {
	case <-r.ended:
		return nil
	case <-time.After(within):
	}
	_ = r.process.Kill()
	<-r.ended
	return nil
}

// Process is the number of the server's process now, for tests that end it.
func (s *Server) Process() int { return s.current().process.Pid }
