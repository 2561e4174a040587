package api

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"damselfly.example/damselfly/internal/core/compared"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

type kitList struct {
	Body struct {
		Kits []wire.Kit `json:"kits"`
	}
}

type kitShown struct {
	Body wire.KitPage
}

// OfKit is the kit in a path. It is exported because only so the library finds
// it where it is embedded.
type OfKit struct {
	Kit string `path:"kit" maxLength:"160" doc:"Its id, or the name of a kit of yours."`
}

func (a *API) kitRoutes(h huma.API) {
	tags := []string{"kits"}
	a.keepingRoutes(h)
	route(a, h, maker, huma.Operation{
		OperationID: "list-kits", Method: http.MethodGet, Path: "/api/kits", Summary: "List your kits", Tags: tags,
	}, func(ctx context.Context, in *struct {
		Removed bool `query:"removed" doc:"Those that you removed and can bring back."`
	}) (*kitList, error) {
		if in.Removed {
			return a.listed(callerOf(ctx))(a.Store.RemovedKits(ctx, callerOf(ctx).maker.ID, time.Now().UnixMilli()))
		}
		return a.listed(callerOf(ctx))(a.Store.Kits(ctx, callerOf(ctx).maker.ID))
	})
	route(a, h, anyone, huma.Operation{
		OperationID: "show-shelf", Method: http.MethodGet, Path: "/api/shelf", Summary: "List the kits that are there for everybody", Tags: tags,
	}, func(ctx context.Context, _ *struct{}) (*kitList, error) {
		return a.listed(callerOf(ctx))(a.Store.ListedKits(ctx))
	})
	route(a, h, anyone, huma.Operation{
		OperationID: "show-kit", Method: http.MethodGet, Path: "/api/kits/{kit}", Summary: "A kit, its editions, description and rules", Tags: tags, Errors: []int{404},
		Description: "Of a private kit for its maker alone, with their key.",
	}, a.showKit)
	route(a, h, anyone, huma.Operation{
		OperationID: "get-kit", Method: http.MethodGet, Path: "/api/kits/{kit}/zip", Summary: "Take a kit away as one zip",
		Description: "The files of an edition, in the order of their names: put again they are the very same edition.", Tags: tags, Errors: []int{404},
		Responses: map[string]*huma.Response{"200": {Description: "The zip.", Content: map[string]*huma.MediaType{"application/zip": {}}}},
	}, a.getKit)
	route(a, h, anyone, huma.Operation{
		OperationID: "get-rules", Method: http.MethodGet, Path: "/api/kits/{kit}/rules", Summary: "The rules of a kit, where they are a PDF",
		Tags: tags, Errors: []int{404},
		Responses: map[string]*huma.Response{"200": {Description: "The PDF, to be kept as a file.", Content: map[string]*huma.MediaType{"application/pdf": {}}}},
	}, a.getRules)
	route(a, h, anyone, huma.Operation{
		OperationID: "print-kit", Method: http.MethodGet, Path: "/api/kits/{kit}/print", Summary: "Take the cards of a kit away as a PDF, to be printed",
		Description: "Each card in its real size, as often as it is there. Print it without scaling.", Tags: tags, Errors: []int{404, 422, 503},
		Responses: map[string]*huma.Response{"200": {Description: "The PDF.", Content: map[string]*huma.MediaType{"application/pdf": {}}}},
	}, a.printKit)
	route(a, h, maker, huma.Operation{
		OperationID: "change-kit", Method: http.MethodPatch, Path: "/api/kits/{kit}", Summary: "Say who finds a kit", Tags: tags,
		DefaultStatus: http.StatusNoContent, Errors: []int{404, 422},
	}, func(ctx context.Context, in *struct {
		OfKit
		Body wire.KitChange
	}) (*struct{}, error) {
		k, err := a.kitNamed(ctx, callerOf(ctx).maker.ID, in.Kit)
		if err != nil {
			return nil, err
		}
		return nil, a.Store.SetReach(ctx, k.ID, in.Body.Reach)
	})
	route(a, h, maker, huma.Operation{
		OperationID: "remove-kit", Method: http.MethodDelete, Path: "/api/kits/{kit}", Summary: "Take a kit off your shelf", Tags: tags,
		Description: "Its rooms go on, and it can be brought back for 30 days.", DefaultStatus: http.StatusNoContent, Errors: []int{404},
	}, func(ctx context.Context, in *OfKit) (*struct{}, error) {
		k, err := a.kitNamed(ctx, callerOf(ctx).maker.ID, in.Kit)
		if err != nil {
			return nil, err
		}
		return nil, a.Store.RemoveKit(ctx, k.ID, time.Now().UnixMilli())
	})
	route(a, h, maker, huma.Operation{
		OperationID: "restore-kit", Method: http.MethodPost, Path: "/api/kits/{kit}/restore", Summary: "Bring a removed kit back", Tags: tags,
		DefaultStatus: http.StatusNoContent, Errors: []int{404},
	}, func(ctx context.Context, in *OfKit) (*struct{}, error) {
		err := a.Store.RestoreKit(ctx, callerOf(ctx).maker.ID, in.Kit, time.Now().UnixMilli())
		if err == store.ErrNotFound {
			return nil, noSuchKit(fmt.Sprintf("You removed no kit %q in the last 30 days.", in.Kit))
		}
		return nil, err
	})
	route(a, h, anyone, huma.Operation{
		OperationID: "compare-editions", Method: http.MethodGet, Path: "/api/kits/{kit}/compare", Summary: "What differs between two editions of a kit",
		Tags: tags, Errors: []int{404},
	}, func(ctx context.Context, in *struct {
		OfKit
		From int `query:"from" minimum:"1" required:"true"`
		To   int `query:"to" minimum:"0" doc:"The newest if left out."`
	}) (*editionsCompared, error) {
		k, to, err := a.editionSeen(ctx, OfEdition{in.OfKit, in.To})
		if err != nil {
			return nil, err
		}
		return a.compare(ctx, k, in.From, to)
	})
	route(a, h, maker, huma.Operation{
		OperationID: "copy-kit", Method: http.MethodPost, Path: "/api/kits/{kit}/copy", Summary: "Copy a kit to your shelf",
		Description: "Also another maker's, where you may see it.", Tags: tags, DefaultStatus: http.StatusCreated, Errors: []int{404, 409, 422},
	}, a.copyKit)
}

