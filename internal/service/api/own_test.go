package api

import (
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Sockets are for the service's own pages: of the host that is asked, also as a proxy says it, and
// of the public address.
func TestSocketsAreForOwnPages(t *testing.T) {
	for _, c := range []struct {
		public, host, origin string
		want                 bool
	}{
		{"", "a.example", "", true},
		{"", "a.example", "https://a.example", true},
		{"", "a.example:7171", "http://a.example:7171", true},
		{"", "a.example", "https://b.example", false},
		{"", "a.example", "null", false},
		{"https://b.example", "upstream", "https://b.example", true},
		{"https://b.example", "upstream", "https://c.example", false},
	} {
		r := httptest.NewRequest("GET", "http://"+c.host+"/api/rooms/x/live", nil)
		if c.origin != "" {
			r.Header.Set("Origin", c.origin)
		}
		assert.Equal(t, c.want, (&API{Options: Options{Public: c.public}}).ownOrigin(r), "%+v", c)
	}
}

// Where waiting helps, the refusal says for how long.
func TestWhoJoinsTooFastIsToldWhenToComeAgain(t *testing.T) {
	assert.Equal(t, "60", joinsTooFast().GetHeaders().Get("Retry-After"))
}
