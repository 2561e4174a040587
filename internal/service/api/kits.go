package api

import (
	"context"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

type putKit struct {
	Despite bool   `query:"despite_warnings" doc:"Keep the kit although something looks wrong."`
	RawBody []byte `contentType:"application/zip" doc:"A zip of the kit's folder."`
}

type kitPut struct {
	Body wire.KitPut
}

type kitList struct {
	Body struct {
		Kits []wire.Kit `json:"kits"`
	}
}

type kitZip struct {
	ContentType string `header:"Content-Type"`
	Body        []byte
}

type checkSheet struct {
	Columns int    `query:"columns" minimum:"0" maximum:"1000" doc:"Guessed if left out."`
	Rows    int    `query:"rows" minimum:"0" maximum:"1000"`
	Margin  int    `query:"margin" minimum:"0" doc:"Pixels around all cells."`
	Gutter  int    `query:"gutter" minimum:"0" doc:"Pixels between two cells."`
	Count   int    `query:"count" minimum:"0" doc:"How many cells hold cards; as many as have content if left out."`
	RawBody []byte `contentType:"image/png" doc:"A PNG, JPEG, GIF or WebP picture."`
}

type sheetChecked struct {
	Body wire.SheetCheck
}

// uploadTime is how long an upload may take.
const uploadTime = 10 * time.Minute

func (a *API) kitRoutes(h huma.API) {
	route(a, h, maker, huma.Operation{
		OperationID: "put-kit", Method: http.MethodPost, Path: "/api/kits", Summary: "Put a kit on the shelf",
		Description: "All of it is kept, or nothing. A kit that looks wrong is refused with its warnings, unless despite_warnings is set. " +
			"A kit of the same name becomes its next edition.",
		DefaultStatus: http.StatusCreated, MaxBodyBytes: kit.MaxZip, BodyReadTimeout: uploadTime, Tags: []string{"kits"},
		Errors: []int{400, 413, 422},
	}, a.putKit)
	route(a, h, maker, huma.Operation{
		OperationID: "list-kits", Method: http.MethodGet, Path: "/api/kits", Summary: "List your kits", Tags: []string{"kits"},
	}, func(ctx context.Context, _ *struct{}) (*kitList, error) {
		kits, err := a.Store.Kits(ctx, callerOf(ctx).maker.ID)
		out := &kitList{}
		out.Body.Kits = []wire.Kit{}
		for _, k := range kits {
			out.Body.Kits = append(out.Body.Kits, wire.Kit(k))
		}
		return out, err
	})
	route(a, h, maker, huma.Operation{
		OperationID: "get-kit", Method: http.MethodGet, Path: "/api/kits/{kit}/zip", Summary: "Take a kit away as one zip",
		Description: "The files of its newest edition, as they were put.", Tags: []string{"kits"}, Errors: []int{404},
		Responses: map[string]*huma.Response{"200": {Description: "The zip.", Content: map[string]*huma.MediaType{"application/zip": {}}}},
	}, func(ctx context.Context, in *struct {
		Kit string `path:"kit" doc:"Id or name of a kit of yours."`
	}) (*kitZip, error) {
		k, err := a.kitNamed(ctx, callerOf(ctx).maker.ID, in.Kit)
		if err != nil {
			return nil, err
		}
		zip, err := a.Store.Zip(ctx, k.ID)
		return &kitZip{"application/zip", zip}, err
	})
	route(a, h, maker, huma.Operation{
		OperationID: "check-sheet", Method: http.MethodPost, Path: "/api/sheet-check", Summary: "Look a sheet over",
		Description: "Nothing is kept.", MaxBodyBytes: kit.MaxFile, BodyReadTimeout: uploadTime, Tags: []string{"kits"}, Errors: []int{400, 413, 422},
	}, a.checkSheet)
}

func (a *API) putKit(ctx context.Context, in *putKit) (*kitPut, error) {
	result, err := a.makeKit(ctx, in.RawBody)
	if err != nil {
		return nil, err
	}
	if len(result.Warnings) > 0 && !in.Despite {
		return nil, kitProblem("kit-looks-wrong", "The kit looks wrong, so nothing was kept; mend it, or put it despite the warnings", result.Warnings)
	}
	put, fresh, err := a.Store.PutKit(ctx, callerOf(ctx).maker.ID, result, in.RawBody, time.Now().UnixMilli())
	if err != nil {
		return nil, err
	}
	return &kitPut{wire.KitPut{Kit: wire.Kit(put), Fresh: fresh, Decks: wire.Sizes(result.Edition), Warnings: result.Warnings}}, nil
}

// makeKit makes a kit of a zip, drawing only what its newest edition has not drawn.
func (a *API) makeKit(ctx context.Context, zip []byte) (*kit.Result, error) {
	mistakes := func(err error) error {
		return kitProblem("kit-has-mistakes", "The kit has mistakes, so nothing was kept", strings.Split(err.Error(), "\n"))
	}
	folder, err := kit.OpenZip(zip)
	if err != nil {
		return nil, mistakes(err)
	}
	k, err := kit.Read(folder)
	if err != nil {
		return nil, mistakes(err)
	}
	drawn, err := a.Store.Drawn(ctx, callerOf(ctx).maker.ID, k.Name)
	if err != nil {
		return nil, err
	}
	release, err := a.decoding(ctx, wholeSheet)
	if err != nil {
		return nil, err
	}
	defer release()
	result, err := k.Make(kit.Making{Drawn: drawn})
	if err != nil {
		return nil, mistakes(err)
	}
	return result, nil
}

// maxDetails is how many mistakes one answer lists.
const maxDetails = 40

func kitProblem(code, title string, details []string) error {
	p := &wire.Problem{Status: 422, Code: code, Title: title, Numbers: map[string]int{"problems": len(details)}}
	p.Details = details[:min(maxDetails, len(details))]
	p.Detail = fmt.Sprintf("%s: %s", title, p.Details[0])
	if len(details) > 1 {
		p.Detail += fmt.Sprintf(" (and %d more in details)", len(details)-1)
	}
	return p
}

func (a *API) checkSheet(ctx context.Context, in *checkSheet) (*sheetChecked, error) {
	release, err := a.decoding(ctx, wholeSheet)
	if err != nil {
		return nil, err
	}
	defer release()
	_, report, err := sheet.Look(in.RawBody, sheet.Grid{Columns: in.Columns, Rows: in.Rows, Margin: in.Margin, Gutter: in.Gutter, Count: in.Count})
	if err != nil {
		return nil, &wire.Problem{Status: 422, Code: "sheet-not-taken", Title: "The sheet cannot be taken", Detail: err.Error()}
	}
	return &sheetChecked{report}, nil
}

// kitNamed finds a maker's kit by id or name.
func (a *API) kitNamed(ctx context.Context, maker, name string) (store.Kit, error) {
	kits, err := a.Store.Kits(ctx, maker)
	if err != nil {
		return store.Kit{}, err
	}
	names := make([]string, 0, len(kits))
	for _, k := range kits {
		if k.ID == name || strings.EqualFold(k.Name, name) {
			return k, nil
		}
		names = append(names, fmt.Sprintf("%q", k.Name))
	}
	detail := fmt.Sprintf("You have no kit %q; you have %s.", name, strings.Join(names, ", "))
	if len(kits) == 0 {
		detail = "You have no kits yet; put one on the shelf first."
	}
	return store.Kit{}, &wire.Problem{Status: 404, Code: "no-such-kit", Title: "No such kit", Detail: detail}
}
