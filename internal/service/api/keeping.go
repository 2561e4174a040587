package api

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"damselfly.example/damselfly/internal/core/deck"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sheet"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

type putKit struct {
	Despite bool   `query:"despite_warnings" doc:"Keep the kit although something looks wrong."`
	Note    string `query:"note" maxLength:"400" doc:"What is new in this edition."`
	After   int    `query:"after" minimum:"0" doc:"The edition it was made from. If another one was kept meanwhile, nothing is."`
	RawBody []byte `contentType:"application/zip" doc:"A zip of the kit's folder."`
}

type kitPut struct {
	Body wire.KitPut
}

type checkSheet struct {
	Columns int    `query:"columns" minimum:"0" maximum:"1000" doc:"Guessed if left out."`
	Rows    int    `query:"rows" minimum:"0" maximum:"1000"`
	Margin  string `query:"margin" pattern:"^[0-9]{1,5}(,[0-9]{1,5}){0,3}$" example:"12,8,12,8" doc:"Pixels around all cells: one number, or left, top, right, bottom."`
	Gutter  string `query:"gutter" pattern:"^[0-9]{1,5}(,[0-9]{1,5})?$" example:"6,4" doc:"Pixels between two cells: one number, or across, down."`
	Count   int    `query:"count" minimum:"0" doc:"How many cells hold cards; as many as have content if left out."`
	RawBody []byte `contentType:"image/png" doc:"A PNG, JPEG, GIF, WebP, TIFF or BMP picture."`
}

type sheetChecked struct {
	Body sheet.Report
}

// uploadTime is how long an upload may take.
const uploadTime = 10 * time.Minute

// keepingRoutes are those by which editions come to the shelf: as one zip, or file by file, of
// which only those are sent that are not here yet.
func (a *API) keepingRoutes(h huma.API) {
	tags := []string{"kits"}
	route(a, h, maker, huma.Operation{
		OperationID: "put-kit", Method: http.MethodPost, Path: "/api/kits", Summary: "Put a kit on the shelf",
		Description: "All of it is kept, or nothing. A kit that looks wrong is refused with its warnings, unless despite_warnings is set. " +
			"A kit of the same name becomes its next edition; the very same files again are the same edition, in whatever order.",
		DefaultStatus: http.StatusCreated, MaxBodyBytes: kit.MaxZip, BodyReadTimeout: uploadTime, Tags: tags, Metadata: first(a.bytesFirst),
		Errors: []int{400, 409, 413, 422},
	}, a.putKit)
	route(a, h, maker, huma.Operation{
		OperationID: "lacking-files", Method: http.MethodPost, Path: "/api/files/lacking", Summary: "Which files are to be sent",
		Description: "Of these hashes of files, those that the service does not have of you.", Tags: tags, Errors: []int{422},
		MaxBodyBytes: 1 << 20,
	}, func(ctx context.Context, in *struct{ Body wire.Hashes }) (*struct{ Body wire.Hashes }, error) {
		known, err := a.Store.MakerFiles(ctx, callerOf(ctx).maker.ID, in.Body.Hashes)
		out := &struct{ Body wire.Hashes }{}
		out.Body.Hashes = slices.DeleteFunc(append([]string{}, in.Body.Hashes...), func(hash string) bool { _, is := known[hash]; return is })
		return out, err
	})
	route(a, h, maker, huma.Operation{
		OperationID: "put-file", Method: http.MethodPost, Path: "/api/files", Summary: "Send a file of a kit",
		Description: "It is kept for you, to be named by its hash in an edition.", DefaultStatus: http.StatusCreated,
		MaxBodyBytes: kit.MaxFile, BodyReadTimeout: uploadTime, Tags: tags, Errors: []int{413}, Metadata: first(a.bytesFirst),
	}, func(ctx context.Context, in *struct {
		RawBody []byte `contentType:"application/octet-stream"`
	}) (*struct{ Body wire.Hashes }, error) {
		if err := a.someBytesMore(ctx, callerOf(ctx).maker.ID, len(in.RawBody)); err != nil {
			return nil, err
		}
		hash, err := a.Store.AddFile(ctx, callerOf(ctx).maker.ID, in.RawBody, time.Now().UnixMilli())
		return &struct{ Body wire.Hashes }{wire.Hashes{Hashes: []string{hash}}}, err
	})
	route(a, h, maker, huma.Operation{
		OperationID: "put-edition", Method: http.MethodPost, Path: "/api/editions", Summary: "Keep a kit whose files are here",
		Description: "As putting a zip of them. Send first what is lacking.", DefaultStatus: http.StatusCreated,
		MaxBodyBytes: 2 << 20, Tags: tags, Errors: []int{409, 422},
	}, a.putFiles)
	route(a, h, maker, huma.Operation{
		OperationID: "check-sheet", Method: http.MethodPost, Path: "/api/sheet-check", Summary: "Look a sheet over",
		Description: "Nothing is kept.", MaxBodyBytes: kit.MaxFile, BodyReadTimeout: uploadTime, Tags: tags, Errors: []int{400, 413, 422},
	}, a.checkSheet)
}

