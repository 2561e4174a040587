package api_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"image/png"
	"io"
	"io/fs"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"testing/fstest"
	"time"

	"github.com/gorilla/websocket"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/demo"
	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/core/table"
	"damselfly.example/damselfly/internal/service/api"
	"damselfly.example/damselfly/internal/service/mariadb/mariadbtest"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
	"damselfly.example/damselfly/internal/wire"
)

func TestMain(m *testing.M) { mariadbtest.Main(m) }

// The keys of the world's maker and of its keeper.
const (
	makerKey  = "MAKERKEY"
	keeperKey = "KEEPERKEY"
)

// world is a service over HTTP with a kit on its shelf.
type world struct {
	t       *testing.T
	url     string
	store   *store.Store
	rooms   *room.Rooms
	metrics http.Handler
	maker   store.Maker
}

func newWorld(t *testing.T, o room.Options, more ...func(*api.Options)) *world {
	ctx := context.Background()
	s, err := store.Open(ctx, mariadbtest.DSN(t))
	require.NoError(t, err)
	maker, err := s.AddMaker(ctx, "Test", makerKey, 1)
	require.NoError(t, err)
	log := slog.New(slog.DiscardHandler)
	rooms := room.New(s, log, o)
	options := api.Options{Store: s, Rooms: rooms, Log: log, KeeperKey: keeperKey, Console: fstest.MapFS{"index.html": {Data: []byte("the console")}}}
	for _, change := range more {
		change(&options)
	}
	a := api.New(options)
	server := httptest.NewUnstartedServer(a)
	server.Start()
	t.Cleanup(func() { rooms.Close(); server.Close(); _ = s.Close() })
	return &world{t: t, url: server.URL, store: s, rooms: rooms, metrics: a.Metrics(), maker: maker}
}

// call sends a request and reads the answer as JSON.
func (w *world) call(method, path, key string, body any) (status int, answer map[string]any) {
	var reader io.Reader
	contentType := "application/json"
	switch body := body.(type) {
	case nil:
	case []byte:
		reader, contentType = bytes.NewReader(body), "application/zip"
	case string:
		reader = strings.NewReader(body)
	default:
		text, err := json.Marshal(body)
		require.NoError(w.t, err)
		reader = bytes.NewReader(text)
	}
	r, err := http.NewRequest(method, w.url+path, reader)
	require.NoError(w.t, err)
	r.Header.Set("Content-Type", contentType)
	if key != "" {
		r.Header.Set("Authorization", "Bearer "+key)
	}
	response, err := http.DefaultClient.Do(r)
	require.NoError(w.t, err)
	defer response.Body.Close()
	text, err := io.ReadAll(response.Body)
	require.NoError(w.t, err)
	_ = json.Unmarshal(text, &answer)
	return response.StatusCode, answer
}

func demoZip(t *testing.T) []byte {
	var zip bytes.Buffer
	require.NoError(t, kit.Zip(demo.Weather(), &zip))
	return zip.Bytes()
}

// room puts the demo kit, opens a room and seats Ada and Bo.
func (w *world) room() (id string, ada, bo wire.Joined) {
	status, answer := w.call("POST", "/api/kits", makerKey, demoZip(w.t))
	require.Equal(w.t, 201, status, answer)
	status, answer = w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post", Seats: 3})
	require.Equal(w.t, 201, status, answer)
	id, _ = answer["id"].(string)
	return id, w.join(id, "Ada"), w.join(id, "Bo")
}

func (w *world) join(room, name string) wire.Joined {
	status, answer := w.call("POST", "/api/rooms/"+room+"/join", "", wire.Join{Name: name})
	require.Equal(w.t, 201, status, answer)
	key, _ := answer["key"].(string)
	seat, _ := answer["seat"].(float64)
	return wire.Joined{Key: key, Room: room, Seat: table.Seat(seat), Name: name}
}

// dial opens a seat's socket and says hello.
func (w *world) dial(j wire.Joined) *websocket.Conn {
	socket, _, err := websocket.DefaultDialer.Dial("ws"+strings.TrimPrefix(w.url, "http")+"/api/rooms/"+j.Room+"/live", nil)
	require.NoError(w.t, err)
	w.t.Cleanup(func() { _ = socket.Close() })
	require.NoError(w.t, socket.WriteJSON(wire.Hello{Type: "hello", Key: j.Key}))
	return socket
}

