package api

import (
	"archive/zip"
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"io/fs"
	"maps"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

// OfBookmark is the bookmark in a path. It is exported because only so the library finds
// it where it is embedded.
type OfBookmark struct {
	Bookmark string `path:"bookmark" maxLength:"16"`
}

type bookmarkShown struct {
	Body wire.Bookmark
}

func (a *API) bookmarkRoutes(h huma.API) {
	tags := []string{"bookmarks"}
	route(a, h, maker, huma.Operation{
		OperationID: "list-bookmarks", Method: http.MethodGet, Path: "/api/bookmarks", Summary: "List your bookmarks", Tags: tags,
	}, func(ctx context.Context, _ *struct{}) (*struct{ Body wire.Bookmarks }, error) {
		all, err := a.Store.Bookmarks(ctx, callerOf(ctx).maker.ID)
		out := &struct{ Body wire.Bookmarks }{wire.Bookmarks{Bookmarks: []wire.Bookmark{}}}
		for _, b := range all {
			out.Body.Bookmarks = append(out.Body.Bookmarks, shownBookmark(b))
		}
		return out, err
	})
	route(a, h, maker, huma.Operation{
		OperationID: "add-bookmark", Method: http.MethodPost, Path: "/api/rooms/{room}/bookmarks", Summary: "Keep a room's table under a name",
		Description: "Any number of rooms can begin from it, with seats unclaimed and hands hidden as they are. Whoever opens such a room can see what lies hidden, " +
			"so everybody in this one is told.",
		Tags: tags, DefaultStatus: http.StatusCreated, Errors: []int{404, 409, 422},
	}, a.addBookmark)
	route(a, h, maker, huma.Operation{
		OperationID: "rename-bookmark", Method: http.MethodPatch, Path: "/api/bookmarks/{bookmark}", Summary: "Rename a bookmark", Tags: tags,
		DefaultStatus: http.StatusNoContent, Errors: []int{404, 422},
	}, func(ctx context.Context, in *struct {
		OfBookmark
		Body wire.BookmarkName
	}) (*struct{}, error) {
		name, err := goodTitle(in.Body.Name)
		if err != nil {
			return nil, err
		}
		return nil, noSuchBookmark(in.Bookmark, a.Store.RenameBookmark(ctx, callerOf(ctx).maker.ID, in.Bookmark, name))
	})
	route(a, h, maker, huma.Operation{
		OperationID: "remove-bookmark", Method: http.MethodDelete, Path: "/api/bookmarks/{bookmark}", Summary: "Take a bookmark away", Tags: tags,
		Description: "Rooms that began from it go on.", DefaultStatus: http.StatusNoContent, Errors: []int{404},
	}, func(ctx context.Context, in *OfBookmark) (*struct{}, error) {
		return nil, noSuchBookmark(in.Bookmark, a.Store.RemoveBookmark(ctx, callerOf(ctx).maker.ID, in.Bookmark))
	})
	route(a, h, maker, huma.Operation{
		OperationID: "get-bookmark", Method: http.MethodGet, Path: "/api/bookmarks/{bookmark}/file", Summary: "Take a bookmark away as one file",
		Description: "With its kit, so that it can be brought to another service.", Tags: tags, Errors: []int{404},
		Responses: map[string]*huma.Response{"200": {Description: "A zip.", Content: map[string]*huma.MediaType{"application/zip": {}}}},
	}, a.getBookmark)
	route(a, h, maker, huma.Operation{
		OperationID: "bring-bookmark", Method: http.MethodPost, Path: "/api/bookmarks", Summary: "Bring a bookmark that was taken away",
		Description:   "Its kit comes to your shelf, as the next edition of its name if its files are others.",
		DefaultStatus: http.StatusCreated, MaxBodyBytes: kit.MaxZip, BodyReadTimeout: uploadTime, Tags: tags, Errors: []int{413, 422}, Metadata: first(a.bytesFirst),
	}, a.bringBookmark)
}

func shownBookmark(b store.Bookmark) wire.Bookmark {
	return wire.Bookmark{ID: b.ID, Name: b.Name, Kit: b.Kit, KitName: b.KitName, Edition: b.Edition, Seats: b.Seats, At: b.At}
}

func noSuchBookmark(id string, err error) error {
	if err != store.ErrNotFound {
		return err
	}
	return wire.NoSuchBookmark.With(wire.Problem{Detail: fmt.Sprintf("You have no bookmark %q.", id)})
}

func (a *API) addBookmark(ctx context.Context, in *struct {
	InRoom
	Body wire.BookmarkName
}) (*bookmarkShown, error) {
	r, err := a.roomOf(ctx, in.Room)
	if err != nil {
		return nil, err
	}
	name, err := goodTitle(cmp.Or(in.Body.Name, r.Name))
	if err != nil {
		return nil, err
	}
	b, err := a.Rooms.Bookmark(ctx, r.ID, name)
	return &bookmarkShown{shownBookmark(b)}, err
}

// goodTitle is the name of a bookmark or a room, or refuses it.
func goodTitle(name string) (string, error) {
	title, good := table.GoodTitle(name)
	if !good {
		return "", wire.BadTitle.With(wire.Problem{Detail: fmt.Sprintf("A name has 1 to %d letters, on one line.", table.MaxTitle),
			Numbers: map[string]int{"most": table.MaxTitle}})
	}
	return title, nil
}

// The files of a bookmark that was taken away.
const (
	bookmarkFile   = "bookmark.json"
	bookmarkFolder = "kit/"
	picturesFolder = "pictures/" // of pieces and the mat: outside of the service pictures have no addresses
)

// takenBookmark is what stands in bookmark.json.
type takenBookmark struct {
	Bookmark int          `json:"bookmark"` // the version of the format
	Name     string       `json:"name"`
	Table    *table.Table `json:"table"`
}

const bookmarkVersion = 2

func (a *API) getBookmark(ctx context.Context, in *OfBookmark) (*streamed, error) {
	b, err := a.Store.Bookmark(ctx, callerOf(ctx).maker.ID, in.Bookmark)
	if err != nil {
		return nil, noSuchBookmark(in.Bookmark, err)
	}
	files, err := a.Store.FilesOf(ctx, b.Kit, b.Edition)
	if err != nil {
		return nil, err
	}
	t := &table.Table{}
	if err := json.Unmarshal(b.State, t); err != nil {
		return nil, err
	}
	t.WithoutLeaving()              // what its edition has no more is not in the file either
	pictures := map[string]string{} // addresses by the names of files
	about, err := json.Marshal(takenBookmark{bookmarkVersion, b.Name, t.WithPictures(func(p table.Picture) table.Picture {
		if p.Full == "" {
			return table.Picture{}
		}
		for name, address := range pictures {
			if address == p.Full {
				return table.Picture{Small: name, Full: name}
			}
		}
		name := fmt.Sprintf("%s%d.png", picturesFolder, len(pictures)+1)
		pictures[name] = p.Full
		return table.Picture{Small: name, Full: name}
	})})
	if err != nil {
		return nil, err
	}
	out := &streamed{ContentType: "application/zip", Disposition: fmt.Sprintf(`attachment; filename="bookmark-%s.zip"`, b.ID)}
	out.Body = func(h huma.Context) {
		folder := a.Store.Folder(h.Context(), files)
		names := append([]string{bookmarkFile}, slices.Sorted(maps.Keys(pictures))...)
		for _, name := range folder.Names() {
			names = append(names, bookmarkFolder+name)
		}
		err := kit.ZipNamed(names, func(name string) ([]byte, error) {
			if name == bookmarkFile {
				return about, nil
			}
			if address, is := pictures[name]; is {
				return a.Store.Picture(h.Context(), address)
			}
			return folder.ReadFile(strings.TrimPrefix(name, bookmarkFolder))
		}, h.BodyWriter())
		if err != nil {
			a.named(h.Context()).Warn("a bookmark was not given whole", "bookmark", b.ID, "error", err)
			panic(http.ErrAbortHandler)
		}
	}
	return out, nil
}

func (a *API) bringBookmark(ctx context.Context, in *struct {
	RawBody []byte `contentType:"application/zip"`
}) (*bookmarkShown, error) {
	wrong := func(text string) error {
		return wire.NoBookmark.With(wire.Problem{Detail: text})
	}
	archive, err := zip.NewReader(bytes.NewReader(in.RawBody), int64(len(in.RawBody)))
	if err != nil {
		return nil, wrong("This file is no bookmark that was taken away; it cannot be opened.")
	}
	text, err := kit.ReadFile(archive, bookmarkFile)
	if err != nil {
		return nil, wrong("This file is no bookmark that was taken away; it holds no " + bookmarkFile + ".")
	}
	var taken takenBookmark
	if err := json.Unmarshal(text, &taken); err != nil || taken.Table == nil || taken.Bookmark != bookmarkVersion {
		return nil, wrong("This bookmark is damaged, or a newer Damselfly made it.")
	}
	folder, err := fs.Sub(archive, strings.TrimSuffix(bookmarkFolder, "/"))
	if err != nil {
		return nil, err
	}
	if _, err := kit.OpenZip(in.RawBody); err != nil { // what zips may not have
		return nil, mistakes(err)
	}
	result, err := a.makeKit(ctx, folder, nil, wire.KitFiles{Despite: true})
	if err != nil {
		return nil, err
	}
	name, err := goodTitle(taken.Name)
	if err != nil {
		return nil, err
	}
	var brought []broughtPicture
	if taken.Table, brought, err = a.withBrought(ctx, taken.Table, archive); err != nil {
		return nil, wrong("This bookmark is damaged: " + err.Error() + ".")
	}
	decks := map[string]map[string]table.Design{}
	for _, d := range result.Edition.Decks {
		decks[d.Key] = d.Designs
		if brought := taken.Table.Decks[d.Key]; brought != nil { // how its cards look is the edition's to say
			deck := d.Deck
			deck.Home, deck.Designs = brought.Home, nil
			taken.Table.Decks[d.Key] = &deck
		}
	}
	if text := taken.Table.Damage(decks); text != "" {
		return nil, wrong("This bookmark is damaged. " + text)
	}
	files, err := a.Store.AddFolder(ctx, callerOf(ctx).maker.ID, folder, time.Now().UnixMilli())
	if err != nil {
		return nil, err
	}
	for _, one := range brought {
		if err := a.Store.BringPicture(ctx, one.named, one.pictures); err != nil {
			return nil, err
		}
	}
	put, err := a.put(ctx, result, files, wire.KitFiles{})
	if err != nil {
		return nil, err
	}
	for _, d := range taken.Table.Decks {
		d.Edition = &table.EditionOf{Kit: put.Body.ID, Number: put.Body.Edition}
	}
	state, err := json.Marshal(taken.Table)
	if err != nil {
		return nil, err
	}
	b := store.Bookmark{
		ID: store.NewID(), Maker: callerOf(ctx).maker.ID, Name: name, Kit: put.Body.ID, KitName: put.Body.Name, Edition: put.Body.Edition,
		Seats: len(taken.Table.Chairs), State: state, Uses: table.UsesOf(taken.Table), At: time.Now().UnixMilli(),
	}
	return &bookmarkShown{shownBookmark(b)}, a.Store.AddBookmark(ctx, b)
}

// broughtPicture is a picture in both its sizes.
type broughtPicture struct {
	named    table.Picture
	pictures deck.Pictures
}

// withBrought is a table from elsewhere with the pictures that come in its archive. Any other that it names it
// does not get: nobody is shown a picture because they guess what it is called.
func (a *API) withBrought(ctx context.Context, t *table.Table, archive *zip.Reader) (with *table.Table, all []broughtPicture, err error) {
	brought := map[string]table.Picture{}
	var failed error
	with = t.WithPictures(func(p table.Picture) table.Picture {
		if p.Full == "" || !strings.HasPrefix(p.Full, picturesFolder) {
			return table.Picture{}
		}
		named, known := brought[p.Full]
		if known || failed != nil {
			return named
		}
		text, err := kit.ReadFile(archive, p.Full)
		if err == nil {
			one := broughtPicture{}
			one.named, one.pictures, _, err = a.readPicture(ctx, text)
			named, all = one.named, append(all, one)
		}
		if err != nil {
			failed = fmt.Errorf("its picture %s cannot be taken", p.Full)
		}
		brought[p.Full] = named
		return named
	})
	return with, all, failed
}
