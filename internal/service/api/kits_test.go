package api_test

import (
	"archive/zip"
	"bytes"
	"image"
	"image/draw"
	"image/png"
	"io"
	"io/fs"
	"net/http"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// get reads an answer that is no JSON.
func (w *world) get(path, key string) (*http.Response, []byte) {
	response := w.asked(w.t.Context(), path, key)
	defer response.Body.Close()
	body, err := io.ReadAll(response.Body)
	require.NoError(w.t, err)
	return response, body
}

// another is the key of another maker.
func (w *world) another() string {
	_, in := w.call("POST", "/api/makers", keeperKey, `{"name":"Bo Fenn"}`)
	return in["key"].(string)
}

// weather is the files of a small kit by their names.
func weather(t *testing.T) kit.Files {
	files := kit.Files{}
	require.NoError(t, kit.Walk(demo.Weather(), func(name string) (err error) {
		files[name], err = fs.ReadFile(demo.Weather(), name)
		return err
	}))
	return files
}

// A private kit is its maker's alone; with a link, whoever has it sees it and takes it
// away; a listed one stands on everybody's shelf. Nobody else changes it.
func TestAKitIsFoundByWhomItsMakerSays(t *testing.T) {
	w := newWorld(t, room.Options{})
	_, put := w.call("POST", "/api/kits", makerKey, demoZip(t))
	id, bo := put["id"].(string), w.another()
	sees := func(key string) int { status, _ := w.call("GET", "/api/kits/"+id, key, nil); return status }
	shelf := func() int { _, answer := w.call("GET", "/api/shelf", "", nil); return len(answer["kits"].([]any)) }
	for _, c := range []struct {
		reach        string
		others, list int
	}{{"private", 404, 0}, {"link", 200, 0}, {"listed", 200, 1}} {
		status, answer := w.call("PATCH", "/api/kits/"+id, makerKey, wire.KitChange{Reach: c.reach})
		require.Equal(t, 204, status, answer)
		assert.Equal(t, []int{200, c.others, c.others, c.list}, []int{sees(makerKey), sees(bo), sees(""), shelf()}, c.reach)
		response, _ := w.get("/api/kits/"+id+"/zip", "")
		assert.Equal(t, c.others, response.StatusCode)
	}
	for _, c := range []struct{ method, path string }{{"PATCH", ""}, {"DELETE", ""}} {
		status, _ := w.call(c.method, "/api/kits/"+id+c.path, bo, wire.KitChange{Reach: "private"})
		assert.Equal(t, 404, status, "another maker's %s", c.method)
	}
	_, page := w.call("GET", "/api/kits/"+id, "", nil)
	assert.Equal(t, []any{"Marsh Post", "Test", nil, float64(22), w.url + "/kit/" + id}, []any{page["name"], page["maker"], page["mine"], page["cards"], page["link"]})
	fan := page["fan"].([]any)
	require.Len(t, fan, 5)
	response, _ := w.get("/pictures/"+fan[0].(string)+"/small", "")
	assert.Equal(t, "image/png", response.Header.Get("Content-Type"))
	status, _ := w.call("PATCH", "/api/kits/"+id, makerKey, `{"reach":"secret"}`)
	assert.Equal(t, 422, status)
}

// A copy is another maker's own: of the same files, with nothing sent or made again.
func TestAKitIsCopiedToAnothersShelf(t *testing.T) {
	w := newWorld(t, room.Options{})
	_, put := w.call("POST", "/api/kits", makerKey, demoZip(t))
	id, bo := put["id"].(string), w.another()
	status, _ := w.call("POST", "/api/kits/"+id+"/copy", bo, `{}`)
	assert.Equal(t, 404, status, "a private one")
	w.call("PATCH", "/api/kits/"+id, makerKey, wire.KitChange{Reach: "link"})
	for _, c := range []struct {
		key, body, name string
		status          int
	}{{bo, `{}`, "Marsh Post", 201}, {bo, `{}`, "Marsh Post 2", 201}, {makerKey, `{"name":"Bog \"Post\": №1"}`, `Bog "Post": №1`, 201}, {bo, `{"name":"marsh post"}`, "", 409}} {
		status, copied := w.call("POST", "/api/kits/"+id+"/copy", c.key, c.body)
		require.Equal(t, c.status, status, copied)
		if status != 201 {
			continue
		}
		assert.Equal(t, []any{c.name, float64(1), true}, []any{copied["name"], copied["edition"], copied["mine"]})
		status, opened := w.call("POST", "/api/rooms", c.key, wire.OpenRoom{Kit: copied["id"].(string)})
		require.Equal(t, 201, status, opened)
		assert.Equal(t, c.name, opened["kit"])
		_, text := w.get("/api/kits/"+copied["id"].(string)+"/zip", c.key)
		status, again := w.call("POST", "/api/kits", c.key, text)
		require.Equal(t, 201, status, again)
		assert.Equal(t, []any{copied["id"], false}, []any{again["id"], again["fresh"]}, "the copy taken away and put again")
	}
}

// Only what is lacking is sent; the same files by themselves and as a zip, in any order and
// with any times, are the same edition.
func TestFilesThatAreHereAreNotSentAgain(t *testing.T) {
	w := newWorld(t, room.Options{})
	files := weather(t)
	var names, hashes []string
	for name := range files {
		names = append(names, name)
	}
	slices.Sort(names)
	slices.Reverse(names)
	want := wire.KitFiles{}
	for _, name := range names {
		hashes = append(hashes, kit.HashOf(files[name]))
		want.Files = append(want.Files, wire.KitFile{Name: name, Hash: kit.HashOf(files[name])})
	}
	lacking := func(key string) int {
		_, answer := w.call("POST", "/api/files/lacking", key, wire.Hashes{Hashes: hashes})
		return len(answer["hashes"].([]any))
	}
	bo := w.another()
	assert.Equal(t, len(files), lacking(makerKey))
	status, answer := w.call("POST", "/api/editions", makerKey, want)
	assert.Equal(t, []any{422, "files-lacking"}, []any{status, answer["code"]})
	for name, text := range files {
		status, answer := w.call("POST", "/api/files", makerKey, text)
		require.Equal(t, 201, status, answer)
		assert.Equal(t, []any{kit.HashOf(text)}, answer["hashes"], name)
	}
	assert.Equal(t, []int{0, len(files)}, []int{lacking(makerKey), lacking(bo)}, "what one maker has is not told another")
	status, answer = w.call("POST", "/api/editions", bo, want)
	assert.Equal(t, 422, status, "another maker's files were taken by their hashes: %v", answer)
	want.Note = "to begin with"
	status, first := w.call("POST", "/api/editions", makerKey, want)
	require.Equal(t, []any{201, true}, []any{status, first["fresh"]}, first)

	hidden := wire.KitFiles{Files: append(slices.Clone(want.Files), wire.KitFile{Name: ".git/config", Hash: hashes[0]}), Note: want.Note}
	status, again := w.call("POST", "/api/editions", makerKey, hidden)
	assert.Equal(t, []any{201, false}, []any{status, again["fresh"]}, "what is hidden is no part of a kit: %v", again)

	var turned bytes.Buffer
	z := zip.NewWriter(&turned)
	for _, name := range names {
		file, err := z.Create(name)
		require.NoError(t, err)
		_, err = file.Write(files[name])
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	status, again = w.call("POST", "/api/kits", makerKey, turned.Bytes())
	assert.Equal(t, []any{201, false, first["id"], first["at"]}, []any{status, again["fresh"], again["id"], again["at"]}, again)

	for name, bad := range map[string]wire.KitFile{
		"out of the folder": {Name: "../kit.yaml", Hash: hashes[0]}, "twice": want.Files[0], "a backslash": {Name: `a\b`, Hash: hashes[0]},
	} {
		status, answer := w.call("POST", "/api/editions", makerKey, wire.KitFiles{Files: append(slices.Clone(want.Files), bad)})
		assert.Equal(t, []any{422, "kit-has-mistakes"}, []any{status, answer["code"]}, name)
	}
}

// Two who keep the same kit at once: the second is told, and loses nothing.
func TestAnEditionThatCameBetweenIsTold(t *testing.T) {
	w := newWorld(t, room.Options{})
	files := weather(t)
	put := func(query, more string) (int, map[string]any) {
		changed := kit.Files{}
		for name, text := range files {
			changed[name] = text
		}
		changed["kit.yaml"] = append(slices.Clone(files["kit.yaml"]), "\n# "+more+"\n"...)
		return w.call("POST", "/api/kits?"+query, makerKey, zipped(t, changed))
	}
	put("", "first")
	status, answer := put("after=1&note=Ada%27s", "Ada's")
	require.Equal(t, []any{201, float64(2)}, []any{status, answer["edition"]}, answer)
	status, answer = put("after=1", "Bo's")
	assert.Equal(t, []any{409, "edition-came-between", map[string]any{"newest": float64(2), "after": float64(1)}}, []any{status, answer["code"], answer["numbers"]})
	status, answer = put("after=2", "Bo's")
	assert.Equal(t, []any{201, float64(3)}, []any{status, answer["edition"]})
	_, page := w.call("GET", "/api/kits/"+answer["id"].(string), makerKey, nil)
	editions := page["editions"].([]any)
	assert.Equal(t, "Ada's", editions[1].(map[string]any)["note"])
	response, _ := w.get("/api/kits/"+answer["id"].(string)+"/zip?edition=7", makerKey)
	assert.Equal(t, 404, response.StatusCode)
	status, opened := w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post", Edition: 1})
	assert.Equal(t, []any{201, float64(1)}, []any{status, opened["edition"]}, "an old edition still opens")
}

func TestAKitSaysWhatItIs(t *testing.T) {
	w := newWorld(t, room.Options{})
	files := weather(t)
	files["about.md"] = []byte("# Boats\n")
	files["rules.pdf"] = []byte("%PDF-1.4 and so on")
	files["kit.yaml"] = append(files["kit.yaml"], "\ndescription: about.md\nrules: rules.pdf\npicture: weather.png\n"...)
	_, put := w.call("POST", "/api/kits", makerKey, zipped(t, files))
	id := put["id"].(string)
	_, page := w.call("GET", "/api/kits/"+id, makerKey, nil)
	assert.Equal(t, []any{"# Boats\n", true, nil}, []any{page["description"], page["rules_file"], page["rules"]})
	response, _ := w.get("/pictures/"+page["picture"].(string)+"/full", "")
	assert.Equal(t, 200, response.StatusCode)
	response, text := w.get("/api/kits/"+id+"/rules", makerKey)
	assert.Equal(t, files["rules.pdf"], text)
	assert.Equal(t, []string{"application/pdf", `attachment; filename="rules.pdf"`, "sandbox; default-src 'none'"},
		[]string{response.Header.Get("Content-Type"), response.Header.Get("Content-Disposition"), response.Header.Get("Content-Security-Policy")})

	for name, c := range map[string]struct{ text, wrong string }{
		"rules.pdf": {"<script>", "rules.pdf: is named a PDF and is none; export it again"},
		"about.md":  {"\xff\xfe", "about.md: is not written in UTF-8; save it as UTF-8 text"},
	} {
		was := files[name]
		files[name] = []byte(c.text)
		status, answer := w.call("POST", "/api/kits", makerKey, zipped(t, files))
		assert.Equal(t, 422, status)
		assert.Equal(t, []any{c.wrong}, answer["details"])
		files[name] = was
	}
}

func TestRoomsAreEndedRemovedAndBroughtBack(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, _ := w.room()
	bo := w.another()
	rooms := func(query string) []any {
		_, answer := w.call("GET", "/api/rooms"+query, makerKey, nil)
		return answer["rooms"].([]any)
	}
	row := rooms("")[0].(map[string]any)
	assert.Equal(t, []any{id, "Marsh Post", float64(1), float64(1), nil}, []any{row["id"], row["kit_name"], row["edition"], row["newest"], row["ended"]})
	for _, path := range []string{"", "/end", "/restore"} {
		method := "POST"
		if path == "" {
			method = "DELETE"
		}
		status, _ := w.call(method, "/api/rooms/"+id+path, bo, nil)
		assert.Equal(t, 404, status, "another maker's %s", path)
	}

	response, text := w.get("/api/rooms/"+id+"/code", "")
	assert.Equal(t, "image/png", response.Header.Get("Content-Type"))
	_, err := png.Decode(bytes.NewReader(text))
	require.NoError(t, err)

	status, answer := w.call("POST", "/api/rooms/"+id+"/end", makerKey, nil)
	require.Equal(t, 204, status, answer)
	assert.Equal(t, true, rooms("")[0].(map[string]any)["ended"])
	status, answer = w.call("POST", "/api/rooms/"+id+"/actions", ada.Key, `{"steps":"shuffle weather"}`)
	assert.Equal(t, 409, status, answer)
	status, answer = w.call("POST", "/api/kits", makerKey, later(t))
	require.Equal(t, 201, status, answer)
	for path, body := range map[string]any{"/end": nil, "/edition": wire.TakeEdition{}, "/decks": wire.BringDeck{Kit: "Marsh Post", Deck: "weather"}} {
		status, answer = w.call("POST", "/api/rooms/"+id+path, makerKey, body)
		assert.Equal(t, []any{409, "game-ended"}, []any{status, answer["code"]}, path)
	}
	status, answer = w.call("POST", "/api/rooms/"+id+"/bookmarks", makerKey, wire.BookmarkName{})
	assert.Equal(t, 201, status, "a table at which the game has ended is kept: %v", answer)

	status, _ = w.call("DELETE", "/api/rooms/"+id, makerKey, nil)
	require.Equal(t, 204, status)
	status, answer = w.call("GET", "/api/rooms/"+id, "", nil)
	assert.Equal(t, []any{404, "no-such-room"}, []any{status, answer["code"]})
	status, _ = w.call("GET", "/api/rooms/"+id+"/view", ada.Key, nil)
	assert.Equal(t, 404, status)
	assert.Empty(t, rooms(""))
	require.Len(t, rooms("?removed=true"), 1)
	status, _ = w.call("POST", "/api/rooms/"+id+"/restore", makerKey, nil)
	require.Equal(t, 204, status)
	status, _ = w.call("GET", "/api/rooms/"+id+"/view", ada.Key, nil)
	assert.Equal(t, 200, status, "who sat there still does")
}

// The cards of a kit come as a PDF to whoever may see it: all of them, a deck's, or what changed.
func TestAKitIsPrinted(t *testing.T) {
	w := newWorld(t, room.Options{})
	_, put := w.call("POST", "/api/kits", makerKey, demoZip(t))
	id := put["id"].(string)
	for query, want := range map[string]string{
		"": "", "?deck=weather&paper=letter&backs=long&bleed=3&marks=true": "",
		"?deck=wether":     "no-such-deck",
		"?changed-since=1": "nothing-to-print",
		"?changed-since=7": "no-such-edition",
		"?paper=a5":        "not-valid",
	} {
		response, body := w.get("/api/kits/"+id+"/print"+query, makerKey)
		if want != "" {
			assert.Contains(t, string(body), want, query)
			continue
		}
		require.Equal(t, 200, response.StatusCode, string(body[:min(len(body), 300)]))
		assert.Equal(t, "application/pdf", response.Header.Get("Content-Type"))
		assert.True(t, bytes.HasPrefix(body, []byte("%PDF-")), query)
	}
	response, _ := w.get("/api/kits/"+id+"/print", "")
	assert.Equal(t, 404, response.StatusCode, "a private kit is its maker's alone")

	changed := weather(t)
	art, err := png.Decode(bytes.NewReader(changed["weather.png"]))
	require.NoError(t, err)
	darker := image.NewNRGBA(art.Bounds())
	draw.Draw(darker, darker.Rect, art, image.Point{}, draw.Src)
	for i := range darker.Pix {
		darker.Pix[i] |= 1
	}
	var file bytes.Buffer
	require.NoError(t, png.Encode(&file, darker))
	changed["weather.png"] = file.Bytes()
	var zip bytes.Buffer
	require.NoError(t, kit.ZipWith(demo.Weather(), changed, &zip))
	status, second := w.call("POST", "/api/kits?despite_warnings=true", makerKey, zip.Bytes())
	require.Equal(t, 201, status, second)
	response, _ = w.get("/api/kits/"+id+"/print?changed-since=1", makerKey)
	assert.Equal(t, 200, response.StatusCode)
}