// next reads the next message of a type.
func next[M wire.Message](t *testing.T, socket *websocket.Conn) M {
	for {
		require.NoError(t, socket.SetReadDeadline(time.Now().Add(20*time.Second)))
		_, text, err := socket.ReadMessage()
		require.NoError(t, err)
		read, err := wire.Read(text)
		require.NoError(t, err)
		if read, is := read.(M); is {
			return read
		}
	}
}

func TestTheDescriptionInDocsIsTheServedOne(t *testing.T) {
	kept, err := os.ReadFile("../../../docs/openapi.json")
	require.NoError(t, err)
	now, err := api.Description()
	require.NoError(t, err)
	assert.JSONEq(t, string(now), string(kept), "run make describe")
	w := newWorld(t, room.Options{})
	status, served := w.call("GET", "/api/openapi.json", "", nil)
	assert.Equal(t, 200, status)
	assert.Equal(t, "3.1.0", served["openapi"])
}

// Every route of the description, with every kind of caller.
func TestEveryRouteSaysWhoMayCallIt(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, _ := w.room()
	_, elsewhere := w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post"})
	stranger := w.join(elsewhere["id"].(string), "Cleo")
	text, err := api.Description()
	require.NoError(t, err)
	var description struct {
		Paths map[string]map[string]struct {
			Security []map[string]any `json:"security"`
		} `json:"paths"`
	}
	require.NoError(t, json.Unmarshal(text, &description))
	keys := map[string]string{"nobody": "", "liar": "WRONG", "maker": makerKey, "keeper": keeperKey, "seat": ada.Key, "seat elsewhere": stranger.Key}
	routes := 0
	for path, methods := range description.Paths {
		for method, operation := range methods {
			routes++
			who := "anyone"
			if len(operation.Security) > 0 {
				for who = range operation.Security[0] {
				}
			}
			for caller, key := range keys {
				at := strings.ReplaceAll(path, "{room}", id)
				if strings.HasSuffix(path, "/events") { // which never end
					assert.Equal(t, who == caller, w.begins(at, key) != 401, "%s is for %s, and %s came", path, who, caller)
					continue
				}
				status, answer := w.call(strings.ToUpper(method), at, key, `{}`)
				let := who == "anyone" || who == caller
				assert.Equal(t, let, status != 401, "%s %s is for %s, and %s got %d %v", method, path, who, caller, status, answer)
			}
		}
	}
	assert.GreaterOrEqual(t, routes, 9)
}

// begins is the status of an answer that may never end.
func (w *world) begins(path, key string) int {
	ctx, cancel := context.WithTimeout(w.t.Context(), 20*time.Second)
	defer cancel()
	response := w.asked(ctx, path, key)
	defer response.Body.Close()
	return response.StatusCode
}

// asked is an answer that is not read yet.
func (w *world) asked(ctx context.Context, path, key string) *http.Response {
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, w.url+path, nil)
	require.NoError(w.t, err)
	if key != "" {
		r.Header.Set("Authorization", "Bearer "+key)
	}
	response, err := http.DefaultClient.Do(r)
	require.NoError(w.t, err)
	return response
}

