package api

import (
	"bytes"
	"damselfly.example/damselfly/internal/service/web"
	"io/fs"
	"net/http"
	"path"
	"regexp"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/wire"
)

// pictureNamed serves a picture by its name, small or in full. Names of fronts are told only to whoever sees them.
func (a *API) pictureNamed(w http.ResponseWriter, r *http.Request) {
	name, size := sight.PictureName(chi.URLParam(r, "name")), chi.URLParam(r, "size")
	if size != "small" && size != "full" {
		web.WriteProblem(w, noSuchPicture())
		return
	}
	a.servePicture(w, r, string(name)+"-"+size, func() ([]byte, error) { return a.Store.PictureNamed(r.Context(), name, size == "small") })
}

func noSuchPicture() *wire.Problem {
	return wire.NoSuchPicture.With(wire.Problem{Detail: "There is no picture at this address."})
}

// servePicture serves what never changes at its address.
func (a *API) servePicture(w http.ResponseWriter, r *http.Request, tag string, read func() ([]byte, error)) {
	w.Header().Set("ETag", `"`+tag+`"`)
	if r.Header.Get("If-None-Match") == `"`+tag+`"` {
		w.WriteHeader(http.StatusNotModified)
		return
	}
	bytes, err := read()
	if err != nil {
		w.Header().Del("ETag")
		p, _ := a.answers.Answerable(r.Context(), err).(*wire.Problem)
		if p.Status == 404 {
			p = noSuchPicture()
		}
		web.WriteProblem(w, p)
		return
	}
	w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
	w.Header().Set("Content-Type", "image/png")
	_, _ = w.Write(bytes)
}

// pageOf is the path of a page of the console's own, beside its start.
var pageOf = regexp.MustCompile(`^/(room/[^/]+|kit/[^/]+|bench(/[^/]*)?)/?$`)

// noSuchPage says that nothing is at an address: to a browser with the console's page, which leads on.
func (a *API) noSuchPage(w http.ResponseWriter, r *http.Request) {
	page := a.page()
	if page == nil || !strings.Contains(r.Header.Get("Accept"), "text/html") {
		web.WriteProblem(w, wire.NotFound.With(wire.Problem{Detail: "There is nothing at " + r.URL.Path + "."}))
		return
	}
	w.Header().Set("Cache-Control", "no-cache")
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.WriteHeader(http.StatusNotFound)
	_, _ = w.Write(page)
}

// console serves the console's files, and its page for every other address,
// which the page then reads itself.
func (a *API) console(w http.ResponseWriter, r *http.Request) {
	if r.Method != http.MethodGet && r.Method != http.MethodHead || strings.HasPrefix(r.URL.Path, "/api/") && r.URL.Path != "/api/docs" {
		web.WriteProblem(w, wire.NotFound.With(wire.Problem{Detail: "There is nothing at " + r.URL.Path + ". All calls are listed at /api/docs."}))
		return
	}
	name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
	if r.URL.Path == "/api/docs" {
		name = "docs/index.html"
	}
	file, err := fs.Stat(a.Console, name)
	there := name == "" || err == nil && !file.IsDir() || pageOf.MatchString(r.URL.Path)
	if name == "" || err != nil || file.IsDir() {
		name = "index.html"
	}
	if !there {
		a.noSuchPage(w, r)
		return
	}
	if strings.HasPrefix(name, "assets/") { // named by their content
		w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
	} else {
		w.Header().Set("Cache-Control", "no-cache")
	}
	if name == "index.html" {
		http.ServeContent(w, r, name, time.Time{}, bytes.NewReader(a.page()))
		return
	}
	http.ServeFileFS(w, r, a.Console, name)
}

// page is the console's page, which finds all else by where it says that the service stands; nil without a console.
func (a *API) page() []byte {
	page, err := fs.ReadFile(a.Console, "index.html")
	if err != nil {
		return nil
	}
	return bytes.Replace(page, []byte(`<base href="/"`), []byte(`<base href="`+a.Path+`/"`), 1)
}

// underPath answers what is asked under a path as if it were asked without. What comes without it is answered
// as well: proxies may take it off, and services that share the records ask each other so.
func underPath(at string, next http.Handler) http.Handler {
	if at == "" {
		return next
	}
	under := http.StripPrefix(at, next)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch {
		case r.URL.Path == at:
			http.Redirect(w, r, at+"/", http.StatusMovedPermanently)
		case strings.HasPrefix(r.URL.Path, at+"/"):
			under.ServeHTTP(w, r)
		default:
			next.ServeHTTP(w, r)
		}
	})
}