// listed is a list of kits as its caller sees it.
func (a *API) listed(c caller) func([]store.Kit, error) (*kitList, error) {
	return func(kits []store.Kit, err error) (*kitList, error) {
		out := &kitList{}
		out.Body.Kits = []wire.Kit{}
		for _, k := range kits {
			shown, unread := shownKit(k, c, a.Store.Names())
			err = errors.Join(err, unread)
			out.Body.Kits = append(out.Body.Kits, shown)
		}
		return out, err
	}
}

// shownKit is a kit as a list shows it.
func shownKit(k store.Kit, c caller, names sight.Names) (wire.Kit, error) {
	cover, err := k.Cover()
	shown := wire.Kit{
		ID: k.ID, Name: k.Name, Edition: k.Edition, At: k.At, About: cover.About, Seats: cover.Seats, Cards: cover.Cards,
		Maker: k.MakerName, Mine: k.Maker == c.maker.ID, Reach: k.Reach, RemovedAt: k.RemovedAt,
	}
	if shown.Mine {
		shown.Rooms = k.Rooms
	}
	if cover.Picture != (table.Picture{}) {
		shown.Picture = string(names.Of(cover.Picture))
	}
	for _, card := range cover.Fan {
		shown.Fan = append(shown.Fan, string(names.Of(card)))
	}
	return shown, err
}

// kitSeen finds a kit that the caller may see: their own by id or name, another's by id.
func (a *API) kitSeen(ctx context.Context, name string) (store.Kit, error) {
	c := callerOf(ctx)
	k, err := a.Store.Kit(ctx, name)
	if err == nil && (k.Maker == c.maker.ID || k.Reach != store.Private) {
		return k, nil
	}
	if err != nil && err != store.ErrNotFound {
		return store.Kit{}, err
	}
	if c.maker.ID != "" {
		return a.kitNamed(ctx, c.maker.ID, name)
	}
	return store.Kit{}, noSuchKit(fmt.Sprintf("There is no kit %q here that you may see. Check the link you were sent.", name))
}

func noSuchKit(detail string) error {
	return wire.NoSuchKit.With(wire.Problem{Detail: detail})
}