// putKit keeps a kit that comes as one zip. Its files are kept once it was made of them.
func (a *API) putKit(ctx context.Context, in *putKit) (*kitPut, error) {
	folder, err := kit.OpenZip(in.RawBody)
	if err != nil {
		return nil, mistakes(err)
	}
	if err := a.someBytesMore(ctx, callerOf(ctx).maker.ID, len(in.RawBody)); err != nil {
		return nil, err
	}
	want := wire.KitFiles{Despite: in.Despite, Note: in.Note, After: in.After}
	result, err := a.makeKit(ctx, folder, nil, want)
	if err != nil {
		return nil, err
	}
	files, err := a.Store.AddFolder(ctx, callerOf(ctx).maker.ID, folder, time.Now().UnixMilli())
	if err != nil {
		return nil, err
	}
	return a.put(ctx, result, files, want)
}

// putFiles keeps a kit of files that were sent one by one.
func (a *API) putFiles(ctx context.Context, in *struct{ Body wire.KitFiles }) (*kitPut, error) {
	hashes := make([]string, 0, len(in.Body.Files))
	for _, f := range in.Body.Files {
		hashes = append(hashes, f.Hash)
	}
	known, err := a.Store.MakerFiles(ctx, callerOf(ctx).maker.ID, hashes)
	if err != nil {
		return nil, err
	}
	var files []store.File
	var unpacked int64
	named := map[string]bool{}
	for _, f := range in.Body.Files {
		if kit.Hidden(f.Name) {
			continue
		}
		size, is := known[f.Hash]
		if !is {
			return nil, wire.FilesLacking.With(wire.Problem{Detail: fmt.Sprintf("The service does not have %s yet; send what is lacking first.", f.Name)})
		}
		if wrong := kit.WrongName(f.Name); wrong != "" {
			return nil, mistakes(&kit.Mistake{File: f.Name, Text: wrong})
		}
		if named[f.Name] {
			return nil, mistakes(&kit.Mistake{File: f.Name, Text: "stands there twice"})
		}
		named[f.Name] = true
		if unpacked += size; unpacked > kit.MaxUnpacked {
			return nil, mistakes(&kit.Mistake{File: f.Name, Text: fmt.Sprintf("the files have more than %d MiB together, which is the most they may", kit.MaxUnpacked>>20)})
		}
		files = append(files, store.File{Name: f.Name, Hash: f.Hash, Size: size})
	}
	return a.keep(ctx, files, nil, in.Body)
}

// keep makes a kit of files that are here and keeps it. known is what was made of them
// before; of the newest edition of the kit if left out.
func (a *API) keep(ctx context.Context, files []store.File, known *kit.Known, want wire.KitFiles) (*kitPut, error) {
	result, err := a.makeKit(ctx, a.Store.Folder(ctx, files), known, want)
	if err != nil {
		return nil, err
	}
	return a.put(ctx, result, files, want)
}

func (a *API) put(ctx context.Context, result *kit.Result, files []store.File, want wire.KitFiles) (*kitPut, error) {
	maker := callerOf(ctx).maker
	if err := a.oneKitMore(ctx, maker.ID, result.Edition.Name); err != nil {
		return nil, err
	}
	put, fresh, err := a.Store.PutKit(ctx, maker.ID, store.Put{Result: result, Files: files, Note: strings.TrimSpace(want.Note), After: want.After}, time.Now().UnixMilli())
	var between *store.BetweenError
	if errors.As(err, &between) {
		return nil, wire.EditionCameBetween.With(wire.Problem{Detail: fmt.Sprintf("Edition %d of %s was kept since you opened edition %d. Nothing of yours is lost: look at what differs, and keep it after that one, or under another name.",
			between.Newest, result.Edition.Name, want.After),
			Numbers: map[string]int{"newest": between.Newest, "after": want.After}})
	}
	if err != nil {
		return nil, err
	}
	kept, err := a.Store.Kit(ctx, put.ID)
	if err != nil {
		return nil, err
	}
	shown, err := shownKit(kept, callerOf(ctx), a.Store.Names())
	shown.Edition, shown.At = put.Edition, put.At
	return &kitPut{wire.KitPut{Kit: shown, Fresh: fresh, Decks: Sizes(result.Edition), Warnings: result.Warnings}}, err
}