func TestBadInputIsAnsweredWithWhereAndWhat(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, _ := w.room()
	picture, err := os.ReadFile("../../../demo/marshpost/weather.png")
	require.NoError(t, err)
	acts := "/api/rooms/" + id + "/actions"
	for name, c := range map[string]struct {
		method, path, key string
		body              any
		status            int
		code, detail      string
	}{
		"empty pile":      {"POST", acts, ada.Key, `{"action":{"do":"draw","from":"outbox","count":3}}`, 409, "too-few-cards", "outbox has 0 cards, you asked for 3."},
		"unknown zone":    {"POST", acts, ada.Key, `{"steps":"shuffle attic"}`, 400, "not-understood", `line 1, column 9: there is no place "attic"; there is "my hand", "dock", "moorings", "outbox", "satchel", "sky" or "weather"`},
		"no such place":   {"POST", acts, ada.Key, `{"action":{"do":"shuffle","place":"attic"}}`, 404, "no-such-place", `There is no place "attic" on this table.`},
		"another's hand":  {"POST", acts, ada.Key, `{"steps":"move 1 of hand of Bo to sky"}`, 403, "belongs-to-another-seat", "The satchel of Bo is theirs alone; ask Bo to give you a card."},
		"unknown action":  {"POST", acts, ada.Key, `{"action":{"do":"juggle"}}`, 400, "not-understood", `"do" is "juggle", and there is no such action; there is ` + strings.Join(table.ActionWords(), ", ")},
		"no JSON":         {"POST", acts, ada.Key, `draw two`, 400, "not-understood", `What was sent cannot be read as a JSON object; it begins "draw two".`},
		"too large":       {"POST", acts, ada.Key, `{"steps":"` + strings.Repeat("x", 200_000) + `"}`, 413, "too-large", "What was sent is too large: 128 KiB are taken here."},
		"no such room":    {"GET", "/api/rooms/nowhere", "", nil, 404, "no-such-room", `There is no room "nowhere" here. Check the link you were sent.`},
		"no such kit":     {"POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh"}, 404, "no-such-kit", `You have no kit "Marsh"; you have "Marsh Post".`},
		"too many seats":  {"POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post", Seats: 9}, 422, "too-many-seats", "Marsh Post is for up to 5 seats; you asked for 9."},
		"seat taken":      {"POST", "/api/rooms/" + id + "/join", "", wire.Join{Name: "Cleo", Seat: 1}, 409, "seat-taken", "Seat 1 is Ada's; choose a free one."},
		"bad name":        {"POST", "/api/rooms/" + id + "/join", "", wire.Join{Name: ` "" `}, 422, "bad-name", "A name has 1 to 24 letters, digits or signs, but no \" and no #."},
		"not a zip":       {"POST", "/api/kits", makerKey, []byte("hello"), 422, "kit-has-mistakes", "The kit has mistakes, so nothing was kept: the zip: cannot be opened: zip: not a valid zip file; zip the kit's folder again"},
		"truncated sheet": {"POST", "/api/sheet-check", makerKey, picture[:9000], 422, "sheet-not-taken", "the png picture is cut short or damaged (png: invalid format: not enough pixel data); export it again"},
		"half a margin":   {"POST", "/api/sheet-check?margin=1,2", makerKey, picture, 422, "sheet-not-taken", "margin: give one number, or 4 with commas between them"},
		"bad query":       {"POST", "/api/sheet-check?columns=four", makerKey, picture, 422, "not-valid", `"columns" is to be a whole number, not "four".`},
		"unknown route":   {"GET", "/api/nothing", "", nil, 404, "not-found", "There is nothing at /api/nothing. All calls are listed at /api/docs."},
		"no such name":    {"GET", "/pictures/" + strings.Repeat("A", 22) + "/small", "", nil, 404, "no-such-picture", "There is no picture at this address."},
		"no such size":    {"GET", "/pictures/" + strings.Repeat("A", 22) + "/large", "", nil, 404, "no-such-picture", "There is no picture at this address."},
		"unknown query":   {"GET", "/api/rooms?remvd=true", makerKey, nil, 422, "not-valid", `"remvd" is not known here; did you mean "removed"?`},
		"no such picture": {"GET", "/pictures/zzz", "", nil, 404, "no-such-picture", "There is no picture at this address."},
		"wrong method":    {"DELETE", "/api/kits", makerKey, nil, 405, "method-not-allowed", "/api/kits does not take DELETE; see /api/docs."},
	} {
		t.Run(name, func(t *testing.T) {
			status, answer := w.call(c.method, c.path, c.key, c.body)
			assert.Equal(t, c.status, status)
			assert.Equal(t, c.code, answer["code"])
			assert.Equal(t, c.detail, answer["detail"])
			assert.Equal(t, "/docs/problems.html#"+c.code, answer["type"])
		})
	}
}