func (a *API) showKit(ctx context.Context, in *OfKit) (*kitShown, error) {
	k, err := a.kitSeen(ctx, in.Kit)
	if err != nil {
		return nil, err
	}
	edition, err := a.Store.Edition(ctx, k.ID, k.Edition)
	if err != nil {
		return nil, err
	}
	editions, err := a.Store.Editions(ctx, k.ID)
	if err != nil {
		return nil, err
	}
	shown, err := shownKit(k, callerOf(ctx), a.Store.Names())
	page := wire.KitPage{
		Kit: shown, Path: kitPath(k.ID), Link: linkTo(ctx, kitPath(k.ID)), OnlyHere: onlyHere(ctx),
		Description: edition.Description, Rules: edition.Rules, RulesFile: edition.RulesFile != "", Decks: Sizes(edition),
	}
	for _, e := range editions {
		page.Editions = append(page.Editions, wire.KitEdition(e))
	}
	return &kitShown{page}, err
}

type editionsCompared struct {
	Body compared.Comparison
}

func (a *API) compare(ctx context.Context, k store.Kit, from, to int) (*editionsCompared, error) {
	var editions [2]kit.Edition
	for i, number := range []int{from, to} {
		edition, err := a.Store.Edition(ctx, k.ID, number)
		if err == store.ErrNotFound {
			err = noSuchEdition(k, number)
		}
		if err != nil {
			return nil, err
		}
		editions[i] = edition
	}
	return &editionsCompared{kit.Compare(editions[0], editions[1]).Named(a.Store.Names().Outside)}, nil
}

func kitPath(kit string) string { return "/kit/" + kit }

// OfEdition is an edition of the kit in a path.
type OfEdition struct {
	OfKit
	Edition int `query:"edition" minimum:"0" doc:"The newest if left out."`
}

// editionSeen finds an edition of a kit that the caller may see.
func (a *API) editionSeen(ctx context.Context, in OfEdition) (store.Kit, int, error) {
	k, err := a.kitSeen(ctx, in.Kit)
	if err != nil || in.Edition == 0 || in.Edition == k.Edition {
		return k, k.Edition, err
	}
	editions, err := a.Store.Editions(ctx, k.ID)
	if err == nil && !slices.ContainsFunc(editions, func(e store.EditionRow) bool { return e.Number == in.Edition }) {
		err = noSuchEdition(k, in.Edition)
	}
	return k, in.Edition, err
}

func noSuchEdition(k store.Kit, number int) error {
	return wire.NoSuchEdition.With(wire.Problem{Detail: fmt.Sprintf("%s has no edition %d; its newest is %d.", k.Name, number, k.Edition),
		Numbers: map[string]int{"asked": number, "newest": k.Edition}})
}

// streamed is an answer that is written as it is made.
type streamed struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Policy      string `header:"Content-Security-Policy"`
	Body        func(huma.Context)
}

func (a *API) getKit(ctx context.Context, in *OfEdition) (*streamed, error) {
	k, number, err := a.editionSeen(ctx, *in)
	if err != nil {
		return nil, err
	}
	files, err := a.Store.FilesOf(ctx, k.ID, number)
	if err != nil {
		return nil, err
	}
	out := &streamed{ContentType: "application/zip", Disposition: fmt.Sprintf(`attachment; filename="%s-%d.zip"`, k.ID, number)}
	out.Body = func(h huma.Context) {
		folder := a.Store.Folder(h.Context(), files)
		if err := kit.ZipNamed(folder.Names(), folder.ReadFile, h.BodyWriter()); err != nil {
			a.named(h.Context()).Warn("a kit was not given whole", "kit", k.ID, "error", err)
			panic(http.ErrAbortHandler) // so that nobody takes half a zip for a whole one
		}
	}
	return out, nil
}

