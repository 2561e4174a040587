package store

import (
	"context"
	"fmt"
	"maps"
	"slices"

	"github.com/jmoiron/sqlx"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
)

func addPictures(ctx context.Context, tx *sqlx.Tx, pictures deck.Pictures) error {
	for _, address := range slices.Sorted(maps.Keys(pictures)) {
		_, err := tx.ExecContext(ctx, "INSERT INTO pictures (address, bytes, kept_at) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE kept_at = VALUES(kept_at)", address, pictures[address], Now())
		if err != nil {
			return fmt.Errorf("keeping a picture: %w", err)
		}
	}
	return nil
}

// AddPictures keeps pictures, all of them or none.
func (s *Store) AddPictures(ctx context.Context, pictures deck.Pictures) error {
	return s.within(ctx, func(tx *sqlx.Tx) error { return addPictures(ctx, tx, pictures) })
}

// addSmaller keeps which picture of an edition's cards is which, smaller.
func addSmaller(ctx context.Context, db sqlx.ExtContext, edition kit.Edition) error {
	smaller := map[string]string{}
	note := func(p table.Picture) {
		if p.Full != "" && p.Small != "" {
			smaller[p.Full] = p.Small
		}
	}
	note(edition.Picture)
	for _, d := range edition.Decks {
		note(d.Veil)
		for _, design := range d.Designs {
			note(design.Front)
			note(design.Back)
		}
	}
	for _, full := range slices.Sorted(maps.Keys(smaller)) {
		if _, err := db.ExecContext(ctx, "INSERT IGNORE INTO smaller (full, small) VALUES (?, ?)", full, smaller[full]); err != nil {
			return fmt.Errorf("keeping the names of pictures: %w", err)
		}
	}
	return nil
}

// nameFormerPictures does so for the editions that were kept before it was.
func (s *Store) nameFormerPictures(ctx context.Context) error {
	var known bool
	if err := s.db.GetContext(ctx, &known, "SELECT EXISTS (SELECT 1 FROM smaller)"); err != nil || known {
		return err
	}
	var rows []struct {
		Kit    string `db:"kit"`
		Number int    `db:"number"`
	}
	if err := s.db.SelectContext(ctx, &rows, "SELECT kit, number FROM editions"); err != nil {
		return err
	}
	for _, row := range rows {
		edition, err := s.Edition(ctx, row.Kit, row.Number)
		if err != nil {
			return err
		}
		if err := addSmaller(ctx, s.db, edition); err != nil {
			return err
		}
	}
	return nil
}

// Picture returns the bytes of a picture, or ErrNotFound.
func (s *Store) Picture(ctx context.Context, address string) ([]byte, error) {
	var text []byte
	err := s.db.GetContext(ctx, &text, "SELECT bytes FROM pictures WHERE address = ?", address)
	return text, notFound(err)
}

// PictureNamed returns the bytes of the picture whose address begins so, small or in
// full, or ErrNotFound.
func (s *Store) PictureNamed(ctx context.Context, begins string, small bool) ([]byte, error) {
	query := "SELECT bytes FROM pictures WHERE address BETWEEN ? AND CONCAT(?, 'g') LIMIT 1"
	if small {
		query = "SELECT p.bytes FROM smaller s JOIN pictures p ON p.address = s.small WHERE s.full BETWEEN ? AND CONCAT(?, 'g') LIMIT 1"
	}
	var text []byte
	err := s.db.GetContext(ctx, &text, query, begins, begins)
	return text, notFound(err)
}