// An edition's files come back as they were put, and the next edition draws only the
// cards whose rows have changed.
func TestAKitIsTakenAwayAndPutAgainWithOneLetterChanged(t *testing.T) {
	w := newWorld(t, room.Options{})
	var zip bytes.Buffer
	require.NoError(t, kit.Zip(demo.Kit(), &zip))
	status, answer := w.call("POST", "/api/kits", makerKey, zip.Bytes())
	require.Equal(t, 201, status, answer)
	first, err := w.store.Known(context.Background(), w.maker.ID, "Marsh Post")
	require.NoError(t, err)
	assert.Len(t, first.Drawn, 40)

	request, err := http.NewRequest("GET", w.url+"/api/kits/Marsh%20Post/zip", nil)
	require.NoError(t, err)
	request.Header.Set("Authorization", "Bearer "+makerKey)
	response, err := http.DefaultClient.Do(request)
	require.NoError(t, err)
	defer response.Body.Close()
	assert.Equal(t, "application/zip", response.Header.Get("Content-Type"))
	taken, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	assert.True(t, bytes.Equal(zip.Bytes(), taken), "the files came back otherwise")
	status, answer = w.call("GET", "/api/kits/Bog%20Post/zip", makerKey, nil)
	assert.Equal(t, 404, status)
	assert.Equal(t, "no-such-kit", answer["code"])

	folder, err := kit.OpenZip(taken)
	require.NoError(t, err)
	files := kit.Files{}
	require.NoError(t, fs.WalkDir(folder, ".", func(name string, entry fs.DirEntry, err error) error {
		if err == nil && !entry.IsDir() {
			files[name], err = fs.ReadFile(folder, name)
		}
		return err
	}))
	files["letters.csv"] = bytes.Replace(files["letters.csv"], []byte("Come home."), []byte("Stay away."), 1)
	status, answer = w.call("POST", "/api/kits", makerKey, zipped(t, files))
	require.Equal(t, 201, status, answer)
	assert.EqualValues(t, 2, answer["edition"])
	known, err := w.store.Known(context.Background(), w.maker.ID, "Marsh Post")
	require.NoError(t, err)
	same := 0
	for mark, picture := range known.Drawn {
		if first.Drawn[mark] == picture {
			same++
		}
	}
	assert.Equal(t, []int{40, 39}, []int{len(known.Drawn), same})
	assert.Equal(t, first.Sheets, known.Sheets)
	second, err := w.store.Edition(context.Background(), answer["id"].(string), 2)
	require.NoError(t, err)
	for _, d := range second.Decks { // what was not drawn again is there all the same
		for _, design := range d.Designs {
			_, err := w.store.Picture(context.Background(), design.Front.Small)
			require.NoError(t, err, design.Key)
		}
	}
}

// zipped is a zip of files in memory.
func zipped(t *testing.T, files kit.Files) []byte {
	folder := fstest.MapFS{}
	for name, text := range files {
		folder[name] = &fstest.MapFile{Data: text}
	}
	var zip bytes.Buffer
	require.NoError(t, kit.Zip(folder, &zip))
	return zip.Bytes()
}

func TestASheetIsLookedOverByTheService(t *testing.T) {
	w := newWorld(t, room.Options{})
	picture, err := fs.ReadFile(demo.Kit(), "errands.png")
	require.NoError(t, err)
	status, answer := w.call("POST", "/api/sheet-check?columns=4&rows=3", makerKey, picture)
	require.Equal(t, 200, status, answer)
	assert.Contains(t, answer["notes"], "the picture looks like 5 columns × 3 rows, not 4 × 3")
	status, answer = w.call("POST", "/api/sheet-check?columns=5&rows=3&count=20", makerKey, picture)
	assert.Equal(t, 422, status)
	assert.Equal(t, "5 columns × 3 rows are 15 cells, so they cannot hold 20 cards", answer["detail"])
}

func TestAKitThatLooksWrongIsKeptOnlyWhenAsked(t *testing.T) {
	w := newWorld(t, room.Options{})
	files := fstest.MapFS{}
	for _, name := range []string{"kit.yaml", "weather.png"} {
		file, err := demo.Weather().Open(name)
		require.NoError(t, err)
		text, err := io.ReadAll(file)
		require.NoError(t, err)
		files[name] = &fstest.MapFile{Data: bytes.Replace(text, []byte("      - {cell: 12, key: ice, name: Ice, fields: {wind: 0}}\n"), nil, 1)}
	}
	var zip bytes.Buffer
	require.NoError(t, kit.Zip(files, &zip))
	status, answer := w.call("POST", "/api/kits", makerKey, zip.Bytes())
	assert.Equal(t, 422, status)
	assert.Equal(t, "kit-looks-wrong", answer["code"])
	assert.Equal(t, []any{"weather.png: cells with content that no deck uses: 12"}, answer["details"])
	_, kits := w.call("GET", "/api/kits", makerKey, nil)
	assert.Empty(t, kits["kits"], "a refused kit left something behind")
	status, answer = w.call("POST", "/api/kits?despite_warnings=true", makerKey, zip.Bytes())
	assert.Equal(t, 201, status)
	assert.Equal(t, true, answer["fresh"])
}