// getRules gives the PDF of a kit's rules, which is foreign: the browser keeps it as a file,
// and what opens it all the same may do nothing.
func (a *API) getRules(ctx context.Context, in *OfEdition) (*streamed, error) {
	k, number, err := a.editionSeen(ctx, *in)
	if err != nil {
		return nil, err
	}
	edition, err := a.Store.Edition(ctx, k.ID, number)
	if err != nil {
		return nil, err
	}
	files, err := a.Store.FilesOf(ctx, k.ID, number)
	if err != nil {
		return nil, err
	}
	if edition.RulesFile == "" {
		return nil, wire.NoRules.With(wire.Problem{Detail: fmt.Sprintf("The rules of %s are no PDF.", k.Name)})
	}
	text, err := a.Store.Folder(ctx, files).ReadFile(edition.RulesFile)
	if err != nil {
		return nil, err
	}
	return &streamed{
		ContentType: "application/pdf", Disposition: `attachment; filename="rules.pdf"`, Policy: "sandbox; default-src 'none'",
		Body: func(h huma.Context) { _, _ = h.BodyWriter().Write(text) },
	}, nil
}

// kitNamed finds a maker's kit by id or name.
func (a *API) kitNamed(ctx context.Context, maker, name string) (store.Kit, error) {
	kits, err := a.Store.Kits(ctx, maker)
	if err != nil {
		return store.Kit{}, err
	}
	names := make([]string, 0, len(kits))
	for _, is := range []func(store.Kit) bool{ // one that is written just so comes before others
		func(k store.Kit) bool { return k.ID == name || k.Name == name },
		func(k store.Kit) bool { return strings.EqualFold(k.Name, name) },
	} {
		if i := slices.IndexFunc(kits, is); i >= 0 {
			return kits[i], nil
		}
	}
	for _, k := range kits {
		names = append(names, fmt.Sprintf("%q", k.Name))
	}
	if len(kits) == 0 {
		return store.Kit{}, noSuchKit("You have no kits yet; put one on the shelf first.")
	}
	const most = 12
	if more := len(names) - most; more > 0 {
		names = append(names[:most], fmt.Sprintf("and %d more", more))
	}
	return store.Kit{}, noSuchKit(fmt.Sprintf("You have no kit %q; you have %s.", name, strings.Join(names, ", ")))
}

// copyKit puts the newest edition of a kit on the caller's shelf. Nothing of it is made again.
func (a *API) copyKit(ctx context.Context, in *struct {
	OfKit
	Body wire.KitCopy
}) (*kitPut, error) {
	k, err := a.kitSeen(ctx, in.Kit)
	if err != nil {
		return nil, err
	}
	maker, now := callerOf(ctx).maker, time.Now().UnixMilli()
	name, err := a.freeName(ctx, maker.ID, k, strings.TrimSpace(in.Body.Name))
	if err != nil {
		return nil, err
	}
	files, err := a.Store.FilesOf(ctx, k.ID, k.Edition)
	if err != nil {
		return nil, err
	}
	known, err := a.Store.KnownOf(ctx, k.ID, k.Edition)
	if err != nil {
		return nil, err
	}
	if err := a.Store.AddMakerFiles(ctx, maker.ID, files, now); err != nil {
		return nil, err
	}
	if name != k.Name {
		read, err := kit.Read(a.Store.Folder(ctx, files))
		if err != nil {
			return nil, err
		}
		if files, err = a.changed(ctx, maker.ID, files, read.Named(name)); err != nil {
			return nil, err
		}
	}
	return a.keep(ctx, files, &known, wire.KitFiles{Despite: true})
}

// freeName is the name of a copy: the wanted one, which must be free, or one like the
// kit's own.
func (a *API) freeName(ctx context.Context, maker string, k store.Kit, want string) (string, error) {
	kits, err := a.Store.Kits(ctx, maker)
	if err != nil {
		return "", err
	}
	taken := func(name string) bool {
		return slices.ContainsFunc(kits, func(other store.Kit) bool { return strings.EqualFold(other.Name, name) })
	}
	if want != "" {
		if taken(want) {
			return "", wire.KitIsThere.With(wire.Problem{Detail: fmt.Sprintf("You have a kit %q already; choose another name.", want)})
		}
		return want, nil
	}
	name := k.Name
	for n := 2; taken(name); n++ {
		name = fmt.Sprintf("%s %d", k.Name, n)
	}
	return name, nil
}

// Sizes lists the decks of a made kit.
func Sizes(made kit.Edition) []wire.DeckSize {
	var sizes []wire.DeckSize
	for _, d := range made.Decks {
		sizes = append(sizes, wire.DeckSize{Key: d.Key, Designs: len(d.Designs), Cards: d.Cards()})
	}
	return sizes
}
