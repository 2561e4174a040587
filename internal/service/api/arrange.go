package api

import (
	"context"
	"errors"
	"fmt"
	"image"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/time/rate"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/socket"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/service/web"
	"damselfly.example/damselfly/internal/wire"
)

// Bounds of pictures brought to a table: the bytes of one, and for each seat how many.
const (
	maxPicture      = 8 << 20
	maxPixels       = 16_000_000
	picturesASecond = 0.1
	picturesAtOnce  = 20
)

type putPicture struct {
	InRoom
	RawBody []byte `contentType:"application/octet-stream" doc:"PNG, JPEG, WebP or GIF."`
}

type picturePut struct {
	Body wire.PicturePut
}

type checkSteps struct {
	InRoom
	Body struct {
		Steps string `json:"steps" maxLength:"65536"`
	}
}

type stepsChecked struct {
	Body wire.StepsChecked
}

func (a *API) arrangeRoutes(h huma.API) {
	tags := []string{"arranging"}
	uploads := &web.Paces{Each: picturesASecond, AtOnce: picturesAtOnce}
	checking := &web.Paces{Each: rate.Limit(a.Limits.Acts), AtOnce: 3 * a.Limits.Acts}
	route(a, h, seat, huma.Operation{
		OperationID: "put-picture", Method: http.MethodPost, Path: "/api/rooms/{room}/pictures", Summary: "Bring a picture for a token or a mat", Tags: tags,
		Description:  "For who may arrange the table. The answer names the picture for lay-piece and lay-table.",
		MaxBodyBytes: maxPicture, BodyReadTimeout: uploadTime, DefaultStatus: http.StatusCreated, Errors: []int{403, 413, 422, 429},
		Metadata: first(func(ctx huma.Context) error {
			who := callerOf(ctx.Context()).seat
			may, err := a.Rooms.MayArrange(ctx.Context(), who.Room, socket.At(who))
			switch {
			case err != nil:
				return err
			case !may:
				return wire.NotTheHost.With(wire.Problem{Detail: "Only who may arrange this table brings pictures to it."})
			case !uploads.Of(fmt.Sprint(who.Room, " ", who.Seat)).Allow():
				return a.people.TooFast()
			}
			return nil
		}),
	}, func(ctx context.Context, in *putPicture) (*picturePut, error) { return a.putPicture(ctx, in.RawBody) })
	route(a, h, seat, huma.Operation{
		OperationID: "check-steps", Method: http.MethodPost, Path: "/api/rooms/{room}/check-steps", Summary: "Read Steps, and do nothing", Tags: tags,
		Description: "They are read as your seat would do them at the table as it is.", Errors: []int{429}, MaxBodyBytes: stepsBody,
	}, func(ctx context.Context, in *checkSteps) (*stepsChecked, error) {
		who := callerOf(ctx).seat
		if !checking.Of(fmt.Sprint(who.Room, " ", who.Seat)).Allow() {
			return nil, a.people.TooFast()
		}
		err := a.Rooms.CheckSteps(ctx, in.Room, socket.At(who), in.Body.Steps)
		var p *wire.Problem
		if errors.As(err, &p) && p.Line > 0 || p != nil && p.Status == 400 {
			return &stepsChecked{wire.StepsChecked{Mistake: p.Detail, Line: p.Line, Column: p.Column}}, nil
		}
		return &stepsChecked{}, err
	})
	route(a, h, maker, huma.Operation{
		OperationID: "keep-table", Method: http.MethodPost, Path: "/api/rooms/{room}/keep-table", Summary: "Keep the table as it is laid in its kit", Tags: tags,
		Description: "Makes a new edition of the kit with the room's zones, pieces, mat, setup and cues. Cards are no part of it.",
		Errors:      []int{404, 422},
	}, a.keepTable)
}

func (a *API) putPicture(ctx context.Context, text []byte) (*picturePut, error) {
	named, pictures, size, err := a.readPicture(ctx, text)
	if err == nil {
		err = a.Store.BringPicture(ctx, named, pictures)
	}
	if err != nil {
		return nil, err
	}
	return &picturePut{wire.PicturePut{Picture: a.Store.Names().Outside(named), Wide: size.X, High: size.Y}}, nil
}

// readPicture reads a picture that is brought to a table, and makes both its sizes.
func (a *API) readPicture(ctx context.Context, text []byte) (named table.Picture, pictures deck.Pictures, size image.Point, err error) {
	notTaken := func(err error) error {
		return wire.PictureNotTaken.With(wire.Problem{Detail: err.Error()})
	}
	if size, err = sheet.Size(text); err != nil {
		return named, nil, size, notTaken(err)
	}
	if size.X > maxPixels/max(size.Y, 1) {
		return named, nil, size, notTaken(fmt.Errorf("the picture is %d × %d pixels; on a table at most %d million pixels are taken, such as 4000 × 4000", size.X, size.Y, maxPixels/1_000_000))
	}
	release, err := a.decoding(ctx, size.X*size.Y)
	if err != nil {
		return named, nil, size, err
	}
	defer release()
	picture, err := sheet.Read(text)
	if err != nil {
		return named, nil, size, notTaken(err)
	}
	pictures = deck.Pictures{}
	named = pictures.Add(sheet.NRGBA(picture))
	return named, pictures, picture.Bounds().Size(), nil
}

// keepTable puts a new edition of a room's kit with the table as it is laid there.
func (a *API) keepTable(ctx context.Context, in *InRoom) (*kitPut, error) {
	r, err := a.roomOf(ctx, in.Room)
	if err != nil {
		return nil, err
	}
	laid, err := a.Rooms.Laid(ctx, in.Room)
	if err != nil {
		return nil, err
	}
	k, err := a.Store.Kit(ctx, r.Kit)
	if err == store.ErrNotFound {
		return nil, noSuchKit("This room's kit was removed from your shelf. Bring it back first.")
	}
	if err != nil {
		return nil, err
	}
	files, err := a.withTable(ctx, k, laid)
	if err != nil {
		return nil, err
	}
	return a.keep(ctx, files, nil, wire.KitFiles{Despite: true, After: k.Edition})
}

// withTable is the newest edition of a kit with a table as it is laid, as files.
func (a *API) withTable(ctx context.Context, k store.Kit, laid *table.Table) ([]store.File, error) {
	files, err := a.Store.FilesOf(ctx, k.ID, k.Edition)
	if err != nil {
		return nil, err
	}
	read, err := kit.Read(a.Store.Folder(ctx, files))
	if err != nil {
		return nil, err
	}
	made, err := a.Store.Edition(ctx, k.ID, k.Edition)
	if err != nil {
		return nil, err
	}
	changed, err := read.WithTable(laid, made, func(address string) ([]byte, error) { return a.Store.Picture(ctx, address) })
	if err != nil {
		return nil, kitProblem(wire.TableNotKept, []string{err.Error()})
	}
	return a.changed(ctx, k.Maker, files, changed)
}
