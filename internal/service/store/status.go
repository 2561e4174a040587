package store

import "context"

// Sizes is how much the records hold.
type Sizes struct {
	Makers   int   `db:"makers"`
	Kits     int   `db:"kits"`
	Rooms    int   `db:"rooms"`
	Entries  int64 `db:"entries"`  // of all journals, about
	Journal  int64 `db:"journal"`  // bytes of the journals and snapshots, about
	Pictures int64 `db:"pictures"` // bytes of pictures and files, about
}

// Sizes tells how much the records hold. What the database would have to count is its estimate.
func (s *Store) Sizes(ctx context.Context) (sizes Sizes, err error) {
	err = s.db.GetContext(ctx, &sizes, `
		SELECT (SELECT COUNT(*) FROM makers WHERE ended_at IS NULL) AS makers,
			(SELECT COUNT(*) FROM kits WHERE removed_at IS NULL) AS kits,
			(SELECT COUNT(*) FROM rooms WHERE removed_at IS NULL) AS rooms,
			COALESCE((SELECT table_rows FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'journal'), 0) AS entries,
			COALESCE((SELECT SUM(data_length + index_length) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name IN ('journal', 'snapshots')), 0) AS journal,
			COALESCE((SELECT SUM(data_length) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name IN ('pictures', 'file_parts')), 0) AS pictures`)
	return sizes, err
}

// Versions are those of the database's server and of its schema.
func (s *Store) Versions(ctx context.Context) (server string, schema int64, err error) {
	if err = s.db.GetContext(ctx, &server, "SELECT VERSION()"); err != nil {
		return "", 0, err
	}
	schema, err = s.Schema(ctx)
	return server, schema, err
}
