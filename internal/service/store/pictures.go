package store

import (
	"context"
	"crypto/rand"
	"fmt"
	"maps"
	"slices"

	"github.com/jmoiron/sqlx"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sight"
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

// BringPicture keeps a picture in both its sizes that somebody brings to a table.
func (s *Store) BringPicture(ctx context.Context, named table.Picture, pictures deck.Pictures) error {
	return s.within(ctx, func(tx *sqlx.Tx) error {
		if err := addPictures(ctx, tx, pictures); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "INSERT IGNORE INTO smaller (full, small) VALUES (?, ?)", named.Full, named.Small)
		return err
	})
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
	note(edition.Mat)
	for _, sides := range edition.Tokens {
		for _, side := range sides {
			note(side)
		}
	}
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

// Picture returns the bytes of a picture, or ErrNotFound.
func (s *Store) Picture(ctx context.Context, address string) ([]byte, error) {
	var text []byte
	err := s.db.GetContext(ctx, &text, "SELECT bytes FROM pictures WHERE address = ?", address)
	return text, notFound(err)
}

// PictureNamed returns the bytes of the picture of a name, small or in full, or ErrNotFound. What has no
// smaller one is small itself.
func (s *Store) PictureNamed(ctx context.Context, name sight.PictureName, small bool) ([]byte, error) {
	p, err := s.pictureOf(ctx, name)
	if err != nil {
		return nil, err
	}
	if small {
		return s.Picture(ctx, p.Small)
	}
	return s.Picture(ctx, p.Full)
}

// pictureOf finds a picture by its name, or is ErrNotFound.
func (s *Store) pictureOf(ctx context.Context, name sight.PictureName) (table.Picture, error) {
	begins := s.Names().Begins(name)
	if begins == "" {
		return table.Picture{}, ErrNotFound
	}
	var row struct {
		Full  string `db:"address"`
		Small string `db:"small"`
	}
	err := s.db.GetContext(ctx, &row, `SELECT p.address, COALESCE(s.small, p.address) AS small FROM pictures p LEFT JOIN smaller s ON s.full = p.address
		WHERE p.address BETWEEN ? AND CONCAT(?, 'g') LIMIT 1`, begins, begins)
	return table.Picture{Small: row.Small, Full: row.Full}, notFound(err)
}

// Inside has the pictures that an action names, which is how they are told of outside, be those of the
// records. What names none is ErrNotFound: an address is no name.
func (s *Store) Inside(ctx context.Context, a table.Action) (table.Action, error) {
	one := func(p *table.Picture) error {
		if p == nil || *p == (table.Picture{}) {
			return nil
		}
		found, err := s.pictureOf(ctx, sight.PictureName(p.Full))
		*p = found
		return err
	}
	switch a := a.(type) {
	case table.All:
		for i := range a.Actions {
			inside, err := s.Inside(ctx, a.Actions[i])
			if err != nil {
				return nil, err
			}
			a.Actions[i] = inside
		}
	case table.LayTable:
		return a, one(a.Mat)
	case table.LayPiece:
		if a.Faces == nil {
			return a, nil
		}
		for i := range *a.Faces {
			if err := one(&(*a.Faces)[i]); err != nil {
				return nil, err
			}
		}
	}
	return a, nil
}

// Names are how pictures are called outside of the service.
func (s *Store) Names() sight.Names { return *s.names.Load() }

// readNames reads the secret of pictures' names, and makes it where there is none.
func (s *Store) readNames(ctx context.Context) error {
	fresh := make([]byte, sight.SecretBytes)
	_, _ = rand.Read(fresh) // never fails
	if _, err := s.db.ExecContext(ctx, "INSERT IGNORE INTO secrets (name, value) VALUES ('pictures', ?)", fresh); err != nil {
		return err
	}
	var secret []byte
	if err := s.db.GetContext(ctx, &secret, "SELECT value FROM secrets WHERE name = 'pictures'"); err != nil {
		return err
	}
	names, err := sight.NewNames(secret)
	s.names.Store(&names)
	return err
}