func TestPasscodes(t *testing.T) {
	w := newWorld(t, room.Options{})
	w.room()
	_, answer := w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post", Passcode: "heron", Spectators: new(bool)})
	join := "/api/rooms/" + answer["id"].(string) + "/join"
	for i := range 10 {
		status, answer := w.call("POST", join, "", wire.Join{Name: "Ada", Passcode: "stork"})
		assert.Equal(t, 403, status, i)
		assert.Equal(t, "That is not this room's passcode. Ask who sent you the link.", answer["detail"])
	}
	status, answer := w.call("POST", join, "", wire.Join{Name: "Ada", Passcode: "heron"})
	assert.Equal(t, 429, status, "guessing goes on without end")
	refused, err := http.Post(w.url+join, "application/json", strings.NewReader(`{"name":"Ada","passcode":"heron"}`))
	require.NoError(t, err)
	require.NoError(t, refused.Body.Close())
	assert.Equal(t, "30", refused.Header.Get("Retry-After"), "as its sentence says")
	assert.Equal(t, "too-many-passcodes", answer["code"])

	_, answer = w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post", Passcode: "heron", Spectators: new(bool)})
	join = "/api/rooms/" + answer["id"].(string) + "/join"
	_, answer = w.call("POST", join, "", wire.Join{Name: "Ada"})
	assert.Equal(t, "This room has a passcode. Ask who sent you the link.", answer["detail"])
	status, answer = w.call("POST", join, "", wire.Join{Watch: true, Passcode: "heron"})
	assert.Equal(t, 403, status)
	assert.Equal(t, "no-spectators", answer["code"])
	status, _ = w.call("POST", join, "", wire.Join{Name: "Ada", Passcode: "heron"})
	assert.Equal(t, 201, status)
}

// Once 149 of 150 that came together were all tried.
func TestPasscodesThatAreTriedTogetherAreCountedTogether(t *testing.T) {
	w := newWorld(t, room.Options{})
	w.room()
	_, answer := w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post", Passcode: "heron"})
	join := "/api/rooms/" + answer["id"].(string) + "/join"
	status, _ := w.call("POST", join, "", wire.Join{Name: "Ada", Passcode: "heron"})
	assert.Equal(t, 201, status)
	var tried, refused atomic.Int32
	var all sync.WaitGroup
	for range 40 {
		all.Go(func() {
			switch status, _ := w.call("POST", join, "", wire.Join{Name: "Eve", Passcode: "egret"}); status {
			case 403:
				tried.Add(1)
			case 429:
				refused.Add(1)
			}
		})
	}
	all.Wait()
	assert.EqualValues(t, []int32{10, 30}, []int32{tried.Load(), refused.Load()}, "the right one before did not count")

	status, answer = w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post", Passcode: strings.Repeat("€", 30)})
	assert.Equal(t, []any{422, "passcode-too-long"}, []any{status, answer["code"]})
}

func TestTheSocketAnswersNonsenseAndGoesOn(t *testing.T) {
	w := newWorld(t, room.Options{})
	_, ada, _ := w.room()
	socket := w.dial(ada)
	view := next[wire.Whole](t, socket)
	require.NoError(t, socket.WriteMessage(websocket.TextMessage, []byte("hello there")))
	answer := next[wire.Settled](t, socket)
	assert.Equal(t, "not-understood", answer.Problem.Code)
	assert.Equal(t, `This message is not understood: "hello there". Send JSON such as {"type":"act","id":"1","steps":"draw 2 from weather"}.`, answer.Problem.Detail)
	act := wire.Act{Type: "act", Request: wire.Request{ID: "7", Steps: "draw 2 from weather"}}
	require.NoError(t, socket.WriteJSON(act))
	next[wire.Changes](t, socket)
	answer = next[wire.Settled](t, socket)
	assert.Equal(t, "7", answer.ID)
	assert.EqualValues(t, 1, answer.Answer.Told-view.Told, "answered after everyone was told")
	require.NoError(t, socket.WriteJSON(act))
	assert.Equal(t, "before", next[wire.Settled](t, socket).Answer.Done, "the same id is done once")
}

func TestTheSocketTurnsStrangersAway(t *testing.T) {
	w := newWorld(t, room.Options{})
	_, ada, _ := w.room()
	ada.Key = "WRONG"
	socket := w.dial(ada)
	assert.Equal(t, "needs-seat-key", next[wire.Settled](t, socket).Problem.Code)
	_, _, err := socket.ReadMessage()
	assert.True(t, websocket.IsCloseError(err, 4001), "%v", err)

	header := http.Header{"Origin": {"https://elsewhere.example"}}
	_, response, err := websocket.DefaultDialer.Dial("ws"+strings.TrimPrefix(w.url, "http")+"/api/rooms/"+ada.Room+"/live", header)
	require.Error(t, err)
	assert.Equal(t, 403, response.StatusCode)
}

func TestTooManyActionsASecondAreRefusedWithTheLimit(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, _ := w.room()
	var refused atomic.Int32
	var all sync.WaitGroup
	for range 8 { // several at once, so that a slow machine is fast enough, too
		all.Go(func() {
			for range 100 {
				if status, answer := w.call("POST", "/api/rooms/"+id+"/actions", ada.Key, `{"steps":"shuffle weather"}`); status == 429 {
					assert.Equal(t, "too-fast", answer["code"])
					refused.Add(1)
					return
				}
			}
		})
	}
	all.Wait()
	assert.Positive(t, refused.Load())
}

