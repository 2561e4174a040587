package mariadb

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
)

// releaseFile is the file under the server's folder with the release that last ran there, such as 10.11.
const releaseFile = "release"

// upgrade brings the server's own tables up to its release, after Debian brought a newer one.
func (s *Server) upgrade(ctx context.Context, folder string, fresh bool, tell io.Writer) error {
	release, err := s.release(ctx)
	if err != nil {
		return err
	}
	file := filepath.Join(folder, releaseFile)
	text, err := os.ReadFile(file)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	before := strings.TrimSpace(string(text))
	if before == release {
		return nil
	}
	if !fresh {
		fmt.Fprintf(tell, "Bringing the database's own tables to MariaDB %s …\n", release)
		program, err := find("mariadb-upgrade")
		if err != nil {
			return err
		}
		cmd := exec.CommandContext(ctx, program, "--no-defaults", "--protocol=tcp", "--host=127.0.0.1", "--port="+strconv.Itoa(s.port), "--user=damselfly")
		cmd.Env = append(os.Environ(), "MYSQL_PWD="+s.password)
		if out, err := cmd.CombinedOutput(); err != nil {
			lines := strings.Split(strings.TrimSpace(string(out)), "\n")
			return fmt.Errorf("bringing the database from MariaDB %s to %s: %w; the end of what mariadb-upgrade says:\n%s",
				before, release, err, strings.Join(lines[max(0, len(lines)-12):], "\n"))
		}
	}
	return os.WriteFile(file, []byte(release+"\n"), 0o600)
}

// release is the server's, without its last number: 10.11.
func (s *Server) release(ctx context.Context) (string, error) {
	db, err := sql.Open("mysql", s.DSN(Database))
	if err != nil {
		return "", err
	}
	defer db.Close()
	var version string
	if err := db.QueryRowContext(ctx, "SELECT VERSION()").Scan(&version); err != nil {
		return "", err
	}
	numbers := strings.SplitN(version, ".", 3)
	return strings.Join(numbers[:min(2, len(numbers))], "."), nil
}
