package api_test

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"io/fs"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// keyless are the answers that anybody gets without a key, of all that somebody might ask about a picture or
// a kit that they have themselves.
func (w *world) keyless(addresses []string) map[string]string {
	paths := []string{"/api/kits", "/api/shelf", "/api/kits/Marsh%20Post", "/api/kits/Marsh%20Post/zip", "/api/kits/Marsh%20Post/compare?from=1"}
	for _, address := range addresses {
		plain := string(sight.Names{}.Of(table.Picture{Full: address}))
		paths = append(paths, "/pictures/"+address, "/pictures/"+address+"/full", "/pictures/"+plain+"/full", "/pictures/"+plain+"/small")
	}
	answers := map[string]string{}
	for _, path := range paths {
		response, err := http.Get(w.url + path)
		require.NoError(w.t, err)
		body, err := io.ReadAll(response.Body)
		require.NoError(w.t, err)
		_ = response.Body.Close()
		response.Header.Del("Date")
		response.Header.Del("X-Request-Id")
		answers[path] = fmt.Sprint(response.StatusCode, response.Header, string(body))
	}
	return answers
}

// Who has a card, or draws one alike, cannot tell whether somebody's private kit has it.
func TestNoKeylessAnswerTellsOfAPrivateKit(t *testing.T) {
	w := newWorld(t, room.Options{})
	k, err := kit.Read(demo.Weather())
	require.NoError(t, err)
	guessed, err := k.Make(kit.Making{})
	require.NoError(t, err)
	var addresses []string
	for _, design := range guessed.Edition.Decks[0].Designs {
		addresses = append(addresses, design.Front.Full, design.Front.Small, design.Back.Full)
	}
	before := w.keyless(addresses)
	status, answer := w.call("POST", "/api/kits", makerKey, demoZip(t))
	require.Equal(t, 201, status, answer)
	assert.Equal(t, before, w.keyless(addresses))
}

// A picture is named to a table as the service named it; what guesses its address names none.
func TestPicturesAreBroughtToATableByNamesAlone(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, bo := w.room()
	k, err := kit.Read(demo.Weather())
	require.NoError(t, err)
	guessed, err := k.Make(kit.Making{})
	require.NoError(t, err)
	design := guessed.Edition.Decks[0].Designs["storm"].Front
	for _, picture := range []table.Picture{design, {Full: string(sight.Names{}.Of(design)), Small: string(sight.Names{}.Of(design))}} {
		for _, action := range []any{table.LayPiece{Kind: table.Mat, Faces: &[]table.Picture{picture}}, table.LayTable{Mat: &picture}, table.All{Actions: table.Actions{table.LayTable{Mat: &picture}}}} {
			text, err := table.WriteAction(action.(table.Action))
			require.NoError(t, err)
			status, answer := w.call("POST", "/api/rooms/"+id+"/actions", ada.Key, wire.Request{Action: text})
			assert.Equal(t, 400, status, answer)
			assert.Contains(t, answer["detail"], "a picture that it names is not here")
		}
	}
	art, err := fs.ReadFile(demo.Weather(), "weather.png")
	require.NoError(t, err)
	status, put := w.call("POST", "/api/rooms/"+id+"/pictures", ada.Key, art)
	require.Equal(t, 201, status, put)
	picture := put["picture"].(map[string]any)
	named := table.Picture{Small: picture["small"].(string), Full: picture["full"].(string)}
	assert.Len(t, named.Full, 22)
	text, err := table.WriteAction(table.LayTable{Mat: &named})
	require.NoError(t, err)
	status, answer := w.call("POST", "/api/rooms/"+id+"/actions", ada.Key, wire.Request{Action: text})
	require.Equal(t, 200, status, answer)
	_, look := w.call("GET", "/api/rooms/"+id+"/view", bo.Key, nil)
	assert.Equal(t, named.Full, look["view"].(map[string]any)["settings"].(map[string]any)["mat"].(map[string]any)["full"])
	for _, size := range []string{"small", "full"} {
		response, err := http.Get(w.url + "/pictures/" + named.Full + "/" + size)
		require.NoError(t, err)
		_ = response.Body.Close()
		assert.Equal(t, 200, response.StatusCode)
	}

	// A bookmark that leaves carries the picture, and no address; the service that it is brought to has it.
	status, made := w.call("POST", "/api/rooms/"+id+"/bookmarks", makerKey, wire.BookmarkName{Name: "Mat"})
	require.Equal(t, 201, status, made)
	given, file := w.get("/api/bookmarks/"+made["id"].(string)+"/file", makerKey)
	require.Equal(t, 200, given.StatusCode)
	assert.NotRegexp(t, `"(full|small)":"[0-9a-f]{64}"`, bookmarkText(t, file))
	other := newWorld(t, room.Options{})
	status, brought := other.call("POST", "/api/bookmarks", makerKey, file)
	require.Equal(t, 201, status, brought)
	status, opened := other.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Bookmark: brought["id"].(string)})
	require.Equal(t, 201, status, opened)
	_, joined := other.call("POST", "/api/rooms/"+opened["id"].(string)+"/join", "", wire.Join{Name: "Cy"})
	_, look = other.call("GET", "/api/rooms/"+opened["id"].(string)+"/view", joined["key"].(string), nil)
	mat := look["view"].(map[string]any)["settings"].(map[string]any)["mat"].(map[string]any)["full"].(string)
	assert.NotEqual(t, named.Full, mat, "each service has names of its own")
	response, err := http.Get(other.url + "/pictures/" + mat + "/full")
	require.NoError(t, err)
	_ = response.Body.Close()
	assert.Equal(t, 200, response.StatusCode)

	// One that names a picture by its address, which it does not bring, gets none.
	guess, err := json.Marshal(design)
	require.NoError(t, err)
	var text2 bytes.Buffer
	forged := zip.NewWriter(&text2)
	archive, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	require.NoError(t, err)
	for _, f := range archive.File {
		content, err := fs.ReadFile(archive, f.Name)
		require.NoError(t, err)
		if f.Name == "bookmark.json" {
			content = bytes.Replace(content, []byte(`{"small":"pictures/1.png","full":"pictures/1.png"}`), guess, 1)
		}
		to, err := forged.Create(f.Name)
		require.NoError(t, err)
		_, err = to.Write(content)
		require.NoError(t, err)
	}
	require.NoError(t, forged.Close())
	status, brought = other.call("POST", "/api/bookmarks", makerKey, text2.Bytes())
	require.Equal(t, 201, status, brought)
	status, opened = other.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Bookmark: brought["id"].(string)})
	require.Equal(t, 201, status, opened)
	_, joined = other.call("POST", "/api/rooms/"+opened["id"].(string)+"/join", "", wire.Join{Name: "Cy"})
	_, look = other.call("GET", "/api/rooms/"+opened["id"].(string)+"/view", joined["key"].(string), nil)
	assert.NotContains(t, look["view"].(map[string]any)["settings"], "mat")
}

func bookmarkText(t *testing.T, file []byte) string {
	archive, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	require.NoError(t, err)
	text, err := fs.ReadFile(archive, "bookmark.json")
	require.NoError(t, err)
	return string(text)
}
