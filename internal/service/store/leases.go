package store

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"strings"
	"sync"
	"time"

	"github.com/go-sql-driver/mysql"
	"github.com/jmoiron/sqlx"
)

// Where several services share the records, each room is held by one of them at a time. A service says again and again that it
// lives, by raising its beat. Who watches measures with its own clock how long another's beat stands still; no clock is compared
// with another. Whoever takes a room of a service that stood still for leaseTime fences that service first: both, fencing and
// appending, write the same row, so nothing is appended by who was followed. Who was fenced begins anew under another name.

// leaseTime is for how long a service may give no sign of life and still hold its rooms.
const leaseTime = 3 * time.Second

// ErrHeld is returned for what only the service that holds a room may do.
var ErrHeld = errors.New("another service holds this room")

// errFenced is the number with which the database refuses what a fenced service appends.
const errFenced = 31001

// started is when this program was, where there is no better clock.
var started = time.Now()

// lease is this service among those that share the records.
type lease struct {
	mu      sync.Mutex
	service string // its name; another one once it was fenced
	address string
	peers   map[string]*peer
	packets *sqlx.DB // sends each statement as one packet
}

// peer is another service, as this one sees it.
type peer struct {
	address string
	beat    int64
	since   time.Duration // when that beat was first seen
	fenced  bool
	lives   context.Context // ends when it stands still, is fenced or has left
	ends    context.CancelFunc
}

// Share has this service share the records with others, which reach it at an address. Without it, the
// service is alone and holds every room.
func (s *Store) Share(ctx context.Context, address string) error {
	packets, err := connect(ctx, s.dsn, func(c *mysql.Config) { c.InterpolateParams = true })
	if err != nil {
		return err
	}
	packets.SetMaxOpenConns(6)
	s.lease = &lease{address: address, peers: map[string]*peer{}, packets: packets}
	if err := s.begin(ctx); err != nil {
		return err
	}
	return s.watch(ctx)
}

// begin takes a name among the services. Nobody has heard of it, so it holds nothing.
func (s *Store) begin(ctx context.Context) error {
	id := rand.Text()
	_, err := s.db.ExecContext(ctx, "INSERT INTO services (id, address) VALUES (?, ?)", id, s.lease.address)
	if err == nil {
		s.lease.mu.Lock()
		s.lease.service = id
		s.lease.mu.Unlock()
	}
	return err
}

// Shares reports whether other services may be there.
func (s *Store) Shares() bool { return s.lease != nil }

// Service is the name of this service among those that share the records. Only they know it.
func (s *Store) Service() string {
	if s.lease == nil {
		return ""
	}
	s.lease.mu.Lock()
	defer s.lease.mu.Unlock()
	return s.lease.service
}

// IsService reports whether a service of this name shares the records.
func (s *Store) IsService(ctx context.Context, id string) (is bool, err error) {
	err = s.db.GetContext(ctx, &is, "SELECT EXISTS (SELECT 1 FROM services WHERE id = ? AND NOT fenced)", id)
	return is, err
}

// watch looks at the beats of all services.
func (s *Store) watch(ctx context.Context) error {
	var rows []struct {
		ID      string `db:"id"`
		Address string `db:"address"`
		Beat    int64  `db:"beat"`
		Fenced  bool   `db:"fenced"`
	}
	if err := s.db.SelectContext(ctx, &rows, "SELECT id, address, beat, fenced FROM services"); err != nil {
		return err
	}
	l, now := s.lease, sinceBoot()
	l.mu.Lock()
	defer l.mu.Unlock()
	there := map[string]bool{}
	for _, row := range rows {
		if row.ID == l.service {
			continue
		}
		there[row.ID] = true
		p := l.peers[row.ID]
		if p == nil || p.beat != row.Beat {
			if p == nil || p.lives.Err() != nil {
				p = &peer{address: row.Address}
				p.lives, p.ends = context.WithCancel(context.Background())
			}
			p.beat, p.since = row.Beat, now
			l.peers[row.ID] = p
		}
		if p.fenced = row.Fenced; p.fenced || now-p.since > leaseTime {
			p.ends()
		}
	}
	for id, p := range l.peers {
		if !there[id] {
			p.ends()
			delete(l.peers, id)
		}
	}
	return nil
}

// living is another service that lives as far as this one sees; nil for one that does not. One that was never
// seen counts as living until it was watched for long enough.
func (s *Store) living(ctx context.Context, id string) (*peer, error) {
	if err := s.watch(ctx); err != nil {
		return nil, err
	}
	s.lease.mu.Lock()
	defer s.lease.mu.Unlock()
	p := s.lease.peers[id]
	if p == nil || p.lives.Err() != nil {
		return nil, nil
	}
	return p, nil
}

// HeldAt is the address of the other service that holds a room, empty where none does, and a context that ends when
// that service lives no more: what is passed on to it ends then, too.
func (s *Store) HeldAt(ctx context.Context, room string) (address string, lives context.Context, err error) {
	var holder string
	err = s.db.GetContext(ctx, &holder, "SELECT service FROM holders WHERE room = ?", room)
	if notFound(err) == ErrNotFound || err == nil && holder == s.Service() {
		return "", nil, nil
	}
	if err != nil {
		return "", nil, err
	}
	p, err := s.living(ctx, holder)
	if err != nil || p == nil {
		return "", nil, err
	}
	return p.address, p.lives, nil
}

