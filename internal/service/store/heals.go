package store

import (
	"context"
	"database/sql/driver"
	"errors"
	"net"

	"github.com/go-sql-driver/mysql"
)

// healing are the errors of MariaDB that pass: it is full, ends, starts, or gave one
// transaction up in favour of another.
var healing = map[uint16]bool{
	1021: true, // disk full
	1040: true, // too many connections
	1041: true, // out of memory
	1053: true, // shutting down
	1105: true, // unknown error
	1114: true, // a table is full
	1180: true, // error during commit
	1205: true, // waited too long for a lock
	1213: true, // deadlock
	1290: true, // read only for now
	1317: true, // interrupted
	1836: true, // read only
	1927: true, // connection killed
	3024: true, // took too long
	1047: true, // a cluster node that is not ready
}

// Heals reports whether trying again may succeed: the database is gone, full or busy.
// Any other error is about what was to be kept, and stays.
func Heals(err error) bool {
	var answered *mysql.MySQLError
	if errors.As(err, &answered) {
		return healing[answered.Number]
	}
	var network net.Error
	return errors.As(err, &network) || errors.Is(err, driver.ErrBadConn) || errors.Is(err, mysql.ErrInvalidConn) ||
		errors.Is(err, context.DeadlineExceeded) || errors.Is(err, context.Canceled) || isClosed(err)
}

// Conflict reports whether the database gave this up in favour of another transaction: it is there, and the same again
// may succeed at once.
func Conflict(err error) bool {
	var answered *mysql.MySQLError
	return errors.As(err, &answered) && (answered.Number == 1213 || answered.Number == 1205 || answered.Number == 1020)
}

// isClosed reports whether the connections were closed here.
func isClosed(err error) bool {
	return err != nil && (err.Error() == "sql: database is closed" || errors.Is(err, net.ErrClosed))
}
