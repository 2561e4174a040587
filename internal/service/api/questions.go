package api

import (
	"context"
	"damselfly.example/damselfly/internal/service/socket"
	"fmt"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/wire"
)

type lookAtPlace struct {
	InRoom
	Place string `query:"place" required:"true" doc:"A place's id, such as weather, satchel/2 or marsh/B3, or how Steps call it, such as my hand or satchel of Bo."`
}

type placeSeen struct {
	Body wire.PlaceSeen
}

type lookRound struct {
	InRoom
	Cell   string `query:"cell" required:"true" doc:"A cell such as marsh/B3, or as Steps call it, such as marsh B3, or a grid for all its cells."`
	Within int    `query:"within" minimum:"0" maximum:"100" doc:"At most so many steps away; any if left out."`
}

type cellsSeen struct {
	Body struct {
		Taken []sight.Place `json:"taken"`
		Faces sight.Faces   `json:"faces" doc:"What their cards show, by the words that they name it by."`
	}
}

type lookForDeck struct {
	InRoom
	Deck string `query:"deck" required:"true" doc:"Its key or name."`
}

type deckSeen struct {
	Body struct {
		Found []sight.Found `json:"found"`
	}
}

func (a *API) questionRoutes(h huma.API) {
	tags := []string{"questions"}
	view := func(ctx context.Context, in InRoom) (sight.View, error) {
		look, err := a.Rooms.View(ctx, in.Room, socket.At(callerOf(ctx).seat))
		return look.View, err
	}
	route(a, h, seat, huma.Operation{
		OperationID: "look-at-place", Method: http.MethodGet, Path: "/api/rooms/{room}/place", Tags: tags, Errors: []int{404},
		Summary: "What lies there, and how many", Description: "As far as you may see.",
	}, func(ctx context.Context, in *lookAtPlace) (*placeSeen, error) {
		v, err := view(ctx, in.InRoom)
		if err != nil {
			return nil, err
		}
		id, err := a.placeCalled(ctx, in.InRoom, v, in.Place)
		if err != nil {
			return nil, err
		}
		if p := v.Place(id); p != nil {
			return &placeSeen{wire.PlaceSeen{Place: *p, Faces: v.Faces.Of(*p)}}, nil
		}
		cell := sight.Place{ID: id, Laid: sight.Laid{Kind: table.Cell, Sight: table.Open}} // no card lies on it
		return &placeSeen{wire.PlaceSeen{Place: cell, Faces: sight.Faces{}}}, nil
	})
	route(a, h, seat, huma.Operation{
		OperationID: "cells-taken", Method: http.MethodGet, Path: "/api/rooms/{room}/cells", Tags: tags, Errors: []int{404},
		Summary: "Which cells around are taken",
	}, func(ctx context.Context, in *lookRound) (*cellsSeen, error) {
		v, err := view(ctx, in.InRoom)
		if err != nil {
			return nil, err
		}
		cell, err := a.placeCalled(ctx, in.InRoom, v, in.Cell)
		if err != nil {
			return nil, err
		}
		out := &cellsSeen{}
		var ok bool
		if out.Body.Taken, ok = v.Taken(cell, in.Within); !ok {
			return nil, wire.NoSuchPlace.With(wire.Problem{Title: "No such place", Detail: fmt.Sprintf("%q is no cell, and no grid.", in.Cell)})
		}
		out.Body.Faces = v.Faces.Of(out.Body.Taken...)
		return out, nil
	})
	route(a, h, seat, huma.Operation{
		OperationID: "find-deck", Method: http.MethodGet, Path: "/api/rooms/{room}/cards", Tags: tags, Errors: []int{404},
		Summary: "Where the cards of a deck are", Description: "As far as you may see.",
	}, func(ctx context.Context, in *lookForDeck) (*deckSeen, error) {
		v, err := view(ctx, in.InRoom)
		if err != nil {
			return nil, err
		}
		deck, err := a.Rooms.DeckNamed(ctx, in.Room, socket.At(callerOf(ctx).seat), in.Deck)
		if err != nil {
			return nil, err
		}
		out := &deckSeen{}
		out.Body.Found = v.Where(deck)
		return out, nil
	})
}

// placeCalled is the place or cell of a view that has an id, or is called so in Steps.
func (a *API) placeCalled(ctx context.Context, in InRoom, v sight.View, text string) (table.PlaceID, error) {
	id := table.PlaceID(text)
	isThere := func(id table.PlaceID) bool {
		_, isCell := v.Taken(id, 0)
		return isCell || v.Place(id) != nil
	}
	if isThere(id) {
		return id, nil
	}
	id, err := a.Rooms.PlaceNamed(ctx, in.Room, socket.At(callerOf(ctx).seat), text)
	if err == nil && !isThere(id) { // it went meanwhile
		err = wire.NoSuchPlace.With(wire.Problem{Title: "No such place", Detail: fmt.Sprintf("There is no place %q on this table.", text)})
	}
	return id, err
}
