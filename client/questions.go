package client

import (
	"context"
	"net/http"
	"net/url"
	"strconv"

	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/wire"
)

// The shapes of answers to questions.
type (
	Place = wire.PlaceSeen
	Found = sight.Found
)

// Place tells what lies at a place, such as "weather" or "marsh/B3".
func (s *Seat) Place(ctx context.Context, id PlaceID) (Place, error) {
	var p Place
	return p, s.client.call(ctx, http.MethodGet, s.path("/place?place="+url.QueryEscape(string(id))), nil, &p)
}

// Taken tells which cells lie taken within some steps of a cell, or of a whole
// grid.
func (s *Seat) Taken(ctx context.Context, cell PlaceID, within int) ([]Place, error) {
	var out struct {
		Taken []sight.Place
		Faces sight.Faces
	}
	path := s.path("/cells?cell=" + url.QueryEscape(string(cell)) + "&within=" + strconv.Itoa(within))
	err := s.client.call(ctx, http.MethodGet, path, nil, &out)
	places := make([]Place, len(out.Taken))
	for i, p := range out.Taken {
		places[i] = Place{Place: p, Faces: out.Faces.Of(p)}
	}
	return places, err
}

// Where tells where the cards of a deck are, as far as the seat may see.
func (s *Seat) Where(ctx context.Context, deck string) ([]Found, error) {
	var out struct{ Found []Found }
	err := s.client.call(ctx, http.MethodGet, s.path("/cards?deck="+url.QueryEscape(deck)), nil, &out)
	return out.Found, err
}