// Hold takes a room for this service. It returns ErrHeld while another one that lives holds it, and ErrNotFound if there is no
// such room. What the former holder has under way is kept before, or never.
func (s *Store) Hold(ctx context.Context, room string) error {
	if !s.Shares() {
		return nil
	}
	mine := s.Service()
	return s.within(ctx, func(tx *sqlx.Tx) error {
		if err := s.beats(ctx, tx, mine); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, "INSERT IGNORE INTO holders (room, service, epoch) SELECT id, ?, 1 FROM rooms WHERE id = ?", mine, room); err != nil {
			return err
		}
		var holder string
		if err := tx.GetContext(ctx, &holder, "SELECT service FROM holders WHERE room = ? FOR UPDATE", room); err != nil {
			return notFound(err)
		}
		if holder == mine {
			return nil
		}
		p, err := s.living(ctx, holder)
		if err != nil {
			return err
		}
		if p != nil {
			return fmt.Errorf("room %s: %w", room, ErrHeld)
		}
		if _, err := tx.ExecContext(ctx, "UPDATE services SET fenced = TRUE, beat = beat + 1 WHERE id = ?", holder); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, "UPDATE holders SET service = ?, epoch = epoch + 1 WHERE room = ?", mine, room)
		return err
	})
}

// beats raises this service's beat, or is ErrHeld if it was fenced.
func (s *Store) beats(ctx context.Context, db sqlx.ExecerContext, service string) error {
	result, err := db.ExecContext(ctx, "UPDATE services SET beat = beat + 1 WHERE id = ? AND fenced = FALSE", service)
	if err != nil {
		return err
	}
	if n, err := result.RowsAffected(); err != nil || n != 1 {
		return errors.Join(fmt.Errorf("this service was followed by another: %w", ErrHeld), err)
	}
	return nil
}

// appendShared appends entries if this service still holds what it held, in one packet: whoever sends it and
// then stands still holds no lock that others wait for.
func (s *Store) appendShared(ctx context.Context, entries []Entry) error {
	text, values := "UPDATE services SET beat = beat + 1 WHERE id = ? AND fenced = FALSE", []any{s.Service()}
	var b strings.Builder
	b.WriteString("BEGIN NOT ATOMIC\nDECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN ROLLBACK; RESIGNAL; END;\nSTART TRANSACTION;\n" + text + ";\n")
	fmt.Fprintf(&b, "IF ROW_COUNT() <> 1 THEN SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = %d, MESSAGE_TEXT = 'fenced'; END IF;\n", errFenced)
	for _, one := range statementsOf(entries) {
		b.WriteString(one.text + ";\n")
		values = append(values, one.values...)
	}
	b.WriteString("COMMIT;\nEND")
	for try := 1; ; try++ {
		_, err := s.lease.packets.ExecContext(ctx, b.String(), values...)
		var e *mysql.MySQLError
		if errors.As(err, &e) && e.Number == errFenced {
			return fmt.Errorf("this service was followed by another: %w", ErrHeld)
		}
		if err == nil || try == 5 || e == nil || e.Number != 1213 && e.Number != 1205 {
			return err
		}
	}
}

// Live says that this service lives, looks at the others, and returns the rooms that it holds. One that was fenced
// begins anew, and holds none.
func (s *Store) Live(ctx context.Context) (rooms []string, err error) {
	mine := s.Service()
	err = s.beats(ctx, s.db, mine)
	if errors.Is(err, ErrHeld) {
		if err = s.begin(ctx); err == nil {
			mine = s.Service()
		}
	}
	if err == nil {
		err = s.watch(ctx)
	}
	if err != nil {
		return nil, err
	}
	err = s.db.SelectContext(ctx, &rooms, "SELECT room FROM holders WHERE service = ?", mine)
	return rooms, err
}

// Alone reports whether no other service that shares the records lives. Those that are seen for the first time are
// watched for as long as it takes to tell.
func (s *Store) Alone(ctx context.Context) (bool, error) {
	if !s.Shares() {
		var others bool
		err := s.db.GetContext(ctx, &others, "SELECT EXISTS (SELECT 1 FROM services WHERE NOT fenced)")
		if err != nil || !others {
			return err == nil, err
		}
		before, err := s.allBeats(ctx)
		if err != nil {
			return false, err
		}
		select {
		case <-time.After(leaseTime + time.Second):
		case <-ctx.Done():
			return false, ctx.Err()
		}
		after, err := s.allBeats(ctx)
		return err == nil && before == after, err
	}
	for end := sinceBoot() + leaseTime + time.Second; ; {
		if err := s.watch(ctx); err != nil {
			return false, err
		}
		living := 0
		s.lease.mu.Lock()
		for _, p := range s.lease.peers {
			if p.lives.Err() == nil {
				living++
			}
		}
		s.lease.mu.Unlock()
		if living == 0 || sinceBoot() > end {
			return living == 0, nil
		}
		select {
		case <-time.After(200 * time.Millisecond):
		case <-ctx.Done():
			return false, ctx.Err()
		}
	}
}

func (s *Store) allBeats(ctx context.Context) (sum int64, err error) {
	err = s.db.GetContext(ctx, &sum, "SELECT COALESCE(SUM(beat), 0) FROM services WHERE NOT fenced")
	return sum, err
}

// Leave frees all rooms of this service, when everything of them is kept.
func (s *Store) Leave(ctx context.Context) error {
	mine := s.Service()
	return s.within(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "DELETE FROM holders WHERE service = ?", mine)
		if err == nil {
			_, err = tx.ExecContext(ctx, "DELETE FROM services WHERE id = ? OR fenced", mine)
		}
		return err
	})
}
