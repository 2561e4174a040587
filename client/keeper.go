package client

import (
	"context"
	"io"
	"net/http"
	"strconv"

	"damselfly.example/damselfly/internal/wire"
)

// What a keeper sees of the service.
type (
	Status     = wire.Status
	UnusedRoom = wire.UnusedRoom
)

// Status tells how the service is. This and what follows is for who has the keeper's key.
func (c *Client) Status(ctx context.Context) (Status, error) {
	var s Status
	return s, c.call(ctx, http.MethodGet, "/api/keeper/status", nil, &s)
}

// UnusedRooms lists rooms in which nothing was done for some days.
func (c *Client) UnusedRooms(ctx context.Context, days int) ([]UnusedRoom, error) {
	var out wire.UnusedRooms
	return out.Rooms, c.call(ctx, http.MethodGet, "/api/keeper/unused?days="+strconv.Itoa(days), nil, &out)
}

// Backup writes all records of the service, as they are at one moment, as one zip.
func (c *Client) Backup(ctx context.Context, to io.Writer) error {
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, c.base+"/api/keeper/backup", nil)
	if err != nil {
		return err
	}
	return c.send(r, to)
}

// Restore puts a backup in place of all records of the service.
func (c *Client) Restore(ctx context.Context, backup io.Reader, size int64) error {
	r, err := http.NewRequestWithContext(ctx, http.MethodPost, c.base+"/api/keeper/restore", backup)
	if err != nil {
		return err
	}
	r.ContentLength = size
	r.Header.Set("Content-Type", "application/zip")
	return c.send(r, nil)
}
