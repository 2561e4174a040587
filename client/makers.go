package client

import (
	"context"
	"net/http"
	"net/url"
	"strconv"
)

// Maker is whose shelf the client's key opens.
func (c *Client) Maker(ctx context.Context) (Maker, error) {
	var m Maker
	return m, c.call(ctx, http.MethodGet, "/api/maker", nil, &m)
}

// Makers lists all makers. This and what follows is for who has the keeper's key.
func (c *Client) Makers(ctx context.Context) ([]Maker, error) {
	var out struct{ Makers []Maker }
	err := c.call(ctx, http.MethodGet, "/api/makers", nil, &out)
	return out.Makers, err
}

// AddMaker adds a maker, and tells once how they come in.
func (c *Client) AddMaker(ctx context.Context, name string) (MakerIn, error) {
	var in MakerIn
	return in, c.call(ctx, http.MethodPost, "/api/makers", map[string]string{"name": name}, &in)
}

// RenewMaker gives a maker another key. The others end, unless beside is set.
func (c *Client) RenewMaker(ctx context.Context, maker string, beside bool) (MakerIn, error) {
	var in MakerIn
	return in, c.call(ctx, http.MethodPost, "/api/makers/"+url.PathEscape(maker)+"/keys?beside="+strconv.FormatBool(beside), nil, &in)
}

// EndMaker ends all keys of a maker, or the one of that name.
func (c *Client) EndMaker(ctx context.Context, maker, key string) error {
	return c.call(ctx, http.MethodDelete, "/api/makers/"+url.PathEscape(maker)+"/keys?key="+url.QueryEscape(key), nil, nil)
}