func mistakes(err error) error {
	return kitProblem(wire.KitHasMistakes, strings.Split(err.Error(), "\n"))
}

// makeKit makes a kit of a folder, but for what is known of its files. Pictures are kept as
// they are made, so that few of them are held at once.
func (a *API) makeKit(ctx context.Context, folder fs.FS, known *kit.Known, want wire.KitFiles) (*kit.Result, error) {
	k, err := kit.Read(folder)
	if err != nil {
		return nil, mistakes(err)
	}
	if err := a.oneKitMore(ctx, callerOf(ctx).maker.ID, k.Name); err != nil { // before the work
		return nil, err
	}
	k.Fonts = a.fonts
	if known == nil {
		newest, err := a.Store.Known(ctx, callerOf(ctx).maker.ID, k.Name)
		if err != nil {
			return nil, err
		}
		known = &newest
	}
	release, err := a.decoding(ctx, wholeSheet)
	if err != nil {
		return nil, err
	}
	defer release()
	result, err := k.Make(kit.Making{Known: *known, Stopped: ctx.Err, Keep: func(some deck.Pictures) error { return a.Store.AddPictures(ctx, some) }})
	var notKept *kit.NotKept
	if errors.As(err, &notKept) {
		return nil, notKept.Err
	}
	if err != nil {
		return nil, mistakes(err)
	}
	if len(result.Warnings) > 0 && !want.Despite {
		return nil, kitProblem(wire.KitLooksWrong, result.Warnings)
	}
	return result, nil
}

// changed keeps files in place of others of the same names, or beside them.
func (a *API) changed(ctx context.Context, maker string, files []store.File, others kit.Files) ([]store.File, error) {
	all := slices.DeleteFunc(slices.Clone(files), func(f store.File) bool { _, other := others[f.Name]; return other })
	for name, text := range others {
		hash, err := a.Store.AddFile(ctx, maker, text, time.Now().UnixMilli())
		if err != nil {
			return nil, err
		}
		all = append(all, store.File{Name: name, Hash: hash, Size: int64(len(text))})
	}
	return all, nil
}

// maxDetails is how many mistakes one answer lists.
const maxDetails = 40

func kitProblem(kind *wire.Kind, details []string) error {
	p := kind.With(wire.Problem{Numbers: map[string]int{"problems": len(details)}})
	p.Details = details[:min(maxDetails, len(details))]
	p.Detail = fmt.Sprintf("%s: %s", kind.Title, p.Details[0])
	if len(details) > 1 {
		p.Detail += fmt.Sprintf(" (and %d more in details)", len(details)-1)
	}
	return p
}

func (a *API) checkSheet(ctx context.Context, in *checkSheet) (*sheetChecked, error) {
	grid := sheet.Grid{Columns: in.Columns, Rows: in.Rows, Count: in.Count}
	if in.Margin != "" {
		if err := grid.Margin.Set(in.Margin); err != nil {
			return nil, sheetNotTaken(fmt.Errorf("margin: %w", err))
		}
	}
	if in.Gutter != "" {
		if err := grid.Gutter.Set(in.Gutter); err != nil {
			return nil, sheetNotTaken(fmt.Errorf("gutter: %w", err))
		}
	}
	release, err := a.decoding(ctx, wholeSheet)
	if err != nil {
		return nil, err
	}
	defer release()
	picture, err := sheet.Read(in.RawBody)
	if err != nil {
		return nil, sheetNotTaken(err)
	}
	report, err := sheet.LookOverUntil(picture, grid, ctx.Err)
	switch {
	case ctx.Err() != nil:
		return nil, ctx.Err()
	case err != nil:
		return nil, sheetNotTaken(err)
	}
	return &sheetChecked{report}, nil
}

func sheetNotTaken(why error) *wire.Problem {
	return wire.SheetNotTaken.With(wire.Problem{Detail: why.Error()})
}
