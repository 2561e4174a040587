package store

import (
	"context"

	"github.com/jmoiron/sqlx"
)

// MigrateTo brings an empty database to an earlier schema, as an earlier program left it.
func MigrateTo(ctx context.Context, db *sqlx.DB, schema int64) error {
	provider, err := migrationsOf(db.DB)
	if err == nil {
		_, err = provider.UpTo(ctx, schema)
	}
	return err
}
