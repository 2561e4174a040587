package api_test

import (
	"bytes"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"damselfly.example/damselfly/internal/core/kit"
	"damselfly.example/damselfly/internal/service/api"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/wire"
)

// Each limit says what there is and what the most is; what exists already is not touched by it.
func TestMakersHaveLimits(t *testing.T) {
	w := newWorld(t, room.Options{}, func(o *api.Options) { o.Limits = api.Limits{Kits: 1, Rooms: 2, Mebibytes: 1} })
	w.room()
	status, answer := w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post"})
	require.Equal(t, 201, status, answer)
	status, answer = w.call("POST", "/api/rooms", makerKey, wire.OpenRoom{Kit: "Marsh Post"})
	assert.Equal(t, 409, status)
	assert.Equal(t, "too-many-rooms", answer["code"])
	assert.Contains(t, answer["detail"], "You have 2 rooms")

	kitNamed := func(name string) []byte {
		var zip bytes.Buffer
		require.NoError(t, kit.Zip(fstest.MapFS{"kit.yaml": {Data: []byte("kit: 1\nname: " + name + "\nseats: 2\n")}}, &zip))
		return zip.Bytes()
	}
	status, answer = w.call("POST", "/api/kits", makerKey, kitNamed("Bog Post"))
	assert.Equal(t, 409, status)
	assert.Equal(t, "too-many-kits", answer["code"])
	status, answer = w.call("POST", "/api/kits", makerKey, kitNamed("Marsh Post"))
	assert.Equal(t, 201, status, answer)

	status, text := w.send("/api/files", makerKey, make([]byte, 1<<20))
	assert.Equal(t, 409, status)
	assert.Contains(t, text, "too-many-bytes")
}

// A room's maker frees seats, names the host and changes the passcode without a seat; others do not.
func TestARoomsMakerLooksAfterItsSeats(t *testing.T) {
	w := newWorld(t, room.Options{})
	id, ada, bo := w.room()
	stranger := w.another()
	for _, path := range []string{"/seats/1/free", "/seats/2/host"} {
		for _, key := range []string{"", ada.Key, stranger} {
			status, _ := w.call("POST", "/api/rooms/"+id+path, key, nil)
			assert.Contains(t, []int{401, 404}, status, "%s with %q", path, key)
		}
	}
	status, answer := w.call("POST", "/api/rooms/"+id+"/seats/2/host", makerKey, nil)
	require.Equal(t, 204, status, answer)
	_, look := w.call("GET", "/api/rooms/"+id+"/view", bo.Key, nil)
	assert.EqualValues(t, 2, look["view"].(map[string]any)["settings"].(map[string]any)["host"])
	status, answer = w.call("POST", "/api/rooms/"+id+"/seats/1/free", makerKey, nil)
	require.Equal(t, 204, status, answer)
	status, _ = w.call("GET", "/api/rooms/"+id+"/view", ada.Key, nil)
	assert.Equal(t, 401, status, "its key has ended")
	status, answer = w.call("POST", "/api/rooms/"+id+"/seats/1/free", makerKey, nil)
	assert.Equal(t, 409, status, answer)

	status, answer = w.call("PUT", "/api/rooms/"+id+"/passcode", makerKey, wire.SetPasscode{Passcode: "heron"})
	require.Equal(t, 204, status, answer)
	status, _ = w.call("POST", "/api/rooms/"+id+"/join", "", wire.Join{Name: "Cy", Passcode: "stork"})
	assert.Equal(t, 403, status)
	status, _ = w.call("POST", "/api/rooms/"+id+"/join", "", wire.Join{Name: "Cy", Passcode: "heron"})
	assert.Equal(t, 201, status)
	status, _ = w.call("GET", "/api/rooms/"+id+"/view", bo.Key, nil)
	assert.Equal(t, 200, status, "who sits there stays")
	status, answer = w.call("PUT", "/api/rooms/"+id+"/passcode", makerKey, wire.SetPasscode{})
	require.Equal(t, 204, status, answer)
	status, _ = w.call("POST", "/api/rooms/"+id+"/join", "", wire.Join{Name: "Di"})
	assert.Equal(t, 201, status)
}
