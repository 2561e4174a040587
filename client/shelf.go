package client

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strconv"

	"damselfly.example/damselfly/internal/core/compared"
	"damselfly.example/damselfly/internal/wire"
)

// The shapes of a shelf.
type (
	KitPage     = wire.KitPage
	KitFiles    = wire.KitFiles
	KitFile     = wire.KitFile
	Comparison  = compared.Comparison
	TakeEdition = wire.TakeEdition
	Bookmark    = wire.Bookmark
)

func kitPath(kit, rest string) string { return "/api/kits/" + url.PathEscape(kit) + rest }

// KitPage tells all of a kit: its editions, description and rules.
func (c *Client) KitPage(ctx context.Context, kit string) (KitPage, error) {
	var page KitPage
	return page, c.call(ctx, http.MethodGet, kitPath(kit, ""), nil, &page)
}

// Lacking tells which of some files, by their hashes, the service does not have of the maker.
func (c *Client) Lacking(ctx context.Context, hashes []string) ([]string, error) {
	var out wire.Hashes
	return out.Hashes, c.call(ctx, http.MethodPost, "/api/files/lacking", wire.Hashes{Hashes: hashes}, &out)
}

// PutFile sends a file of a kit, to be named by its hash in PutEdition.
func (c *Client) PutFile(ctx context.Context, file io.Reader, size int64) error {
	r, err := http.NewRequestWithContext(ctx, http.MethodPost, c.base+"/api/files", file)
	if err != nil {
		return err
	}
	r.ContentLength = size
	r.Header.Set("Content-Type", "application/octet-stream")
	return c.send(r, nil)
}

// PutEdition keeps a kit whose files are at the service.
func (c *Client) PutEdition(ctx context.Context, files KitFiles) (KitPut, error) {
	var put KitPut
	return put, c.call(ctx, http.MethodPost, "/api/editions", files, &put)
}

// Compare tells what differs between two editions of a kit; to is the newest for 0.
func (c *Client) Compare(ctx context.Context, kit string, from, to int) (Comparison, error) {
	var out Comparison
	return out, c.call(ctx, http.MethodGet, kitPath(kit, "/compare?from="+strconv.Itoa(from)+"&to="+strconv.Itoa(to)), nil, &out)
}

// Picture is the file of a picture by its name, in full size.
func (c *Client) Picture(ctx context.Context, name string) (file []byte, err error) {
	return file, c.call(ctx, http.MethodGet, "/pictures/"+url.PathEscape(name)+"/full", nil, &file)
}

// RemoveKit takes a kit off the maker's shelf. It can be brought back for 30 days.
func (c *Client) RemoveKit(ctx context.Context, kit string) error {
	return c.call(ctx, http.MethodDelete, kitPath(kit, ""), nil, nil)
}

// RestoreKit brings a removed kit back, by its id.
func (c *Client) RestoreKit(ctx context.Context, kit string) error {
	return c.call(ctx, http.MethodPost, kitPath(kit, "/restore"), nil, nil)
}

// TakeEdition takes another edition of its kit into a room.
func (c *Client) TakeEdition(ctx context.Context, room string, want TakeEdition) error {
	return c.call(ctx, http.MethodPost, "/api/rooms/"+url.PathEscape(room)+"/edition", want, nil)
}

// BringDeck brings a deck of a kit onto a room's table, as a pile of its own.
func (c *Client) BringDeck(ctx context.Context, room, kit, deck string) error {
	return c.call(ctx, http.MethodPost, "/api/rooms/"+url.PathEscape(room)+"/decks", wire.BringDeck{Kit: kit, Deck: deck}, nil)
}

// RemoveRoom takes a room away. It can be brought back for 30 days.
func (c *Client) RemoveRoom(ctx context.Context, room string) error {
	return c.call(ctx, http.MethodDelete, "/api/rooms/"+url.PathEscape(room), nil, nil)
}

// EndRoom ends the game of a room.
func (c *Client) EndRoom(ctx context.Context, room string) error {
	return c.call(ctx, http.MethodPost, "/api/rooms/"+url.PathEscape(room)+"/end", nil, nil)
}

// FreeSeat frees a seat of a room: its keys end, its cards stay for whoever takes it.
func (c *Client) FreeSeat(ctx context.Context, room string, seat SeatNumber) error {
	return c.call(ctx, http.MethodPost, fmt.Sprintf("/api/rooms/%s/seats/%d/free", url.PathEscape(room), seat), nil, nil)
}

// MakeHost makes a seat of a room its host.
func (c *Client) MakeHost(ctx context.Context, room string, seat SeatNumber) error {
	return c.call(ctx, http.MethodPost, fmt.Sprintf("/api/rooms/%s/seats/%d/host", url.PathEscape(room), seat), nil, nil)
}

// SetPasscode has a room ask whoever joins for another passcode, or for none.
func (c *Client) SetPasscode(ctx context.Context, room, passcode string) error {
	return c.call(ctx, http.MethodPut, "/api/rooms/"+url.PathEscape(room)+"/passcode", wire.SetPasscode{Passcode: passcode}, nil)
}

// SetOrigins lets pages of other addresses, such as https://game.example, ask about a room, in place of those before.
func (c *Client) SetOrigins(ctx context.Context, room string, origins []string) error {
	return c.call(ctx, http.MethodPut, "/api/rooms/"+url.PathEscape(room)+"/origins", wire.SetOrigins{Origins: append([]string{}, origins...)}, nil)
}

// AddBookmark keeps a room's table under a name; everybody there is told.
func (c *Client) AddBookmark(ctx context.Context, room, name string) (Bookmark, error) {
	var b Bookmark
	return b, c.call(ctx, http.MethodPost, "/api/rooms/"+url.PathEscape(room)+"/bookmarks", wire.BookmarkName{Name: name}, &b)
}

// Bookmarks lists the maker's bookmarks, the newest first.
func (c *Client) Bookmarks(ctx context.Context) ([]Bookmark, error) {
	var out wire.Bookmarks
	err := c.call(ctx, http.MethodGet, "/api/bookmarks", nil, &out)
	return out.Bookmarks, err
}

// RenameBookmark gives a bookmark another name.
func (c *Client) RenameBookmark(ctx context.Context, bookmark, name string) error {
	return c.call(ctx, http.MethodPatch, "/api/bookmarks/"+url.PathEscape(bookmark), wire.BookmarkName{Name: name}, nil)
}

// RemoveBookmark takes a bookmark away.
func (c *Client) RemoveBookmark(ctx context.Context, bookmark string) error {
	return c.call(ctx, http.MethodDelete, "/api/bookmarks/"+url.PathEscape(bookmark), nil, nil)
}

// Bookmark takes a bookmark away as one file, with its kit.
func (c *Client) Bookmark(ctx context.Context, bookmark string) ([]byte, error) {
	var file []byte
	return file, c.call(ctx, http.MethodGet, "/api/bookmarks/"+url.PathEscape(bookmark)+"/file", nil, &file)
}

// BringBookmark brings a bookmark that was taken away.
func (c *Client) BringBookmark(ctx context.Context, file []byte) (Bookmark, error) {
	var b Bookmark
	r, err := http.NewRequestWithContext(ctx, http.MethodPost, c.base+"/api/bookmarks", bytes.NewReader(file))
	if err != nil {
		return b, err
	}
	r.Header.Set("Content-Type", "application/zip")
	return b, c.send(r, &b)
}
