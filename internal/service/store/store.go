// Package store keeps the service's records in MariaDB: keys, kits with their
// editions and pictures, rooms, journals and snapshots. Queries are plain SQL.
package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"sync/atomic"
	"time"

	"github.com/go-sql-driver/mysql"
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"

	"damselfly.example/damselfly/internal/core/sight"
)

//go:embed migrations
var migrations embed.FS

// Store is the records. It is safe for concurrent use.
type Store struct {
	db    *sqlx.DB
	dsn   string
	lease *lease // what it has among those that share the records; nil: it is alone
	names atomic.Pointer[sight.Names]
}

// ErrNotFound is returned where a record that was asked for is not there.
var ErrNotFound = errors.New("not found")

// Open connects to a database and brings its tables up to date.
func Open(ctx context.Context, dsn string) (*Store, error) {
	db, err := connect(ctx, dsn, func(*mysql.Config) {})
	if err != nil {
		return nil, fmt.Errorf("connecting to the database: %w", err)
	}
	db.SetMaxOpenConns(24)
	db.SetMaxIdleConns(24)
	db.SetConnMaxIdleTime(5 * time.Minute)
	s := &Store{db: db, dsn: dsn}
	err = s.migrate(ctx)
	if err == nil {
		err = s.readNames(ctx)
	}
	if err != nil {
		_ = db.Close()
		return nil, err
	}
	return s, nil
}

// connect connects to a database, whose connections speak utf8mb4 and see of each other what is committed, whatever
// the server's defaults are.
func connect(ctx context.Context, dsn string, change func(*mysql.Config)) (*sqlx.DB, error) {
	config, err := mysql.ParseDSN(dsn)
	if err != nil {
		return nil, err
	}
	config.Collation = "utf8mb4_bin"
	if config.Params == nil {
		config.Params = map[string]string{}
	}
	config.Params["tx_isolation"] = "'READ-COMMITTED'"
	change(config)
	connector, err := mysql.NewConnector(config)
	if err != nil {
		return nil, err
	}
	db := sqlx.NewDb(sql.OpenDB(connector), "mysql")
	if err := db.PingContext(ctx); err != nil {
		_ = db.Close()
		return nil, err
	}
	return db, nil
}

// migrationsOf are the steps from any earlier schema to this one: those of the folder, and what SQL cannot do.
func migrationsOf(db *sql.DB) (*goose.Provider, error) {
	folder, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	return goose.NewProvider(goose.DialectMySQL, db, folder, goose.WithGoMigrations(
		goose.NewGoMigration(3, &goose.GoFunc{RunDB: noteUses}, nil),
	))
}

// migrate runs the embedded migrations, one service at a time.
func (s *Store) migrate(ctx context.Context) error {
	lock, err := s.db.Connx(ctx)
	if err != nil {
		return err
	}
	defer lock.Close()
	var got sql.NullInt64
	if err := lock.GetContext(ctx, &got, "SELECT GET_LOCK('damselfly migrations', 60)"); err != nil || got.Int64 != 1 {
		return fmt.Errorf("waiting for another service to bring the database up to date: %w", err)
	}
	defer lock.ExecContext(context.WithoutCancel(ctx), "SELECT RELEASE_LOCK('damselfly migrations')") //nolint:errcheck // closing releases it too
	provider, err := migrationsOf(s.db.DB)
	if err != nil {
		return err
	}
	if now, err := provider.GetDBVersion(ctx); err == nil && now == 0 { // its tables take after the database
		if _, err := s.db.ExecContext(ctx, "ALTER DATABASE CHARACTER SET utf8mb4 COLLATE utf8mb4_bin"); err != nil {
			return fmt.Errorf("having the database keep text as utf8mb4: %w", err)
		}
	}
	known := provider.ListSources()
	if now, err := provider.GetDBVersion(ctx); err == nil && len(known) > 0 && now > known[len(known)-1].Version {
		return fmt.Errorf("the database has schema %d, and this Damselfly knows schema %d: it was used by a newer Damselfly, or by an unreleased one. Run that one, or name another database", now, known[len(known)-1].Version)
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("bringing the database up to date: %w", err)
	}
	return nil
}

// Ping reports whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.db.PingContext(ctx) }

// Close closes all connections.
func (s *Store) Close() error {
	if s.lease != nil {
		_ = s.lease.packets.Close()
	}
	return s.db.Close()
}

// Hash is how keys are kept: never themselves. Keys have 128 random bits, so
// a fast hash does.
func Hash(key string) []byte {
	sum := sha256.Sum256([]byte(key))
	return sum[:]
}

// isDuplicate reports whether an insert met a row with the same key.
func isDuplicate(err error) bool {
	var e *mysql.MySQLError
	return errors.As(err, &e) && e.Number == 1062
}

func notFound(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNotFound
	}
	return err
}

// within runs a transaction, again if the database gave up on it in favour of
// another one (a deadlock, or a conflict at commit on a cluster).
func (s *Store) within(ctx context.Context, do func(*sqlx.Tx) error) error {
	for try := 1; ; try++ {
		err := s.once(ctx, do)
		var e *mysql.MySQLError
		if err == nil || try == 5 || !errors.As(err, &e) || e.Number != 1213 && e.Number != 1205 {
			return err
		}
	}
}

func (s *Store) once(ctx context.Context, do func(*sqlx.Tx) error) error {
	tx, err := s.db.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	if err := do(tx); err != nil {
		_ = tx.Rollback()
		return err
	}
	return tx.Commit()
}