func TestPicturesAreServedForAYear(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, _ := w.room()
	_, look := w.call("GET", "/api/rooms/"+id+"/view", ada.Key, nil)
	sizes := map[string]int{}
	for _, face := range look["view"].(map[string]any)["faces"].(map[string]any) {
		name := face.(map[string]any)["picture"].(string)
		assert.Len(t, name, 22)
		for _, size := range []string{"small", "full"} {
			response, err := http.Get(w.url + "/pictures/" + name + "/" + size)
			require.NoError(t, err)
			defer response.Body.Close()
			assert.Equal(t, 200, response.StatusCode)
			assert.Equal(t, "image/png", response.Header.Get("Content-Type"))
			assert.Equal(t, "public, max-age=31536000, immutable", response.Header.Get("Cache-Control"))
			assert.Contains(t, response.Header.Get("Content-Security-Policy"), "default-src 'self'")
			picture, err := png.DecodeConfig(response.Body)
			require.NoError(t, err)
			sizes[size] += picture.Width
		}
	}
	assert.Less(t, sizes["small"], sizes["full"])
}

func TestKeepersSeeHowItIs(t *testing.T) {
	w := newWorld(t, room.Options{})
	w.room()
	for path, want := range map[string]string{"/healthz": "alive", "/readyz": "ready", "/metrics": "There is nothing at /metrics", "/": "the console"} {
		response, err := http.Get(w.url + path)
		require.NoError(t, err)
		text, err := io.ReadAll(response.Body)
		require.NoError(t, err)
		_ = response.Body.Close()
		assert.Contains(t, string(text), want, path)
	}
	recorded := httptest.NewRecorder()
	w.metrics.ServeHTTP(recorded, httptest.NewRequest("GET", "/metrics", nil))
	assert.Contains(t, recorded.Body.String(), "damselfly_rooms_live 1", "for keepers alone, on an address of its own")
}

func TestARoomWithAPasscodeNamesNobodyBeforeIt(t *testing.T) {
	w := newWorld(t, room.Options{})
	w.room()
	_, answer := w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post", Passcode: "heron"})
	path := "/api/rooms/" + answer["id"].(string)
	status, _ := w.call("POST", path+"/join", "", wire.Join{Name: "Ada", Passcode: "heron"})
	require.Equal(t, 201, status)
	_, answer = w.call("GET", path, "", nil)
	text, err := json.Marshal(answer)
	require.NoError(t, err)
	assert.NotContains(t, string(text), "Ada")
	assert.Contains(t, string(text), "taken")
}

func TestQuestionsAreAnsweredAsFarAsTheAskerSees(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, bo := w.room()
	for _, steps := range []string{"move 1 of weather to moorings B3", "move 1 of weather to moorings D4", "draw 2 from weather"} {
		status, answer := w.call("POST", "/api/rooms/"+id+"/actions", ada.Key, map[string]string{"steps": steps})
		require.Equal(t, 200, status, answer)
	}
	ask := func(key, question string) map[string]any {
		status, answer := w.call("GET", "/api/rooms/"+id+question, key, nil)
		require.Equal(t, 200, status, answer)
		return answer
	}
	cell := ask(bo.Key, "/place?place=moorings/B3")
	word := cell["cards"].([]any)[0].(map[string]any)["face"].(string)
	assert.Equal(t, "Ice", cell["faces"].(map[string]any)[word].(map[string]any)["name"])
	assert.EqualValues(t, 0, ask(bo.Key, "/place?place=moorings/A1")["count"])
	assert.EqualValues(t, 18, ask(bo.Key, "/place?place=weather")["count"])
	assert.Len(t, ask(bo.Key, "/cells?cell=moorings/C3&within=1")["taken"], 2)
	assert.Len(t, ask(bo.Key, "/cells?cell=moorings/A1&within=2")["taken"], 1)
	assert.Len(t, ask(bo.Key, "/cells?cell=moorings")["taken"], 2)
	for key, sees := range map[string]bool{ada.Key: true, bo.Key: false} {
		text, err := json.Marshal(ask(key, "/cards?deck=weather"))
		require.NoError(t, err)
		assert.Contains(t, string(text), `"satchel/1"`)
		assert.Equal(t, sees, strings.Contains(string(text), "Night frost"))
	}
	assert.EqualValues(t, "satchel/1", ask(bo.Key, "/place?place=hand+of+Ada")["id"])
	assert.EqualValues(t, "moorings/A1", ask(bo.Key, "/place?place=moorings+a1")["id"])
	for question, detail := range map[string]string{
		"/place?place=wether":  `There is no place "wether"; did you mean "weather"?`,
		"/place?place=satchel": `Every seat has a satchel; write "my satchel" or "satchel of seat 2".`,
		"/cells?cell=weather":  `"weather" is no cell, and no grid.`,
		"/cards?deck=wether":   `There is no deck "wether"; did you mean "weather"?`,
	} {
		status, answer := w.call("GET", "/api/rooms/"+id+question, bo.Key, nil)
		assert.Equal(t, 404, status, question)
		assert.Equal(t, detail, answer["detail"], question)
	}
}

