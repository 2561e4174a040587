package api

import (
	"io/fs"
	"net/http"
	"path"
	"regexp"
	"strings"

	"github.com/go-chi/chi/v5"

	"damselfly.example/damselfly/internal/wire"
)

var addressShape = regexp.MustCompile(`^[0-9a-f]{64}$`)

// picture serves a picture by the hash of its bytes. Who knows the address has
// seen what it shows: addresses of fronts are told only to whoever sees them.
func (a *API) picture(w http.ResponseWriter, r *http.Request) {
	address := chi.URLParam(r, "address")
	gone := &wire.Problem{Status: 404, Code: "no-such-picture", Title: "No such picture", Detail: "There is no picture at this address."}
	if !addressShape.MatchString(address) {
		writeProblem(w, gone)
		return
	}
	w.Header().Set("ETag", `"`+address+`"`)
	if r.Header.Get("If-None-Match") == `"`+address+`"` {
		w.WriteHeader(http.StatusNotModified)
		return
	}
	bytes, err := a.Store.Picture(r.Context(), address)
	if err != nil {
		w.Header().Del("ETag")
		p, _ := a.answerable(err).(*wire.Problem)
		if p.Status == 404 {
			p = gone
		}
		writeProblem(w, p)
		return
	}
	w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
	w.Header().Set("Content-Type", "image/png")
	_, _ = w.Write(bytes)
}

// console serves the console's files, and its page for every other address,
// which the page then reads itself.
func (a *API) console(w http.ResponseWriter, r *http.Request) {
	if r.Method != http.MethodGet && r.Method != http.MethodHead || strings.HasPrefix(r.URL.Path, "/api/") && r.URL.Path != "/api/docs" {
		writeProblem(w, &wire.Problem{Status: 404, Code: "not-found", Title: "Not found",
			Detail: "There is nothing at " + r.URL.Path + ". All calls are listed at /api/docs."})
		return
	}
	name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
	if r.URL.Path == "/api/docs" {
		name = "docs/index.html"
	}
	file, err := fs.Stat(a.Console, name)
	if name == "" || err != nil || file.IsDir() {
		name = "index.html"
	}
	if strings.HasPrefix(name, "assets/") { // named by their content
		w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
	} else {
		w.Header().Set("Cache-Control", "no-cache")
	}
	http.ServeFileFS(w, r, a.Console, name)
}