func TestABuilderGetsADeckWithOneRequestAndDrawsWithTheNext(t *testing.T) {
	w := newWorld(t, room.Options{})
	w.room()
	draws := func() []any {
		status, opened := w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post", Deck: "weather", As: "Ada"})
		require.Equal(t, 201, status, opened)
		assert.Equal(t, "weather of Marsh Post", opened["name"])
		assert.Len(t, opened["seats"], 1)
		seat := opened["seat"].(map[string]any)
		status, answer := w.call("POST", "/api/rooms/"+opened["id"].(string)+"/actions", seat["key"].(string), `{"action":{"do":"draw","from":"weather","count":6}}`)
		require.Equal(t, 200, status, answer)
		return answer["log"].([]any)[0].(map[string]any)["cards"].([]any)
	}
	first := draws()
	assert.Len(t, first, 6)
	assert.NotEqual(t, first, draws(), "it is shuffled")
	status, opened := w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post", Deck: "weather", Seats: 3, Name: "Three"})
	require.Equal(t, 201, status, opened)
	assert.Nil(t, opened["seat"])
	assert.Len(t, opened["seats"], 3)
	for want, asked := range map[string]wire.OpenRoom{
		`404 Marsh Post has no deck "letters"; it has weather.`:                                 {Kit: "Marsh Post", Deck: "letters"},
		`422 Marsh Post is for up to 5 seats; you asked for 9.`:                                 {Kit: "Marsh Post", Deck: "weather", Seats: 9},
		`422 A name has 1 to 24 letters, digits or signs, but no " and no #.`:                   {Kit: "Marsh Post", Deck: "weather", As: "#"},
		`422 Give a kit, with an edition or a deck of it if you like, or a bookmark; not both.`: {Bookmark: "b", Deck: "weather"},
	} {
		status, answer := w.call("POST", "/api/rooms", makerKey, asked)
		assert.Equal(t, want, fmt.Sprintf("%d %v", status, answer["detail"]))
	}
}

// A deck may be called as hands are.
func TestADeckThatIsCalledHandHasAPileOfItsOwn(t *testing.T) {
	w := newWorld(t, room.Options{})
	art, err := fs.ReadFile(demo.Weather(), "weather.png")
	require.NoError(t, err)
	var zip bytes.Buffer
	require.NoError(t, kit.Zip(fstest.MapFS{"weather.png": {Data: art}, "kit.yaml": {Data: []byte(
		"kit: 1\nname: Held\nseats: 2\nsheets: {weather: {file: weather.png, columns: 4, rows: 4}}\ndecks: {hand: {sheet: weather, cells: 1-12}}\n")}}, &zip))
	status, answer := w.call("POST", "/api/kits?despite_warnings=true", makerKey, zip.Bytes())
	require.Equal(t, 201, status, answer)
	status, opened := w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Held", Deck: "hand", As: "Ada"})
	require.Equal(t, 201, status, opened)
	key, at := opened["seat"].(map[string]any)["key"].(string), "/api/rooms/"+opened["id"].(string)
	status, answer = w.call("POST", at+"/actions", key, `{"action":{"do":"draw","from":"hand","count":2}}`)
	require.Equal(t, 200, status, answer)
	for place, count := range map[string]int{"hand": 10, "held/1": 2} {
		_, seen := w.call("GET", at+"/place?place="+place, key, nil)
		assert.EqualValues(t, count, seen["count"], place)
	}
}

func TestASeatIsHandedOnWithItsHand(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, bo := w.room()
	_, _ = w.call("POST", "/api/rooms/"+id+"/actions", bo.Key, `{"steps":"draw 2 from weather"}`)
	status, answer := w.call("POST", "/api/rooms/"+id+"/hand-on", bo.Key, wire.HandOn{Seat: 1, Name: "Zed"})
	assert.Equal(t, 403, status, answer)
	socket := w.dial(bo)
	next[wire.Whole](t, socket)
	status, answer = w.call("POST", "/api/rooms/"+id+"/hand-on", ada.Key, wire.HandOn{Seat: 2, Name: "Zed"})
	require.Equal(t, 201, status, answer)
	status, look := w.call("GET", "/api/rooms/"+id+"/view", answer["key"].(string), nil)
	require.Equal(t, 200, status)
	text, err := json.Marshal(look)
	require.NoError(t, err)
	assert.Contains(t, string(text), `"name":"Zed"`)
	assert.Contains(t, string(text), `"name":"Ice"`, "the hand goes with the seat")
	status, _ = w.call("GET", "/api/rooms/"+id+"/view", bo.Key, nil)
	assert.Equal(t, 401, status, "the old key still opens the seat")
	require.NoError(t, socket.SetReadDeadline(time.Now().Add(20*time.Second)))
	for err == nil {
		_, _, err = socket.ReadMessage()
	}
	assert.True(t, websocket.IsCloseError(err, websocket.CloseServiceRestart), "%v", err)
}

func TestManyWaitingMessagesArriveWholeAndInOrder(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, bo := w.room()
	socket := w.dial(bo)
	next[wire.Whole](t, socket)
	var all sync.WaitGroup
	for range 40 {
		all.Go(func() { _, _ = w.rooms.Act(context.Background(), id, at(ada), wire.Request{Steps: "shuffle weather"}) })
	}
	all.Wait()
	last := int64(0)
	for range 40 {
		line := next[wire.Changes](t, socket).Log[0]
		assert.Greater(t, line.Number, last)
		last = line.Number
	}
}

// at is who sits where a newcomer to a fresh room sat down: the table was laid in entry
// 1, and each seat taken in the next.
func at(j wire.Joined) room.Who { return room.Who{Seat: j.Seat, Tenure: uint64(j.Seat) + 1} }

// The library answers pings from the goroutine that reads, while another writes; once
// both wrote at once. The race detector watches this one.
func TestPingsAreAnsweredWhileMuchIsTold(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, bo := w.room()
	socket := w.dial(bo)
	next[wire.Whole](t, socket)
	var pongs atomic.Int32
	socket.SetPongHandler(func(string) error { pongs.Add(1); return nil })
	var all sync.WaitGroup
	for range 60 {
		all.Go(func() {
			_, _ = w.rooms.Act(context.Background(), id, at(ada), wire.Request{Steps: "shuffle weather"})
		})
		all.Go(func() {
			assert.NoError(t, socket.WriteControl(websocket.PingMessage, nil, time.Now().Add(20*time.Second)))
		})
	}
	all.Wait()
	for range 60 {
		next[wire.Changes](t, socket)
	}
	_, err := w.rooms.Act(context.Background(), id, at(ada), wire.Request{Steps: "shuffle weather"})
	require.NoError(t, err)
	next[wire.Changes](t, socket)
	assert.Positive(t, pongs.Load())
}

// What programs expect of HTTP: HEAD where there is GET, the methods a path takes, how to show a key, and
// that word in any case.
func TestTheAPIKeepsTheCustomsOfHTTP(t *testing.T) {
	w := newWorld(t, room.Options{})
	ask := func(method, path, authorization string) *http.Response {
		r, err := http.NewRequest(method, w.url+path, nil)
		require.NoError(t, err)
		if authorization != "" {
			r.Header.Set("Authorization", authorization)
		}
		response, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		_ = response.Body.Close()
		return response
	}
	for _, word := range []string{"Bearer ", "bearer ", "BEARER  "} {
		assert.Equal(t, 200, ask("GET", "/api/kits", word+makerKey).StatusCode, word)
		assert.Equal(t, 200, ask("HEAD", "/api/kits", word+makerKey).StatusCode, word)
	}
	assert.Equal(t, 200, ask("HEAD", "/healthz", "").StatusCode)
	refused := ask("GET", "/api/kits", "")
	assert.Equal(t, []any{401, `Bearer realm="Damselfly"`}, []any{refused.StatusCode, refused.Header.Get("WWW-Authenticate")})
	refused = ask("DELETE", "/api/kits", "Bearer "+makerKey)
	assert.Equal(t, []any{405, "GET, HEAD, POST"}, []any{refused.StatusCode, refused.Header.Get("Allow")})
	refused = ask("PUT", "/api/kits/abc/zip", "")
	assert.Equal(t, []any{405, "GET, HEAD"}, []any{refused.StatusCode, refused.Header.Get("Allow")})
}
